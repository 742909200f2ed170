// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers out of bytes in either order.
#pragma once

#include <algorithm>
#include <bit>
#include <cstdint>
#include <cstring>

namespace jointer::io {

template <class T> T integerAt(const char* p, bool bigEndian) {
    char bytes[sizeof(T)];
    std::memcpy(bytes, p, sizeof(T));
    if (bigEndian) std::reverse(bytes, bytes + sizeof(T));
    T value;
    std::memcpy(&value, bytes, sizeof(T));
    return value;
}

// An IEEE number of 16 bits.
inline double halfNumber(std::uint16_t bits) {
    const int exponent = bits >> 10 & 31, mantissa = bits & 1023;
    const double sign = bits & 0x8000 ? -1 : 1;
    if (exponent == 31)
        return mantissa ? std::bit_cast<double>(0x7FF8000000000000ULL)
                        : sign * std::bit_cast<double>(0x7FF0000000000000ULL);
    double value = exponent == 0 ? mantissa / 16777216.0 : (1024 + mantissa) / 1024.0;
    for (int k = exponent; exponent != 0 && k > 15; --k) value *= 2;
    for (int k = exponent; exponent != 0 && k < 15; ++k) value /= 2;
    return sign * value;
}

// The shortest decimal number of a short one, as a double: 0.01 where 32 bits hold 0.00999999978.
double decimalOf(float value);

// A value of kind f (floating), i (signed), u or b (unsigned) with so many bytes.
inline double numberAt(const char* p, char kind, std::size_t size, bool bigEndian) {
    if (kind == 'f')
        return size == 8   ? integerAt<double>(p, bigEndian)
               : size == 4 ? static_cast<double>(integerAt<float>(p, bigEndian))
                           : halfNumber(integerAt<std::uint16_t>(p, bigEndian));
    if (kind == 'i')
        return size == 8   ? static_cast<double>(integerAt<std::int64_t>(p, bigEndian))
               : size == 4 ? static_cast<double>(integerAt<std::int32_t>(p, bigEndian))
               : size == 2 ? static_cast<double>(integerAt<std::int16_t>(p, bigEndian))
                           : static_cast<double>(static_cast<std::int8_t>(*p));
    return size == 8   ? static_cast<double>(integerAt<std::uint64_t>(p, bigEndian))
           : size == 4 ? static_cast<double>(integerAt<std::uint32_t>(p, bigEndian))
           : size == 2 ? static_cast<double>(integerAt<std::uint16_t>(p, bigEndian))
                       : static_cast<double>(static_cast<std::uint8_t>(*p));
}

} // namespace jointer::io
