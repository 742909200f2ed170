// SPDX-License-Identifier: GPL-3.0-or-later
// Errors in both variables: the distance of each point from the curve in units of its errors, taken at the
// nearest place of the curve.
#pragma once

#include "models/model.h"

#include <Eigen/Dense>

namespace jointer::fit {

// d = ±√(((y − f(x+δ))/σ)² + (δ/σx)²) at the δ that makes it least, and ∂d/∂p = −∂f/∂p/√(σ² + f′²σx²), which
// is exact there. J, where asked, is ∂f/∂p/√…, as for residuals. Returns false where the model has no value.
// Shape: all have n entries; J is n × parameters. Errors of zero are none: such a point stays at its x.
// Source: P. T. Boggs, R. H. Byrd, R. B. Schnabel, SIAM J. Sci. Stat. Comput. 8 (1987) 1052.
bool orthogonalDistances(const models::Model& model, models::Predictors xs,
                         std::span<const double> parameters, std::span<const double> y,
                         std::span<const double> sigma, std::span<const double> sigmaX, Eigen::VectorXd& d,
                         Eigen::MatrixXd* J);

} // namespace jointer::fit
