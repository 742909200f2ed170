// SPDX-License-Identifier: GPL-3.0-or-later
// The course in time as a kind.
#include "analyses/course/course.h"
#include "analyses/points_within.h"
#include "base/text.h"
#include "base/units.h"
#include "describe/setting_makers.h"
#include "fit/fit.h"
#include "models/timed_model.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using namespace describe;

const KindInfo& info() {
    static const KindInfo kind{
        .key = "course",
        .name = "Course in time",
        .purpose = "Area, maximum, slope at the end and times above a limit; the recession of a flow",
        .settings = {
            choice("rule", "Areas", {{"linear-log", "linear up, logarithmic down"}, {"linear", "linear"}},
                   "Trapezoids throughout, or logarithmic ones where it falls, as an exponential does."),
            openNumber(
                "terminal", "Points at the end",
                "From which the slope at the end is taken: the last so many; open: as many as go best with a "
                "straight line in the logarithm.",
                {.lowest = 2, .highest = 10000, .whenEmpty = "automatic"}),
            openNumber("limit", "Limit", "For how long it lies above.", {.unit = "y", .whenEmpty = "none"}),
            openNumber("dose", "Dose", "What was given: clearance and volume come in its unit.",
                       {.whenEmpty = "none"}),
            word("dose-unit", "Its unit", "Such as mg.", {.whenEmpty = "none"})}};
    return kind;
}

// The counting points in order of time, in the unit of the axis or, of moments, in a fitting one.
struct Points {
    std::vector<double> t, y, sigma;
    std::string unit;
    std::optional<models::TimeScale> scale;
    double begin = 0; // the first moment
};

Points pointsOf(const TaskInput& input) {
    const auto curve = pointsWithin(input);
    Points out{.unit = curve->xMeaning.unit};
    for (std::size_t i = 0; i < curve->size(); ++i) {
        if (!curve->counts(i)) continue;
        out.t.push_back(curve->x[i]);
        out.y.push_back(curve->y[i]);
        if (!curve->sigma.empty()) out.sigma.push_back(curve->sigma[i]);
    }
    if (curve->xMeaning.isTime && !out.t.empty()) {
        out.scale = models::timeScaleOf(out.t.front(), out.t.back());
        out.unit = out.scale->symbol;
        out.begin = out.t.front();
        for (double& t : out.t) t = (t - out.begin) / out.scale->unit;
    }
    return out;
}

class Teller {
public:
    Teller(const TaskInput& input, Points points, const Settings& settings)
        : input_(input), p_(std::move(points)), s_(settings) {
        if (const auto y = Unit::parse(input.curve->yMeaning.unit)) y_ = *y;
        if (const auto t = Unit::parse(p_.unit)) t_ = *t;
    }

    AnalysisResult tell() {
        rule_ = info().text(s_, "rule") == "linear" ? AreaRule::Linear : AreaRule::LinearUpLogDown;
        area_ = areaOf(p_.t, p_.y, rule_);
        const auto top = static_cast<std::size_t>(std::ranges::max_element(p_.y) - p_.y.begin());
        give("area", "area", "to the last point", y_.times(t_), area_.area, areaError());
        give("maximum", "maximum", "the highest point", y_, p_.y[top],
             p_.sigma.empty() ? NAN : p_.sigma[top]);
        give("at", "time of maximum", "from the first moment where x is a time", t_, p_.t[top]);
        give("last", "last", "the last value", y_, p_.y.back(), p_.sigma.empty() ? NAN : p_.sigma.back());
        addTerminal();
        if (s_.has("limit")) addAbove(info().number(s_, "limit"));
        out_.state = "done";
        out_.quality.push_back(
            {.key = "n", .label = "n", .value = static_cast<double>(p_.t.size()), .state = "quality"});
        out_.sentence =
            fmt::format("Course over {} by {} trapezoids.", counted(std::ssize(p_.t), "point"),
                        rule_ == AreaRule::Linear ? "linear" : "linear and, where it falls, logarithmic");
        return std::move(out_);
    }

private:
    void give(const char* key, const char* label, const char* meaning, const Unit& unit, double value,
              double se = NAN, double dof = 0) {
        Quantity q{.key = key,
                   .label = label,
                   .meaning = meaning,
                   .unit = unit.gathered().unit.text(),
                   .value = value * unit.gathered().scale,
                   .se = se * unit.gathered().scale,
                   .state = "summary",
                   .member = input_.spec.dataset,
                   .digits = 4};
        if (dof > 0 && se > 0) {
            const double t = fit::tQuantile(0.95, dof);
            q.low = q.value - t * q.se;
            q.high = q.value + t * q.se;
        }
        out_.quantities.push_back(std::move(q));
    }

    double areaError() const {
        if (p_.sigma.empty()) return NAN;
        double sum = 0;
        for (std::size_t i = 0; i < p_.t.size(); ++i) sum += std::pow(area_.areaBy[i] * p_.sigma[i], 2);
        return std::sqrt(sum);
    }

    void addTerminal() {
        TerminalWish wish;
        if (s_.has("terminal"))
            wish.points = static_cast<std::size_t>(std::lround(info().number(s_, "terminal")));
        const auto end = terminalOf(p_.t, p_.y, wish);
        if (!end) {
            out_.issues.push_back({end.error().code, end.error().text, {}});
            return;
        }
        const double k = end->rate, e = end->rateError, dof = end->dof;
        give("rate", "rate at the end", "by which its logarithm falls", t_.raised(-1), k, e, dof);
        Quantity half{.key = "half-life",
                      .label = "half-life",
                      .meaning = "ln 2 over the rate at the end",
                      .unit = t_.text(),
                      .value = std::log(2) / k,
                      .se = std::log(2) / (k * k) * e,
                      .state = "summary",
                      .member = input_.spec.dataset};
        if (dof > 0 && e > 0) { // the interval of the rate, turned over
            const double t = fit::tQuantile(0.95, dof);
            half.low = std::log(2) / (k + t * e);
            half.high = k > t * e ? std::log(2) / (k - t * e) : INFINITY;
        }
        out_.quantities.push_back(std::move(half));
        const double last = p_.y.back() > 0 ? p_.y.back() : std::exp(end->intercept - k * p_.t.back());
        const double tail = last / k, whole = area_.area + tail, tLast = p_.t.back();
        // Without uncertainties of the points that of their area is not known, and no part of it is told.
        const double wholeError =
            p_.sigma.empty() ? NAN : std::hypot(areaError(), last / (k * k) * e, p_.sigma.back() / k);
        give("area-to-infinity", "area to infinity", "with what lies behind the last point", y_.times(t_),
             whole, wholeError, dof);
        const double share = 100 * tail / whole;
        give("extrapolated", "extrapolated", "part of the area behind the last point", *Unit::parse("%"),
             share);
        const double moment = area_.moment + last * tLast / k + last / (k * k);
        give("mean-residence", "mean residence time", "moment over area", t_, moment / whole);
        if (s_.has("dose")) addDose(whole, wholeError, k, e, dof);
        addCurve(*end);
        out_.detail = fmt::format("slope at the end from the last {} of {} points, adjusted R² {:.4f}",
                                  end->count, p_.t.size(), end->adjustedR2);
        if (share > 20)
            out_.issues.push_back(
                {"extrapolated",
                 fmt::format("{:.0f} % of the area lies behind the last point, where nothing was measured.",
                             share),
                 {}});
        if (dof > 0 && p_.t[end->first + end->count - 1] - p_.t[end->first] < std::log(2) / k)
            out_.issues.push_back(
                {"short-end",
                 "The points at the end span less than one half-life: the slope may not be the last one.",
                 {}});
    }

    void addDose(double whole, double wholeError, double k, double e, double dof) {
        const double dose = info().number(s_, "dose");
        Unit unit;
        if (const auto read = Unit::parse(info().text(s_, "dose-unit"))) unit = *read;
        const double clearance = dose / whole;
        give("clearance", "clearance", "dose over the area to infinity", unit.times(y_, -1).times(t_, -1),
             clearance, clearance * wholeError / whole, dof);
        const double volume = clearance / k;
        give("volume", "volume", "clearance over the rate at the end", unit.times(y_, -1), volume,
             volume * std::hypot(wholeError / whole, e / k), dof);
    }

    void addAbove(double limit) {
        const Above above = timeAbove(p_.t, p_.y, limit);
        give("above", "time above", "the limit", t_, above.time);
        give("episodes", "times above", "how often it comes above the limit", {}, above.episodes);
        if (above.episodes > 0)
            give("first-above", "first above", "from the first moment where x is a time", t_, above.first);
    }

    // The line at the end, from its points on.
    void addCurve(const Terminal& end) {
        const auto& axis = *input_.curve;
        const double origin = p_.scale ? p_.begin : 0, unit = p_.scale ? p_.scale->unit : 1;
        NamedCurve line{.role = "fit", .label = "slope at the end", .member = input_.spec.dataset};
        line.founded.pieces = {
            {origin + unit * p_.t[end.first], origin + unit * p_.t[end.first + end.count - 1]}};
        line.xMeaning = axis.xMeaning;
        line.yMeaning = axis.yMeaning;
        line.sample = [=, from = origin + unit * p_.t[end.first]](const std::vector<double>& xs) {
            Sampled out;
            for (double x : xs)
                out.y.push_back(x < from ? NAN : std::exp(end.intercept - end.rate * (x - origin) / unit));
            return out;
        };
        auto rest = std::make_shared<Curve>();
        rest->xMeaning = axis.xMeaning;
        rest->yMeaning = axis.yMeaning;
        for (std::size_t i = end.first; i < end.first + end.count; ++i) {
            rest->x.push_back(origin + unit * p_.t[i]);
            rest->y.push_back(p_.y[i] - std::exp(end.intercept - end.rate * p_.t[i]));
        }
        out_.curves.push_back(std::move(line));
        out_.curves.push_back({.role = "residuals",
                               .member = input_.spec.dataset,
                               .points = std::move(rest),
                               .xMeaning = axis.xMeaning,
                               .yMeaning = axis.yMeaning});
    }

    const TaskInput& input_;
    Points p_;
    const Settings& s_;
    Unit y_, t_;
    AreaRule rule_ = AreaRule::Linear;
    CourseArea area_;
    AnalysisResult out_;
};

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    if (task.inputs.empty()) return failure("no-input", "This course has no dataset.");
    Points points = pointsOf(task.inputs[0]);
    if (points.t.size() < 2) return failure("few-points", "A course needs two points at least.");
    return Teller(task.inputs[0], std::move(points), task.spec.settings).tell();
}

} // namespace

AnalysisKind courseAnalysis() {
    return {.info = info(),
            .slots = {{.key = "dataset", .label = "Dataset", .of = "dataset"}},
            .compute = compute,
            .costly = false,
            .givesCurve = true};
}

} // namespace jointer::analyses
