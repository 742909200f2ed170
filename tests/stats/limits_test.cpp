// SPDX-License-Identifier: GPL-3.0-or-later
// Values below limits against an independent statistics language (tools/limit_references), closed forms, and
// samples whose truth is known.
#include "stats/group_tests.h"
#include "stats/limits.h"
#include "stats/summary.h"

#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>

using namespace jointer::stats;
using nlohmann::json;

namespace {

void expectNearOrNone(double got, const json& want, double within, const std::string& what) {
    if (want.is_null())
        EXPECT_TRUE(std::isnan(got)) << what << " " << got;
    else
        EXPECT_NEAR(got, want.get<double>(), within * std::abs(want.get<double>())) << what;
}

// Log-normal values, and the limit below which each is not seen.
struct Sample {
    std::vector<double> values, limits;
    Sample(std::mt19937_64& random, int n, const std::vector<double>& limitsOfMethods) {
        std::lognormal_distribution<double> draw(0, 0.7);
        std::uniform_int_distribution<std::size_t> which(0, limitsOfMethods.size() - 1);
        for (int i = 0; i < n; ++i) {
            const double v = draw(random), limit = limitsOfMethods[which(random)];
            v < limit ? limits.push_back(limit) : values.push_back(v);
        }
    }
};

} // namespace

TEST(Limits, AsAnIndependentProgramSaysOfThem) {
    std::ifstream file(JOINTER_SOURCE_DIR "/tests/data_files/stats/limits.json");
    const json all = json::parse(file);
    ASSERT_GE(all["cases"].size(), 20U);
    for (std::size_t k = 0; k < all["cases"].size(); ++k) {
        const json& c = all["cases"][k];
        const LimitedSummary s = summariseWithLimits(c["values"].get<std::vector<double>>(),
                                                     c["limits"].get<std::vector<double>>());
        const std::string what = "case " + std::to_string(k);
        expectNearOrNone(s.mean, c["mean"], 1e-10, what + " mean");
        expectNearOrNone(s.sem, c["sem"], 1e-10, what + " error of the mean");
        expectNearOrNone(s.q1, c["quartiles"][0], 1e-10, what + " first quartile");
        expectNearOrNone(s.median, c["quartiles"][1], 1e-10, what + " median");
        expectNearOrNone(s.q3, c["quartiles"][2], 1e-10, what + " third quartile");
    }
}

TEST(Limits, WithoutAnyTheNumbersOfTheValues) {
    std::mt19937_64 random(5);
    for (int run = 0; run < 50; ++run) {
        const Sample sample(random, 3 + run, {-1e9});
        const LimitedSummary s = summariseWithLimits(sample.values, {});
        const Summary plain = summarise(sample.values);
        EXPECT_NEAR(s.mean, plain.mean, 1e-12 * plain.mean);
        EXPECT_NEAR(s.sd, plain.sd, 1e-12 * plain.sd);
        EXPECT_NEAR(s.sem, plain.sem, 1e-12 * plain.sem);
        EXPECT_EQ(s.unknownShare, 0);
    }
}

TEST(Limits, ByHand) {
    // 3 and 1 measured, one below 2: of the place at 3 a third; of what is below, both at 1 (the limit says
    // no more).
    const LimitedSummary s = summariseWithLimits(std::vector<double>{3, 1}, std::vector<double>{2});
    EXPECT_NEAR(s.mean, 3 / 3.0 + 2 / 3.0, 1e-15);
    EXPECT_EQ(s.median, 1);
    EXPECT_EQ(s.unknownShare, 0);
    // Below 1 the half is not known: at most 1, at least nought.
    const LimitedSummary low = summariseWithLimits(std::vector<double>{3, 2}, std::vector<double>{1, 1});
    EXPECT_NEAR(low.mean, 7 / 4.0, 1e-15);
    EXPECT_NEAR(low.meanAtLeast, 5 / 4.0, 1e-15);
    EXPECT_EQ(low.unknownShare, 0.5);
    EXPECT_TRUE(std::isnan(low.q1));
    EXPECT_TRUE(std::isnan(low.median)); // just so much lies below all that was measured
    const LimitedSummary none = summariseWithLimits({}, std::vector<double>{1, 1});
    EXPECT_EQ(none.n, 2U);
    EXPECT_TRUE(std::isnan(none.mean));
    EXPECT_EQ(none.unknownShare, 1);
    EXPECT_TRUE(std::isnan(summariseWithLimits({}, {}).mean));
    EXPECT_TRUE(
        std::isnan(meanHalfWidth(summariseWithLimits(std::vector<double>{2}, std::vector<double>{1}), 0.95)));
}

TEST(Limits, TheMeanIsTheTrueOneWhereLimitsAreLow) {
    std::mt19937_64 random(11);
    const double truth = std::exp(0.245); // of exp(0.7 z)
    double sum = 0, halves = 0;
    int covered = 0;
    constexpr int kRuns = 2000;
    for (int run = 0; run < kRuns; ++run) {
        const Sample sample(random, 60, {0.1, 0.5, 0.9});
        const LimitedSummary s = summariseWithLimits(sample.values, sample.limits);
        const double half = meanHalfWidth(s, 0.95);
        sum += s.mean;
        covered += std::abs(s.mean - truth) <= half;
        halves += summarise(sample.values).mean;
    }
    EXPECT_NEAR(sum / kRuns, truth, 0.012);
    EXPECT_GT(halves / kRuns, truth + 0.15); // what leaving them out would say
    EXPECT_NEAR(covered, 0.94 * kRuns,
                0.025 * kRuns); // of so skew values the interval of a plain mean holds 93 %
}

TEST(Limits, RanksTieWhatCannotBeToldApart) {
    Design d{.groups = {{.name = "a", .values = {1, 4, 5, 6, 7, 8}, .limits = {2}},
                        {.name = "b", .values = {2, 3, 1.5}, .limits = {2, 0.5, 2}}}};
    const Design tied = withTiedLimits(d);
    EXPECT_EQ(tied.groups[0].values.size(), 7U);
    EXPECT_EQ(std::ranges::count_if(tied.groups[0].values, [](double v) { return v < 2; }), 2);
    EXPECT_EQ(std::ranges::count_if(tied.groups[1].values, [](double v) { return v < 2; }), 4);
    const auto got = runTest("mann-whitney", d);
    ASSERT_TRUE(got);
    const Design zeros{.groups = {{.name = "a", .values = {0, 4, 5, 6, 7, 8, 0}},
                                  {.name = "b", .values = {2, 3, 0, 0, 0, 0}}}};
    const auto want = runTest("mann-whitney", zeros);
    EXPECT_EQ(got->p, want->p);
    EXPECT_TRUE(std::isnan(got->difference)); // a shift of values that are not known
    EXPECT_EQ(proposedTests(d).tests, std::vector<std::string>{"mann-whitney"});
    EXPECT_EQ(proposedTests(zeros).tests, std::vector<std::string>{"welch"});
    // A test of means says what it leaves out.
    const auto welch = runTest("welch", d);
    const auto assumptions = assumptionsOf(*welch, d);
    EXPECT_TRUE(std::ranges::any_of(
        assumptions, [](const Assumption& a) { return a.doubtful && a.instead == "mann-whitney"; }));
}
