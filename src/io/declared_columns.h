// SPDX-License-Identifier: GPL-3.0-or-later
// What a text says of its columns above them, other than in a line of headings: "columns: time, depth (cm)",
// a numbered list of descriptions, or a header of its own (formats/headed_text.cpp).
#pragma once

#include "io/reader.h"

namespace jointer::io {

struct DeclaredColumn {
    std::string name, unit, remark;
    bool text = false; // its cells are texts, whatever they look like
};

// The columns that a line "columns: …" names; empty where it is none, or names another number of them.
std::vector<DeclaredColumn> columnsInLine(std::string_view line, std::size_t columns);

struct Declaration {
    std::vector<DeclaredColumn> columns;     // as many as asked for; empty: nothing is declared
    std::size_t firstLine = 0, lastLine = 0; // indices of its lines
    bool isList = false;                     // in one line, which can be told as the line of headings
};

// What the lines above the data declare. `comment` is what comment lines begin with.
Declaration declaredAbove(const std::vector<std::string_view>& lines, std::size_t columns,
                          const std::string& comment);

// Indices of comment lines that describe columns, of whatever number: they are no headings themselves.
std::vector<std::size_t> describingLines(const std::vector<std::string_view>& lines,
                                         const std::string& comment);

// "FLUX Flux of the line [mJy]", "time (s): since the start": name, unit and remark of a description.
DeclaredColumn describedColumn(std::string_view description);

// Gives units and remarks to the columns of the same names, and names to columns without.
void applyDeclared(Table& table, const std::vector<DeclaredColumn>& declared);

} // namespace jointer::io
