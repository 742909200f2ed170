// SPDX-License-Identifier: GPL-3.0-or-later
// From columns to points: order, replicates, every way of uncertainties, times, rows that do not count.
#include "evaluate/measured_curve.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::evaluate;
using testing::DoubleNear;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;
using testing::NanSensitiveDoubleEq;

namespace {

const double kNaN = std::nan("");

struct Sample {
    Table t;
    Dataset d;
    std::vector<Issue> issues;

    Sample& add(Column c, Role role) {
        c.id = ColumnId{t.columns.size() + 1};
        d.source.roles.push_back({role, c.id});
        t.columns.push_back(std::move(c));
        return *this;
    }
    Sample& rule(const char* kind, double amount = 0) {
        d.source.settings.set("uncertainty", kind);
        if (amount > 0) d.source.settings.set("amount", Value(amount));
        return *this;
    }
    Curve curve() { return curveFromColumns(t, d, issues); }
};

Sample xy(std::vector<double> x, std::vector<double> y) {
    Sample s;
    s.d.name = "pond";
    s.add(numberColumn("x", "s", std::move(x)), Role::X).add(numberColumn("y", "mV", std::move(y)), Role::Y);
    return s;
}

} // namespace

TEST(MeasuredCurve, PointsAreInOrderOfXAndKnowTheirRows) {
    Sample s = xy({3, 1, kNaN, 2, 1}, {30, 10, 99, 20, 11});
    const Curve c = s.curve();
    EXPECT_THAT(c.x, ElementsAre(1, 1, 2, 3));
    EXPECT_THAT(c.y, ElementsAre(10, 11, 20, 30)) << "equal x keep their order";
    EXPECT_THAT(c.rowIds, ElementsAre(2, 5, 4, 1));
    EXPECT_EQ(c.xMeaning.unit, "s");
    EXPECT_EQ(c.yMeaning.name, "y");
    EXPECT_TRUE(c.sigma.empty());
    EXPECT_THAT(s.issues, IsEmpty());
}

TEST(MeasuredCurve, WithoutXTheRowsAreCounted) {
    Sample s;
    s.add(numberColumn("y", "", {5, kNaN, 7}), Role::Y);
    const Curve c = s.curve();
    EXPECT_THAT(c.x, ElementsAre(1, 2, 3));
    EXPECT_EQ(c.xMeaning.name, "row");
    EXPECT_TRUE(std::isnan(c.y[1])) << "a missing y is a gap, not a point left out";
}

TEST(MeasuredCurve, ReplicatesAreAveragedOverThoseThatAreThere) {
    Sample s = xy({1, 2, 3}, {10, 20, kNaN});
    s.add(numberColumn("y 2", "mV", {12, kNaN, kNaN}), Role::Y)
        .add(numberColumn("y 3", "mV", {14, 26, kNaN}), Role::Y);
    EXPECT_THAT(s.curve().y, ElementsAre(12, 23, NanSensitiveDoubleEq(kNaN)));
    EXPECT_EQ(s.curve().replicates.size(), 3U);
    s.rule("sd");
    EXPECT_THAT(s.curve().sigma, ElementsAre(DoubleNear(2, 1e-15), DoubleNear(std::sqrt(18.0), 1e-15),
                                             NanSensitiveDoubleEq(kNaN)));
    s.rule("sem");
    EXPECT_THAT(s.curve().sigma, ElementsAre(DoubleNear(2 / std::sqrt(3.0), 1e-15), DoubleNear(3, 1e-15),
                                             NanSensitiveDoubleEq(kNaN)));
    EXPECT_THAT(s.curve().sigmaSource, HasSubstr("SEM"));
}

TEST(MeasuredCurve, UncertaintiesByEveryRule) {
    Sample s = xy({1, 2, 3}, {100, -4, 0});
    EXPECT_THAT(s.rule("fraction", 0.1).curve().sigma, ElementsAre(10, 0.4, 0));
    EXPECT_THAT(s.curve().sigmaSource, HasSubstr("10 % of y"));
    EXPECT_THAT(s.rule("counting").curve().sigma, ElementsAre(10, 1, 1))
        << "below one count the error is one";
    EXPECT_THAT(s.rule("constant", 2.5).curve().sigma, ElementsAre(2.5, 2.5, 2.5));
    EXPECT_TRUE(s.rule("none").curve().sigma.empty());
    EXPECT_TRUE(s.rule("sd").curve().sigma.empty()) << "a single y has no scatter";
    s.add(numberColumn("sd", "mV", {1, -2, 3}), Role::YError)
        .add(numberColumn("dx", "s", {0.1, 0.2, 0.3}), Role::XError);
    s.d.source.settings = {};
    const Curve c = s.curve();
    EXPECT_THAT(c.sigma, ElementsAre(1, 2, 3)) << "the column is taken of itself; signs mean nothing";
    EXPECT_THAT(c.sigmaX, ElementsAre(0.1, 0.2, 0.3));
    EXPECT_TRUE(s.rule("none").curve().sigma.empty()) << "not known, although a column is there";
}

TEST(MeasuredCurve, FurtherColumnsXArePredictors) {
    Sample s = xy({2, 1}, {20, 10});
    s.add(numberColumn("u", "", {7, 8}), Role::X);
    const Curve c = s.curve();
    ASSERT_EQ(c.more.size(), 1U);
    EXPECT_THAT(c.more[0], ElementsAre(8, 7));
}

TEST(MeasuredCurve, TimesAreKnownAsSuch) {
    Sample s = xy({1935446400, 1935450000}, {1, 2});
    s.t.columns[0].kind = ColumnKind::DateTime;
    EXPECT_TRUE(s.curve().xMeaning.isTime);
    EXPECT_FALSE(s.curve().yMeaning.isTime);
}

TEST(MeasuredCurve, ColumnsOfUnequalLengthAndInfinitiesLeaveGaps) {
    Sample s = xy({1, 2, 3}, {10});
    EXPECT_THAT(s.curve().y, ElementsAre(10));
    Sample t = xy({1, 2}, {std::numeric_limits<double>::infinity(), 5});
    EXPECT_TRUE(std::isnan(t.curve().y[0]));
}

TEST(MeasuredCurve, SaysWhatIsMissing) {
    Sample s;
    s.d.name = "pond";
    s.add(textColumn("note", {"a"}), Role::Y);
    EXPECT_EQ(s.curve().size(), 0U);
    ASSERT_EQ(s.issues.size(), 1U);
    EXPECT_THAT(s.issues[0].text, HasSubstr("This dataset has no column of numbers as y"));
    Sample later = xy({1}, {2});
    later.d.source.kind = "later-kind";
    EXPECT_EQ(later.curve().size(), 0U);
    EXPECT_THAT(later.issues[0].text, HasSubstr("does not know"));
}
