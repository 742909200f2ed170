// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/fit_order.h"

#include "analyses/analysis.h"
#include "base/text.h"
#include "project/edit.h"
#include "session/command_project.h"

#include <algorithm>

namespace jointer {

namespace {

constexpr std::string_view kColumn = "column:";

bool isColumnOfWeights(const FitOrder& order) {
    return order.weights.starts_with(kColumn);
}

std::string weightsOf(const FitOrder& order) {
    if (isColumnOfWeights(order)) return "relative";
    if (!order.weights.empty()) return order.weights;
    const bool absolute = order.absolute || !order.sigmaX.empty();
    return order.sigma.empty() ? "none" : absolute ? "absolute" : "relative";
}

Result<void> check(const FitOrder& order) {
    const std::string weights = weightsOf(order);
    if (order.absolute && order.sigma.empty())
        return failure("usage", "Absolute uncertainties need a column that holds them: give --sigma.");
    if (!order.sigmaX.empty() && order.sigma.empty())
        return failure("usage", "Errors in x need those of y as well: give --sigma.");
    if ((weights == "absolute" || weights == "relative") && order.sigma.empty() && !isColumnOfWeights(order))
        return failure("usage", "These weights need uncertainties: give --sigma.");
    if (order.separate && !order.group.empty()) return failure("usage", "Give either --separate or --group.");
    if (order.sigma.size() > 1 && (!order.separate || order.sigma.size() != order.y.size()))
        return failure("usage", "Several --sigma go with --separate: one for each --y.");
    Settings settings;
    settings.set("weights", Value(weights));
    return validate(analyses::weightSettings(), settings);
}

struct Part {
    std::string name;
    Table table;
    ColumnChoice columns;
};

ColumnChoice columnsOf(const FitOrder& order) {
    ColumnChoice columns{.x = order.x, .y = order.y, .sigmaX = order.sigmaX, .resolution = order.resolution};
    if (!order.sigma.empty()) columns.sigma = order.sigma.front();
    if (isColumnOfWeights(order)) columns.weights = order.weights.substr(kColumn.size());
    return columns;
}

std::vector<Part> separated(const Table& table, const FitOrder& order) {
    std::vector<Part> parts;
    for (std::size_t k = 0; k < order.y.size(); ++k) {
        const Column* column = table.findByName(order.y[k]);
        Part part{column ? column->name : order.y[k], table, columnsOf(order)};
        part.columns.y = {order.y[k]};
        if (order.sigma.size() > 1) part.columns.sigma = order.sigma[k];
        parts.push_back(std::move(part));
    }
    return parts;
}

Cells rowsOf(const Cells& cells, const std::vector<std::size_t>& rows) {
    Cells out;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const std::size_t row = rows[i];
        if (!cells.numbers.empty()) out.numbers.push_back(cells.numbers[row]);
        if (!cells.texts.empty()) out.texts.push_back(cells.texts[row]);
        if (!cells.states.empty()) out.states.push_back(cells.states[row]);
        if (const auto at = cells.originals.find(static_cast<std::uint32_t>(row));
            at != cells.originals.end())
            out.originals[static_cast<std::uint32_t>(i)] = at->second;
    }
    return out;
}

// The rows of each text of a column, in order of first appearance. Rows without one are in none.
Result<std::vector<Part>> grouped(const Table& table, const FitOrder& order) {
    const Column* by = table.findByName(order.group);
    if (!by)
        return failure("no-column",
                       "There is no column “" + order.group + "”; there are " + columnNames(table) + ".",
                       {.file = table.origin.file});
    std::vector<std::string> names;
    std::vector<std::vector<std::size_t>> rows;
    for (std::size_t row = 0; row < table.rowCount(); ++row) {
        const std::string name =
            by->isNumeric() ? readableNumber(by->cells->numbers[row]) : by->cells->texts[row];
        if (by->cells->state(row) != CellState::Fine) continue;
        const auto at = std::ranges::find(names, name);
        if (at == names.end()) {
            names.push_back(name);
            rows.push_back({row});
        } else
            rows[static_cast<std::size_t>(at - names.begin())].push_back(row);
    }
    std::vector<Part> parts;
    for (std::size_t g = 0; g < names.size(); ++g) {
        Part part{names[g], table, columnsOf(order)};
        auto kept = std::make_shared<Rows>();
        for (std::size_t row : rows[g]) {
            kept->ids.push_back(table.rows->id(row));
            kept->lines.push_back(table.rows->line(row));
        }
        part.table.rows = std::move(kept);
        for (Column& c : part.table.columns)
            c.cells = std::make_shared<const Cells>(rowsOf(*c.cells, rows[g]));
        parts.push_back(std::move(part));
    }
    return parts;
}

} // namespace

Result<Project> projectOf(const Table& table, const FitOrder& order) {
    if (auto good = check(order); !good) return std::unexpected(good.error());
    std::vector<Part> parts = {{"", table, columnsOf(order)}};
    if (order.separate) parts = separated(table, order);
    if (!order.group.empty()) {
        auto groups = grouped(table, order);
        if (!groups) return std::unexpected(groups.error());
        parts = std::move(*groups);
    }
    Project project;
    Analysis analysis{.kind = order.kind, .model = order.model, .parameters = order.parameters};
    for (Part& part : parts) {
        const auto with = withDataset(project, std::move(part.table), part.columns, part.name);
        if (!with) return with;
        project = *with;
        AnalysisInput input{.dataset = project.datasets[project.datasets.size() - 1].id, .span = order.span};
        input.weights.set("weights", Value(weightsOf(order)));
        analysis.inputs.push_back(std::move(input));
    }
    analysis.settings = order.settings;
    if (!order.sigmaX.empty()) analysis.settings.set("errors-in-x", Value(true));
    return edits::addAnalysis(std::move(analysis)).apply(project);
}

} // namespace jointer
