// SPDX-License-Identifier: GPL-3.0-or-later
// A baseline: through anchors placed by hand, or found from the points; subtracted, divided by, or only
// shown. A found one is a draft: it comes with anchors that can be taken over and dragged.
#include "steps/baselines.h"

#include "numerics/polynomial.h"
#include "numerics/spline.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    return baselineInfo();
}

struct Anchor {
    double x, y;
};

// Anchors by ascending x; of two at the same x the later one counts. On the curve each gets the mean around
// it.
std::vector<Anchor> anchorsOf(const CountingPoints& points, const Settings& settings,
                              std::vector<std::size_t>& order) {
    const Numbers flat = settings.numbers("anchors");
    std::vector<std::pair<Anchor, std::size_t>> given;
    for (std::size_t i = 0; i + 1 < flat.size(); i += 2)
        if (std::isfinite(flat[i]) && std::isfinite(flat[i + 1]))
            given.push_back({{flat[i], flat[i + 1]}, i / 2});
    std::ranges::stable_sort(given, {}, [](const auto& a) { return a.first.x; });
    std::vector<Anchor> unique;
    for (const auto& [a, index] : given) {
        if (!unique.empty() && unique.back().x == a.x) {
            unique.back() = a;
            order.back() = index;
            continue;
        }
        unique.push_back(a);
        order.push_back(index);
    }
    if (info().text(settings, "place") != "on-curve" || points.x.empty()) return unique;
    const auto half = static_cast<std::size_t>(info().integer(settings, "mean-over")) / 2;
    for (Anchor& a : unique) {
        const std::size_t middle = nearestPoint(points.x, a.x);
        const std::size_t from = middle > half ? middle - half : 0,
                          to = std::min(points.x.size(), middle + half + 1);
        double sum = 0;
        for (std::size_t i = from; i < to; ++i) sum += points.y[i];
        a.y = sum / static_cast<double>(to - from);
    }
    return unique;
}

// Straight beyond the anchors, whatever joins them: a polynomial would run away there.
using Line = std::function<double(double)>;
Line joinedLine(const std::string& through, const List& ax, const List& ay, int degree) {
    if (through == "line") return [=](double x) { return numerics::interpolateLinear(ax, ay, x); };
    if (through == "shape") return numerics::ShapePreservingSpline(ax, ay);
    if (through == "polynomial") return numerics::PolynomialFit(ax, ay, degree);
    return numerics::NaturalSpline(ax, ay);
}

class Baseline {
public:
    explicit Baseline(const StepInput& in)
        : in_(in), points_(countingPoints(in.curve)), method_(info().text(in.settings, "method")),
          remove_(info().text(in.settings, "remove")) {
        out_.value.curve = in.curve;
    }

    Outcome<StepOutput> run() {
        if (points_.x.empty()) return leftAlone(in_.curve, "Baseline: nothing was done.", "no points count");
        if (method_ == "anchors" && !throughAnchors()) return std::move(out_);
        if (method_ == "constant" || method_ == "line") byMeans();
        const bool found = base_.empty();
        if (found && !automatic()) return std::move(out_);
        takeOff();
        if (found) propose();
        return std::move(out_);
    }

private:
    const Settings& settings() const { return in_.settings; }
    double number(const char* key) const { return info().number(settings(), key); }
    std::size_t count(const char* key) const {
        return static_cast<std::size_t>(info().integer(settings(), key));
    }

    void fill(const Line& line) {
        base_.resize(in_.curve.size());
        for (std::size_t i = 0; i < base_.size(); ++i) base_[i] = line(in_.curve.x[i]);
    }

    bool throughAnchors() {
        std::vector<std::size_t> order;
        const std::vector<Anchor> anchors = anchorsOf(points_, settings(), order);
        for (std::size_t i = 0; i < anchors.size(); ++i)
            out_.value.handles.push_back(
                {.form = HandleForm::Anchor,
                 .x = anchors[i].x,
                 .y = anchors[i].y,
                 .setting = "anchors",
                 .index = order[i],
                 .says = "anchor at " + placeText(in_.curve.xMeaning, anchors[i].x)});
        if (anchors.empty()) {
            out_.value.sentence = "Baseline: no anchors yet.";
            out_.value.detail = "click on the plot with the tool Anchor";
            return false;
        }
        List ax, ay;
        for (const Anchor& a : anchors) ax.push_back(a.x), ay.push_back(a.y);
        const std::string through = info().text(settings(), "through");
        fill(joinedLine(through, ax, ay, info().integer(settings(), "degree")));
        what_ = "a baseline through " + counted(std::ssize(anchors), "anchor");
        how_ = through == "line"    ? "straight pieces"
               : through == "shape" ? "shape-preserving spline"
               : through == "polynomial"
                   ? fmt::format("polynomial of degree {}", std::min(info().integer(settings(), "degree"),
                                                                     static_cast<int>(ax.size()) - 1))
                   : "natural spline";
        const double width = in_.curve.x.back() - in_.curve.x.front();
        const bool beyond =
            ax.front() > in_.curve.x.front() + 0.02 * width || ax.back() < in_.curve.x.back() - 0.02 * width;
        if (anchors.size() > 1 && beyond && through != "polynomial")
            how_ += " · continued straight beyond the anchors";
        return true;
    }

    std::pair<std::size_t, std::size_t> within(std::pair<double, double> span) const {
        const auto low = std::ranges::lower_bound(points_.x, span.first),
                   high = std::ranges::upper_bound(points_.x, span.second);
        return {static_cast<std::size_t>(low - points_.x.begin()),
                static_cast<std::size_t>(high - points_.x.begin())};
    }

    // Mean x and y of the points of an interval.
    std::optional<Anchor> meanOver(std::pair<double, double> span) {
        const auto [from, to] = within(span);
        if (from >= to) return std::nullopt;
        double x = 0, y = 0;
        for (std::size_t i = from; i < to; ++i) x += points_.x[i], y += points_.y[i];
        const auto n = static_cast<double>(to - from);
        return Anchor{x / n, y / n};
    }

    void byMeans() {
        const double low = points_.x.front(), high = points_.x.back(), tenth = (high - low) / 10;
        const bool line = method_ == "line";
        const auto first = intervalOf(info(), settings(), "span")
                               .value_or(line ? std::pair(low, low + tenth) : std::pair(low, high));
        const auto last = intervalOf(info(), settings(), "span-2").value_or(std::pair(high - tenth, high));
        const auto a = meanOver(first), b = line ? meanOver(last) : a;
        if (!a || !b) return noPoints();
        if (line && a->x != b->x)
            fill([=](double x) { return std::lerp(a->y, b->y, (x - a->x) / (b->x - a->x)); });
        else
            fill([=](double) { return a->y; });
        what_ = line ? "a line through the means of two spans"
                     : "a constant of " + placeText(in_.curve.yMeaning, a->y);
        how_ = "over " + spanText(in_.curve.xMeaning, first.first, first.second) +
               (line ? " and " + spanText(in_.curve.xMeaning, last.first, last.second) : "");
    }

    void noPoints() {
        out_.issues.push_back({"no-points", "No point lies in the interval of the baseline.", {}});
    }

    // Finds a baseline over the span; outside it nothing is known, and the curve stays.
    bool automatic() {
        const auto span = intervalOf(info(), settings(), "span").value_or(std::pair(-INFINITY, INFINITY));
        const auto [from, to] = within(span);
        if (to < from + 3 || !out_.issues.empty()) {
            out_.value.sentence = "Baseline: nothing was done.";
            if (out_.issues.empty()) noPoints();
            return false;
        }
        const Values x = Values(points_.x).subspan(from, to - from),
                     y = Values(points_.y).subspan(from, to - from);
        foundX_.assign(x.begin(), x.end());
        foundY_ = find(x, y);
        base_.assign(in_.curve.size(), std::nan(""));
        for (std::size_t k = from; k < to; ++k) base_[points_.places[k]] = foundY_[k - from];
        // Points that do not count lie between the others.
        for (std::size_t i = 0; i < base_.size() && points_.places.size() < base_.size(); ++i)
            if (const double at = in_.curve.x[i];
                std::isnan(base_[i]) && at >= foundX_.front() && at <= foundX_.back())
                base_[i] = numerics::interpolateLinear(foundX_, foundY_, at);
        return true;
    }

    List find(Values x, Values y) {
        const double lambda = number("smoothness");
        if (method_ == "shirley") return findShirley(x, y);
        if (method_ == "tougaard") return findLosses(x, y);
        if (method_ == "polynomial") {
            what_ = "a polynomial below the curve";
            how_ = fmt::format("degree {}", info().integer(settings(), "degree"));
            return polynomialBaseline(x, y, info().integer(settings(), "degree"));
        }
        remarkUneven(x);
        if (method_ == "als") {
            what_ = "a baseline by asymmetric least squares";
            how_ = fmt::format("smoothness {}, asymmetry {}", readableNumber(lambda, 2),
                               readableNumber(number("asymmetry"), 2));
            return alsBaseline(y, lambda, number("asymmetry"), in_.stop);
        }
        if (method_ == "arpls") {
            what_ = "a baseline by adaptive least squares";
            how_ = "smoothness " + readableNumber(lambda, 2);
            return arplsBaseline(y, lambda, in_.stop);
        }
        const std::size_t radius = count("radius");
        how_ = "radius " + countedPoints(radius);
        what_ = method_ == "snip" ? "a baseline by iterative clipping" : "a baseline by a rolling ball";
        return method_ == "snip" ? clippedBaseline(y, radius) : rollingBallBaseline(y, radius);
    }

    List findShirley(Values x, Values y) {
        StepBaseline found = shirleyBaseline(x, y, count("ends"));
        what_ = "the integral background of a step";
        how_ = "levels over " + countedPoints(count("ends"));
        if (!found.settled)
            out_.issues.push_back({"not-settled",
                                   "The integral background did not settle: what lies above it has no area. "
                                   "Choose a span that begins and ends beside the peak.",
                                   {}});
        return std::move(found.y);
    }

    List findLosses(Values x, Values y) {
        const LossOrder order{numberOf(info(), settings(), "loss-b").value_or(0), number("loss-c"),
                              info().text(settings(), "losses") == "up", count("ends")};
        LossBaseline found = lossBaseline(x, y, order);
        what_ = "a background of inelastic losses";
        how_ = fmt::format("B {} eV², C {} eV²", readableNumber(found.b, 4), readableNumber(order.c, 4));
        const std::string& unit = in_.curve.xMeaning.unit;
        if (!unit.empty() && unit != "eV")
            out_.issues.push_back(
                {"unit", fmt::format("The cross-section holds for x in eV, but x is in {}.", unit), {}});
        // The cross-section is largest at √(C/3); most of the loss lies within twice that.
        const double wanted = 2 * std::sqrt(order.c / 3);
        if (found.lossRange < wanted)
            out_.issues.push_back({"short-loss-side",
                                   fmt::format("The span holds only {} eV of the losses beyond the highest "
                                               "point; the cross-section reaches to about {} eV. Measure or "
                                               "choose more, or the background is only a guess.",
                                               readableNumber(found.lossRange, 3), readableNumber(wanted, 3)),
                                   {}});
        return std::move(found.y);
    }

    void remarkUneven(Values x) {
        if (!spacingOf(x).counts && x.size() > 2)
            out_.issues.push_back(
                {"uneven-x",
                 "The points are not evenly spaced in x, but this baseline counts points; where "
                 "they are dense it is less stiff. Resample first, or take a polynomial.",
                 {}});
    }

    void takeOff() {
        Curve& c = out_.value.curve;
        double area = 0, whole = 0;
        std::size_t zero = 0, beyond = 0;
        for (std::size_t k = 1; k < points_.places.size(); ++k) {
            const std::size_t i = points_.places[k - 1], j = points_.places[k];
            const double step = c.x[j] - c.x[i], part = 0.5 * (base_[i] + base_[j]) * step;
            if (std::isfinite(part)) area += part;
            whole += 0.5 * (c.y[i] + c.y[j]) * step;
        }
        if (remove_ != "no") {
            List factor(c.size(), 1.0), offset(c.size(), 0.0);
            for (std::size_t i = 0; i < c.size(); ++i) {
                if (!std::isfinite(base_[i])) {
                    if (remove_ == "divide") beyond += leaveOut(c, i);
                    continue;
                }
                if (remove_ == "yes")
                    offset[i] = -base_[i];
                else if (base_[i] != 0)
                    factor[i] = 1 / base_[i];
                else
                    ++zero, factor[i] = std::nan("");
            }
            applyAffine(c, factor, offset);
            if (remove_ == "divide") c.yMeaning.unit.clear();
        }
        if (zero > 0)
            out_.issues.push_back({"zero-baseline",
                                   "The baseline is zero at " + countedPoints(zero) + ": no quotient there.",
                                   {}});
        out_.value.sentence = (remove_ == "yes"  ? "Took off "
                               : remove_ == "no" ? "Shows "
                                                 : "Divided by ") +
                              what_ + ".";
        out_.value.detail = how_;
        if (remove_ == "yes" && whole != 0 && std::isfinite(area))
            out_.value.detail += fmt::format(
                " · area taken off {}{}", readableNumber(area, 3),
                area / whole > 0 && area / whole < 10 ? " (" + shareText(area / whole) + ")" : std::string());
        if (beyond > 0)
            out_.value.detail +=
                fmt::format(" · {} beyond the span left out: there is no quotient", countedPoints(beyond));
        out_.value.layers.push_back(curveLayer("baseline", in_.curve, base_));
    }

    static bool leaveOut(Curve& c, std::size_t i) { // whether it had counted
        const bool counted = c.counts(i);
        c.excluded.resize(c.size(), 0);
        c.excluded[i] |= counted;
        return counted;
    }

    // The draft: anchors through which it can be had by hand.
    void propose() {
        const auto [low, high] = std::ranges::minmax(foundY_);
        const double noise = noiseOf(points_.y);
        const double tolerance =
            std::max({0.01 * (high - low), std::isfinite(noise) ? 0.5 * noise : 0.0, 1e-300});
        // Of long curves some points tell the shape.
        const std::size_t stride = std::max<std::size_t>(1, foundX_.size() / 2000);
        List x0, y0;
        for (std::size_t i = 0; i < foundX_.size(); i += stride)
            x0.push_back(foundX_[i]), y0.push_back(foundY_[i]);
        if (x0.back() < foundX_.back()) x0.push_back(foundX_.back()), y0.push_back(foundY_.back());
        Numbers flat;
        for (const auto& [x, y] : anchorsThrough(x0, y0, tolerance, 14)) {
            out_.value.handles.push_back({.form = HandleForm::Anchor,
                                          .state = HandleState::Proposed,
                                          .x = x,
                                          .y = y,
                                          .setting = "anchors",
                                          .index = flat.size() / 2,
                                          .says = "proposed anchor at " + placeText(in_.curve.xMeaning, x)});
            flat.push_back(x);
            flat.push_back(y);
        }
        Settings draft = settings();
        draft.set("method", "anchors");
        draft.set("through", "shape");
        draft.set("place", "free");
        draft.set("anchors", Value(std::move(flat)));
        out_.value.draft = std::move(draft);
    }

    const StepInput& in_;
    CountingPoints points_;
    std::string method_, remove_, what_, how_;
    List base_, foundX_, foundY_;
    Outcome<StepOutput> out_;
};

Outcome<StepOutput> apply(const StepInput& in) {
    return Baseline(in).run();
}

// Files of the first version called it "then".
void upgrade(Settings& s) {
    if (s.has("then") && !s.has("remove")) s.set("remove", s.text("then") == "show" ? "no" : "yes");
    s.remove("then");
}

} // namespace

StepKind baselineStep() {
    return {.info = info(), .apply = apply, .upgrade = upgrade};
}

} // namespace jointer::steps
