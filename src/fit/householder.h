// SPDX-License-Identifier: GPL-3.0-or-later
// Householder triangularisation of a matrix with right-hand sides beside it, in place and without memory of
// its own: the solver's inner loop, where problems are often tiny.
#pragma once

#include <Eigen/Dense>

namespace jointer::fit {

// Turns the first `steps` columns of `a` into an upper triangle; all further columns (right-hand sides) are
// multiplied by the same orthogonal matrix. Below the triangle nothing is defined afterwards.
// Source: G. H. Golub, C. F. Van Loan, Matrix Computations, 4th ed. (2013), algorithm 5.2.1.
void triangularise(Eigen::MatrixXd& a, Eigen::Index steps);

// The same triangle from products of the columns, for matrices that are tall and whose columns have length
// one: a few times quicker, with half of the digits. Shape: the columns of `a`, then the right-hand side;
// gives as many rows as `a` has columns. Empty: the columns are too nearly dependent for it.
Eigen::MatrixXd quickTriangle(const Eigen::MatrixXd& a, const Eigen::VectorXd& right);

// Solves the triangle of the first m columns against the given column; zero where a pivot is zero.
Eigen::VectorXd backSubstituted(const Eigen::MatrixXd& a, Eigen::Index m, Eigen::Index column);

} // namespace jointer::fit
