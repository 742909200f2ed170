// SPDX-License-Identifier: GPL-3.0-or-later
// The average of replicates, or of several datasets, with its uncertainty; scans that overlap joined to one.
#include "describe/setting_makers.h"
#include "stats/summary.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "average",
        .name = "Average",
        .purpose = "Replicates or several datasets become one curve",
        .group = "Other datasets",
        .settings = {
            references(
                "with", "With", "dataset",
                "Datasets that are averaged with this one, on straight lines at its x; open: the replicates "
                "of this one.",
                {.whenEmpty = "its replicates"}),
            choice("statistic", "As", {{"mean", "mean"}, {"median", "median"}, {"weighted", "weighted mean"}},
                   "The weighted mean takes 1/uncertainty² as weights."),
            choice("uncertainty", "Uncertainty", {{"sem", "SEM"}, {"sd", "SD"}, {"carried", "carried"}},
                   "From the scatter (standard error of the mean, standard deviation), or from the "
                   "uncertainties of "
                   "what is averaged.")}};
    return kind;
}

struct Reading {
    double y, sigma; // sigma NaN: not known
};

struct Averaged {
    double y = std::nan(""), sigma = std::nan("");
};

Averaged averageOf(const std::vector<Reading>& readings, const std::string& statistic,
                   const std::string& uncertainty) {
    List ys;
    double weights = 0, weighted = 0, variance = 0;
    bool known = true;
    for (const Reading& r : readings) {
        ys.push_back(r.y);
        known &= r.sigma > 0;
        const double w = 1 / (r.sigma * r.sigma);
        weights += w;
        weighted += w * r.y;
        variance += r.sigma * r.sigma;
    }
    Averaged out;
    if (ys.empty()) return out;
    const auto n = static_cast<double>(ys.size());
    const stats::Summary s = stats::summarise(ys);
    const bool byWeights = statistic == "weighted" && known;
    out.y = byWeights ? weighted / weights : statistic == "median" ? s.median : s.mean;
    if (uncertainty == "sd") out.sigma = s.sd;
    if (uncertainty == "sem")
        out.sigma = statistic == "median" ? 1.2533141373155 * stats::robustSd(ys) / std::sqrt(n) : s.sem;
    if (uncertainty == "carried" && known)
        out.sigma = byWeights ? 1 / std::sqrt(weights) : std::sqrt(variance) / n;
    return out;
}

Outcome<StepOutput> apply(const StepInput& in) {
    const auto named = datasetsNamed(info(), in.settings);
    std::vector<Knots> others;
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    for (const std::string& reference : named)
        if (const OtherCurve* other = in.other(reference))
            others.push_back(knotsOf(*other->curve));
        else
            out.issues.push_back({"dataset-gone", "A dataset of the average is not there any more.", {}});
    Curve& c = out.value.curve;
    if (others.empty() && c.replicates.size() < 2)
        return leftAlone(in.curve, "Average: nothing to average yet.",
                         "this dataset has no replicates; choose datasets");
    const std::string statistic = info().text(in.settings, "statistic"),
                      uncertainty = info().text(in.settings, "uncertainty");
    List y(c.size()), sigma(c.size());
    std::size_t alone = 0;
    double unweighted = 0;
    for (std::size_t i = 0; i < c.size(); ++i) {
        std::vector<Reading> readings;
        const double own = c.sigma.empty() ? std::nan("") : c.sigma[i];
        if (others.empty()) {
            for (const List& r : c.replicates)
                if (std::isfinite(r[i]))
                    readings.push_back({r[i], own * std::sqrt(static_cast<double>(c.replicates.size()))});
        } else if (c.counts(i))
            readings.push_back({c.y[i], own});
        for (const Knots& k : others)
            if (const Between o = between(k, c.x[i]); std::isfinite(o.y))
                readings.push_back({o.y, k.variance.empty() ? std::nan("") : std::sqrt(o.variance)});
        alone += readings.size() == 1;
        unweighted += statistic == "weighted" &&
                      std::ranges::any_of(readings, [](const Reading& r) { return !(r.sigma > 0); });
        const Averaged a = averageOf(readings, statistic, uncertainty);
        y[i] = a.y;
        sigma[i] = a.sigma;
    }
    for (std::size_t i = 0; i < c.size(); ++i)
        if (!c.isExcluded(i) || others.empty()) c.y[i] = y[i];
    c.replicates.clear();
    const bool any = std::ranges::any_of(sigma, [](double s) { return std::isfinite(s); });
    if (any) {
        c.sigma = std::move(sigma);
        c.sigmaCarried = true;
        if (uncertainty != "carried")
            c.sigmaSource = uncertainty == "sd" ? "SD of what was averaged" : "SEM of what was averaged";
    } else if (!c.sigma.empty()) {
        c.sigma.clear();
        out.value.uncertainty = Carried::Lost;
    }
    const std::size_t n = others.empty() ? in.curve.replicates.size() : others.size() + 1;
    out.value.sentence = fmt::format("Averaged {}: {}.",
                                     others.empty() ? counted(static_cast<long long>(n), "replicate")
                                                    : counted(static_cast<long long>(n), "dataset"),
                                     statistic == "weighted" ? "weighted mean" : statistic);
    out.value.detail = any ? "uncertainty: " + (uncertainty == "carried" ? std::string("carried")
                                                : uncertainty == "sd"    ? "SD"
                                                                         : "SEM")
                           : "";
    if (alone > 0)
        out.value.detail +=
            fmt::format("{}{} from one reading", out.value.detail.empty() ? "" : " · ", countedPoints(alone));
    if (unweighted > 0)
        out.issues.push_back(
            {"no-weights", "Where an uncertainty is not known the plain mean was taken.", {}});
    return out;
}

const KindInfo& joinInfo() {
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
struct PieceOfScan {
    List x, y, sigma;
};

PieceOfScan pieceOf(const Curve& c) {
    PieceOfScan p;
    const CountingPoints points = countingPoints(c);
    p.x = points.x;
    p.y = points.y;
    if (!c.sigma.empty()) p.sigma = taken(c.sigma, points.places);
    return p;
}

Knots knotsOf(const PieceOfScan& p) {
    Curve c;
    c.x = p.x;
    c.y = p.y;
    c.sigma = p.sigma;
    return steps::knotsOf(c);
}

struct Match {
    double factor = 1, offset = 0;
    std::size_t points = 0;
};

Match matchOf(const PieceOfScan& there, const PieceOfScan& more, const std::string& by) {
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

void add(PieceOfScan& there, PieceOfScan more, const std::string& overlap) {
    const double low = std::max(there.x.front(), more.x.front()),
                 high = std::min(there.x.back(), more.x.back());
    const bool overlaps = low < high;
    if (overlaps && overlap != "all") {
        // What was there fades out towards the end at which the further piece goes on.
        const bool upwards = more.x.back() >= there.x.back();
        const Knots knots = knotsOf(more);
        if (overlap == "blend")
            for (std::size_t i = 0; i < there.x.size(); ++i) {
                if (there.x[i] < low || there.x[i] > high) continue;
                const Between o = between(knots, there.x[i]);
                double share = (there.x[i] - low) / (high - low);
                if (!upwards) share = 1 - share;
                there.y[i] = std::lerp(there.y[i], o.y, share);
                if (!there.sigma.empty())
                    there.sigma[i] = std::hypot((1 - share) * there.sigma[i], share * std::sqrt(o.variance));
            }
        PieceOfScan beyond;
        for (std::size_t i = 0; i < more.x.size(); ++i) {
            if (more.x[i] >= there.x.front() && more.x[i] <= there.x.back()) continue;
            beyond.x.push_back(more.x[i]);
            beyond.y.push_back(more.y[i]);
            if (!more.sigma.empty()) beyond.sigma.push_back(more.sigma[i]);
        }
        more = std::move(beyond);
    }
    const bool known = !there.sigma.empty() && (more.x.empty() || !more.sigma.empty());
    there.x.insert(there.x.end(), more.x.begin(), more.x.end());
    there.y.insert(there.y.end(), more.y.begin(), more.y.end());
    if (known)
        there.sigma.insert(there.sigma.end(), more.sigma.begin(), more.sigma.end());
    else
        there.sigma.clear();
    Curve sorted;
    sorted.x = std::move(there.x);
    sorted.y = std::move(there.y);
    sorted.sigma = std::move(there.sigma);
    sortByX(sorted);
    there = {std::move(sorted.x), std::move(sorted.y), std::move(sorted.sigma)};
}

Outcome<StepOutput> join(const StepInput& in) {
    const auto named = datasetsNamed(joinInfo(), in.settings);
    if (named.empty()) return leftAlone(in.curve, "Join pieces: none chosen yet.", "choose the other pieces");
    PieceOfScan all = pieceOf(in.curve);
    if (all.x.empty()) return leftAlone(in.curve, "Join pieces: nothing was done.", "no points count");
    const std::string by = joinInfo().text(in.settings, "match"),
                      overlap = joinInfo().text(in.settings, "overlap");
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    std::vector<std::string> details;
    std::size_t pieces = 1;
    for (const std::string& reference : named) {
        const OtherCurve* other = in.other(reference);
        PieceOfScan more = other ? pieceOf(*other->curve) : PieceOfScan{};
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
    Curve joinedCurve;
    joinedCurve.x = std::move(all.x);
    joinedCurve.y = std::move(all.y);
    joinedCurve.sigma = std::move(all.sigma);
    joinedCurve.xMeaning = c.xMeaning;
    joinedCurve.yMeaning = c.yMeaning;
    joinedCurve.sigmaSource = c.sigmaSource;
    joinedCurve.sigmaCarried = c.sigmaCarried;
    joinedCurve.correlatedBy = c.correlatedBy;
    if (!c.sigma.empty() && joinedCurve.sigma.empty()) out.value.uncertainty = Carried::Lost;
    c = std::move(joinedCurve);
    out.value.sentence = fmt::format("Joined {} to {}.", counted(static_cast<long long>(pieces), "piece"),
                                     countedPoints(c.size()));
    out.value.detail = joined(details, " · ");
    return out;
}

} // namespace

StepKind averageStep() {
    return {.info = info(), .apply = apply};
}
StepKind joinPiecesStep() {
    return {.info = joinInfo(), .apply = join};
}

} // namespace jointer::steps
