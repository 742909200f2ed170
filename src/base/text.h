// SPDX-License-Identifier: GPL-3.0-or-later
// Small text tools: trimming, splitting, UTF-8, and numbers as text for files and for people.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace jointer {

std::string_view trimmed(std::string_view text);
std::vector<std::string_view> split(std::string_view text, char separator);
std::string joined(const std::vector<std::string>& parts, std::string_view between);
std::string lowerAscii(std::string_view text);
bool startsWithNoCase(std::string_view text, std::string_view prefix);
bool isUtf8(std::string_view bytes);
std::string validUtf8(std::string_view bytes); // what is malformed becomes U+FFFD

// Appends one code point as UTF-8.
void appendUtf8(std::string& to, char32_t codePoint);

// Code points of a UTF-8 text; malformed bytes become U+FFFD.
std::u32string decodeUtf8(std::string_view text);

// The whole text as a number (decimal point, exponent e or E, leading + allowed), correctly rounded.
std::optional<double> parseNumber(std::string_view text);

// "2031-05-02", "2031-05-02 06:30", "2031-05-02T06:30:05.5": seconds since 1970-01-01, UTC.
std::optional<double> parseIsoTime(std::string_view text);

// Shortest text that reads back to the same double; "nan", "inf", "-inf".
std::string shortestNumber(double value);

// A number for people with so many significant digits, true minus, thin space for thousands from 10 000 on,
// and a power of ten ("1.2 × 10⁻⁵") outside 1e-4 … 1e7.
std::string readableNumber(double value, int significant = 5);

// How value ± error is shown: the error to two significant digits, the value to the same place.
struct ValueText {
    std::string value, error; // error is empty where it is not known
    std::string text() const { return error.empty() ? value : value + " ± " + error; }
};
ValueText readableWithError(double value, double error);

// "1 point", "3 points".
std::string counted(long long n, std::string_view singular, std::string_view plural = {});

} // namespace jointer
