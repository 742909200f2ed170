// SPDX-License-Identifier: GPL-3.0-or-later
// Equations over several lines, integrals and sums: values in closed form, slopes by differences.
#include "formula/lines.h"
#include "formula/program.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::formula;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

double valueOf(const std::string& text, double x, std::vector<double> p = {},
               std::vector<std::string> names = {}) {
    const auto e = parseLines(text);
    EXPECT_TRUE(e) << text << ": " << (e ? "" : e.error().text);
    const auto program = Program::compile(*e, {"x"}, names);
    EXPECT_TRUE(program) << text << ": " << (program ? "" : program.error().text);
    return program->evaluateOne({&x, 1}, p);
}

} // namespace

TEST(Lines, IntermediatesArePutIn) {
    const auto e = parseLines("k = a*exp(-b/300) # the rate\nc*exp(-k*x)");
    ASSERT_TRUE(e);
    EXPECT_THAT(e->names(), ElementsAre("a", "b", "c", "x"));
    EXPECT_NEAR(valueOf("k = a*exp(-b/300)\ny = c*exp(-k*x)", 2, {0.5, 30, 4}, {"a", "b", "c"}),
                4 * std::exp(-0.5 * std::exp(-0.1) * 2), 1e-14);
    EXPECT_EQ(valueOf("u = 2*x; v = u + 1; u*v", 3), 42);
    EXPECT_EQ(valueOf("y = 3*x", 3), 9);
    EXPECT_EQ(valueOf("u = if(x == 3, 1, 0); u + (x >= 2)", 3), 2) << "comparisons are no definitions";
}

TEST(Lines, FaultsAreSaidWithTheirPlace) {
    auto e = parseLines("k = a*2\nc*(x + k");
    ASSERT_FALSE(e);
    EXPECT_EQ(e.error().place.line, 2);
    EXPECT_EQ(e.error().place.sign, 9);
    e = parseLines("k = a; m = b + ; x");
    ASSERT_FALSE(e);
    EXPECT_EQ(e.error().place.line, 1);
    EXPECT_GT(e.error().place.sign, 11);
    EXPECT_THAT(parseLines("a*2; x").error().text, HasSubstr("names a value"));
    EXPECT_THAT(parseLines("k = 1; k = 2; x").error().text, HasSubstr("twice"));
    EXPECT_THAT(parseLines("m = k*2; k = 2; x*m").error().text, HasSubstr("before its line"));
    EXPECT_FALSE(parseLines(""));
    EXPECT_FALSE(parseLines("integral(x, 0, 1)"));
    EXPECT_FALSE(parseLines("integral(t, t, 0)"));
    EXPECT_FALSE(parseLines("sum(k, k, 1, 2"));
}

TEST(Integrals, MatchClosedForms) {
    EXPECT_NEAR(valueOf("integral(exp(-t^2), t, 0, x)", 1.3), std::sqrt(M_PI) / 2 * std::erf(1.3), 1e-13);
    EXPECT_NEAR(valueOf("integral(1/(1 + t^2), t, -x, x)", 40), 2 * std::atan(40), 1e-11);
    EXPECT_NEAR(valueOf("integral(sqrt(t), t, 0, x)", 4), 16.0 / 3, 1e-8);
    EXPECT_NEAR(valueOf("integral(sin(x*t), t, 1, 0)", 2), (std::cos(2.0) - 1) / 2, 1e-13) << "backwards";
    EXPECT_NEAR(valueOf("integral(integral(s*t, s, 0, t), t, 0, x)", 2), 2, 1e-12) << "one within another";
    EXPECT_EQ(valueOf("integral(t, t, x, x)", 2), 0);
    EXPECT_NEAR(valueOf("integral(abs(t - 0.3), t, 0, x)", 1), 0.29, 1e-10);
    EXPECT_TRUE(std::isnan(valueOf("integral(ln(t), t, -1, x)", 1)));
    EXPECT_NEAR(valueOf("x = 2; integral(x*t, x, 0, 1) + x", 0, {3}, {"t"}), 3.5, 1e-12)
        << "its own name within";
}

TEST(Sums, MatchClosedForms) {
    EXPECT_EQ(valueOf("sum(k, k, 1, x)", 100), 5050);
    EXPECT_EQ(valueOf("sum(k, k, 0.5, 3.9)", 0), 6) << "whole numbers between";
    EXPECT_EQ(valueOf("sum(k, k, 3, 2)", 0), 0);
    EXPECT_NEAR(
        valueOf("8/pi^2*sum(exp(-(2*n + 1)^2*x)/(2*n + 1)^2, n, 0, 40)", 0.01),
        [] {
            double s = 0;
            for (int n = 0; n <= 40; ++n)
                s += std::exp(-std::pow(2 * n + 1, 2) * 0.01) / std::pow(2 * n + 1, 2);
            return 8 / (M_PI * M_PI) * s;
        }(),
        1e-14);
}

// Over whole columns, unsorted, in blocks; slopes by the parameters in body and ends.
TEST(Integrals, SlopesAreThoseOfDifferences) {
    const std::vector<std::string> texts = {
        "integral(a*exp(-b*t), t, 0, x)", "integral(a*exp(-b*t*x), t, 0, c)",
        "integral(exp(-b*t^2), t, a, c*x)", "sum(a^k/(k + b), k, 0, 6) + c*x",
        "r = a*2; integral(r*t^b, t, 0.1, x)*c"};
    std::mt19937 random(2);
    std::uniform_real_distribution<double> value(0.2, 1.5);
    std::vector<double> x(700);
    for (double& v : x) v = value(random);
    const std::span<const double> column(x);
    for (const std::string& text : texts) {
        const auto program = Program::compile(*parseLines(text), {"x"}, {"a", "b", "c"});
        ASSERT_TRUE(program) << text;
        std::vector<double> p = {0.7, 1.2, 0.9}, y(x.size()), gradient(3 * x.size()), up(x.size()),
                            down(x.size());
        program->evaluate({&column, 1}, p, y, gradient);
        for (std::size_t i = 0; i < x.size(); i += 37)
            EXPECT_NEAR(y[i], program->evaluateOne({&x[i], 1}, p), 1e-11) << text;
        for (std::size_t k = 0; k < 3; ++k) {
            auto moved = p;
            moved[k] += 1e-5;
            program->evaluate({&column, 1}, moved, up);
            moved[k] -= 2e-5;
            program->evaluate({&column, 1}, moved, down);
            for (std::size_t i = 0; i < x.size(); i += 13)
                EXPECT_NEAR(gradient[k * x.size() + i], (up[i] - down[i]) / 2e-5, 2e-5) << text << " " << k;
        }
    }
    EXPECT_TRUE(
        Program::compile(*parseLines("a*integral(exp(-t), t, 0, x)"), {"x"}, {"a"})->isLinearInScalars());
    EXPECT_FALSE(
        Program::compile(*parseLines("integral(exp(-a*t), t, 0, x)"), {"x"}, {"a"})->isLinearInScalars());
}
