// SPDX-License-Identifier: GPL-3.0-or-later
// Local polynomials, penalised least squares and running windows, each against the slow way that states what
// it is.
#include "numerics/local_polynomial.h"
#include "numerics/penalised.h"
#include "numerics/polynomial.h"
#include "numerics/running.h"
#include "support/random.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <numeric>

using namespace jointer::numerics;
using jointer::test::Random;

namespace {

// Σ l·y by the normal way: least squares of powers about the place, by an orthogonal decomposition.
Eigen::RowVectorXd slowWeights(const std::vector<double>& x, const std::vector<double>& w, double at,
                               int degree, int derivative, double scale) {
    const auto n = static_cast<Eigen::Index>(x.size());
    Eigen::MatrixXd a(n, degree + 1);
    Eigen::VectorXd root(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        root[i] = w.empty() ? 1 : std::sqrt(w[static_cast<std::size_t>(i)]);
        double power = root[i];
        for (int p = 0; p <= degree; ++p, power *= (x[static_cast<std::size_t>(i)] - at) / scale)
            a(i, p) = power;
    }
    const Eigen::MatrixXd inverse = a.completeOrthogonalDecomposition().pseudoInverse();
    double factor = 1;
    for (int p = 2; p <= derivative; ++p) factor *= p;
    return factor / std::pow(scale, derivative) * inverse.row(derivative).cwiseProduct(root.transpose());
}

} // namespace

TEST(LocalPolynomial, WeightsAreThoseOfWeightedLeastSquares) {
    Random random(4);
    for (int round = 0; round < 400; ++round) {
        const int degree = static_cast<int>(random.between(0, 5)),
                  derivative = static_cast<int>(random.between(0, degree + 1));
        const auto n = static_cast<std::size_t>(random.between(degree + 1, 40));
        const double offset = random.between(-500, 500), width = std::pow(10, random.between(-2, 2));
        const std::vector<double> x = random.ascending(n, offset, offset + width);
        const std::vector<double> w = round % 3 ? random.values(n, 0.05, 2) : std::vector<double>();
        const double at = random.between(x.front(), x.back());
        std::vector<double> found(n);
        localPolynomialWeights(x, w, at, degree, derivative, found);
        const Eigen::RowVectorXd wanted = slowWeights(x, w, at, degree, derivative, width);
        const double size = wanted.norm();
        for (std::size_t i = 0; i < n; ++i)
            EXPECT_NEAR(found[i], wanted[static_cast<Eigen::Index>(i)], 1e-6 * size)
                << "round " << round << " degree " << degree << " derivative " << derivative;
    }
}

TEST(LocalPolynomial, LowersItsDegreeWherePlacesAreTooFew) {
    const std::vector<double> x = {1, 1, 1, 4}, y = {2, 4, 6, 10};
    std::vector<double> l(4);
    localPolynomialWeights(x, {}, 2, 3, 0, l); // two places: a line through (1, 4) and (4, 10)
    EXPECT_NEAR(std::inner_product(l.begin(), l.end(), y.begin(), 0.0), 6, 1e-12);
    localPolynomialWeights(std::vector{3.0, 3.0}, {}, 3, 2, 0, std::span(l).first(2));
    EXPECT_NEAR(l[0] + l[1], 1, 1e-12) << "one place: the mean";
    localPolynomialWeights(x, std::vector{0.0, 0.0, 1.0, 0.0}, 1, 1, 0, l); // only one counts
    EXPECT_NEAR(l[2], 1, 1e-12);
    EXPECT_EQ(l[3], 0);
}

TEST(PolynomialFit, GoesThroughPolynomialsOfItsDegree) {
    Random random(8);
    for (int round = 0; round < 200; ++round) {
        const int degree = static_cast<int>(random.between(0, 9));
        const std::vector<double> x = random.ascending(60, -3, 5), c = random.values(10, -1, 1);
        const auto truth = [&](double at) {
            double y = 0;
            for (int p = degree; p >= 0; --p) y = y * (at - 1) / 4 + c[static_cast<std::size_t>(p)];
            return y;
        };
        std::vector<double> y;
        for (double at : x) y.push_back(truth(at));
        const PolynomialFit fit(x, y, degree, random.values(60, 0.1, 3));
        for (const double at : {-2.9, 0.0, 2.5, 4.9}) EXPECT_NEAR(fit(at), truth(at), 1e-9) << degree;
    }
}

// The straight line of least squares in its closed form.
TEST(PolynomialFit, OfDegreeOneIsTheRegressionLine) {
    Random random(2);
    for (int round = 0; round < 50; ++round) {
        const std::vector<double> x = random.values(20, -5, 5), y = random.values(20, -5, 5),
                                  w = random.values(20, 0.1, 2);
        double sw = 0, sx = 0, sy = 0;
        for (std::size_t i = 0; i < 20; ++i) sw += w[i], sx += w[i] * x[i], sy += w[i] * y[i];
        double sxx = 0, sxy = 0;
        for (std::size_t i = 0; i < 20; ++i) {
            sxx += w[i] * (x[i] - sx / sw) * (x[i] - sx / sw);
            sxy += w[i] * (x[i] - sx / sw) * (y[i] - sy / sw);
        }
        const PolynomialFit line(x, y, 1, w);
        EXPECT_NEAR(line(2), sy / sw + sxy / sxx * (2 - sx / sw), 1e-11);
        EXPECT_EQ(line.degree(), 1);
    }
    EXPECT_EQ(PolynomialFit(std::vector{1.0, 1.0}, std::vector{2.0, 4.0}, 5).degree(), 0);
    EXPECT_DOUBLE_EQ(PolynomialFit(std::vector{1.0, 1.0}, std::vector{2.0, 4.0}, 5)(9), 3);
}

namespace {

// The system written out.
struct Penalised {
    Eigen::MatrixXd inverse;
    Eigen::VectorXd w;

    Penalised(const std::vector<double>& weights, double lambda)
        : w(Eigen::Map<const Eigen::VectorXd>(weights.data(), static_cast<Eigen::Index>(weights.size()))) {
        const Eigen::Index n = w.size();
        Eigen::MatrixXd d = Eigen::MatrixXd::Zero(n - 2, n);
        for (Eigen::Index i = 0; i + 2 < n; ++i) d(i, i) = 1, d(i, i + 1) = -2, d(i, i + 2) = 1;
        const Eigen::MatrixXd a = Eigen::MatrixXd(w.asDiagonal()) + lambda * d.transpose() * d;
        inverse = a.fullPivLu().inverse();
    }
};

} // namespace

TEST(Penalised, SolvesItsSystem) {
    Random random(6);
    for (int round = 0; round < 100; ++round) {
        const auto n = static_cast<std::size_t>(random.between(3, 60));
        const double lambda = std::pow(10, random.between(-2, 4));
        std::vector<double> w = random.values(n, 0.2, 2);
        if (n > 6) w[2] = w[3] = 0; // gaps are bridged
        const std::vector<double> y = random.values(n, -3, 3), variances = random.values(n, 0.1, 2);
        const Penalised slow(w, lambda);
        const Eigen::VectorXd wanted =
            slow.inverse *
            slow.w.cwiseProduct(Eigen::Map<const Eigen::VectorXd>(y.data(), static_cast<Eigen::Index>(n)));
        const std::vector<double> z = penalisedSmooth(y, w, lambda),
                                  spread = penalisedVariances(variances, w, lambda);
        std::vector<double> again;
        PenalisedSolver solver;
        for (int times = 0; times < 2; ++times) solver.solve(y, w, lambda, again);
        const Eigen::MatrixXd l = slow.inverse * slow.w.asDiagonal();
        for (std::size_t i = 0; i < n; ++i) {
            const auto row = static_cast<Eigen::Index>(i);
            EXPECT_NEAR(z[i], wanted[row], 1e-7) << n << ", " << lambda;
            EXPECT_NEAR(again[i], z[i], 1e-12);
            double variance = 0;
            for (std::size_t k = 0; k < n; ++k)
                variance += std::pow(l(row, static_cast<Eigen::Index>(k)), 2) * variances[k];
            EXPECT_NEAR(spread[i], variance, 1e-6 * variance) << n << ", " << lambda;
        }
    }
}

TEST(Penalised, HasItsLimits) {
    const std::vector<double> y = {1, 4, 2, 8, 5, 7}, w(6, 1.0);
    const std::vector<double> none = penalisedSmooth(y, w, 0), whole = penalisedSmooth(y, w, 1e8);
    double slope = 0, mean = 27.0 / 6;
    for (int i = 0; i < 6; ++i)
        slope += (i - 2.5) * y[static_cast<std::size_t>(i)] / 17.5; // the regression line
    for (std::size_t i = 0; i < 6; ++i) {
        EXPECT_NEAR(none[i], y[i], 1e-12);
        EXPECT_NEAR(whole[i], mean + slope * (static_cast<double>(i) - 2.5), 1e-5);
    }
    EXPECT_EQ(penalisedSmooth(std::vector{3.0, 9.0}, std::vector{1.0, 1.0}, 5), (std::vector{3.0, 9.0}));
}

namespace {

double medianOf(std::vector<double> values) {
    std::ranges::sort(values);
    const std::size_t n = values.size();
    return n % 2 ? values[n / 2] : (values[n / 2 - 1] + values[n / 2]) / 2;
}

std::vector<double> part(const std::vector<double>& values, std::size_t from, std::size_t to) {
    return {values.begin() + static_cast<std::ptrdiff_t>(from),
            values.begin() + static_cast<std::ptrdiff_t>(to)};
}

} // namespace

TEST(Running, MediansAndScattersAreThoseOfEachWindow) {
    Random random(12);
    for (int round = 0; round < 150; ++round) {
        const auto n = static_cast<std::size_t>(random.between(1, 70));
        const std::size_t window = 2 * static_cast<std::size_t>(random.between(0, 15)) + 1;
        std::vector<double> values = random.values(n, -5, 5);
        if (round % 2)
            for (double& v : values) v = std::round(v); // ties
        const RunningMedian found = runningMedian(values, window, true);
        for (std::size_t i = 0; i < n; ++i) {
            const std::size_t half = std::min({window / 2, i, n - 1 - i});
            std::vector<double> inside = part(values, i - half, i + half + 1);
            const double median = medianOf(inside);
            EXPECT_DOUBLE_EQ(found.median[i], median) << n << ", " << window << ", " << i;
            for (double& v : inside) v = std::abs(v - median);
            EXPECT_DOUBLE_EQ(found.scatter[i], medianOf(inside));
        }
        EXPECT_TRUE(runningMedian(values, window).scatter.empty());
    }
}

TEST(Running, ExtremesAndMeansAreThoseOfEachWindow) {
    Random random(13);
    for (int round = 0; round < 150; ++round) {
        const auto n = static_cast<std::size_t>(random.between(1, 70)),
                   half = static_cast<std::size_t>(random.between(0, 90));
        const std::vector<double> values = random.values(n, -5, 5);
        const auto low = runningMinimum(values, half), high = runningMaximum(values, half),
                   mean = runningMean(values, half);
        for (std::size_t i = 0; i < n; ++i) {
            const std::vector<double> inside =
                part(values, i > half ? i - half : 0, std::min(n, i + half + 1));
            EXPECT_EQ(low[i], std::ranges::min(inside));
            EXPECT_EQ(high[i], std::ranges::max(inside));
            EXPECT_NEAR(mean[i],
                        std::accumulate(inside.begin(), inside.end(), 0.0) /
                            static_cast<double>(inside.size()),
                        1e-12);
        }
    }
}

TEST(Running, MediansWithinAWidthTakeWhatLiesThere) {
    Random random(14);
    for (int round = 0; round < 150; ++round) {
        const auto n = static_cast<std::size_t>(random.between(1, 60));
        const std::vector<double> x = random.ascending(n, 0, 10), values = random.values(n, -5, 5);
        const double width = random.between(0.01, 8);
        const std::vector<double> found = runningMedianWithin(x, values, width);
        for (std::size_t i = 0; i < n; ++i) {
            // It shrinks towards the ends, so that it stays symmetric.
            const double half = std::min({width / 2, x[i] - x.front(), x.back() - x[i]});
            std::vector<double> inside;
            for (std::size_t k = 0; k < n; ++k)
                if (std::abs(x[k] - x[i]) <= half) inside.push_back(values[k]);
            EXPECT_DOUBLE_EQ(found[i], medianOf(inside)) << "round " << round << " at " << x[i];
        }
    }
}
