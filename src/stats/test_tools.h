// SPDX-License-Identifier: GPL-3.0-or-later
// What the tests of groups share. Not part of the interface of the folder.
#pragma once

#include "stats/group_tests.h"

#include <boost/math/distributions/chi_squared.hpp>
#include <boost/math/distributions/fisher_f.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/students_t.hpp>

namespace jointer::stats {

// Number, mean and sum of squares about it; made about a value of the list, so that large numbers keep their
// digits.
struct Moments {
    double n = 0, mean = NAN, squares = NAN;
    double variance() const { return squares / (n - 1); }
};
Moments momentsOf(std::span<const double> values);

// The standard error of a difference of two means whose variances may differ, and its degrees of freedom.
// Requires: two values each. Source: B. L. Welch, Biometrika 34 (1947) 28.
struct Welch {
    double error, dof;
};
Welch welchOf(const Moments& a, const Moments& b);

inline double tailOfT(double t, double dof) { // of both sides
    if (!std::isfinite(t)) return std::isnan(t) ? NAN : 0;
    return 2 * boost::math::cdf(boost::math::complement(boost::math::students_t(dof), std::abs(t)));
}

inline double quantileOfT(double level, double dof) {
    return boost::math::quantile(boost::math::students_t(dof), 0.5 + level / 2);
}

inline double tailOfF(double f, double a, double b) {
    if (!std::isfinite(f)) return std::isnan(f) ? NAN : 0;
    return f <= 0 ? 1 : boost::math::cdf(boost::math::complement(boost::math::fisher_f(a, b), f));
}

inline double tailOfChi(double x, double dof) {
    if (!std::isfinite(x)) return std::isnan(x) ? NAN : 0;
    return x <= 0 ? 1 : boost::math::cdf(boost::math::complement(boost::math::chi_squared(dof), x));
}

inline double tailOfNormal(double z) { // of both sides
    return std::isfinite(z) ? std::erfc(std::abs(z) / std::sqrt(2.0)) : std::isnan(z) ? NAN : 0;
}

inline double quantileOfNormal(double level) {
    return boost::math::quantile(boost::math::normal(), 0.5 + level / 2);
}

// The ranks of the values, those of equal ones averaged; and Σ (t³ − t) over the ties.
struct Ranks {
    std::vector<double> ranks;
    double ties = 0;
};
Ranks ranksOf(std::span<const double> values);

// p of many comparisons after Holm. Source: S. Holm, Scand. J. Statist. 6 (1979) 65.
void adjustByHolm(std::vector<PairResult>& pairs);

// One-way analysis of variance by groups.
struct OneWay {
    std::vector<Moments> groups;
    double between = 0, within = 0, dofBetween = 0, dofWithin = 0, n = 0;
    double meanSquare() const { return within / dofWithin; }
};
OneWay oneWayOf(const std::vector<Group>& groups);
Result<OneWay> wholeOneWay(const Design& d); // errors: nothing to compare, or nothing scatters

// Share of the scatter that the groups explain, with the interval of the noncentral F.
EffectSize etaSquared(double f, double dofA, double dofB, double level);
// Standardised difference of two means with the small-sample factor, interval by the noncentral t.
EffectSize hedgesG(double d, double nA, double nB, double dof, double level);

std::unexpected<Issue> cannotTest(std::string why);

// One function each, by file.
Result<TestResult> oneSampleTest(const Design&);
Result<TestResult> welchTest(const Design&);
Result<TestResult> studentTest(const Design&);
Result<TestResult> pairedTest(const Design&);
Result<TestResult> anovaTest(const Design&);
Result<TestResult> welchAnovaTest(const Design&);
Result<TestResult> twoWayTest(const Design&);
Result<TestResult> repeatedTest(const Design&);
Result<TestResult> tukeyTest(const Design&);
Result<TestResult> holmTest(const Design&);
Result<TestResult> dunnettTest(const Design&);
Result<TestResult> gamesHowellTest(const Design&);
Result<TestResult> bartlettTest(const Design&);
Result<TestResult> leveneTest(const Design&);
Result<TestResult> mannWhitneyTest(const Design&);
Result<TestResult> wilcoxonTest(const Design&);
Result<TestResult> kruskalWallisTest(const Design&);
Result<TestResult> dunnTest(const Design&);
Result<TestResult> friedmanTest(const Design&);
Result<TestResult> pearsonTest(const Design&);
Result<TestResult> spearmanTest(const Design&);
Result<TestResult> kendallTest(const Design&);
Result<TestResult> fisherTest(const Design&);
Result<TestResult> ratesTest(const Design&);
Result<TestResult> chiSquaredTest(const Design&);
Result<TestResult> trendTest(const Design&);

} // namespace jointer::stats
