// SPDX-License-Identifier: GPL-3.0-or-later
// What the text of one cell means: a number, a missing value, a limit, a time.
#pragma once

#include "data/column.h"

#include <cstdint>
#include <cstring>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::io {

inline bool isDigit(char c) {
    return static_cast<unsigned char>(c - '0') < 10;
}

// Takes eight decimal digits at once where there are eight.
// Source: J. Mula, D. Lemire, "Faster base64 and number parsing" (SWAR digit conversion).
inline const char* takeEightDigits(const char* p, const char* end, std::uint64_t& mantissa) {
    std::uint64_t word;
    if (end - p < 8) return p;
    std::memcpy(&word, p, 8);
    if (((word & 0xF0F0F0F0F0F0F0F0ULL) | (((word + 0x0606060606060606ULL) & 0xF0F0F0F0F0F0F0F0ULL) >> 4)) !=
        0x3333333333333333ULL)
        return p;
    word -= 0x3030303030303030ULL;
    word = word * 10 + (word >> 8);
    const std::uint64_t mask = 0x000000FF000000FFULL;
    word = ((word & mask) * 0x000F424000000064ULL + ((word >> 16) & mask) * 0x0000271000000001ULL) >> 32;
    mantissa = mantissa * 100000000 + static_cast<std::uint32_t>(word);
    return p + 8;
}

// The general case of readNumber, by the library.
const char* readNumberSlowly(const char* at, const char* end, char decimal, double& value);

// Reads a number at the start of [at, end). Returns the place after it, or nullptr. Correctly rounded.
// Accepts a leading plus, bare points, e E d D exponents. In the header since it is the reader's inner loop.
inline const char* readNumber(const char* at, const char* end, char decimal, double& value) {
    static constexpr double powers[] = {1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,
                                        1e8,  1e9,  1e10, 1e11, 1e12, 1e13, 1e14, 1e15,
                                        1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};
    const char* p = at;
    const bool negative = p < end && *p == '-';
    if (p < end && (*p == '-' || *p == '+')) ++p;
    std::uint64_t mantissa = 0;
    const char* digitsFrom = p;
    while (p < end && isDigit(*p)) mantissa = mantissa * 10 + static_cast<std::uint64_t>(*p++ - '0');
    auto digits = p - digitsFrom;
    std::ptrdiff_t decimals = 0;
    if (p < end && *p == decimal) {
        const char* fraction = ++p;
        p = takeEightDigits(p, end, mantissa);
        while (p < end && isDigit(*p)) mantissa = mantissa * 10 + static_cast<std::uint64_t>(*p++ - '0');
        decimals = p - fraction;
        digits += decimals;
    }
    if (digits == 0) return nullptr;
    const bool hasExponent = p < end && ((*p | 0x20) == 'e' || (*p | 0x20) == 'd');
    if (digits > 19 || hasExponent || mantissa > (1ULL << 53) || decimals > 22)
        return readNumberSlowly(at, end, decimal, value);
    value =
        static_cast<double>(mantissa) / powers[decimals]; // both exact, so the quotient is correctly rounded
    if (negative) value = -value;
    return p;
}

// The whole text as a number, with Unicode minus.
std::optional<double> numberOf(std::string_view text, char decimal);

// "yes", "no", "true", "false" in any case.
std::optional<bool> isYesNo(std::string_view text);

bool isMissing(std::string_view text, const std::vector<std::string>& markers);

// "<0.05", "> 100": the number and on which side the true value lies.
struct Limit {
    double value;
    CellState side;
};
std::optional<Limit> limitOf(std::string_view text, char decimal);

} // namespace jointer::io
