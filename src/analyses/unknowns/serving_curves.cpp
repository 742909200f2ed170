// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/unknowns/serving_curves.h"

#include "analyses/unknowns/standard_curve.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace jointer::analyses {

namespace {

constexpr std::string_view kCandidates[] = {"line",       "polynomial-2", "polynomial-3",
                                            "logistic-4", "logistic-5",   "saturation"};

// The points of the only member without those of a level.
fit::FitProblem without(const fit::FitProblem& all, double level) {
    fit::FitProblem out = all;
    fit::FitMember& m = out.members[0];
    const std::vector<double> xs = all.members[0].predictors[0];
    const auto thin = [&](std::vector<double>& list) {
        std::size_t to = 0;
        for (std::size_t i = 0; i < list.size(); ++i)
            if (xs[i] != level) list[to++] = list[i];
        list.resize(to);
    };
    for (auto* list : {&m.predictors[0], &m.y, &m.sigma, &m.sigmaX})
        if (!list->empty()) thin(*list);
    return out;
}

// The x of a reading on the curve of the points; NaN: it is not to be had there.
double readBack(const fit::FitProblem& points, double reading, double low, double high,
                const Cancellation& stop) {
    const auto report = fit::fit(points, {}, stop);
    if (!report) return NAN;
    const fit::Inversion curve = inversionOf(*points.members[0].model, report->one().values(), low, high);
    return curve.read(reading).x.value_or(NAN);
}

// The levels of the standards in order, each with the mean of its readings.
std::vector<std::pair<double, double>> levelsOf(const fit::FitMember& m) {
    std::map<double, std::pair<double, double>> sums;
    for (std::size_t i = 0; i < m.y.size(); ++i) {
        auto& [sum, n] = sums[m.predictors[0][i]];
        sum += m.y[i], ++n;
    }
    std::vector<std::pair<double, double>> out;
    for (const auto& [x, sum] : sums) out.emplace_back(x, sum.first / sum.second);
    return out;
}

// Series of standards as one.
fit::FitMember joinedMember(const fit::FitProblem& all) {
    fit::FitMember out = all.members.front();
    for (std::size_t m = 1; m < all.members.size(); ++m) {
        const fit::FitMember& further = all.members[m];
        const auto append = [](std::vector<double>& to, const std::vector<double>& from) {
            to.insert(to.end(), from.begin(), from.end());
        };
        // A series without uncertainties beside one that has some has the usual ones.
        const auto appendErrors = [&](std::vector<double>& to, std::vector<double> from, double usual) {
            if (to.empty() && from.empty()) return;
            to.resize(out.y.size(), usual);
            from.resize(further.y.size(), usual);
            append(to, from);
        };
        appendErrors(out.sigma, further.sigma, 1);
        appendErrors(out.sigmaX, further.sigmaX, 0);
        append(out.predictors[0], further.predictors[0]);
        append(out.y, further.y);
    }
    return out;
}

// The problem of the standards with another model; nothing said of its parameters.
fit::FitProblem problemWith(const fit::FitProblem& all, const fit::FitMember& standards,
                            models::ModelPtr model) {
    fit::FitProblem out = all;
    out.members = {standards};
    out.members[0].model = std::move(model);
    out.members[0].parameters.clear();
    out.parameters.clear();
    out.derive.clear();
    out.schedule.clear();
    return out;
}

void tryLevels(const fit::FitProblem& problem, const std::vector<std::pair<double, double>>& levels,
               const Cancellation& stop, ServingCurve& c) {
    const double low = levels.front().first, high = levels.back().first;
    double unit = high, squares = 0; // unit: of what is told in per cent where x is nought
    for (const auto& [x, y] : levels)
        if (x != 0) unit = std::min(unit, std::abs(x));
    for (std::size_t k = 1; k + 1 < levels.size() && !stop.stop_requested(); ++k) {
        const auto& [x, y] = levels[k];
        ++c.of;
        const double back = readBack(without(problem, x), y, low, high, stop);
        if (!std::isfinite(back)) continue;
        const double off = 100 * std::abs(back - x) / (x != 0 ? std::abs(x) : unit);
        ++c.read;
        squares += off * off;
        if (!(c.worst >= off)) c.worst = off, c.worstAt = x;
    }
    if (c.read > 0) c.typical = std::sqrt(squares / static_cast<double>(c.read));
}

} // namespace

std::vector<ServingCurve> servingCurves(const FitTaken& taken, const Cancellation& stop) {
    const fit::FitMember standards = joinedMember(taken.problem);
    const auto levels = levelsOf(standards);
    std::vector<ServingCurve> out;
    if (levels.size() < 4) return out;
    for (const std::string_view key : kCandidates) {
        const ModelNode node{.kind = std::string(key)};
        const auto model = modelOf(node);
        if (!model || (*model)->parameters().size() + 2 > levels.size()) continue;
        out.push_back({.key = std::string(key), .name = modelName(node)});
        tryLevels(problemWith(taken.problem, standards, *model), levels, stop, out.back());
    }
    std::ranges::sort(out, [](const ServingCurve& a, const ServingCurve& b) {
        return a.read != b.read ? a.read > b.read : a.typical < b.typical;
    });
    return out;
}

} // namespace jointer::analyses
