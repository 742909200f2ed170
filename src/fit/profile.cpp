// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/profile.h"

#include "base/text.h"
#include "fit/attempt.h"
#include "fit/inference.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>

namespace jointer::fit {

using Eigen::Index, Eigen::VectorXd;

namespace {

using Function = std::function<double(std::span<const double>, std::span<double>)>;

// Follows one quantity away from the best fit.
class Walker {
public:
    Walker(Fitter& fitter, const FitReport& report, std::vector<double> best, std::size_t member,
           Function function, double se, const Cancellation& stop)
        : fitter_(fitter), best_(std::move(best)), member_(member), function_(std::move(function)), se_(se),
          target_(tQuantile(report)), variance_(report.absolute ? 1 : report.residualSd * report.residualSd),
          rss_(report.rss), stop_(stop) {
        centre_ = valueAt(best_);
    }

    // The end on one side (−1 or 1), within what the quantity may be.
    double end(int side, double limit) {
        std::vector<double> from = best_;
        double inner = 0, innerZ = 0, outer = 0, outerZ = INFINITY;
        double goal = side * target_ * se_; // from the centre
        for (int round = 0; round < kRounds && !stop_.stop_requested(); ++round) {
            if ((centre_ + goal - limit) * side >= 0) goal = limit - centre_;
            const auto there = reached(goal, from);
            if (!there) { // no fit there: halfway back
                outer = goal;
                outerZ = INFINITY;
                goal = (inner + goal) / 2;
                if (std::abs(outer - inner) < 1e-6 * std::abs(outer)) break;
                continue;
            }
            const auto [at, z] = *there;
            if (std::abs(z - target_) <= 1e-6 * target_) return centre_ + at;
            if (z < target_) {
                if (std::isfinite(limit) && (centre_ + at - limit) * side >= -1e-9 * std::abs(limit))
                    return limit;
                inner = at;
                innerZ = z;
            } else {
                outer = at;
                outerZ = z;
            }
            if (std::isinf(outerZ)) {
                if (std::abs(goal) > kFarthest * se_) return side * INFINITY;
                // The distance grows about as the root of the sum does.
                const double factor = z > 0 ? std::clamp(1.02 * target_ / z, 1.02, 4.0) : 4.0;
                goal = outer == 0 ? goal * factor : (inner + outer) / 2;
            } else {
                const double share = (target_ - innerZ) / (outerZ - innerZ);
                goal = inner + std::clamp(share, 0.02, 0.98) * (outer - inner);
            }
            if (std::abs(outer - inner) <= 1e-9 * std::abs(outer)) break;
        }
        return centre_ + (outer != 0 && std::isfinite(outerZ) ? (inner + outer) / 2 : inner);
    }

    // The sum along the way from one end to the other.
    ProfileCurve curve(double low, double high) {
        ProfileCurve out;
        constexpr int kEach = 12;
        for (int side : {-1, 1}) {
            const double end = side < 0 ? low : high;
            const double reach = std::isfinite(end) ? end - centre_ : side * 2 * target_ * se_;
            std::vector<double> from = best_;
            for (int i = 1; i <= kEach && !stop_.stop_requested(); ++i)
                if (const auto there = reached(reach * i / kEach * 1.2, from)) {
                    out.values.push_back(centre_ + there->first);
                    out.rss.push_back(rss_ + variance_ * there->second * there->second);
                }
            if (side < 0) {
                std::ranges::reverse(out.values);
                std::ranges::reverse(out.rss);
                out.values.push_back(centre_);
                out.rss.push_back(rss_);
            }
        }
        return out;
    }
    bool foundBetter() const { return better_; }

private:
    static constexpr int kRounds = 60;
    static constexpr double kFarthest = 1e4;

    double valueAt(const std::vector<double>& all) const {
        const std::size_t count = fitter_.map().parameters();
        std::vector<double> gradient(count);
        return function_({all.data() + member_ * count, count}, gradient);
    }

    // The best fit pulled to a distance from the centre: how far it came, and the root of what it costs in
    // units of the variance. Nothing: none was found. `from` is moved there.
    std::optional<std::pair<double, double>> reached(double distance, std::vector<double>& from) {
        constexpr double kStrength = 1e3;
        fitter_.setPull(Pull{member_, function_, centre_ + distance, kStrength * std::sqrt(variance_) / se_});
        const Attempt a = fitter_.attempt(from, {.maxIterations = 100}, stop_);
        fitter_.setPull({});
        if (a.solved.end != SolverEnd::Converged && a.solved.end != SolverEnd::Stuck) return {};
        const double rss = squaredNorm(fitter_.weightedResiduals(a.values));
        const double at = valueAt(a.values) - centre_;
        if (!std::isfinite(rss) || std::abs(at - distance) > 0.1 * std::abs(distance)) return {};
        better_ |= rss < rss_ * (1 - 1e-6);
        from = a.values;
        return std::pair(at, std::sqrt(std::max(0.0, rss - rss_) / variance_));
    }

    Fitter& fitter_;
    std::vector<double> best_;
    std::size_t member_;
    Function function_;
    double se_, target_, variance_, rss_, centre_ = 0;
    const Cancellation& stop_;
    bool better_ = false;
};

Function oneParameter(std::size_t k) {
    return [k](std::span<const double> p, std::span<double> gradient) {
        std::ranges::fill(gradient, 0);
        gradient[k] = 1;
        return p[k];
    };
}

Function derivedNumber(const DerivedNumber& number) {
    return
        [number](std::span<const double> p, std::span<double> gradient) { return number.value(p, gradient); };
}

class Profiler {
public:
    Profiler(Fitter& fitter, FitReport& report, bool curves, const Cancellation& stop)
        : fitter_(fitter), report_(report), curves_(curves), stop_(stop), best_(report.values()) {}

    Profiled run() {
        for (std::size_t m = 0; m < report_.members.size(); ++m) {
            MemberReport& member = report_.members[m];
            for (std::size_t k = 0; k < member.parameters.size(); ++k) takeParameter(m, k);
            const auto numbers = derivedOf(fitter_.problem(), m);
            for (std::size_t k = 0; k < member.derived.size(); ++k)
                takeDerived(m, member.derived[k], numbers[k]);
        }
        if (better_)
            out_.warnings.push_back({"better-fit",
                                     "While the intervals were followed a better fit was found: begin again "
                                     "from other start values.",
                                     {}});
        return std::move(out_);
    }

private:
    void takeParameter(std::size_t m, std::size_t k) {
        ParameterResult& p = report_.members[m].parameters[k];
        if (p.treatment == Treatment::Fixed || p.atLimit || !p.determined) return;
        if (p.shared)
            if (const auto at = shared_.find(p.name); at != shared_.end()) {
                std::tie(p.low, p.high) = at->second;
                return;
            }
        const ParameterSpec& spec = fitter_.specs()[m][k];
        const bool free = p.treatment == Treatment::Free;
        take(m, p, oneParameter(k), free ? spec.lower : -INFINITY, free ? spec.upper : INFINITY);
        if (p.shared) shared_[p.name] = {p.low, p.high};
    }

    // Of shared parameters once for all members.
    void takeDerived(std::size_t m, DerivedResult& d, const DerivedNumber& number) {
        if (const auto at = shared_.find("= " + d.name); d.shared && at != shared_.end()) {
            std::tie(d.low, d.high) = at->second;
            return;
        }
        take(m, d, derivedNumber(number), -INFINITY, INFINITY);
        if (d.shared) shared_["= " + d.name] = {d.low, d.high};
    }

    void take(std::size_t m, auto& quantity, Function function, double lower, double upper) {
        if (!(quantity.se > 0) || stop_.stop_requested()) return;
        Walker walker(fitter_, report_, best_, m, std::move(function), quantity.se, stop_);
        quantity.low = walker.end(-1, lower);
        quantity.high = walker.end(1, upper);
        better_ |= walker.foundBetter();
        if (std::isinf(quantity.low) || std::isinf(quantity.high))
            out_.warnings.push_back(
                {"open-interval",
                 fmt::format("The interval of {} is open {}: the data do not exclude any value there.",
                             quantity.name,
                             std::isfinite(quantity.low)    ? "above"
                             : std::isfinite(quantity.high) ? "below"
                                                            : "on both sides"),
                 {}});
        if (!curves_) return;
        ProfileCurve curve = walker.curve(quantity.low, quantity.high);
        curve.name = quantity.name;
        curve.member = m;
        out_.curves.push_back(std::move(curve));
    }

    Fitter& fitter_;
    FitReport& report_;
    bool curves_;
    const Cancellation& stop_;
    std::vector<double> best_;
    std::map<std::string, std::pair<double, double>> shared_;
    Profiled out_;
    bool better_ = false;
};

} // namespace

Profiled profile(const FitProblem& problem, FitReport& report, bool curves, const Cancellation& stop) {
    const bool can = report.state == FitState::Converged || report.state == FitState::OnLimit;
    if (!can || report.dof <= 0)
        return {
            .warnings = {{"no-profile", "The intervals are not followed: the fit did not converge.", {}}}};
    if (problem.loss != Loss::Squares)
        return {
            .warnings = {{"no-profile",
                          "Under a robust loss there is no profile: the intervals are those of the sandwich "
                          "form.",
                          {}}}};
    auto fitter = prepare(problem);
    return Profiler(*fitter, report, curves, stop).run();
}

} // namespace jointer::fit
