// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers that carry their derivatives: a formula written for them gives its exact gradient.
#pragma once

#include <array>
#include <cmath>
#include <cstddef>

namespace jointer::models::scattering {

template <std::size_t N> struct Dual {
    double value = 0;
    std::array<double, N> slope{};

    Dual() = default;
    Dual(double v) : value(v) {}
    static Dual variable(double v, std::size_t place) {
        Dual d(v);
        d.slope[place] = 1;
        return d;
    }

    Dual& operator+=(const Dual& o) {
        value += o.value;
        for (std::size_t k = 0; k < N; ++k) slope[k] += o.slope[k];
        return *this;
    }
    Dual& operator-=(const Dual& o) {
        value -= o.value;
        for (std::size_t k = 0; k < N; ++k) slope[k] -= o.slope[k];
        return *this;
    }
    Dual& operator*=(const Dual& o) {
        for (std::size_t k = 0; k < N; ++k) slope[k] = slope[k] * o.value + value * o.slope[k];
        value *= o.value;
        return *this;
    }
    Dual& operator/=(const Dual& o) {
        value /= o.value;
        for (std::size_t k = 0; k < N; ++k) slope[k] = (slope[k] - value * o.slope[k]) / o.value;
        return *this;
    }
    friend Dual operator+(Dual a, const Dual& b) { return a += b; }
    friend Dual operator-(Dual a, const Dual& b) { return a -= b; }
    friend Dual operator*(Dual a, const Dual& b) { return a *= b; }
    friend Dual operator/(Dual a, const Dual& b) { return a /= b; }
    Dual operator-() const { return Dual(0.0) - *this; }

    // f(this), where f has that value and that derivative.
    Dual through(double result, double derivative) const {
        Dual out(result);
        for (std::size_t k = 0; k < N; ++k) out.slope[k] = derivative * slope[k];
        return out;
    }
};

inline double valueOf(double x) {
    return x;
}
template <std::size_t N> double valueOf(const Dual<N>& x) {
    return x.value;
}

// A function with its derivative, of a plain number or of one that carries derivatives.
inline double through(double, double result, double) {
    return result;
}
template <std::size_t N> Dual<N> through(const Dual<N>& x, double result, double derivative) {
    return x.through(result, derivative);
}

template <class T> T sine(const T& x) {
    return through(x, std::sin(valueOf(x)), std::cos(valueOf(x)));
}
template <class T> T cosine(const T& x) {
    return through(x, std::cos(valueOf(x)), -std::sin(valueOf(x)));
}
template <class T> T exponential(const T& x) {
    const double e = std::exp(valueOf(x));
    return through(x, e, e);
}
template <class T> T logarithm(const T& x) {
    return through(x, std::log(valueOf(x)), 1 / valueOf(x));
}
template <class T> T root(const T& x) {
    const double r = std::sqrt(valueOf(x));
    return through(x, r, 0.5 / r);
}
template <class T> T power(const T& x, const T& exponent) {
    return exponential(exponent * logarithm(x));
}
template <class T> T squared(const T& x) {
    return x * x;
}
template <class T> T cubed(const T& x) {
    return x * x * x;
}

} // namespace jointer::models::scattering
