// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/cells.h"

#include "base/text.h"

#include <algorithm>

namespace jointer::evaluate {

double limitAt(const Column& c, std::size_t row) {
    if (row >= c.cells->size() || c.cells->state(row) != CellState::Below) return NAN;
    const auto original = c.cells->originals.find(static_cast<std::uint32_t>(row));
    if (original == c.cells->originals.end()) return NAN;
    std::string text = original->second;
    for (const std::string_view sign : {"<=", "≤", "<"})
        if (const auto at = text.find(sign); at != std::string::npos) text.erase(0, at + sign.size());
    // The text is that of the file, whose decimals may have stood after a comma.
    if (text.find('.') == std::string::npos && std::ranges::count(text, ',') == 1)
        std::ranges::replace(text, ',', '.');
    return parseNumber(text).value_or(NAN);
}

} // namespace jointer::evaluate
