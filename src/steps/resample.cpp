// SPDX-License-Identifier: GPL-3.0-or-later
// New x: an even grid, those of another dataset, or spans of the calendar. Values between the points, or over
// all points of a bin.
#include "describe/setting_makers.h"
#include "numerics/spline.h"
#include "stats/summary.h"
#include "steps/calendar.h"
#include "steps/interpolation.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

constexpr double kMostPoints = 2e7;

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "resample",
        .name = "Resample",
        .purpose = "To an even grid, another dataset's x, or hours, days, months",
        .group = "Points",
        .settings = {
            choice("onto", "Onto",
                   {{"grid", "an even grid"}, {"dataset", "a dataset's x"}, {"calendar", "the calendar"}},
                   "Where the new points lie."),
            openNumber("from", "From", "First x of the grid; open: where the curve begins.",
                       {.unit = "x", .shownIf = "onto=grid", .whenEmpty = "begin of the curve"}),
            openNumber("to", "To", "The grid ends here at the latest; open: where the curve ends.",
                       {.unit = "x", .shownIf = "onto=grid", .whenEmpty = "end of the curve"}),
            openNumber(
                "every", "Every", "Distance of the new points, or width of the bins.",
                {.unit = "x", .lowest = 1e-300, .shownIf = "onto=grid", .whenEmpty = "usual distance"}),
            reference("with", "Like", "dataset", "The dataset whose x is taken.",
                      {.shownIf = "onto=dataset"}),
            choice("unit", "Unit",
                   {{"day", "day"},
                    {"minute", "minute"},
                    {"hour", "hour"},
                    {"week", "week"},
                    {"month", "month"},
                    {"year", "year"}},
                   "The span of the calendar that becomes one point.", {.shownIf = "onto=calendar"}),
            wholeNumber("count", "So many", 1, "How many of them become one point.",
                        {.lowest = 1, .highest = 100000, .shownIf = "onto=calendar"}),
            number(
                "offset", "Local time", 0,
                "Fixed difference of local time from the times of the data, the same in summer and winter.",
                {.unit = "h", .lowest = -26, .highest = 26, .shownIf = "onto=calendar"}),
            number("begins", "Day begins", 0, "Local hour at which days, weeks, months and years begin.",
                   {.unit = "h", .lowest = 0, .highest = 24, .shownIf = "unit=day|week|month|year"}),
            choice("week-begins", "Week begins",
                   {{"monday", "Monday"}, {"sunday", "Sunday"}, {"saturday", "Saturday"}},
                   "First day of a week.", {.shownIf = "unit=week"}),
            choice(
                "by", "Value",
                {{"linear", "on straight lines"},
                 {"shape", "shape-preserving"},
                 {"spline", "natural spline"},
                 {"bins", "over bins"}},
                "Between the points, or over all points of a bin around or after each x. The calendar takes "
                "bins.",
                {.shownIf = "onto=grid|dataset"}),
            choice("statistic", "Of a bin",
                   {{"mean", "mean"},
                    {"sum", "sum"},
                    {"median", "median"},
                    {"minimum", "minimum"},
                    {"maximum", "maximum"},
                    {"count", "number of points"}},
                   "What is taken of the points of a bin or a span.", {.shownIf = "by=bins;onto=calendar"}),
            number(
                "coverage", "At least", 0,
                "Share of the points that a bin should have, by their usual distance, below which it is left "
                "empty.",
                {.unit = "%", .lowest = 0, .highest = 100, .shownIf = "by=bins;onto=calendar"}),
            choice("scatter", "Uncertainty",
                   {{"carried", "carried"}, {"sem", "SEM of the bin"}, {"sd", "SD of the bin"}},
                   "Of a bin's mean: from the uncertainties of its points, or from their scatter.",
                   {.shownIf = "by=bins;onto=calendar"})}};
    return kind;
}

// A new point and, of bins, the interval [low, high) that it stands for.
struct Cell {
    double x, low, high;
};

Result<std::vector<Cell>> gridOf(const Curve& c, const Settings& s, bool bins) {
    const CountingPoints p = countingPoints(c);
    const double every = numberOf(info(), s, "every").value_or(spacingOf(p.x).usual);
    const double from = numberOf(info(), s, "from").value_or(p.x.front());
    const double to = numberOf(info(), s, "to").value_or(p.x.back());
    if (!(every > 0)) return failure("no-distance", "Choose the distance of the new points.");
    if (to < from) return failure("bad-range", "The grid ends before it begins.");
    if (!(from + every > from) || !(to + every > to))
        return failure("no-distance",
                       "The distance is too small beside x: no two points could be told apart.");
    if ((to - from) / every > kMostPoints)
        return failure("too-many",
                       "So many points would be made that memory could run out; choose a larger distance.");
    std::vector<Cell> cells;
    const double slack = 1e-9 * every;
    for (std::size_t k = 0;; ++k) {
        const double x = from + every * static_cast<double>(k);
        if (bins ? x >= to + slack && k > 0 : x > to + slack) break;
        cells.push_back(bins ? Cell{x + every / 2, x, x + every} : Cell{x, x, x});
    }
    if (bins && cells.back().high <= to + slack) cells.back().high = std::nextafter(to, INFINITY);
    return cells;
}

std::vector<Cell> likeOther(const Curve& other) {
    std::vector<Cell> cells;
    List xs;
    for (std::size_t i = 0; i < other.size(); ++i)
        if (other.counts(i) && (xs.empty() || other.x[i] > xs.back())) xs.push_back(other.x[i]);
    for (std::size_t i = 0; i < xs.size(); ++i) { // a bin reaches halfway to its neighbours
        const double left = i > 0 ? (xs[i] - xs[i - 1]) / 2 : xs.size() > 1 ? (xs[1] - xs[0]) / 2 : 0;
        const double right = i + 1 < xs.size() ? (xs[i + 1] - xs[i]) / 2 : left;
        cells.push_back({xs[i], xs[i] - left, xs[i] + right});
    }
    return cells;
}

Calendar calendarOf(const Settings& s) {
    const std::string first = info().text(s, "week-begins");
    return {.unit = info().text(s, "unit"),
            .count = info().integer(s, "count"),
            .offsetHours = info().number(s, "offset"),
            .beginHour = info().number(s, "begins"),
            .firstWeekday = first == "sunday"     ? 0
                            : first == "saturday" ? 6
                                                  : 1};
}

Result<std::vector<Cell>> spansOf(const Curve& c, const Settings& s) {
    if (!c.xMeaning.isTime)
        return failure("no-times", "x holds no times: the calendar needs a column of dates or times as x.");
    const Calendar calendar = calendarOf(s);
    const CountingPoints p = countingPoints(c);
    const std::int64_t first = calendar.spanOf(p.x.front()), last = calendar.spanOf(p.x.back());
    if (static_cast<double>(last - first) > kMostPoints)
        return failure("too-many",
                       "So many spans would be made that memory could run out; choose longer ones.");
    std::vector<Cell> cells;
    for (std::int64_t k = first; k <= last; ++k)
        cells.push_back({calendar.beginOf(k), calendar.beginOf(k), calendar.beginOf(k + 1)});
    return cells;
}

using Value1 = std::function<double(double)>;
Value1 curveBy(const std::string& by, const Knots& k) {
    auto within = [low = k.x.front(), high = k.x.back()](auto f) {
        const double slack = 1e-12 * (std::abs(low) + std::abs(high));
        return [=](double x) {
            return x >= low - slack && x <= high + slack ? f(std::clamp(x, low, high)) : std::nan("");
        };
    };
    if (by == "shape") return within(numerics::ShapePreservingSpline(k.x, k.y));
    if (by == "spline") return within(numerics::NaturalSpline(k.x, k.y));
    return within([k](double x) { return between(k, x).y; });
}

double statisticOf(const std::string& what, List& y) {
    if (y.empty()) return what == "count" ? 0 : std::nan("");
    if (what == "count") return static_cast<double>(y.size());
    if (what == "minimum") return *std::ranges::min_element(y);
    if (what == "maximum") return *std::ranges::max_element(y);
    if (what == "median") {
        std::ranges::sort(y);
        return stats::quantile(y, 0.5);
    }
    double sum = 0;
    for (double v : y) sum += v;
    return what == "sum" ? sum : sum / static_cast<double>(y.size());
}

double spread(const List& y, bool ofMean) {
    if (y.size() < 2) return std::nan("");
    const stats::Summary s = stats::summarise(y);
    return ofMean ? s.sem : s.sd;
}

class Resampling {
public:
    Resampling(const StepInput& in, std::vector<Cell> cells) : in_(in), cells_(std::move(cells)) {
        Curve& c = out_.curve;
        c.xMeaning = in.curve.xMeaning;
        c.yMeaning = in.curve.yMeaning;
        c.sigmaSource = in.curve.sigmaSource;
        c.sigmaCarried = in.curve.sigmaCarried;
        c.correlatedBy = in.curve.correlatedBy;
        for (const Cell& cell : cells_) c.x.push_back(cell.x);
    }

    // On a curve through the points.
    StepOutput between_(const std::string& by) {
        Curve& c = out_.curve;
        const Knots knots = knotsOf(in_.curve);
        c.y = at(by, knots);
        if (by == "linear" && !knots.variance.empty())
            for (double x : c.x) c.sigma.push_back(std::sqrt(between(knots, x).variance));
        if (by != "linear" && !in_.curve.sigma.empty()) out_.uncertaintyLost = true;
        for (const CommonError& common : in_.curve.common)
            c.common.push_back({common.source, at(by, knotsOf(in_.curve, common.y))});
        for (const List& r : in_.curve.replicates) c.replicates.push_back(at(by, knotsOf(in_.curve, r)));
        correlate(c, "resampling");
        dropEmpty();
        return std::move(out_);
    }

    StepOutput bins(const std::string& statistic, double coverage, const std::string& scatter) {
        Curve& c = out_.curve;
        const CountingPoints p = countingPoints(in_.curve);
        const double usual = spacingOf(p.x).usual;
        const bool carried = scatter == "carried";
        const bool linear = statistic == "mean" || statistic == "sum";
        std::vector<std::vector<std::size_t>> members(cells_.size());
        std::size_t k = 0;
        for (std::size_t at : p.places) {
            while (k < cells_.size() && in_.curve.x[at] >= cells_[k].high) ++k;
            if (k < cells_.size() && in_.curve.x[at] >= cells_[k].low) members[k].push_back(at);
        }
        auto of = [&](const List& column) {
            List out;
            for (std::size_t i = 0; i < cells_.size(); ++i) {
                List y;
                for (std::size_t at : members[i])
                    if (std::isfinite(column[at])) y.push_back(column[at]);
                const double wanted = usual > 0 ? (cells_[i].high - cells_[i].low) / usual : 1;
                const bool enough =
                    static_cast<double>(members[i].size()) >= coverage / 100 * wanted * (1 - 1e-9);
                out.push_back(enough && !(y.empty() && statistic != "count") ? statisticOf(statistic, y)
                                                                             : std::nan(""));
            }
            return out;
        };
        c.y = of(in_.curve.y);
        for (const List& r : in_.curve.replicates) c.replicates.push_back(of(r));
        if (carried && linear && !in_.curve.sigma.empty()) {
            for (const auto& list : members) {
                double variance = 0;
                for (std::size_t at : list) variance += in_.curve.sigma[at] * in_.curve.sigma[at];
                const auto n = static_cast<double>(list.size());
                c.sigma.push_back(std::sqrt(variance) / (statistic == "mean" ? n : 1));
            }
        } else if (!carried && statistic == "mean") {
            for (const auto& list : members)
                c.sigma.push_back(spread(taken(in_.curve.y, list), scatter == "sem"));
            c.sigmaSource = scatter == "sem" ? "SEM of each bin" : "SD of each bin";
            c.sigmaCarried = true;
        } else if (!in_.curve.sigma.empty())
            out_.uncertaintyLost = true;
        for (const CommonError& common : in_.curve.common)
            if (linear) c.common.push_back({common.source, of(common.y)});
        if (statistic == "count") c.yMeaning = {"number of points", ""};
        dropEmpty();
        return std::move(out_);
    }

    std::size_t empty() const { return empty_; }

private:
    List at(const std::string& by, const Knots& knots) const {
        List y;
        if (knots.x.empty()) return List(out_.curve.x.size(), std::nan(""));
        const Value1 f = curveBy(by, knots);
        for (double x : out_.curve.x) y.push_back(f(x));
        return y;
    }

    void dropEmpty() {
        std::vector<std::uint8_t> keep;
        for (double y : out_.curve.y) keep.push_back(std::isfinite(y));
        empty_ = static_cast<std::size_t>(std::ranges::count(keep, 0));
        if (empty_ > 0) out_.curve = selected(out_.curve, keep);
    }

    const StepInput& in_;
    std::vector<Cell> cells_;
    StepOutput out_;
    std::size_t empty_ = 0;
};

Result<std::vector<Cell>> cellsOf(const StepInput& in, const std::string& onto, bool bins) {
    if (onto == "grid") return gridOf(in.curve, in.settings, bins);
    if (onto == "calendar") return spansOf(in.curve, in.settings);
    const OtherCurve* other = in.other(in.settings.reference("with"));
    if (!other) return failure("no-dataset", "Choose the dataset whose x is taken.");
    return likeOther(*other->curve);
}

Outcome<StepOutput> apply(const StepInput& in) {
    const std::string onto = info().text(in.settings, "onto"), by = info().text(in.settings, "by");
    const bool bins = onto == "calendar" || by == "bins";
    if (countingPoints(in.curve).x.empty())
        return leftAlone(in.curve, "Resample: nothing was done.", "no points count");
    auto cells = cellsOf(in, onto, bins);
    if (!cells) return leftAlone(in.curve, "Resample: nothing was done.", cells.error().text, cells.error());
    const std::size_t wanted = cells->size();
    Resampling resampling(in, std::move(*cells));
    const std::string statistic = info().text(in.settings, "statistic");
    Outcome<StepOutput> out{bins ? resampling.bins(statistic, info().number(in.settings, "coverage"),
                                                   info().text(in.settings, "scatter"))
                                 : resampling.between_(by),
                            {}};
    const std::size_t made = out.value.curve.size();
    std::string how = "on straight lines";
    if (by == "shape") how = "on a shape-preserving spline";
    if (by == "spline") how = "on a natural spline";
    if (bins) how = (statistic == "count" ? "number of points" : statistic) + " of each bin";
    const int count = info().integer(in.settings, "count");
    const std::string unit = info().text(in.settings, "unit");
    out.value.sentence =
        onto == "calendar"
            ? fmt::format("Resampled by {}.", count == 1 ? unit : std::to_string(count) + " " + unit + "s")
            : fmt::format("Resampled {}.", onto == "grid" ? "to an even grid" : "like another dataset");
    out.value.detail = fmt::format("{} → {} · {}", in.curve.size(), countedPoints(made), how);
    if (made < wanted)
        out.value.detail +=
            fmt::format(" · {} {}", wanted - made, bins ? "without enough points" : "outside the curve");
    return out;
}

} // namespace

StepKind resampleStep() {
    return {.info = info(), .apply = apply};
}

} // namespace jointer::steps
