// SPDX-License-Identifier: GPL-3.0-or-later
// What many marks are made of: looks of symbols, lines and error bars with their settings, and their drawing.
#pragma once

#include "describe/setting_makers.h"
#include "figure/marks/mark.h"

namespace jointer::figure {

inline const std::string kShownGroup = "What is shown", kLooksGroup = "How it looks",
                         kPlaceGroup = "Where it stands";

// Settings that all marks have: name in the legend, colour, axes.
std::vector<Setting> commonSettings(const std::string& whoseName = "the name");
std::vector<Setting> datasetSettings(); // which points, moved by what
std::vector<Setting> symbolSettings();
std::vector<Setting> errorSettings();
std::vector<Setting> lineSettings();
Setting opacitySetting(double fallback, const std::string& key = "opacity",
                       const std::string& label = "Opacity");
std::vector<Setting> together(std::initializer_list<std::vector<Setting>> lists);
std::vector<Setting> without(std::vector<Setting> settings, std::string_view key);

// count + 1 values from low to high, even as they are, or even on a scale; both ends exactly.
std::vector<double> evenly(double low, double high, int count);
std::vector<double> evenlyOn(const Scale& scale, double low, double high, int count);

struct LineLook {
    double widthMm = 0.35;
    std::string dash = "solid";
    draw::Join join = draw::Join::Round;
    bool shown = true;

    LineLook() = default;
    explicit LineLook(const Look& look);
    draw::Stroke stroke(draw::Colour colour) const;
};

struct SymbolLook {
    draw::SymbolShape shape = draw::SymbolShape::Circle;
    double sizeMm = 1.2;
    std::string fill = "open"; // open, filled, white, half-left…
    double outlineMm = NAN;    // NaN: by the size
    std::optional<draw::Colour> fillColour;
    double spacingMm = 0; // symbols stand at least so far apart

    SymbolLook() = default;
    explicit SymbolLook(const Look& look);
    bool isFilled() const { return fill != "open" && !isOfStrokes(shape); }
    double lineMm() const;
    // Without places.
    draw::Symbols symbols(draw::Colour colour) const;
};

draw::SymbolShape shapeOf(std::string_view key);
std::string symbolAt(std::size_t k); // the k-th of a series, for looks by order
std::string dashAt(std::size_t k);

// Places without bounds get some, so that sums of them stay finite.
double cut(double mm);

void widen(std::optional<Range>& range, double v, const Scale& scale);
std::optional<Range> united(const std::optional<Range>& a, const std::optional<Range>& b);

// The part of ascending x that an axis shows, and so many mm more at each side.
std::pair<std::size_t, std::size_t> shownWithin(const std::vector<double>& xs, const AxisMap& x, double mm);

// A polyline through the places, thinned to the target.
draw::Path linePath(std::vector<draw::Polyline> lines, const LineLook& look, draw::Colour colour);

// A closed area between two lines of places.
draw::Polyline areaBetween(std::vector<draw::Point> upper, std::vector<draw::Point> lower);

// The curve with x at the places that its categories have among others.
std::shared_ptr<const Curve> recategorised(const std::shared_ptr<const Curve>& curve,
                                           const std::vector<std::string>& names);

} // namespace jointer::figure
