// SPDX-License-Identifier: GPL-3.0-or-later
// Integrals against closed forms, with those of their derivatives; and what has none.
#include "numerics/quadrature.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <vector>

using namespace jointer::numerics;

namespace {

Integrand of(double (*f)(double)) {
    return [f](std::span<const double> nodes, std::span<double> values, std::span<double>) {
        for (std::size_t i = 0; i < nodes.size(); ++i) values[i] = f(nodes[i]);
    };
}

struct Known {
    const char* name;
    double (*f)(double);
    double from, to, value;
};

} // namespace

// Closed forms: I. S. Gradshteyn, I. M. Ryzhik, Table of Integrals, Series, and Products.
TEST(Integral, IsTheClosedForm) {
    using std::numbers::pi;
    const Known all[] = {
        {"constant", [](double) { return 3.0; }, -1, 4, 15},
        {"power", [](double x) { return std::pow(x, 9); }, 0, 2, 102.4},
        {"exponential", [](double x) { return std::exp(-x); }, 0, 30, 1 - std::exp(-30.0)},
        {"sine", [](double x) { return std::sin(x); }, 0, pi, 2},
        {"many waves", [](double x) { return std::cos(50 * x) + 1; }, 0, 2, 2 + std::sin(100.0) / 50},
        {"Lorentzian", [](double x) { return 1 / (1 + x * x); }, -1, 1, pi / 2},
        {"narrow Lorentzian", [](double x) { return 0.01 / (1e-4 + x * x); }, -1, 1, 2 * std::atan(100.0)},
        {"Gaussian", [](double x) { return std::exp(-x * x); }, -8, 8, std::sqrt(pi)},
        {"root", [](double x) { return std::sqrt(x); }, 0, 1, 2.0 / 3},
        {"logarithm", [](double x) { return std::log(x); }, 1, 10, 10 * std::log(10.0) - 9},
        {"rational", [](double x) { return x / (1 + x); }, 0, 1, 1 - std::log(2.0)},
        {"corner", [](double x) { return std::abs(x - 0.3); }, 0, 1, 0.045 + 0.245},
        {"nothing", [](double) { return 0.0; }, 0, 1, 0}};
    for (const Known& k : all) {
        EXPECT_NEAR(integral(of(k.f), k.from, k.to), k.value, 1e-8 * std::max(1.0, std::abs(k.value))) << k.name;
        EXPECT_NEAR(integral(of(k.f), k.to, k.from), -k.value, 1e-8 * std::max(1.0, std::abs(k.value)))
            << k.name << " backwards";
    }
    EXPECT_EQ(integral(of([](double x) { return std::exp(x); }), 2, 2), 0);
}

// Far from the middle a needle would be overlooked; with pieces about as narrow it is found.
TEST(Integral, FindsNeedlesWithPiecesAsNarrow) {
    const auto needle = of([](double x) { return std::exp(-std::pow((x - 71.3) / 0.05, 2)); });
    EXPECT_NEAR(integral(needle, 0, 100, {}, 400), 0.05 * std::sqrt(std::numbers::pi), 1e-10);
}

// d/da ∫ exp(−a·x) dx = ∫ −x·exp(−a·x) dx, and by the limits of the closed form.
TEST(Integral, CarriesTheDerivativesAlong) {
    const double a = 0.7, c = 2.5, to = 4;
    const Integrand f = [&](std::span<const double> nodes, std::span<double> values, std::span<double> gradient) {
        for (std::size_t i = 0; i < nodes.size(); ++i) {
            const double e = std::exp(-a * nodes[i]);
            values[i] = c * e;
            if (gradient.empty()) continue;
            gradient[i] = -c * nodes[i] * e;
            gradient[nodes.size() + i] = e;
        }
    };
    std::vector<double> gradient = {0, 100}; // added to
    const double value = integral(f, 0, to, gradient);
    const double e = std::exp(-a * to);
    EXPECT_NEAR(value, c * (1 - e) / a, 1e-11);
    EXPECT_NEAR(gradient[0], c * (to * e / a - (1 - e) / (a * a)), 1e-10);
    EXPECT_NEAR(gradient[1], 100 + (1 - e) / a, 1e-10);
}

TEST(Integral, SaysNaNWhereThereIsNone) {
    EXPECT_TRUE(std::isnan(integral(of([](double x) { return 1 / x; }), -1, 1)));
    EXPECT_TRUE(std::isnan(integral(of([](double x) { return std::log(x); }), -1, 1))) << "not defined";
    EXPECT_TRUE(std::isnan(integral(of([](double) -> double { return INFINITY; }), 0, 1)));
}
