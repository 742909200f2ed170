// SPDX-License-Identifier: GPL-3.0-or-later
// Tests of groups against an independent statistics language (tools/stats_references), against certified
// analyses, and against themselves by simulation.
#include "stats/group_tests.h"
#include "stats/normality.h"
#include "stats/range_distributions.h"
#include "stats/rank_distributions.h"

#include <algorithm>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>

using namespace jointer::stats;
using nlohmann::json;

namespace {

json reference() {
    std::ifstream file(JOINTER_SOURCE_DIR "/tests/data_files/stats/reference.json");
    return json::parse(file);
}

json casesOf(const std::string& kind) {
    json out = json::array();
    const json all = reference();
    for (const json& c : all["cases"])
        if (c["kind"] == kind) out.push_back(c);
    EXPECT_FALSE(out.empty()) << kind;
    return out;
}

std::vector<Group> groupsOf(const json& lists) {
    std::vector<Group> out;
    for (const json& l : lists)
        out.push_back({"g" + std::to_string(out.size() + 1), l.get<std::vector<double>>()});
    return out;
}

Design pairsOf(const json& lists) {
    Design d{.groups = groupsOf(lists)};
    for (std::size_t i = 0; i < d.groups[0].values.size(); ++i)
        d.subjects.push_back({d.groups[0].values[i], d.groups[1].values[i]});
    return d;
}

Design blocksOf(const std::vector<std::vector<double>>& subjects) {
    Design d{.subjects = subjects};
    for (std::size_t g = 0; g < subjects[0].size(); ++g) {
        d.groups.push_back({"g" + std::to_string(g + 1), {}});
        for (const auto& s : subjects) d.groups.back().values.push_back(s[g]);
    }
    return d;
}

void expectNear(double got, const json& want, double relative, const std::string& what) {
    ASSERT_TRUE(want.is_number()) << what;
    const double w = want.get<double>();
    EXPECT_NEAR(got, w, relative * std::abs(w) + 1e-15) << what; // one minus a sum has no more
}

// Statistic, degrees of freedom, p, difference and interval, where the reference has them. `tail`: how many
// digits its p has.
void expectTest(const std::string& key, const Design& d, const json& want, double tail = 1e-9) {
    const auto got = runTest(key, d);
    ASSERT_TRUE(got) << key << ": " << got.error().text;
    if (want.contains("statistic")) expectNear(got->statistic, want["statistic"], 1e-9, key);
    if (want.contains("dof") && !want["dof"].empty()) {
        ASSERT_EQ(got->dof.size(), want["dof"].size()) << key;
        for (std::size_t i = 0; i < got->dof.size(); ++i)
            expectNear(got->dof[i], want["dof"][i], 1e-10, key + " dof");
    }
    expectNear(got->p, want["p"], tail, key + " p");
    if (want.contains("ci") && !want.contains("tied")) {
        expectNear(got->low, want["ci"][0], 1e-9, key + " low");
        expectNear(got->high, want["ci"][1], 1e-9, key + " high");
    }
}

// A p that may be quite small: to some absolute error of its own.
void expectPairs(const std::string& key, const Design& d, const json& want, double ofInterval, double ofP) {
    const auto got = runTest(key, d);
    ASSERT_TRUE(got) << key << ": " << got.error().text;
    ASSERT_EQ(got->pairs.size(), want["pairs"].size()) << key;
    for (std::size_t k = 0; k < got->pairs.size(); ++k) {
        const json& w = want["pairs"][k];
        const PairResult& p = got->pairs[k];
        EXPECT_NEAR(p.p, w["p"].get<double>(), ofP) << key;
        if (!w.contains("low")) continue;
        const double half = 0.5 * (w["high"].get<double>() - w["low"].get<double>());
        EXPECT_NEAR(p.difference, w["difference"].get<double>(), 1e-11 * (1 + half)) << key;
        EXPECT_NEAR(p.low, w["low"].get<double>(), ofInterval * half) << key;
        EXPECT_NEAR(p.high, w["high"].get<double>(), ofInterval * half) << key;
    }
}

} // namespace

TEST(GroupTests, SeveralGroupsAsTheReferenceSays) {
    for (const json& c : casesOf("groups")) {
        Design d{.groups = groupsOf(c["groups"]), .control = 0};
        const json& tests = c["tests"];
        for (const char* key : {"anova", "welch-anova", "bartlett", "levene", "kruskal-wallis"})
            expectTest(key, d, tests[key]);
        const auto anova = runTest("anova", d);
        ASSERT_TRUE(anova);
        for (std::size_t i : {0U, 1U})
            expectNear(anova->terms[i].squares, tests["anova"]["squares"][i], 1e-10, "squares");
        // Its quantiles of the range are good to 10⁻⁴ only, its multivariate t is an integral by chance.
        expectPairs("tukey", d, tests["tukey"], 2e-4, 1e-9);
        expectPairs("games-howell", d, tests["games-howell"], 2e-4, 1e-8);
        expectPairs("holm", d, tests["holm"], 1, 1e-10);
        expectPairs("dunnett", d, tests["dunnett"], 5e-4, 2e-5);
    }
}

TEST(GroupTests, TwoGroupsAsTheReferenceSays) {
    for (const json& c : casesOf("two")) {
        const Design d{.groups = groupsOf(c["groups"])};
        expectTest("welch", d, c["tests"]["welch"]);
        expectTest("student", d, c["tests"]["student"]);
        const json& rank = c["tests"]["mann-whitney"];
        expectTest("mann-whitney", d, rank);
        if (!rank["tied"].get<bool>()) {
            const auto r = runTest("mann-whitney", d);
            expectNear(r->difference, rank["difference"], 1e-9, "median of differences");
            expectNear(r->low, rank["ci"][0], 1e-9, "low");
            expectNear(r->high, rank["ci"][1], 1e-9, "high");
        }
        const Design one{.groups = {d.groups[0]}, .against = 2.5};
        expectTest("one-sample", one, c["one"]);
        const Normality w = shapiroWilk(d.groups[1].values);
        expectNear(w.w, c["shapiro"]["w"], 1e-6, "W"); // published coefficients have six digits
        EXPECT_NEAR(w.p, c["shapiro"]["p"].get<double>(), 1e-5);
    }
}

TEST(GroupTests, PairsAsTheReferenceSays) {
    for (const json& c : casesOf("pairs")) {
        const Design d = pairsOf(c["groups"]);
        const json& tests = c["tests"];
        expectTest("paired", d, tests["paired"]);
        expectTest("wilcoxon", d, tests["wilcoxon"]);
        if (!tests["wilcoxon"]["tied"].get<bool>()) {
            const auto r = runTest("wilcoxon", d);
            expectNear(r->difference, tests["wilcoxon"]["difference"], 1e-9, "median");
            expectNear(r->low, tests["wilcoxon"]["ci"][0], 1e-9, "low");
            expectNear(r->high, tests["wilcoxon"]["ci"][1], 1e-9, "high");
        }
        expectTest("pearson", d, tests["pearson"]);
        const auto pearson = runTest("pearson", d);
        expectNear(pearson->effect.value, tests["pearson"]["effect"], 1e-12, "r");
        expectNear(pearson->effect.low, tests["pearson"]["effect_ci"][0], 1e-11, "r low");
        expectNear(pearson->effect.high, tests["pearson"]["effect_ci"][1], 1e-11, "r high");
        expectTest("spearman", d, tests["spearman"]);
        expectTest("kendall", d, tests["kendall"]);
        expectNear(runTest("kendall", d)->effect.value, tests["kendall"]["effect"], 1e-12, "τ");
    }
}

TEST(GroupTests, SubjectsMeasuredAgainAsTheReferenceSays) {
    for (const json& c : casesOf("blocks")) {
        const Design d = blocksOf(c["subjects"].get<std::vector<std::vector<double>>>());
        expectTest("repeated-measures", d, c["tests"]["repeated-measures"]);
        expectTest("friedman", d, c["tests"]["friedman"]);
        const auto r = runTest("repeated-measures", d);
        char epsilon[32];
        std::snprintf(epsilon, sizeof epsilon, "(ε = %.3g)", c["epsilon"].get<double>());
        EXPECT_NE(r->notes[0].find(epsilon), std::string::npos) << r->notes[0] << " " << epsilon;
    }
}

TEST(GroupTests, TwoFactorsAsTheReferenceSays) {
    for (const json& c : casesOf("factors")) {
        Design d{.factors = TwoFactors{"a", "b", {}, {}, {}}};
        d.factors->cells = c["cells"].get<std::vector<std::vector<std::vector<double>>>>();
        for (std::size_t i = 0; i < d.factors->cells.size(); ++i)
            d.factors->firstLevels.push_back(std::to_string(i));
        for (std::size_t j = 0; j < d.factors->cells[0].size(); ++j)
            d.factors->secondLevels.push_back(std::to_string(j));
        for (int type : {2, 3}) {
            d.squares = type;
            const json& want = c[type == 2 ? "II" : "III"];
            const auto r = runTest("two-way-anova", d);
            ASSERT_TRUE(r);
            ASSERT_EQ(r->terms.size(), 4U);
            for (std::size_t k = 0; k < 4; ++k) {
                expectNear(r->terms[k].squares, want["squares"][k], 1e-9, "squares");
                expectNear(r->terms[k].dof, want["dof"][k], 1e-12, "dof");
                if (k == 3) continue;
                expectNear(r->terms[k].f, want["f"][k], 1e-9, "F");
                expectNear(r->terms[k].p, want["p"][k], 1e-8, "p");
            }
        }
    }
}

TEST(GroupTests, CountsAsTheReferenceSays) {
    for (const json& c : casesOf("counts")) {
        Design d{.counts = Counts{}};
        d.counts->counts = c["counts"].get<std::vector<std::vector<double>>>();
        const auto& t = d.counts->counts;
        expectTest("chi-squared", d, c["tests"]["chi-squared"]);
        if (c["tests"].contains("fisher")) {
            const json& want = c["tests"]["fisher"];
            const auto r = runTest("fisher", d);
            ASSERT_TRUE(r);
            expectNear(r->p, want["p"], 1e-9, "Fisher p");
            expectNear(r->effect.value, want["statistic"], 1e-3, "odds ratio"); // theirs: a coarse search
            expectNear(r->effect.low, want["ci"][0], 1e-3, "odds low");
            expectNear(r->effect.high, want["ci"][1], 1e-3, "odds high");
        }
        const TestResult rates = rateRatio(t[0][0], 3.5, t[0][1], 2.25);
        expectNear(rates.p, c["rates"]["p"], 1e-9, "rates p");
        expectNear(rates.effect.value, c["rates"]["ratio"], 1e-12, "ratio");
        expectNear(rates.effect.low, c["rates"]["ci"][0], 1e-9, "ratio low");
        expectNear(rates.effect.high, c["rates"]["ci"][1], 1e-9, "ratio high");
    }
}

TEST(RangeDistributions, AsTheReferenceSaysAndBackAgain) {
    const json all = reference();
    ASSERT_FALSE(all["ranges"].empty());
    for (const json& r : all["ranges"]) {
        const double q = r["q"], dof = r["dof"].is_null() ? INFINITY : r["dof"].get<double>();
        const auto groups = r["groups"].get<std::size_t>();
        const StudentisedRange range(groups);
        const double tail = range.tail(q, dof);
        EXPECT_NEAR(tail, r["tail"].get<double>(), 1e-10);
        EXPECT_NEAR(range.quantile(tail, dof), q, 1e-6 * q);
    }
    // Two groups: the range is √2·|t|; one group beside a control: |t|, however few the control's values are.
    const StudentisedRange two(2);
    for (double t : {0.3, 1.0, 2.6, 5.0}) {
        EXPECT_NEAR(two.tail(t * std::sqrt(2.0), INFINITY), std::erfc(t / std::sqrt(2.0)), 1e-11);
        EXPECT_NEAR(two.tail(t * std::sqrt(2.0), 2), 1 - t / std::sqrt(t * t + 2), 1e-11); // closed form
        for (double control : {1.0, 4.0, 1e5})
            for (double n : {2.0, 7.0, 1e6})
                EXPECT_NEAR(LargestFromControl({n}, control).tail(t, 2), 1 - t / std::sqrt(t * t + 2), 1e-10)
                    << n << " " << control;
    }
}

// Published: Dunnett's tables of both sides at 5 %, equal numbers in all groups (J. Am. Stat. Assoc. 50
// (1955) 1096; Biometrics 20 (1964) 482).
TEST(RangeDistributions, DunnettsTables) {
    struct Row {
        std::size_t groups;
        double dof, t;
    };
    for (const Row& r : {Row{1, 10, 2.23}, Row{2, 10, 2.57}, Row{4, 10, 2.89}, Row{9, 10, 3.24},
                         Row{3, 20, 2.54}, Row{5, 60, 2.58}, Row{2, 5, 3.03}}) {
        const std::vector<double> counts(r.groups, 5.0);
        EXPECT_NEAR(LargestFromControl(counts, 5).quantile(0.05, r.dof), r.t, 0.0051)
            << r.groups << " " << r.dof;
    }
}

namespace {

// All ways to part n ranks into m and the rest: how often U is what it is.
std::vector<double> enumeratedRankSums(std::size_t m, std::size_t n) {
    std::vector<bool> first(m + n, false);
    std::fill(first.end() - static_cast<std::ptrdiff_t>(m), first.end(), true);
    std::vector<double> out(m * n + 1);
    double all = 0;
    do {
        std::size_t u = 0, others = 0;
        for (const bool f : first) (f ? u : others) += f ? others : 1;
        ++out[u], ++all;
    } while (std::next_permutation(first.begin(), first.end()));
    for (double& v : out) v /= all;
    return out;
}

} // namespace

TEST(RankDistributions, AreWhatEnumerationGives) {
    for (std::size_t m : {1U, 3U, 5U, 7U})
        for (std::size_t n : {1U, 2U, 6U}) {
            const auto want = enumeratedRankSums(m, n);
            const CountDistribution got = rankSumDistribution(m, n);
            ASSERT_EQ(got.largest(), m * n);
            double sum = 0;
            for (std::size_t u = 0; u < want.size(); ++u)
                EXPECT_NEAR(got.below(u), sum += want[u], 1e-13) << m << " " << n;
        }
    for (std::size_t n : {1U, 4U, 9U}) { // all signs
        std::vector<double> want(n * (n + 1) / 2 + 1);
        for (std::size_t signs = 0; signs < (std::size_t{1} << n); ++signs) {
            std::size_t v = 0;
            for (std::size_t k = 0; k < n; ++k)
                if (signs >> k & 1U) v += k + 1;
            want[v] += 1.0 / static_cast<double>(std::size_t{1} << n);
        }
        const CountDistribution got = signedRankDistribution(n);
        double sum = 0;
        for (std::size_t v = 0; v < want.size(); ++v) EXPECT_NEAR(got.below(v), sum += want[v], 1e-13);
    }
    for (std::size_t n : {2U, 5U, 7U}) { // all permutations
        std::vector<int> order(n);
        for (std::size_t k = 0; k < n; ++k) order[k] = static_cast<int>(k);
        std::vector<double> want(n * (n - 1) / 2 + 1);
        double all = 0;
        do {
            std::size_t c = 0;
            for (std::size_t i = 0; i < n; ++i)
                for (std::size_t j = i + 1; j < n; ++j) c += order[i] < order[j];
            ++want[c], ++all;
        } while (std::ranges::next_permutation(order).found);
        const CountDistribution got = concordanceDistribution(n);
        double sum = 0;
        for (std::size_t c = 0; c < want.size(); ++c) EXPECT_NEAR(got.below(c), sum += want[c] / all, 1e-13);
    }
}

// Certified analyses of variance: a design of nine groups about 10¹² whose digits at the twelfth place vary
// has F and squares in closed form.
TEST(GroupTests, AnalysisOfVarianceKeepsItsDigitsUnderALargeMean) {
    for (double offset : {0.0, 1e6, 1e12}) {
        // Each group holds c + 0.1·(−1 … 1 in turn) about c = 0.1, 0.2…: the values are made exactly as
        // decimals are read.
        constexpr int groups = 9, n = 20; // of pairs
        Design d;
        for (int g = 0; g < groups; ++g) {
            Group group{"g", {}};
            const double middle = offset + (g % 2 == 0 ? 0.5 : 0.25);
            group.values.push_back(middle);
            for (int i = 0; i < n; ++i) {
                group.values.push_back(middle - 0.125);
                group.values.push_back(middle + 0.125);
            }
            d.groups.push_back(group);
        }
        const auto r = runTest("anova", d);
        ASSERT_TRUE(r);
        const double within = groups * 2.0 * n * 0.125 * 0.125,
                     each = 2 * n + 1, // five groups at 1/2, four at 1/4
            between = each * 0.25 * 0.25 * 5.0 * 4.0 / 9.0;
        EXPECT_NEAR(r->terms[0].squares, between, 1e-12 * between) << offset;
        EXPECT_NEAR(r->terms[1].squares, within, 1e-12 * within) << offset;
        EXPECT_NEAR(r->statistic, between / 8 / (within / (groups * each - 9)), 1e-11 * r->statistic);
    }
}

namespace {

Design normalGroups(std::mt19937_64& random, const std::vector<std::size_t>& sizes, double shift = 0) {
    std::normal_distribution<double> noise;
    Design d;
    for (std::size_t n : sizes) {
        Group g{"g" + std::to_string(d.groups.size()), {}};
        for (std::size_t i = 0; i < n; ++i)
            g.values.push_back(noise(random) + shift * static_cast<double>(d.groups.size()));
        d.groups.push_back(g);
    }
    d.control = 0;
    return d;
}

} // namespace

// Under equal means a test at 5 % is wrong in 5 of 100, and its interval covers nought otherwise; families as
// a whole no oftener.
TEST(GroupTests, AreWrongAsOftenAsTheySay) {
    std::mt19937_64 random(77);
    constexpr int runs = 700; // 5 ± 2.5 %: three standard deviations
    struct Case {
        const char* key;
        std::vector<std::size_t> sizes;
    };
    for (const Case& c :
         {Case{"welch", {7, 15}}, Case{"student", {7, 15}}, Case{"mann-whitney", {9, 12}},
          Case{"anova", {5, 8, 6}}, Case{"welch-anova", {9, 8, 12}}, Case{"kruskal-wallis", {9, 8, 12}},
          Case{"tukey", {6, 6, 6, 6}}, Case{"games-howell", {9, 9, 9}}, Case{"holm", {6, 7, 8}},
          Case{"dunnett", {8, 5, 6, 7}}, Case{"dunn", {9, 8, 12}}, Case{"levene", {12, 15}},
          Case{"bartlett", {9, 12, 8}}}) {
        int wrong = 0;
        for (int i = 0; i < runs; ++i) {
            const auto r = runTest(c.key, normalGroups(random, c.sizes));
            ASSERT_TRUE(r);
            wrong += r->p < 0.05;
        }
        const double share = static_cast<double>(wrong) / runs;
        EXPECT_NEAR(share, 0.05, 0.025) << c.key;
    }
}

// What stands beside each other must agree: p below 5 % exactly where the interval is off nought, and both
// turn with the order of the groups.
TEST(GroupTests, IntervalAndPAgreeAndTheOrderTurnsTheSign) {
    std::mt19937_64 random(5);
    for (int i = 0; i < 200; ++i) {
        const Design d = normalGroups(random, {6, 9}, 0.9);
        Design turned = d;
        std::swap(turned.groups[0], turned.groups[1]);
        for (const char* key : {"welch", "student", "mann-whitney"}) {
            const auto a = runTest(key, d), b = runTest(key, turned);
            ASSERT_TRUE(a && b);
            EXPECT_NEAR(a->p, b->p, 1e-12) << key;
            EXPECT_NEAR(a->difference, -b->difference, 1e-12) << key;
            EXPECT_NEAR(a->low, -b->high, 1e-12) << key;
            EXPECT_EQ(a->p<0.05, a->low> 0 || a->high < 0) << key << " " << a->p;
            EXPECT_LE(a->low, a->difference);
            EXPECT_GE(a->high, a->difference);
            if (std::isfinite(a->effect.low)) {
                EXPECT_LE(a->effect.low, a->effect.value) << key;
                EXPECT_GE(a->effect.high, a->effect.value) << key;
            }
        }
        const Design many = normalGroups(random, {5, 6, 7}, 0.7);
        for (const char* key : {"tukey", "games-howell", "dunnett"}) {
            const auto r = runTest(key, many);
            for (const PairResult& p : r->pairs) EXPECT_EQ(p.p<0.05, p.low> 0 || p.high < 0) << key;
        }
    }
}

// Groups that are empty, of one value, all alike, of huge and tiny numbers: a result or a sentence, never a
// crash nor a p outside 0 … 1.
TEST(GroupTests, OddGroupsGiveASentenceOrANumber) {
    const std::vector<std::vector<double>> odd = {
        {}, {1}, {2, 2, 2}, {1, 2}, {1e300, -1e300, 1e299}, {1e-300, 2e-300, 3e-300}, {5, 6, 7, 8, 9}};
    for (const TestKind& kind : groupTests())
        for (const auto& a : odd)
            for (const auto& b : odd)
                for (bool paired : {false, true}) {
                    Design d{.groups = {{"a", a}, {"b", b}}, .control = 0};
                    if (paired)
                        for (std::size_t i = 0; i < std::min(a.size(), b.size()); ++i)
                            d.subjects.push_back({a[i], b[i]});
                    d.factors = TwoFactors{"f", "s", {"1", "2"}, {"1", "2"}, {{a, b}, {b, a}}};
                    d.counts = Counts{{"a", "b"},
                                      {"no", "yes"},
                                      {{static_cast<double>(a.size()), static_cast<double>(b.size())},
                                       {static_cast<double>(b.size()), 1}}};
                    const auto r = runTest(kind.key, d);
                    if (!r) {
                        EXPECT_FALSE(r.error().text.empty());
                        continue;
                    }
                    EXPECT_FALSE(r->p < 0 || r->p > 1) << kind.key << " " << r->p;
                    EXPECT_EQ(r->test, kind.key);
                    EXPECT_FALSE(assumptionsOf(*r, d).empty());
                }
}

TEST(GroupTests, WhatIsMissingIsSaid) {
    const Design two{.groups = {{"a", {1, 2, 3}}, {"b", {2, 3, 5}}}};
    const auto say = [&](const char* key) { return runTest(key, two).error().text; };
    EXPECT_EQ(say("paired"), "Paired t takes pairs: say which values are of one subject.");
    EXPECT_EQ(say("dunnett"), "Dunnett’s comparisons compares with a control: name it.");
    EXPECT_EQ(say("two-way-anova"), "Two-way analysis of variance takes two factors: name a second one.");
    EXPECT_NE(say("t").find("There is no test called “t”; there are one-sample, welch"), std::string::npos);
}

TEST(GroupTests, TheDesignProposesNeverTheValues) {
    Design d{.groups = {{"a", {1, 2, 3}}, {"b", {2, 3, 5}}}};
    EXPECT_EQ(proposedTests(d).tests, std::vector<std::string>{"welch"});
    d.subjects = {{1, 2}, {2, 3}, {3, 5}};
    EXPECT_EQ(proposedTests(d).tests, std::vector<std::string>{"welch"}) << "rows alone are no pairs";
    d.repeated = true;
    EXPECT_EQ(proposedTests(d).tests, std::vector<std::string>{"paired"});
    d.subjects.clear();
    d.repeated = false;
    d.groups.push_back({"c", {4, 4, 400}});
    EXPECT_EQ(proposedTests(d).tests, (std::vector<std::string>{"welch-anova", "games-howell"}));
    d.control = 1;
    EXPECT_EQ(proposedTests(d).tests, (std::vector<std::string>{"welch-anova", "dunnett"}));
    d.subjects = {{1, 2, 4}, {2, 3, 4}};
    d.repeated = true;
    EXPECT_EQ(proposedTests(d).tests, std::vector<std::string>{"repeated-measures"});
}

TEST(GroupTests, DoubtfulAssumptionsNameTheTestToTake) {
    std::mt19937_64 random(11);
    Design d = normalGroups(random, {40, 40, 40});
    for (double& v : d.groups[2].values) v *= 6;
    const auto student = runTest("anova", d);
    const auto said = assumptionsOf(*student, d);
    EXPECT_TRUE(std::ranges::any_of(
        said, [](const Assumption& a) { return a.doubtful && a.instead == "welch-anova"; }));
    for (double& v : d.groups[0].values) v = std::exp(2 * v);
    const auto welch = runTest("welch-anova", d);
    EXPECT_TRUE(std::ranges::any_of(assumptionsOf(*welch, d), [](const Assumption& a) {
        return a.doubtful && a.instead == "kruskal-wallis";
    }));
}

// Rosner's own example of 54 values has three outliers (Technometrics 25 (1983) 165).
TEST(GroupTests, OutliersByThreeRules) {
    const std::vector<double> rosner = {-0.25, 0.68, 0.94, 1.15, 1.20, 1.26, 1.26, 1.34, 1.38, 1.43, 1.49,
                                        1.49,  1.55, 1.56, 1.58, 1.65, 1.69, 1.70, 1.76, 1.77, 1.81, 1.91,
                                        1.94,  1.96, 1.99, 2.06, 2.09, 2.10, 2.14, 2.15, 2.23, 2.24, 2.26,
                                        2.35,  2.37, 2.40, 2.47, 2.54, 2.62, 2.64, 2.90, 2.92, 2.92, 2.93,
                                        3.21,  3.26, 3.30, 3.59, 3.68, 4.30, 4.64, 5.34, 5.42, 6.01};
    EXPECT_EQ(outliersOf(rosner, OutlierRule::Deviates), (std::vector<double>{5.34, 5.42, 6.01}));
    const std::vector<double> plain = {1, 2, 3, 4, 5, 6, 7, 8, 9, 30};
    EXPECT_EQ(outliersOf(plain, OutlierRule::Fences), std::vector<double>{30});
    EXPECT_EQ(outliersOf(plain, OutlierRule::Median), std::vector<double>{30});
    EXPECT_EQ(whiskersOf(plain), (std::pair<double, double>{1, 9}));
}

TEST(Trend, OfALineIsItsSlopeAndOfNoiseNone) {
    std::vector<double> t, v;
    for (int i = 0; i < 30; ++i) t.push_back(i), v.push_back(3 + 0.25 * i);
    const Trend up = trendOf(t, v);
    EXPECT_NEAR(up.slope, 0.25, 1e-12);
    EXPECT_EQ(up.s, 30 * 29 / 2);
    EXPECT_NEAR(up.tau, 1, 1e-12);
    EXPECT_LT(up.p, 1e-9);
    std::mt19937_64 random(3);
    std::normal_distribution<double> noise;
    int found = 0, covered = 0;
    constexpr int runs = 1000;
    for (int run = 0; run < runs; ++run) {
        for (std::size_t i = 0; i < v.size(); ++i) v[i] = noise(random);
        const Trend r = trendOf(t, v);
        found += r.p < 0.05;
        covered += r.low <= 0 && r.high >= 0;
    }
    EXPECT_NEAR(found, 0.05 * runs, 0.025 * runs);
    EXPECT_NEAR(covered, 0.95 * runs, 0.025 * runs);
}

// Sums of squares that are too large for a number are no answer, and "no difference" would be a wrong one.
TEST(GroupTests, WhatOverflowsIsRefused) {
    Design d{
        .groups = {{.name = "a", .values = {1e300, -1e300, 3e299}}, {.name = "b", .values = {1, 2, 1e300}}}};
    d.subjects = {{1e300, 1}, {-1e300, 2}, {3e299, 1e300}};
    for (const TestKind& t : groupTests()) {
        const auto r = runTest(t.key, d);
        if (r) {
            EXPECT_FALSE(std::isnan(r->p)) << t.key;
        }
    }
    const auto anova = runTest("anova", d);
    ASSERT_FALSE(anova);
    EXPECT_EQ(anova.error().code, "cannot-test");
}
