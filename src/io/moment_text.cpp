// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/moment_text.h"

#include "base/text.h"
#include "io/cell_text.h"

#include <array>
#include <cmath>
#include <date/date.h>

namespace jointer::io {

namespace {

constexpr std::array<std::string_view, 12> kMonths = {"january",   "february", "march",    "april",
                                                      "may",       "june",     "july",     "august",
                                                      "september", "october",  "november", "december"};
constexpr std::array<std::string_view, 7> kDays = {"monday", "tuesday",  "wednesday", "thursday",
                                                   "friday", "saturday", "sunday"};

// A whole number with the count of its digits.
struct Figure {
    int value = 0, digits = 0;
};

class Scanner {
public:
    Scanner(std::string_view text, DateOrder order) : t_(text), order_(order) {}

    std::optional<Moment> read() {
        skipWeekday();
        if (const std::size_t from = at_; readDate()) {
            if (done()) return Moment{midnight_, ColumnKind::Date, false, ordered_};
            if (here() == 'T' || here() == 't' || here() == '_' || here() == ',') ++at_;
            skipBlanks();
            if (readClock() && !negative_ && clock_ <= 86400 && readOffset() && done())
                return Moment{midnight_ + clock_ - offset_, ColumnKind::DateTime, utc_, ordered_};
            at_ = from;
        } else
            at_ = from;
        midnight_ = kNone;
        if (!readClock()) return std::nullopt;
        if (done()) {
            const bool beyond = clock_ >= 86400 || negative_;
            return Moment{negative_ ? -clock_ : clock_,
                          beyond ? ColumnKind::Duration : ColumnKind::TimeOfDay};
        }
        if (here() == ',') ++at_;
        skipBlanks();
        skipWeekday();
        if (clock_ >= 86400 || negative_ || !readDate() || !done()) return std::nullopt;
        return Moment{midnight_ + clock_, ColumnKind::DateTime, false, ordered_};
    }

private:
    bool done() {
        skipBlanks();
        return at_ >= t_.size();
    }
    char here() const { return at_ < t_.size() ? t_[at_] : '\0'; }
    void skipBlanks() {
        while (here() == ' ' || here() == '\t') ++at_;
    }
    bool isLetter() const { return (here() | 0x20) >= 'a' && (here() | 0x20) <= 'z'; }

    Figure figure() {
        Figure f;
        while (isDigit(here()) && f.digits < 9) {
            f.value = f.value * 10 + (t_[at_++] - '0');
            ++f.digits;
        }
        return f;
    }

    std::string word() {
        const std::size_t from = at_;
        while (isLetter()) ++at_;
        return lowerAscii(t_.substr(from, at_ - from));
    }

    template <std::size_t N>
    static int indexOf(const std::array<std::string_view, N>& names, const std::string& w) {
        if (w.size() < 3) return -1;
        for (std::size_t i = 0; i < N; ++i)
            if (names[i].starts_with(w) || (w == "sept" && i == 8)) return static_cast<int>(i);
        return -1;
    }

    void skipWeekday() {
        const std::size_t from = at_;
        if (indexOf(kDays, word()) < 0) {
            at_ = from;
            return;
        }
        if (here() == '.' || here() == ',') ++at_;
        if (here() == ',') ++at_;
        skipBlanks();
    }

    bool setDate(int year, int month, int day, int yearDigits) {
        if (yearDigits <= 2) year += year < 70 ? 2000 : 1900;
        if (year < 1 || yearDigits == 3 || yearDigits > 4) return false;
        const date::year_month_day ymd{date::year{year}, date::month{static_cast<unsigned>(month)},
                                       date::day{static_cast<unsigned>(day)}};
        if (!ymd.ok()) return false;
        midnight_ = static_cast<double>(date::sys_days(ymd).time_since_epoch().count()) * 86400.0;
        return true;
    }

    // What stands between the parts of a date; 0 where nothing that may.
    char mark() {
        const char m = here();
        if (m == '-' || m == '/' || m == '.' || m == ' ') {
            ++at_;
            if (m == '.') skipBlanks();
            return m;
        }
        return 0;
    }

    bool readDate() {
        if (isLetter()) return readMonthFirst();
        const Figure a = figure();
        if (a.digits == 8) return setDate(a.value / 10000, a.value / 100 % 100, a.value % 100, 4);
        if (a.digits == 0 || a.digits == 3 || a.digits > 4) return false;
        const std::size_t place = at_;
        char m = mark();
        if (m == '.' || m == '-' || m == ',') skipBlanks();
        if (isLetter()) return readNamedMonth(a);
        if (m == 0) {
            at_ = place;
            return false;
        }
        const Figure b = figure();
        if (a.digits == 4 && b.digits == 3 && m == '-') return readDayOfYear(a.value, b.value);
        if (b.digits == 0 || b.digits > 2 || mark() != m) return false;
        const Figure c = figure();
        if (c.digits == 0 || (c.digits > 2 && a.digits > 2)) return false;
        const bool longYear = a.digits == 4 || c.digits == 4;
        if (!longYear && (m == ' ' || (a.digits == 1 && c.digits == 1))) return false;
        if (c.digits == 1 && a.digits != 4 && order_ != DateOrder::YearMonthDay) return false;
        if (a.digits == 4) return c.digits <= 2 && setDate(a.value, b.value, c.value, 4);
        ordered_ = true;
        switch (order_) {
        case DateOrder::DayMonthYear:
            return setDate(c.value, b.value, a.value, c.digits);
        case DateOrder::MonthDayYear:
            return setDate(c.value, a.value, b.value, c.digits);
        default:
            return c.digits <= 2 && setDate(a.value, b.value, c.value, a.digits);
        }
    }

    bool readDayOfYear(int year, int day) {
        if (day < 1 || day > 366 || !setDate(year, 1, 1, 4)) return false;
        midnight_ += (day - 1) * 86400.0;
        return true;
    }

    // "2 May 2031", "2-May-31", "2031 May 2"
    bool readNamedMonth(const Figure& a) {
        const int month = indexOf(kMonths, word());
        if (month < 0) return false;
        if (here() == '.') ++at_;
        if (here() == ',') ++at_;
        if (mark() != ' ') skipBlanks();
        skipBlanks();
        const Figure c = figure();
        if (c.digits == 0) return false;
        return a.digits == 4 ? c.digits <= 2 && setDate(a.value, month + 1, c.value, 4)
                             : setDate(c.value, month + 1, a.value, c.digits);
    }

    // "May 2, 2031"
    bool readMonthFirst() {
        const int month = indexOf(kMonths, word());
        if (month < 0) return false;
        if (here() == '.') ++at_;
        if (mark() != ' ') skipBlanks();
        const Figure day = figure();
        if (day.digits == 0 || day.digits > 2) return false;
        if (here() == ',') ++at_;
        if (mark() != ' ') skipBlanks();
        const Figure year = figure();
        return year.digits >= 2 && setDate(year.value, month + 1, day.value, year.digits);
    }

    bool readClock() {
        negative_ = here() == '-';
        if (negative_) ++at_;
        double days = 0;
        Figure hour = figure();
        if (hour.digits == 0) return false;
        if (here() == 'd' || (here() == ' ' && t_.substr(at_).starts_with(" d"))) {
            skipBlanks();
            const std::string w = word();
            if (w != "d" && w != "day" && w != "days") return false;
            days = hour.value;
            if (here() == ',') ++at_;
            skipBlanks();
            if (at_ >= t_.size()) return setClock(days * 86400);
            hour = figure();
        } else if (here() == '.' && !negative_ && isDayPrefix()) { // "1.02:03:04"
            days = hour.value;
            ++at_;
            hour = figure();
        }
        if (here() != ':' || hour.digits > 5) return compactClock(hour);
        ++at_;
        const Figure minute = figure();
        if (minute.digits != 2 || minute.value > 59) return false;
        double seconds = days * 86400 + hour.value * 3600.0 + minute.value * 60.0;
        if (here() == ':') {
            ++at_;
            const Figure second = figure();
            if (second.digits != 2 || second.value > 60) return false;
            seconds += second.value + fraction();
        }
        return takeHalf(hour.value, seconds) && setClock(seconds);
    }

    // "1.02:03": a number of days before a clock
    bool isDayPrefix() const {
        return at_ + 3 < t_.size() && isDigit(t_[at_ + 1]) && isDigit(t_[at_ + 2]) && t_[at_ + 3] == ':';
    }

    bool setClock(double seconds) {
        clock_ = seconds;
        return true;
    }

    // "060000" and "0600" stand only behind a date.
    bool compactClock(const Figure& f) {
        if (midnight_ == kNone || (f.digits != 6 && f.digits != 4)) return false;
        const int value = f.digits == 6 ? f.value : f.value * 100;
        const int h = value / 10000, m = value / 100 % 100, s = value % 100;
        if (h > 24 || m > 59 || s > 60) return false;
        return setClock(h * 3600.0 + m * 60.0 + s + (f.digits == 6 ? fraction() : 0));
    }

    double fraction() {
        if (here() != '.' && here() != ',') return 0;
        if (at_ + 1 >= t_.size() || !isDigit(t_[at_ + 1])) return 0;
        ++at_;
        double value = 0, scale = 1;
        for (; isDigit(here()); ++at_) {
            if (scale >= 1e15) continue;
            value = value * 10 + (here() - '0');
            scale *= 10;
        }
        return value / scale;
    }

    bool takeHalf(int hour, double& seconds) {
        const std::size_t from = at_;
        skipBlanks();
        std::string half;
        while (isLetter() || (here() == '.' && !half.empty())) {
            if (here() != '.') half += static_cast<char>(here() | 0x20);
            ++at_;
        }
        if (half != "am" && half != "pm") {
            at_ = from;
            return true;
        }
        if (hour < 1 || hour > 12) return false;
        if (half == "pm" && hour != 12) seconds += 12 * 3600.0;
        if (half == "am" && hour == 12) seconds -= 12 * 3600.0;
        return true;
    }

    bool readOffset() {
        skipBlanks();
        if (at_ >= t_.size()) return true;
        const std::string_view rest = t_.substr(at_);
        if (rest == "Z" || rest == "z" || rest == "UTC" || rest == "GMT") {
            at_ = t_.size();
            utc_ = true;
            return true;
        }
        if (here() != '+' && here() != '-') return true; // done() finds what is left
        const double sign = here() == '-' ? -1 : 1;
        ++at_;
        Figure hours = figure();
        int minutes = 0;
        if (hours.digits == 4) {
            minutes = hours.value % 100;
            hours.value /= 100;
        } else if (here() == ':') {
            ++at_;
            const Figure m = figure();
            if (m.digits != 2) return false;
            minutes = m.value;
        }
        if (hours.digits == 0 || hours.value > 14 || minutes > 59) return false;
        offset_ = sign * (hours.value * 3600.0 + minutes * 60.0);
        utc_ = true;
        return true;
    }

    static constexpr double kNone = 1e300;
    std::string_view t_;
    DateOrder order_;
    std::size_t at_ = 0;
    double midnight_ = kNone, clock_ = 0, offset_ = 0;
    bool utc_ = false, ordered_ = false, negative_ = false;
};

// "PT1H30M", "P1DT2H3.5S"
std::optional<Moment> isoDuration(std::string_view t) {
    double total = 0;
    bool time = false, any = false;
    for (std::size_t at = 1; at < t.size();) {
        if (t[at] == 'T') {
            time = true;
            ++at;
            continue;
        }
        double value;
        const char* end = readNumber(t.data() + at, t.data() + t.size(), '.', value);
        if (!end || end == t.data() + t.size()) return std::nullopt;
        const double unit = *end == 'W'           ? 604800
                            : *end == 'D'         ? 86400
                            : *end == 'H' && time ? 3600
                            : *end == 'M' && time ? 60
                            : *end == 'S' && time ? 1
                                                  : 0;
        if (unit == 0) return std::nullopt;
        total += value * unit;
        any = true;
        at = static_cast<std::size_t>(end - t.data()) + 1;
    }
    return any ? std::optional(Moment{total, ColumnKind::Duration}) : std::nullopt;
}

} // namespace

std::optional<Moment> momentOf(std::string_view text, DateOrder order) {
    const std::string_view t = trimmed(text);
    if (t.size() < 4 || t.size() > 48) return std::nullopt;
    if (t[0] == 'P' && (isDigit(t[1]) || t[1] == 'T')) return isoDuration(t);
    if (t.find_first_of("0123456789") == std::string_view::npos) return std::nullopt;
    return Scanner(t, order).read();
}

std::optional<Moment> isoMoment(std::string_view text) {
    const std::string_view t = trimmed(text);
    const bool clock = t.size() >= 5 && t[2] == ':';
    const bool date = t.size() >= 10 && t[4] == '-' && t[7] == '-';
    if (!clock && !date) return std::nullopt;
    return momentOf(t, DateOrder::YearMonthDay);
}

std::optional<OrderEvidence> orderEvidence(std::string_view text) {
    std::string_view t = trimmed(text);
    // A clock before the date is passed over.
    if (const std::size_t colon = t.find(':'); colon != t.npos && colon <= 2) {
        const std::size_t blank = t.find(' ', colon);
        if (blank == t.npos) return std::nullopt;
        t = trimmed(t.substr(blank));
    }
    std::array<int, 3> figure{};
    std::array<std::size_t, 3> digits{};
    char mark = 0;
    for (std::size_t k = 0, at = 0; k < 3; ++k) {
        while (at < t.size() && isDigit(t[at]) && digits[k] < 5) {
            figure[k] = figure[k] * 10 + (t[at++] - '0');
            ++digits[k];
        }
        if (digits[k] == 0) return std::nullopt;
        if (k == 2) break;
        const char m = at < t.size() ? t[at++] : '\0';
        if ((m != '/' && m != '-' && m != '.' && m != ' ') || (mark && m != mark)) return std::nullopt;
        mark = m;
    }
    if (digits[0] == 4) return std::nullopt; // year first: nothing open
    OrderEvidence e{.mark = mark};
    e.dayMonth = figure[0] >= 1 && figure[0] <= 31 && figure[1] >= 1 && figure[1] <= 12;
    e.monthDay = figure[0] >= 1 && figure[0] <= 12 && figure[1] >= 1 && figure[1] <= 31;
    e.yearFirst = digits[2] <= 2 && figure[1] >= 1 && figure[1] <= 12 && figure[2] >= 1 && figure[2] <= 31;
    return e;
}

bool looksLikeMoment(std::string_view text) {
    const std::string_view t = trimmed(text);
    if (t.size() < 4 || t.size() > 48) return false;
    if (t.find_first_of(":/-. ") == std::string_view::npos) return false;
    const char first = static_cast<char>(t[0] | 0x20);
    const bool letter = first >= 'a' && first <= 'z';
    if (!isDigit(t[0]) && !letter && t[0] != '-') return false;
    return momentOf(t, DateOrder::DayMonthYear) || momentOf(t, DateOrder::MonthDayYear);
}

} // namespace jointer::io
