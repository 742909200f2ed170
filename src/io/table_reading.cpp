// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/table_reading.h"

#include "base/text.h"
#include "io/canonical.h"
#include "io/cell_text.h"
#include "io/column_meaning.h"
#include "io/cut_cell.h"
#include "io/odd_cells.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <tuple>

namespace jointer::io {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

// Cells that were settled as numbers after their row was marked keep a Fine state.
void refreshStates(Cells& cells) {
    for (std::size_t i = 0; i < cells.states.size(); ++i)
        if (cells.states[i] == CellState::Missing && !std::isnan(cells.numbers[i]))
            cells.states[i] = CellState::Fine;
}

// Markers of missing values that are numbers themselves, such as -999.
void dropNumericMarkers(Cells& cells, const Dialect& d) {
    for (const std::string& marker : d.missing) {
        const auto value = numberOf(marker, d.decimal);
        if (value) std::ranges::replace(cells.numbers, *value, kNaN);
    }
}

void reportLimits(const Column& c, const CellRules& rules, std::vector<Issue>& issues) {
    std::size_t below = 0, above = 0, first = 0;
    for (const auto& [row, text] : c.cells->originals) {
        const CellState state = c.cells->state(row);
        if (state != CellState::Below && state != CellState::Above) continue;
        if (below + above == 0) first = row;
        ++(state == CellState::Below ? below : above);
    }
    if (below + above == 0) return;
    std::string what;
    if (below > 0) what = counted(static_cast<long long>(below), "cell is", "cells are") + " below a limit";
    if (above > 0)
        what += (what.empty() ? "" : " and ") +
                counted(static_cast<long long>(above), "cell is", "cells are") + " above one";
    issues.push_back({"limits",
                      what + ": kept as such, without a value.",
                      {.line = rules.lineOf(first), .column = c.name}});
}

// Once for all columns of a file.
void offerOrder(DateOrder order, std::vector<Alternative>& alternatives) {
    const bool day = order == DateOrder::DayMonthYear;
    Alternative other{day ? "dates as day, month, year" : "dates as month, day, year", {}};
    other.told.set("date-order", day ? "dmy" : "mdy");
    if (std::ranges::find(alternatives, other.words, &Alternative::words) == alternatives.end())
        alternatives.push_back(std::move(other));
}

std::optional<DateOrder> toldOrder(const Settings& told) {
    const std::string order = told.text("date-order");
    if (order == "dmy") return DateOrder::DayMonthYear;
    if (order == "mdy") return DateOrder::MonthDayYear;
    if (order == "ymd") return DateOrder::YearMonthDay;
    return std::nullopt;
}

} // namespace

Interruptions TableReading::parse(std::string_view body) {
    d_ = guess_.dialect;
    if (needsRewriting(d_)) {
        rewritten_ = rewritten(body, guess_);
        if (d_.form == Form::AlongLines) {
            guess_.names = labelsAlongLines(body, d_);
            guess_.unitTexts.assign(guess_.names.size(), "");
            for (std::size_t c = 0; c < guess_.names.size(); ++c)
                std::tie(guess_.names[c], guess_.unitTexts[c]) = nameAndUnit(guess_.names[c]);
            guess_.remarkTexts.assign(guess_.names.size(), "");
            d_.columns = std::max<std::size_t>(1, guess_.names.size());
            d_.first = 1;
        }
        d_.separator = kUnitSeparator;
        d_.comment.clear();
    }
    parser_.emplace(needsRewriting(d_) ? std::string_view(rewritten_) : body, d_, stop_);
    parser_->countRows();
    plan_ = parser_->planFromSample();
    for (std::size_t c = 0; c < plan_.size(); ++c)
        if (isDeclaredText(c)) plan_[c] = Plan::Text;
    parser_->parse(plan_);
    auto strange = parser_->strangeLines();
    if (d_.form == Form::AlongLines || d_.form == Form::KeyValue) return {};
    // In a table of words headings that come again look like rows.
    auto repeated = repeatedLines(body, guess_.dialect);
    std::ranges::copy(wordyLastLines(body, guess_), std::back_inserter(repeated));
    if (!repeated.empty()) {
        const auto known = std::ssize(strange);
        std::ranges::copy_if(repeated, std::back_inserter(strange), [&](long line) {
            return !std::binary_search(strange.begin(), strange.begin() + known, line);
        });
        std::ranges::sort(strange);
    }
    if (strange.empty() && !endsInSummary(body, guess_)) return {};
    return findInterruptions(body, guess_, strange);
}

ReadTable TableReading::finish(std::vector<Issue>& issues, std::vector<Alternative>& alternatives) {
    OddCells odd(*parser_, d_);
    odd.settle();
    if (turnIntoTexts(odd)) {
        odd = OddCells(*parser_, d_);
        odd.settle();
    }
    takeToldNames();
    const std::size_t kept = columnsKept();
    std::vector<std::string> names(guess_.names.begin(),
                                   guess_.names.begin() + static_cast<std::ptrdiff_t>(kept));
    makeNamesUnique(names, issues);
    names.resize(d_.columns);
    odd.report(names, issues);
    dropCutCell(issues);
    reportRagged(*parser_, d_, !text_.empty() && text_.back() != '\n' && text_.back() != '\r', issues);
    const bool alongLines = d_.form == Form::AlongLines;
    const CellRules rules{
        .decimal = d_.decimal,
        .missing = d_.missing,
        .dateOrder = toldOrder(told_),
        .lineOf = [&](std::size_t row) { return alongLines ? 0 : parser_->lineOf(row); },
        .onOpenOrder = [&](DateOrder other) { offerOrder(other, alternatives); }};
    ReadTable t{.headingLine = guess_.dialect.heading, .unitsLine = guess_.dialect.units};
    for (std::size_t c = 0; c < kept; ++c)
        t.table.columns.push_back(finishedColumn(c, names[c], rules, issues));
    t.table.name = guess_.section;
    t.firstDataLine = alongLines || parser_->rows() == 0 ? guess_.dialect.first : parser_->lineOf(0);
    if (!alongLines)
        t.table.rows = std::make_shared<Rows>(Rows{.ids = {},
                                                   .lines = std::move(parser_->lines()),
                                                   .firstLine = static_cast<std::uint32_t>(d_.first)});
    else if (!told_.flag("transpose"))
        issues.push_back({"transposed",
                          "Each line was taken as one variable; switch that off if lines are rows.",
                          {.line = guess_.dialect.first}});
    return t;
}

// Columns whose odd cells show that they are texts are parsed again as such; whether there was one.
bool TableReading::turnIntoTexts(const OddCells& odd) {
    bool changed = false;
    for (std::size_t c = 0; c < plan_.size(); ++c)
        if (odd.isReallyText(c, guess_.names[c])) plan_[c] = Plan::Text, changed = true;
    if (changed) parser_->parse(plan_);
    return changed;
}

Column TableReading::finishedColumn(std::size_t c, const std::string& name, const CellRules& rules,
                                    std::vector<Issue>& issues) {
    Column column{.name = name,
                  .unit = guess_.unitTexts[c],
                  .kind = plan_[c] == Plan::Number ? ColumnKind::Number : ColumnKind::Text,
                  .comment = guess_.remarkTexts[c]};
    dropNumericMarkers(parser_->cells()[c], d_);
    refreshStates(parser_->cells()[c]);
    column.cells = std::make_shared<Cells>(std::move(parser_->cells()[c]));
    if (column.kind != ColumnKind::Text)
        interpretCompactDates(column);
    else if (!isDeclaredText(c))
        interpretTexts(column, rules, issues);
    reportLimits(column, rules, issues);
    return column;
}

void TableReading::takeToldNames() {
    if (!told_.has("names")) return;
    const std::string names = told_.text("names");
    std::size_t c = 0;
    for (std::string_view name : split(names, ','))
        if (c < guess_.names.size()) std::tie(guess_.names[c], guess_.unitTexts[c]) = nameAndUnit(name), ++c;
}

bool TableReading::isDeclaredText(std::size_t column) const {
    const Texts texts = told_.texts("as-text");
    return column < guess_.names.size() && std::ranges::find(texts, guess_.names[column]) != texts.end();
}

void TableReading::dropCutCell(std::vector<Issue>& issues) {
    if (text_.empty() || text_.back() == '\n' || text_.back() == '\r' || parser_->rows() < 2) return;
    const bool plain = d_.form == Form::Separated && d_.separator != kUnitSeparator;
    const auto cut = plain ? cutCell(text_, d_) : std::nullopt;
    if (!cut || cut->column >= plan_.size()) return;
    Cells& cells = parser_->cells()[cut->column];
    const std::size_t row = parser_->rows() - 1;
    if (row < cells.numbers.size()) cells.numbers[row] = kNaN;
    if (row < cells.texts.size()) cells.texts[row].clear();
    issues.push_back({"truncated-last-line",
                      fmt::format("The file ends within “{}”: the cell is taken as missing.", cut->text),
                      {.line = parser_->lineOf(row), .column = guess_.names[cut->column]}});
}

std::size_t TableReading::columnsKept() const {
    std::size_t n = d_.columns;
    auto isEmpty = [&](std::size_t c) {
        const Cells& cells = parser_->cells()[c];
        return std::ranges::all_of(cells.numbers, [](double v) { return std::isnan(v); }) &&
               std::ranges::all_of(cells.texts, [](const std::string& t) { return t.empty(); }) &&
               cells.originals.empty();
    };
    while (n > 1 && guess_.names[n - 1].empty() && isEmpty(n - 1)) --n;
    return n;
}

} // namespace jointer::io
