// SPDX-License-Identifier: GPL-3.0-or-later
// Discrete Fourier transforms against the sums that define them, and against transforms in closed form.
#include "numerics/fourier.h"

#include <cmath>
#include <gtest/gtest.h>
#include <numbers>
#include <random>

using namespace jointer::numerics;

namespace {

std::vector<double> randomValues(std::size_t n, unsigned seed) {
    std::mt19937_64 random(seed);
    std::normal_distribution<double> normal(0, 1);
    std::vector<double> values(n);
    for (double& v : values) v = normal(random);
    return values;
}

// By the definition, term after term.
std::complex<double> coefficient(std::span<const double> values, std::size_t j) {
    std::complex<double> sum = 0;
    for (std::size_t k = 0; k < values.size(); ++k)
        sum +=
            values[k] * std::polar(1.0, -2 * std::numbers::pi * static_cast<double>(j * k % values.size()) /
                                            static_cast<double>(values.size()));
    return sum;
}

} // namespace

TEST(Fourier, CoefficientsAreTheSumsThatDefineThem) {
    for (const std::size_t n : {1, 2, 3, 4, 5, 7, 8, 12, 31, 64, 97, 120, 211}) {
        const std::vector<double> values = randomValues(n, static_cast<unsigned>(n));
        const auto found = fourier(values);
        ASSERT_EQ(found.size(), n / 2 + 1) << n;
        for (std::size_t j = 0; j < found.size(); ++j)
            EXPECT_LT(std::abs(found[j] - coefficient(values, j)), 1e-11 * static_cast<double>(n))
                << n << ", " << j;
    }
}

TEST(Fourier, ComesBack) {
    for (const std::size_t n : {1, 2, 3, 10, 17, 255, 256, 1009}) {
        const std::vector<double> values = randomValues(n, static_cast<unsigned>(n) + 1);
        const std::vector<double> back = inverseFourier(fourier(values), n);
        ASSERT_EQ(back.size(), n);
        for (std::size_t k = 0; k < n; ++k) EXPECT_NEAR(back[k], values[k], 1e-12) << n;
    }
}

// The squares add up to the same on both sides (M.-A. Parseval).
TEST(Fourier, KeepsTheSumOfSquares) {
    for (const std::size_t n : {6, 7, 100, 101}) {
        const std::vector<double> values = randomValues(n, 5);
        double squares = 0, power = 0;
        for (double v : values) squares += v * v;
        const auto found = fourier(values);
        for (std::size_t j = 0; j < found.size(); ++j)
            power += (j == 0 || 2 * j == n ? 1 : 2) * std::norm(found[j]);
        EXPECT_NEAR(power / static_cast<double>(n), squares, 1e-10 * squares);
    }
}

TEST(Fourier, AShiftOnlyTurnsTheCoefficients) {
    const std::size_t n = 60, by = 7;
    const std::vector<double> values = randomValues(n, 9);
    std::vector<double> moved(n);
    for (std::size_t k = 0; k < n; ++k) moved[(k + by) % n] = values[k];
    const auto one = fourier(values), two = fourier(moved);
    for (std::size_t j = 0; j < one.size(); ++j) {
        const auto turned = one[j] * std::polar(1.0, -2 * std::numbers::pi * static_cast<double>(j * by) / n);
        EXPECT_LT(std::abs(two[j] - turned), 1e-11);
    }
}

// A gain of one leaves the list, of zero nothing; a gain that only depends on the frequency acts on a cosine
// that is even about both ends as a factor.
TEST(FilteredByFrequency, MultipliesEachFrequencyByItsGain) {
    const std::vector<double> values = randomValues(81, 3);
    const auto same = filteredByFrequency(values, [](double) { return 1.0; });
    const auto none = filteredByFrequency(values, [](double) { return 0.0; });
    ASSERT_EQ(same.size(), values.size());
    for (std::size_t k = 0; k < values.size(); ++k) {
        EXPECT_NEAR(same[k], values[k], 1e-12);
        EXPECT_NEAR(none[k], 0, 1e-12);
    }
    const auto gain = [](double f) { return 1 / (1 + 40 * f * f); };
    for (const int waves : {1, 3, 10}) {
        const std::size_t n = 200;
        std::vector<double> cosine(n), middle;
        const double f = waves / (2.0 * (n - 1));
        for (std::size_t k = 0; k < n; ++k)
            cosine[k] = std::cos(2 * std::numbers::pi * f * static_cast<double>(k));
        middle = filteredByFrequency(cosine, gain);
        for (std::size_t k = 60; k < 140; ++k) EXPECT_NEAR(middle[k], gain(f) * cosine[k], 0.01) << waves;
    }
}

TEST(FilteredByFrequency, KeepsAConstantWhateverItsLength) {
    for (const std::size_t n : {1, 2, 3, 50}) {
        const auto found =
            filteredByFrequency(std::vector<double>(n, 4.5), [](double f) { return f == 0 ? 1.0 : 0.0; });
        for (double v : found) EXPECT_NEAR(v, 4.5, 1e-12) << n;
    }
}

// A wave on a slope is seen at its frequency, with its amplitude, and nothing of the slope.
TEST(Spectrum, ShowsAWaveAtItsFrequencyAndNoSlope) {
    for (const double f : {0.05, 0.125, 0.3}) {
        const std::size_t n = 400;
        std::vector<double> values(n);
        for (std::size_t k = 0; k < n; ++k) {
            const auto t = static_cast<double>(k);
            values[k] = 30 + 0.7 * t + 2 * std::sin(2 * std::numbers::pi * f * t + 0.4);
        }
        const Spectrum s = spectrumOf(values);
        ASSERT_EQ(s.frequency.size(), s.amplitude.size());
        ASSERT_EQ(s.frequency.size(), n / 2 + 1);
        EXPECT_EQ(s.frequency.front(), 0);
        EXPECT_DOUBLE_EQ(s.frequency.back(), 0.5);
        const auto top = std::ranges::max_element(s.amplitude) - s.amplitude.begin();
        EXPECT_NEAR(s.frequency[static_cast<std::size_t>(top)], f, 0.5 / n);
        EXPECT_NEAR(s.amplitude[static_cast<std::size_t>(top)], 2, 0.06);
        for (std::size_t k = 0; k < s.amplitude.size(); ++k)
            if (std::abs(s.frequency[k] - f) > 0.02) {
                EXPECT_LT(s.amplitude[k], 0.05) << "at " << s.frequency[k];
            }
    }
}
