// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of elements a figure is made of, described once: forms in the window, house styles, checks of
// files and the manual are made from these. Marks describe themselves (marks/mark.h), as do scales
// (scales/scale.h); the axis takes the settings of all scales.
#pragma once

#include "figure/look.h"

namespace jointer::figure {

const Catalogue<KindInfo>& elementKinds(); // "figure", "panel", "axis", "points", "line", …, "legend", "note"
inline const KindInfo& kindOf(std::string_view key) {
    return *elementKinds().find(key);
}

KindInfo
exportKind(); // not drawn: how a figure is written; the figure's hidden setting "export" holds one row of it

// One file for each few that belong together.
KindInfo pageKind();
KindInfo panelKind();
KindInfo artworkKind();
KindInfo axisKind();
KindInfo groupKind();
KindInfo legendKind();
KindInfo noteKind();
KindInfo arrowKind();
KindInfo shapeKind();
KindInfo braceKind();
KindInfo scaleBarKind();
KindInfo tableKind();
KindInfo colourBarKind();

// The house styles that ship with Jointer.
std::vector<HouseStyle> shippedStyles();

// A figure with one panel, two axes and a legend, that shows the given marks.
Figure newFigure(std::string name, StyleId style, const std::vector<Element>& marks);
// A figure for a table alone: no axes, and as high as so many rows below a heading need, up to a page of
// paper.
Figure newTableFigure(std::string name, std::size_t rows);
double tableRowMm(double sizePt);          // the height of one
// What has a place of its own on the page, in its grid or freely, with letters: panels and artwork.
constexpr bool isPanel(std::string_view kind) {
    return kind == "panel" || kind == "artwork";
}
bool standsBeside(std::string_view where); // of a legend: not within the panel, with room of its own
Element groupOf(const std::vector<DatasetId>& datasets, std::vector<Element> marks); // one for each
Element newPanel(const std::vector<Element>& marks);
Element newMark(std::string kind, std::string source);

} // namespace jointer::figure
