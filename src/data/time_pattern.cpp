// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/time_pattern.h"

#include "base/text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <date/date.h>
#include <fmt/format.h>
#include <vector>

namespace jointer {

namespace {

constexpr std::array<std::string_view, 12> kMonths = {"Jan", "Feb", "Mar", "Apr", "May", "Jun",
                                                      "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"};
constexpr double kDay = 86400;

enum class Part { Literal, Year, ShortYear, MonthName, Month, Day, Hour, Minute, Second, Fraction, HalfDay };

struct Piece {
    Part part;
    std::size_t width = 0; // letters; of literals their text
    std::string literal{};
};

std::vector<Piece> piecesOf(std::string_view pattern) {
    std::vector<Piece> pieces;
    for (std::size_t i = 0; i < pattern.size();) {
        std::size_t run = 1;
        while (i + run < pattern.size() && pattern[i + run] == pattern[i]) ++run;
        auto part = Part::Literal;
        switch (pattern[i]) {
        case 'Y':
            part = run >= 4 ? Part::Year : Part::ShortYear;
            break;
        case 'M':
            part = run >= 3 ? Part::MonthName : Part::Month;
            break;
        case 'D':
            part = Part::Day;
            break;
        case 'h':
            part = Part::Hour;
            break;
        case 'm':
            part = Part::Minute;
            break;
        case 's':
            part = Part::Second;
            break;
        case 'f':
            part = Part::Fraction;
            break;
        case 'A':
            if (pattern.substr(i).starts_with("AM")) part = Part::HalfDay, run = 2;
            break;
        default:
            break;
        }
        if (part == Part::Literal && !pieces.empty() && pieces.back().part == Part::Literal)
            pieces.back().literal += pattern.substr(i, run);
        else
            pieces.push_back({part, run, part == Part::Literal ? std::string(pattern.substr(i, run)) : ""});
        i += run;
    }
    return pieces;
}

bool shows(const std::vector<Piece>& pieces, std::initializer_list<Part> parts) {
    return std::ranges::any_of(
        pieces, [&](const Piece& p) { return std::ranges::find(parts, p.part) != parts.end(); });
}

bool showsDate(const std::vector<Piece>& pieces) {
    return shows(pieces, {Part::Year, Part::ShortYear, Part::MonthName, Part::Month, Part::Day});
}

std::string figures(long long value, std::size_t width) {
    return fmt::format("{:0{}}", value, width);
}

// A whole number of at most `most` digits at the front of the text, which is taken away.
std::optional<long long> takeFigures(std::string_view& text, std::size_t most) {
    std::size_t n = 0;
    while (n < std::min(most, text.size()) && std::isdigit(static_cast<unsigned char>(text[n]))) ++n;
    if (n == 0) return std::nullopt;
    long long value = 0;
    for (char c : text.substr(0, n)) value = value * 10 + (c - '0');
    text.remove_prefix(n);
    return value;
}

// What a text says, part by part.
struct Told {
    long long year = 1970, month = 1, day = 1, hour = 0, minute = 0, second = 0;
    double fraction = 0;
    bool halfDay = false, afternoon = false, negative = false;
};

bool take(const Piece& piece, std::string_view& text, bool date, Told& told) {
    auto number = [&](long long& into, std::size_t most) {
        const auto value = takeFigures(text, most);
        if (value) into = *value;
        return value.has_value();
    };
    switch (piece.part) {
    case Part::Literal:
        if (!text.starts_with(piece.literal)) return false;
        text.remove_prefix(piece.literal.size());
        return true;
    case Part::Year:
        return number(told.year, 4);
    case Part::ShortYear:
        if (!number(told.year, 2)) return false;
        told.year += told.year < 70 ? 2000 : 1900;
        return true;
    case Part::MonthName:
        for (std::size_t m = 0; m < kMonths.size(); ++m)
            if (lowerAscii(text.substr(0, 3)) == lowerAscii(kMonths[m])) {
                told.month = static_cast<long long>(m) + 1;
                text.remove_prefix(3);
                return true;
            }
        return false;
    case Part::Month:
        return number(told.month, 2);
    case Part::Day:
        return number(told.day, 2);
    case Part::Hour:
        return number(told.hour, date ? 2 : 9);
    case Part::Minute:
        return number(told.minute, 2);
    case Part::Second:
        return number(told.second, 2);
    case Part::Fraction: {
        const std::size_t before = text.size();
        long long digits = 0;
        if (!number(digits, 9)) return false;
        told.fraction =
            static_cast<double>(digits) / std::pow(10.0, static_cast<double>(before - text.size()));
        return true;
    }
    case Part::HalfDay: {
        const std::string word = lowerAscii(text.substr(0, 2));
        if (word != "am" && word != "pm") return false;
        told.halfDay = true;
        told.afternoon = word == "pm";
        text.remove_prefix(2);
        return true;
    }
    }
    return false;
}

std::optional<double> secondsOf(const Told& t, bool date) {
    long long hour = t.hour;
    if (t.halfDay) {
        if (hour < 1 || hour > 12) return std::nullopt;
        hour = hour % 12 + (t.afternoon ? 12 : 0);
    }
    if (t.minute > 59 || t.second > 59 || (date && hour > 23)) return std::nullopt;
    const double clock = static_cast<double>(hour * 3600 + t.minute * 60 + t.second) + t.fraction;
    if (!date) return t.negative ? -clock : clock;
    const date::year_month_day day{date::year(static_cast<int>(t.year)),
                                   date::month(static_cast<unsigned>(t.month)),
                                   date::day(static_cast<unsigned>(t.day))};
    if (!day.ok()) return std::nullopt;
    return static_cast<double>(date::sys_days(day).time_since_epoch().count()) * kDay + clock;
}

// A time taken apart for writing.
struct Split {
    date::year_month_day day;
    long long clock = 0;    // seconds of the day; of a duration: all
    long long fraction = 0; // in units of the last decimal
    std::size_t decimals = 0;
    bool halfDays = false; // hours from 1 to 12
};

Split splitTime(double seconds, const std::vector<Piece>& pieces, bool moment) {
    Split t;
    t.halfDays = shows(pieces, {Part::HalfDay});
    for (const Piece& p : pieces)
        if (p.part == Part::Fraction) t.decimals = std::min<std::size_t>(p.width, 9);
    const double unit = std::pow(10.0, static_cast<double>(t.decimals));
    // Where no decimals are shown the time is cut, but never for an error of rounding.
    const double ticks = t.decimals > 0 ? std::round(seconds * unit) : std::floor(seconds * unit + 1e-6);
    const double whole = std::floor(ticks / unit);
    t.fraction = static_cast<long long>(ticks - whole * unit);
    const double dayStart = moment ? std::floor(whole / kDay) : 0;
    t.clock = static_cast<long long>(whole - dayStart * kDay);
    t.day = date::year_month_day(date::sys_days(date::days(static_cast<int>(dayStart))));
    return t;
}

std::string written(const Piece& p, const Split& t) {
    const long long hours = t.clock / 3600;
    switch (p.part) {
    case Part::Literal:
        return std::string(p.literal);
    case Part::Year:
        return figures(static_cast<int>(t.day.year()), 4);
    case Part::ShortYear:
        return figures(static_cast<int>(t.day.year()) % 100, 2);
    case Part::MonthName:
        return std::string(kMonths[static_cast<unsigned>(t.day.month()) - 1]);
    case Part::Month:
        return figures(static_cast<unsigned>(t.day.month()), p.width);
    case Part::Day:
        return figures(static_cast<unsigned>(t.day.day()), p.width);
    case Part::Hour:
        return figures(t.halfDays ? (hours + 11) % 12 + 1 : hours, p.width);
    case Part::Minute:
        return figures(t.clock / 60 % 60, p.width);
    case Part::Second:
        return figures(t.clock % 60, p.width);
    case Part::Fraction:
        return figures(t.fraction, t.decimals);
    case Part::HalfDay:
        return hours % 24 < 12 ? "AM" : "PM";
    }
    return {};
}

} // namespace

std::string timeText(double seconds, std::string_view pattern, TimeMeaning meaning) {
    if (!(std::abs(seconds) < 9e11)) return shortestNumber(seconds) + " s";
    const bool moment = meaning == TimeMeaning::Moment, negative = !moment && seconds < 0;
    const auto pieces = piecesOf(pattern);
    const Split t = splitTime(negative ? -seconds : seconds, pieces, moment);
    std::string out = negative ? "−" : "";
    for (const Piece& p : pieces) out += written(p, t);
    return out;
}

std::optional<double> timeFromText(std::string_view text, std::string_view pattern) {
    const auto pieces = piecesOf(pattern);
    const bool date = showsDate(pieces);
    Told told;
    std::string_view rest = trimmed(text);
    for (std::string_view sign : {"−", "-"})
        if (!date && rest.starts_with(sign)) {
            rest.remove_prefix(sign.size());
            told.negative = true;
        }
    for (const Piece& p : pieces)
        if (!take(p, rest, date, told)) return std::nullopt;
    if (!rest.empty()) return std::nullopt;
    return secondsOf(told, date);
}

} // namespace jointer
