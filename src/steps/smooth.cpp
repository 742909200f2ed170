// SPDX-License-Identifier: GPL-3.0-or-later
// Smoothing over a window of points: moving average and Savitzky–Golay. Points that do not count are passed
// over.
#include "base/text.h"
#include "numerics/savitzky_golay.h"
#include "steps/step.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

// Weights for each place in a window: the middle one for the inside, the others for the ends.
struct WindowWeights {
    int window;
    std::vector<std::vector<double>> at;
};

WindowWeights movingAverage(int window) {
    // Towards the ends the window shrinks symmetrically, so that a straight line stays straight.
    WindowWeights w{window, {}};
    for (int place = 0; place < window; ++place) {
        const int reach = std::min(place, window - 1 - place);
        std::vector<double> weights(static_cast<std::size_t>(window), 0.0);
        for (int i = place - reach; i <= place + reach; ++i)
            weights[static_cast<std::size_t>(i)] = 1.0 / (2 * reach + 1);
        w.at.push_back(std::move(weights));
    }
    return w;
}

WindowWeights savitzkyGolay(int window, int order) {
    WindowWeights w{window, {}};
    for (int place = 0; place < window; ++place)
        w.at.push_back(numerics::savitzkyGolayWeights(window, order, place));
    return w;
}

// Σ weights·values over the window around each point; with `squares` the weights are squared first
// (variances).
std::vector<double> filtered(const std::vector<double>& values, const WindowWeights& w, bool squares) {
    const auto n = static_cast<int>(values.size()), half = w.window / 2;
    std::vector<double> out(values.size());
    for (int i = 0; i < n; ++i) {
        const int from = std::clamp(i - half, 0, n - w.window);
        const std::vector<double>& weights = w.at[static_cast<std::size_t>(i - from)];
        double sum = 0;
        for (int k = 0; k < w.window; ++k) {
            const double weight = weights[static_cast<std::size_t>(k)];
            sum += (squares ? weight * weight : weight) * values[static_cast<std::size_t>(from + k)];
        }
        out[static_cast<std::size_t>(i)] = sum;
    }
    return out;
}

bool isEven(const std::vector<double>& x) {
    if (x.size() < 3) return true;
    std::vector<double> gaps;
    for (std::size_t i = 1; i < x.size(); ++i) gaps.push_back(x[i] - x[i - 1]);
    std::vector<double> sorted = gaps;
    std::ranges::nth_element(sorted, sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2));
    const double usual = sorted[sorted.size() / 2];
    // A few gaps where points are missing or left out do no harm.
    const auto odd =
        std::ranges::count_if(gaps, [&](double g) { return std::abs(g - usual) > 0.1 * std::abs(usual); });
    return static_cast<std::size_t>(odd) * 20 <= gaps.size();
}

const KindInfo& info() {
    static const KindInfo kind{
        .key = "smooth",
        .name = "Smooth",
        .purpose = "Take noise off a curve over a window of points",
        .group = "Shape",
        .settings = {
            {.key = "method",
             .label = "Method",
             .kind = SettingKind::Choice,
             .fallback = std::string("savitzky-golay"),
             .help = "Savitzky–Golay keeps heights and widths of peaks better; the moving average is simpler "
                     "and stronger.",
             .choices = {{"savitzky-golay", "Savitzky–Golay"}, {"moving-average", "moving average"}}},
            {.key = "window",
             .label = "Window",
             .kind = SettingKind::WholeNumber,
             .fallback = 11.0,
             .help = "Number of points; odd. Larger is smoother.",
             .unit = "points",
             .lowest = 3,
             .highest = 301,
             .slider = {{3, 101}}},
            {.key = "order",
             .label = "Order",
             .kind = SettingKind::WholeNumber,
             .fallback = 3.0,
             .help = "Degree of the local polynomial. Higher follows sharper peaks.",
             .lowest = 0,
             .highest = 7,
             .shownIf = "method=savitzky-golay",
             .slider = {{0, 7}}}}};
    return kind;
}

Outcome<StepOutput> apply(const Curve& curve, const Settings& settings) {
    const bool polynomial = info().text(settings, "method") == "savitzky-golay";
    int window = info().integer(settings, "window") | 1;
    const int order = info().integer(settings, "order");
    std::vector<std::size_t> used;
    std::vector<double> x, y, variance;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        if (!curve.counts(i)) continue;
        used.push_back(i);
        x.push_back(curve.x[i]);
        y.push_back(curve.y[i]);
        if (!curve.sigma.empty()) variance.push_back(curve.sigma[i] * curve.sigma[i]);
    }
    Outcome<StepOutput> out{{.curve = curve}, {}};
    const int wanted = window, least = polynomial ? order + 1 : 1;
    while (window > static_cast<int>(used.size())) window -= 2;
    if (window < 3 || window <= least) {
        out.value.sentence = "Smoothing did nothing.";
        out.value.detail = polynomial && wanted <= order ? "the window must hold more points than the order"
                                                         : "too few points";
        out.issues.push_back({"too-few-points",
                              "There are too few points for this window and order; make the window larger or "
                              "the order smaller.",
                              {}});
        return out;
    }
    const WindowWeights weights = polynomial ? savitzkyGolay(window, order) : movingAverage(window);
    const std::vector<double> smooth = filtered(y, weights, false);
    const std::vector<double> newVariance =
        variance.empty() ? std::vector<double>{} : filtered(variance, weights, true);
    Curve& c = out.value.curve;
    c.replicates.clear();
    for (std::size_t k = 0; k < used.size(); ++k) {
        out.value.takenX.push_back(x[k]);
        out.value.takenY.push_back(y[k] - smooth[k]);
        c.y[used[k]] = smooth[k];
        if (!newVariance.empty()) c.sigma[used[k]] = std::sqrt(newVariance[k]);
    }
    out.value.sentence = polynomial ? "Smoothed, Savitzky–Golay." : "Smoothed by a moving average.";
    out.value.detail = counted(window, "point") + (polynomial ? ", order " + std::to_string(order) : "") +
                       " · not used by fits";
    if (!isEven(x))
        out.issues.push_back({"uneven-x",
                              "The points are not evenly spaced in x, but the window counts points: where "
                              "they are dense it is narrow.",
                              {}});
    return out;
}

} // namespace

StepKind smoothStep() {
    return {.info = info(), .locality = Locality::Window, .smooths = true, .apply = apply};
}

} // namespace jointer::steps
