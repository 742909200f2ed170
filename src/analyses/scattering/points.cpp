// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/scattering/points.h"

#include "analyses/points_within.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace jointer::analyses {

Result<ScatteringPoints> scatteringPoints(const Task& task, std::size_t fewest) {
    if (task.inputs.empty()) return failure("no-input", "This analysis has no dataset.");
    const TaskInput& input = task.inputs.front();
    const auto curve = pointsWithin(input);
    ScatteringPoints out;
    out.curve = input.curve;
    const bool nm = curve->xMeaning.unit.find("nm") != std::string::npos;
    out.lengthUnit = nm ? "nm" : "Å";
    out.lengthInA = nm ? 10 : 1;
    out.sigmaIsKnown = !curve->sigma.empty();
    std::vector<std::size_t> order(curve->size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return curve->x[i]; });
    for (const std::size_t i : order) {
        if (!curve->counts(i) || curve->isMade(i) || !(curve->x[i] > 0)) continue;
        const double sigma = out.sigmaIsKnown ? curve->sigma[i] : std::abs(curve->y[i]);
        if (!(sigma > 0) || !std::isfinite(sigma)) continue;
        out.q.push_back(curve->x[i]);
        out.intensity.push_back(curve->y[i]);
        out.sigma.push_back(sigma);
        if (!curve->resolution.empty()) out.resolution.push_back(curve->resolution[i]);
    }
    if (out.size() < fewest)
        return failure(
            "few-points",
            fmt::format("There are {} of q above zero with an uncertainty; this takes {} at least.",
                        counted(std::ssize(out.q), "point"), fewest));
    return out;
}

Quantity scatteringQuantity(const Task& task, const char* key, const char* label, const char* meaning,
                            const std::string& unit, double value, double se) {
    return {.key = key,
            .label = label,
            .meaning = meaning,
            .unit = unit,
            .value = value,
            .se = se,
            .low = value - 1.959964 * se,
            .high = value + 1.959964 * se,
            .state = "derived",
            .member = task.inputs.front().spec.dataset};
}

Setting contrastSetting() {
    return describe::openNumber("contrast", "Contrast",
                                "Scattering length density against the medium, for intensities "
                                "in cm⁻¹. Larger makes fractions smaller.",
                                {.unit = "1/Å^2", .lowest = 1e-300, .whenEmpty = "not known"});
}

} // namespace jointer::analyses
