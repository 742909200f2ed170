// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/fit.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

namespace jointer::fit {

using Eigen::Index, Eigen::MatrixXd;

namespace {

// A free parameter: its place among the members and among the directions of error.
struct Row {
    std::string name;
    Index first = 0; // of the member's own directions
    std::size_t member = 0, parameter = 0;
};

// Those of each member, then the common ones, each once.
std::vector<Row> rowsOf(const FitReport& report) {
    std::vector<Row> own, common;
    std::set<std::string> seen;
    Index first = 0;
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        const MemberReport& member = report.members[m];
        for (std::size_t k = 0; k < member.parameters.size(); ++k) {
            const ParameterResult& p = member.parameters[k];
            if (p.treatment != Treatment::Free) continue;
            if (!p.shared)
                own.push_back(
                    {report.members.size() > 1 ? p.name + " of " + member.name : p.name, first, m, k});
            else if (seen.insert(p.name).second)
                common.push_back({p.name, first, m, k});
        }
        first += member.own;
    }
    std::ranges::move(common, std::back_inserter(own));
    return own;
}

} // namespace

Correlation correlation(const FitReport& report) {
    const std::vector<Row> rows = rowsOf(report);
    Index own = 0, common = 0;
    for (const MemberReport& member : report.members) {
        own += member.own;
        common = std::max(common, member.root.cols() - member.own);
    }
    MatrixXd all = MatrixXd::Zero(std::ssize(rows), own + common); // over all directions
    Correlation out;
    for (Index i = 0; i < all.rows(); ++i) {
        const Row& row = rows[static_cast<std::size_t>(i)];
        const MemberReport& member = report.members[row.member];
        out.names.push_back(row.name);
        const ParameterResult& p = member.parameters[row.parameter];
        out.places.push_back({row.member, p.name});
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
