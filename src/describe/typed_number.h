// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as people type them into a field: "−1.5", "10^-6", "3×10^4", "2 pi", "pi/2".
#pragma once

#include <optional>
#include <string_view>

namespace jointer {

// Products and quotients of numbers, powers and pi; nothing for anything else.
std::optional<double> typedNumber(std::string_view text);

// The same, or a moment as in ISO 8601.
std::optional<double> typedNumberOrTime(std::string_view text);

} // namespace jointer
