// SPDX-License-Identifier: GPL-3.0-or-later
// Computed columns of tables.
#include "base/text.h"
#include "data/time_pattern.h"
#include "evaluate/evaluator.h"
#include "evaluate/nodes.h"
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

// A column without numbers, because of its formula.
Stored noNumbers(const std::string& column, std::size_t rows, const std::string& why, long sign = 0) {
    auto cells = std::make_shared<Cells>();
    cells->numbers.assign(rows, std::nan(""));
    const Digest digest = digestOf(*cells);
    return {std::move(cells),
            {{"formula", why, {.column = column, .sign = sign}}},
            digest,
            rows * sizeof(double)};
}

Node refused(const std::string& column, std::size_t rows, const Issue& why) {
    return {.own =
                Hasher().add("no numbers").add(column).add(rows).add(why.text).add(why.place.sign).digest(),
            .compute = [=](std::span<const Stored>, const Request&) {
                return noNumbers(column, rows, why.text, why.place.sign);
            }};
}

// The names in a formula with what they stand for, in the order of the formula.
struct Names {
    std::vector<std::string> names;
    std::vector<std::optional<double>> moments; // '2031-05-02 06:00' stands for itself; none: an input
    std::vector<NodeId> inputs;
};

Result<Names> resolved(const formula::Expression& expression, const Table& table) {
    Names out;
    for (const std::string& name : expression.names()) {
        if (name == "row") continue;
        const Column* from = table.find(ColumnId::fromText(name));
        if (!from) from = table.findByName(name);
        const auto moment = from ? std::nullopt : momentNamed(name);
        if (!moment && (!from || !from->isNumeric()))
            return failure(
                "formula",
                fmt::format("There is no column of numbers called “{}” in this table; columns are {}.", name,
                            columnNames(table)));
        out.names.push_back(name);
        out.moments.push_back(moment);
        if (from) out.inputs.push_back(columnNode(table.id, from->id));
    }
    return out;
}

Stored computedCells(const std::string& column, const formula::Expression& expression, const Names& used,
                     std::size_t rows, std::span<const Stored> inputs) {
    std::vector<std::vector<double>> columns;
    for (std::size_t i = 0, input = 0; i < used.names.size(); ++i) {
        if (used.moments[i]) {
            columns.emplace_back(rows, *used.moments[i]);
            continue;
        }
        columns.push_back(inputs[input++].as<Cells>()->numbers);
        columns.back().resize(rows, std::nan(""));
    }
    columns.emplace_back(rows);
    std::iota(columns.back().begin(), columns.back().end(), 1.0);
    std::vector<std::string> names = used.names;
    names.push_back("row");
    const std::vector<std::span<const double>> spans(columns.begin(), columns.end());
    auto values = formula::evaluateOverRows(expression, names, spans, rows);
    if (!values) return noNumbers(column, rows, values.error().text);
    auto cells = std::make_shared<Cells>();
    cells->numbers = std::move(*values);
    const Digest digest = digestOf(*cells);
    return {std::move(cells), {}, digest, rows * sizeof(double)};
}

} // namespace

// Columns without a formula are what they are.
Node planColumn(const Ground& ground, const NodeId& id) {
    const auto table = ground.project.tables.find(TableId{id.of});
    const Column& column = *table->find(ColumnId{id.part});
    if (column.formula.empty()) return {.given = Stored{column.cells, {}, ground.digests.of(column.cells)}};
    std::size_t rows = 0;
    for (const Column& c : table->columns)
        if (c.formula.empty()) rows = std::max(rows, c.cells->size());
    const auto expression = formula::Expression::parse(column.formula, formula::Vocabulary::Columns);
    if (!expression) return refused(column.name, rows, expression.error());
    auto used = resolved(*expression, *table);
    if (!used) return refused(column.name, rows, used.error());

    Node node{.name = column.name, .inputs = used->inputs, .passesIssues = true};
    Hasher h;
    h.add("column").add(column.name).add(column.formula).add(rows);
    node.own = h.digest();
    node.compute = [name = column.name, expression = *expression, used = std::move(*used),
                    rows](std::span<const Stored> inputs, const Request&) {
        return computedCells(name, expression, used, rows, inputs);
    };
    node.inCircle = [name = column.name, rows](const std::string& loop) {
        return noNumbers(name, rows, "These columns need each other in a circle: " + loop + ".");
    };
    return node;
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
