// SPDX-License-Identifier: GPL-3.0-or-later
// Scattering computed the slow way, from its definition, for tests: nothing here is shared with what is
// tested.
#pragma once

#include <boost/math/quadrature/gauss_kronrod.hpp>
#include <cmath>
#include <functional>
#include <vector>

namespace jointer::by_hand {

inline constexpr double kPi = 3.14159265358979323846;

using Function = std::function<double(double)>;

// In equal pieces, each halved until it settles.
inline double integral(const Function& f, double from, double to, int pieces = 1) {
    double sum = 0;
    for (int k = 0; k < pieces; ++k)
        sum += boost::math::quadrature::gauss_kronrod<double, 31>::integrate(
            f, from + (to - from) * k / pieces, from + (to - from) * (k + 1) / pieces, 5, 1e-12);
    return sum;
}

// A ball of layers: outer radii from within, and their contrasts. F(q) = ∫ 4πr²Δρ(r)·sin(qr)/(qr) dr.
inline double ballAmplitude(double q, const std::vector<double>& radii,
                            const std::vector<double>& contrasts) {
    double sum = 0, from = 0;
    for (std::size_t k = 0; k < radii.size(); ++k) {
        const int pieces = 1 + static_cast<int>(q * (radii[k] - from) / 3);
        sum +=
            contrasts[k] *
            integral([q](double r) { return 4 * kPi * r * r * (q * r == 0 ? 1 : std::sin(q * r) / (q * r)); },
                     from, radii[k], pieces);
        from = radii[k];
    }
    return sum;
}

struct Averages {
    double mean, square;
};

// Over orientations of a body of revolution, by the cosine of the angle between q and its axis.
inline Averages overOrientations(const Function& amplitude, int pieces) {
    return {integral(amplitude, 0, 1, pieces),
            integral([&](double u) { return std::pow(amplitude(u), 2); }, 0, 1, pieces)};
}

inline Averages ellipsoid(double q, double a, double ratio, double contrast) {
    const double volume = 4 * kPi / 3 * a * a * a * ratio;
    const auto f = [=](double u) {
        const double x = q * a * std::sqrt(1 + u * u * (ratio * ratio - 1));
        // The exact form loses no more than it must: x is not small in these tests.
        return contrast * volume * 3 * (std::sin(x) - x * std::cos(x)) / (x * x * x);
    };
    return overOrientations(f, 4 + static_cast<int>(q * a * std::max(1.0, ratio)));
}

inline Averages cylinder(double q, double radius, double length, double contrast) {
    const double volume = kPi * radius * radius * length;
    const auto f = [=](double u) {
        const double across = q * radius * std::sqrt(std::max(0.0, 1 - u * u)), along = q * length * u / 2;
        return contrast * volume * (across < 1e-8 ? 1 : 2 * std::cyl_bessel_j(1, across) / across) *
               (along < 1e-8 ? 1 : std::sin(along) / along);
    };
    // Square roots at the end: by the angle instead.
    const auto byAngle = [&](bool squared) {
        return integral(
            [&](double angle) {
                const double v = f(std::cos(angle));
                return (squared ? v * v : v) * std::sin(angle);
            },
            0, kPi / 2, 6 + static_cast<int>(q * (radius + length)));
    };
    return {byAngle(false), byAngle(true)};
}

// Hard spheres by the direct correlation function of Percus and Yevick, transformed by quadrature.
inline double hardSpheres(double q, double radius, double fraction) {
    const double l1 = std::pow(1 + 2 * fraction, 2) / std::pow(1 - fraction, 4),
                 l2 = -std::pow(1 + fraction / 2, 2) / std::pow(1 - fraction, 4), d = 2 * radius;
    const double density = fraction / (4 * kPi / 3 * radius * radius * radius);
    const auto c = [=](double r) {
        const double s = r / d;
        return -(l1 + 6 * fraction * l2 * s + fraction / 2 * l1 * s * s * s);
    };
    const double transformed = integral(
        [&](double r) { return 4 * kPi * r * r * c(r) * (q * r == 0 ? 1 : std::sin(q * r) / (q * r)); }, 0, d,
        1 + static_cast<int>(q * d / 3));
    return 1 / (1 - density * transformed);
}

} // namespace jointer::by_hand
