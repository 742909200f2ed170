// SPDX-License-Identifier: GPL-3.0-or-later
// A curve of scattering for other programs: canSAS 1D as XML, NXcanSAS as HDF5. Source: canSAS 1D data
// format 1.1; NeXus application definition NXcanSAS 1.1.
#include "base/text.h"
#include "io/formats/hdf5_writing.h"
#include "io/writer.h"

#include <cmath>
#include <pugixml.hpp>
#include <sstream>

namespace jointer::io {

namespace {

// The columns of a table by what they are of a curve of scattering.
struct ScatteringColumns {
    const Column *q = nullptr, *intensity = nullptr, *sigma = nullptr, *resolution = nullptr;
    // As the formats call them.
    std::vector<std::pair<const char*, const Column*>> named() const {
        std::vector<std::pair<const char*, const Column*>> all = {{"Q", q}, {"I", intensity}};
        if (sigma) all.emplace_back("Idev", sigma);
        if (resolution) all.emplace_back("Qdev", resolution);
        return all;
    }
};

Result<ScatteringColumns> scatteringColumns(const Table& table) {
    const auto first = [&](Role role) -> const Column* {
        for (const Column& c : table.columns)
            if (c.role == role && c.isNumeric()) return &c;
        return nullptr;
    };
    const ScatteringColumns out{first(Role::X), first(Role::Y), first(Role::YError), first(Role::Resolution)};
    if (!out.q || !out.intensity)
        return failure("no-curve", "canSAS holds curves of scattering: give a column of numbers the role x "
                                   "(q) and one the role y (I).");
    return out;
}

// In letters of ASCII, as these formats spell units.
std::string plainUnit(const Column& c, const char* usual) {
    std::string unit = c.unit;
    for (std::size_t at; (at = unit.find("Å")) != unit.npos;) unit.replace(at, std::string("Å").size(), "A");
    return unit.empty() ? usual : unit;
}
const char* usualUnit(std::string_view name) {
    return name.starts_with('Q') ? "1/A" : "a.u.";
}

Result<std::string> xmlBytes(const Table& table) {
    const auto columns = scatteringColumns(table);
    if (!columns) return std::unexpected(columns.error());
    pugi::xml_document document;
    auto declaration = document.append_child(pugi::node_declaration);
    declaration.append_attribute("version") = "1.0";
    declaration.append_attribute("encoding") = "UTF-8";
    auto root = document.append_child("SASroot");
    root.append_attribute("version") = "1.1";
    root.append_attribute("xmlns") = "urn:cansas1d:1.1";
    auto entry = root.append_child("SASentry");
    entry.append_child("Title").text() = table.name.c_str();
    entry.append_child("Run").text() = table.name.c_str();
    auto data = entry.append_child("SASdata");
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        auto point = data.append_child("Idata");
        for (const auto& [name, column] : columns->named()) {
            const double v = row < column->numbers().size() ? column->numbers()[row] : std::nan("");
            auto cell = point.append_child(name);
            cell.append_attribute("unit") = plainUnit(*column, usualUnit(name)).c_str();
            cell.text() = (std::isfinite(v) ? shortestNumber(v) : "NaN").c_str();
        }
    }
    entry.append_child("SASsample").append_child("ID").text() = table.name.c_str();
    entry.append_child("SASinstrument").append_child("name");
    entry.append_child("SASnote");
    std::ostringstream out;
    document.save(out, " ");
    return out.str();
}

bool writeNumbers(hid_t group, const char* name, const Column& column, std::size_t rows,
                  const char* uncertainties) {
    const hsize_t dims[1] = {rows};
    const Handle space(H5Screate_simple(1, dims, nullptr), H5Sclose),
        timeless(H5Pcreate(H5P_DATASET_CREATE), H5Pclose);
    H5Pset_obj_track_times(timeless, false);
    const Handle set(H5Dcreate2(group, name, H5T_IEEE_F64LE, space, H5P_DEFAULT, timeless, H5P_DEFAULT),
                     H5Dclose);
    if (set < 0) return false;
    writeAttribute(set, "units", plainUnit(column, usualUnit(name)));
    writeAttribute(set, "uncertainties", uncertainties);
    std::vector<double> values(column.numbers().begin(), column.numbers().end());
    values.resize(rows, std::nan(""));
    return rows == 0 || H5Dwrite(set, H5T_NATIVE_DOUBLE, H5S_ALL, H5S_ALL, H5P_DEFAULT, values.data()) >= 0;
}

Result<std::string> nexusBytes(const Table& table) {
    const auto columns = scatteringColumns(table);
    if (!columns) return std::unexpected(columns.error());
    const auto out = hdf5Bytes([&](hid_t file) {
        const Handle plain(H5Pcreate(H5P_GROUP_CREATE), H5Pclose);
        H5Pset_obj_track_times(plain, false);
        const Handle entry(H5Gcreate2(file, "sasentry", H5P_DEFAULT, plain, H5P_DEFAULT), H5Gclose);
        writeAttribute(file, "default", "sasentry");
        writeAttribute(entry, "NX_class", "NXentry");
        writeAttribute(entry, "canSAS_class", "SASentry");
        writeAttribute(entry, "version", "1.1");
        writeAttribute(entry, "default", "sasdata");
        const Handle scalar(H5Screate(H5S_SCALAR), H5Sclose), type(textType(), H5Tclose),
            timeless(H5Pcreate(H5P_DATASET_CREATE), H5Pclose);
        H5Pset_obj_track_times(timeless, false);
        for (const auto& [name, text] :
             {std::pair("definition", std::string("NXcanSAS")), {"title", table.name}, {"run", table.name}}) {
            const Handle set(H5Dcreate2(entry, name, type, scalar, H5P_DEFAULT, timeless, H5P_DEFAULT),
                             H5Dclose);
            const char* value = text.c_str();
            if (set < 0 || H5Dwrite(set, type, H5S_ALL, H5S_ALL, H5P_DEFAULT, &value) < 0) return false;
        }
        const Handle data(H5Gcreate2(entry, "sasdata", H5P_DEFAULT, plain, H5P_DEFAULT), H5Gclose);
        writeAttribute(data, "NX_class", "NXdata");
        writeAttribute(data, "canSAS_class", "SASdata");
        writeAttribute(data, "signal", "I");
        writeAttribute(data, "I_axes", "Q");
        writeAttribute(data, "Q_indices", "0");
        for (const auto& [name, column] : columns->named()) {
            const bool isQ = std::string_view(name) == "Q", isI = std::string_view(name) == "I";
            const char* of = isQ && columns->resolution ? "Qdev" : isI && columns->sigma ? "Idev" : "";
            if (!writeNumbers(data, name, *column, table.rowCount(), of)) return false;
        }
        return true;
    });
    if (out.empty()) return failure("hdf5", "The curve could not be packed as NXcanSAS.");
    return out;
}

} // namespace

WriterKind cansasWriter() {
    return {
        .info = {.key = "xml", .name = "canSAS 1D", .purpose = "A curve of small-angle scattering as XML"},
        .limits = "Only q, I, their uncertainty and resolution, by the roles of the columns.",
        .bytes = xmlBytes,
        .takesAny = false};
}
WriterKind nxcansasWriter() {
    return {
        .info = {.key = "nxs", .name = "NXcanSAS", .purpose = "A curve of small-angle scattering as HDF5"},
        .limits = "Only q, I, their uncertainty and resolution, by the roles of the columns.",
        .bytes = nexusBytes,
        .takesAny = false};
}

} // namespace jointer::io
