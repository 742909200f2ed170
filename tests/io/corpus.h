// SPDX-License-Identifier: GPL-3.0-or-later
// A reading as text, for comparison with the expected readings of the corpus.
#pragma once

#include "base/text.h"
#include "io/fields.h"
#include "io/reader.h"
#include "io/writer.h"

#include <fmt/format.h>
#include <string>

namespace jointer::io {

// Control characters and line ends as \xNN, so that a cell stays on its line.
inline std::string printable(const std::string& text) {
    std::string out;
    for (char c : text)
        if (static_cast<unsigned char>(c) < 32)
            out += fmt::format("\\x{:02x}", static_cast<unsigned char>(c));
        else
            out += c;
    return out;
}

inline std::string cellOfReading(const Column& c, std::size_t row) {
    if (row >= c.cells->size()) return "~";
    if (c.cells->state(row) == CellState::Unreadable)
        return "!" + c.cells->originals.at(static_cast<std::uint32_t>(row));
    const std::string text = fileText(c, row);
    return text.empty() ? "~" : printable(text);
}

// At most eight cells of each column, the last one after "…".
inline std::string described(const Column& c, std::size_t rows) {
    std::string out = fmt::format("  {} [{}] {}:", printable(c.name), c.unit, kindKey(c.kind));
    for (std::size_t i = 0; i < rows; ++i) {
        if (rows > 8 && i == 7) {
            out += " | …";
            i = rows - 1;
        }
        out += (i ? " | " : " ") + cellOfReading(c, i);
    }
    return out + (c.comment.empty() ? "" : "  (" + c.comment + ")") + "\n";
}

inline std::string described(const Issue& issue) {
    return fmt::format("! {}{}{}\n", issue.code,
                       issue.place.line > 0 ? fmt::format(" {}", issue.place.line) : "",
                       issue.place.column.empty() ? "" : " " + issue.place.column);
}

inline std::string described(const Result<ReadResult>& r) {
    if (!r) return described(r.error());
    std::string out = r->format + " " + r->encoding;
    if (r->format == "delimited")
        out += fmt::format(" {}{}",
                           r->dialect.form == Form::Wide            ? "wide"
                           : r->dialect.separator == '\t'           ? "tab"
                           : r->dialect.separator == ' '            ? "blanks"
                           : r->dialect.separator == kUnitSeparator ? "="
                                                                    : std::string(1, r->dialect.separator),
                           r->dialect.decimal);
    out += "\n";
    for (const auto& [key, value] : r->metadata) out += printable(key) + " = " + printable(value) + "\n";
    for (const ReadTable& t : r->tables) {
        out += fmt::format("table {}heading {} units {} first {} rows {}\n",
                           r->tables.size() > 1 ? "“" + t.table.name + "” " : "", t.headingLine, t.unitsLine,
                           t.firstDataLine, t.table.rowCount());
        for (const auto& [key, value] : t.metadata)
            out += "  . " + printable(key) + " = " + printable(value) + "\n";
        for (const Column& c : t.table.columns) out += described(c, t.table.rowCount());
    }
    for (const Issue& issue : r->issues) out += described(issue);
    return out;
}

} // namespace jointer::io
