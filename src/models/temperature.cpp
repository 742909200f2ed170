// SPDX-License-Identifier: GPL-3.0-or-later
// Dependence on temperature: rates and equilibria. Start values from the straight line that each is in
// suitable axes.
#include "models/catalogue.h"
#include "models/formula_model.h"
#include "models/start_values.h"

#include <cmath>

namespace jointer::models {

namespace {

constexpr double kGas = 8.31446261815324;                          // J/(mol·K)
const double kLogBoltzmannOverPlanck = std::log(20836619123.3276); // ln(k/h) in SI units

bool inKelvin(const Settings& s) {
    return s.text("x-is", "kelvin") == "kelvin";
}

std::string temperature(const Settings& s) {
    return inKelvin(s) ? "x" : "(x + 273.15)";
}

// A line through f(y, T) over 1/T.
template <class F> std::optional<StraightLine> lineOver(const Curve& curve, bool kelvin, F f) {
    std::vector<double> inverse, values;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        const double t = curve.x[i] + (kelvin ? 0 : 273.15), v = f(curve.y[i], t);
        if (!curve.counts(i) || !(t > 0) || !std::isfinite(v)) continue;
        inverse.push_back(1 / t);
        values.push_back(v);
    }
    return inverse.size() < 2 ? std::nullopt : std::optional(straightLine(inverse, values));
}

ModelPtr makeArrhenius(const Settings& s) {
    return libraryModel(
        "factor*exp(-energy/(8.31446261815324*" + temperature(s) + "))",
        {{"factor", "rate at infinite temperature", "y"}, {"energy", "activation energy", "=J/mol"}}, {},
        [kelvin = inKelvin(s)](const Curve& c) -> std::optional<std::vector<double>> {
            const auto line = lineOver(c, kelvin, [](double y, double) { return std::log(y); });
            if (!line) return std::nullopt;
            return std::vector<double>{std::exp(line->intercept), -line->slope * kGas};
        });
}

ModelPtr makeEyring(const Settings& s) {
    const std::string t = temperature(s);
    return libraryModel(
        "20836619123.3276*" + t + "*exp(entropy/8.31446261815324 - enthalpy/(8.31446261815324*" + t + "))",
        {{"enthalpy", "enthalpy of activation", "=J/mol"},
         {"entropy", "entropy of activation", "=J/(mol·K)"}},
        {}, [kelvin = inKelvin(s)](const Curve& c) -> std::optional<std::vector<double>> {
            const auto line = lineOver(c, kelvin, [](double y, double k) { return std::log(y / k); });
            if (!line) return std::nullopt;
            return std::vector<double>{-line->slope * kGas,
                                       (line->intercept - kLogBoltzmannOverPlanck) * kGas};
        });
}

ModelPtr makeVantHoff(const Settings& s) {
    return libraryModel("exp(entropy/8.31446261815324 - enthalpy/(8.31446261815324*" + temperature(s) + "))",
                        {{"enthalpy", "enthalpy of the reaction", "=J/mol"},
                         {"entropy", "entropy of the reaction", "=J/(mol·K)"}},
                        {}, [kelvin = inKelvin(s)](const Curve& c) -> std::optional<std::vector<double>> {
                            const auto line =
                                lineOver(c, kelvin, [](double y, double) { return std::log(y); });
                            if (!line) return std::nullopt;
                            return std::vector<double>{-line->slope * kGas, line->intercept * kGas};
                        });
}

// log10(y) = a − b/(x + c): for each c a straight line.
std::optional<std::vector<double>> guessAntoine(const Curve& curve) {
    std::vector<double> xs, logs;
    for (std::size_t i = 0; i < curve.size(); ++i) {
        if (!curve.counts(i) || !(curve.y[i] > 0)) continue;
        xs.push_back(curve.x[i]);
        logs.push_back(std::log10(curve.y[i]));
    }
    if (xs.size() < 3) return std::nullopt;
    const double lowest = *std::ranges::min_element(xs), range = *std::ranges::max_element(xs) - lowest;
    std::vector<double> best;
    double least = INFINITY;
    for (int k = 0; k <= 120; ++k) {
        const double c = -lowest + range * 0.02 * std::pow(5000, k / 120.0);
        std::vector<double> inverse;
        for (double x : xs) inverse.push_back(1 / (x + c));
        const StraightLine line = straightLine(inverse, logs);
        double sum = 0;
        for (std::size_t i = 0; i < xs.size(); ++i) {
            const double left =
                std::pow(10, logs[i]) - std::pow(10, line.intercept + line.slope * inverse[i]);
            sum += left * left;
        }
        if (sum < least) {
            least = sum;
            best = {line.intercept, -line.slope, c};
        }
    }
    return best.empty() ? std::nullopt : std::optional(best);
}

ModelPtr makeAntoine(const Settings&) {
    return libraryModel("10^(a - b/(x + c))",
                        {{"a", "decadic logarithm of y at infinite temperature", ""},
                         {"b", "steepness", "x"},
                         {"c", "shift of the temperature", "x"}},
                        {}, guessAntoine);
}

} // namespace

std::vector<ModelKind> temperatureModels() {
    const Setting xIs{.key = "x-is",
                      .label = "x is",
                      .kind = SettingKind::Choice,
                      .fallback = std::string("kelvin"),
                      .help = "The unit of the temperatures.",
                      .choices = {{"kelvin", "in K"}, {"celsius", "in °C"}}};
    const char* group = "Temperature";
    return {
        {{.key = "arrhenius",
          .name = "Arrhenius",
          .purpose = "Rates over temperature: activation energy",
          .group = group,
          .settings = {xIs}},
         makeArrhenius},
        {{.key = "eyring",
          .name = "Eyring",
          .purpose = "Rates in 1/s over temperature: enthalpy and entropy of activation",
          .group = group,
          .settings = {xIs}},
         makeEyring},
        {{.key = "vant-hoff",
          .name = "van ’t Hoff",
          .purpose = "Equilibrium constants over temperature: enthalpy and entropy",
          .group = group,
          .settings = {xIs}},
         makeVantHoff},
        {{.key = "antoine", .name = "Antoine", .purpose = "Vapour pressure over temperature", .group = group},
         makeAntoine}};
}

} // namespace jointer::models
