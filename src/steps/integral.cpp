// SPDX-License-Identifier: GPL-3.0-or-later
// The area up to each point, by trapezoids.
#include "base/unit_text.h"
#include "describe/setting_makers.h"
#include "numerics/compensated_sum.h"
#include "steps/columns.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "integral",
        .name = "Integral",
        .purpose = "Area from the first point up to each, by trapezoids",
        .group = "Shape",
        .settings = {choice("from", "From", {{"start", "the first point"}, {"end", "the last point"}},
                            "Where the area is zero.")}};
    return kind;
}

// Each area is a sum Σ wₖyₖ whose weights are those of the trapezoids; its variance follows exactly.
Linear cumulative(Values x) {
    const List xs(x.begin(), x.end());
    return {[xs](Values v) {
                List out(v.size());
                numerics::CompensatedSum sum;
                for (std::size_t i = 1; i < v.size(); ++i) {
                    sum.add(0.5 * (v[i] + v[i - 1]) * (xs[i] - xs[i - 1]));
                    out[i] = sum.value();
                }
                return out;
            },
            [xs](Values v) {
                List out(v.size());
                numerics::CompensatedSum inner; // points that have both of their trapezoids
                for (std::size_t i = 1; i < v.size(); ++i) {
                    const double last = 0.5 * (xs[i] - xs[i - 1]);
                    out[i] = inner.value() + last * last * v[i];
                    const double whole = i + 1 < v.size() ? 0.5 * (xs[i + 1] - xs[i - 1]) : 0;
                    if (i == 1) { // the first point has one
                        inner.add(last * last * v[0]);
                        out[1] += last * last * v[0];
                    }
                    inner.add(whole * whole * v[i]);
                }
                return out;
            }};
}

Outcome<StepOutput> apply(const StepInput& in) {
    const CountingPoints points = countingPoints(in.curve);
    if (points.x.size() < 2)
        return leftAlone(in.curve, "Integral: nothing was done.", "too few points",
                         {"too-few-points", "An area needs at least two points.", {}});
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    applyLinear(c, cumulative, "the integral");
    const std::size_t last = points.places.back();
    const double whole = c.y[last], error = c.sigma.empty() ? 0 : c.sigma[last];
    if (info().text(in.settings, "from") == "end") {
        applyAffine(c, List{1.0}, List{-whole});
        // Errors are those of the area that is still to come.
        if (!c.sigma.empty() && c.replicates.empty()) {
            Curve turned = in.curve;
            for (double& x : turned.x) x = -x;
            std::vector<std::size_t> order(turned.size());
            for (std::size_t i = 0; i < order.size(); ++i) order[i] = order.size() - 1 - i;
            turned = arranged(turned, order);
            applyLinear(turned, cumulative, "");
            for (std::size_t i = 0; i < c.size(); ++i) c.sigma[i] = turned.sigma[c.size() - 1 - i];
        }
    }
    for (std::size_t i = 0; i < c.size(); ++i)
        if (!in.curve.counts(i)) c.y[i] = std::nan("");
    c.yMeaning.name = fmt::format("∫ {}", in.curve.yMeaning.name);
    c.yMeaning.unit = unitProduct(in.curve.yMeaning.unit, unitOfDistance(in.curve.xMeaning));
    c.yMeaning.isTime = false;
    out.value.sentence = "Integrated by trapezoids.";
    out.value.detail = "whole area " +
                       (error > 0 ? readableWithError(whole, error).text() : readableNumber(whole)) +
                       (c.yMeaning.unit.empty() ? "" : " " + readableUnit(c.yMeaning.unit));
    return out;
}

} // namespace

StepKind integralStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
