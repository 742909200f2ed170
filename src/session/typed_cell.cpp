// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/typed_cell.h"

#include "base/text.h"
#include "data/time_pattern.h"
#include "io/cell_text.h"
#include "io/column_meaning.h"
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
        if (const auto told = timeFromText(text, column.timePattern); told && !column.timePattern.empty())
            return change.number = *told, change;
        const auto m = io::momentOf(text, io::DateOrder::DayMonthYear);
        const bool date = column.kind == ColumnKind::Date || column.kind == ColumnKind::DateTime;
        const bool isDate = m && (m->kind == ColumnKind::Date || m->kind == ColumnKind::DateTime);
        if (m && date == isDate) return change.number = m->seconds, change;
        if (const auto seconds = parseNumber(text); seconds && column.kind == ColumnKind::Duration)
            return change.number = *seconds, change;
        if (!column.timePattern.empty())
            return failure("cell", fmt::format("“{}” is not a time like {}.", text, column.timePattern));
        return expected(date ? "a date such as 2031-05-02 06:00" : "a time such as 06:00:00");
    }
    default:
        if (const auto n = io::readRichNumber(text, '.'); n && n->suffix.empty())
            return change.number = n->value, change;
        if (const auto n = io::numberOf(text, ',')) return change.number = *n, change;
        return expected("a number");
    }
}

namespace {

using Lines = std::vector<std::vector<std::string>>;

// Whether the first line names columns: no cell of it fits a column of numbers, while the next line's do.
bool hasHeadings(const Table& table, std::size_t column, const Lines& lines) {
    if (lines.size() < 2) return false;
    bool words = false;
    for (std::size_t k = 0; k < lines[0].size(); ++k) {
        const bool inside = column + k < table.columns.size();
        const Column numbers = numberColumn("", "", {});
        const Column& c = inside ? table.columns[column + k] : numbers;
        if (!c.isNumeric() || lines[0][k].empty()) continue;
        if (typedCell(c, 0, lines[0][k])) return false;
        words |= k < lines[1].size() && typedCell(c, 0, lines[1][k]).has_value();
    }
    return words;
}

// A column behind the last one, of what the cells mean.
Column columnOf(const Lines& lines, std::size_t k, bool headings, std::size_t row, const Table& table) {
    std::vector<std::string> texts(row);
    for (std::size_t i = headings ? 1 : 0; i < lines.size(); ++i)
        texts.push_back(k < lines[i].size() ? lines[i][k] : std::string());
    texts.resize(std::max(texts.size(), table.rowCount()));
    Column c = textColumn(headings && k < lines[0].size() ? lines[0][k] : std::string(), std::move(texts));
    std::vector<Issue> unused;
    io::interpretTexts(c, {}, unused);
    c.byHand = true;
    return c;
}

// New columns get names that no other has.
void nameColumns(const Table& table, std::vector<Column>& added) {
    std::vector<std::string> names;
    for (const Column& c : table.columns) names.push_back(c.name);
    for (const Column& c : added) names.push_back(c.name);
    std::vector<Issue> unused;
    io::makeNamesUnique(names, unused);
    for (std::size_t k = 0; k < added.size(); ++k) added[k].name = names[table.columns.size() + k];
}

} // namespace

Outcome<PastedBlock> pastedCells(const Table& table, std::size_t row, std::size_t column,
                                 std::string_view block) {
    Outcome<PastedBlock> out;
    const char separator = block.find('\t') != block.npos ? '\t' : block.find(';') != block.npos ? ';' : '\t';
    Lines lines;
    for (std::string_view line : io::wholeLines(io::firstLines(block, 2000000)))
        lines.push_back(io::fieldTexts(line, separator));
    const bool headings = hasHeadings(table, column, lines);
    std::size_t widest = 0, unfit = 0;
    std::string first;
    for (std::size_t i = headings ? 1 : 0; i < lines.size(); ++i) {
        widest = std::max(widest, lines[i].size());
        for (std::size_t k = 0; k < std::min(lines[i].size(), table.columns.size() - column); ++k) {
            const Column& c = table.columns[column + k];
            if (!c.formula.empty()) continue;
            auto change = typedCell(c, row + i - (headings ? 1 : 0), lines[i][k]);
            if (!change) {
                if (unfit++ == 0) first = change.error().text;
                continue;
            }
            out.value.changes.push_back(std::move(*change));
        }
    }
    for (std::size_t k = table.columns.size() - column; k < widest; ++k)
        out.value.added.push_back(columnOf(lines, k, headings, row, table));
    nameColumns(table, out.value.added);
    if (unfit > 0)
        out.issues.push_back(
            {"cell",
             fmt::format("{} not taken: {}", counted(static_cast<long long>(unfit), "cell was", "cells were"),
                         first),
             {}});
    return out;
}

std::string copiedCells(const Table& table, const std::vector<std::size_t>& rows,
                        const std::vector<std::size_t>& columns) {
    std::string out;
    for (std::size_t i : rows) {
        for (std::size_t k = 0; k < columns.size(); ++k) {
            if (k > 0) out += '\t';
            std::string text = io::fileText(table.columns[columns[k]], i);
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
