// SPDX-License-Identifier: GPL-3.0-or-later
#include "formula/program.h"

#include <boost/math/special_functions/gamma.hpp>
#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer::formula;
using testing::HasSubstr;

namespace {

double valueOf(const std::string& text, double x = 0, double a = 0) {
    const auto e = Expression::parse(text);
    if (!e) throw std::runtime_error(e.error().text);
    const auto p = Program::compile(*e, {"x"}, {"a"});
    if (!p) throw std::runtime_error(p.error().text);
    return p->evaluateOne(std::array{x}, std::array{a});
}

struct Worked {
    const char* text;
    double value; // by hand or from a table
};

} // namespace

TEST(Expression, FollowsTheRulesOfMathematics) {
    const Worked all[] = {
        {"1+2*3", 7},
        {"(1+2)*3", 9},
        {"2^3^2", 512},
        {"-2^2", -4},
        {"(-2)^2", 4},
        {"2^-1", 0.5},
        {"8/4/2", 1},
        {"5-3-1", 1},
        {"1e3", 1000},
        {"2.5E-1", 0.25},
        {".5", 0.5},
        {"3 − 1", 2},
        {"3×2·2", 12},
        {"pi", M_PI},
        {"e", M_E},
        {"exp(1)", M_E},
        {"ln(e^2)", 2},
        {"log10(1000)", 3},
        {"log2(8)", 3},
        {"sqrt(16)", 4},
        {"cbrt(27)", 3},
        {"abs(-3)", 3},
        {"atan2(1,1)", M_PI / 4},
        {"arctan(1)", M_PI / 4},
        {"min(3,1,2)", 1},
        {"max(3,1,2)", 3},
        {"floor(-1.5)", -2},
        {"ceil(1.2)", 2},
        {"sign(-7)", -1},
        {"step(0)", 1},
        {"step(-1)", 0},
        {"if(2>1, 10, 20)", 10},
        {"if(2<1, 10, 20)", 20},
        {"2 <= 2", 1},
        {"1 == 2", 0},
        {"1 != 2", 1},
        {"erf(1)", 0.84270079294971486934},
        {"gamma(5)", 24},
        {"lgamma(10)", 12.801827480081469611},
        {"y = 4 + 1", 5},
        {"--2", 2},
        {"2*-3", -6},
    };
    for (const Worked& w : all) EXPECT_DOUBLE_EQ(valueOf(w.text), w.value) << w.text;
}

TEST(Expression, SaysWhatIsWrongAndWhere) {
    const std::pair<const char*, const char*> all[] = {
        {"", "empty"},
        {"1+", "place 3"},
        {"(1+2", "closing parenthesis is missing"},
        {"1)", "no opening one"},
        {"log(x)", "ln"},
        {"foo(x)", "no function called foo"},
        {"2x", "operator is expected"},
        {"sin()", "expected"},
        {"atan2(1)", "takes 2 arguments"},
        {"x ** 2", "powers are written with ^"},
        {"sin", "function"},
        {"'open", "closing quote"},
        {"log(y) = x", "ln"},
        {"1,5", "decimals take a point"},
        {"y = a = 2", "response"},
        {"\xff", "UTF-8"},
    };
    for (const auto& [text, part] : all) {
        const auto e = Expression::parse(text);
        ASSERT_FALSE(e) << text;
        EXPECT_THAT(e.error().text, HasSubstr(part)) << text;
    }
    const std::string deep(5000, '(');
    EXPECT_FALSE(Expression::parse(deep));
}

TEST(Expression, FindsItsNamesInOrder) {
    const auto e = Expression::parse("y = b*exp(-x/'decay time') + b + Δ2");
    ASSERT_TRUE(e);
    EXPECT_THAT(e->names(), testing::ElementsAre("b", "x", "decay time", "Δ2"));
}

TEST(Expression, UnknownNamesAreSaid) {
    const auto p = Program::compile(*Expression::parse("a*x + q"), {"x"}, {"a"});
    ASSERT_FALSE(p);
    EXPECT_THAT(p.error().text, HasSubstr("“q” is not known"));
}

TEST(Expression, ShowsItselfAsMathematics) {
    EXPECT_EQ(toMarkup(*Expression::parse("a*exp(-b*x)+c1")),
              "\\textit{a}\\,· e^{−\\textit{b}\\,· \\textit{x}} + \\textit{c}_{1}");
    EXPECT_EQ(toMarkup(*Expression::parse("(a+b)/(c*d)")), "(\\textit{a} + \\textit{b}) / (\\textit{c}\\,· \\textit{d})");
}

TEST(Program, KnowsLinearModels) {
    auto linear = [](const char* text) {
        const auto e = Expression::parse(text);
        return Program::compile(*e, {"x"}, {"a", "b", "c"})->isLinearInScalars();
    };
    EXPECT_TRUE(linear("a + b*x + c*x^2"));
    EXPECT_TRUE(linear("a*exp(-x)/2 - b"));
    EXPECT_FALSE(linear("a*exp(-b*x)"));
    EXPECT_FALSE(linear("a*b"));
    EXPECT_FALSE(linear("x/a"));
}

// Every function against a five-point difference, in both directions and in mixtures.
TEST(Program, DerivativesAreExact) {
    const char* all[] = {"a*exp(b*x)",
                         "ln(a+x)*b",
                         "log10(a*x)+log2(b+x)",
                         "sqrt(a+x*b)",
                         "cbrt(a*x)+b",
                         "abs(a-5)*b",
                         "sin(a*x)+cos(b*x)",
                         "tan(a/4)+b",
                         "asin(a/9)+acos(b/9)",
                         "atan(a*x)-atan2(a, b+x)",
                         "sinh(a)+cosh(b)",
                         "tanh(a*x-b)",
                         "erf(a-x)+erfc(b)",
                         "gamma(a)+lgamma(b+x)",
                         "x^a+a^b",
                         "a^3*b^-2",
                         "min(a,b)+max(a,b,x)",
                         "if(a>b, a*x, b^2)",
                         "(a*x)/(b+x)",
                         "-a^2+b",
                         "a*exp(b*x)+exp(b*x)",
                         "floor(x)*a+ceil(x)*b+step(x)*a+sign(x)*b"};
    std::mt19937 random(7);
    std::uniform_real_distribution<double> positive(0.5, 3);
    for (const char* text : all) {
        const auto p = Program::compile(*Expression::parse(text), {"x"}, {"a", "b"});
        ASSERT_TRUE(p) << text;
        for (int trial = 0; trial < 100; ++trial) {
            const double x = positive(random);
            const std::array<double, 2> at = {positive(random), positive(random)};
            if (std::abs(at[0] - at[1]) < 0.05 || std::abs(x - at[0]) < 0.05 || std::abs(x - at[1]) < 0.05)
                continue; // kinks of min and max
            const std::span<const double> column(&x, 1);
            double value = 0, gradient[2];
            p->evaluate({&column, 1}, at, {&value, 1}, gradient);
            for (std::size_t k = 0; k < 2; ++k) {
                auto shifted = [&](double by) {
                    auto moved = at;
                    moved[k] += by;
                    return p->evaluateOne({&x, 1}, moved);
                };
                const double h = 1e-3;
                const double difference =
                    (8 * (shifted(h) - shifted(-h)) - (shifted(2 * h) - shifted(-2 * h))) / (12 * h);
                EXPECT_NEAR(gradient[k], difference, 1e-7 * std::max(1.0, std::abs(difference)))
                    << text << " by " << k;
            }
        }
    }
}

TEST(Program, BlocksAgreeWithSingleRows) {
    const auto p = Program::compile(*Expression::parse("a*exp(-b*x)+sin(a)*x^2"), {"x"}, {"a", "b"});
    std::vector<double> xs(1000), ys(1000), gradient(2000);
    for (std::size_t i = 0; i < xs.size(); ++i) xs[i] = 0.01 * static_cast<double>(i);
    const std::array<double, 2> at = {1.5, 0.3};
    const std::span<const double> column(xs);
    p->evaluate({&column, 1}, at, ys, gradient);
    for (std::size_t i = 0; i < xs.size(); i += 37) {
        EXPECT_DOUBLE_EQ(ys[i], p->evaluateOne({&xs[i], 1}, at));
        EXPECT_NEAR(gradient[1000 + i], -1.5 * xs[i] * std::exp(-0.3 * xs[i]), 1e-14);
    }
}

TEST(Program, DifferentiatesByInputs) {
    const auto p = Program::compile(*Expression::parse("ln(x)*y"), {"x", "y"}, {}, Differentiate::Inputs);
    const double x = 2, y = 3;
    const std::span<const double> columns[] = {{&x, 1}, {&y, 1}};
    double value = 0, gradient[2];
    p->evaluate(columns, {}, {&value, 1}, gradient);
    EXPECT_DOUBLE_EQ(gradient[0], 1.5);
    EXPECT_DOUBLE_EQ(gradient[1], std::log(2.0));
}

// A branch that is not taken has no say, even where it has no slope at all.
TEST(Program, ABranchNotTakenDoesNotSpoilTheSlope) {
    const std::pair<const char*, double> cases[] = {{"if(x > 0, a*sqrt(x), a*ln(-x))", std::log(2.0)},
                                                    {"if(x > a, (x - a)^0.5, 3*a)", 3},
                                                    {"min(a, 1/(a - a))", 1}};
    for (const auto& [text, slope] : cases) {
        const auto program = Program::compile(*Expression::parse(text), {"x"}, {"a"});
        ASSERT_TRUE(program) << text;
        const double x = -2, a = 1.5;
        const std::span<const double> column(&x, 1);
        double y = 0, d = 0;
        program->evaluate({&column, 1}, {&a, 1}, {&y, 1}, {&d, 1});
        EXPECT_DOUBLE_EQ(d, slope) << text;
    }
}
