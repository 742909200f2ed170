// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/unknowns/drift.h"

#include <algorithm>
#include <cmath>

namespace jointer::analyses {

Result<Curve> driftTakenOff(const StandardCurve& curve, Curve samples) {
    constexpr double kTelling = 5; // SD about the curve, below which a standard tells nothing of its drift
    const MemberPoints& m = curve.points();
    std::vector<std::pair<double, double>> drift; // row, reading over the curve
    for (std::size_t i = 0; i < m.curve->size() && i < m.curve->rowIds.size(); ++i) {
        if (!m.used.empty() && !m.used[i]) continue;
        const double expected = curve.y(m.curve->x[i]);
        if (std::abs(expected) > kTelling * curve.residualSd() && m.curve->y[i] / expected > 0)
            drift.emplace_back(m.curve->rowIds[i], m.curve->y[i] / expected);
    }
    std::ranges::sort(drift);
    if (drift.size() < 2 || samples.rowIds.size() != samples.size())
        return failure("drift",
                       "Drift is told by standards among the samples, in the order of the rows: there are "
                       "fewer than two here that read well above none.");
    for (std::size_t i = 0; i < samples.size(); ++i) {
        const double row = samples.rowIds[i];
        const auto after = std::ranges::lower_bound(drift, std::pair(row, double(-INFINITY)));
        double by = 1;
        if (after == drift.begin())
            by = after->second;
        else if (after == drift.end())
            by = drift.back().second;
        else {
            const auto& [r0, f0] = *(after - 1);
            const auto& [r1, f1] = *after;
            by = std::lerp(f0, f1, (row - r0) / (r1 - r0));
        }
        samples.y[i] /= by;
    }
    return samples;
}

} // namespace jointer::analyses
