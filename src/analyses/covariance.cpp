// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/covariance.h"

#include <cmath>
#include <map>

namespace jointer::analyses {

double Covariance::of(std::size_t a, std::size_t b) const {
    const ErrorRow &p = rows_[a], &q = rows_[b];
    if (!p.known || !q.known) return std::nan("");
    double sum = 0;
    if (p.block == q.block && p.block >= 0) sum += p.own.dot(q.own);
    if (p.common.size() > 0 && q.common.size() > 0) sum += p.common.dot(q.common);
    return sum;
}

double Covariance::error(std::span<const double> gradient) const {
    std::map<int, Eigen::RowVectorXd> own;
    Eigen::RowVectorXd common;
    auto add = [](Eigen::RowVectorXd& to, double factor, const Eigen::RowVectorXd& row) {
        if (row.size() == 0) return;
        if (to.size() == 0) to = Eigen::RowVectorXd::Zero(row.size());
        to += factor * row;
    };
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (gradient[i] == 0) continue;
        if (!rows_[i].known) return std::nan("");
        if (rows_[i].block >= 0) add(own[rows_[i].block], gradient[i], rows_[i].own);
        add(common, gradient[i], rows_[i].common);
    }
    double sum = common.squaredNorm();
    for (const auto& [block, row] : own) sum += row.squaredNorm();
    return std::sqrt(sum);
}

} // namespace jointer::analyses
