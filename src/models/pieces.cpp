// SPDX-License-Identifier: GPL-3.0-or-later
// Steps, pulses, and curves in sections.
#include "models/catalogue.h"
#include "models/searched_model.h"
#include "models/start_values.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

std::string rise(const std::string& place) {
    return "1/(1 + exp(-(x - " + place + ")/edge))";
}

ModelPtr makeStep(const Settings&) {
    return searchedModel(
        "before + (after - before)*" + rise("place"),
        {{{"before", "level before the step", "y"}},
         {{"after", "level after it", "y"}},
         {{"place", "x of the step", "x"}, Search::Place},
         {{"edge", "how wide the step is; 2.2 of it from a quarter to three quarters", "x", 0},
          Search::Length}});
}

ModelPtr makePulse(const Settings&) {
    return searchedModel("base + height*(" + rise("begin") + " - " + rise("end") + ")",
                         {{{"base", "level outside", "y"}},
                          {{"height", "of the pulse above it", "y"}},
                          {{"begin", "x at which it begins", "x"}, Search::Place},
                          {{"end", "x at which it ends", "x"}, Search::Place},
                          {{"edge", "how wide its edges are", "x", 0}, Search::Length}},
                         {{"duration", "end - begin", "x"}, {"area", "height*(end - begin)", "xy"}});
}

ModelPtr makeSections(const Settings&) {
    return searchedModel(
        "level + first*min(x - break1, 0) + second*min(max(x - break1, 0), break2 - break1) + "
        "third*max(x - break2, 0)",
        {{{"level", "y at the first break", "y"}},
         {{"first", "slope before the first break", "y/x"}},
         {{"second", "slope between the breaks", "y/x"}},
         {{"third", "slope after the second break", "y/x"}},
         {{"break1", "x of the first break", "x"}, Search::Place},
         {{"break2", "x of the second break", "x"}, Search::Place}});
}

// For each place of the break two straight lines that meet there, over logarithms; points weigh by y², as
// their errors are those of y.
std::optional<std::vector<double>> guessPowerSections(const Curve& curve) {
    const SortedPoints all = sortedPoints(curve);
    std::vector<double> x, y;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (all.x[i] > 0 && all.y[i] > 0) x.push_back(std::log(all.x[i])), y.push_back(all.y[i]);
    if (x.size() < 4) return std::nullopt;
    std::vector<double> best;
    double least = INFINITY;
    constexpr int kPlaces = 60;
    for (int k = 1; k < kPlaces; ++k) {
        const double place = std::lerp(x.front(), x.back(), static_cast<double>(k) / kPlaces);
        Eigen::MatrixXd columns(std::ssize(x), 3);
        Eigen::VectorXd target(std::ssize(x));
        for (Eigen::Index i = 0; i < target.size(); ++i) {
            const auto n = static_cast<std::size_t>(i);
            const double d = x[n] - place;
            columns.row(i) = y[n] * Eigen::RowVector3d(1, std::min(d, 0.0), std::max(d, 0.0));
            target[i] = y[n] * std::log(y[n]);
        }
        const Eigen::Vector3d p = columns.colPivHouseholderQr().solve(target);
        double sum = 0;
        for (std::size_t i = 0; i < x.size(); ++i) {
            const double d = x[i] - place;
            const double left = y[i] - std::exp(p[0] + p[1] * std::min(d, 0.0) + p[2] * std::max(d, 0.0));
            sum += left * left;
        }
        if (!(sum < least)) continue;
        least = sum;
        best = {std::exp(p[0]), p[1], p[2], std::exp(place)};
    }
    return best.empty() ? std::nullopt : std::optional(best);
}

ModelPtr makePowerSections(const Settings&) {
    return libraryModel("level*(x/break)^if(x < break, before, after)",
                        {{"level", "y at the break", "y"},
                         {"before", "exponent before the break", ""},
                         {"after", "exponent after it", ""},
                         {"break", "x of the break", "x", 0}},
                        {}, guessPowerSections);
}

} // namespace

std::vector<ModelKind> pieceModels() {
    return {{{.key = "line-sections",
              .name = "Line in three sections",
              .purpose = "Three straight pieces that meet, with both breaks estimated",
              .group = "Lines and polynomials"},
             makeSections},
            {{.key = "power-sections",
              .name = "Power law in two sections",
              .purpose = "Two exponents and the x at which the one takes over from the other; x above zero",
              .group = "Powers and roots"},
             makePowerSections},
            {{.key = "step",
              .name = "Step",
              .purpose = "One level, then another, with the width of the edge",
              .group = "Steps and ramps"},
             makeStep},
            {{.key = "pulse",
              .name = "Pulse",
              .purpose = "Up and down again: its begin, its end, its edges",
              .group = "Steps and ramps"},
             makePulse}};
}

} // namespace jointer::models
