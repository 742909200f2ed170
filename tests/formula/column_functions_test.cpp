// SPDX-License-Identifier: GPL-3.0-or-later
// Functions of whole columns against sums done by hand; random numbers against their moments.
#include "formula/column_functions.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::formula;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::NanSensitiveDoubleEq;

namespace {

const double kNaN = std::nan("");

std::vector<double> over(const char* text, std::vector<double> a) {
    const auto e = Expression::parse(text, Vocabulary::Columns);
    EXPECT_TRUE(e) << text;
    const std::size_t rows = a.size();
    std::vector<double> row(rows);
    for (std::size_t i = 0; i < rows; ++i) row[i] = static_cast<double>(i + 1);
    const auto values = evaluateOverRows(*e, {"a", "row"}, {a, row}, rows);
    EXPECT_TRUE(values) << (values ? "" : values.error().text);
    return values.value_or(std::vector<double>());
}

auto are(std::initializer_list<double> values) {
    std::vector<testing::Matcher<double>> all;
    for (double v : values) all.push_back(NanSensitiveDoubleEq(v));
    return testing::ElementsAreArray(all);
}

} // namespace

TEST(ColumnFunctions, SumsAndDifferences) {
    EXPECT_THAT(over("cumulative(a)", {1, 2, kNaN, 4}), are({1, 3, kNaN, 7}));
    EXPECT_THAT(over("difference(a)", {1, 4, 9}), are({kNaN, 3, 5}));
    EXPECT_THAT(over("previous(a)", {1, 2, 3}), are({kNaN, 1, 2}));
    EXPECT_THAT(over("previous(a, -1)", {1, 2, 3}), are({2, 3, kNaN}));
    EXPECT_THAT(over("range(10, 0.5)", {0, 0, 0}), are({10, 10.5, 11}));
}

TEST(ColumnFunctions, NumbersOfTheWholeColumnPassOverMissingCells) {
    const std::vector<double> a = {2, 4, kNaN, 9};
    for (const auto& [text, value] :
         {std::pair("total(a)", 15.0), std::pair("count(a)", 3.0), std::pair("mean(a)", 5.0),
          std::pair("median(a)", 4.0), std::pair("smallest(a)", 2.0), std::pair("largest(a)", 9.0),
          std::pair("sd(a)", std::sqrt(13.0))})
        EXPECT_THAT(over(text, a), are({value, value, value, value})) << text;
}

TEST(ColumnFunctions, PartsOfDates) {
    const std::vector<double> t = {1935494405.25, -1, kNaN,
                                   951782400}; // 2031-05-02 13:20:05.25, 1969-12-31 …
    EXPECT_THAT(over("year(a)", t), are({2031, 1969, kNaN, 2000}));
    EXPECT_THAT(over("month(a)", t), are({5, 12, kNaN, 2}));
    EXPECT_THAT(over("day(a)", t), are({2, 31, kNaN, 29}));
    EXPECT_THAT(over("dayofyear(a)", t), are({122, 365, kNaN, 60}));
    EXPECT_THAT(over("hour(a)", {1935494405.25}), are({(13 * 3600 + 20 * 60 + 5.25) / 3600}));
}

TEST(ColumnFunctions, StandInsideOtherMathematics) {
    EXPECT_THAT(over("100*a/total(a)", {1, 3}), are({25, 75}));
    EXPECT_THAT(over("cumulative(difference(a)^2)", {1, 3, 6}), are({kNaN, 4, 13}));
    EXPECT_THAT(over("a - mean(a - row)", {5, 6}), are({1, 2}));
}

TEST(ColumnFunctions, NothingIsLeftOfAnEmptyColumn) {
    for (const ColumnFunction& f : columnFunctions()) {
        if (!f.compute) continue; // of fits: they are computed elsewhere
        const std::string arguments = f.fewest == 2 ? "(a, a)" : "(a)";
        EXPECT_TRUE(over((std::string(f.name) + arguments).c_str(), {}).empty()) << f.name;
        EXPECT_EQ(over((std::string(f.name) + arguments).c_str(), {kNaN, kNaN}).size(), 2U) << f.name;
    }
}

TEST(ColumnFunctions, RandomNumbersDependOnSeedAndRowOnly) {
    std::vector<double> many(20000, 0);
    const auto uniform = over("uniform(7)", many), normal = over("normal(7)", many);
    EXPECT_EQ(over("uniform(7)", {0, 0}), (std::vector{uniform[0], uniform[1]}))
        << "a longer table keeps its rows";
    EXPECT_NE(over("uniform(8)", {0})[0], uniform[0]);
    double sum = 0, sum2 = 0, squares2 = 0;
    for (std::size_t i = 0; i < many.size(); ++i) {
        ASSERT_TRUE(uniform[i] > 0 && uniform[i] < 1);
        sum += uniform[i];
        sum2 += normal[i];
        squares2 += normal[i] * normal[i];
    }
    // Four standard errors of the moments of 20 000 numbers.
    EXPECT_NEAR(sum / 20000, 0.5, 4 * std::sqrt(1.0 / 12 / 20000));
    EXPECT_NEAR(sum2 / 20000, 0, 4 / std::sqrt(20000.0));
    EXPECT_NEAR(squares2 / 20000, 1, 4 * std::sqrt(2.0 / 20000));
}

TEST(ColumnFunctions, AreUnknownOutsideOfComputedColumns) {
    const auto e = Expression::parse("a*cumulative(x)");
    ASSERT_FALSE(e);
    EXPECT_THAT(e.error().text, HasSubstr("only computed columns"));
    EXPECT_EQ(e.error().place.sign, 3);
    EXPECT_THAT(Expression::parse("mean(1, 2)", Vocabulary::Columns).error().text, HasSubstr("1 argument"));
    EXPECT_THAT(Expression::parse("mean*2", Vocabulary::Columns)->names(), ElementsAre("mean"))
        << "a column may be called like one";
}

TEST(ColumnFunctions, RenamingLeavesThemAlone) {
    auto rename = [](const std::string& n) { return "'" + n + "9'"; };
    EXPECT_EQ(renamed("mean + mean (a)", rename), "'mean9' + mean ('a9')");
}
