// SPDX-License-Identifier: GPL-3.0-or-later
// Logistic curves between two levels, over concentrations or their logarithms.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/start_values.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

// Where the curve first crosses the level half way between its ends, and how steep it is there: from a line
// through the logits of the points between 10 and 90 %. `logX` is the abscissa in which the curve is
// symmetric.
std::optional<std::vector<double>> guessOver(const std::vector<double>& logX, const std::vector<double>& y) {
    if (y.size() < 4) return std::nullopt;
    // Single points: with evenly spaced concentrations the first level may be seen only once.
    const double first = y.front(), last = y.back();
    if (first == last) return std::nullopt;
    std::vector<double> lx, logit;
    for (std::size_t i = 0; i < y.size(); ++i) {
        const double part = (y[i] - first) / (last - first); // 0 → 1
        if (part < 0.1 || part > 0.9 || !std::isfinite(logX[i])) continue;
        lx.push_back(logX[i]);
        logit.push_back(std::log(part / (1 - part)));
    }
    double slope = 0, middle = 0;
    if (lx.size() >= 2) {
        const StraightLine line = straightLine(lx, logit);
        slope = line.slope;
        middle = -line.intercept / line.slope;
    }
    const double low = *std::ranges::find_if(logX, [](double v) { return std::isfinite(v); }),
                 high = logX.back();
    if (!(slope > 0) || !(middle > low) || !(middle < high)) {
        const double half = 0.5 * (first + last);
        std::size_t i = 1;
        while (i + 1 < y.size() && (y[i] - half) * (first - half) > 0) ++i;
        middle = std::isfinite(logX[i]) ? logX[i] : 0.5 * (low + high);
        slope = 8 / std::max(high - low, 1e-12);
    }
    return std::vector<double>{first, last, middle, slope};
}

std::optional<std::vector<double>> guessLinear(const Curve& curve) {
    const SortedPoints p = sortedPoints(curve);
    std::vector<double> logX;
    for (double x : p.x) logX.push_back(x > 0 ? std::log(x) : -INFINITY);
    if (logX.empty() || !std::isfinite(logX.back())) return std::nullopt;
    auto start = guessOver(logX, p.y);
    if (start) (*start)[2] = std::exp((*start)[2]);
    return start;
}

std::optional<std::vector<double>> guessLog(const Curve& curve) {
    const SortedPoints p = sortedPoints(curve);
    if (p.size() == 0) return std::nullopt;
    auto start = guessOver(p.x, p.y);
    if (start) (*start)[3] /= std::log(10.0);
    return start;
}

// The most fitted of all models, computed by hand: the power and its logarithm once for value and slopes.
class Logistic4 final : public Model {
public:
    Logistic4(std::vector<ParameterInfo> parameters, std::vector<DerivedInfo> derived)
        : parameters_(std::move(parameters)), derived_(std::move(derived)) {}

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }
    std::string formula() const override { return "end + (start - end)/(1 + (x/midpoint)^steepness)"; }
    std::optional<std::vector<double>> guess(const Curve& curve) const override { return guessLinear(curve); }

    void evaluate(Predictors xs, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::size_t n = values.size();
        const double start = p[0], end = p[1], midpoint = p[2], steepness = p[3], step = start - end;
        for (std::size_t i = 0; i < n; ++i) {
            const double logarithm = std::log(xs[0][i] / midpoint), power = std::exp(steepness * logarithm),
                         part = 1 / (1 + power);
            values[i] = end + step * part;
            if (gradient.empty()) continue;
            // At x = 0 and far away the product is zero, whatever the logarithm is.
            const double by = part == 0 || power == 0 ? 0 : step * part * (1 - part);
            gradient[i] = part;
            gradient[n + i] = 1 - part;
            gradient[2 * n + i] = by * steepness / midpoint;
            gradient[3 * n + i] = by == 0 ? 0 : -by * logarithm;
        }
    }

private:
    std::vector<ParameterInfo> parameters_;
    std::vector<DerivedInfo> derived_;
};

ModelPtr makeLogistic4(const Settings& settings) {
    const bool log = settings.text("x-is") == "log10";
    std::vector<ParameterInfo> parameters = {{"start", "level at small x", "y"},
                                             {"end", "level at large x", "y"},
                                             {"midpoint", "x half way between the levels", "x"},
                                             {"steepness", "slope factor at the midpoint", ""}};
    if (!log) parameters[2].lowest = 0;
    parameters[3].lowest = 0;
    if (log)
        return libraryModel("end + (start - end)/(1 + 10^(steepness*(x - midpoint)))", parameters,
                            {{"midpoint concentration", "10^midpoint", ""}}, guessLog);
    return std::make_shared<Logistic4>(std::move(parameters),
                                       std::vector<DerivedInfo>{{"log10 midpoint", "log10(midpoint)", ""}});
}

} // namespace

std::vector<ModelKind> logisticModels() {
    const Setting xIs{.key = "x-is",
                      .label = "x is",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("linear"),
                      .help = "Whether x holds concentrations or their decadic logarithms.",
                      .choices = {{"linear", "a concentration"}, {"log10", "its log₁₀"}}};
    return {{{.key = "logistic-4",
              .name = "Logistic, four parameters",
              .purpose = "Dose–response, standard curves of assays: two levels, midpoint, steepness",
              .group = "Sigmoids and dose–response",
              .settings = {xIs}},
             makeLogistic4}};
}

} // namespace jointer::models
