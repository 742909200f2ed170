// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/savitzky_golay.h"

#include "numerics/local_polynomial.h"

namespace jointer::numerics {

std::vector<double> savitzkyGolayWeights(int window, int order, int at, int derivative) {
    std::vector<double> places, weights(static_cast<std::size_t>(window));
    for (int i = 0; i < window; ++i) places.push_back(i);
    localPolynomialWeights(places, {}, at, order, derivative, weights);
    return weights;
}

} // namespace jointer::numerics
