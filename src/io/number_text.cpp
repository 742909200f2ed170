// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/number_text.h"

#include "base/text.h"
#include "io/cell_text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <string>

namespace jointer::io {

namespace {

struct Sign {
    std::string_view text, plain;
};
constexpr std::array<Sign, 4> kMinus = {{{"−", "-"}, {"–", "-"}, {"﹣", "-"}, {"－", "-"}}};
constexpr std::array<std::string_view, 4> kThinBlanks = {"\u00A0", "\u2009", "\u202F", "\u2007"};
constexpr std::array<std::string_view, 11> kRaised = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹", "⁻"};
constexpr std::string_view kRaisedPlain = "0123456789-";

// Runs through the text and writes the number as plain ASCII.
class Plain {
public:
    Plain(std::string_view text, char decimal) : t_(text), decimal_(decimal) {}

    bool read() {
        takeSign();
        if (!takeWhole()) return false;
        takeExponent();
        return true;
    }
    std::string_view rest() const { return t_.substr(at_); }
    const std::string& text() const { return out_; }
    bool grouped() const { return groups_ > 0; }
    bool whole() const { return whole_; }

private:
    bool here(std::string_view wanted) const { return t_.substr(at_).starts_with(wanted); }
    bool digitAt(std::size_t at) const { return at < t_.size() && isDigit(t_[at]); }

    void takeSign() {
        if (at_ < t_.size() && (t_[at_] == '+' || t_[at_] == '-')) {
            if (t_[at_] == '-') out_ += '-';
            ++at_;
            return;
        }
        for (const Sign& s : kMinus)
            if (here(s.text)) {
                out_ += s.plain;
                at_ += s.text.size();
                return;
            }
    }

    std::size_t digits() {
        const std::size_t from = at_;
        while (digitAt(at_)) out_ += t_[at_++];
        return at_ - from;
    }

    // The length of a mark between groups at the place; 0 where there is none.
    std::size_t groupMark() const {
        if (at_ >= t_.size()) return 0;
        const char other = decimal_ == '.' ? ',' : '.';
        std::size_t length = t_[at_] == other || t_[at_] == ' ' || t_[at_] == '\'' ? 1 : 0;
        for (std::string_view thin : kThinBlanks)
            if (here(thin)) length = thin.size();
        if (here("’")) length = 3;
        const std::size_t after = at_ + length;
        const bool three =
            length > 0 && digitAt(after) && digitAt(after + 1) && digitAt(after + 2) && !digitAt(after + 3);
        return three ? length : 0;
    }

    bool takeWhole() {
        std::size_t count = digits();
        std::string_view mark;
        while (count >= 1 && count <= 3) {
            const std::size_t length = groupMark();
            if (length == 0 || (groups_ > 0 && t_.substr(at_, length) != mark)) break;
            mark = t_.substr(at_, length);
            at_ += length;
            ++groups_;
            count = digits();
        }
        if (at_ < t_.size() && t_[at_] == decimal_) {
            const std::size_t place = at_++;
            out_ += '.';
            const std::size_t fraction = digits();
            whole_ = false;
            if (count + fraction == 0 && groups_ == 0) {
                at_ = place;
                return false;
            }
            count += fraction;
        }
        return count > 0;
    }

    void takeExponent() {
        static constexpr std::array<std::string_view, 6> tens = {"×10", "x10", "·10", "*10", "× 10", "x 10"};
        std::size_t at = at_;
        while (at < t_.size() && t_[at] == ' ') ++at;
        for (std::string_view ten : tens)
            if (t_.substr(at).starts_with(ten)) return takePower(at + ten.size());
        if (at_ < t_.size() && ((t_[at_] | 0x20) == 'e' || (t_[at_] | 0x20) == 'd'))
            takeDigitsAsExponent(at_ + 1, 1);
        else if (!whole_ && at_ + 4 <= t_.size() && (t_[at_] == '+' || t_[at_] == '-') && digitAt(at_ + 1) &&
                 digitAt(at_ + 2) && digitAt(at_ + 3) && !digitAt(at_ + 4))
            takeDigitsAsExponent(at_, 3); // "0.3750-102": the E had no room
    }

    void takeDigitsAsExponent(std::size_t at, std::size_t least) {
        std::string exponent = "e";
        for (const Sign& s : kMinus)
            if (t_.substr(at).starts_with(s.text)) {
                exponent += '-';
                at += s.text.size();
            }
        if (at < t_.size() && (t_[at] == '+' || t_[at] == '-')) exponent += t_[at++];
        const std::size_t from = at;
        while (digitAt(at)) exponent += t_[at++];
        if (at - from < least) return;
        out_ += exponent;
        at_ = at;
        whole_ = false;
    }

    void takePower(std::size_t at) {
        if (at < t_.size() && t_[at] == '^') ++at;
        std::string exponent = "e";
        bool any = false;
        for (;;) {
            const auto raised = std::ranges::find_if(
                kRaised, [&](std::string_view r) { return t_.substr(at).starts_with(r); });
            if (raised != kRaised.end()) {
                exponent += kRaisedPlain[static_cast<std::size_t>(raised - kRaised.begin())];
                at += raised->size();
            } else if (t_.substr(at).starts_with("−")) {
                exponent += '-';
                at += 3;
                continue;
            } else if (digitAt(at) || (!any && at < t_.size() && (t_[at] == '-' || t_[at] == '+')))
                exponent += t_[at++];
            else
                break;
            any = true;
        }
        if (!any || !isDigit(exponent.back())) return;
        out_ += exponent;
        at_ = at;
        whole_ = false;
    }

    std::string_view t_;
    char decimal_;
    std::size_t at_ = 0;
    std::string out_;
    int groups_ = 0;
    bool whole_ = true;
};

bool isSuffix(std::string_view s) {
    if (s.size() > 16) return false;
    const auto first = static_cast<unsigned char>(s.front());
    const bool starts = (first | 0x20) >= 'a' && (first | 0x20) <= 'z';
    if (!starts && first < 0x80 && s != "%" && s != "\"" && s != "'") return false;
    // Letters may go on with powers and quotients: "mg/L", "m s-1".
    return std::ranges::none_of(s, [](char c) {
        return c == ',' || c == ';' || c == ':' || c == '|' || c == '_' || c == '=' || c == '?' || c == '!';
    });
}

// "inf", "-Infinity", "+∞", "1.#INF": as programs write them.
std::optional<double> infinity(std::string_view text) {
    const bool negative = text.starts_with('-') || text.starts_with("−");
    if (negative) text.remove_prefix(text[0] == '-' ? 1 : std::string_view("−").size());
    if (text.starts_with('+')) text.remove_prefix(1);
    if (text.size() < 3 || text.size() > 8) return std::nullopt;
    const std::string lower = lowerAscii(text);
    if (lower != "inf" && lower != "infinity" && lower != "∞" && lower != "1.#inf") return std::nullopt;
    return negative ? -INFINITY : INFINITY;
}

// Whether the digits stand for exactly this whole number.
bool isExact(std::string_view digits, double value) {
    if (std::abs(value) < 9007199254740992.0) return true;
    char buffer[400];
    const int length = std::snprintf(buffer, sizeof buffer, "%.0f", value);
    return std::string_view(buffer, static_cast<std::size_t>(length)) == digits;
}

} // namespace

std::optional<NumberReading> readRichNumber(std::string_view text, char decimal) {
    text = trimmed(text);
    if (const auto infinite = infinity(text)) return NumberReading{.value = *infinite};
    for (std::string_view thin : kThinBlanks)
        while (text.ends_with(thin)) text.remove_suffix(thin.size());
    if (text.empty() || text.size() > 64) return std::nullopt;
    Plain plain(text, decimal);
    if (!plain.read()) return std::nullopt;
    NumberReading r{.grouped = plain.grouped()};
    const std::string& digits = plain.text();
    if (readNumber(digits.data(), digits.data() + digits.size(), '.', r.value) !=
        digits.data() + digits.size())
        return std::nullopt;
    std::string_view rest = plain.rest();
    for (std::string_view thin : kThinBlanks)
        if (rest.starts_with(thin)) rest.remove_prefix(thin.size());
    r.suffix = trimmed(rest);
    if (!r.suffix.empty() && !isSuffix(r.suffix)) return std::nullopt;
    r.rounded = plain.whole() && !isExact(digits, r.value);
    return r;
}

bool hasLeadingZero(std::string_view text) {
    return text.size() > 1 && text[0] == '0' && std::ranges::all_of(text, isDigit);
}

bool isOverflowWord(std::string_view text) {
    static constexpr std::array<std::string_view, 12> words = {
        "over", "overflow", "ovrflw", "ovfl",  "ovf",        "o.l",
        "o.l.", "ol",       "+over",  "-over", "over range", "overrange"};
    const std::string_view t = trimmed(text);
    if (t.size() >= 2 && (t.find_first_not_of('#') == t.npos || t.find_first_not_of('*') == t.npos ||
                          t.find_first_not_of('>') == t.npos))
        return true;
    return std::ranges::find(words, lowerAscii(t)) != words.end();
}

bool isSheetError(std::string_view text) {
    static constexpr std::array<std::string_view, 9> errors = {
        "#div/0!", "#value!", "#ref!", "#num!", "#name?", "#null!", "#getting_data", "#spill!", "#calc!"};
    return std::ranges::find(errors, lowerAscii(trimmed(text))) != errors.end();
}

} // namespace jointer::io
