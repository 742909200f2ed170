// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/differences.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>
#include <cmath>
#include <numeric>

namespace jointer::fit {

namespace {

double twoSided(double t, double dof) {
    if (!std::isfinite(t)) return NAN;
    if (std::isinf(dof)) return 2 * boost::math::cdf(complement(boost::math::normal(), std::abs(t)));
    return 2 * boost::math::cdf(complement(boost::math::students_t(dof), std::abs(t)));
}

double degreesOf(const FitReport& r) {
    return r.absolute ? INFINITY : static_cast<double>(r.dof);
}

Difference between(const std::string& parameter, const Estimate& a, const Estimate& b, double level) {
    Difference d{.parameter = parameter, .first = a.of, .second = b.of, .value = a.value - b.value};
    const double va = a.root.squaredNorm(), vb = b.root.squaredNorm();
    if (a.report == b.report) {
        const double common = a.root.tail(a.root.size() - a.own).dot(b.root.tail(b.root.size() - b.own));
        d.se = std::sqrt(std::max(0.0, va + vb - 2 * common));
        d.dof = degreesOf(*a.report);
    } else {
        d.se = std::sqrt(va + vb);
        const double da = degreesOf(*a.report), db = degreesOf(*b.report);
        d.dof = std::isinf(da) && std::isinf(db) ? INFINITY : (va + vb) * (va + vb) / (va * va / da + vb * vb / db);
    }
    const double half = tQuantile(level, d.dof) * d.se;
    d.low = d.value - half;
    d.high = d.value + half;
    d.p = d.se > 0 ? twoSided(d.value / d.se, d.dof) : NAN;
    return d;
}

void correct(std::vector<Difference>& all) {
    std::vector<std::size_t> order(all.size());
    std::iota(order.begin(), order.end(), 0U);
    std::ranges::stable_sort(order, {}, [&](std::size_t k) { return all[k].p; });
    double highest = 0;
    for (std::size_t k = 0; k < order.size(); ++k) {
        highest = std::max(highest, std::min(1.0, all[order[k]].p * static_cast<double>(all.size() - k)));
        all[order[k]].corrected = highest;
    }
}

} // namespace

std::vector<Estimate> estimatesOf(const FitReport& report, const std::string& parameter) {
    std::vector<Estimate> out;
    for (const MemberReport& m : report.members)
        for (std::size_t k = 0; k < m.parameters.size(); ++k) {
            const ParameterResult& p = m.parameters[k];
            if (p.name != parameter || p.treatment != Treatment::Free || !p.determined || p.atLimit || m.root.size() == 0) continue;
            if (p.shared && !out.empty()) continue;
            out.push_back({m.name, p.value, &report, m.root.row(static_cast<Eigen::Index>(k)), m.own});
        }
    return out;
}

std::vector<Difference> differencesOf(const std::string& parameter, const std::vector<Estimate>& estimates, double level) {
    std::vector<Difference> out;
    for (std::size_t a = 0; a < estimates.size(); ++a)
        for (std::size_t b = a + 1; b < estimates.size(); ++b) out.push_back(between(parameter, estimates[a], estimates[b], level));
    correct(out);
    return out;
}

std::vector<Difference> differencesOf(const FitReport& report) {
    std::vector<Difference> out;
    if (report.members.size() < 2) return out;
    for (const ParameterResult& p : report.members.front().parameters) {
        const auto estimates = estimatesOf(report, p.name);
        if (p.shared || estimates.size() < report.members.size()) continue;
        for (Difference& d : differencesOf(p.name, estimates, report.level)) out.push_back(std::move(d));
    }
    return out;
}

namespace {

// Those that are free in all members.
std::vector<std::string> freeEverywhere(const FitReport& report) {
    std::vector<std::string> out;
    for (const ParameterResult& p : report.members.front().parameters) {
        const bool free = std::ranges::all_of(report.members, [&](const MemberReport& m) {
            const auto at = std::ranges::find(m.parameters, p.name, &ParameterResult::name);
            return at != m.parameters.end() && at->treatment == Treatment::Free;
        });
        if (free) out.push_back(p.name);
    }
    return out;
}

void share(FitProblem& problem, const std::string& name, bool shared) {
    auto at = std::ranges::find(problem.parameters, name, &ParameterSpec::name);
    if (at == problem.parameters.end())
        at = problem.parameters.insert(problem.parameters.end(), {.name = name});
    at->shared = shared;
    for (FitMember& m : problem.members)
        for (ParameterSpec& p : m.parameters)
            if (p.name == name) p.shared = shared;
}

} // namespace

std::vector<Equality> equalitiesOf(const FitProblem& problem, const FitOptions& options,
                                   const Cancellation& stop) {
    const auto formula = [](const FitMember& m) { return m.model->formula(); };
    if (problem.members.size() < 2 || problem.loss != Loss::Squares ||
        !std::ranges::all_of(problem.members,
                             [&](const FitMember& m) { return formula(m) == formula(problem.members[0]); }))
        return {};
    FitProblem apart = problem;
    apart.derive.clear();
    apart.schedule.clear();
    for (const models::ParameterInfo& p : problem.members[0].model->parameters()) share(apart, p.name, false);
    const auto separate = fit(apart, options, stop);
    if (!separate || separate->dof <= 0) return {};
    const std::vector<std::string> names = freeEverywhere(*separate);
    std::vector<Equality> out;
    const auto test = [&](const std::string& what, const std::vector<std::string>& which) {
        FitProblem together = apart;
        for (const std::string& name : which) share(together, name, true);
        const auto report = fit(together, options, stop);
        if (report && report->comparison && report->comparison->dof[0] > 0) out.push_back({what, *report->comparison});
    };
    for (const std::string& name : names)
        if (!stop.stop_requested()) test(name, {name});
    if (names.size() > 1 && !stop.stop_requested()) test("", names);
    return out;
}

} // namespace jointer::fit
