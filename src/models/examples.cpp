// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/examples.h"

#include <algorithm>

namespace jointer::models {

namespace {

const std::vector<Example>& all() {
    static const std::vector<Example> examples = {
        {"constant", {3}, 0, 10},
        {"line", {3, -0.4}, -5, 20},
        {"polynomial-2", {1, -2, 0.3}, -5, 10},
        {"polynomial-3", {1, -2, 0.3, 0.1}, -5, 5},
        {"polynomial-4", {1, 0, -8, 0, 8}, -1, 1}, // from here on those of Chebyshev, that differ to the eye
        {"polynomial-5", {0, 5, 0, -20, 0, 16}, -1, 1},
        {"polynomial-6", {-1, 0, 18, 0, -48, 0, 32}, -1, 1},
        {"polynomial-7", {0, -7, 0, 56, 0, -112, 0, 64}, -1, 1},
        {"polynomial-8", {1, 0, -32, 0, 160, 0, -256, 0, 128}, -1, 1},
        {"polynomial-9", {0, 9, 0, -120, 0, 432, 0, -576, 0, 256}, -1, 1},
        {"broken-line", {5, 0.5, -1.5, 12}, 0, 20},
        {"exponential-decay", {4, 0.5, 1}, 0, 10},
        {"exponential-growth", {2, 0.35}, 0, 8},
        {"exponential-decay-2", {6, 2.5, 3, 0.25, 1}, 0, 15},
        {"exponential-decay-3", {6, 6, 4, 0.8, 3, 0.1, 1}, 0, 40},
        {"exponential-rise", {1, 6, 0.4}, 0, 12},
        {"stretched-exponential", {5, 0.6, 0.6, 0.5}, 0, 20},
        {"rise-and-fall", {8, 1.2, 6}, 0, 30},
        {"second-order-decay", {5, 3}, 0, 20},
        {"nth-order-decay", {5, 1.6, 3}, 0, 20},
        {"zero-order-decay", {5, 0.6}, 0, 12},
        {"power", {2, 1.4}, 0.5, 20},
        {"power-offset", {2, 3, 0.7}, 0, 20},
        {"rating-curve", {4, 0.8, 1.8}, 1, 6},
        {"square-root", {1, 3}, 0, 25},
        {"logarithm", {1, 2}, 0.1, 100, true},
        {"hyperbola", {1, 8, 2}, 0, 30},
        {"rational", {1, 3, 0.4}, 0, 20},
        {"ramp", {1, 5, 6, 13}, 0, 20},
        {"logistic-4", {0.1, 2, 5, 1.5}, 0.05, 500, true},
        {"logistic-3", {2, 5, 1.4}, 0.05, 500, true},
        {"logistic-5", {0.1, 2, 6, 1.3, 0.6}, 0.02, 2000, true},
        {"logistic-growth", {8, 0.7, 9}, 0, 20},
        {"gompertz", {8, 0.5, 7}, 0, 20},
        {"richards", {8, 0.4, 0.6, 8}, 0, 22},
        {"von-bertalanffy", {9, 0.25, -1}, 0, 20},
        {"weibull", {5, 0.5, 6, 2.2}, 0, 18},
        {"hill", {0.5, 4, 6, 2}, 0, 40},
        {"error-function", {1, 6, 9, 1.5}, 0, 20},
        {"biphasic", {0.2, 3, 0.3, 2, 60}, 0.005, 3000, true},
        {"saturation", {5, 4}, 0, 40},
        {"saturation-line", {5, 2, 0.1}, 0, 40},
        {"saturation-2", {5, 0.5, 6, 40}, 0.02, 800, true},
        {"cooperative", {5, 8, 2.4}, 0, 40},
        {"substrate-inhibition", {9, 3, 12}, 0.1, 80, true},
        {"tight-binding", {0.5, 4, 6, 0.6}, 0, 20},
        {"langmuir", {5, 0.3}, 0, 30},
        {"freundlich", {2, 2.2}, 0.1, 30},
        {"bet", {3, 60}, 0.03, 0.4},
        {"arrhenius", {3e7, 52000}, 280, 360},
        {"eyring", {61000, -45}, 280, 350},
        {"vant-hoff", {-42000, -120}, 280, 350},
        {"sinusoid", {3, 2, 5.3, 1.1}, 0, 31},
        {"damped-sinusoid", {1, 4, 9, 3.1, 0.4}, 0, 30},
        {"harmonics", {3, 7, 2, 1, 0.5, -0.4, 0.2, 0.1}, 0, 40},
        {"tide", {2, 1, 0.5, 0.3, -0.2, 0.2, 0.1, 0.1, 0.3, -0.2, 0.1}, 0, 800},
        {"pseudo-voigt", {6, 4, 1.5, 0.4}, 0, 12},
        {"pearson-7", {6, 4, 1.5, 1.7}, 0, 12},
        {"split-gaussian", {6, 4, 2.5, 0.35}, 0, 14},
        {"split-lorentzian", {6, 4, 1.5, -0.3}, 0, 14},
        {"log-normal", {5, 4, 4}, 0.2, 20},
        {"fano", {6, 4, 1.5, 2.2}, 0, 12},
        {"split-pseudo-voigt", {6, 4, 1.5, 0.4, 0.25}, 0, 12},
        {"voigt", {6, 4, 1.2, 0.8}, 0, 12},
        {"exponentially-modified-gaussian", {5, 4, 1.2, 1.5}, 0, 20},
        {"doniach-sunjic", {6, 4, 1.5, 0.15}, 0, 12},
        {"line-sections", {4, 1, -0.5, 2, 6, 13}, 0, 20},
        {"power-sections", {3, 0.5, 2, 5}, 0.5, 20, true},
        {"step", {1, 5, 9, 0.8}, 0, 20},
        {"pulse", {1, 4, 6, 13, 0.7}, 0, 20},
        {"consecutive", {5, 0.8, 0.2}, 0, 20},
        {"absorption-elimination", {5, 1.2, 0.15}, 0, 24},
        {"two-compartments", {6, 1.5, 3, 0.15}, 0, 24},
        {"inhibition", {9, 3, 2}, 0.2, 30},
        {"shifted-response", {0.2, 4, 5, 1.3, 2, 1}, 0.05, 3000, true},
        {"competition", {0.3, 4, 6}, 0.05, 600, true},
        {"antoine", {7.2, 1700, 230}, 10, 110},
        {"gaussian", {6, 4, 2.5}, 0, 12},
        {"lorentzian", {6, 4, 1.5}, 0, 12},
        {"sphere", {60, 1e-6, 0.02, 0.01}, 0.003, 0.3, true, true},
        {"core-shell", {50, 20, 1e-6, 3e-6, 0.02, 0.01}, 0.003, 0.3, true, true},
        {"hollow-sphere", {80, 20, 1e-6, 0.02, 0.01}, 0.003, 0.3, true, true},
        {"ellipsoid", {30, 3, 1e-6, 0.02, 0.01}, 0.003, 0.3, true, true},
        {"cylinder", {20, 300, 1e-6, 0.02, 0.01}, 0.003, 0.3, true, true},
        {"disc", {100, 15, 1e-6, 0.02, 0.01}, 0.003, 0.3, true, true},
        {"bilayer", {0.02, 40, 1e-6, 0.01}, 0.003, 0.3, true, true},
        {"chain", {5, 60, 0.01}, 0.003, 0.3, true, true},
        {"guinier", {5, 40, 0.01}, 0.003, 0.3, true, true},
        {"guinier-porod", {5, 50, 3.5, 0, 0.001}, 0.003, 0.3, true, true},
        {"q-power-law", {1e-6, 3.2, 0.01}, 0.003, 0.3, true, true},
        {"correlation-length", {5, 50, 2, 0.01}, 0.003, 0.3, true, true},
    };
    return examples;
}

} // namespace

const Example* exampleOf(std::string_view key) {
    const auto at = std::ranges::find(all(), key, &Example::key);
    return at == all().end() ? nullptr : &*at;
}

} // namespace jointer::models
