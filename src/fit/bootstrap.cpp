// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/bootstrap.h"

#include "base/text.h"
#include "fit/attempt.h"
#include "fit/inference.h"
#include "fit/robust.h"
#include "numerics/random.h"

#include <algorithm>
#include <boost/math/distributions/normal.hpp>
#include <cmath>
#include <fmt/format.h>

namespace jointer::fit {

namespace {

using numerics::Random;
constexpr int kFewest = 50; // that make an interval

double sigmaOf(const FitMember& member, std::size_t i) {
    return member.sigma.empty() ? 1 : member.sigma[i];
}

void drawResiduals(const FitMember& from, const MemberReport& report, double inflation, Random& random,
                   FitMember& into) {
    const std::size_t n = from.y.size();
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t other = random.below(n);
        into.y[i] =
            report.fitted[i] + inflation * report.residuals[other] / sigmaOf(from, other) * sigmaOf(from, i);
    }
}

void drawCases(const FitMember& from, Random& random, FitMember& into) {
    const std::size_t n = from.y.size();
    for (std::size_t i = 0; i < n; ++i) {
        const std::size_t other = random.below(n);
        into.y[i] = from.y[other];
        for (std::size_t k = 0; k < from.predictors.size(); ++k)
            into.predictors[k][i] = from.predictors[k][other];
        if (!from.sigma.empty()) into.sigma[i] = from.sigma[other];
        if (!from.sigmaX.empty()) into.sigmaX[i] = from.sigmaX[other];
    }
}

void drawNormal(const FitMember& from, const MemberReport& report, double spread, Random& random,
                FitMember& into) {
    for (std::size_t i = 0; i < from.y.size(); ++i)
        into.y[i] = report.fitted[i] + spread * sigmaOf(from, i) * random.normal();
}

// All numbers of interest of one fit, member after member: parameters, then derived ones.
class Numbers {
public:
    explicit Numbers(const FitProblem& problem) : count_(problem.members[0].model->parameters().size()) {
        for (std::size_t m = 0; m < problem.members.size(); ++m) derived_.push_back(derivedOf(problem, m));
    }
    std::vector<double> of(const std::vector<double>& all) const {
        std::vector<double> out, gradient(count_);
        for (std::size_t m = 0; m < derived_.size(); ++m) {
            const std::span<const double> p(all.data() + m * count_, count_);
            out.insert(out.end(), p.begin(), p.end());
            for (const DerivedNumber& number : derived_[m]) out.push_back(number.value(p, gradient));
        }
        return out;
    }

private:
    std::size_t count_;
    std::vector<std::vector<DerivedNumber>> derived_;
};

std::vector<double> valuesOf(const FitReport& report) {
    std::vector<double> all;
    for (const MemberReport& member : report.members)
        for (double v : member.values()) all.push_back(v);
    return all;
}

// The percentile of a sorted list, between its members.
double percentile(const std::vector<double>& sorted, double p) {
    const double at = p * static_cast<double>(sorted.size() + 1) - 1;
    const double last = static_cast<double>(sorted.size() - 1);
    const double inside = std::clamp(at, 0.0, last);
    const auto below = static_cast<std::size_t>(inside);
    const std::size_t above = std::min(below + 1, sorted.size() - 1);
    if (!std::isfinite(sorted[below]) || !std::isfinite(sorted[above]))
        return sorted[inside - std::floor(inside) < 0.5 ? below : above];
    return sorted[below] + (inside - static_cast<double>(below)) * (sorted[above] - sorted[below]);
}

// The percentiles of a sorted list at z on both sides of a place of the normal distribution.
std::pair<double, double> percentilesAbout(const std::vector<double>& sorted, double middle, double z) {
    const boost::math::normal normal;
    return {percentile(sorted, boost::math::cdf(normal, middle - z)),
            percentile(sorted, boost::math::cdf(normal, middle + z))};
}

// Percentiles moved by how far the middle of the list is from the estimate.
std::pair<double, double> biasCorrected(std::vector<double> list, double estimate, double z) {
    std::ranges::sort(list);
    const auto count = static_cast<double>(list.size());
    const double below = static_cast<double>(std::ranges::lower_bound(list, estimate) - list.begin()),
                 equal = static_cast<double>(std::ranges::upper_bound(list, estimate) - list.begin()) - below;
    const boost::math::normal normal;
    const double share = std::clamp((below + equal / 2) / count, 0.5 / count, 1 - 0.5 / count);
    const double z0 = boost::math::quantile(normal, share);
    return percentilesAbout(list, 2 * z0, z);
}

// One after the other from the estimate; empty: it could not be fitted.
class Repeater {
public:
    Repeater(const FitProblem& problem, const FitReport& report, const BootstrapOptions& options)
        : problem_(problem), report_(report), options_(options), numbers_(problem),
          estimate_(valuesOf(report)) {
        const auto n = static_cast<double>(report.n);
        inflation_ = std::sqrt(n / std::max(1.0, static_cast<double>(report.dof)));
        spread_ = report.scale > 0 ? report.scale : report.absolute ? 1 : report.residualSd;
    }
    std::vector<double> repeat(int number, const Cancellation& stop) const {
        Random random(options_.seed * 1000003 + static_cast<std::uint64_t>(number));
        FitProblem again = problem_;
        again.derive.clear(); // their numbers are read by numbers_, once for all repetitions
        for (std::size_t m = 0; m < again.members.size(); ++m) {
            const FitMember& from = problem_.members[m];
            const MemberReport& report = report_.members[m];
            if (options_.resampling == Resampling::Residuals)
                drawResiduals(from, report, inflation_, random, again.members[m]);
            else if (options_.resampling == Resampling::Cases)
                drawCases(from, random, again.members[m]);
            else
                drawNormal(from, report, spread_, random, again.members[m]);
        }
        auto fitter = prepare(again);
        if (!fitter) return {};
        Attempt a = fitter->attempt(estimate_, {.maxIterations = 200}, stop);
        if (problem_.loss != Loss::Squares) reweigh(*fitter, a, {.maxIterations = 200}, stop);
        if (a.solved.end != SolverEnd::Converged) return {};
        return numbers_.of(a.values);
    }
    std::vector<double> estimate() const { return numbers_.of(estimate_); }

private:
    const FitProblem& problem_;
    const FitReport& report_;
    const BootstrapOptions& options_;
    Numbers numbers_;
    std::vector<double> estimate_;
    double inflation_ = 1, spread_ = 1;
};

void setInterval(auto& quantity, const std::vector<double>& list, double estimate, double z) {
    std::vector<double> finite;
    for (double v : list)
        if (std::isfinite(v)) finite.push_back(v);
    if (std::ssize(finite) < kFewest || !(quantity.se > 0)) return;
    std::tie(quantity.low, quantity.high) = biasCorrected(std::move(finite), estimate, z);
}

} // namespace

namespace {

// Empty: it could not be fitted.
std::vector<std::vector<double>> repetitions(const Repeater& repeater, int count, const Cancellation& stop) {
    std::vector<std::vector<double>> found(static_cast<std::size_t>(count));
    parallelRanges(found.size(), 8, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end && !stop.stop_requested(); ++i)
            found[i] = repeater.repeat(static_cast<int>(i), stop);
    });
    return found;
}

} // namespace

std::pair<double, double> percentiles(std::vector<double> list, double z) {
    std::ranges::sort(list);
    return percentilesAbout(list, 0, z);
}

std::vector<std::vector<double>> repeatedFits(const FitProblem& problem, const FitReport& report,
                                              const BootstrapOptions& options, const Cancellation& stop) {
    auto found = repetitions(Repeater(problem, report, options), options.count, stop);
    std::erase_if(found, [](const auto& f) { return f.empty(); });
    return found;
}

std::vector<Issue> bootstrap(const FitProblem& problem, FitReport& report, const BootstrapOptions& options,
                             const Cancellation& stop) {
    const Repeater repeater(problem, report, options);
    const auto count = static_cast<std::size_t>(options.count);
    auto found = repetitions(repeater, options.count, stop);
    std::vector<Issue> warnings;
    const std::vector<double> estimate = repeater.estimate();
    const auto failed = std::ranges::count_if(found, [](const auto& f) { return f.empty(); });
    if (stop.stop_requested())
        warnings.push_back({"stopped", "The bootstrap was stopped: its intervals are rough.", {}});
    else if (failed * 100 > std::ssize(found))
        warnings.push_back({"bootstrap",
                            fmt::format("{} of {} repetitions did not converge; they are left out of "
                                        "the intervals.",
                                        failed, count),
                            {}});
    std::erase_if(found, [](const auto& f) { return f.empty(); });
    const double z = tQuantile(report); // the scatter is itself an estimate
    std::size_t at = 0;
    auto column = [&] {
        std::vector<double> list;
        for (const auto& f : found) list.push_back(f[at]);
        return list;
    };
    for (MemberReport& member : report.members) {
        for (ParameterResult& p : member.parameters) {
            if (p.treatment != Treatment::Fixed) setInterval(p, column(), estimate[at], z);
            ++at;
        }
        for (DerivedResult& d : member.derived) {
            setInterval(d, column(), estimate[at], z);
            ++at;
        }
    }
    return warnings;
}

} // namespace jointer::fit
