// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/region.h"

#include "base/text.h"
#include "fit/specs.h"

#include <Eigen/Cholesky>
#include <algorithm>
#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::fit {

using Eigen::Index;
using Pair = Eigen::Vector2d;

namespace {

constexpr int kRounds = 40;
constexpr double kNear = 1e-4;    // of the rise at the edge
constexpr double kFarthest = 1e3; // times the ellipse
constexpr double kBent = 0.15;    // of a reach: errors no longer say all

struct Found {
    const ParameterResult* result = nullptr;
    Eigen::RowVectorXd root; // over the directions of all members, then the common ones
};

Found foundIn(const FitReport& report, const ParameterPlace& place) {
    if (place.member >= report.members.size()) return {};
    const MemberReport& member = report.members[place.member];
    const auto at = std::ranges::find(member.parameters, place.name, &ParameterResult::name);
    if (at == member.parameters.end() || at->treatment != Treatment::Free || at->atLimit || !at->determined ||
        !(at->se > 0))
        return {};
    Index own = 0, first = 0, common = 0;
    for (std::size_t m = 0; m < report.members.size(); ++m) {
        if (m == place.member) first = own;
        own += report.members[m].own;
        common = std::max(common, report.members[m].root.cols() - report.members[m].own);
    }
    const Eigen::RowVectorXd row = member.root.row(at - member.parameters.begin());
    Found out{&*at, Eigen::RowVectorXd::Zero(own + common)};
    out.root.segment(first, member.own) = row.head(member.own);
    out.root.tail(common) = row.tail(row.size() - member.own);
    return out;
}

class Follower {
public:
    Follower(const FitProblem& problem, const FitReport& report, const ParameterPlace& first,
             const ParameterPlace& second, const Cancellation& stop)
        : problem_(problem), report_(report), places_{first, second}, stop_(stop) {
        problem_.schedule.clear();
        problem_.derive.clear();
        for (int k = 0; k < 2; ++k) {
            const ParameterSpec& spec = specOf(problem_, places_[k].member, places_[k].name);
            lower_[k] = spec.lower;
            upper_[k] = spec.upper;
        }
    }

    // How many times `step` from the centre the sum has risen by `rise`; infinite: it never does.
    double reach(const Pair& centre, const Pair& step, double rise) {
        const double most = std::min(kFarthest, withinLimits(centre, step));
        double inner = 0, innerRoot = 0, outer = INFINITY, outerRoot = INFINITY, at = std::min(1.0, most);
        beginAt(report_, problem_);
        for (int round = 0; round < kRounds && !stop_.stop_requested(); ++round) {
            const double risen = risenAt(centre + at * step) / rise, root = std::sqrt(std::max(0.0, risen));
            if (std::abs(risen - 1) <= kNear) return at;
            if (risen < 1) {
                if (at >= most) return most < kFarthest ? most : INFINITY;
                inner = at, innerRoot = root;
            } else {
                outer = at, outerRoot = root;
            }
            if (std::isinf(outer))
                at = std::min(most, at * (root > 0.25 ? 1.05 / root : 4));
            else // the root of the rise is about straight
                at = inner +
                     std::clamp((1 - innerRoot) / (outerRoot - innerRoot), 0.05, 0.95) * (outer - inner);
            if (std::isnan(at)) at = (inner + outer) / 2;
            if (std::isfinite(outer) && outer - inner <= 1e-7 * outer) break;
        }
        return std::isinf(outer) ? inner : (inner + outer) / 2;
    }

private:
    double withinLimits(const Pair& centre, const Pair& step) const {
        double most = INFINITY;
        for (int k = 0; k < 2; ++k) {
            if (step[k] > 0) most = std::min(most, (upper_[k] - centre[k]) / step[k]);
            if (step[k] < 0) most = std::min(most, (lower_[k] - centre[k]) / step[k]);
        }
        return most;
    }
    // Above the least sum, in units of the variance; infinite where there is no fit.
    double risenAt(const Pair& at) {
        FitProblem held = problem_;
        for (int k = 0; k < 2; ++k)
            for (std::size_t m = 0; m < held.members.size(); ++m) {
                const auto& p = report_.members[m].parameters;
                const auto same = std::ranges::find(p, places_[k].name, &ParameterResult::name);
                if (m != places_[k].member && (same == p.end() || !same->shared || !isShared(k))) continue;
                ParameterSpec& spec = specOf(held, m, places_[k].name);
                spec.treatment = Treatment::Fixed;
                spec.shared = false;
                spec.start = at[k];
            }
        const auto found = fit(held, {.maxIterations = 100, .restarts = false}, stop_);
        if (!found || !std::isfinite(found->rss)) return INFINITY;
        beginAt(*found, problem_); // for the next one
        const double variance = report_.absolute ? 1 : report_.residualSd * report_.residualSd;
        return (found->rss - report_.rss) / variance;
    }
    bool isShared(int k) const {
        const auto& p = report_.members[places_[k].member].parameters;
        return std::ranges::find(p, places_[k].name, &ParameterResult::name)->shared;
    }

    FitProblem problem_;
    const FitReport& report_;
    ParameterPlace places_[2];
    const Cancellation& stop_;
    double lower_[2], upper_[2];
};

std::string calledIn(const FitReport& report, const ParameterPlace& place, const ParameterResult& p) {
    return report.members.size() > 1 && !p.shared ? p.name + " of " + report.members[place.member].name
                                                  : p.name;
}

} // namespace

double Region::bend() const {
    double most = reach.empty() ? NAN : 0;
    for (double r : reach) most = std::max(most, std::abs(r - 1));
    return most;
}

Result<Region> regionOf(const FitProblem& problem, const FitReport& report, const ParameterPlace& first,
                        const ParameterPlace& second, const RegionOptions& options,
                        const Cancellation& stop) {
    if (report.dof <= 0 || problem.loss != Loss::Squares)
        return failure("no-region", report.dof <= 0 ? "Without a degree of freedom there is no region."
                                                    : "Under a robust loss there is no region of this kind.");
    const Found a = foundIn(report, first), b = foundIn(report, second);
    for (const auto& [found, place] : {std::pair(&a, &first), {&b, &second}})
        if (!found->result)
            return failure("no-parameter",
                           "There is no free and determined parameter called “" + place->name + "”.");
    if (a.result == b.result || (first.name == second.name && a.result->shared))
        return failure("same-parameter", "A region is of two different parameters.");
    Region out{.first = calledIn(report, first, *a.result),
               .second = calledIn(report, second, *b.result),
               .x = a.result->value,
               .y = b.result->value,
               .level = report.level,
               .xLow = a.result->low,
               .xHigh = a.result->high,
               .yLow = b.result->low,
               .yHigh = b.result->high};
    const double rise =
        report.absolute ? boost::math::quantile(boost::math::chi_squared(2), report.level)
                        : 2 * boost::math::quantile(boost::math::fisher_f(2, static_cast<double>(report.dof)),
                                                    report.level);
    Eigen::Matrix2d covariance;
    covariance << a.root.squaredNorm(), a.root.dot(b.root), a.root.dot(b.root), b.root.squaredNorm();
    out.correlation = covariance(0, 1) / std::sqrt(covariance(0, 0) * covariance(1, 1));
    const Eigen::Matrix2d factor = covariance.llt().matrixL();
    const Pair centre(out.x, out.y);
    Follower follower(problem, report, first, second, stop);
    for (int k = 0; k < options.directions && !stop.stop_requested(); ++k) {
        const double angle = 2 * std::numbers::pi * k / options.directions;
        const Pair step = std::sqrt(rise) * factor * Pair(std::cos(angle), std::sin(angle));
        out.ellipse.emplace_back(out.x + step[0], out.y + step[1]);
        if (!options.follow) continue;
        double far = follower.reach(centre, step, rise);
        if (std::isinf(far)) out.open = true, far = 3;
        const Pair there = centre + far * step;
        out.edge.emplace_back(there[0], there[1]);
        out.reach.push_back(far);
    }
    return out;
}

std::string sentenceOf(const Region& r) {
    const double size = std::abs(r.correlation);
    std::string out =
        fmt::format("{} and {} {} (correlation {}).", r.first, r.second,
                    size < 0.3          ? "hardly depend on each other"
                    : r.correlation < 0 ? "make up for each other: one is larger where the other is smaller"
                                        : "rise together",
                    readableNumber(r.correlation, 2));
    if (r.open) return out + " Their region does not close: the points do not bound both.";
    if (r.bend() > kBent)
        return out + " Their region is bent: intervals by profile or bootstrap say more than errors do.";
    return out;
}

} // namespace jointer::fit
