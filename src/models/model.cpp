// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/model.h"

#include "base/unit_text.h"

#include "models/formula_model.h"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace jointer::models {

const std::vector<DerivedInfo>& Model::derived() const {
    static const std::vector<DerivedInfo> none;
    return none;
}

double Model::derive(std::size_t, std::span<const double>, std::span<double>) const {
    return std::nan("");
}

const std::vector<Component>& Model::components() const {
    static const std::vector<Component> none;
    return none;
}

std::optional<std::vector<double>> Model::guess(const Curve&) const {
    return std::nullopt;
}

void Model::design(Predictors xs, std::span<long double> columns) const {
    // The gradient of a linear model does not depend on the parameters.
    const std::size_t n = xs[0].size();
    std::vector<double> values(n), gradient(n * parameters().size());
    evaluate(xs, std::vector<double>(parameters().size(), 0.0), values, gradient);
    std::ranges::copy(gradient, columns.begin());
}

static constexpr std::string_view kMinusOnes[] = {"^{-1}", "^-1", "⁻¹", "-1"};

std::vector<std::string> predictorNames(std::size_t count) {
    if (count <= 1) return {"x"};
    std::vector<std::string> names;
    for (std::size_t k = 1; k <= count; ++k) names.push_back("x" + std::to_string(k));
    return names;
}

ModelPtr libraryModel(std::string text, std::vector<ParameterInfo> parameters,
                      std::vector<DerivedInfo> derived, Guess guess, std::size_t predictors) {
    std::vector<std::string> names;
    for (const ParameterInfo& p : parameters) names.push_back(p.name);
    const auto expression = formula::Expression::parse(text);
    auto program = expression ? formula::Program::compile(*expression, predictorNames(predictors), names)
                              : std::unexpected(expression.error());
    if (!program) throw std::logic_error("library model: " + program.error().text);
    return std::make_shared<FormulaModel>(std::move(text), std::move(*program), predictors,
                                          std::move(parameters), std::move(derived), std::move(guess));
}

// "Å" of "1/Å", "Å^{-1}" and the like; empty: it is no reciprocal of one unit.
static std::string reciprocalBase(std::string_view unit) {
    if (unit.starts_with("1/")) {
        unit.remove_prefix(2);
    } else {
        const auto power =
            std::ranges::find_if(kMinusOnes, [&](std::string_view p) { return unit.ends_with(p); });
        if (power == std::end(kMinusOnes)) return {};
        unit.remove_suffix(power->size());
    }
    const bool single = unit.find_first_of("/*·^ ()") == unit.npos;
    return single ? std::string(unit) : std::string();
}

std::string unitText(std::string_view pattern, std::string_view xUnit, std::string_view yUnit) {
    if (pattern.starts_with('=')) return std::string(pattern.substr(1)); // whatever the axes are
    if (pattern == "x") return std::string(xUnit);
    if (pattern == "y") return std::string(yUnit);
    // Axes without a unit measure plain numbers.
    const auto over = [&](const std::string& above, const std::string& below, const std::string& power) {
        if (below.empty()) return above;
        return (above.empty() ? "1" : above) + "/" + bracketedUnit(below) + power;
    };
    // The reciprocal of a unit that is one already is that unit: lengths of q in 1/Å are in Å.
    if (pattern == "1/x" || pattern.starts_with("1/x^"))
        if (const std::string base = reciprocalBase(xUnit); !base.empty())
            return base + (pattern == "1/x" ? "" : "^{" + std::string(pattern.substr(4)) + "}");
    const std::string x(xUnit), y(yUnit), both = multipliedUnits(y, x);
    if (pattern == "1/x") return over({}, x, {});
    if (pattern == "y/x") return over(y, x, {});
    if (pattern == "1/(xy)") return over({}, both, {});
    if (pattern == "xy") return both;
    if (pattern.starts_with("1/x^")) return over({}, x, "^{" + std::string(pattern.substr(4)) + "}");
    if (pattern.starts_with("y/x^")) return over(y, x, "^{" + std::string(pattern.substr(4)) + "}");
    return {};
}

} // namespace jointer::models
