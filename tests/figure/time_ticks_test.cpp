// SPDX-License-Identifier: GPL-3.0-or-later
// Ticks of time: at places of the calendar, a label for each, what is common once.
#include "figure/scales/time_ticks.h"

#include "data/column.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::figure;
using testing::ElementsAre;

namespace {

constexpr double kDay = 86400;

std::vector<std::string> shown(double low, double high, int about = 6) {
    std::vector<std::string> out;
    for (const Tick& t : timeTicks({low, high}, {.about = about}))
        if (t.major) out.push_back(t.label + (t.below.empty() ? "" : " | " + t.below));
    return out;
}

} // namespace

TEST(TimeTicks, TwelveDaysHaveDaysAndTheMonthOnce) {
    EXPECT_THAT(shown(0, 12 * kDay), ElementsAre("1 | Jan 1970", "3", "5", "7", "9", "11", "13"));
}

TEST(TimeTicks, FortyYearsHaveYears) {
    EXPECT_THAT(shown(0, 40 * 365.25 * kDay), ElementsAre("1970", "1980", "1990", "2000", "2010"));
}

TEST(TimeTicks, HoursBefore1970AreHours) {
    EXPECT_THAT(shown(-kDay, 0),
                ElementsAre("00:00 | 31 Dec 1969", "06:00", "12:00", "18:00", "00:00 | 1 Jan 1970"));
}

TEST(TimeTicks, MonthsHaveTheirOwnLengths) {
    // 2031-11-15 to 2032-05-15: a leap year.
    const double from = 1952467200, to = from + 182 * kDay;
    EXPECT_THAT(shown(from, to), ElementsAre("Dec | 2031", "Jan | 2032", "Feb", "Mar", "Apr", "May"));
    for (const Tick& t : timeTicks({from, to}, {.minor = 0})) EXPECT_EQ(isoDate(t.value).substr(8), "01");
}

TEST(TimeTicks, SecondsAndTheirParts) {
    EXPECT_THAT(shown(0, 0.01, 5),
                ElementsAre("00.000 | 00:00, 1 Jan 1970", "00.002", "00.004", "00.006", "00.008", "00.010"));
    EXPECT_THAT(shown(59.5, 63, 4), ElementsAre("00:01:00 | 1 Jan 1970", "00:01:01", "00:01:02", "00:01:03"));
}

// From milliseconds to millennia, also before 1970: some ticks, in order, inside, no label twice in a row.
TEST(TimeTicks, AnyRangeHasAFewGoodOnes) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> size(-2, 10.9), sign(-1, 1);
    for (int round = 0; round < 20000; ++round) {
        const double span = std::pow(10.0, size(random)), low = sign(random) * 4e9;
        const int about = 3 + round % 6;
        const auto ticks = timeTicks({low, low + span}, {.minor = 0, .about = about});
        ASSERT_LE(ticks.size(), 4U * static_cast<unsigned>(about)) << span;
        ASSERT_TRUE(span > 5e10 || !ticks.empty()) << span << " from " << low;
        for (std::size_t i = 0; i < ticks.size(); ++i) {
            ASSERT_GE(ticks[i].value, low - 1e-6 * span);
            ASSERT_LE(ticks[i].value, low + span * (1 + 1e-9));
            ASSERT_FALSE(ticks[i].label.empty());
            if (i == 0) continue;
            ASSERT_GT(ticks[i].value, ticks[i - 1].value);
            ASSERT_TRUE(ticks[i].label != ticks[i - 1].label || !ticks[i].below.empty()) << ticks[i].label;
        }
    }
}

// Small ticks stand between the others at places of the calendar too, never upon them and never one
// alone.
TEST(TimeTicks, SmallOnesDivideThemByTheCalendar) {
    auto dates = [](double from, double to, int about) {
        std::vector<std::string> out;
        for (const Tick& t : timeTicks({from, to}, {.about = about}))
            if (!t.major) out.push_back(isoDateTime(t.value).substr(5, 11));
        return out;
    };
    EXPECT_THAT(dates(0, 10 * kDay, 3),
                ElementsAre("01-02T00:00", "01-03T00:00", "01-04T00:00", "01-05T00:00", "01-07T00:00",
                            "01-08T00:00", "01-09T00:00", "01-10T00:00"));
    EXPECT_THAT(dates(0, 58 * kDay, 2),
                ElementsAre("01-11T00:00", "01-21T00:00", "02-11T00:00", "02-21T00:00"));
    EXPECT_THAT(dates(0, 6 * 3600, 6).size(), 18U) << "quarters of an hour";
    std::mt19937 random(6);
    std::uniform_real_distribution<double> size(-2, 10.5), sign(-1, 1);
    for (int round = 0; round < 4000; ++round) {
        const double span = std::pow(10.0, size(random)), low = sign(random) * 4e9;
        const auto ticks = timeTicks({low, low + span}, {.about = 3 + round % 6});
        std::size_t major = 0;
        for (std::size_t i = 0; i < ticks.size(); ++i) {
            major += ticks[i].major;
            ASSERT_EQ(ticks[i].major, !ticks[i].label.empty());
            ASSERT_TRUE(i == 0 || ticks[i].value > ticks[i - 1].value) << span;
        }
        ASSERT_LE(ticks.size(), 9 * (major + 1)) << span << " from " << low;
        ASSERT_TRUE(major < 3 || ticks.size() >= 2 * major - 1) << span << " from " << low;
    }
}
