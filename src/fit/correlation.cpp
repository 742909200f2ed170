// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/fit.h"

#include <cmath>
#include <set>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd;

// Rows of all free parameters over all directions: those of each member, then the common ones.
Correlation correlation(const FitReport& report) {
    struct Row {
        std::string name;
        Index first = 0; // of the member's own directions
        std::size_t member = 0, parameter = 0;
    };
    std::vector<Row> rows;
    Index own = 0, common = 0;
    std::vector<Index> first;
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        const MemberReport& member = report.members[m];
        first.push_back(own);
        own += member.own;
        common = std::max(common, member.root.cols() - member.own);
        for (std::size_t k = 0; k < member.parameters.size(); ++k) {
            const ParameterResult& p = member.parameters[k];
            if (p.treatment == Treatment::Free && !p.shared)
                rows.push_back(
                    {report.members.size() > 1 ? p.name + " of " + member.name : p.name, first.back(), m, k});
        }
    }
    std::set<std::string> seen;
    for (std::size_t m = 0; m < report.members.size(); ++m)
        for (std::size_t k = 0; k < report.members[m].parameters.size(); ++k) {
            const ParameterResult& p = report.members[m].parameters[k];
            if (p.treatment == Treatment::Free && p.shared && seen.insert(p.name).second)
                rows.push_back({p.name, first[m], m, k});
        }
    MatrixXd all = MatrixXd::Zero(std::ssize(rows), own + common);
    Correlation out;
    for (Index i = 0; i < all.rows(); ++i) {
        const Row& row = rows[static_cast<std::size_t>(i)];
        const MemberReport& member = report.members[row.member];
        out.names.push_back(row.name);
        const ParameterResult& p = member.parameters[row.parameter];
        if (member.root.size() == 0 || !p.determined || p.atLimit) {
            all.row(i).setConstant(std::nan(""));
            continue;
        }
        const Eigen::RowVectorXd r = member.root.row(static_cast<Index>(row.parameter));
        all.row(i).segment(row.first, member.own) = r.head(member.own);
        all.row(i).tail(common) = r.tail(common);
        all.row(i) /= all.row(i).norm();
    }
    out.values = all * all.transpose();
    for (Index i = 0; i < all.rows(); ++i)
        if (report.members[rows[static_cast<std::size_t>(i)].member].root.size() > 0) out.values(i, i) = 1;
    return out;
}

} // namespace jointer::fit
