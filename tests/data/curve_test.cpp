// SPDX-License-Identifier: GPL-3.0-or-later
// Curves as a whole: whatever lists they have stay together through selecting, arranging and sorting; digests
// see every change; numbers of spans are those of closed forms.
#include "data/column_names.h"
#include "data/companion_names.h"
#include "data/curve.h"
#include "data/median_step.h"
#include "data/table.h"
#include "support/random.h"

#include <algorithm>
#include <gmock/gmock.h>
#include <numeric>

using namespace jointer;

namespace {

struct Random : test::Random {
    using test::Random::Random;
    std::vector<double> values(std::size_t n) { // whole numbers: some are equal
        std::vector<double> out = test::Random::values(n, -9, 9);
        for (double& v : out) v = std::round(v);
        return out;
    }
    // With or without each of the lists that a curve may have.
    Curve curve(std::size_t n) {
        Curve c;
        c.x = values(n);
        c.y = values(n);
        const bool replicated = below(2);
        if (replicated) c.replicates = {values(n), values(n)};
        if (below(2)) c.more = {values(n)};
        if (below(2)) c.sigma = values(n);
        if (below(2)) c.sigmaX = values(n);
        if (below(2))
            for (std::size_t i = 0; i < n; ++i) c.excluded.push_back(below(3) == 0);
        if (below(2))
            for (std::size_t i = 0; i < n; ++i) c.made.push_back(static_cast<std::uint8_t>(below(4)));
        if (below(2)) {
            c.rowIds.resize(n);
            std::iota(c.rowIds.begin(), c.rowIds.end(), 1U);
        }
        if (below(2)) c.common = {{"the reference", values(n)}};
        return c;
    }
};

// All that a point has, as one list of numbers.
std::vector<double> pointOf(const Curve& c, std::size_t i) {
    std::vector<double> out;
    c.eachList([&](const auto& list) { out.push_back(static_cast<double>(list[i])); });
    return out;
}

} // namespace

TEST(Curve, ListsStayTogetherHoweverTheyAreArranged) {
    Random random(1);
    for (int round = 0; round < 400; ++round) {
        const std::size_t n = 1 + random.below(30);
        const Curve c = random.curve(n);
        std::vector<std::size_t> order(n);
        std::iota(order.begin(), order.end(), 0U);
        std::ranges::shuffle(order, random.engine);
        order.resize(1 + random.below(n)); // some are left away
        const Curve arrangedOnes = arranged(c, order);
        ASSERT_EQ(arrangedOnes.size(), order.size());
        for (std::size_t k = 0; k < order.size(); ++k)
            EXPECT_EQ(pointOf(arrangedOnes, k), pointOf(c, order[k]));

        std::vector<std::uint8_t> keep(n);
        for (auto& k : keep) k = static_cast<std::uint8_t>(random.below(2));
        const Curve kept = selected(c, keep);
        std::size_t next = 0;
        for (std::size_t i = 0; i < n; ++i)
            if (keep[i]) {
                ASSERT_LT(next, kept.size());
                EXPECT_EQ(pointOf(kept, next++), pointOf(c, i));
            }
        EXPECT_EQ(kept.size(), next);
        EXPECT_EQ(kept.xMeaning, c.xMeaning);
    }
}

// As the sort of the library, which keeps the order of equals.
TEST(Curve, SortingKeepsTheOrderOfEqualX) {
    Random random(2);
    for (int round = 0; round < 300; ++round) {
        const std::size_t n = random.below(40) + 1;
        const Curve before = random.curve(n);
        Curve sorted = before;
        sortByX(sorted);
        std::vector<std::size_t> order(n);
        std::iota(order.begin(), order.end(), 0U);
        std::ranges::stable_sort(order, {}, [&](std::size_t i) { return before.x[i]; });
        for (std::size_t k = 0; k < n; ++k) EXPECT_EQ(pointOf(sorted, k), pointOf(before, order[k])) << round;
        Curve again = sorted;
        sortByX(again);
        EXPECT_EQ(digestOf(again), digestOf(sorted));
    }
}

TEST(Curve, DigestsSeeEveryChange) {
    Random random(3);
    for (int round = 0; round < 300; ++round) {
        const Curve c = random.curve(2 + random.below(10));
        EXPECT_EQ(digestOf(c), digestOf(Curve(c)));
        std::size_t lists = 0;
        c.eachList([&](const auto&) { ++lists; });
        const std::size_t which = random.below(lists), at = random.below(c.size());
        Curve changed = c;
        std::size_t k = 0;
        changed.eachList([&](auto& list) {
            if (k++ == which) list[at] = static_cast<std::decay_t<decltype(list[at])>>(list[at] + 1);
        });
        EXPECT_NE(digestOf(changed), digestOf(c)) << "list " << which;
        Curve named = c;
        named.yMeaning.unit = "mg";
        EXPECT_NE(digestOf(named), digestOf(c));
        Curve nan = c;
        nan.y[at] = NAN;
        EXPECT_NE(digestOf(nan), digestOf(c));
        EXPECT_EQ(digestOf(nan), digestOf(Curve(nan))) << "the same with what is missing";
    }
}

TEST(Curve, PointsThatAreLeftOutOrMissingDoNotCount) {
    Curve c;
    c.x = {1, 2, NAN, 4};
    c.y = {5, NAN, 7, 8};
    EXPECT_TRUE(c.counts(0));
    EXPECT_FALSE(c.counts(1));
    EXPECT_FALSE(c.counts(2));
    c.excluded = {1, 0, 0, 0};
    EXPECT_FALSE(c.counts(0));
    EXPECT_TRUE(c.counts(3));
    EXPECT_FALSE(c.isMade(0));
    c.made = {static_cast<std::uint8_t>(PointOrigin::Control)};
    EXPECT_TRUE(c.isMade(0));
    EXPECT_FALSE(c.isMade(3));
}

// A triangle of height h upon a chord: area h·w/2, centroid a third of the way from the steeper side, half
// its width at half maximum.
TEST(Span, NumbersOfATriangleUponAChord) {
    Random random(4);
    for (int round = 0; round < 100; ++round) {
        const double left = random.between(-50, 50), width = random.between(1, 20),
                     top = left + width * random.between(0.2, 0.8);
        const double height = random.between(1, 30), base = random.between(-5, 5),
                     slope = random.between(-0.2, 0.2);
        Curve c;
        const auto chord = [&](double x) { return base + slope * (x - left); };
        const int n = 400;
        for (int i = 0; i <= n; ++i) {
            const double x = left + width * i / n;
            c.x.push_back(x);
        }
        c.x.push_back(top); // so that the corner is a point
        std::ranges::sort(c.x);
        for (const double x : c.x)
            c.y.push_back(chord(x) + height * (x < top ? (x - left) / (top - left)
                                                       : (left + width - x) / (left + width - top)));
        const SpanNumbers s = numbersOfSpan(c, left - 1, left + width + 1);
        EXPECT_EQ(s.n, c.size());
        EXPECT_NEAR(s.areaAboveChord, height * width / 2, 1e-9 * height * width);
        EXPECT_NEAR(s.area, height * width / 2 + (base + slope * width / 2) * width, 1e-8 * height * width);
        EXPECT_NEAR(s.centroid, (left + top + left + width) / 3, 1e-3 * width);
        EXPECT_NEAR(s.fwhm, width / 2, 1e-9 * width);
        EXPECT_NEAR(s.maximum, *std::ranges::max_element(c.y), 0);
    }
}

TEST(Span, NumbersAreThoseOfWhatCounts) {
    Random random(5);
    for (int round = 0; round < 200; ++round) {
        Curve c = random.curve(40);
        sortByX(c);
        const double low = random.between(-10, 5), high = low + random.between(0, 15);
        std::vector<double> inside;
        for (std::size_t i = 0; i < c.size(); ++i)
            if (c.counts(i) && c.x[i] >= low && c.x[i] <= high) inside.push_back(c.y[i]);
        const SpanNumbers s = numbersOfSpan(c, low, high);
        ASSERT_EQ(s.n, inside.size());
        if (inside.empty()) {
            EXPECT_TRUE(std::isnan(s.mean));
            continue;
        }
        const auto n = static_cast<double>(inside.size());
        const double mean = std::accumulate(inside.begin(), inside.end(), 0.0) / n;
        EXPECT_NEAR(s.mean, mean, 1e-12);
        EXPECT_EQ(s.maximum, std::ranges::max(inside));
        double squares = 0;
        for (double v : inside) squares += (v - mean) * (v - mean);
        if (inside.size() > 1) {
            EXPECT_NEAR(s.sd, std::sqrt(squares / (n - 1)), 1e-12);
        }
    }
}

TEST(NearestPoint, IsTheNearest) {
    Random random(6);
    for (int round = 0; round < 300; ++round) {
        std::vector<double> xs(1 + random.below(20));
        for (double& x : xs) x = random.between(0, 10);
        std::ranges::sort(xs);
        const double at = random.between(-2, 12);
        double least = INFINITY;
        for (double x : xs) least = std::min(least, std::abs(x - at));
        EXPECT_EQ(std::abs(xs[nearestPoint(xs, at)] - at), least);
    }
}

TEST(MedianStep, IsThatOfTheDistances) {
    EXPECT_EQ(medianStep({}), 0);
    EXPECT_EQ(medianStep({3}), 0);
    EXPECT_EQ(medianStep({2, 2, 2}), 0);
    EXPECT_EQ(medianStep({1, 1, 3, 3, 5}), 2) << "equal ones are one place";
    Random random(7);
    for (int round = 0; round < 100; ++round) {
        std::vector<double> xs = {0}, steps;
        for (std::size_t k = 0; k < 2 * random.below(20) + 1; ++k) {
            steps.push_back(random.between(0.1, 5));
            xs.push_back(xs.back() + steps.back());
        }
        std::ranges::sort(steps);
        EXPECT_NEAR(medianStep(xs), steps[steps.size() / 2], 1e-12);
    }
    std::vector<double> many;
    for (int k = 0; k < 100000; ++k) many.push_back(0.5 * k + (k % 1000 == 0 ? 0.1 : 0));
    EXPECT_NEAR(medianStep(many, 500), 0.5, 0.11) << "a look at some of them";
}

TEST(ColumnNames, WhatRepeatsHaveInCommon) {
    const auto common = [](std::vector<std::string> names) {
        std::vector<std::shared_ptr<Column>> columns;
        for (const std::string& name : names) {
            columns.push_back(std::make_shared<Column>());
            columns.back()->name = name;
        }
        return commonName(columns);
    };
    EXPECT_EQ(common({"Copper 1", "Copper 2", "Copper 3"}), "Copper");
    EXPECT_EQ(common({"run1", "run2"}), "run");
    EXPECT_EQ(common({"Copper 1", "Zinc 2"}), "Copper 1") << "nothing in common: the first";
    EXPECT_EQ(common({"1", "2"}), "1") << "numbers alone are names";
    EXPECT_EQ(common({"Copper 1"}), "Copper 1") << "of one there is no repeat";
    for (const auto& [name, wanted] : {std::pair("count 2", "count"),
                                       {"x1", "x"},
                                       {"2", ""},
                                       {"depth", "depth"},
                                       {"", ""},
                                       {"a_12", "a"},
                                       {"O2 sat", "O2 sat"}})
        EXPECT_EQ(nameWithoutNumber(name), wanted) << name;
    for (const auto& [name, wanted] : {std::pair("A405 a", "A405"),
                                       {"A405c", "A405"},
                                       {"OD_b", "OD"},
                                       {"data", ""},
                                       {"Site A", ""},
                                       {"k z", ""},
                                       {"a", ""},
                                       {" a", ""},
                                       {"", ""}})
        EXPECT_EQ(nameWithoutLetter(name), wanted) << name;
    EXPECT_EQ(common({"A405 a", "A405 b"}), "A405");
    EXPECT_EQ(common({"A405 a", "A280 b"}), "A405 a");
}

TEST(CompanionNames, TellWhatCameWithTheData) {
    using enum CompanionKind;
    for (const auto& [name, kind] : {std::pair("Fit", Fit),
                                     {"Ca fit", Fit},
                                     {"fitted", Fit},
                                     {"background_2", Background},
                                     {"Baseline", Background},
                                     {"Residuals", Residuals},
                                     {"residual 1", Residuals},
                                     {"Component 1", Part}})
        EXPECT_EQ(companionKind(name), kind) << name;
    for (const char* name : {"", "outfit", "fitness", "depth", "counts", "departure", "profit"})
        EXPECT_EQ(companionKind(name), std::nullopt) << name;
}

TEST(Table, RowsKeepTheirIdsLinesAndKinds) {
    Table t;
    t.columns = {numberColumn("a", "", {1, 2, 3})};
    EXPECT_EQ(t.rowCount(), 3U);
    EXPECT_EQ(t.rows->id(2), 3U) << "1, 2, 3… where none are told";
    t.rows =
        std::make_shared<Rows>(Rows{.ids = {7, 4, 9}, .lines = {12, 13, 20}, .firstLine = 12, .lastId = 9});
    EXPECT_EQ(t.rows->id(1), 4U);
    EXPECT_EQ(t.rows->line(2), 20U);
    t.rowKinds[4] = RowKind::Blank;
    EXPECT_EQ(t.rowKind(1), RowKind::Blank) << "by its id";
    EXPECT_EQ(t.rowKind(0), RowKind::Plain);
    for (const RowKind kind :
         {RowKind::Plain, RowKind::Standard, RowKind::Blank, RowKind::Unknown, RowKind::Control})
        EXPECT_EQ(rowKindFromKey(rowKindKey(kind)), kind);
    EXPECT_EQ(rowKindFromKey("no such"), RowKind::Plain);
    const Table before = t;
    t.rowKinds[9] = RowKind::Standard;
    EXPECT_FALSE(t == before);
}
