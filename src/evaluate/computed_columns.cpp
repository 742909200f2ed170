// SPDX-License-Identifier: GPL-3.0-or-later
// Computed columns of tables.
#include "base/text.h"
#include "data/time_pattern.h"
#include "evaluate/column_inputs.h"
#include "evaluate/evaluator.h"
#include "evaluate/nodes.h"
#include "evaluate/predicted_columns.h"
#include "evaluate/water_columns.h"
#include "formula/column_functions.h"

#include <algorithm>
#include <cmath>
#include <deque>
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

// Beyond the points that a fit rests on.
Issue extrapolated(const std::string& column, const std::vector<std::size_t>& beyond) {
    std::vector<std::string> rows;
    for (std::size_t i = 0; i < beyond.size() && i < 5; ++i) rows.push_back(std::to_string(beyond[i] + 1));
    return {"extrapolated",
            fmt::format("{} beyond the fitted points: row{} {}{}.",
                        beyond.size() == 1 ? "1 value lies" : fmt::format("{} values lie", beyond.size()),
                        beyond.size() == 1 ? "" : "s", joined(rows, ", "), beyond.size() > 5 ? " …" : ""),
            {.column = column}};
}

// The formula of a column with what it takes: first columns, then the fits that it follows.
struct Recipe {
    std::string column;
    formula::Expression expression;
    Names used;
    std::vector<PredictedCall> fits;
    std::size_t rows = 0;
};

Stored computedCells(const Recipe& recipe, std::span<const Stored> inputs) {
    const std::size_t rows = recipe.rows;
    std::deque<std::vector<double>> columns; // keeps its places
    std::size_t input = 0;
    for (const auto& moment : recipe.used.moments) {
        if (moment) {
            columns.emplace_back(rows, *moment);
            continue;
        }
        columns.push_back(inputs[input++].as<Cells>()->numbers);
        columns.back().resize(rows, std::nan(""));
    }
    columns.emplace_back(rows);
    std::iota(columns.back().begin(), columns.back().end(), 1.0);
    std::vector<std::string> names = recipe.used.names;
    names.push_back("row");
    std::vector<std::span<const double>> spans(columns.begin(), columns.end());
    std::vector<std::size_t> beyond;
    std::vector<Issue> issues;
    for (const PredictedCall& fit : recipe.fits) {
        const Stored& of = inputs[input++];
        auto x = formula::evaluateOverRows(formula::Expression::fromTree(fit.at), names, spans, rows);
        if (!x) return noNumbers(recipe.column, rows, x.error().text);
        if (!of.value) {
            Stored none = noNumbers(recipe.column, rows,
                                    of.issues.empty() ? "The fit is not there yet." : of.issues[0].text);
            none.whole = of.whole;
            return none;
        }
        auto values = predictedAt(fit, *of.as<analyses::AnalysisResult>(), *x, beyond);
        if (!values) return noNumbers(recipe.column, rows, values.error().text);
        names.push_back(fit.name);
        spans.emplace_back(columns.emplace_back(std::move(*values)));
    }
    auto values = formula::evaluateOverRows(recipe.expression, names, spans, rows);
    if (!values) return noNumbers(recipe.column, rows, values.error().text);
    std::ranges::sort(beyond);
    beyond.erase(std::ranges::unique(beyond).begin(), beyond.end());
    if (!beyond.empty()) issues.push_back(extrapolated(recipe.column, beyond));
    auto cells = std::make_shared<Cells>();
    cells->numbers = std::move(*values);
    for (const std::size_t row : beyond)
        cells->originals[static_cast<std::uint32_t>(row)] = "beyond the fitted points";
    const Digest digest = digestOf(*cells);
    return {std::move(cells), std::move(issues), digest, rows * sizeof(double)};
}

} // namespace

// Columns without a formula are what they are.
Node planColumn(const Ground& ground, const NodeId& id) {
    const auto table = ground.project.tables.find(TableId{id.of});
    const Column& column = *table->find(ColumnId{id.part});
    if (column.formula.empty()) return {.given = Stored{column.cells, {}, ground.digests.of(column.cells)}};
    if (const auto call = waterCall(column.formula)) return planWaterColumn(ground, *table, column, *call);
    const std::size_t rows = ownRows(*table);
    const auto expression = formula::Expression::parse(column.formula, formula::Vocabulary::Columns);
    if (!expression) return refused(column.name, rows, expression.error());
    Recipe recipe{.column = column.name, .rows = rows};
    const auto plain = withoutPredicted(*expression, ground.project, recipe.fits);
    if (!plain) return refused(column.name, rows, plain.error());
    recipe.expression = *plain;
    auto used = resolved(*plain, *table);
    if (!used) return refused(column.name, rows, used.error());
    recipe.used = std::move(*used);

    Node node{.name = column.name, .inputs = recipe.used.inputs, .passesIssues = recipe.fits.empty()};
    for (const PredictedCall& fit : recipe.fits) node.inputs.push_back(analysisNode(fit.analysis));
    Hasher h;
    h.add("column").add(column.name).add(column.formula).add(rows);
    node.own = h.digest();
    node.compute = [recipe = std::move(recipe)](std::span<const Stored> inputs, const Request&) {
        return computedCells(recipe, inputs);
    };
    node.inCircle = [name = column.name, rows](const std::string& loop) {
        return noNumbers(name, rows, "These columns need each other in a circle: " + loop + ".");
    };
    return node;
}

namespace {

bool isWord(const std::string& name) {
    const auto plain = formula::Expression::parse(name);
    return plain && plain->names().size() == 1 && plain->names()[0] == name;
}

} // namespace

std::string formulaShown(std::string_view stored, const Table& table, const Project* project) {
    if (const auto call = waterCall(stored))
        if (const auto d = project ? project->datasets.find(DatasetId::fromText(call->dataset)) : nullptr)
            return waterFormula(d->name, call->quantity->key);
    const auto expression = formula::Expression::parse(stored, formula::Vocabulary::Columns);
    if (!expression) return std::string(stored);
    std::string out(stored);
    for (const std::string& name : expression->names()) {
        std::string shown;
        if (const Column* c = table.find(ColumnId::fromText(name)))
            shown = isWord(c->name) ? c->name : "'" + c->name + "'";
        else if (const auto fit = AnalysisId::fromText(name); project && project->analyses.find(fit))
            shown = "'" + nameInFormulas(*project, fit) + "'";
        else if (const auto d = project ? project->datasets.find(DatasetId::fromText(name)) : nullptr)
            shown = "'" + d->name + "'";
        if (shown.empty()) continue;
        const std::string quoted = "'" + name + "'";
        for (std::size_t at = 0; (at = out.find(quoted, at)) != std::string::npos; at += shown.size())
            out.replace(at, quoted.size(), shown);
    }
    return out;
}

std::string formulaStored(std::string_view shown, const Table& table, const Project* project) {
    if (const auto call = waterCall(shown); call && project)
        for (const auto& d : project->datasets)
            if (d->name == call->dataset || d->id.text() == call->dataset)
                return waterFormula(d->id.text(), call->quantity->key);
    const auto expression = formula::Expression::parse(shown, formula::Vocabulary::Columns);
    if (!expression) return std::string(shown);
    const auto fits = namesOfFits(*expression), members = namesOfMembers(*expression);
    return formula::renamed(shown, [&](const std::string& name) -> std::string {
        if (project && std::ranges::find(fits, name) != fits.end())
            if (const AnalysisId fit = analysisInFormulas(*project, name)) return "'" + fit.text() + "'";
        if (project && std::ranges::find(members, name) != members.end())
            for (const auto& d : project->datasets)
                if (d->name == name) return "'" + d->id.text() + "'";
        const Column* c = table.findByName(name);
        return c && name != "row" ? "'" + c->id.text() + "'" : std::string{};
    });
}

} // namespace jointer::evaluate
