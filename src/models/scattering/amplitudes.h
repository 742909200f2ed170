// SPDX-License-Identifier: GPL-3.0-or-later
// The functions that scattering amplitudes are made of, each with its derivative and with a series where the
// closed form cancels. All are one at zero.
#pragma once

#include "models/scattering/dual.h"

#include <cmath>
#include <math.h> // j1

namespace jointer::models::scattering {

struct WithSlope {
    double value, slope;
};

// 3·(sin x − x·cos x)/x³: of a sphere.
inline WithSlope sphereShape(double x) {
    const double s = x * x;
    if (s < 0.16) // Σ 3·(−1)ᵏ(2k+2)/(2k+3)!·x²ᵏ
        return {
            1 - s / 10 * (1 - s / 28 * (1 - s / 54 * (1 - s / 88 * (1 - s / 130 * (1 - s / 180))))),
            -x / 5 *
                (1 - s / 14 * (1 - s / 36 * (1 - s / 66 * (1 - s / 104 * (1 - s / 150 * (1 - s / 204))))))};
    const double sin = std::sin(x), cos = std::cos(x);
    const double value = 3 * (sin - x * cos) / (s * x);
    return {value, 3 * (sin / x - value) / x};
}

// sin x / x.
inline WithSlope sinc(double x) {
    const double s = x * x;
    if (s < 0.04)
        return {1 - s / 6 * (1 - s / 20 * (1 - s / 42 * (1 - s / 72 * (1 - s / 110)))),
                -x / 3 * (1 - s / 10 * (1 - s / 28 * (1 - s / 54 * (1 - s / 88))))};
    const double value = std::sin(x) / x;
    return {value, (std::cos(x) - value) / x};
}

// 2·J₁(x)/x: of a circular cross-section.
inline WithSlope discShape(double x) {
    const double s = x * x;
    if (s < 0.04)
        return {1 - s / 8 * (1 - s / 24 * (1 - s / 48 * (1 - s / 80 * (1 - s / 120)))),
                -x / 4 * (1 - s / 12 * (1 - s / 32 * (1 - s / 60 * (1 - s / 96))))};
    const double first = ::j1(x), value = 2 * first / x;
    return {value, 2 * ::j0(x) / x - 2 * value / x};
}

template <class T> T sphereShapeOf(const T& x) {
    const auto [value, slope] = sphereShape(valueOf(x));
    return through(x, value, slope);
}
template <class T> T sincOf(const T& x) {
    const auto [value, slope] = sinc(valueOf(x));
    return through(x, value, slope);
}
template <class T> T discShapeOf(const T& x) {
    const auto [value, slope] = discShape(valueOf(x));
    return through(x, value, slope);
}

} // namespace jointer::models::scattering
