// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/display_list.h"

#include <charconv>
#include <cmath>
#include <fmt/format.h>

namespace jointer::draw {

Colour Colour::fromText(std::string_view text, Colour fallback) {
    if ((text.size() != 7 && text.size() != 9) || text[0] != '#') return fallback;
    unsigned value = 0;
    const auto [end, error] = std::from_chars(text.data() + 1, text.data() + text.size(), value, 16);
    if (error != std::errc{} || end != text.data() + text.size()) return fallback;
    if (text.size() == 7) value = value << 8 | 0xFF;
    return {static_cast<std::uint8_t>(value >> 24), static_cast<std::uint8_t>(value >> 16),
            static_cast<std::uint8_t>(value >> 8), static_cast<std::uint8_t>(value)};
}

Colour Colour::fromText(std::string_view text) {
    return fromText(text, Colour{});
}

std::string Colour::text() const {
    return fmt::format("#{:02x}{:02x}{:02x}", r, g, b);
}

std::vector<Polyline> symbolOutline(SymbolShape shape, double size) {
    const double h = size / 2;
    switch (shape) {
    case SymbolShape::Circle:
        return {};
    case SymbolShape::Square: {
        const double s = h * 0.886; // the area of the circle
        return {{{{-s, -s}, {s, -s}, {s, s}, {-s, s}}, true}};
    }
    case SymbolShape::Diamond: {
        const double s = h * 1.2;
        return {{{{0, -s}, {s, 0}, {0, s}, {-s, 0}}, true}};
    }
    case SymbolShape::TriangleUp:
    case SymbolShape::TriangleDown: {
        const double s = h * 1.2, sign = shape == SymbolShape::TriangleUp ? 1 : -1;
        return {{{{0, -s * sign}, {s * 0.866, s * 0.5 * sign}, {-s * 0.866, s * 0.5 * sign}}, true}};
    }
    case SymbolShape::Plus:
        return {{{{-h, 0}, {h, 0}}, false}, {{{0, -h}, {0, h}}, false}};
    case SymbolShape::Cross: {
        const double s = h * 0.8;
        return {{{{-s, -s}, {s, s}}, false}, {{{-s, s}, {s, -s}}, false}};
    }
    }
    return {};
}

} // namespace jointer::draw
