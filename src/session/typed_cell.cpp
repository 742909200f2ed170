// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/typed_cell.h"

#include "base/text.h"
#include "io/cell_text.h"
#include "io/fields.h"
#include "io/moment_text.h"
#include "io/number_text.h"
#include "io/writer.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer {

Result<CellChange> typedCell(const Column& column, std::size_t row, std::string_view typed) {
    const std::string_view text = trimmed(typed);
    CellChange change{.column = column.id, .row = row};
    if (!column.isNumeric()) {
        change.text = std::string(text);
        return change;
    }
    if (io::isMissing(text, {})) return change;
    auto expected = [&](const char* what) {
        return failure("cell", fmt::format("“{}” is not {}.", text, what));
    };
    switch (column.kind) {
    case ColumnKind::Boolean: {
        const std::string lower = lowerAscii(text);
        if (lower == "yes" || lower == "true" || lower == "1") return change.number = 1, change;
        if (lower == "no" || lower == "false" || lower == "0") return change.number = 0, change;
        return expected("yes or no");
    }
    case ColumnKind::Date:
    case ColumnKind::DateTime:
    case ColumnKind::TimeOfDay:
    case ColumnKind::Duration: {
        const auto m = io::momentOf(text, io::DateOrder::DayMonthYear);
        const bool date = column.kind == ColumnKind::Date || column.kind == ColumnKind::DateTime;
        const bool isDate = m && (m->kind == ColumnKind::Date || m->kind == ColumnKind::DateTime);
        if (m && date == isDate) return change.number = m->seconds, change;
        if (const auto seconds = parseNumber(text); seconds && column.kind == ColumnKind::Duration)
            return change.number = *seconds, change;
        return expected(date ? "a date such as 2031-05-02 06:00" : "a time such as 06:00:00");
    }
    default:
        if (const auto n = io::readRichNumber(text, '.'); n && n->suffix.empty())
            return change.number = n->value, change;
        if (const auto n = io::numberOf(text, ',')) return change.number = *n, change;
        return expected("a number");
    }
}

Outcome<std::vector<CellChange>> pastedCells(const Table& table, std::size_t row, std::size_t column,
                                             std::string_view block) {
    Outcome<std::vector<CellChange>> out;
    const char separator = block.find('\t') != block.npos ? '\t' : block.find(';') != block.npos ? ';' : '\t';
    std::size_t beyond = 0, unfit = 0;
    std::string first;
    const auto lines = io::wholeLines(io::firstLines(block, 2000000));
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const auto cells = io::fieldTexts(lines[i], separator);
        for (std::size_t k = 0; k < cells.size(); ++k) {
            if (column + k >= table.columns.size()) {
                beyond += !cells[k].empty();
                continue;
            }
            const Column& c = table.columns[column + k];
            if (!c.formula.empty()) continue;
            auto change = typedCell(c, row + i, cells[k]);
            if (!change) {
                if (unfit++ == 0) first = change.error().text;
                continue;
            }
            out.value.push_back(std::move(*change));
        }
    }
    if (unfit > 0)
        out.issues.push_back(
            {"cell",
             fmt::format("{} not taken: {}", counted(static_cast<long long>(unfit), "cell was", "cells were"),
                         first),
             {}});
    if (beyond > 0)
        out.issues.push_back({"cell",
                              fmt::format("{} beyond the last column left out.",
                                          counted(static_cast<long long>(beyond), "cell is", "cells are")),
                              {}});
    return out;
}

std::string copiedCells(const Table& table, std::size_t row, std::size_t column, std::size_t rows,
                        std::size_t columns) {
    std::string out;
    for (std::size_t i = row; i < row + rows; ++i) {
        for (std::size_t c = column; c < std::min(column + columns, table.columns.size()); ++c) {
            if (c > column) out += '\t';
            std::string text = io::fileText(table.columns[c], i);
            if (text.find_first_of("\t\n\"") != text.npos) {
                for (std::size_t at = 0; (at = text.find('"', at)) != text.npos; at += 2)
                    text.insert(at, 1, '"');
                text = "\"" + text + "\"";
            }
            out += text;
        }
        out += '\n';
    }
    return out;
}

} // namespace jointer
