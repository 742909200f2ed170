// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/fit_order.h"

#include "project/edit.h"

#include <fmt/format.h>

namespace jointer {

namespace {

// Binds columns to a role. Errors: the first that cannot be bound.
Result<void> bind(DatasetSource& source, const Table& table, Role role,
                  const std::vector<std::string>& names) {
    for (const std::string& name : names) {
        const Column* c = table.findByName(name);
        const Place place{.file = table.origin.file};
        if (!c)
            return failure("no-column",
                           fmt::format("There is no column “{}”; there are {}.", name, columnNames(table)),
                           place);
        if (!c->isNumeric())
            return failure("not-numbers", fmt::format("The column “{}” holds texts, not numbers.", name),
                           place);
        source.roles.push_back({role, c->id});
    }
    return {};
}

std::string_view weightsOf(const FitOrder& order) {
    return order.sigma.empty() ? "none" : order.absolute ? "absolute" : "relative";
}

} // namespace

Result<Project> projectOf(const Table& given, const FitOrder& order) {
    if (order.absolute && order.sigma.empty())
        return failure("usage", "Absolute uncertainties need a column that holds them.");
    auto made = edits::addTable(given).apply({});
    if (!made) return made;
    const Table& table = made->tables[0];
    Dataset dataset{.name = table.name, .source = {.table = table.id}};
    for (const auto& [role, names] : {std::pair(Role::X, order.x), {Role::Y, order.y}})
        if (auto good = bind(dataset.source, table, role, names); !good) return std::unexpected(good.error());
    if (!order.sigma.empty())
        if (auto good = bind(dataset.source, table, Role::YError, {order.sigma}); !good)
            return std::unexpected(good.error());
    made = edits::addDataset(std::move(dataset)).apply(*made);
    if (!made) return made;

    AnalysisInput input{.dataset = made->datasets[0].id, .low = order.low, .high = order.high};
    input.weights.set("weights", Value(std::string(weightsOf(order))));
    Analysis fit{.inputs = {std::move(input)}, .model = order.model, .parameters = order.parameters};
    fit.settings.set("level", Value(order.level));
    return edits::addAnalysis(std::move(fit)).apply(*made);
}

} // namespace jointer
