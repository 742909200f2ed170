// SPDX-License-Identifier: GPL-3.0-or-later
// Integrals and sums within a formula: a program over one more name that runs from one value to another.
#pragma once

#include "formula/program.h"

namespace jointer::formula {

struct Program::Inner {
    Program program; // its last input is the name that runs
    bool sum = false;
    bool usesRow = false;       // names that vary by row
    std::vector<int> variables; // that it has slopes by
};

// ∫ or Σ of one row. Shape: `inputs` are those of the row, `gradient` has an entry for each differentiated
// name of the program, added to. NaN: where the integrand is not defined, or the quadrature does not settle.
// Errors: relative 10⁻¹⁰ (numerics/quadrature.h).
class InnerRun {
public:
    InnerRun(const Program::Inner& inner, std::span<const double> scalars, std::size_t variables,
             bool slopes);

    double over(std::span<const double> inputs, double from, double to, std::span<double> gradient);
    // The integrand, or summand, at one place.
    double at(std::span<const double> inputs, double place);

private:
    double integral(double from, double to, std::span<double> gradient);
    double sum(std::span<const double> inputs, double from, double to, std::span<double> gradient);
    void evaluate(std::size_t count);
    void setRow(std::span<const double> inputs, std::size_t count);

    const Program::Inner& inner_;
    std::span<const double> scalars_;
    std::size_t variables_;
    bool slopes_;
    std::vector<double> nodes_, values_, gradients_;
    std::vector<std::vector<double>> columns_;
};

} // namespace jointer::formula
