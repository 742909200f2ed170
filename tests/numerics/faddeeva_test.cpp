// SPDX-License-Identifier: GPL-3.0-or-later
// The Faddeeva function against another library (tools/faddeeva_reference), and what follows from it.
#include "numerics/faddeeva.h"
#include "numerics/voigt.h"

#include <cmath>
#include <complex>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>

using namespace jointer::numerics;
using Complex = std::complex<double>;

namespace {

nlohmann::json reference() {
    std::ifstream in(std::string(JOINTER_SOURCE_DIR) + "/tests/data_files/faddeeva.json");
    return nlohmann::json::parse(in);
}

double voigtAt(double d, double g, double l) {
    double v = 0;
    voigt({&d, 1}, {&g, 1}, {&l, 1}, {&v, 1});
    return v;
}

} // namespace

TEST(Faddeeva, IsThatOfAnotherLibrary) {
    const nlohmann::json known = reference();
    for (const auto& row : known["w"]) {
        const double x = row[0], y = row[1];
        double re, im, slopeRe, slopeIm;
        faddeeva({&x, 1}, {&y, 1}, {&re, 1}, {&im, 1}, {&slopeRe, 1}, {&slopeIm, 1});
        const Complex w(row[2], row[3]);
        EXPECT_LT(std::abs(Complex(re, im) - w), 2e-13 * std::abs(w)) << x << " " << y;
        // Away from the origin the derivative is −w/z to leading order: no digits may be lost there.
        const Complex z(x, y), slope = -2.0 * z * w + Complex(0, 2 / std::sqrt(M_PI));
        const double lost = std::abs(z * w) * 1e-13;
        EXPECT_LT(std::abs(Complex(slopeRe, slopeIm) - slope), lost + 1e-12 * std::abs(slope))
            << x << " " << y;
        if (std::abs(z) > 300) {
            EXPECT_LT(std::abs(Complex(slopeRe, slopeIm) + w / z), 1e-4 * std::abs(w / z));
        }
    }
    for (const auto& row : known["scaled_erfc"])
        EXPECT_NEAR(scaledErfc(row[0]), row[1].get<double>(), 2e-13 * row[1].get<double>()) << row[0];
    EXPECT_DOUBLE_EQ(scaledErfc(-1.5), std::exp(2.25) * std::erfc(-1.5));
    EXPECT_NEAR(scaledErfcSlope(20, scaledErfc(20)), (scaledErfc(20.01) - scaledErfc(19.99)) / 0.02, 1e-8);
}

// Pure cases in closed form; the width of the mixed one by the well-known approximation, good to 0.02 %.
TEST(Voigt, GoesOverIntoGaussianAndLorentzian) {
    for (double d : {-3.0, -0.4, 0.0, 0.5, 1.7}) {
        EXPECT_NEAR(voigtAt(d, 1.3, 0), std::exp(-4 * std::log(2.0) * d * d / 1.69), 1e-13);
        EXPECT_NEAR(voigtAt(d, 0, 1.3), 1 / (1 + 4 * d * d / 1.69), 1e-11);
        EXPECT_NEAR(voigtAt(d, 1e-9, 1.3), 1 / (1 + 4 * d * d / 1.69), 1e-11);
        EXPECT_EQ(voigtAt(d, 1, 0.5), voigtAt(-d, 1, 0.5));
    }
    for (double l : {0.1, 0.5, 1.0, 4.0}) {
        const double width = 0.5346 * l + std::sqrt(0.2166 * l * l + 1);
        EXPECT_NEAR(voigtAt(width / 2, 1, l), 0.5, 3e-4) << l;
    }
    EXPECT_TRUE(std::isnan(voigtAt(1, 0, 0)));
}

// The convolution itself, by a fine sum.
TEST(Voigt, IsTheGaussianSpreadByTheLorentzian) {
    const double g = 1.1, l = 0.6;
    auto convolved = [&](double d) {
        double sum = 0;
        for (int i = -40000; i <= 40000; ++i) {
            const double t = 2e-4 * i; // the Gaussian is nothing beyond 8
            sum += std::exp(-4 * std::log(2.0) * t * t / (g * g)) / (1 + 4 * (d - t) * (d - t) / (l * l));
        }
        return sum;
    };
    const double top = convolved(0);
    for (double d : {0.3, 0.8, 2.0, 6.0}) EXPECT_NEAR(voigtAt(d, g, l), convolved(d) / top, 1e-11) << d;
}

TEST(Voigt, SlopesAreThoseOfDifferences) {
    std::mt19937 random(6);
    std::uniform_real_distribution<double> place(-8, 8), width(0.05, 3);
    for (int k = 0; k < 200; ++k) {
        const double d = place(random), g = width(random), l = width(random);
        double v, by[3];
        voigt({&d, 1}, {&g, 1}, {&l, 1}, {&v, 1}, {&by[0], 1}, {&by[1], 1}, {&by[2], 1});
        auto difference = [&](auto at) {
            const double h = 1e-3;
            return (at(-2 * h) - 8 * at(-h) + 8 * at(h) - at(2 * h)) / (12 * h);
        };
        EXPECT_NEAR(by[0], difference([&](double h) { return voigtAt(d + h, g, l); }), 1e-7);
        EXPECT_NEAR(by[1], difference([&](double h) { return voigtAt(d, g + h * 0.05, l); }) / 0.05, 1e-7);
        EXPECT_NEAR(by[2], difference([&](double h) { return voigtAt(d, g, l + h * 0.05); }) / 0.05, 1e-7);
    }
}
