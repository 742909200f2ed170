// SPDX-License-Identifier: GPL-3.0-or-later
#include "stats/histogram.h"

#include "stats/summary.h"

#include <cmath>
#include <gmock/gmock.h>
#include <numeric>

using namespace jointer::stats;
using testing::ElementsAre;

TEST(Histogram, CountsByEqualWidths) {
    const std::vector<double> v = {0, 1, 1.5, 2, 4, std::nan(""), std::numeric_limits<double>::infinity()};
    const Histogram h = histogramOf(v, 4);
    EXPECT_EQ(h.low, 0);
    EXPECT_EQ(h.width, 1);
    EXPECT_THAT(h.counts, ElementsAre(1, 2, 1, 1)) << "the largest number is in the last bin";
    EXPECT_EQ(h.edge(4), 4);
}

TEST(Histogram, TakesEverythingThatIsANumber) {
    EXPECT_TRUE(histogramOf({}).counts.empty());
    const std::vector<double> same(5, 2.5);
    EXPECT_THAT(histogramOf(same).counts, ElementsAre(5));
    const std::vector<double> wide = {-1e308, 0, 1e308};
    EXPECT_EQ(histogramOf(wide).counts.size(), 1U) << "a width beyond all numbers";
}

TEST(Histogram, ChoosesItsBinsByTheRule) {
    std::vector<double> v(1000); // 0 … 999: quartiles 499.5 apart, width 2·499.5/10
    std::iota(v.begin(), v.end(), 0.0);
    const Histogram h = histogramOf(v);
    EXPECT_EQ(h.counts.size(), 10U) << "ceil(999/99.9)";
    EXPECT_EQ(std::accumulate(h.counts.begin(), h.counts.end(), std::size_t{0}), 1000U);
    std::vector<double> spiked(1000, 5);
    spiked[0] = 0;
    EXPECT_EQ(histogramOf(spiked).counts.size(), 11U) << "ceil(log2(1000) + 1)";
}

TEST(Summary, IntervalOfTheMean) {
    const std::vector<double> v = {4, 6, 8, 10}; // t(0.975, 3) = 3.182446305284263, SEM = 1.2909944487358056
    EXPECT_NEAR(meanHalfWidth(summarise(v)), 3.182446305284263 * 1.2909944487358056, 1e-12);
    EXPECT_TRUE(std::isnan(meanHalfWidth(summarise(std::vector<double>{1}))));
}
