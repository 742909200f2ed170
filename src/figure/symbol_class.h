// SPDX-License-Identifier: GPL-3.0-or-later
// A class of symbols: what it is called and how it looks; one row of the legend.
#pragma once

#include "draw/display_list.h"

#include <optional>
#include <string>

namespace jointer::figure {

struct SymbolClass {
    std::string label; // markup
    std::optional<draw::Colour> colour{};
    std::optional<draw::SymbolShape> shape{};
    std::optional<double> sizeMm{};
    bool hidden = false;
    std::string
        name{}; // as the column has it; empty: no class that can be changed, such as an example of a size
};

} // namespace jointer::figure
