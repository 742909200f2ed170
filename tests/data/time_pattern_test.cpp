// SPDX-License-Identifier: GPL-3.0-or-later
// Times written and read by patterns; the reference is the calendar of ISO 8601.
#include "data/time_pattern.h"

#include "data/column.h"

#include <gtest/gtest.h>

using namespace jointer;

namespace {

constexpr double kMoment = 1935494405.25; // 2031-05-02 13:20:05.25

} // namespace

TEST(TimePattern, WritesTheParts) {
    const std::pair<const char*, const char*> cases[] = {{"YYYY-MM-DD hh:mm:ss", "2031-05-02 13:20:05"},
                                                         {"DD.MM.YY", "02.05.31"},
                                                         {"D MMM YYYY, hh:mm", "2 May 2031, 13:20"},
                                                         {"M/D/YYYY", "5/2/2031"},
                                                         {"h:mm AM", "1:20 PM"},
                                                         {"hh:mm:ss.ff", "13:20:05.25"},
                                                         {"hh:mm:ss.f", "13:20:05.3"},
                                                         {"on DD at hh", "on 02 at 13"}};
    ASSERT_EQ(isoDateTime(kMoment), "2031-05-02T13:20:05.25");
    for (const auto& [pattern, text] : cases) EXPECT_EQ(timeText(kMoment, pattern), text) << pattern;
    EXPECT_EQ(timeText(0, "h:mm AM"), "12:00 AM");
    EXPECT_EQ(timeText(-1, "YYYY-MM-DD hh:mm:ss"), "1969-12-31 23:59:59") << "before the era";
    EXPECT_EQ(timeText(59.9996, "mm:ss.fff"), "01:00.000") << "rounding carries over";
}

TEST(TimePattern, DurationsGoOnBeyondADay) {
    EXPECT_EQ(timeText(36 * 3600 + 90, "hh:mm:ss", TimeMeaning::Duration), "36:01:30");
    EXPECT_EQ(timeText(-90, "h:mm", TimeMeaning::Duration), "−0:01");
    EXPECT_EQ(timeFromText("36:01:30", "hh:mm:ss"), 36 * 3600 + 90);
    EXPECT_EQ(timeFromText("−0:01", "h:mm"), -60);
}

TEST(TimePattern, ReadsWhatItWrites) {
    for (const char* pattern :
         {"YYYY-MM-DD hh:mm:ss.ff", "DD.MM.YY hh:mm:ss.ff", "D MMM YYYY, h:mm:ss.ff AM"})
        for (double t : {kMoment, 0.0, 951782400.0, -86399.75, 4102444799.5}) {
            if (std::string_view(pattern).find("YYYY") == std::string_view::npos && (t < 0 || t > 3e9))
                continue;
            EXPECT_EQ(timeFromText(timeText(t, pattern), pattern), t) << pattern << " of " << t;
        }
}

TEST(TimePattern, RefusesWhatIsNoTime) {
    EXPECT_FALSE(timeFromText("31.02.2031", "DD.MM.YYYY")) << "no such day";
    EXPECT_FALSE(timeFromText("2031-05-02", "DD.MM.YYYY"));
    EXPECT_FALSE(timeFromText("13:20 PM", "h:mm AM"));
    EXPECT_FALSE(timeFromText("10:61", "hh:mm"));
    EXPECT_FALSE(timeFromText("02.05.2031 and more", "DD.MM.YYYY"));
    EXPECT_FALSE(timeFromText("", "hh:mm"));
}

TEST(TimePattern, ColumnsShowByItButKeepTheirSeconds) {
    Column c = numberColumn("when", "", {kMoment});
    c.kind = ColumnKind::DateTime;
    c.timePattern = "DD.MM.YYYY";
    EXPECT_EQ(cellText(c, 0), "02.05.2031");
    EXPECT_EQ(plainCellText(c, 0), "2031-05-02T13:20:05.25");
}
