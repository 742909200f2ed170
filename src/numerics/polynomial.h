// SPDX-License-Identifier: GPL-3.0-or-later
// A polynomial through points by weighted least squares, built of polynomials that are orthogonal over them.
#pragma once

#include <span>
#include <vector>

namespace jointer::numerics {

// Where there are fewer distinct x of positive weight than the degree needs, the degree is lowered.
// Source: G. E. Forsythe, J. SIAM 5 (1957) 74.
class PolynomialFit {
public:
    // Shape: ys like xs; weights empty (all alike) or like xs. Requires: at least one point.
    PolynomialFit(std::span<const double> xs, std::span<const double> ys, int degree,
                  std::span<const double> weights = {});
    double operator()(double x) const;
    int degree() const { return static_cast<int>(terms_.size()) - 1; }

private:
    struct Term {
        double centre, ratio, coefficient; // of the recurrence that makes the next one
    };
    double middle_ = 0, scale_ = 1;
    std::vector<Term> terms_;
};

} // namespace jointer::numerics
