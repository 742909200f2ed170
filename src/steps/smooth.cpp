// SPDX-License-Identifier: GPL-3.0-or-later
// Smoothing. Points that do not count are passed over; a gap wider than the window parts the curve. Ends: the
// moving average and the median shrink their window symmetrically, the local polynomial keeps that of the
// last full window, the low pass mirrors the curve, the others need nothing.
#include "describe/setting_makers.h"
#include "numerics/running.h"
#include "stats/summary.h"
#include "steps/smoothers.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "smooth",
        .name = "Smooth",
        .purpose = "Take noise off a curve",
        .group = "Shape",
        .version = 3,
        .settings = {
            choice(
                "method", "Method",
                {{"savitzky-golay", "Savitzky–Golay"},
                 {"moving-average", "moving average"},
                 {"median", "median"},
                 {"low-pass", "low pass"},
                 {"loess", "local regression"},
                 {"whittaker", "penalised"}},
                "Savitzky–Golay keeps heights and widths of peaks best; the moving average is simple and "
                "strong; the median takes off spikes and keeps edges; the low pass takes off what changes "
                "faster than the window; local regression and the penalised curve also serve uneven points "
                "and long trends."),
            wholeNumber("window", "Window", 11,
                        "Number of points, odd; of the low pass the period of which half the amplitude is "
                        "left; of local regression the nearest points. Larger is smoother.",
                        {.unit = "points",
                         .lowest = 1,
                         .highest = 100001,
                         .shownIf = "method=loess;window-in=points",
                         .slider = {{3, 101}}}),
            choice("window-in", "Window in", {{"points", "points"}, {"x", "x"}},
                   "Count points, or take all within a distance in x, for points that are not evenly spaced.",
                   {.shownIf = "method=savitzky-golay|moving-average|median|low-pass"}),
            number("width", "Width", 1, "Width of the window in x. Larger is smoother.",
                   {.unit = "x", .lowest = 1e-300, .shownIf = "window-in=x"}),
            wholeNumber(
                "degree", "Degree", 3, "Degree of the local polynomial. Higher follows sharper peaks.",
                {.lowest = 0, .highest = 7, .shownIf = "method=savitzky-golay|loess", .slider = {{0, 7}}}),
            flag("robust", "Robust", false, "Points far off count little, in four further rounds.",
                 {.shownIf = "method=loess"}),
            number("smoothness", "Smoothness", 100,
                   "Weight of the second differences. Larger is smoother; ten times larger reaches 1.8 times "
                   "as far.",
                   {.lowest = 0,
                    .highest = 1e15,
                    .shownIf = "method=whittaker",
                    .slider = {{0.1, 1e9}},
                    .logSlider = true})}};
    return kind;
}

struct Order {
    std::string method;
    Window window;
    int degree;
    double lambda;
    bool robust;

    explicit Order(const Settings& s)
        : method(info().text(s, "method")), degree(info().integer(s, "degree")),
          lambda(info().number(s, "smoothness")), robust(info().flag(s, "robust")) {
        if (method != "loess" && method != "whittaker" && info().text(s, "window-in") == "x")
            window.width = info().number(s, "width");
        else
            window.points = static_cast<std::size_t>(info().integer(s, "window"));
        if (method != "loess" && method != "low-pass" && window.points > 0) window.points |= 1;
        if (method == "loess") degree = std::min(degree, 2);
    }
    // A gap wider than this many usual steps parts the curve.
    double widestGap(const Spacing& spacing) const {
        if (method == "loess") return INFINITY;
        if (method == "whittaker") return 10 * std::max(1.0, std::pow(lambda, 0.25)); // as far as it reaches
        const double points =
            window.points > 0 ? static_cast<double>(window.points) : window.width / spacing.usual;
        return std::max(points, 10.0);
    }
    double period(Values x) const { // of the low pass, in points
        return window.points > 0 ? static_cast<double>(window.points)
                                 : std::max(2.0, window.width / spacingOf(x).usual);
    }
    std::vector<Piece> pieces(Values x) const {
        const Spacing spacing = spacingOf(x);
        return piecesOf(x, spacing, widestGap(spacing));
    }
};

Linear linearOf(const Order& order, Values x, const Cancellation& stop) {
    const auto pieces = order.pieces(x);
    if (order.method == "moving-average") return movingAverage(x, order.window, pieces);
    if (order.method == "savitzky-golay") return localPolynomial(x, order.window, pieces, order.degree, 0);
    if (order.method == "low-pass") return lowPass(1 / order.period(x), pieces);
    if (order.method == "loess") return loess(x, order.window.points, order.degree, {}, stop);
    return penalised(x, order.lambda, pieces);
}

// Four rounds of bisquare weights by the residuals (Cleveland 1979).
List robustLoess(const Order& order, Values x, Values y, const Cancellation& stop) {
    List robustness, smooth;
    for (int round = 0; round <= 4 && !stop.stop_requested(); ++round) {
        smooth = loess(x, order.window.points, order.degree, robustness, stop).values(y);
        List off(y.size());
        for (std::size_t i = 0; i < y.size(); ++i) off[i] = std::abs(y[i] - smooth[i]);
        List sorted = off;
        std::ranges::sort(sorted);
        const double six = 6 * stats::quantile(sorted, 0.5);
        robustness.assign(y.size(), 1.0);
        for (std::size_t i = 0; six > 0 && i < y.size(); ++i) {
            const double u = std::min(off[i] / six, 1.0), c = 1 - u * u;
            robustness[i] = c * c;
        }
    }
    return smooth;
}

List medians(const Order& order, Values x, Values y) {
    List out;
    for (const Piece& p : order.pieces(x)) {
        const Values part = y.subspan(p.begin, p.end - p.begin);
        const List median =
            order.window.points > 0
                ? numerics::runningMedian(part, order.window.points).median
                : numerics::runningMedianWithin(x.subspan(p.begin, part.size()), part, order.window.width);
        out.insert(out.end(), median.begin(), median.end());
    }
    return out;
}

std::string methodText(const Order& o, const AxisMeaning& x) {
    const std::string window =
        o.window.points > 0 ? countedPoints(o.window.points)
                            : readableNumber(o.window.width) + (x.unit.empty() ? " in x" : " " + x.unit);
    if (o.method == "moving-average") return "moving average over " + window;
    if (o.method == "savitzky-golay")
        return fmt::format("Savitzky–Golay over {}, degree {}", window, o.degree);
    if (o.method == "median") return "median over " + window;
    if (o.method == "low-pass") return "low pass, half at a period of " + window;
    if (o.method == "loess")
        return fmt::format("{}local regression over the nearest {}, degree {}", o.robust ? "robust " : "",
                           countedPoints(o.window.points), o.degree);
    return "penalised by " + readableNumber(o.lambda, 3);
}

// What a person must know of how the points lie.
void remark(const Order& order, Values x, std::string& detail, std::vector<Issue>& issues) {
    const Spacing spacing = spacingOf(x);
    const auto pieces = piecesOf(x, spacing, order.widestGap(spacing));
    if (pieces.size() > 1)
        detail += fmt::format(" · in {} pieces, parted by gaps wider than {}", pieces.size(),
                              order.method == "whittaker" ? "it reaches" : "the window");
    const bool byCount =
        order.method == "whittaker" ||
        ((order.method == "moving-average" || order.method == "median" || order.method == "low-pass") &&
         order.window.points > 0);
    if (!spacing.counts && byCount && x.size() > 2)
        issues.push_back({"uneven-x",
                          "The points are not evenly spaced in x, but this method counts points: where they "
                          "are dense it smooths little in x. Take a window in x, or local regression.",
                          {}});
}

Outcome<StepOutput> apply(const StepInput& in) {
    const Order order(in.settings);
    const CountingView points(in.curve, in.curve.y);
    const bool polynomial = order.method == "savitzky-golay" || order.method == "loess";
    const std::size_t least = polynomial ? static_cast<std::size_t>(order.degree) + 1 : 1;
    if (order.window.points > 0 && order.method != "whittaker" && order.window.points <= least)
        return leftAlone(in.curve, "Smoothing did nothing.",
                         "the window must hold more points than the degree",
                         {"too-few-points", "Make the window larger, or the degree smaller.", {}});
    if (points.x().size() < std::max<std::size_t>(3, least + 1))
        return leftAlone(in.curve, "Smoothing did nothing.", "too few points",
                         {"too-few-points", "There are too few points to smooth.", {}});
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    Curve& c = out.value.curve;
    const std::string by = "smoothing";
    const bool robust = order.method == "loess" && order.robust;
    if (robust || order.method == "median") {
        onEachColumn(c, [&](Values x, Values y) {
            return robust ? robustLoess(order, x, y, in.stop) : medians(order, x, y);
        });
        correlate(c, by);
        out.value.uncertaintyLost = true;
    } else
        applyLinear(
            c, [&](Values x) { return linearOf(order, x, in.stop); }, by);
    out.value.layers.push_back(takenLayer(in.curve, c));
    if (order.method == "low-pass") out.value.cutoff = 1 / order.period(points.x());
    out.value.sentence = "Smoothed: " + methodText(order, c.xMeaning) + ".";
    const double before = noiseOf(points.values()), after = noiseOf(CountingView(c, c.y).values());
    out.value.detail = std::isfinite(before)
                           ? fmt::format("noise {} → {}", readableNumber(before, 2), readableNumber(after, 2))
                           : std::string();
    out.value.detail += std::string(out.value.detail.empty() ? "" : " · ") + "not used by fits";
    remark(order, points.x(), out.value.detail, out.issues);
    return out;
}

Settings withCutoff(Settings s, double cyclesPerPoint) {
    s.set("window", std::clamp(std::round(1 / cyclesPerPoint), 2.0, 100001.0));
    s.remove("window-in");
    return s;
}

// Files of the first version called the degree “order”.
void upgrade(Settings& s) {
    if (const Value* order = s.find("order"); order && !s.has("degree")) s.set("degree", *order);
    s.remove("order");
}

} // namespace

StepKind smoothStep() {
    return {.info = info(),
            .smooths = true,
            .costly = true,
            .apply = apply,
            .withCutoff = withCutoff,
            .upgrade = upgrade};
}

} // namespace jointer::steps
