// SPDX-License-Identifier: GPL-3.0-or-later
// Random numbers by a seed. Own distributions: the library's differ from one implementation to the next.
#pragma once

#include <cmath>
#include <cstdint>
#include <numbers>
#include <random>

namespace jointer::numerics {

class Random {
public:
    explicit Random(std::uint64_t seed) : engine_(seed * 0x9E3779B97F4A7C15ULL + 1) {}
    double uniform() { return (static_cast<double>(engine_() >> 11) + 0.5) * 0x1p-53; } // between 0 and 1
    std::size_t below(std::size_t n) { return static_cast<std::size_t>(uniform() * static_cast<double>(n)); }
    // Source: G. E. P. Box, M. E. Muller, Ann. Math. Statist. 29 (1958) 610.
    double normal() {
        const double u = uniform(), v = uniform();
        return std::sqrt(-2 * std::log(u)) * std::cos(2 * std::numbers::pi * v);
    }

private:
    std::mt19937_64 engine_;
};

} // namespace jointer::numerics
