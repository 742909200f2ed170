// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/quality.h"

#include "base/text.h"
#include "fit/residual_tests.h"
#include "stats/group_tests.h"

#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <set>

namespace jointer::fit {

using Eigen::Index;

namespace {

double totalOf(const FitMember& member, bool aboutZero) {
    double sw = 0, swy = 0, total = 0;
    for (std::size_t i = 0; i < member.y.size(); ++i) {
        sw += member.weight(i);
        swy += member.weight(i) * member.y[i];
    }
    const double mean = aboutZero ? 0 : swy / sw;
    for (std::size_t i = 0; i < member.y.size(); ++i)
        total += member.weight(i) * (member.y[i] - mean) * (member.y[i] - mean);
    return total;
}

} // namespace

// AICc = n·ln(RSS/n) + 2K + 2K(K+1)/(n−K−1) with K = free + 1; with absolute errors χ² + 2k +
// 2k(k+1)/(n−k−1).
Criteria criteriaOf(double rss, double free, std::size_t count, bool absolute) {
    const auto n = static_cast<double>(count);
    const double k = absolute ? free : free + 1, misfit = absolute ? rss : n * std::log(rss / n);
    return {n - k - 1 > 0 ? misfit + 2 * k + 2 * k * (k + 1) / (n - k - 1) : std::nan(""),
            misfit + k * std::log(n)};
}

double weightedTotal(const FitProblem& problem, bool aboutZero) {
    double total = 0;
    for (const FitMember& member : problem.members) total += totalOf(member, aboutZero);
    return total;
}

void addQuality(FitReport& r, const Fitter& fitter, Index rankLacks) {
    const FitProblem& problem = fitter.problem();
    const Index rank = fitter.map().freeCount() - rankLacks;
    const auto n = static_cast<double>(r.n), free = static_cast<double>(rank);
    r.dof = static_cast<long>(r.n) - rank;
    const double dof = static_cast<double>(r.dof);
    r.residualSd = r.dof > 0 ? std::sqrt(r.rss / dof) : std::nan("");
    r.absolute = problem.absolute && !problem.members[0].sigma.empty();
    if (r.absolute) {
        r.chi2 = r.rss;
        if (r.dof > 0) r.reducedChi2 = r.rss / dof;
    }
    r.r2AboutZero = problem.members.size() == 1 && problem.members[0].model->isLinear() &&
                    !spansConstant(problem.members[0]);
    const double total = weightedTotal(problem, r.r2AboutZero);
    r.r2 = total > 0 ? 1 - r.rss / total : std::nan("");
    const auto means = r.r2AboutZero ? 0.0 : static_cast<double>(problem.members.size());
    r.adjustedR2 = r.dof > 0 ? 1 - (1 - r.r2) * (n - means) / dof : std::nan("");
    const bool squares = problem.loss == Loss::Squares;
    const Criteria criteria =
        squares ? criteriaOf(r.rss, free, r.n, r.absolute) : Criteria{std::nan(""), std::nan("")};
    r.aicc = criteria.aicc;
    r.bic = criteria.bic;
    for (std::size_t m = 0; m < r.members.size(); ++m) {
        MemberReport& member = r.members[m];
        const double own = totalOf(problem.members[m], r.r2AboutZero);
        member.r2 = own > 0 ? 1 - member.rss / own : std::nan("");
    }
    r.runsP = runsTest(residualsOf(r)).p;
}

void addComparison(FitReport& r, const Separate& separate) {
    const auto n = static_cast<double>(r.n);
    const double shared = n - static_cast<double>(r.dof), apart = static_cast<double>(separate.parameters);
    Comparison c{.dof = {apart - shared, n - apart}};
    c.aiccDifference = criteriaOf(r.rss, shared, r.n, r.absolute).aicc -
                       criteriaOf(separate.rss, apart, r.n, r.absolute).aicc;
    const double rise = r.rss - separate.rss;
    if (r.absolute) c.dof[1] = 0;
    if (c.dof[0] > 0 && r.absolute) {
        c.f = rise;
        c.p = boost::math::cdf(complement(boost::math::chi_squared(c.dof[0]), std::max(0.0, rise)));
    } else if (c.dof[0] > 0 && c.dof[1] > 0) {
        c.f = rise / c.dof[0] / (separate.rss / c.dof[1]);
        c.p = c.f > 0 && std::isfinite(c.f)
                  ? boost::math::cdf(complement(boost::math::fisher_f(c.dof[0], c.dof[1]), c.f))
              : c.f > 0 ? 0
                        : 1;
    }
    std::size_t at = 0;
    for (MemberReport& m : r.members) {
        const std::size_t count = m.parameters.size();
        m.apart.assign(separate.values.begin() + static_cast<std::ptrdiff_t>(at),
                       separate.values.begin() + static_cast<std::ptrdiff_t>(at + count));
        at += count;
    }
    r.comparison = c;
}

std::string sharingText(const FitReport& r) {
    if (!r.comparison || !(r.comparison->dof[0] > 0)) return {};
    const Comparison& c = *r.comparison;
    const std::string test = r.absolute ? fmt::format("χ²({:.0f})", c.dof[0])
                                        : fmt::format("F({:.0f}, {:.0f})", c.dof[0], c.dof[1]);
    return fmt::format(
        "{}: {} = {}, {}; AICc {} {} than with each for itself.",
        c.p < 0.05 ? "The shared values differ between the datasets" : "One value for all would do", test,
        readableNumber(c.f, 3), stats::probabilityText(c.p), readableNumber(std::abs(c.aiccDifference), 3),
        c.aiccDifference < 0 ? "lower" : "higher");
}

void markRunaways(FitReport& r, bool isLinear) {
    if (isLinear || r.members.size() > 1 || r.state != FitState::Converged) return;
    std::vector<ParameterResult*> free;
    for (ParameterResult& p : r.one().parameters)
        if (p.treatment == Treatment::Free) free.push_back(&p);
    auto isNothing = [](const ParameterResult& p) { return p.se > 100 * std::abs(p.value); };
    auto isLost = [](const ParameterResult& p) {
        return std::isinf(p.se) || (p.value != 0 && p.se > 1e30 * std::abs(p.value));
    };
    for (ParameterResult* p : free)
        if (isLost(*p)) p->determined = false;
    const bool some =
        std::ranges::count_if(free, [&](const ParameterResult* p) { return isNothing(*p); }) > 1;
    const Correlation c = some ? correlation(r) : Correlation();
    for (Index i = 0; i < c.values.rows(); ++i)
        for (Index j = i + 1; j < c.values.cols(); ++j) {
            ParameterResult &a = *free[static_cast<std::size_t>(i)], &b = *free[static_cast<std::size_t>(j)];
            if (std::abs(c.values(i, j)) > 0.999 && isNothing(a) && isNothing(b))
                a.determined = b.determined = false;
        }
    if (std::ranges::any_of(free, [](const ParameterResult* p) { return !p->determined; }))
        r.state = FitState::Undetermined;
    for (ParameterResult* p : free)
        if (!p->determined) p->se = p->low = p->high = std::nan("");
}

std::string notRandomText(double runsP) {
    return fmt::format("The residuals are not random (runs test p {}): the model may be too simple.",
                       runsP < 0.001 ? "< 0.001" : fmt::format("= {:.3f}", runsP));
}

namespace {

struct Troubled {
    std::vector<std::string> onLimit, undetermined;
};

Troubled troubledParameters(const FitReport& r) {
    Troubled out;
    std::set<std::string> said; // a shared one is named once
    for (const MemberReport& member : r.members)
        for (const ParameterResult& p : member.parameters) {
            if (!p.atLimit && p.determined) continue;
            std::string name = p.name;
            if (r.members.size() > 1 && !p.shared) name += " of " + member.name;
            if (said.insert(name).second)
                (p.atLimit ? out.onLimit : out.undetermined).push_back(std::move(name));
        }
    return out;
}

// Numbers that were asked for and that the fit does not give in any of its members.
std::vector<std::string> derivedWithoutValue(const FitReport& r, const FitProblem& problem) {
    std::vector<std::string> without;
    for (const models::DerivedInfo& wanted : problem.derive)
        for (const MemberReport& member : r.members) {
            const auto at = std::ranges::find(member.derived, wanted.name, &DerivedResult::name);
            if (at == member.derived.end() || !std::isnan(at->value)) continue;
            without.push_back(wanted.name);
            break;
        }
    return without;
}

using Warn = std::function<void(const char* code, std::string text)>;

// Correlation endangers only what it leaves without digits: both numbers drown in their errors.
void warnOfCorrelation(const FitReport& r, const Warn& warn) {
    std::vector<const ParameterResult*> free;
    for (const ParameterResult& p : r.one().parameters)
        if (p.treatment == Treatment::Free) free.push_back(&p);
    auto drowns = [](const ParameterResult& p) { return p.se > 0.5 * std::abs(p.value); };
    if (std::ranges::count_if(free, [&](const ParameterResult* p) { return drowns(*p); }) < 2) return;
    const Correlation c = correlation(r);
    for (Index i = 0; i < c.values.rows(); ++i)
        for (Index j = i + 1; j < c.values.cols(); ++j) {
            const ParameterResult &a = *free[static_cast<std::size_t>(i)],
                                  &b = *free[static_cast<std::size_t>(j)];
            if (!(std::abs(c.values(i, j)) > 0.99) || !drowns(a) || !drowns(b)) continue;
            warn("correlated",
                 fmt::format("{} and {} go {} each other ({}), so that neither is known: fix one of them, or "
                             "take a simpler model.",
                             a.name, b.name, c.values(i, j) < 0 ? "against" : "with",
                             readableNumber(c.values(i, j), 4)));
        }
}

void warnOfParameters(const FitReport& r, const Warn& warn) {
    const auto [onLimit, undetermined] = troubledParameters(r);
    if (!undetermined.empty())
        warn("undetermined", fmt::format("The data do not determine {}: other values fit as well. Fix one of "
                                         "them, or use a simpler model.",
                                         joined(undetermined, " and ")));
    if (!onLimit.empty())
        warn("on-limit",
             fmt::format(
                 "{} ended on a limit: {} error is not known, and the others hold only for that value.",
                 joined(onLimit, " and "), onLimit.size() == 1 ? "its" : "their"));
    if (r.dof <= 0 && undetermined.empty())
        warn("too-few-points", fmt::format("{} cannot fix {} with an error: more points are needed.",
                                           counted(static_cast<long long>(r.n), "point"),
                                           counted(static_cast<long long>(r.n) - r.dof, "free parameter")));
}

} // namespace

void addWarnings(FitReport& r, const FitProblem& problem, bool isLinear) {
    const Warn warn = [&r](const char* code, std::string text) {
        r.warnings.push_back({code, std::move(text), {}});
    };
    if (r.state == FitState::NotConverged)
        warn("not-converged", "The fit did not converge: the numbers are only where it stood. Other start "
                              "values, limits or a simpler model may help.");
    warnOfParameters(r, warn);
    if (r.runsP < 0.01 && r.n >= 12 && runsTest(residualsOf(r)).few)
        warn("residuals-not-random", notRandomText(r.runsP));
    if (r.r2AboutZero)
        warn("r2-about-zero", "The model has no constant, so R² is taken about zero and cannot be compared "
                              "with that of other models.");
    if (const auto without = derivedWithoutValue(r, problem); !without.empty())
        warn("no-value", fmt::format("{} {} no value here: the curve does not get there, or the formula is "
                                     "not defined.",
                                     joined(without, " and "), without.size() == 1 ? "has" : "have"));
    if (!isLinear && r.members.size() == 1) warnOfCorrelation(r, warn);
}

} // namespace jointer::fit
