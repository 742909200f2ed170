// SPDX-License-Identifier: GPL-3.0-or-later
// A table as a group of HDF5 datasets, one for each column, in their order, with units.
#include "base/text.h"
#include "io/formats/hdf5_writing.h"
#include "io/writer.h"

#include <limits>

namespace jointer::io {

namespace {

// Names of links cannot hold a slash.
std::string linkName(std::string name) {
    for (std::size_t at; (at = name.find('/')) != name.npos;) name.replace(at, 1, "∕");
    return name.empty() || name == "." ? "column" : name;
}

bool isHeldAsText(const Column& c) {
    const bool time =
        c.kind == ColumnKind::DateTime || c.kind == ColumnKind::Date || c.kind == ColumnKind::TimeOfDay;
    return !c.isNumeric() || time || !c.cells->originals.empty();
}

bool writeColumn(hid_t group, const Column& c, std::size_t rows) {
    const hsize_t dims[1] = {rows};
    const Handle space(H5Screate_simple(1, dims, nullptr), H5Sclose), text(textType(), H5Tclose),
        timeless(H5Pcreate(H5P_DATASET_CREATE), H5Pclose);
    H5Pset_obj_track_times(timeless, false);
    const bool asText = isHeldAsText(c);
    const Handle set(H5Dcreate2(group, linkName(c.name).c_str(),
                                asText ? static_cast<hid_t>(text) : H5T_IEEE_F64LE, space, H5P_DEFAULT,
                                timeless, H5P_DEFAULT),
                     H5Dclose);
    if (set < 0) return false;
    writeAttribute(set, "units", c.unit);
    writeAttribute(set, "long_name", c.comment);
    writeAttribute(set, "kind", std::string(kindKey(c.kind)));
    if (rows == 0) return true;
    if (asText) {
        std::vector<std::string> texts(rows);
        std::vector<const char*> pointers(rows);
        for (std::size_t i = 0; i < rows; ++i) {
            texts[i] = fileText(c, i);
            pointers[i] = texts[i].c_str();
        }
        return H5Dwrite(set, text, H5S_ALL, H5S_ALL, H5P_DEFAULT, pointers.data()) >= 0;
    }
    std::vector<double> values(c.numbers().begin(), c.numbers().end());
    values.resize(rows, std::numeric_limits<double>::quiet_NaN());
    return H5Dwrite(set, H5T_NATIVE_DOUBLE, H5S_ALL, H5S_ALL, H5P_DEFAULT, values.data()) >= 0;
}

Result<std::string> bytes(const Table& table) {
    const auto out = hdf5Bytes([&](hid_t file) {
        const Handle order(H5Pcreate(H5P_GROUP_CREATE), H5Pclose);
        H5Pset_obj_track_times(order, false);
        H5Pset_link_creation_order(order, H5P_CRT_ORDER_TRACKED | H5P_CRT_ORDER_INDEXED);
        const Handle group(H5Gcreate2(file, linkName(table.name).c_str(), H5P_DEFAULT, order, H5P_DEFAULT),
                           H5Gclose);
        bool good = group >= 0;
        for (const Column& c : table.columns) good = good && writeColumn(group, c, table.rowCount());
        return good;
    });
    if (out.empty())
        return failure("hdf5", "The table could not be packed as HDF5; do two columns have the same name?");
    return out;
}

} // namespace

WriterKind hdf5Writer() {
    return {.info = {.key = "h5", .name = "HDF5", .purpose = "Arrays with attributes"},
            .limits = "Times are texts in ISO 8601; columns with cells below or above a limit are texts; "
                      "roles are lost.",
            .bytes = bytes};
}

} // namespace jointer::io
