// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/curve.h"
#include "data/table.h"

#include <cmath>
#include <gtest/gtest.h>

using namespace jointer;

TEST(Column, CellsShowThemselves) {
    Column c = numberColumn("Mass", "g", {1.5, NAN, -20000});
    EXPECT_EQ(cellText(c, 0), "1.5");
    EXPECT_EQ(cellText(c, 1), "–");
    EXPECT_EQ(cellText(c, 2), "−20\u2009000");
    c.format = {NumberFormat::Style::Engineering, 2};
    EXPECT_EQ(cellText(c, 2), "−20.00e3");
    c.kind = ColumnKind::DateTime;
    c.cells = std::make_shared<Cells>(
        Cells{.numbers = {1935568800.25, 0}, .texts = {}, .states = {}, .originals = {}});
    EXPECT_EQ(cellText(c, 0), "2031-05-03T10:00:00.25");
    EXPECT_EQ(cellText(c, 1), "1970-01-01T00:00:00");
}

// Points stand below each other; the digits of a wide column are not made up.
TEST(Column, CellsOfAColumnHaveAsManyDecimals) {
    const auto shown = [](std::vector<double> values) {
        const Column c = numberColumn("a", "", std::move(values));
        std::vector<std::string> out;
        for (std::size_t row = 0; row < c.cells->size(); ++row) out.push_back(cellText(c, row, commonDecimals(c)));
        return out;
    };
    using Texts = std::vector<std::string>;
    EXPECT_EQ(shown({57.41, 48.8, 51, -3.25}), (Texts{"57.41", "48.80", "51.00", "−3.25"}));
    EXPECT_EQ(shown({0, 0.1, 100}), (Texts{"0.0", "0.1", "100.0"}));
    EXPECT_EQ(shown({1, 2, 12345}), (Texts{"1", "2", "12\u2009345"})) << "whole numbers stay so";
    EXPECT_EQ(shown({0.0012, 1000}), (Texts{"0.0012", "1000"})) << "too many noughts";
    EXPECT_EQ(shown({NAN, 1.5, 1e-9}), (Texts{"–", "1.5", "1 × 10⁻⁹"}));
    Column fixed = numberColumn("a", "", {1.25, 2});
    fixed.format = {NumberFormat::Style::Significant, 2};
    EXPECT_EQ(commonDecimals(fixed), 0) << "a chosen format stays";
}

TEST(Column, KeysGoThereAndBack) {
    for (int i = 0; i < 9; ++i) {
        EXPECT_EQ(kindFromKey(kindKey(static_cast<ColumnKind>(i))), static_cast<ColumnKind>(i));
        EXPECT_EQ(roleFromKey(roleKey(static_cast<Role>(i))), static_cast<Role>(i));
    }
}

TEST(Column, EqualityAndDigestSeeNaN) {
    const Column a = numberColumn("a", "", {NAN, 1}), b = numberColumn("a", "", {NAN, 1}),
                 c = numberColumn("a", "", {NAN, 2});
    EXPECT_EQ(a, b);
    EXPECT_EQ(digestOf(*a.cells), digestOf(*b.cells));
    EXPECT_NE(digestOf(*a.cells), digestOf(*c.cells));
}

TEST(Table, ColumnsByNameAndNumber) {
    Table t;
    t.columns = {numberColumn("a", "", {1}), numberColumn("b c", "", {2})};
    EXPECT_EQ(t.findByName("b c"), &t.columns[1]);
    EXPECT_EQ(t.findByName("#1"), &t.columns[0]);
    for (const char* bad : {"#0", "#3", "z", "#", "#1.5x"}) EXPECT_EQ(t.findByName(bad), nullptr) << bad;
}

TEST(Curve, SelectionKeepsEverythingTogether) {
    Curve c;
    c.x = {1, 2, 3};
    c.y = {4, 5, 6};
    c.replicates = {{4, 5, 6}, {4, 5, 6}};
    c.sigma = {1, 1, 2};
    c.rowIds = {7, 8, 9};
    const Curve s = selected(c, {1, 0, 1});
    EXPECT_EQ(s.rowIds, (std::vector<std::uint32_t>{7, 9}));
    EXPECT_EQ(s.replicates[1], (std::vector<double>{4, 6}));
    EXPECT_EQ(s.sigma, (std::vector<double>{1, 2}));
    EXPECT_EQ(nearestPoint(c.x, 2.4), 1U);
    EXPECT_EQ(nearestPoint(c.x, -9), 0U);
    EXPECT_EQ(nearestPoint(c.x, 99), 2U);
}
