// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/elementary.h"

#include "numerics/faddeeva.h"

#include <boost/math/special_functions/digamma.hpp>
#include <cmath>
#include <limits>
#include <numbers>

namespace jointer::formula {

namespace {

double digammaOr(double x) {
    if (std::isnan(x) || (x <= 0 && std::floor(x) == x)) return std::numeric_limits<double>::quiet_NaN();
    return boost::math::digamma(x);
}

double signOf(double x) {
    return x > 0 ? 1.0 : x < 0 ? -1.0 : x;
}

} // namespace

double unaryValue(Op op, double x) {
    switch (op) {
    case Op::Negate:
        return -x;
    case Op::Exp:
        return std::exp(x);
    case Op::Ln:
        return std::log(x);
    case Op::Log10:
        return std::log10(x);
    case Op::Log2:
        return std::log2(x);
    case Op::Sqrt:
        return std::sqrt(x);
    case Op::Cbrt:
        return std::cbrt(x);
    case Op::Abs:
        return std::abs(x);
    case Op::Sin:
        return std::sin(x);
    case Op::Cos:
        return std::cos(x);
    case Op::Tan:
        return std::tan(x);
    case Op::Asin:
        return std::asin(x);
    case Op::Acos:
        return std::acos(x);
    case Op::Atan:
        return std::atan(x);
    case Op::Sinh:
        return std::sinh(x);
    case Op::Cosh:
        return std::cosh(x);
    case Op::Tanh:
        return std::tanh(x);
    case Op::Erf:
        return std::erf(x);
    case Op::Erfc:
        return std::erfc(x);
    case Op::ScaledErfc:
        return numerics::scaledErfc(x);
    case Op::Gamma:
        return std::tgamma(x);
    case Op::LnGamma:
        return std::lgamma(x);
    case Op::Floor:
        return std::floor(x);
    case Op::Ceil:
        return std::ceil(x);
    case Op::Sign:
        return signOf(x);
    case Op::Step:
        return std::isnan(x) ? x : x >= 0 ? 1.0 : 0.0;
    default:
        return std::numeric_limits<double>::quiet_NaN();
    }
}

double unarySlope(Op op, double x, double v) {
    constexpr double erfScale = 2 * std::numbers::inv_sqrtpi;
    switch (op) {
    case Op::Negate:
        return -1;
    case Op::Exp:
        return v;
    case Op::Ln:
        return 1 / x;
    case Op::Log10:
        return std::numbers::log10e / x;
    case Op::Log2:
        return std::numbers::log2e / x;
    case Op::Sqrt:
        return 0.5 / v;
    case Op::Cbrt:
        return 1 / (3 * v * v);
    case Op::Abs:
        return signOf(x);
    case Op::Sin:
        return std::cos(x);
    case Op::Cos:
        return -std::sin(x);
    case Op::Tan:
        return 1 + v * v;
    case Op::Asin:
        return 1 / std::sqrt((1 - x) * (1 + x));
    case Op::Acos:
        return -1 / std::sqrt((1 - x) * (1 + x));
    case Op::Atan:
        return 1 / (1 + x * x);
    case Op::Sinh:
        return std::cosh(x);
    case Op::Cosh:
        return std::sinh(x);
    case Op::Tanh:
        return 1 - v * v;
    case Op::Erf:
        return erfScale * std::exp(-x * x);
    case Op::Erfc:
        return -erfScale * std::exp(-x * x);
    case Op::ScaledErfc:
        return numerics::scaledErfcSlope(x, v);
    case Op::Gamma:
        return v * digammaOr(x);
    case Op::LnGamma:
        return digammaOr(x);
    default:
        return 0; // floor, ceil, sign, step
    }
}

double powerValue(double x, double p) {
    if (p == 2) return x * x;
    if (p == 3) return x * x * x;
    if (p == 1) return x;
    return std::pow(x, p);
}

bool isUnary(Op op) {
    return op == Op::Negate || (op >= Op::Exp && op <= Op::Step);
}

double compare(Op op, double a, double b) {
    switch (op) {
    case Op::Less:
        return a < b;
    case Op::LessEqual:
        return a <= b;
    case Op::Greater:
        return a > b;
    case Op::GreaterEqual:
        return a >= b;
    case Op::Equal:
        return a == b;
    default:
        return a != b;
    }
}

bool isComparison(Op op) {
    return op >= Op::Less && op <= Op::NotEqual;
}

} // namespace jointer::formula
