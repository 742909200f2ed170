// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of elements a figure is made of, described once: forms in the window, house styles and the manual
// are made from these. A value is looked up in the element, then in the figure's house style, then here.
#pragma once

#include "describe/catalogue.h"
#include "project/project.h"

namespace jointer::figure {

const Catalogue<KindInfo>& elementKinds(); // "figure", "panel", "axis", "points", "line", …, "legend", "note"

// The house styles that ship with Jointer.
std::vector<HouseStyle> shippedStyles();

// Values of one element with the look-up order applied.
class Look {
public:
    Look(const KindInfo& kind, const Settings& own, const HouseStyle* style);
    double number(std::string_view key) const;
    std::string text(std::string_view key) const;
    bool flag(std::string_view key) const;
    Numbers numbers(std::string_view key) const;
    bool isOwn(std::string_view key) const { return own_.has(key); }
    Value value(std::string_view key) const;

private:
    const KindInfo& kind_;
    const Settings& own_;
    const Settings* style_;
};

// The default colours of datasets: distinct for colour-blind readers and in grey.
const std::vector<std::string>& palette();

// A figure with one panel, two axes and a legend, that shows the given datasets as points or lines.
Figure newFigure(std::string name, StyleId style, const std::vector<Element>& marks);
Element newMark(std::string kind, std::string source);

} // namespace jointer::figure
