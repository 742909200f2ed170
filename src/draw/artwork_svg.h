// SPDX-License-Identifier: GPL-3.0-or-later
// Parts of an SVG drawing: numbers, matrices, paths, colours. Source: SVG 1.1, second edition.
#pragma once

#include "draw/display_list.h"

#include <map>
#include <optional>
#include <string_view>

namespace jointer::draw::svg {

std::vector<double> numbersIn(std::string_view text); // separated by blanks or commas; units are passed over
std::optional<Matrix> inverse(const Matrix& m);
Matrix matrixIn(std::string_view transform);           // matrix, translate, scale, rotate; else the identity
std::optional<Colour> colourIn(std::string_view text); // "rgb(100%,0%,0%)", "#rrggbb"; none for "none"
std::string_view targetOf(std::string_view link);      // "#name", "url(#name)"; empty: elsewhere
double millimetresIn(std::string_view length);         // "60mm", "170pt", "226.77" px

// The path moved by the matrix, its curves as lines so fine that they are off by less than `off`. Nothing:
// it uses other letters than M L H V C S Q T Z, of both cases, or never begins.
std::optional<std::vector<Polyline>> linesIn(std::string_view data, const Matrix& matrix, double off);

// What a fill, a stroke and their opacities are, as attributes or within `style`; inner ones win.
struct Style {
    std::string fill = "#000000", stroke = "none";
    double fillOpacity = 1, strokeOpacity = 1, width = 1, opacity = 1;
    bool evenOdd = false;
    Cap cap = Cap::Butt;
    Join join = Join::Miter;
    std::vector<double> dashes{};

    void set(std::string_view name, std::string_view value);
    void setAll(std::string_view declarations); // "fill:none;stroke-width:2"
};

} // namespace jointer::draw::svg
