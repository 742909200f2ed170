// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/calendar.h"

#include <chrono>
#include <cmath>

namespace jointer::steps {

namespace {

constexpr double kDay = 86400;

double lengthOf(const std::string& unit) { // of those that are always as long; 0: months and years
    return unit == "minute" ? 60
           : unit == "hour" ? 3600
           : unit == "day"  ? kDay
           : unit == "week" ? 7 * kDay
                            : 0;
}

std::int64_t floorDiv(std::int64_t a, std::int64_t b) {
    return a / b - (a % b != 0 && (a % b < 0) != (b < 0));
}

std::int64_t monthOf(double days) {
    using namespace std::chrono;
    const year_month_day date{sys_days{std::chrono::days{static_cast<int>(std::floor(days))}}};
    return 12 * (static_cast<int>(date.year()) - 1970) + static_cast<unsigned>(date.month()) - 1;
}

double beginOfMonth(std::int64_t month) {
    using namespace std::chrono;
    const std::int64_t years = floorDiv(month, 12);
    const year_month_day first{year{static_cast<int>(1970 + years)} /
                               std::chrono::month{static_cast<unsigned>(month - 12 * years + 1)} / day{1}};
    return kDay * static_cast<double>(sys_days{first}.time_since_epoch().count());
}

} // namespace

std::int64_t Calendar::spanOf(double seconds) const {
    double local = seconds + 3600 * offsetHours;
    const bool byDay = unit != "minute" && unit != "hour";
    if (byDay) local -= 3600 * beginHour;
    if (const double length = lengthOf(unit); length > 0) {
        // 1970-01-01 was a Thursday.
        if (unit == "week") local -= kDay * (firstWeekday - 4);
        return static_cast<std::int64_t>(std::floor(local / (length * count)));
    }
    return floorDiv(monthOf(local / kDay), unit == "year" ? 12 * count : count);
}

double Calendar::beginOf(std::int64_t span) const {
    double local = 0;
    if (const double length = lengthOf(unit); length > 0)
        local = static_cast<double>(span) * length * count + (unit == "week" ? kDay * (firstWeekday - 4) : 0);
    else
        local = beginOfMonth(span * (unit == "year" ? 12 * count : count));
    if (unit != "minute" && unit != "hour") local += 3600 * beginHour;
    return local - 3600 * offsetHours;
}

} // namespace jointer::steps
