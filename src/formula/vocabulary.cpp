// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/vocabulary.h"

#include <algorithm>

namespace jointer::formula {

const std::vector<FunctionInfo>& functions() {
    static const std::vector<FunctionInfo> all = {
        {"exp", Op::Exp, 1, 1, "exponential"},
        {"ln", Op::Ln, 1, 1, "natural logarithm"},
        {"log10", Op::Log10, 1, 1, "logarithm to base 10"},
        {"log2", Op::Log2, 1, 1, "logarithm to base 2"},
        {"sqrt", Op::Sqrt, 1, 1, "square root"},
        {"cbrt", Op::Cbrt, 1, 1, "cube root"},
        {"abs", Op::Abs, 1, 1, "absolute value"},
        {"sin", Op::Sin, 1, 1, "sine of an angle in radians"},
        {"cos", Op::Cos, 1, 1, "cosine of an angle in radians"},
        {"tan", Op::Tan, 1, 1, "tangent of an angle in radians"},
        {"asin", Op::Asin, 1, 1, "inverse sine, in radians"},
        {"acos", Op::Acos, 1, 1, "inverse cosine, in radians"},
        {"atan", Op::Atan, 1, 1, "inverse tangent, in radians"},
        {"atan2", Op::Atan2, 2, 2, "angle of the point (second, first argument), in radians"},
        {"sinh", Op::Sinh, 1, 1, "hyperbolic sine"},
        {"cosh", Op::Cosh, 1, 1, "hyperbolic cosine"},
        {"tanh", Op::Tanh, 1, 1, "hyperbolic tangent"},
        {"erf", Op::Erf, 1, 1, "error function"},
        {"erfc", Op::Erfc, 1, 1, "complementary error function"},
        {"erfcx", Op::ScaledErfc, 1, 1, "exp(u^2)*erfc(u), without overflow"},
        {"gamma", Op::Gamma, 1, 1, "gamma function"},
        {"lgamma", Op::LnGamma, 1, 1, "logarithm of the absolute gamma function"},
        {"min", Op::Min, 2, -1, "smallest of its arguments"},
        {"max", Op::Max, 2, -1, "largest of its arguments"},
        {"floor", Op::Floor, 1, 1, "next whole number below"},
        {"ceil", Op::Ceil, 1, 1, "next whole number above"},
        {"sign", Op::Sign, 1, 1, "−1, 0 or 1"},
        {"step", Op::Step, 1, 1, "0 below zero, 1 from zero on"},
        {"if", Op::If, 3, 3, "if(condition, then, else)"},
        {"integral", Op::Integral, 4, 4, "integral(f, t, a, b): of f over t from a to b"},
        {"sum", Op::Sum, 4, 4, "sum(f, k, a, b): of f over the whole numbers k from a to b"},
        {"voigt", Op::Voigt, 3, 3,
         "voigt(d, g, l): Voigt profile of height one at the distance d from its centre; g and l are the "
         "full "
         "widths at half maximum of its Gaussian and its Lorentzian"},
    };
    return all;
}

const std::vector<CurveFunctionInfo>& curveFunctions() {
    static const std::vector<CurveFunctionInfo> all = {
        {"value", "x", 1, 1, "the curve at x"},
        {"slope", "x", 1, 1, "its slope at x"},
        {"area", "from, to", 0, 2, "the area below it"},
        {"maximum", "from, to", 0, 2, "its largest value"},
        {"minimum", "from, to", 0, 2, "its smallest value"},
        {"maximum_at", "from, to", 0, 2, "the x of its largest value"},
        {"minimum_at", "from, to", 0, 2, "the x of its smallest value"},
        {"crossing", "y, from, to", 1, 3, "the first x at which it reaches y"},
    };
    return all;
}

const FunctionInfo* findFunction(std::string_view name) {
    static const std::vector<std::pair<std::string_view, std::string_view>> aliases = {
        {"arcsin", "asin"}, {"arccos", "acos"}, {"arctan", "atan"}, {"arctan2", "atan2"}};
    for (const auto& [alias, real] : aliases)
        if (alias == name) name = real;
    const auto at = std::ranges::find(functions(), name, &FunctionInfo::name);
    return at == functions().end() ? nullptr : &*at;
}

const CurveFunctionInfo* findCurveFunction(std::string_view name) {
    const auto at = std::ranges::find(curveFunctions(), name, &CurveFunctionInfo::name);
    return at == curveFunctions().end() ? nullptr : &*at;
}

} // namespace jointer::formula
