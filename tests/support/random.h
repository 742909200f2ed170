// SPDX-License-Identifier: GPL-3.0-or-later
// Random numbers by seed for generators of tests: the same on every machine that has the same library.
#pragma once

#include <algorithm>
#include <cmath>
#include <random>
#include <vector>

namespace jointer::test {

struct Random {
    std::mt19937_64 engine;

    explicit Random(unsigned seed) : engine(seed) {}
    std::size_t below(std::size_t n) { return engine() % n; }
    double between(double low, double high) { return std::uniform_real_distribution(low, high)(engine); }
    double normal() { return std::normal_distribution<double>(0, 1)(engine); }
    double ofAnySize(double lowest, double highest) { // powers of ten, of either sign
        return (below(2) ? 1 : -1) * std::pow(10, between(lowest, highest));
    }
    std::vector<double> values(std::size_t n, double low, double high) {
        std::vector<double> out(n);
        for (double& v : out) v = between(low, high);
        return out;
    }
    std::vector<double> ascending(std::size_t n, double low, double high) {
        std::vector<double> out = values(n, low, high);
        std::ranges::sort(out);
        return out;
    }
};

} // namespace jointer::test
