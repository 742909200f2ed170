// SPDX-License-Identifier: GPL-3.0-or-later
// HDF5 by its library, from memory: plain files, NXcanSAS and NetCDF-4. External links and storage are never
// followed; sizes are checked before memory is taken.
#include "base/isolated.h"
#include "base/text.h"
#include "io/formats/chromatogram.h"
#include "io/formats/hdf5_handle.h"
#include "io/formats/made_table.h"
#include "io/formats/packed.h"
#include "io/formats/variables.h"
#include "io/number_bytes.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <set>

namespace jointer::io {

namespace {

constexpr std::size_t kMostPoints = 200000000, kMostObjects = 20000;
constexpr int kDeepest = 16;

// Texts of a dataset or attribute of texts.
template <class Read>
std::vector<std::string> textsBy(hid_t type, hid_t space, std::size_t count, Read read) {
    std::vector<std::string> out(count);
    if (H5Tis_variable_str(type) > 0) {
        const Handle memory(H5Tcopy(H5T_C_S1), H5Tclose);
        H5Tset_size(memory, H5T_VARIABLE);
        H5Tset_cset(memory, H5Tget_cset(type));
        std::vector<char*> pointers(count, nullptr);
        if (read(memory, pointers.data()) >= 0) {
            for (std::size_t i = 0; i < count; ++i)
                if (pointers[i]) out[i] = safeText(pointers[i]);
            H5Dvlen_reclaim(memory, space, H5P_DEFAULT, pointers.data());
        }
        return out;
    }
    const std::size_t size = H5Tget_size(type);
    if (size == 0 || size > 100000 || count > 200000000 / size) return out;
    std::vector<char> bytes(size * count);
    if (read(type, bytes.data()) < 0) return out;
    for (std::size_t i = 0; i < count; ++i) {
        std::string_view t(bytes.data() + i * size, size);
        out[i] = std::string(trimmed(safeText(t.substr(0, std::min(t.find('\0'), t.size())))));
    }
    return out;
}

std::size_t pointsOf(hid_t space) {
    const hssize_t n = H5Sget_simple_extent_npoints(space);
    return n < 0 ? 0 : static_cast<std::size_t>(n);
}

// The first value of an attribute, as number or text.
void takeAttribute(hid_t object, const char* name, Variable& v) {
    const Handle attribute(H5Aopen(object, name, H5P_DEFAULT), H5Aclose);
    if (!attribute.isOpen()) return;
    const Handle type(H5Aget_type(attribute), H5Tclose), space(H5Aget_space(attribute), H5Sclose);
    const std::size_t n = pointsOf(space);
    if (n == 0 || n > 1000) return;
    const H5T_class_t kind = H5Tget_class(type);
    if (kind == H5T_STRING) {
        const auto texts =
            textsBy(type, space, n, [&](hid_t memory, void* to) { return H5Aread(attribute, memory, to); });
        v.words[name] = joined(texts, ", ");
    } else if (kind == H5T_FLOAT || kind == H5T_INTEGER) {
        std::vector<double> values(n);
        if (H5Aread(attribute, H5T_NATIVE_DOUBLE, values.data()) < 0) return;
        const bool brief =
            kind == H5T_FLOAT && H5Tget_size(type) == 4 && std::string_view(name) != "_FillValue";
        v.numbers[name] = brief ? decimalOf(static_cast<float>(values[0])) : values[0];
    }
}

class Walker {
public:
    Walker(std::size_t fileSize, ReadResult& out, const Cancellation& stop)
        : fileSize_(fileSize), out_(out), stop_(stop) {}

    void group(hid_t id, const std::string& path, int depth) {
        if (depth > kDeepest || objects_ > kMostObjects || stop_.stop_requested()) return;
        Variable facts;
        for (const char* name : {"canSAS_class", "NX_class", "_NCProperties", "Conventions", "title"})
            takeAttribute(id, name, facts);
        if (facts.words.contains("_NCProperties")) isNetcdf_ = true;
        if (facts.words.contains("canSAS_class")) isCansas_ = true;
        if (facts.words["canSAS_class"] == "SASdata") dataGroups_.push_back(path);
        if (path.empty())
            for (const char* name : {"title", "Conventions"})
                if (facts.words.contains(name)) out_.metadata.emplace_back(name, facts.words[name]);
        H5G_info_t info;
        if (H5Gget_info(id, &info) < 0) return;
        const H5_index_t index = orderOf(id);
        for (hsize_t k = 0; k < std::min<hsize_t>(info.nlinks, kMostObjects); ++k) {
            char name[512];
            H5L_info_t link;
            if (H5Lget_info_by_idx(id, ".", index, H5_ITER_INC, k, &link, H5P_DEFAULT) < 0) continue;
            if (link.type != H5L_TYPE_HARD)
                continue; // soft links lead to what is found anyway; others leave the file
            const ssize_t length =
                H5Lget_name_by_idx(id, ".", index, H5_ITER_INC, k, name, sizeof name, H5P_DEFAULT);
            if (length <= 0 || length >= static_cast<ssize_t>(sizeof name)) continue;
            member(id, name, path, depth);
        }
    }

    std::vector<Variable>& variables() { return variables_; }
    const std::vector<std::string>& dataGroups() const { return dataGroups_; }
    bool isNetcdf() const { return isNetcdf_; }
    bool isCansas() const { return isCansas_; }
    bool isOrdered() const { return ordered_; }

private:
    // By creation where the file keeps that, else by name.
    H5_index_t orderOf(hid_t group) {
        const Handle made(H5Gget_create_plist(group), H5Pclose);
        unsigned flags = 0;
        const bool indexed =
            made.isOpen() && H5Pget_link_creation_order(made, &flags) >= 0 && (flags & H5P_CRT_ORDER_INDEXED);
        ordered_ = ordered_ || indexed;
        return indexed ? H5_INDEX_CRT_ORDER : H5_INDEX_NAME;
    }

    void member(hid_t parent, const char* name, const std::string& path, int depth) {
        const Handle object(H5Oopen(parent, name, H5P_DEFAULT), H5Oclose);
        if (!object.isOpen() || ++objects_ > kMostObjects) return;
        H5O_info_t info;
        if (H5Oget_info(object, &info) < 0 || !seen_.insert(info.addr).second) return;
        if (info.type == H5O_TYPE_GROUP)
            group(object, path + "/" + safeText(name), depth + 1);
        else if (info.type == H5O_TYPE_DATASET)
            dataset(object, safeText(name), path);
    }

    void skip(const std::string& name, const char* why) {
        if (skipped_++ < 20)
            out_.issues.push_back({"skipped-dataset", fmt::format("“{}” is left out: {}.", name, why), {}});
    }

    void dataset(hid_t id, const std::string& name, const std::string& path) {
        const Handle type(H5Dget_type(id), H5Tclose), space(H5Dget_space(id), H5Sclose),
            how(H5Dget_create_plist(id), H5Pclose);
        if (!type.isOpen() || !space.isOpen() || !how.isOpen()) return;
        const H5D_layout_t layout = H5Pget_layout(how);
        if (layout == H5D_VIRTUAL || H5Pget_external_count(how) > 0)
            return skip(name, "its values lie in other files");
        Variable v{.name = name, .group = path};
        hsize_t dims[H5S_MAX_RANK] = {};
        const int rank = H5Sget_simple_extent_ndims(space);
        if (rank < 0 || rank > 8) return skip(name, "its dimensions cannot be read");
        H5Sget_simple_extent_dims(space, dims, nullptr);
        for (int k = 0; k < rank; ++k) {
            v.sizes.push_back(static_cast<std::size_t>(dims[k]));
            v.axes.push_back(dims[k] == 1 && rank == 1 ? "" : fmt::format("{} rows", dims[k]));
        }
        const std::size_t n = pointsOf(space), each = H5Tget_size(type);
        if (n == 0) return;
        // Packed data grow at most about a thousandfold; what claims more is hostile or has never been
        // written.
        if (n > kMostPoints || each == 0 || n > (fileSize_ * 1100 + 100000) / each)
            return skip(name, "it claims more values than can be read");
        if (H5Dget_storage_size(id) == 0 && n > 100000)
            return skip(name, "its values have never been written");
        for (const char* key : {"units", "scale_factor", "add_offset", "_FillValue", "missing_value",
                                "calendar", "long_name", "CLASS", "kind"})
            takeAttribute(id, key, v);
        v.isScale = v.words["CLASS"] == "DIMENSION_SCALE";
        values(id, type, space, n, std::move(v));
    }

    void values(hid_t id, hid_t type, hid_t space, std::size_t n, Variable v) {
        switch (H5Tget_class(type)) {
        case H5T_INTEGER:
        case H5T_FLOAT:
            v.values.resize(n);
            if (H5Dread(id, H5T_NATIVE_DOUBLE, H5S_ALL, H5S_ALL, H5P_DEFAULT, v.values.data()) < 0)
                return skip(v.name, "its values are damaged");
            break;
        case H5T_ENUM: { // yes/no
            if (H5Tget_size(type) != 1) return skip(v.name, "its kind of values is not read");
            std::vector<signed char> raw(n);
            const Handle native(H5Tget_native_type(type, H5T_DIR_DEFAULT), H5Tclose);
            if (H5Dread(id, native, H5S_ALL, H5S_ALL, H5P_DEFAULT, raw.data()) < 0)
                return skip(v.name, "its values are damaged");
            v.values.assign(raw.begin(), raw.end());
            v.isBoolean = true;
            break;
        }
        case H5T_STRING:
            v.texts = textsBy(type, space, n, [&](hid_t memory, void* to) {
                return H5Dread(id, memory, H5S_ALL, H5S_ALL, H5P_DEFAULT, to);
            });
            break;
        case H5T_COMPOUND:
            return members(id, type, n, v);
        default:
            return skip(v.name, "its kind of values is not read");
        }
        variables_.push_back(std::move(v));
    }

    // Records: each number or text member is a variable of its own, in a group called as the dataset.
    void members(hid_t id, hid_t type, std::size_t n, const Variable& whole) {
        const int count = std::min(H5Tget_nmembers(type), 2000);
        for (int k = 0; k < count; ++k) {
            char* raw = H5Tget_member_name(type, static_cast<unsigned>(k));
            if (!raw) continue;
            const std::string name = raw;
            const Handle member(H5Tget_member_type(type, static_cast<unsigned>(k)), H5Tclose);
            Variable v{.name = safeText(name),
                       .group = whole.group + "/" + whole.name,
                       .axes = {"rows"},
                       .sizes = {n}};
            const H5T_class_t kind = H5Tget_class(member);
            if (kind == H5T_INTEGER || kind == H5T_FLOAT) {
                const Handle memory(H5Tcreate(H5T_COMPOUND, sizeof(double)), H5Tclose);
                H5Tinsert(memory, name.c_str(), 0, H5T_NATIVE_DOUBLE);
                v.values.resize(n);
                if (H5Dread(id, memory, H5S_ALL, H5S_ALL, H5P_DEFAULT, v.values.data()) >= 0)
                    variables_.push_back(std::move(v));
            } else if (kind == H5T_STRING && H5Tis_variable_str(member) == 0) {
                const std::size_t size = H5Tget_size(member);
                if (size > 0 && size < 100000 && n < 200000000 / size) {
                    const Handle memory(H5Tcreate(H5T_COMPOUND, size), H5Tclose);
                    H5Tinsert(memory, name.c_str(), 0, member);
                    std::vector<char> bytes(size * n);
                    if (H5Dread(id, memory, H5S_ALL, H5S_ALL, H5P_DEFAULT, bytes.data()) >= 0) {
                        for (std::size_t i = 0; i < n; ++i) {
                            std::string_view t(bytes.data() + i * size, size);
                            v.texts.push_back(safeText(t.substr(0, std::min(t.find('\0'), t.size()))));
                        }
                        variables_.push_back(std::move(v));
                    }
                }
            } else
                skip(whole.name + "." + safeText(name), "its kind of values is not read");
            H5free_memory(raw);
        }
    }

    std::size_t fileSize_;
    ReadResult& out_;
    const Cancellation& stop_;
    std::set<haddr_t> seen_;
    std::vector<Variable> variables_;
    std::vector<std::string> dataGroups_;
    std::size_t objects_ = 0, skipped_ = 0;
    bool isNetcdf_ = false, isCansas_ = false, ordered_ = false;
};

bool isMonotonic(const Variable& v) {
    if (v.sizes.size() != 1 || v.values.size() < 3) return false;
    const bool rises = v.values[1] > v.values[0];
    for (std::size_t i = 1; i < v.values.size(); ++i)
        if (!(rises ? v.values[i] > v.values[i - 1] : v.values[i] < v.values[i - 1])) return false;
    return true;
}

struct Content {
    std::vector<Variable> variables;
    ReadResult found; // format, metadata, issues
    bool opened = false;
};

Content contentOf(std::string_view bytes, const Cancellation& stop) {
    Content content;
    content.found.format = "hdf5";
    H5dont_atexit();
    H5Eset_auto2(H5E_DEFAULT, nullptr, nullptr);
    const Handle access(H5Pcreate(H5P_FILE_ACCESS), H5Pclose);
    H5Pset_fapl_core(access, 1 << 20, false);
    H5Pset_file_image(access, const_cast<char*>(bytes.data()), bytes.size());
    const Handle file(H5Fopen("memory", H5F_ACC_RDONLY, access), H5Fclose);
    if (!file.isOpen()) return content;
    content.opened = true;
    Walker walker(bytes.size(), content.found, stop);
    const Handle root(H5Gopen2(file, "/", H5P_DEFAULT), H5Gclose);
    if (root.isOpen()) walker.group(root, "", 0);
    auto& all = walker.variables();
    if (walker.isCansas()) {
        content.found.format = "nxcansas";
        std::stable_partition(all.begin(), all.end(), [&](const Variable& v) {
            return std::ranges::find(walker.dataGroups(), v.group) != walker.dataGroups().end();
        });
        std::stable_partition(all.begin(), all.end(),
                              [](const Variable& v) { return v.name == "Q" && v.sizes.size() == 1; });
    } else {
        // Names come in the order of letters: what rises or falls all along is likely x.
        if (!walker.isOrdered()) std::stable_partition(all.begin(), all.end(), isMonotonic);
        if (walker.isNetcdf()) content.found.format = "netcdf";
    }
    content.variables = std::move(all);
    return content;
}

// The library can crash on damaged files or be kept busy for ever, so it works in a process of its own.
Result<ReadResult> readHdf5(std::string_view bytes, const Settings&, const Cancellation& stop) {
    const auto limit = std::chrono::milliseconds(5000 + bytes.size() / 5000); // at 5 MB/s and more
    const auto packed = inChildProcess(
        [&] {
            Content content = contentOf(bytes, stop);
            Packer out;
            out.put(content.opened);
            out.put(content.found.format);
            out.put(content.found.metadata);
            out.put(content.found.issues);
            out.put(content.variables);
            return std::move(out.bytes());
        },
        limit, stop);
    if (!packed && packed.error().code == "stopped") return std::unexpected(packed.error());
    const auto damaged = [] {
        return failure("hdf5", "The file is damaged or cut short: its structure cannot be read.");
    };
    if (!packed) return damaged();
    Unpacker in(*packed);
    ReadResult out;
    bool opened = false;
    std::vector<Variable> variables;
    in.take(opened);
    in.take(out.format);
    in.take(out.metadata);
    in.take(out.issues);
    in.take(variables);
    if (!opened || !in.good()) return damaged();
    completeChromatogram(variables, out.metadata);
    addTables(std::move(variables), out);
    if (out.format == "nxcansas")
        for (ReadTable& t : out.tables) giveScatteringRoles(t.table);
    if (out.tables.empty())
        return failure("hdf5", "The file holds no datasets of numbers that could be read as columns.");
    return out;
}

} // namespace

ReaderKind hdf5Reader() {
    return {
        .info = {.key = "hdf5", .name = "HDF5", .purpose = "Datasets in groups; NXcanSAS and NetCDF-4 too"},
        .endings = {"h5", "hdf5", "nxs", "nc"},
        .recognise = [](std::string_view head,
                        std::string_view) { return head.starts_with("\x89HDF\r\n\x1a\n") ? 99 : 0; },
        .read = readHdf5};
}

} // namespace jointer::io
