// SPDX-License-Identifier: GPL-3.0-or-later
// Computed columns of tables.
#include "base/text.h"
#include "data/time_pattern.h"
#include "evaluate/evaluator.h"
#include "formula/column_functions.h"

#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace jointer::evaluate {

namespace {

// A date, or a date and time, as formulas write them.
std::optional<double> momentNamed(std::string_view name) {
    for (const char* pattern :
         {"YYYY-MM-DD", "YYYY-MM-DD hh:mm", "YYYY-MM-DD hh:mm:ss", "YYYY-MM-DDThh:mm:ss"})
        if (const auto seconds = timeFromText(name, pattern)) return seconds;
    return std::nullopt;
}

} // namespace

template <class T>
Digest Evaluator::digestOnce(const std::shared_ptr<const T>& part, Digest (*take)(const T&)) {
    {
        const std::lock_guard lock(mutex_);
        const auto at = digests_.find(part.get());
        if (at != digests_.end() && at->second.first.lock() == part) return at->second.second;
    }
    const Digest d = take(*part);
    const std::lock_guard lock(mutex_);
    std::erase_if(digests_, [](const auto& e) { return e.second.first.expired(); });
    digests_[part.get()] = {part, d};
    return d;
}

Digest Evaluator::digestOfCells(const std::shared_ptr<const Cells>& cells) {
    return digestOnce<Cells>(cells, [](const Cells& c) { return digestOf(c); });
}

Digest Evaluator::digestOfRows(const std::shared_ptr<const Rows>& rows) {
    return digestOnce<Rows>(rows, [](const Rows& r) {
        Hasher h;
        h.add(r.ids.size());
        for (std::uint32_t id : r.ids) h.add(id);
        return h.digest();
    });
}

std::shared_ptr<const Cells> Evaluator::computedCells(const Project& project, const Table& table,
                                                      const Column& column, std::vector<ColumnId>& path,
                                                      std::vector<Issue>& issues) {
    if (column.formula.empty()) return column.cells;
    auto refuse = [&](const std::string& why, long sign = 0) {
        issues.push_back({"formula", why, {.column = column.name, .sign = sign}});
        return std::make_shared<const Cells>(
            Cells{.numbers = std::vector<double>(table.rowCount(), std::nan("")),
                  .texts = {},
                  .states = {},
                  .originals = {}});
    };
    if (std::ranges::find(path, column.id) != path.end()) {
        std::vector<std::string> names;
        for (auto at = std::ranges::find(path, column.id); at != path.end(); ++at)
            names.push_back(table.find(*at)->name);
        names.push_back(column.name);
        return refuse("These columns need each other in a circle: " + joined(names, " → ") + ".");
    }
    const auto expression = formula::Expression::parse(column.formula, formula::Vocabulary::Columns);
    if (!expression) return refuse(expression.error().text, expression.error().place.sign);

    path.push_back(column.id);
    std::vector<std::string> names;
    std::vector<std::shared_ptr<const Cells>> sources;
    Hasher h;
    h.add("column").add(column.formula);
    std::size_t rows = 0;
    for (const Column& c : table.columns)
        if (c.formula.empty()) rows = std::max(rows, c.cells->size());
    for (const std::string& name : expression->names()) {
        if (name == "row") continue;
        const Column* from = table.find(ColumnId::fromText(name));
        if (!from) from = table.findByName(name);
        const auto moment = from ? std::nullopt : momentNamed(name);
        if (moment) { // '2031-05-02 06:00' stands for itself
            sources.push_back(std::make_shared<Cells>(Cells{
                .numbers = std::vector<double>(rows, *moment), .texts = {}, .states = {}, .originals = {}}));
            names.push_back(name);
            h.add(name);
            continue;
        }
        if (!from || !from->isNumeric()) {
            path.pop_back();
            return refuse(
                fmt::format("There is no column of numbers called “{}” in this table; columns are {}.", name,
                            columnNames(table)));
        }
        sources.push_back(computedCells(project, table, *from, path, issues));
        names.push_back(name);
        h.add(name).add(digestOfCells(sources.back()));
    }
    path.pop_back();
    const Digest key = h.add(rows).digest();
    if (auto known = memo_.find<Cells>(key)) return known;

    std::vector<double> rowNumbers(rows);
    std::iota(rowNumbers.begin(), rowNumbers.end(), 1.0);
    std::vector<std::vector<double>> padded;
    padded.reserve(sources.size());
    std::vector<std::span<const double>> inputs;
    for (const auto& s : sources) {
        padded.push_back(s->numbers);
        padded.back().resize(rows, std::nan(""));
        inputs.emplace_back(padded.back());
    }
    names.push_back("row");
    inputs.emplace_back(rowNumbers);
    auto values = formula::evaluateOverRows(*expression, names, inputs, rows);
    if (!values) return refuse(values.error().text);
    auto cells = std::make_shared<Cells>();
    cells->numbers = std::move(*values);
    memo_.put<Cells>(key, cells, rows * sizeof(double));
    return cells;
}

Outcome<Table> Evaluator::table(const Project& project, TableId id) {
    const auto table = project.tables.find(id);
    if (!table) return {{}, {{"table-gone", "The table is no longer there.", {}}}};
    Outcome<Table> out{*table, {}};
    for (std::size_t i = 0; i < table->columns.size(); ++i) {
        std::vector<ColumnId> path;
        out.value.columns[i].cells = computedCells(project, *table, table->columns[i], path, out.issues);
    }
    return out;
}

std::string formulaShown(std::string_view stored, const Table& table) {
    const auto expression = formula::Expression::parse(stored, formula::Vocabulary::Columns);
    if (!expression) return std::string(stored);
    std::string out(stored);
    for (const std::string& name : expression->names()) {
        const Column* c = table.find(ColumnId::fromText(name));
        if (!c) continue;
        const std::string quoted = "'" + name + "'";
        const auto plain = formula::Expression::parse(c->name);
        const bool isWord = plain && plain->names().size() == 1 && plain->names()[0] == c->name;
        for (std::size_t at = 0; (at = out.find(quoted, at)) != std::string::npos; at += c->name.size())
            out.replace(at, quoted.size(), isWord ? c->name : "'" + c->name + "'");
    }
    return out;
}

std::string formulaStored(std::string_view shown, const Table& table) {
    const auto expression = formula::Expression::parse(shown, formula::Vocabulary::Columns);
    if (!expression) return std::string(shown);
    return formula::renamed(shown, [&](const std::string& name) -> std::string {
        const Column* c = table.findByName(name);
        return c && name != "row" ? "'" + c->id.text() + "'" : std::string{};
    });
}

} // namespace jointer::evaluate
