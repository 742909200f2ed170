// SPDX-License-Identifier: GPL-3.0-or-later
// Units of formulas: products, sums with conversions, what clashes; against the same formula computed in
// coherent units, over random formulas.
#include "formula/dimensions.h"
#include "formula/program.h"
#include "support/random.h"

#include <fmt/format.h>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::formula;

namespace {

using Units = std::map<std::string, Unit>;

Units units(std::initializer_list<std::pair<const char*, const char*>> list) {
    Units out;
    for (const auto& [name, text] : list) out[name] = *Unit::parse(text);
    return out;
}

double value(const Expression& e, const std::map<std::string, double>& values) {
    std::vector<std::string> names;
    std::vector<double> numbers;
    for (const auto& [name, v] : values) names.push_back(name), numbers.push_back(v);
    return Program::compile(e, {}, names)->evaluateOne({}, numbers);
}

} // namespace

TEST(Dimensions, OfWhatPeopleCompute) {
    struct Case {
        const char* formula;
        Units given;
        const char* unit;
    };
    const Case cases[] = {{"ln(2)/k", units({{"k", "1/h"}}), "h"},
                          {"-slope*R", units({{"slope", "K"}, {"R", "J/(mol K)"}}), "J/mol"},
                          {"d/t", units({{"d", "km"}, {"t", "h"}}), "km/h"},
                          {"c*V", units({{"c", "mg/L"}, {"V", "mL"}}), "mg"},
                          {"sqrt(a)", units({{"a", "m2"}}), "m"},
                          {"a^1.5", units({{"a", "m2"}}), "m^{3}"},
                          {"exp(-k*t)", units({{"k", "1/h"}, {"t", "min"}}), ""},
                          {"0.5*a + b", units({{"a", "mm"}, {"b", "cm"}}), "mm"},
                          {"if(a > b, a, b)", units({{"a", "g"}, {"b", "kg"}}), "g"},
                          {"T + 273.15", units({{"T", "°C"}}), "K"},
                          {"a/b", units({{"a", "mm"}, {"b", "m"}}), ""},
                          {"n/area", units({{"n", "shells"}, {"area", "m2"}}), "shells/m^{2}"},
                          {"sin(angle)", units({{"angle", "°"}}), ""},
                          {"100*a/b", units({{"a", "mg"}, {"b", "g"}}), ""}};
    for (const Case& c : cases) {
        const Measured m = measured(*Expression::parse(c.formula), c.given);
        EXPECT_EQ(m.unit.text(), c.unit) << c.formula;
        EXPECT_THAT(m.clashes, testing::IsEmpty())
            << c.formula << ": " << (m.clashes.empty() ? "" : m.clashes[0]);
    }
}

TEST(Dimensions, ConvertWhatGoesTogether) {
    const Measured sum = measured(*Expression::parse("a + b"), units({{"a", "mm"}, {"b", "cm"}}));
    EXPECT_DOUBLE_EQ(value(sum.expression, {{"a", 3}, {"b", 2}}), 23);
    EXPECT_THAT(sum.taken, testing::ElementsAre("what is in “cm” is taken in “mm”"));
    const Measured amount = measured(*Expression::parse("c*V"), units({{"c", "mg/L"}, {"V", "mL"}}));
    EXPECT_DOUBLE_EQ(value(amount.expression, {{"c", 5}, {"V", 20}}), 0.1);
    const Measured decay = measured(*Expression::parse("exp(-k*t)"), units({{"k", "1/h"}, {"t", "min"}}));
    EXPECT_DOUBLE_EQ(value(decay.expression, {{"k", 1}, {"t", 90}}), std::exp(-1.5));
    const Measured angle = measured(*Expression::parse("sin(a)"), units({{"a", "°"}}));
    EXPECT_DOUBLE_EQ(value(angle.expression, {{"a", 30}}), std::sin(std::numbers::pi / 6));
    const Measured days =
        measuredIn(measured(*Expression::parse("ln(2)/k"), units({{"k", "1/h"}})), *Unit::parse("d"));
    EXPECT_DOUBLE_EQ(value(days.expression, {{"k", 0.01}}), std::log(2) / 0.24);
    EXPECT_EQ(days.unit.text(), "d");
    const Measured warm =
        measuredIn(measured(*Expression::parse("T"), units({{"T", "°C"}})), *Unit::parse("K"));
    EXPECT_DOUBLE_EQ(value(warm.expression, {{"T", 20}}), 293.15);
}

TEST(Dimensions, SayWhatClashes) {
    const std::pair<const char*, const char*> cases[] = {{"a + b", "do not measure the same"},
                                                         {"ln(a)", "takes plain numbers"},
                                                         {"T + K0", "have different zeros"},
                                                         {"2^a", "takes plain numbers"},
                                                         {"max(a, b)", "do not measure the same"}};
    const Units given = units({{"a", "mm"}, {"b", "h"}, {"T", "°C"}, {"K0", "K"}});
    for (const auto& [formula, words] : cases) {
        const Measured m = measured(*Expression::parse(formula), given);
        ASSERT_EQ(m.clashes.size(), 1U) << formula;
        EXPECT_THAT(m.clashes[0], testing::HasSubstr(words)) << formula;
        EXPECT_DOUBLE_EQ(value(m.expression, {{"a", 2}, {"b", 3}, {"T", 1}, {"K0", 4}}),
                         value(*Expression::parse(formula), {{"a", 2}, {"b", 3}, {"T", 1}, {"K0", 4}}))
            << "the number as if there were no units";
    }
    const Measured wished = measuredIn(measured(*Expression::parse("a"), given), *Unit::parse("h"));
    ASSERT_EQ(wished.clashes.size(), 1U);
    EXPECT_THAT(wished.clashes[0], testing::HasSubstr("cannot be told in"));
}

// Whatever units the inputs come in, the number means the same: each formula is computed in random spellings
// of its units and in coherent ones.
TEST(Dimensions, TheSameQuantityInAnyUnits) {
    const std::vector<std::vector<const char*>> spellings = {
        {"m", "mm", "km", "cm", "ft", "Å"}, {"s", "min", "h", "d", "ms"}, {"kg", "mg", "g", "t", "µg"}};
    const char* formulas[] = {"a*b/c",
                              "a/b + 3*a/b",
                              "a^2*c/b^2",
                              "sqrt(a*a + (2*a)^2)/b",
                              "c*a/b^2 - 0.1*c*a/b^2",
                              "max(a, 2*a)*c",
                              "exp(-a/(3*a))*b",
                              "if(b > 2*b, c, 4*c)/a",
                              "(a/b)/(a/b)*c"};
    test::Random random(5);
    for (int trial = 0; trial < 300; ++trial) {
        const Expression e = *Expression::parse(formulas[random.below(std::size(formulas))]);
        Units given, coherent;
        std::map<std::string, double> numbers, base;
        for (std::size_t k = 0; k < 3; ++k) {
            const std::string name(1, static_cast<char>('a' + k));
            given[name] = *Unit::parse(spellings[k][random.below(spellings[k].size())]);
            coherent[name] = *Unit::parse(spellings[k][0]);
            base[name] = random.between(0.5, 4);
            numbers[name] = base[name] / given[name].inBase();
        }
        const Measured some = measured(e, given), plain = measured(e, coherent);
        ASSERT_TRUE(some.clashes.empty() && plain.clashes.empty()) << e.text();
        const auto factor = conversion(some.unit, plain.unit);
        ASSERT_TRUE(factor) << e.text() << ": " << some.unit.text() << " and " << plain.unit.text();
        const double expected = value(plain.expression, base);
        EXPECT_NEAR(value(some.expression, numbers) * *factor, expected, 1e-9 * std::abs(expected))
            << e.text() << " in " << some.unit.text();
    }
}

TEST(Dimensions, ConstantsAreTold) {
    for (const PhysicalConstant& c : physicalConstants()) {
        const auto unit = Unit::parse(c.unit);
        ASSERT_TRUE(unit) << c.name;
        EXPECT_TRUE(findConstant(c.name));
    }
    // R = N_A·k_B and F = N_A·e, exactly; σ = 2π⁵k⁴/(15h³c²).
    const auto v = [](const char* name) { return findConstant(name)->value; };
    EXPECT_NEAR(v("R"), v("N_A") * v("k_B"), 1e-14 * v("R"));
    EXPECT_NEAR(v("F"), v("N_A") * v("elementary_charge"), 1e-14 * v("F"));
    EXPECT_NEAR(v("stefan_boltzmann"),
                2 * std::pow(std::numbers::pi, 5) * std::pow(v("k_B"), 4) /
                    (15 * std::pow(v("planck"), 3) * std::pow(v("light_speed"), 2)),
                1e-12 * v("stefan_boltzmann"));
}
