// SPDX-License-Identifier: GPL-3.0-or-later
// Scans that overlap joined to one curve.
#include "describe/setting_makers.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "join-pieces",
        .name = "Join pieces",
        .purpose = "Overlapping scans become one curve",
        .group = "Other datasets",
        .settings = {
            references("with", "With", "dataset", "The other pieces, in any order."),
            choice(
                "match", "Matched by",
                {{"nothing", "nothing"}, {"factor", "a factor"}, {"offset", "an offset"}},
                "What brings a further piece to what is there already, by least squares where they overlap."),
            choice("overlap", "Where they overlap",
                   {{"all", "keep all points"}, {"blend", "go over evenly"}, {"first", "keep the first"}},
                   "Keep the points of both; let the one fade into the other; or take only what was there "
                   "first.")}};
    return kind;
}

// The points of a piece on their own: what is joined has no rows of one table any more.
Curve pieceOf(const Curve& c) {
    const CountingPoints points = countingPoints(c);
    Curve piece;
    piece.x = points.x;
    piece.y = points.y;
    if (!c.sigma.empty()) piece.sigma = taken(c.sigma, points.places);
    return piece;
}

struct Match {
    double factor = 1, offset = 0;
    std::size_t points = 0;
};

Match matchOf(const Curve& there, const Curve& more, const std::string& by) {
    const Knots knots = knotsOf(there);
    double products = 0, squares = 0, differences = 0, n = 0;
    for (std::size_t i = 0; i < more.x.size(); ++i) {
        const double o = between(knots, more.x[i]).y;
        if (!std::isfinite(o)) continue;
        products += o * more.y[i];
        squares += more.y[i] * more.y[i];
        differences += o - more.y[i];
        ++n;
    }
    Match m{1, 0, static_cast<std::size_t>(n)};
    if (n > 0 && by == "factor" && squares > 0) m.factor = products / squares;
    if (n > 0 && by == "offset") m.offset = differences / n;
    return m;
}

// How much of the further piece counts where both overlap: all at an end beyond which it goes on alone,
// nothing where the other does, so that the joined curve has no step; half where both end or where the ends
// are alike.
class Fade {
public:
    Fade(const Curve& there, const Curve& more)
        : low_(shareAt(there.x.front() - more.x.front())), high_(shareAt(more.x.back() - there.x.back())) {}

    double at(double t) const { // from 0 at the low to 1 at the high end of the overlap
        return low_ != high_ ? std::lerp(low_, high_, t) : std::lerp(low_, 0.5, 1 - std::abs(2 * t - 1));
    }

private:
    static double shareAt(double beyond) { return beyond > 0 ? 1 : beyond < 0 ? 0 : 0.5; }
    double low_, high_;
};

void add(Curve& there, Curve more, const std::string& overlap) {
    const double low = std::max(there.x.front(), more.x.front()),
                 high = std::min(there.x.back(), more.x.back());
    const bool overlaps = low < high;
    if (overlaps && overlap != "all") {
        const Knots knots = knotsOf(more);
        const Fade fade(there, more);
        if (overlap == "blend")
            for (std::size_t i = 0; i < there.x.size(); ++i) {
                if (there.x[i] < low || there.x[i] > high) continue;
                const Between o = between(knots, there.x[i]);
                const double share = fade.at((there.x[i] - low) / (high - low));
                there.y[i] = std::lerp(there.y[i], o.y, share);
                if (!there.sigma.empty())
                    there.sigma[i] = std::hypot((1 - share) * there.sigma[i], share * std::sqrt(o.variance));
            }
        std::vector<std::uint8_t> beyond;
        for (double x : more.x) beyond.push_back(x < there.x.front() || x > there.x.back());
        more = selected(more, beyond);
    }
    const bool known = !there.sigma.empty() && (more.x.empty() || !more.sigma.empty());
    there.x.insert(there.x.end(), more.x.begin(), more.x.end());
    there.y.insert(there.y.end(), more.y.begin(), more.y.end());
    if (known)
        there.sigma.insert(there.sigma.end(), more.sigma.begin(), more.sigma.end());
    else
        there.sigma.clear();
    sortByX(there);
}

Outcome<StepOutput> join(const StepInput& in) {
    const auto named = datasetsNamed(info(), in.settings);
    if (named.empty()) return leftAlone(in.curve, "Join pieces: none chosen yet.", "choose the other pieces");
    Curve all = pieceOf(in.curve);
    if (all.x.empty()) return leftAlone(in.curve, "Join pieces: nothing was done.", "no points count");
    const std::string by = info().text(in.settings, "match"), overlap = info().text(in.settings, "overlap");
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    std::vector<std::string> details;
    std::size_t pieces = 1;
    for (const std::string& reference : named) {
        const OtherCurve* other = in.other(reference);
        Curve more = other ? pieceOf(*other->curve) : Curve{};
        if (more.x.empty()) {
            out.issues.push_back({"dataset-gone", "A piece is not there any more, or has no points.", {}});
            continue;
        }
        const Match m = matchOf(all, more, by);
        if (by != "nothing" && m.points == 0)
            out.issues.push_back(
                {"no-overlap",
                 fmt::format("“{}” does not overlap with the others: it was joined as it is.", other->name),
                 {}});
        for (double& y : more.y) y = m.factor * y + m.offset;
        for (double& s : more.sigma) s *= std::abs(m.factor);
        if (by == "factor")
            details.push_back(fmt::format("“{}” times {}", other->name, readableNumber(m.factor, 4)));
        if (by == "offset")
            details.push_back(fmt::format("“{}” plus {}", other->name, readableNumber(m.offset, 4)));
        add(all, std::move(more), overlap);
        ++pieces;
    }
    Curve& c = out.value.curve;
    all.xMeaning = c.xMeaning;
    all.yMeaning = c.yMeaning;
    all.sigmaSource = c.sigmaSource;
    all.sigmaCarried = c.sigmaCarried;
    all.correlatedBy = c.correlatedBy;
    if (!c.sigma.empty() && all.sigma.empty()) out.value.uncertaintyLost = true;
    c = std::move(all);
    out.value.sentence = fmt::format("Joined {} to {}.", counted(static_cast<long long>(pieces), "piece"),
                                     countedPoints(c.size()));
    out.value.detail = joined(details, " · ");
    return out;
}

} // namespace

StepKind joinPiecesStep() {
    return {.info = info(), .apply = join};
}

} // namespace jointer::steps
