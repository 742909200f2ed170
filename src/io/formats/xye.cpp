// SPDX-License-Identifier: GPL-3.0-or-later
// Three columns without headings: angle, intensity and its standard uncertainty.
#include "base/text.h"
#include "io/encoding.h"
#include "io/formats/made_table.h"
#include "io/text_tables.h"

namespace jointer::io {

namespace {

Result<ReadResult> readXye(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    DecodedText decoded;
    if (auto good = decode(bytes, told.text("encoding"), decoded); !good)
        return std::unexpected(good.error());
    ReadResult out{.format = "xye", .encoding = decoded.encoding};
    Settings how = told;
    if (!how.has("heading")) how.set("heading", 0); // lines above the data are remarks
    if (auto good = readTables(decoded.text, how, stop, out); !good) return std::unexpected(good.error());
    if (out.tables.empty() || out.tables[0].table.columns.size() < 2)
        return failure("xye", "Two or three columns of numbers are expected.");
    Table& t = out.tables[0].table;
    if (out.tables[0].headingLine == 0 && !told.has("names")) {
        const std::pair<const char*, const char*> names[] = {{"2θ", "°"}, {"Intensity", ""}, {"σ", ""}};
        for (std::size_t c = 0; c < std::min<std::size_t>(3, t.columns.size()); ++c) {
            t.columns[c].name = names[c].first;
            t.columns[c].unit = names[c].second;
        }
    }
    if (t.columns.size() > 2 && t.columns[2].isNumeric()) t.columns[2].role = Role::YError;
    return out;
}

} // namespace

ReaderKind xyeReader() {
    return {.info = {.key = "xye",
                     .name = "Angle, intensity, uncertainty (xye)",
                     .purpose = "Powder patterns in three columns"},
            .endings = {"xye"},
            .recognise =
                [](std::string_view head, std::string_view name) {
                    const bool text = head.find('\0') == head.npos;
                    return text && lowerAscii(name).ends_with(".xye") ? 85 : 0;
                },
            .read = readXye};
}

} // namespace jointer::io
