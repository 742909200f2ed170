// SPDX-License-Identifier: GPL-3.0-or-later
// Dates and times of day in columns of their own become moments where they run on together, and stay apart
// where they do not: random loggers of many habits, and tables that only look like one.
#include "io/joined_moments.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::io;

namespace {

ReadResult readText(const std::string& text, const Settings& told = {}) {
    auto reading = read(text, "logger.csv", told);
    EXPECT_TRUE(reading) << text.substr(0, 200);
    if (!reading) return {};
    joinMoments(*reading, told);
    return std::move(*reading);
}

const Column* moments(const ReadResult& r) {
    for (const Column& c : r.tables.front().table.columns)
        if (c.kind == ColumnKind::DateTime) return &c;
    return nullptr;
}

// A logger as its maker writes it: the order and look of dates and times, the columns' places, the direction.
struct Habit {
    int dates, times;
    bool timeFirst, newestFirst;
    char separator;

    std::string date(int day) const {
        const int d = day % 28 + 1, m = day / 28 % 12 + 1, y = 2031 + day / 336;
        switch (dates) {
        case 0:
            return fmt::format("{:04}-{:02}-{:02}", y, m, d);
        case 1:
            return fmt::format("{:02}.{:02}.{:04}", d, m, y);
        default:
            return fmt::format("{:04}/{:02}/{:02}", y, m, d);
        }
    }
    std::string time(int minute) const {
        return times == 0 ? fmt::format("{:02}:{:02}", minute / 60, minute % 60)
                          : fmt::format("{:02}:{:02}:30", minute / 60, minute % 60);
    }
};

std::string logger(const Habit& h, std::mt19937& random, int days, int step) {
    std::vector<std::string> rows;
    for (int day = 0; day < days; ++day)
        for (int minute = 0; minute < 1440; minute += step) {
            const std::string a = h.timeFirst ? h.time(minute) : h.date(day),
                              b = h.timeFirst ? h.date(day) : h.time(minute);
            rows.push_back(fmt::format("{0}{3}{1}{3}{2}", a, b, 5 + random() % 20, h.separator));
        }
    if (h.newestFirst) std::ranges::reverse(rows);
    std::string text = h.timeFirst ? fmt::format("time{0}date{0}level\n", h.separator)
                                   : fmt::format("date{0}time{0}level\n", h.separator);
    for (const std::string& row : rows) text += row + "\n";
    return text;
}

} // namespace

TEST(JoinedMoments, OfLoggersOfManyHabits) {
    std::mt19937 random(5);
    for (int trial = 0; trial < 120; ++trial) {
        const Habit h{trial % 3, trial / 3 % 2, random() % 2 == 0, random() % 3 == 0, ",;\t"[random() % 3]};
        const int days = 2 + static_cast<int>(random() % 40),
                  step = std::array{30, 60, 120, 480}[random() % 4];
        const ReadResult r = readText(logger(h, random, days, step));
        const Column* when = moments(r);
        ASSERT_TRUE(when) << "trial " << trial;
        EXPECT_EQ(r.tables.front().table.columns.size(), 2U);
        EXPECT_EQ(when->role, Role::X);
        const auto& s = when->numbers();
        ASSERT_EQ(s.size(), static_cast<std::size_t>(days * (1440 / step)));
        for (std::size_t i = 1; i < s.size() && i < static_cast<std::size_t>(1440 / step); ++i)
            EXPECT_EQ(std::abs(s[i] - s[i - 1]), 60.0 * step);
        EXPECT_TRUE(std::ranges::any_of(r.issues, [](const Issue& i) { return i.code == "joined-moments"; }));
    }
}

TEST(JoinedMoments, WhatDoesNotRunOnStaysApart) {
    for (const char* text :
         {"date,time,level\n2031-05-01,10:00,1\n2031-05-02,09:00,2\n2031-05-03,08:00,3\n", // no date again
          "date,time,level\n2031-05-01,10:00,1\n2031-05-01,09:00,2\n2031-05-01,11:00,3\n", // up and down
          "date,begin,end,n\n2031-05-01,10:00,11:00,2\n2031-05-01,12:00,13:00,3\n",        // which of them?
          "date,level\n2031-05-01,1\n2031-05-01,2\n",                                      // no times
          "when,date,time,n\n2031-05-01 10:00,2031-05-01,10:00,1\n2031-05-01 11:00,2031-05-01,11:00,2\n"}) {
        const ReadResult r = readText(text);
        const Table& t = r.tables.front().table;
        EXPECT_TRUE(columnsToJoin(t).empty()) << text;
        EXPECT_TRUE(std::ranges::any_of(t.columns, [](const Column& c) {
            return c.kind == ColumnKind::Date;
        })) << text;
    }
}

TEST(JoinedMoments, WhatIsToldIsDone) {
    const std::string text = "day,clock,level\n2031-05-01,10:00,1\n2031-05-01,11:00,2\n2031-05-02,10:00,3\n";
    Settings apart;
    apart.set("join", kApart);
    EXPECT_EQ(readText(text, apart).tables.front().table.columns.size(), 3U);
    Settings told;
    told.set("join", "day, clock");
    EXPECT_EQ(readText(text, told).tables.front().table.columns.size(), 2U);
    Settings wrong;
    wrong.set("join", "day, o'clock");
    const auto refused = read(text, "logger.csv", wrong);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, "join");
    EXPECT_EQ(read(text, "logger.csv", {})->tables.front().table.columns.size(), 3U)
        << "a reading alone gives the columns of the file";
}
