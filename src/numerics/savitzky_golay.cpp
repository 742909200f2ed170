// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/savitzky_golay.h"

#include <Eigen/Dense>
#include <cmath>

namespace jointer::numerics {

std::vector<double> savitzkyGolayWeights(int window, int order, int at) {
    // Abscissas within ±1 keep the powers well conditioned.
    const double middle = 0.5 * (window - 1), half = std::max(middle, 1.0);
    Eigen::MatrixXd powers(window, order + 1);
    Eigen::VectorXd here(order + 1);
    for (int k = 0; k <= order; ++k) {
        for (int i = 0; i < window; ++i) powers(i, k) = std::pow((i - middle) / half, k);
        here[k] = std::pow((at - middle) / half, k);
    }
    // With powers = QR the value is hereᵀR⁻¹Qᵀy.
    const Eigen::HouseholderQR<Eigen::MatrixXd> qr(powers);
    const Eigen::MatrixXd r = qr.matrixQR().topRows(order + 1).triangularView<Eigen::Upper>();
    Eigen::VectorXd w = Eigen::VectorXd::Zero(window);
    w.head(order + 1) = r.transpose().triangularView<Eigen::Lower>().solve(here);
    w.applyOnTheLeft(qr.householderQ());
    return {w.begin(), w.end()};
}

} // namespace jointer::numerics
