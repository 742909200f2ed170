// SPDX-License-Identifier: GPL-3.0-or-later
// Distributions of the largest of several studentised differences of means, for comparing many groups at
// once. Each is laid out once for its groups; what is asked of it then costs little.
#pragma once

#include <cstddef>
#include <vector>

namespace jointer::stats {

// The probability of a largest difference where σ is known, tabulated; divided by a standard deviation from
// `dof` degrees of freedom (infinite: σ is known) it gives what is asked. Tails are good to 10⁻¹⁰.
class LargestDifference {
public:
    double tail(double t, double dof) const;        // P(T > t); NaN for NaN
    double quantile(double tail, double dof) const; // the t of that tail

protected:
    template <class F> explicit LargestDifference(F insideOfKnown); // P(T ≤ t), σ known

private:
    double known(double t) const;
    std::vector<double> table_;
};

// The studentised range of so many means. Requires: groups ≥ 2. Source: H. O. Hartley, Biometrika 32 (1942)
// 309, by quadrature.
class StudentisedRange : public LargestDifference {
public:
    explicit StudentisedRange(std::size_t groups);
};

// Comparisons of each of several groups with one control by a common standard deviation: the largest |t|.
// `counts`: values of each group, `control`: of the control. Source: C. W. Dunnett, J. Am. Stat. Assoc. 50
// (1955) 1096, by quadrature.
class LargestFromControl : public LargestDifference {
public:
    LargestFromControl(const std::vector<double>& counts, double control);
};

} // namespace jointer::stats
