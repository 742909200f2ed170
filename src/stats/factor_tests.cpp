// SPDX-License-Identifier: GPL-3.0-or-later
// Analyses of variance of two factors, and of values measured again on the same subjects.
#include "stats/test_tools.h"

#include <Eigen/Dense>
#include <algorithm>
#include <fmt/format.h>

namespace jointer::stats {

namespace {

using Eigen::Index;
using Eigen::MatrixXd;
using Eigen::VectorXd;

// The cells of two factors that hold values, as weighted observations of their means.
class Cells {
public:
    explicit Cells(const TwoFactors& f) : a_(f.cells.size()), b_(f.secondLevels.size()) {
        double origin = NAN;
        for (std::size_t i = 0; i < a_; ++i)
            for (std::size_t j = 0; j < b_; ++j) {
                const Moments m = momentsOf(f.cells[i][j]);
                if (m.n == 0) {
                    ++empty_;
                    continue;
                }
                if (std::isnan(origin)) origin = m.mean;
                cells_.push_back({i, j, m.n, m.mean - origin});
                n_ += m.n;
                within_ += m.squares;
            }
    }

    struct Left {
        double squares = 0;
        Index rank = 0;
    };

    // What a model of the chosen terms leaves of the means: weighted sum of squares, and its rank.
    Left left(bool first, bool second, bool both) const {
        const auto rows = static_cast<Index>(cells_.size());
        std::vector<VectorXd> columns{VectorXd::Ones(rows)};
        const auto addAll = [&](bool ofFirst, bool ofSecond) {
            for (std::size_t i = 1; i < (ofFirst ? a_ : 2); ++i)
                for (std::size_t j = 1; j < (ofSecond ? b_ : 2); ++j) {
                    VectorXd c(rows);
                    for (Index r = 0; r < rows; ++r) {
                        const Cell& cell = cells_[static_cast<std::size_t>(r)];
                        c[r] = (ofFirst ? contrast(cell.i, i) : 1) * (ofSecond ? contrast(cell.j, j) : 1);
                    }
                    columns.push_back(std::move(c));
                }
        };
        if (first) addAll(true, false);
        if (second) addAll(false, true);
        if (both) addAll(true, true);
        MatrixXd x(rows, static_cast<Index>(columns.size()));
        VectorXd y(rows);
        for (Index r = 0; r < rows; ++r) {
            const Cell& cell = cells_[static_cast<std::size_t>(r)];
            const double weight = std::sqrt(cell.n);
            for (std::size_t c = 0; c < columns.size(); ++c)
                x(r, static_cast<Index>(c)) = weight * columns[c][r];
            y[r] = weight * cell.mean;
        }
        Eigen::ColPivHouseholderQR<MatrixXd> qr(x);
        qr.setThreshold(1e-10);
        return {(y - x * qr.solve(y)).squaredNorm(), qr.rank()};
    }

    double n() const { return n_; }
    double within() const { return within_; }
    double dofWithin() const { return n_ - static_cast<double>(cells_.size()); }
    std::size_t empty() const { return empty_; }

private:
    struct Cell {
        std::size_t i, j;
        double n, mean;
    };
    // Contrasts that sum to nought over the levels: level 0 has −1 in each.
    static double contrast(std::size_t level, std::size_t column) {
        return level == 0 ? -1 : level == column ? 1 : 0;
    }

    std::size_t a_, b_;
    std::vector<Cell> cells_;
    double n_ = 0, within_ = 0;
    std::size_t empty_ = 0;
};

} // namespace

Result<TestResult> twoWayTest(const Design& d) {
    const TwoFactors& f = *d.factors;
    if (f.firstLevels.size() < 2 || f.secondLevels.size() < 2)
        return cannotTest("Each of the two factors needs two levels at least.");
    const Cells cells(f);
    const bool repeated = cells.dofWithin() > 0;
    const Cells::Left none = cells.left(true, true, true), additive = cells.left(true, true, false);
    const bool third = d.squares == 3 && repeated;
    const Cells::Left whole = third ? none : additive;
    const Cells::Left noFirst = cells.left(false, true, third), noSecond = cells.left(true, false, third);
    const double error = repeated ? cells.within() : additive.squares;
    const double dofError = repeated ? cells.dofWithin() : cells.n() - static_cast<double>(additive.rank);
    if (!(dofError > 0) || !(error > 0))
        return cannotTest("There are too few values: nothing is left for the scatter.");
    TestResult r{.test = "two-way-anova", .statisticName = "F"};
    const auto add = [&](const std::string& name, const Cells::Left& without, const Cells::Left& with) {
        VarianceTerm t{.name = name, .squares = std::max(0.0, without.squares - with.squares)};
        t.dof = static_cast<double>(with.rank - without.rank);
        if (t.dof > 0) {
            t.f = t.squares / t.dof / (error / dofError);
            t.p = tailOfF(t.f, t.dof, dofError);
            t.share = t.squares / (t.squares + error);
        }
        r.terms.push_back(std::move(t));
    };
    add(f.first, noFirst, whole);
    add(f.second, noSecond, whole);
    if (repeated) add(f.first + " × " + f.second, additive, none);
    r.terms.push_back({repeated ? "within cells" : "what both leave", error, dofError});
    const VarianceTerm& first = r.terms.front();
    r.statistic = first.f, r.p = first.p;
    r.dof = {first.dof, dofError};
    r.effect = {.name = "partial eta squared", .value = first.share};
    r.notes.push_back(
        third ? "Sums of squares of type III: each term beside all others."
              : "Sums of squares of type II: each factor beside the other, the interaction beside both.");
    if (!repeated)
        r.notes.push_back(
            "There is one value in each cell: what both factors leave serves as the scatter, and an "
            "interaction cannot be seen.");
    if (cells.empty() > 0)
        r.notes.push_back(fmt::format("{} of the cells hold no value{}.", cells.empty(),
                                      third ? ": sums of type III say little then" : ""));
    return r;
}

namespace {

// Subjects by groups, without the means of the groups; and the sums that an analysis of variance takes.
struct Blocks {
    Index subjects, groups;
    MatrixXd values;
    double ofGroups = 0, ofSubjects = 0, left = 0;

    explicit Blocks(const std::vector<std::vector<double>>& given)
        : subjects(static_cast<Index>(given.size())), groups(static_cast<Index>(given[0].size())),
          values(subjects, groups) {
        for (Index s = 0; s < subjects; ++s)
            for (Index g = 0; g < groups; ++g)
                values(s, g) = given[static_cast<std::size_t>(s)][static_cast<std::size_t>(g)] - given[0][0];
        values.array() -= values.mean();
        const VectorXd bySubject = values.rowwise().mean();
        const Eigen::RowVectorXd byGroup = values.colwise().mean();
        ofGroups = static_cast<double>(subjects) * byGroup.squaredNorm();
        ofSubjects = static_cast<double>(groups) * bySubject.squaredNorm();
        MatrixXd rest = values;
        rest.colwise() -= bySubject;
        rest.rowwise() -= byGroup;
        left = rest.squaredNorm();
    }

    // How far the differences between groups are from having one variance: 1 where they have, 1/(k − 1) at
    // worst. Source: S. Geisser, S. W. Greenhouse, Ann. Math. Statist. 29 (1958) 885.
    double sphericity() const {
        MatrixXd centred = values.rowwise() - values.colwise().mean().eval();
        MatrixXd s = centred.transpose() * centred / static_cast<double>(subjects - 1);
        s.colwise() -= s.rowwise().mean().eval();
        s.rowwise() -= s.colwise().mean().eval();
        return s.trace() * s.trace() / (static_cast<double>(groups - 1) * s.squaredNorm());
    }
};

} // namespace

Result<TestResult> repeatedTest(const Design& d) {
    const auto k = static_cast<double>(d.groups.size()), n = static_cast<double>(d.subjects.size());
    if (n < 2) return cannotTest("Two subjects with a value in each group are needed at least.");
    const Blocks b(d.subjects);
    const double dof = (n - 1) * (k - 1);
    if (!(b.left > 0)) return cannotTest("All subjects go alike: nothing scatters.");
    TestResult r{.test = "repeated-measures", .statisticName = "F", .dof = {k - 1, dof}};
    r.statistic = b.ofGroups / (k - 1) / (b.left / dof);
    r.p = tailOfF(r.statistic, k - 1, dof);
    r.effect = {.name = "partial eta squared", .value = b.ofGroups / (b.ofGroups + b.left)};
    r.terms = {{"between groups", b.ofGroups, k - 1, r.statistic, r.p, r.effect.value},
               {"between subjects", b.ofSubjects, n - 1},
               {"what both leave", b.left, dof}};
    if (k > 2) {
        const double epsilon = b.sphericity();
        r.notes.push_back(
            fmt::format("With the correction of Greenhouse and Geisser (ε = {:.3g}) p is {:.3g}.", epsilon,
                        tailOfF(r.statistic, epsilon * (k - 1), epsilon * dof)));
    }
    for (std::size_t i = 0; i < d.groups.size(); ++i)
        for (std::size_t j = i + 1; j < d.groups.size(); ++j) {
            Design two{.level = d.level};
            for (const auto& s : d.subjects) two.subjects.push_back({s[i], s[j]});
            if (const auto pair = pairedTest(two))
                r.pairs.push_back({i, j, pair->difference, pair->low, pair->high, pair->p});
        }
    adjustByHolm(r.pairs);
    if (!r.pairs.empty())
        r.notes.push_back(
            "Pairs by the differences within subjects; p after Holm, each interval for its pair alone.");
    return r;
}

} // namespace jointer::stats
