// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/influence.h"

#include "base/text.h"

#include <algorithm>
#include <boost/math/special_functions/erf.hpp>
#include <cmath>
#include <fmt/format.h>
#include <numeric>

namespace jointer::fit {

using Eigen::Index;

namespace {

constexpr double kGreatDistance = 1; // of Cook: all parameters move by about their errors together
constexpr double kGreatShift = 2;    // of one of them, in its standard errors
constexpr long kFewest = 5;          // degrees of freedom

} // namespace

Influence influenceOf(const FitProblem& problem, const FitReport& report, std::size_t which) {
    const FitMember& member = problem.members[which];
    const MemberReport& of = report.members[which];
    Influence out;
    const Index n = std::ssize(member.y), parameters = std::ssize(of.parameters);
    const double scale = report.absolute ? 1 : report.residualSd;
    if (of.root.size() == 0 || !(scale > 0)) return out;
    Eigen::MatrixXd gradient(n, parameters);
    std::vector<double> fitted(member.y.size());
    const std::vector<std::span<const double>> xs(member.predictors.begin(), member.predictors.end());
    member.model->evaluate(xs, of.values(), fitted, {gradient.data(), static_cast<std::size_t>(gradient.size())});
    const Eigen::MatrixXd root = of.root / scale, along = gradient * root; // (XᵀWX)⁻¹ = root·rootᵀ
    out.shift = Eigen::MatrixXd::Zero(parameters, n);
    const double free = static_cast<double>(report.n) - static_cast<double>(report.dof);
    for (Index i = 0; i < n; ++i) {
        const auto k = static_cast<std::size_t>(i);
        const double weight = member.weight(k);
        const double h = std::clamp(weight * along.row(i).squaredNorm(), 0.0, 1.0), rest = std::max(1 - h, 1e-12);
        const double residual = member.y[k] - fitted[k], standard = residual * std::sqrt(weight / rest) / scale;
        out.leverage.push_back(h);
        out.standardised.push_back(standard);
        out.distance.push_back(standard * standard * h / rest / free);
        out.shift.col(i) = -root * along.row(i).transpose() * (weight * residual / rest);
    }
    return out;
}

std::vector<Influence> influencesOf(const FitProblem& problem, const FitReport& report) {
    std::vector<Influence> out;
    for (std::size_t m = 0; m < report.members.size(); ++m) out.push_back(influenceOf(problem, report, m));
    return out;
}

std::optional<Issue> decidingPoint(const FitProblem& problem, const FitReport& report, const Influence& influence,
                                   std::size_t which, const std::function<std::string(double)>& placeText) {
    const auto top = std::ranges::max_element(influence.distance);
    if (top == influence.distance.end() || !(*top > kGreatDistance) || report.dof < kFewest) return {};
    const Index i = top - influence.distance.begin();
    const ParameterResult* most = nullptr;
    double far = 0, shift = 0;
    const std::vector<ParameterResult>& parameters = report.members[which].parameters;
    for (std::size_t k = 0; k < parameters.size(); ++k) {
        const ParameterResult& p = parameters[k];
        const double by = influence.shift(static_cast<Index>(k), i);
        if (p.treatment != Treatment::Free || !(p.se > 0) || std::abs(by) / p.se <= far) continue;
        most = &p, far = std::abs(by) / p.se, shift = by;
    }
    if (!most || far < kGreatShift) return {};
    const double x = problem.members[which].predictors[0][static_cast<std::size_t>(i)];
    return Issue{"influence",
                 fmt::format("The point at x = {} decides much alone: without it {} would be {} instead of {}. Leave it out to see "
                             "the fit without it.",
                             placeText ? placeText(x) : readableNumber(x, 4), most->name,
                             readableNumber(most->value + shift, 4), readableNumber(most->value, 4)),
                 {}};
}

std::vector<double> normalScores(const std::vector<double>& values) {
    std::vector<std::size_t> order(values.size());
    std::iota(order.begin(), order.end(), 0U);
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return values[i]; });
    std::vector<double> out(values.size());
    for (std::size_t k = 0; k < order.size(); ++k) {
        const double p = (static_cast<double>(k) + 0.625) / (static_cast<double>(values.size()) + 0.25);
        out[order[k]] = std::sqrt(2.0) * boost::math::erf_inv(2 * p - 1);
    }
    return out;
}

} // namespace jointer::fit
