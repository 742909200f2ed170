// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/cell_text.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <date/date.h>
#include <fast_float/fast_float.h>

namespace jointer::io {

namespace {

// Fixed-width digits; -1 where they are not there.
int digitsAt(std::string_view t, std::size_t at, std::size_t count) {
    if (at + count > t.size()) return -1;
    int value = 0;
    for (std::size_t i = 0; i < count; ++i) {
        if (!isDigit(t[at + i])) return -1;
        value = value * 10 + (t[at + i] - '0');
    }
    return value;
}

// "06:00", "06:00:12.5" from `at` on; moves `at` behind it.
std::optional<double> clockAt(std::string_view t, std::size_t& at) {
    const int hour = digitsAt(t, at, 2), minute = digitsAt(t, at + 3, 2);
    if (hour < 0 || hour > 24 || minute < 0 || minute > 59 || t[at + 2] != ':') return std::nullopt;
    at += 5;
    double seconds = hour * 3600.0 + minute * 60.0;
    if (at >= t.size() || t[at] != ':') return seconds;
    const int second = digitsAt(t, at + 1, 2);
    if (second < 0 || second > 60) return std::nullopt;
    at += 3;
    seconds += second;
    if (at < t.size() && (t[at] == '.' || t[at] == ',')) {
        double scale = 0.1;
        for (++at; at < t.size() && isDigit(t[at]); ++at, scale /= 10) seconds += scale * (t[at] - '0');
    }
    return seconds;
}

// "Z", "+02:00", "-0530": seconds east of UTC.
std::optional<double> offsetAt(std::string_view t, std::size_t at) {
    if (t.substr(at) == "Z") return 0;
    if (at >= t.size() || (t[at] != '+' && t[at] != '-')) return std::nullopt;
    const double sign = t[at] == '-' ? -1 : 1;
    const int hours = digitsAt(t, at + 1, 2);
    const std::size_t minutesAt = at + 3 < t.size() && t[at + 3] == ':' ? at + 4 : at + 3;
    const int minutes = minutesAt == t.size() ? 0 : digitsAt(t, minutesAt, 2);
    if (hours < 0 || hours > 14 || minutes < 0 || (minutesAt < t.size() && minutesAt + 2 != t.size()))
        return std::nullopt;
    return sign * (hours * 3600.0 + minutes * 60.0);
}

} // namespace

const char* readNumberSlowly(const char* at, const char* end, char decimal, double& value) {
    const char* from = at < end && *at == '+' ? at + 1 : at;
    if (decimal == '.') {
        const auto [stop, error] = fast_float::from_chars(from, end, value);
        const bool dExponent = error == std::errc{} && stop < end && (*stop == 'd' || *stop == 'D');
        // Beyond the largest number there is no value, not infinity.
        if (!dExponent) return error == std::errc{} && std::isfinite(value) ? stop : nullptr;
    }
    char buffer[128];
    std::size_t used = 0;
    for (const char* p = from; p < end && used < sizeof buffer; ++p, ++used) {
        const bool sign = (*p == '+' || *p == '-') && (used == 0 || buffer[used - 1] == 'e');
        if (isDigit(*p) || sign)
            buffer[used] = *p;
        else if (*p == decimal)
            buffer[used] = '.';
        else if ((*p | 0x20) == 'e' || (*p | 0x20) == 'd')
            buffer[used] = 'e';
        else
            break;
    }
    const auto [stop, error] = fast_float::from_chars(buffer, buffer + used, value);
    return error == std::errc{} && std::isfinite(value) ? from + (stop - buffer) : nullptr;
}

std::optional<double> numberOf(std::string_view text, char decimal) {
    text = trimmed(text);
    std::string plain;
    if (text.starts_with("−")) text = plain = "-" + std::string(text.substr(3));
    double value = 0;
    const char* end = text.data() + text.size();
    return readNumber(text.data(), end, decimal, value) == end && !text.empty() ? std::optional(value)
                                                                                : std::nullopt;
}

bool isMissing(std::string_view text, const std::vector<std::string>& markers) {
    static constexpr std::string_view usual[] = {"",  "na", "n/a", "nan", "null", "none", "-",  "--",
                                                 "–", "—",  ".",   "?",   "#n/a", "n.a.", "nd", "n.d."};
    const std::string_view t = trimmed(text);
    if (t.size() <= 5) {
        const std::string lower = lowerAscii(t);
        if (std::ranges::find(usual, lower) != std::end(usual)) return true;
    }
    return std::ranges::any_of(markers, [&](const std::string& m) { return t == trimmed(m); });
}

std::optional<Limit> limitOf(std::string_view text, char decimal) {
    const std::string_view t = trimmed(text);
    if (t.empty() || (t[0] != '<' && t[0] != '>')) return std::nullopt;
    const std::string_view rest = t.substr(t.size() > 1 && t[1] == '=' ? 2 : 1);
    const auto value = numberOf(rest, decimal);
    if (!value) return std::nullopt;
    return Limit{*value, t[0] == '<' ? CellState::Below : CellState::Above};
}

std::optional<Moment> isoMoment(std::string_view text) {
    const std::string_view t = trimmed(text);
    std::size_t at = 0;
    if (t.size() >= 5 && t[2] == ':') {
        const auto clock = clockAt(t, at);
        return clock && at == t.size() ? std::optional(Moment{*clock, ColumnKind::TimeOfDay}) : std::nullopt;
    }
    const int year = digitsAt(t, 0, 4), month = digitsAt(t, 5, 2), day = digitsAt(t, 8, 2);
    if (year < 0 || month < 0 || day < 0 || t[4] != '-' || t[7] != '-') return std::nullopt;
    const date::year_month_day ymd{date::year{year}, date::month{static_cast<unsigned>(month)},
                                   date::day{static_cast<unsigned>(day)}};
    if (!ymd.ok()) return std::nullopt;
    const double midnight = static_cast<double>(date::sys_days(ymd).time_since_epoch().count()) * 86400.0;
    if (t.size() == 10) return Moment{midnight, ColumnKind::Date};
    at = 11;
    if (t[10] != 'T' && t[10] != ' ') return std::nullopt;
    const auto clock = clockAt(t, at);
    if (!clock) return std::nullopt;
    if (at == t.size()) return Moment{midnight + *clock, ColumnKind::DateTime};
    const auto offset = offsetAt(t, at);
    return offset ? std::optional(Moment{midnight + *clock - *offset, ColumnKind::DateTime}) : std::nullopt;
}

} // namespace jointer::io
