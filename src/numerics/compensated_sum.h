// SPDX-License-Identifier: GPL-3.0-or-later
// Summation whose error does not grow with the number of terms.
// Source: A. Neumaier, Z. Angew. Math. Mech. 54 (1974) 39.
#pragma once

#include <cmath>

namespace jointer::numerics {

class CompensatedSum {
public:
    void add(double term) {
        const double next = sum_ + term;
        lost_ += std::abs(sum_) >= std::abs(term) ? (sum_ - next) + term : (term - next) + sum_;
        sum_ = next;
    }
    double value() const { return sum_ + lost_; }

private:
    double sum_ = 0, lost_ = 0;
};

} // namespace jointer::numerics
