// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/scales/time_ticks.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <date/date.h>
#include <fmt/format.h>

namespace jointer::figure {

namespace {

constexpr double kDay = 86400, kYear = 365.2425 * kDay;
constexpr double kFarthest = 9e11; // beyond it there is no calendar: the year 30 000
constexpr std::size_t kMostTicks = 400;

enum class Unit { Fraction, Second, Minute, Hour, Day, Month, Year };

struct Step {
    Unit unit;
    double count;   // of the unit
    double seconds; // about
};

// The smallest step of the calendar that is not below the wished distance.
Step stepFor(double wished) {
    static constexpr std::array<Step, 23> steps = {
        {{Unit::Second, 1, 1},        {Unit::Second, 2, 2},         {Unit::Second, 5, 5},
         {Unit::Second, 10, 10},      {Unit::Second, 30, 30},       {Unit::Minute, 1, 60},
         {Unit::Minute, 2, 120},      {Unit::Minute, 5, 300},       {Unit::Minute, 10, 600},
         {Unit::Minute, 30, 1800},    {Unit::Hour, 1, 3600},        {Unit::Hour, 2, 7200},
         {Unit::Hour, 3, 10800},      {Unit::Hour, 6, 21600},       {Unit::Hour, 12, 43200},
         {Unit::Day, 1, kDay},        {Unit::Day, 2, 2 * kDay},     {Unit::Day, 5, 5 * kDay},
         {Unit::Day, 10, 10 * kDay},  {Unit::Month, 1, kYear / 12}, {Unit::Month, 3, kYear / 4},
         {Unit::Month, 6, kYear / 2}, {Unit::Year, 1, kYear}}};
    if (wished < 1 || wished > kYear) { // tenths of seconds, decades: by 1, 2, 5
        const double unit = wished < 1 ? 1 : kYear,
                     power = std::pow(10.0, std::floor(std::log10(wished / unit)));
        const double mantissa = wished / unit / power;
        const double count = power * (mantissa <= 1 ? 1 : mantissa <= 2 ? 2 : mantissa <= 5 ? 5 : 10);
        return {wished < 1 && count < 1 ? Unit::Fraction
                : wished < 1            ? Unit::Second
                                        : Unit::Year,
                count, count * unit};
    }
    return *std::ranges::find_if(steps,
                                 [&](const Step& s) { return s.seconds >= wished || s.unit == Unit::Year; });
}

// The step of small ticks within it, by the calendar too.
Step withinOf(const Step& s) {
    auto even = [](Unit unit, double seconds) { return Step{unit, seconds, seconds}; };
    switch (s.unit) {
    case Unit::Month:
        return s.count == 1 ? Step{Unit::Day, 10, 10 * kDay} : Step{Unit::Month, 1, kYear / 12};
    case Unit::Year: {
        if (s.count == 1) return {Unit::Month, 3, kYear / 4};
        const double power = std::pow(10.0, std::floor(std::log10(s.count) + 1e-9));
        const double count = s.count / power < 1.5 ? s.count / 5 : s.count / power < 3 ? s.count / 2 : power;
        return {Unit::Year, count, count * kYear};
    }
    case Unit::Day:
        if (s.count == 1) return even(Unit::Hour, 21600);
        return s.count == 10 ? Step{Unit::Day, 5, 5 * kDay} : Step{Unit::Day, 1, kDay};
    case Unit::Fraction: { // 1 and 2 into halves, 5 into ones
        const double power = std::pow(10.0, std::floor(std::log10(s.count) + 1e-9));
        return even(Unit::Fraction, s.count / power < 3 ? s.count / 2 : power);
    }
    default: { // seconds, minutes, hours: into so many parts
        const bool hours = s.unit == Unit::Hour;
        const double parts = s.count == 1                    ? (hours                    ? 4
                                                                : s.unit == Unit::Minute ? 4
                                                                                         : 5)
                             : s.count == 2                  ? (hours ? 4 : 2)
                             : s.count == 6                  ? 6
                             : s.count == 12                 ? 4
                             : s.count == 3 || s.count == 30 ? 3
                                                             : 5;
        return even(s.unit, s.seconds / parts);
    }
    }
}

date::year_month_day dayOf(double seconds) {
    return date::year_month_day(date::floor<date::days>(
        date::sys_seconds(std::chrono::seconds(static_cast<long long>(std::floor(seconds))))));
}

double secondsOf(date::year_month_day day) {
    return static_cast<double>(date::sys_days(day).time_since_epoch().count()) * kDay;
}

// Days of the month such as 1, 6, 11…; none so late that the next month's first would touch it.
void addDays(const Range& s, const Step& step, std::vector<double>& values) {
    const auto count = static_cast<unsigned>(step.count);
    for (double day = std::ceil(s.low / kDay) * kDay; day <= s.high; day += kDay) {
        const auto date = dayOf(day);
        const auto d = static_cast<unsigned>(date.day());
        const auto last = static_cast<unsigned>(
            date::year_month_day_last(date.year(), date::month_day_last(date.month())).day());
        if ((d - 1) % count == 0 && (count == 1 || d + count / 2 <= last)) values.push_back(day);
    }
}

void addMonths(const Range& s, const Step& step, std::vector<double>& values) {
    const auto first = dayOf(s.low);
    const auto count =
        step.unit == Unit::Month ? static_cast<long>(step.count) : 12 * static_cast<long>(step.count);
    const long months = 12L * static_cast<int>(first.year()) + static_cast<unsigned>(first.month()) - 1;
    for (long m = months - ((months % count) + count) % count;; m += count) {
        const long year = m >= 0 ? m / 12 : -((11 - m) / 12);
        const auto month = static_cast<unsigned>(m - 12 * year) + 1;
        const double at = secondsOf(date::year(static_cast<int>(year)) / static_cast<int>(month) / 1);
        if (at > s.high || values.size() > kMostTicks) return;
        if (at >= s.low) values.push_back(at);
    }
}

std::vector<double> valuesOf(const Range& s, const Step& step) {
    std::vector<double> values;
    if (step.unit == Unit::Day)
        addDays(s, step, values);
    else if (step.unit > Unit::Day)
        addMonths(s, step, values);
    else
        for (double k = std::ceil(s.low / step.seconds - 1e-9);
             k * step.seconds <= s.high && values.size() < kMostTicks; ++k)
            values.push_back(k * step.seconds);
    return values;
}

const char* monthName(date::month m) {
    static constexpr const char* names[] = {"Jan", "Feb", "Mar", "Apr", "May", "Jun",
                                            "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};
    return names[static_cast<unsigned>(m) - 1];
}

// What changes, and what is common to neighbours.
Tick labelled(double v, const Step& step) {
    const double rounded = std::round(v * 1e6) / 1e6;
    const auto date = dayOf(rounded);
    const int year = static_cast<int>(date.year());
    const double ofDay = rounded - std::floor(rounded / kDay) * kDay;
    const int h = static_cast<int>(ofDay / 3600), m = static_cast<int>(ofDay / 60) % 60;
    const double s = ofDay - 3600 * h - 60 * m;
    const std::string day =
        fmt::format("{} {} {}", static_cast<unsigned>(date.day()), monthName(date.month()), year);
    switch (step.unit) {
    case Unit::Fraction: {
        const int decimals = std::clamp(static_cast<int>(std::ceil(-std::log10(step.count) - 1e-9)), 1, 6);
        return {v, fmt::format("{:0{}.{}f}", s, decimals + 3, decimals), true,
                fmt::format("{:02}:{:02}, {}", h, m, day)};
    }
    case Unit::Second:
        return {v, fmt::format("{:02}:{:02}:{:02.0f}", h, m, s), true, day};
    case Unit::Minute:
    case Unit::Hour:
        return {v, fmt::format("{:02}:{:02}", h, m), true, day};
    case Unit::Day:
        return {v, fmt::format("{}", static_cast<unsigned>(date.day())), true,
                fmt::format("{} {}", monthName(date.month()), year)};
    case Unit::Month:
        return {v, monthName(date.month()), true, fmt::format("{}", year)};
    default:
        return {v, fmt::format("{}", year), true, ""};
    }
}

} // namespace

std::vector<Tick> timeTicks(const Range& range, const TickWish& wish) {
    if (std::abs(range.low) > kFarthest || std::abs(range.high) > kFarthest) return {};
    const double wished = wish.every > 0 ? std::max(wish.every, (range.high - range.low) / kMostTicks)
                                         : (range.high - range.low) / std::max(wish.about, 2);
    const Step step = stepFor(wished);
    std::vector<Tick> ticks;
    std::string common;
    const std::vector<double> major = valuesOf(range, step);
    for (double v : major) {
        Tick tick = labelled(v, step);
        if (tick.below == common)
            tick.below.clear();
        else
            common = tick.below;
        ticks.push_back(std::move(tick));
    }
    if (wish.minor == 0 || ticks.empty()) return ticks;
    const Step within = withinOf(step);
    for (double v : valuesOf(range, within)) {
        const auto next = std::ranges::lower_bound(major, v - 1e-6 * within.seconds);
        if (next == major.end() || *next > v + 1e-6 * within.seconds) ticks.push_back({v, "", false});
    }
    std::ranges::stable_sort(ticks, {}, &Tick::value);
    return ticks;
}

} // namespace jointer::figure
