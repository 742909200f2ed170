// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/residual_tests.h"

#include "base/text.h"
#include "stats/group_tests.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>

namespace jointer::fit {

namespace {

constexpr std::size_t kFewestForScatter = 12, kFewestForRuns = 12;
constexpr std::size_t kFewestForNormal = 5, kMostForNormal = 5000;
constexpr double kDoubtful = 0.005; // of each test that warns

// n·R² of one variable on another and a constant; and whether they go the same way.
struct Association {
    double score = NAN;
    bool grows = false;
};

Association associationOf(const std::vector<double>& u, const std::vector<double>& v) {
    const auto n = static_cast<double>(u.size());
    double meanU = 0, meanV = 0, uu = 0, vv = 0, uv = 0;
    for (std::size_t i = 0; i < u.size(); ++i) meanU += u[i] / n, meanV += v[i] / n;
    for (std::size_t i = 0; i < u.size(); ++i) {
        uu += (u[i] - meanU) * (u[i] - meanU);
        vv += (v[i] - meanV) * (v[i] - meanV);
        uv += (u[i] - meanU) * (v[i] - meanV);
    }
    constexpr double kAllAlike = 1e-20; // of the mean squared: rounding
    if (!(uu > kAllAlike * meanU * meanU * n) || !(vv > kAllAlike * meanV * meanV * n)) return {};
    return {n * uv * uv / (uu * vv), uv > 0};
}

std::optional<ScatterTest> scatterTest(const FitReport& report, const std::vector<Influence>& influences) {
    double score = 0, dof = 0, direction = 0;
    for (std::size_t m = 0; m < influences.size(); ++m) {
        if (influences[m].standardised.size() < kFewestForScatter) continue;
        std::vector<double> squares;
        for (double r : influences[m].standardised) squares.push_back(r * r);
        const Association found = associationOf(squares, report.members[m].fitted);
        if (std::isnan(found.score)) continue;
        score += found.score;
        direction += found.grows ? found.score : -found.score;
        ++dof;
    }
    if (dof == 0) return {};
    return ScatterTest{boost::math::cdf(complement(boost::math::chi_squared(dof), score)), direction > 0};
}

// Squares about the mean of each level of the predictors, and how many are free.
struct PureError {
    double squares = 0, dof = 0;
};

PureError pureErrorOf(const FitMember& member) {
    struct Level {
        double weight = 0, mean = 0, squares = 0;
        int n = 0;
    };
    std::map<std::vector<double>, Level> levels;
    for (std::size_t i = 0; i < member.y.size(); ++i) {
        std::vector<double> at;
        for (const auto& column : member.predictors) at.push_back(column[i]);
        Level& level = levels[at]; // squares by the running mean: nothing cancels
        const double w = member.weight(i), off = member.y[i] - level.mean;
        level.weight += w;
        level.mean += w / level.weight * off;
        level.squares += w * off * (member.y[i] - level.mean);
        ++level.n;
    }
    PureError out;
    for (const auto& [at, level] : levels) out.squares += level.squares, out.dof += level.n - 1;
    return out;
}

std::optional<LackOfFit> lackOfFit(const FitProblem& problem, const FitReport& report) {
    if (problem.loss != Loss::Squares) return {};
    PureError pure;
    for (const FitMember& member : problem.members) {
        if (!member.sigmaX.empty()) return {};
        const PureError own = pureErrorOf(member);
        pure.squares += own.squares;
        pure.dof += own.dof;
    }
    LackOfFit t{.dof = {static_cast<double>(report.dof) - pure.dof, pure.dof}};
    if (!(pure.dof >= 1) || !(t.dof[0] >= 1)) return {};
    const double missed = std::max(0.0, report.rss - pure.squares);
    t.pureSd = std::sqrt(pure.squares / pure.dof);
    if (problem.absolute) {
        t.statistic = missed;
        t.p = boost::math::cdf(complement(boost::math::chi_squared(t.dof[0]), missed));
        t.dof[1] = 0;
        return t;
    }
    t.statistic = missed / t.dof[0] / (pure.squares / pure.dof);
    if (!std::isfinite(t.statistic)) return {}; // replicates that are all the same tell of no scatter
    t.p = boost::math::cdf(complement(boost::math::fisher_f(t.dof[0], t.dof[1]), t.statistic));
    return t;
}

// A parameter that is nothing where it is zero: those that carry the unit of y.
bool isAnAmount(const models::ParameterInfo& info) {
    return info.unit.find('y') != std::string::npos;
}

std::string without(const std::vector<std::string>& parts) {
    std::string out = "This fit could not show ";
    for (std::size_t k = 0; k < parts.size(); ++k)
        out += (k == 0 ? "" : k + 1 == parts.size() ? ", nor " : ", ") + parts[k];
    return out + ".";
}

} // namespace

std::vector<double> residualsOf(const FitReport& report) {
    std::vector<double> all;
    for (const MemberReport& m : report.members)
        all.insert(all.end(), m.residuals.begin(), m.residuals.end());
    return all;
}

RunsTest runsTest(const std::vector<double>& residuals) {
    double positive = 0, negative = 0, runs = 0, last = 0;
    for (double r : residuals) {
        if (r == 0 || std::isnan(r)) continue;
        (r > 0 ? positive : negative) += 1;
        if (r * last <= 0) ++runs;
        last = r > 0 ? 1 : -1;
    }
    const double n = positive + negative;
    if (positive < 3 || negative < 3) return {};
    const double mean = 2 * positive * negative / n + 1;
    const double variance = (mean - 1) * (mean - 2) / (n - 1);
    return {std::erfc(std::abs(runs - mean) / std::sqrt(2 * variance)), runs < mean};
}

double normalityProbability(const std::vector<double>& values) {
    if (values.size() < kFewestForNormal || values.size() > kMostForNormal) return NAN;
    const Association found = associationOf(values, normalScores(values));
    const auto n = static_cast<double>(values.size());
    if (std::isnan(found.score)) return NAN;
    const double u = std::log(n), v = std::log(u);
    const double mean = -1.2725 + 1.0521 * (v - u), sd = 1.0308 - 0.26758 * (v + 2 / u);
    const double z = (std::log(std::max(1e-300, 1 - found.score / n)) - mean) / sd;
    return std::erfc(z / std::sqrt(2.0)) / 2;
}

ResidualTests residualTests(const FitProblem& problem, const FitReport& report,
                            const std::vector<Influence>& influences) {
    ResidualTests out;
    std::vector<double> standardised;
    for (const Influence& i : influences)
        standardised.insert(standardised.end(), i.standardised.begin(), i.standardised.end());
    out.runs = runsTest(residualsOf(report));
    out.normalP = normalityProbability(standardised);
    if (problem.loss == Loss::Squares) out.scatter = scatterTest(report, influences);
    out.lackOfFit = lackOfFit(problem, report);
    return out;
}

std::vector<Issue> doubtsOf(const ResidualTests& tests, const FitProblem& problem) {
    std::vector<Issue> out;
    if (tests.scatter && tests.scatter->p < kDoubtful)
        out.push_back(
            {"uneven-scatter",
             fmt::format(
                 "The scatter {} with the fitted value ({}){}: errors and intervals take it as the same "
                 "everywhere. {}",
                 tests.scatter->grows ? "grows" : "shrinks", stats::probabilityText(tests.scatter->p),
                 problem.members[0].sigma.empty() ? "" : ", beyond what the weights say",
                 tests.scatter->grows ? "Weigh the points by 1/y or 1/y², or by their uncertainties."
                                      : "Weigh the points by their uncertainties."),
             {}});
    if (tests.lackOfFit && tests.lackOfFit->p < kDoubtful)
        out.push_back(
            {"lack-of-fit",
             fmt::format(
                 "The curve misses the replicates by more than they scatter ({} = {}, {}): the model may be "
                 "too simple.",
                 tests.lackOfFit->dof[1] > 0 ? "F" : "χ²", readableNumber(tests.lackOfFit->statistic, 3),
                 stats::probabilityText(tests.lackOfFit->p)),
             {}});
    return out;
}

std::string notShown(const FitProblem& problem, const FitReport& report, const ResidualTests& tests) {
    std::vector<std::string> unknown, zero, parts;
    std::set<std::string> told; // a shared one once
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        const MemberReport& member = report.members[m];
        for (std::size_t k = 0; k < member.parameters.size(); ++k) {
            const ParameterResult& p = member.parameters[k];
            if (p.treatment != Treatment::Free || p.atLimit) continue;
            const std::string name =
                report.members.size() > 1 && !p.shared ? p.name + " of " + member.name : p.name;
            if (!told.insert(name).second) continue;
            if (!p.determined)
                unknown.push_back(name);
            else if (p.low < 0 && p.high > 0 && isAnAmount(problem.members[m].model->parameters()[k]))
                zero.push_back(name);
        }
    }
    if (!unknown.empty())
        parts.push_back("what " + joined(unknown, " and ") + (unknown.size() == 1 ? " is" : " are"));
    if (!zero.empty())
        parts.push_back("that " + joined(zero, " and ") + (zero.size() == 1 ? " differs" : " differ") +
                        " from 0");
    if (report.n < kFewestForRuns)
        parts.push_back("whether its residuals are random (" +
                        counted(static_cast<long long>(report.n), "point") + " are few)");
    else if (!tests.lackOfFit && !problem.absolute)
        parts.push_back(
            "whether a departure from the curve within the scatter is real (there are no replicates)");
    return parts.empty() ? "" : without(parts);
}

} // namespace jointer::fit
