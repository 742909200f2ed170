// SPDX-License-Identifier: GPL-3.0-or-later
// Equality of numbers as files and hashes see them.
#pragma once

#include <bit>
#include <cstdint>

namespace jointer {

// NaN equals NaN of the same bits; zero differs from minus zero.
inline bool sameBits(double a, double b) {
    return std::bit_cast<std::uint64_t>(a) == std::bit_cast<std::uint64_t>(b);
}

} // namespace jointer
