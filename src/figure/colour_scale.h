// SPDX-License-Identifier: GPL-3.0-or-later
// From values to colours of a perceptually even map: of points told apart by a number, of maps of a field, with the
// bar that explains them. A plain value.
#pragma once

#include "describe/kind.h"
#include "figure/look.h"
#include "figure/scales/scale.h"

#include <optional>

namespace jointer::figure {

struct ColourScale {
    std::string map = "tide";
    Range range{0, 1}; // low < high
    bool reversed = false, logarithmic = false;
    std::optional<double> centre{};  // has the middle of the map; both sides reach as far
    std::vector<double> limits{};    // between steps, ascending, ends too: each has one colour; empty: even
    std::string name{}, unit{};      // of what is coloured

    // The place of a value in the map, 0 … 1, cut to the range. NaN: it has none.
    double share(double v) const;
    draw::Colour at(double v) const; // of steps that of the step; requires: the value has a share
    // Colours in even shares of the range, for pictures.
    std::vector<draw::Colour> table(std::size_t count) const;
    bool operator==(const ColourScale&) const;
};

// Settings of a scale of colours; `shownIf` as the setting that switches it on needs it.
std::vector<Setting> colourScaleSettings(const std::string& group, const std::string& shownIf = {});

// For values, by the settings: limits typed, or a share of the values cut off at both ends. Nothing without any
// value that has a place; one value alone gets a range about it.
std::optional<ColourScale> colourScaleFor(const Look& look, std::vector<double> values);

} // namespace jointer::figure
