// SPDX-License-Identifier: GPL-3.0-or-later
// A model as it would stand in src/models/settling.cpp: derivatives come from the formula.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/start_values.h"

namespace jointer::models {

namespace {

// The last level, and half of the way to it at half of the time.
std::optional<std::vector<double>> guessSettling(const Curve& curve) {
    const SortedPoints p = sortedPoints(curve);
    if (p.size() < 3) return std::nullopt;
    return std::vector<double>{p.y.back(), p.x[p.size() / 2]};
}

ModelPtr makeSettling(const Settings&) {
    return libraryModel("level*x/(half + x)",
                        {{"level", "what it settles at", "y"}, {"half", "x of half the level", "x"}},
                        {{"initial", "level/half", "y/x"}}, guessSettling);
}

} // namespace

std::vector<ModelKind> settlingModels() {
    return {{{.key = "settling",
              .name = "Settling",
              .purpose = "A level that is approached ever more slowly",
              .group = "Growth and decay"},
             makeSettling}};
}

} // namespace jointer::models
