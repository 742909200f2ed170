// SPDX-License-Identifier: GPL-3.0-or-later
// Spans of the calendar for averaging logger series: in local time with a fixed offset, so that no hour is
// lost or double when clocks change. Not part of the interface of the folder.
#pragma once

#include <cstdint>
#include <string>

namespace jointer::steps {

struct Calendar {
    std::string unit = "day"; // minute, hour, day, week, month, year
    int count = 1;            // so many of them
    double offsetHours = 0;   // local time minus UTC
    double beginHour = 0;     // of days and what is longer: at which local hour they begin
    int firstWeekday = 1;     // of weeks: 0 Sunday … 6 Saturday

    // The number of the span in which a time (seconds since 1970, UTC) lies, and when a span begins.
    std::int64_t spanOf(double seconds) const;
    double beginOf(std::int64_t span) const;
};

} // namespace jointer::steps
