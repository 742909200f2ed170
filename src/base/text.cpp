// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/text.h"

#include <algorithm>
#include <charconv>
#include <chrono>
#include <cmath>
#include <cstring>
#include <fast_float/fast_float.h>
#include <fmt/format.h>

namespace jointer {

namespace {

constexpr std::string_view kThinSpace = "\u2009", kMinus = "\u2212";

bool isBlank(char c) {
    return c == ' ' || c == '\t' || c == '\r' || c == '\n' || c == '\v' || c == '\f';
}

std::string superscript(int exponent) {
    static constexpr std::string_view digits[] = {"⁰", "¹", "²", "³", "⁴", "⁵", "⁶", "⁷", "⁸", "⁹"};
    std::string out = exponent < 0 ? "⁻" : "";
    for (char c : std::to_string(std::abs(exponent))) out += digits[c - '0'];
    return out;
}

// Groups the whole part of plain decimal digits by thin spaces when it has five digits or more; what is rounded to nothing
// has no sign.
std::string grouped(const std::string& plain) {
    const std::string body = plain.starts_with('-') ? plain.substr(1) : plain;
    const bool negative = body.size() < plain.size() && body.find_first_of("123456789") != std::string::npos;
    const std::size_t whole = std::min(body.find('.'), body.size());
    std::string out = negative ? std::string(kMinus) : "";
    for (std::size_t i = 0; i < body.size(); ++i) {
        if (whole >= 5 && i > 0 && i < whole && (whole - i) % 3 == 0) out += kThinSpace;
        out += body[i];
    }
    return out;
}

int decimalExponent(double value) {
    return value == 0 ? 0 : static_cast<int>(std::floor(std::log10(std::abs(value))));
}

std::string withoutTrailingZeros(std::string text) {
    if (text.find('.') == std::string::npos) return text;
    text.erase(text.find_last_not_of('0') + 1);
    if (text.ends_with('.')) text.pop_back();
    return text;
}

std::string notFinite(double value) {
    return std::isnan(value) ? "–" : value > 0 ? "∞" : "−∞";
}

} // namespace

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && isBlank(text.front())) text.remove_prefix(1);
    while (!text.empty() && isBlank(text.back())) text.remove_suffix(1);
    return text;
}

std::vector<std::string_view> split(std::string_view text, char separator) {
    std::vector<std::string_view> parts;
    for (std::size_t from = 0;;) {
        const std::size_t at = text.find(separator, from);
        parts.push_back(text.substr(from, at == std::string_view::npos ? at : at - from));
        if (at == std::string_view::npos) return parts;
        from = at + 1;
    }
}

std::string joined(const std::vector<std::string>& parts, std::string_view between) {
    return fmt::format("{}", fmt::join(parts, between));
}

std::string lowerAscii(std::string_view text) {
    std::string out(text);
    for (char& c : out)
        if (c >= 'A' && c <= 'Z') c = static_cast<char>(c - 'A' + 'a');
    return out;
}

bool startsWithNoCase(std::string_view text, std::string_view prefix) {
    return text.size() >= prefix.size() && lowerAscii(text.substr(0, prefix.size())) == lowerAscii(prefix);
}

std::u32string decodeUtf8(std::string_view text) {
    std::u32string out;
    out.reserve(text.size());
    for (std::size_t i = 0; i < text.size();) {
        const auto lead = static_cast<unsigned char>(text[i]);
        const int extra = lead < 0x80                   ? 0
                          : lead >= 0xC2 && lead < 0xE0 ? 1
                          : lead >= 0xE0 && lead < 0xF0 ? 2
                          : lead >= 0xF0 && lead < 0xF5 ? 3
                                                        : -1;
        char32_t code = extra == 0 ? lead : extra == 1 ? lead & 0x1F : extra == 2 ? lead & 0x0F : lead & 0x07;
        bool good = extra >= 0 && i + static_cast<std::size_t>(extra) < text.size();
        for (int k = 1; good && k <= extra; ++k) {
            const auto next = static_cast<unsigned char>(text[i + static_cast<std::size_t>(k)]);
            good = (next & 0xC0) == 0x80;
            code = (code << 6) | (next & 0x3F);
        }
        const bool overlong =
            (extra == 2 && code < 0x800) || (extra == 3 && (code < 0x10000 || code > 0x10FFFF));
        if (!good || overlong || (code >= 0xD800 && code < 0xE000)) {
            out.push_back(U'\uFFFD');
            ++i;
        } else {
            out.push_back(code);
            i += static_cast<std::size_t>(extra) + 1;
        }
    }
    return out;
}

bool isUtf8(std::string_view bytes) {
    // A replacement character that stands in the text itself is three bytes long and well formed.
    std::size_t i = 0;
    while (i < bytes.size()) {
        // Eight ASCII bytes at a time: most files hold nothing else.
        for (std::uint64_t word; i + 8 <= bytes.size(); i += 8) {
            std::memcpy(&word, bytes.data() + i, 8);
            if (word & 0x8080808080808080ULL) break;
        }
        if (i >= bytes.size()) break;
        if (static_cast<unsigned char>(bytes[i]) < 0x80) {
            ++i;
            continue;
        }
        const auto lead = static_cast<unsigned char>(bytes[i]);
        const std::size_t length = lead >= 0xF0 ? 4 : lead >= 0xE0 ? 3 : 2;
        const std::u32string one = decodeUtf8(bytes.substr(i, length));
        if (one.size() != 1 || (one[0] == U'\uFFFD' && bytes.substr(i, 3) != "\uFFFD")) return false;
        i += length;
    }
    return true;
}

std::string validUtf8(std::string_view bytes) {
    if (isUtf8(bytes)) return std::string(bytes);
    std::string out;
    for (char32_t c : decodeUtf8(bytes)) appendUtf8(out, c);
    return out;
}

void appendUtf8(std::string& to, char32_t c) {
    if (c < 0x80)
        to += static_cast<char>(c);
    else if (c < 0x800) {
        to += static_cast<char>(0xC0 | (c >> 6));
        to += static_cast<char>(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        to += static_cast<char>(0xE0 | (c >> 12));
        to += static_cast<char>(0x80 | ((c >> 6) & 0x3F));
        to += static_cast<char>(0x80 | (c & 0x3F));
    } else {
        to += static_cast<char>(0xF0 | (c >> 18));
        to += static_cast<char>(0x80 | ((c >> 12) & 0x3F));
        to += static_cast<char>(0x80 | ((c >> 6) & 0x3F));
        to += static_cast<char>(0x80 | (c & 0x3F));
    }
}

std::optional<double> parseNumber(std::string_view text) {
    text = trimmed(text);
    std::string plain;
    if (text.starts_with(kMinus)) text = plain = "-" + std::string(text.substr(kMinus.size()));
    if (text.starts_with('+') && !text.starts_with("+-")) text.remove_prefix(1);
    double value = 0;
    const auto [end, error] = fast_float::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc{} || end != text.data() + text.size() || text.empty()) return std::nullopt;
    return value;
}

std::optional<double> parseIsoTime(std::string_view text) {
    using namespace std::chrono;
    text = trimmed(text);
    auto whole = [](std::string_view digits) -> std::optional<int> {
        const bool good =
            !digits.empty() && std::ranges::all_of(digits, [](char c) { return c >= '0' && c <= '9'; });
        const auto n = good ? parseNumber(digits) : std::nullopt;
        return n ? std::optional(static_cast<int>(*n)) : std::nullopt;
    };
    if (text.size() < 10 || text[4] != '-' || text[7] != '-') return std::nullopt;
    const auto y = whole(text.substr(0, 4)), m = whole(text.substr(5, 2)), d = whole(text.substr(8, 2));
    if (!y || !m || !d) return std::nullopt;
    const year_month_day date{year{*y} / month{static_cast<unsigned>(*m)} / day{static_cast<unsigned>(*d)}};
    if (!date.ok()) return std::nullopt;
    const double days = static_cast<double>(sys_days{date}.time_since_epoch().count()) * 86400;
    if (text.size() == 10) return days;
    if (text.size() < 16 || (text[10] != 'T' && text[10] != ' ') || text[13] != ':') return std::nullopt;
    const auto h = whole(text.substr(11, 2)), minute = whole(text.substr(14, 2));
    std::optional<double> seconds = 0;
    if (text.size() > 16) seconds = text[16] == ':' ? parseNumber(text.substr(17)) : std::nullopt;
    if (!h || !minute || !seconds || *h > 23 || *minute > 59 || *seconds < 0 || *seconds >= 60)
        return std::nullopt;
    return days + *h * 3600 + *minute * 60 + *seconds;
}

std::string shortestNumber(double value) {
    if (std::isnan(value)) return "nan";
    char buffer[32];
    const auto end = std::to_chars(buffer, buffer + sizeof buffer, value).ptr;
    return {buffer, end};
}

std::string readableNumber(double value, int significant) {
    if (!std::isfinite(value)) return notFinite(value);
    if (value == 0) return "0";
    const int exponent = decimalExponent(value);
    if (exponent < -4 || exponent >= 7) {
        const std::string text = fmt::format("{:.{}e}", value, significant - 1);
        const auto e = text.find('e');
        return grouped(withoutTrailingZeros(text.substr(0, e))) + " × 10" +
               superscript(std::stoi(text.substr(e + 1)));
    }
    return grouped(
        withoutTrailingZeros(fmt::format("{:.{}f}", value, std::max(0, significant - 1 - exponent))));
}

ValueText readableWithError(double value, double error) {
    if (!std::isfinite(error) || error <= 0 || !std::isfinite(value)) return {readableNumber(value, 6), {}};
    const std::string twoDigits = fmt::format("{:.1e}", error); // 0.0998 is 0.10, not 0.100
    const int places = 1 - std::stoi(twoDigits.substr(twoDigits.find('e') + 1));
    const int exponent = decimalExponent(std::max(std::abs(value), error));
    if (exponent < -4 || exponent >= 7 || places > 12) {
        const double scale = std::pow(10.0, exponent);
        const int digits = std::clamp(places + exponent, 0, 15);
        const std::string power = " × 10" + superscript(exponent);
        return {grouped(fmt::format("{:.{}f}", value / scale, digits)) + power,
                grouped(fmt::format("{:.{}f}", error / scale, digits)) + power};
    }
    // Errors of ten and more keep whole numbers: tens are not rounded away.
    const int digits = std::max(0, places);
    return {grouped(fmt::format("{:.{}f}", value, digits)), grouped(fmt::format("{:.{}f}", error, digits))};
}

std::string counted(long long n, std::string_view singular, std::string_view plural) {
    if (n == 1) return fmt::format("1 {}", singular);
    return plural.empty() ? fmt::format("{} {}s", n, singular) : fmt::format("{} {}", n, plural);
}

} // namespace jointer
