// SPDX-License-Identifier: GPL-3.0-or-later
// Tests of groups as kinds. Each says the difference with its interval first, then how large it is, then p;
// what it assumes is told beside it. To add one: write its function, name it in group_tests.cpp. Thread-safe.
// Example: `if (const TestKind* t = findTest("welch")) auto result = t->run(design);`
#pragma once

#include "base/issue.h"
#include "stats/design.h"

#include <cmath>
#include <span>

namespace jointer::stats {

// How large a difference is, in units that do not hang on those of the values.
struct EffectSize {
    std::string name{};
    double value = NAN, low = NAN, high = NAN;
};

// Two groups compared within a test of several: a − b. p is that of the family.
struct PairResult {
    std::size_t a = 0, b = 0;
    double difference = NAN, low = NAN, high = NAN, p = NAN;
};

// One source of scatter in an analysis of variance.
struct VarianceTerm {
    std::string name;
    double squares = NAN, dof = NAN, f = NAN, p = NAN,
           share = NAN; // share: of what is not explained by others
};

struct TestResult {
    std::string test{}, statisticName{};
    double statistic = NAN;
    std::vector<double> dof{};
    double p = NAN;             // of both sides
    std::string differenceOf{}; // "means", "medians"…; empty: there is no single difference
    double difference = NAN, low = NAN, high = NAN;
    EffectSize effect{};
    std::vector<PairResult> pairs{};
    std::vector<VarianceTerm> terms{};
    std::vector<std::string> notes{}; // how it was reckoned: exactly or not, ties, corrections
};

enum class Needs { OneGroup, TwoGroups, Groups, Pairs, Blocks, TwoFactors, Control, Counts, Columns };

struct TestKind {
    std::string key, name, purpose;
    Needs needs;
    Result<TestResult> (*run)(const Design& design);
    std::string source{};
    // What is said where p is small, and where it is not.
    std::string found = "The groups differ beyond chance", notFound = "No difference beyond chance";
};

std::span<const TestKind> groupTests();
const TestKind* findTest(std::string_view key);

// Runs a test. Errors: "test" for one that is not known or does not go with the design, with what it needs.
Result<TestResult> runTest(std::string_view key, const Design& design);

// The tests that the design calls for, by pairing and the number of groups, with the reason; never by a look
// at the values. The first compares all groups, a second each with each.
struct Proposal {
    std::vector<std::string> tests;
    std::string reason;
};
Proposal proposedTests(const Design& design);

std::string probabilityText(double p); // "p = 0.012", "p < 0.001"

// What a test takes for granted, held against the values.
struct Assumption {
    std::string says;
    bool doubtful = false;
    std::string instead{}; // key of the test to take then; empty: none
};
std::vector<Assumption> assumptionsOf(const TestResult& result, const Design& design);

// Values that a rule calls outliers.
enum class OutlierRule {
    Fences,
    Deviates,
    Median
}; // Tukey's fences; generalised extreme deviates; 3.5 robust SD
std::vector<double> outliersOf(std::span<const double> values, OutlierRule rule);
// From the lowest to the highest value within 1.5 quartile distances of the quartiles.
std::pair<double, double> whiskersOf(std::span<const double> values);

// The trend of values in the order of time. Source: H. B. Mann, Econometrica 13 (1945) 245; P. K. Sen, J. Am.
// Stat. Assoc. 63 (1968) 1379.
struct Trend {
    double s = NAN, z = NAN, p = NAN, slope = NAN, low = NAN, high = NAN, tau = NAN;
};
Trend trendOf(std::span<const double> time, std::span<const double> values, double level = 0.95);

// Two rates of events, counts over exposures: their ratio with its exact interval. Source: J. Przyborowski,
// H. Wilenski, Biometrika 31 (1940) 313.
TestResult rateRatio(double countA, double exposureA, double countB, double exposureB, double level = 0.95);

} // namespace jointer::stats
