// SPDX-License-Identifier: GPL-3.0-or-later
// Householder triangularisation of a matrix with right-hand sides beside it, in place and without memory of
// its own: the solver's inner loop, where problems are often tiny.
#pragma once

#include <Eigen/Dense>
#include <span>

namespace jointer::fit {

// Turns the first `steps` columns of `a` into an upper triangle; all further columns (right-hand sides) are
// multiplied by the same orthogonal matrix. Below the triangle nothing is defined afterwards.
// Source: G. H. Golub, C. F. Van Loan, Matrix Computations, 4th ed. (2013), algorithm 5.2.1.
void triangularise(Eigen::MatrixXd& a, Eigen::Index steps);

// The same triangle of a tall matrix, each column divided by its scale (about its length), from products of the
// columns: a few times quicker, with half of the digits where columns are nearly dependent. Shape: `columns` and
// `right` have `rows` numbers each; gives as many rows as there are columns, and one column more, of the
// right-hand side. Empty: the columns are too nearly dependent for it, or so small that their squares vanish.
Eigen::MatrixXd quickTriangle(std::span<const double* const> columns, Eigen::Index rows, const double* right,
                              const Eigen::VectorXd& scale);

// Solves the triangle of the first m columns against the given column; zero where a pivot is zero.
Eigen::VectorXd backSubstituted(const Eigen::MatrixXd& a, Eigen::Index m, Eigen::Index column);

} // namespace jointer::fit
