// SPDX-License-Identifier: GPL-3.0-or-later
// The covariance of quantities, as rows over independent directions of error: those of a block (a member of a
// fit) and those that all share. So a thousand members cost a thousand times one, and what is computed from
// several quantities has its error with the correlations.
#pragma once

#include <Eigen/Dense>
#include <span>
#include <vector>

namespace jointer::analyses {

struct ErrorRow {
    int block = -1; // whose directions `own` are; −1: none
    Eigen::RowVectorXd own{};
    Eigen::RowVectorXd common{};
    bool known = true;
};

class Covariance {
public:
    void add(ErrorRow row) { rows_.push_back(std::move(row)); }
    std::size_t size() const { return rows_.size(); }
    bool empty() const { return rows_.empty(); }
    const ErrorRow& row(std::size_t quantity) const { return rows_[quantity]; }

    // Of two quantities by their places; NaN where one is not known.
    double of(std::size_t a, std::size_t b) const;
    // The standard error of Σ gradient[i]·quantity[i]. Shape: as many as there are quantities.
    double error(std::span<const double> gradient) const;

private:
    std::vector<ErrorRow> rows_;
};

} // namespace jointer::analyses
