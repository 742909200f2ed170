// SPDX-License-Identifier: GPL-3.0-or-later
// Curves and settings for the tests of steps.
#pragma once

#include "steps/step.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

namespace jointer::steps {

template <class F> Curve curveOf(std::size_t n, F f) {
    Curve c;
    for (std::size_t i = 0; i < n; ++i) {
        c.x.push_back(static_cast<double>(i));
        c.y.push_back(f(c.x.back()));
        c.sigma.push_back(0.5);
        c.rowIds.push_back(static_cast<std::uint32_t>(i + 1));
    }
    return c;
}

inline Settings with(std::initializer_list<std::pair<const char*, Value>> list) {
    Settings s;
    for (const auto& [k, v] : list) s.set(k, v);
    return s;
}

inline Value word(const char* text) {
    return Value(std::string(text));
}

// A step with another curve, which settings call "d7".
inline Outcome<StepOutput> applyWith(std::string_view key, const Curve& curve, const Curve& other,
                                     Settings settings) {
    const DatasetFacts none;
    const OtherCurve others[] = {{"d7", "blank", std::make_shared<const Curve>(other)}};
    return apply(key, {.curve = curve, .settings = settings, .facts = none, .others = others});
}

// A spectrum by seed: lines of the given width at half height in points on a curved baseline, with noise.
struct Spectrum {
    Curve curve;
    std::vector<double> clean;
};
inline Spectrum spectrum(std::size_t n, std::uint32_t seed, double fwhm, double noise, int lines) {
    std::mt19937 random(seed);
    std::uniform_real_distribution<double> uniform(0, 1);
    std::normal_distribution<double> normal;
    std::vector<std::pair<double, double>> peaks;
    for (int k = 0; k < lines; ++k)
        peaks.emplace_back(uniform(random) * static_cast<double>(n), 20 + 400 * uniform(random));
    Spectrum out;
    for (std::size_t i = 0; i < n; ++i) {
        const auto x = static_cast<double>(i);
        double y = 50 + 30 * std::sin(x / static_cast<double>(n) * 3);
        for (const auto& [at, height] : peaks)
            y += height * std::exp(-4 * std::log(2.0) * (x - at) * (x - at) / (fwhm * fwhm));
        out.clean.push_back(y);
        out.curve.x.push_back(x);
        out.curve.y.push_back(y + noise * normal(random));
        out.curve.rowIds.push_back(static_cast<std::uint32_t>(i + 1));
    }
    return out;
}

} // namespace jointer::steps
