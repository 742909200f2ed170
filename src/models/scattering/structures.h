// SPDX-License-Identifier: GPL-3.0-or-later
// Structure factors of interacting spheres, written for plain numbers and for those that carry derivatives.
#pragma once

#include "models/scattering/amplitudes.h"

namespace jointer::models::scattering {

// Hard spheres of that radius and volume fraction, in the approximation of Percus and Yevick. One at large q;
// at zero (1 − φ)⁴/(1 + 2φ)². Source: M. S. Wertheim, Phys. Rev. Lett. 10 (1963) 321; D. J. Kinning,
// E. L. Thomas, Macromolecules 17 (1984) 1712.
template <class T> T hardSphereStructure(double q, const T& radius, const T& fraction) {
    const T rest = T(1.0) - fraction, rest4 = squared(squared(rest));
    const T alpha = squared(T(1.0) + T(2.0) * fraction) / rest4;
    const T beta = T(-6.0) * fraction * squared(T(1.0) + T(0.5) * fraction) / rest4;
    const T gamma = T(0.5) * fraction * alpha;
    const T a = T(2 * q) * radius;
    // ∫₀¹ (α + βs + γs³)·sin(as)/(as)·s² ds, the direct correlation; by moments, as a series near zero.
    T g(0.0);
    const double x = valueOf(a);
    if (std::abs(x) < 0.6) {
        T term(1.0);
        double factorial = 1; // (2k + 1)!
        for (int k = 0; k < 8; ++k) {
            if (k > 0) factorial *= (2.0 * k) * (2.0 * k + 1);
            const double sign = k % 2 == 0 ? 1 : -1;
            g += term * T(sign / factorial) *
                 (alpha / T(2.0 * k + 3) + beta / T(2.0 * k + 4) + gamma / T(2.0 * k + 6));
            term *= a * a;
        }
    } else {
        const T s = sine(a), c = cosine(a), a2 = a * a, a3 = a2 * a, a4 = a2 * a2;
        g = alpha * (s - a * c) / a3 + beta * (T(2.0) * a * s + (T(2.0) - a2) * c - T(2.0)) / a4 +
            gamma * (-a4 * c + T(4.0) * ((T(3.0) * a2 - T(6.0)) * c + (a3 - T(6.0) * a) * s + T(6.0))) /
                (a4 * a2);
    }
    return T(1.0) / (T(1.0) + T(24.0) * fraction * g);
}

// The same of one fluid at many places, with its derivatives by radius and fraction: what depends on the
// fraction alone is worked out once.
class HardSphereFluid {
public:
    explicit HardSphereFluid(double fraction) : fraction_(fraction) {
        const Dual<1> f = Dual<1>::variable(fraction, 0), rest = Dual<1>(1.0) - f,
                      rest4 = squared(squared(rest));
        alpha_ = squared(Dual<1>(1.0) + Dual<1>(2.0) * f) / rest4;
        beta_ = Dual<1>(-6.0) * f * squared(Dual<1>(1.0) + Dual<1>(0.5) * f) / rest4;
        gamma_ = Dual<1>(0.5) * f * alpha_;
    }

    Dual<3> at(double q, double radius) const {
        const double a = 2 * q * radius;
        if (!(std::abs(a) > 0.6)) {
            const Dual<2> s =
                hardSphereStructure(q, Dual<2>::variable(radius, 0), Dual<2>::variable(fraction_, 1));
            Dual<3> out(s.value);
            out.slope = {s.slope[0], s.slope[1], 0};
            return out;
        }
        const double sin = std::sin(a), cos = std::cos(a), a2 = a * a, a3 = a2 * a, a4 = a2 * a2;
        const double first = (sin - a * cos) / a3, second = (2 * a * sin + (2 - a2) * cos - 2) / a4,
                     third = (-a4 * cos + 4 * ((3 * a2 - 6) * cos + (a3 - 6 * a) * sin + 6)) / (a4 * a2);
        const double g = alpha_.value * first + beta_.value * second + gamma_.value * third;
        const double byFraction = alpha_.slope[0] * first + beta_.slope[0] * second + gamma_.slope[0] * third;
        const double byA =
            (alpha_.value + beta_.value + gamma_.value) * sin / a2 -
            (3 * alpha_.value * first + 4 * beta_.value * second + 6 * gamma_.value * third) / a;
        Dual<3> out(1 / (1 + 24 * fraction_ * g));
        const double outer = -24 * out.value * out.value;
        out.slope = {outer * fraction_ * byA * 2 * q, outer * (g + fraction_ * byFraction), 0};
        return out;
    }

private:
    double fraction_;
    Dual<1> alpha_, beta_, gamma_;
};

// Spheres that stick where they touch, of a stickiness parameter τ (the smaller, the stickier; ∞: hard
// spheres). NaN: there is no such fluid, it would separate. Source: R. J. Baxter, J. Chem. Phys. 49 (1968)
// 2770; B. Barboy, J. Chem. Phys. 61 (1974) 3194.
template <class T> T stickySphereStructure(double q, const T& radius, const T& fraction, const T& tau) {
    const T rest = T(1.0) - fraction;
    // λ: the smaller root of φ/12·λ² − (τ + φ/(1 − φ))·λ + (1 + φ/2)/(1 − φ)² = 0.
    const T b = tau + fraction / rest, c = (T(1.0) + T(0.5) * fraction) / (rest * rest);
    const T under = b * b - fraction / T(3.0) * c;
    if (!(valueOf(under) >= 0)) return T(std::nan(""));
    const T lambda = T(2.0) * c / (b + root(under));
    const T mu = lambda * fraction * rest;
    if (valueOf(mu) > 1 + 2 * valueOf(fraction)) return T(std::nan(""));
    const T alpha = (T(1.0) + T(2.0) * fraction - mu) / (rest * rest);
    const T beta = (mu - T(3.0) * fraction) / (T(2.0) * rest * rest);
    const T a = T(2 * q) * radius;
    // Baxter's factor: Q = 1 − 12φ·∫₀¹ (α/2·(s² − 1) + β·(s − 1) + λ/12)·exp(ias) ds.
    const T half = T(0.5) * a;
    const T sincHalf = sincOf(half), sincWhole = sincOf(a);
    const T oneLess = T(0.5) * squared(sincHalf); // (1 − cos a)/a²
    T third;                                      // (a − sin a)/a³
    if (std::abs(valueOf(a)) < 0.4) {
        const T s = a * a;
        third = (T(1.0) -
                 s / T(20.0) * (T(1.0) - s / T(42.0) * (T(1.0) - s / T(72.0) * (T(1.0) - s / T(110.0))))) /
                T(6.0);
    } else
        third = (T(1.0) - sincWhole) / (a * a);
    const T second = sphereShapeOf(a) / T(3.0); // (sin a − a·cos a)/a³
    // ∫(s² − 1)·cos(as) = 2(a·cos a − sin a)/a³; ∫(s² − 1)·sin(as) = (2(cos a − 1) + 2a·sin a − a²)/a³.
    T squareSine;
    if (std::abs(valueOf(a)) < 0.4) {
        const T s = a * a;
        squareSine = -a * (T(0.25) - s / T(72.0) + s * s / T(2880.0) - s * s * s / T(201600.0) +
                           s * s * s * s / T(21772800.0));
    } else
        squareSine = (T(2.0) * sincWhole - T(2.0) * oneLess - T(1.0)) / a;
    // ∫(s − 1)·cos(as) = (cos a − 1)/a²; ∫(s − 1)·sin(as) = (sin a − a)/a².
    const T real =
        T(1.0) - T(12.0) * fraction * (-alpha * second - beta * oneLess + lambda / T(12.0) * sincWhole);
    const T imaginary = T(-12.0) * fraction *
                        (T(0.5) * alpha * squareSine - beta * a * third + lambda / T(12.0) * a * oneLess);
    return T(1.0) / (real * real + imaginary * imaginary);
}

} // namespace jointer::models::scattering
