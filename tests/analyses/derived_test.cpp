// SPDX-License-Identifier: GPL-3.0-or-later
// Derived numbers: values, errors and intervals against closed forms and simulation with known truth.
#include "analyses/derived/derived.h"
#include "support/random.h"

#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::analyses;
using testing::HasSubstr;

namespace {

// A result with numbers of a known covariance.
AnalysisResult resultOf(const std::vector<std::tuple<std::string, double, std::string>>& numbers,
                        const Eigen::MatrixXd& covariance, double dof = 0) {
    AnalysisResult out;
    out.good = true;
    const Eigen::MatrixXd root = covariance.llt().matrixL();
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        const auto& [name, value, unit] = numbers[i];
        const auto k = static_cast<Eigen::Index>(i);
        out.quantities.push_back({.key = name,
                                  .label = name,
                                  .unit = unit,
                                  .value = value,
                                  .se = std::sqrt(covariance(k, k)),
                                  .state = "free"});
        out.covariance.add({.common = root.row(k)});
    }
    if (dof > 0) out.quality.push_back({.key = "dof", .label = "dof", .value = dof, .state = "quality"});
    return out;
}

Eigen::MatrixXd matrix(double aa, double ab, double bb) {
    Eigen::MatrixXd m(2, 2);
    m << aa, ab, ab, bb;
    return m;
}

AnalysisResult derived(const std::string& formulas, std::vector<DerivedSource> sources,
                       DerivedErrors errors = DerivedErrors::FirstOrder) {
    const auto read = derivedFormulas(formulas);
    EXPECT_TRUE(read) << formulas;
    const auto out = derive({.formulas = *read, .sources = std::move(sources), .errors = errors});
    EXPECT_TRUE(out) << formulas << ": " << (out ? "" : out.error().text);
    return out.value_or(AnalysisResult{});
}

} // namespace

TEST(Derived, OfOneFit) {
    const auto a = resultOf({{"a", 4, "mg"}, {"b", 2, "h"}}, matrix(0.04, 0.015, 0.01));
    const auto out = derived("rate = a/b\nhalf = rate/2\nback [mg/min] = rate", {{"fit", &a}});
    ASSERT_EQ(out.quantities.size(), 3U);
    const Quantity& rate = out.quantities[0];
    EXPECT_DOUBLE_EQ(rate.value, 2);
    EXPECT_EQ(rate.unit, "mg/h");
    // Var(a/b) = (Var a − 2·r·Cov + r²·Var b)/b².
    const double expected = std::sqrt((0.04 - 2 * 2 * 0.015 + 4 * 0.01) / 4);
    EXPECT_NEAR(rate.se, expected, 1e-12);
    EXPECT_NEAR(out.quantities[1].value, 1, 1e-12);
    EXPECT_NEAR(out.quantities[1].se, expected / 2, 1e-12);
    EXPECT_NEAR(out.quantities[2].value, 2.0 / 60, 1e-12);
    EXPECT_EQ(out.quantities[2].unit, "mg/min");
    EXPECT_NEAR(out.covariance.of(0, 1), expected * expected / 2, 1e-12)
        << "lines after each other hang together";
    EXPECT_NEAR(rate.high - rate.value, 1.959964 * expected, 1e-5);
}

TEST(Derived, OfSeveralFitsByLetters) {
    const auto a = resultOf({{"k", 0.5, "1/h"}, {"only", 1, ""}}, matrix(0.01, 0, 0.01), 10),
               b = resultOf({{"k", 0.25, "1/h"}, {"c", 7, "1/min"}}, matrix(0.0025, 0, 0.01), 5);
    const auto out = derived("ratio = k_A/k_B; d = k_A - c; e = only", {{"north", &a}, {"south", &b}});
    EXPECT_DOUBLE_EQ(out.quantities[0].value, 2);
    EXPECT_EQ(out.quantities[0].unit, "");
    const double se = 2 * std::sqrt(0.01 / 0.25 + 0.0025 / 0.0625);
    EXPECT_NEAR(out.quantities[0].se, se, 1e-12);
    EXPECT_DOUBLE_EQ(out.quantities[1].value, 0.5 - 420);
    EXPECT_EQ(out.quantities[1].unit, "1/h");
    // Welch and Satterthwaite: equal parts of variance with 10 and 5 degrees of freedom make 4/(1/10 + 1/5).
    const double half = out.quantities[0].high - out.quantities[0].value;
    EXPECT_NEAR(half / se, 2.1549, 1e-3) << "t of 13.33 degrees of freedom";
}

TEST(Derived, SaysWhatCannotBeFound) {
    const auto a = resultOf({{"k", 0.5, "1/h"}, {"c", 1, ""}}, matrix(0.01, 0, 0.01));
    const auto one = derive({.formulas = *derivedFormulas("x = kk"), .sources = {{"north", &a}}});
    ASSERT_FALSE(one);
    EXPECT_THAT(one.error().text, HasSubstr("Nothing is called kk here. There are: k, c."));
    const auto two =
        derive({.formulas = *derivedFormulas("\nx = k"), .sources = {{"north", &a}, {"south", &a}}});
    ASSERT_FALSE(two);
    EXPECT_THAT(two.error().text, HasSubstr("write k_A or k_B"));
    EXPECT_EQ(two.error().place.line, 2);
    const auto bad = derivedFormulas("a = 1\nb = 2*(3");
    ASSERT_FALSE(bad);
    EXPECT_EQ(bad.error().place.line, 2);
    EXPECT_GT(bad.error().place.sign, 4);
    EXPECT_FALSE(derivedFormulas("a = 1; a = 2"));
    EXPECT_FALSE(derivedFormulas("# nothing"));
    EXPECT_FALSE(derivedFormulas("a [mg/( = 1"));
}

TEST(Derived, AttributesConstantsAndClashes) {
    const auto a = resultOf({{"slope", -6000, "K"}, {"k", 1, "1/h"}}, matrix(100 * 100, 0, 0.01));
    DerivedTask task{.formulas = *derivedFormulas("E [kJ/mol] = -slope*R; mass = k*depth; odd = k + slope"),
                     .sources = {{"fit", &a}},
                     .attributes = {{"depth", 3}},
                     .attributeUnits = {{"depth", "cm"}}};
    const auto out = derive(task);
    ASSERT_TRUE(out) << out.error().text;
    EXPECT_NEAR(out->quantities[0].value, 6 * 8.31446261815324, 1e-9);
    EXPECT_NEAR(out->quantities[0].se, 0.1 * 8.31446261815324, 1e-9);
    EXPECT_EQ(out->quantities[0].unit, "kJ/mol");
    EXPECT_EQ(out->quantities[1].unit, "cm/h");
    EXPECT_FALSE(out->good);
    ASSERT_FALSE(out->issues.empty());
    EXPECT_THAT(out->issues[0].text, HasSubstr("odd:"));
}

// The simulated interval of a curved formula: 1/k is inverse normal, exp is log-normal; both have closed
// forms.
TEST(Derived, CurvedFormulasAreSimulated) {
    const auto a = resultOf({{"k", 1, ""}, {"m", 0, ""}}, matrix(0.0625, 0, 0.49));
    const auto out = derived("tau = 1/k; e = exp(m); l = 3*k + m", {{"fit", &a}}, DerivedErrors::Automatic);
    const double z = 1.959964;
    EXPECT_NEAR(out.quantities[0].low, 1 / (1 + z * 0.25), 0.01);
    EXPECT_NEAR(out.quantities[0].high, 1 / (1 - z * 0.25), 0.06);
    EXPECT_NEAR(std::log(out.quantities[1].low), -z * 0.7, 0.03);
    EXPECT_NEAR(std::log(out.quantities[1].high), z * 0.7, 0.03);
    const double linear = std::sqrt(9 * 0.0625 + 0.49);
    EXPECT_NEAR(out.quantities[2].high - out.quantities[2].value, z * linear, 1e-5)
        << "exact where it is linear";
    EXPECT_THAT(out.detail, HasSubstr("40000 draws for tau, e"));
}

// Intervals of ratios and products hold the truth as often as they say.
TEST(Derived, IntervalsHoldTheTruth) {
    test::Random random(3);
    int held = 0;
    constexpr int kTrials = 150;
    const Eigen::MatrixXd covariance = matrix(0.09, 0.05, 0.0625);
    const Eigen::MatrixXd root = covariance.llt().matrixL();
    for (int trial = 0; trial < kTrials; ++trial) {
        const Eigen::Vector2d noise = root * Eigen::Vector2d(random.normal(), random.normal());
        const auto a = resultOf({{"p", 4 + noise[0], ""}, {"q", 3 + noise[1], ""}}, covariance);
        const auto out = derived("r = p^2/q", {{"fit", &a}}, DerivedErrors::Automatic);
        held += out.quantities[0].low <= 16.0 / 3 && 16.0 / 3 <= out.quantities[0].high;
    }
    EXPECT_GE(held, kTrials * 0.90);
    EXPECT_LE(held, kTrials * 0.99);
}

TEST(Derived, OutsideOfItsDomainThereIsNoNumber) {
    const auto a = resultOf({{"k", -1, "1/h"}, {"c", 1, ""}}, matrix(0.01, 0, 0.01));
    const auto out = derived("x = ln(c*k/k - 2)", {{"fit", &a}});
    EXPECT_TRUE(std::isnan(out.quantities[0].value));
    EXPECT_FALSE(out.good);
    EXPECT_THAT(out.issues[0].text, HasSubstr("has no value"));
}

TEST(Derived, WithoutAnyErrorThereIsNone) {
    const auto out = derived("x = 1/0; y = 2*pi; z = planck", {});
    ASSERT_EQ(out.quantities.size(), 3U);
    EXPECT_FALSE(std::isfinite(out.quantities[0].value));
    EXPECT_EQ(out.quantities[1].se, 0);
    EXPECT_EQ(out.quantities[2].unit, "J s");
}

// Random formulas over random numbers, some exact and some without an error: nothing breaks, and what has an
// error has the one that differences of the formula give.
TEST(Derived, RandomFormulasHaveTheErrorsOfTheirDifferences) {
    test::Random random(12);
    const std::function<std::string(int)> made = [&](int depth) -> std::string {
        const char* leaves[] = {"a", "b", "c", "2.5", "0.3", "pi"};
        if (depth == 0 || random.below(5) == 0) return leaves[random.below(6)];
        const std::string p = made(depth - 1), q = made(depth - 1);
        switch (random.below(7)) {
        case 0:
            return "(" + p + " + " + q + ")";
        case 1:
            return "(" + p + " - " + q + ")";
        case 2:
            return p + "*" + q;
        case 3:
            return "(" + p + ")/(" + q + ")";
        case 4:
            return "exp(0.1*" + p + ")";
        case 5:
            return "sqrt(" + p + ")";
        default:
            return "ln(" + p + ")";
        }
    };
    int compared = 0;
    for (int trial = 0; trial < 600; ++trial) {
        const std::string formula = made(4);
        std::vector<std::tuple<std::string, double, std::string>> numbers;
        for (const char* name : {"a", "b", "c"}) numbers.emplace_back(name, random.between(0.5, 3), "");
        Eigen::MatrixXd covariance = Eigen::MatrixXd::Zero(3, 3);
        for (int k = 0; k < 3; ++k) covariance(k, k) = std::pow(random.between(0.001, 0.01), 2);
        AnalysisResult source = resultOf(numbers, covariance);
        const bool certain = random.below(3) == 0;
        if (certain) source.quantities[0].state = "fixed";
        const auto at = [&](std::size_t which, double by) {
            AnalysisResult moved = source;
            moved.quantities[which].value += by;
            return derived(formula, {{"fit", &moved}}).quantities[0].value;
        };
        const auto out =
            derived(formula, {{"fit", &source}},
                    random.below(10) == 0 ? DerivedErrors::Simulated : DerivedErrors::FirstOrder);
        const Quantity& q = out.quantities[0];
        if (!std::isfinite(q.value)) {
            EXPECT_FALSE(out.good) << formula;
            continue;
        }
        double variance = 0;
        for (std::size_t k = certain ? 1 : 0; k < 3; ++k) {
            const double h = 1e-6, slope = (at(k, h) - at(k, -h)) / (2 * h);
            variance += slope * slope * covariance(static_cast<int>(k), static_cast<int>(k));
        }
        if (!std::isfinite(variance)) continue;
        ++compared;
        EXPECT_NEAR(q.se, std::sqrt(variance), 1e-4 * std::sqrt(variance) + 1e-9) << formula;
    }
    EXPECT_GT(compared, 300);
}

// The variable of an integral or a sum is its own, also where an earlier line is called so.
TEST(Derived, VariablesWithinAFormulaStayTheirOwn) {
    const auto a = resultOf({{"k", 1, ""}, {"c", 2, ""}}, matrix(0.01, 0, 0.01));
    const auto out =
        derived("whole = integral(exp(-k*t), t, 0, 5); t = 3*c; again = integral(k*t, t, 0, 2) + whole",
                {{"fit", &a}});
    ASSERT_EQ(out.quantities.size(), 3U);
    EXPECT_NEAR(out.quantities[0].value, 1 - std::exp(-5), 1e-9);
    EXPECT_NEAR(out.quantities[2].value, 2 + 1 - std::exp(-5), 1e-9);
}
