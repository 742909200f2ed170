// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/spectrum.h"

#include "numerics/fourier.h"
#include "steps/columns.h"

#include <algorithm>

namespace jointer::steps {

double stepOfSpectrum(const Curve& curve) {
    const Spacing spacing = spacingOf(countingPoints(curve).x);
    return spacing.counts ? spacing.usual : 1;
}

Curve spectrumCurve(const Curve& curve) {
    Curve out;
    const CountingPoints points = countingPoints(curve);
    const Spacing spacing = spacingOf(points.x);
    const auto pieces = piecesOf(points.x, spacing, 10);
    const auto longest = std::ranges::max_element(pieces, {}, [](const Piece& p) { return p.end - p.begin; });
    const std::string unit = unitOfDistance(curve.xMeaning);
    out.xMeaning = {"frequency", spacing.counts ? unitQuotient("", unit) : "1/point"};
    out.yMeaning = {"amplitude", curve.yMeaning.unit};
    if (longest == pieces.end() || longest->end - longest->begin < 8) return out;
    auto spectrum =
        numerics::spectrumOf(Values(points.y).subspan(longest->begin, longest->end - longest->begin));
    const double step = spacing.counts ? spacing.usual : 1;
    for (double& f : spectrum.frequency) f /= step;
    out.x = std::move(spectrum.frequency);
    out.y = std::move(spectrum.amplitude);
    return out;
}

} // namespace jointer::steps
