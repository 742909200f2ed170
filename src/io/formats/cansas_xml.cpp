// SPDX-License-Identifier: GPL-3.0-or-later
// canSAS 1D XML: small-angle scattering, Q and I with units and uncertainties.
// Source: canSAS 1D data format, versions 1.0 and 1.1.
#include "base/text.h"
#include "io/cell_text.h"
#include "io/formats/made_table.h"

#include <algorithm>

#include <map>
#include <pugixml.hpp>

namespace jointer::io {

namespace {

void takeFacts(const pugi::xml_node& entry, Metadata& metadata) {
    auto take = [&](const char* name, const char* text) {
        if (const auto value = trimmed(text); !value.empty()) metadata.emplace_back(name, std::string(value));
    };
    take("Title", entry.child_value("Title"));
    take("Run", entry.child_value("Run"));
    const pugi::xml_node sample = entry.child("SASsample"), instrument = entry.child("SASinstrument");
    take("Sample", sample.child_value("ID"));
    for (const char* name : {"thickness", "transmission", "temperature"})
        if (const pugi::xml_node node = sample.child(name))
            take(name, (std::string(node.child_value()) + " " + node.attribute("unit").value()).c_str());
    take("Instrument", instrument.child_value("name"));
    const pugi::xml_node wavelength = instrument.child("SASsource").child("wavelength");
    if (wavelength)
        take("wavelength",
             (std::string(wavelength.child_value()) + " " + wavelength.attribute("unit").value()).c_str());
    take("Note", entry.child_value("SASnote"));
}

ReadTable tableOf(const pugi::xml_node& data, std::string name, std::vector<Issue>& issues) {
    constexpr double nan = std::numeric_limits<double>::quiet_NaN();
    std::vector<std::string> keys;
    std::map<std::string, std::pair<std::string, std::vector<double>>> values; // key → unit, numbers
    std::size_t row = 0, unread = 0;
    for (const pugi::xml_node& point : data.children("Idata")) {
        for (const pugi::xml_node& cell : point.children()) {
            if (cell.type() != pugi::node_element || values.size() > 100) continue;
            const std::string key = cell.name();
            auto& [unit, column] = values[key];
            if (column.empty() && row == 0) {
                keys.push_back(key);
                unit = cell.attribute("unit").value();
            } else if (column.empty())
                keys.push_back(key);
            column.resize(row, nan);
            const auto number = numberOf(cell.child_value(), '.');
            unread += !number && !isMissing(cell.child_value(), {});
            column.push_back(number.value_or(nan));
        }
        ++row;
    }
    if (unread > 0)
        issues.push_back({"unparsed-cells",
                          counted(static_cast<long long>(unread), "value") +
                              " of the data cannot be read as numbers; taken as missing.",
                          {}});
    std::vector<Column> columns;
    for (const std::string& key : keys)
        columns.push_back(numberColumn(key, values[key].first, values[key].second));
    ReadTable t = madeTable(std::move(name), std::move(columns), issues);
    giveScatteringRoles(t.table);
    return t;
}

Result<ReadResult> readCansas(std::string_view bytes, const Settings&, const Cancellation& stop) {
    pugi::xml_document document;
    const auto parsed = document.load_buffer(bytes.data(), bytes.size());
    if (!parsed)
        return failure(
            "cansas1d", std::string("The XML is damaged: ") + parsed.description() + ".",
            {.line = static_cast<long>(std::count(
                         bytes.begin(),
                         bytes.begin() + std::min<std::ptrdiff_t>(parsed.offset,
                                                                  static_cast<std::ptrdiff_t>(bytes.size())),
                         '\n')) +
                     1});
    ReadResult out{.format = "cansas1d", .encoding = "utf-8"};
    for (const pugi::xml_node& entry : document.document_element().children("SASentry")) {
        Metadata facts;
        takeFacts(entry, facts);
        for (const pugi::xml_node& data : entry.children("SASdata")) {
            if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");
            std::string name = data.attribute("name").value();
            if (name.empty()) name = trimmed(entry.child_value("Title"));
            if (!data.child("Idata")) continue;
            out.tables.push_back(tableOf(data, std::move(name), out.issues));
            out.tables.back().metadata = facts;
        }
    }
    if (out.tables.empty()) return failure("cansas1d", "The file holds no data (SASentry, SASdata, Idata).");
    return out;
}

} // namespace

ReaderKind cansasReader() {
    return {.info = {.key = "cansas1d", .name = "canSAS 1D", .purpose = "Small-angle scattering as XML"},
            .endings = {"xml"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    return head.substr(0, 4000).find("<SASroot") != head.npos ? 97 : 0;
                },
            .read = readCansas};
}

} // namespace jointer::io
