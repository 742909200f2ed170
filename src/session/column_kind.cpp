// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/column_kind.h"

#include "base/text.h"
#include "io/column_meaning.h"
#include "session/typed_cell.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer {

namespace {

bool isWords(ColumnKind kind) {
    return kind == ColumnKind::Text || kind == ColumnKind::Category;
}

// The cell in full: what stood in the file where it could not be read, else its value with all digits.
std::string wholeText(const Column& column, std::size_t row) {
    const Cells& cells = *column.cells;
    if (const auto at = cells.originals.find(static_cast<std::uint32_t>(row)); at != cells.originals.end())
        return at->second;
    if (cells.state(row) != CellState::Fine) return {};
    if (column.kind == ColumnKind::Number || column.kind == ColumnKind::WholeNumber)
        return shortestNumber(cells.numbers[row]);
    return plainCellText(column, row);
}

bool holds(ColumnKind kind, double value) {
    if (kind == ColumnKind::WholeNumber) return value == std::floor(value);
    if (kind == ColumnKind::Boolean) return value == 0 || value == 1;
    if (kind == ColumnKind::Date) return std::fmod(value, 86400) == 0;
    return true;
}

// From one kind of number to another: the numbers stay.
Cells numbersAs(const Column& column, ColumnKind kind) {
    Cells out = *column.cells;
    for (std::size_t row = 0; row < out.numbers.size(); ++row) {
        const bool back = out.state(row) == CellState::Unreadable;
        if (std::isnan(out.numbers[row]) && !back) continue;
        if (!back && holds(kind, out.numbers[row])) continue;
        double& value = out.numbers[row];
        const std::string text = wholeText(column, row);
        const auto number = back ? parseNumber(text) : std::nullopt;
        if (out.states.empty()) {
            out.states.resize(out.numbers.size());
            for (std::size_t i = 0; i < out.numbers.size(); ++i)
                out.states[i] = std::isnan(out.numbers[i]) ? CellState::Missing : CellState::Fine;
        }
        const bool fits = number && holds(kind, *number);
        value = fits ? *number : std::nan("");
        out.states[row] = fits ? CellState::Fine : CellState::Unreadable;
        if (fits)
            out.originals.erase(static_cast<std::uint32_t>(row));
        else
            out.originals[static_cast<std::uint32_t>(row)] = text;
    }
    return out;
}

Cells textsOf(const Column& column) {
    Cells out;
    for (std::size_t row = 0; row < column.cells->size(); ++row) out.texts.push_back(wholeText(column, row));
    return out;
}

// Words cell by cell as if they were typed: for kinds that the import would not have guessed.
Cells typedAs(Column to, const std::vector<std::string>& texts) {
    Cells out;
    out.numbers.assign(texts.size(), std::nan(""));
    out.states.assign(texts.size(), CellState::Missing);
    for (std::size_t row = 0; row < texts.size(); ++row) {
        if (trimmed(texts[row]).empty()) continue;
        const auto cell = typedCell(to, row, texts[row]);
        if (cell && std::isfinite(cell->number) && holds(to.kind, cell->number)) {
            out.numbers[row] = cell->number;
            out.states[row] = CellState::Fine;
        } else if (!cell || !std::isnan(cell->number)) {
            out.states[row] = CellState::Unreadable;
            out.originals[static_cast<std::uint32_t>(row)] = texts[row];
        }
    }
    return out;
}

bool isNumberKind(ColumnKind kind) {
    return kind == ColumnKind::Number || kind == ColumnKind::WholeNumber;
}

} // namespace

std::optional<Issue> unreadableCells(const Column& column) {
    const auto& states = column.cells->states;
    const auto count = std::ranges::count(states, CellState::Unreadable);
    if (count == 0) return std::nullopt;
    const auto first = std::ranges::find(states, CellState::Unreadable) - states.begin();
    return Issue{"unparsed-cells",
                 fmt::format("{} no such value; the first is “{}” in row {}. Their text is kept.",
                             counted(count, "cell holds", "cells hold"),
                             column.cells->originals.at(static_cast<std::uint32_t>(first)), first + 1),
                 {.line = 0, .column = column.name}};
}

Outcome<Column> columnAsKind(const Column& column, ColumnKind kind) {
    Outcome<Column> out{column, {}};
    Column& c = out.value;
    auto sayUnreadable = [&] {
        if (auto issue = unreadableCells(c)) out.issues.push_back(std::move(*issue));
    };
    if (kind == column.kind) return out;
    c.kind = kind;
    if (!c.isTime()) c.timePattern.clear();
    if (isWords(kind)) {
        if (!isWords(column.kind)) c.cells = std::make_shared<Cells>(textsOf(column));
        return out;
    }
    if (!isWords(column.kind)) {
        c.cells = std::make_shared<Cells>(numbersAs(column, kind));
        sayUnreadable();
        return out;
    }
    Column guessed = column;
    guessed.kind = ColumnKind::Text;
    std::vector<Issue> unused;
    io::interpretTexts(guessed, {}, unused);
    const bool fits = guessed.kind == kind || (isNumberKind(guessed.kind) && isNumberKind(kind));
    if (fits) {
        c.utc = guessed.utc;
        c.cells = std::make_shared<Cells>(numbersAs(guessed, kind));
    } else
        c.cells = std::make_shared<Cells>(typedAs(c, column.cells->texts));
    sayUnreadable();
    return out;
}

Edit changeKind(TableId table, ColumnId column, ColumnKind kind) {
    return edits::onTable(table, "Change kind of column", [=](Project&, Table& t) -> Result<void> {
        const auto at = std::ranges::find(t.columns, column, &Column::id);
        if (at == t.columns.end()) return failure("column-gone", "The column is no longer there.");
        if (at->formula.empty()) {
            *at = columnAsKind(*at, kind).value;
            return {};
        }
        if (isWords(kind))
            return failure("computed",
                           "A computed column holds numbers; it can be shown as times, not as words.");
        at->kind = kind;
        return {};
    });
}

} // namespace jointer
