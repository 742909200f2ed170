// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/fit_order.h"

#include "project/edit.h"
#include "session/command_project.h"

namespace jointer {

namespace {

std::string_view weightsOf(const FitOrder& order) {
    return order.sigma.empty() ? "none" : order.absolute ? "absolute" : "relative";
}

} // namespace

Result<Project> projectOf(const Table& table, const FitOrder& order) {
    if (order.absolute && order.sigma.empty())
        return failure("usage", "Absolute uncertainties need a column that holds them.");
    const auto made = withDataset({}, table, {order.x, order.y, order.sigma});
    if (!made) return made;
    AnalysisInput input{.dataset = made->datasets[0].id, .low = order.low, .high = order.high};
    input.weights.set("weights", Value(std::string(weightsOf(order))));
    Analysis fit{.inputs = {std::move(input)}, .model = order.model, .parameters = order.parameters};
    fit.settings.set("level", Value(order.level));
    return edits::addAnalysis(std::move(fit)).apply(*made);
}

} // namespace jointer
