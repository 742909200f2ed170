// SPDX-License-Identifier: GPL-3.0-or-later
// Where things that are drawn on a page stand: each of their points is told in x and in y apart, in the data
// of a panel, as a part of it, in mm on the page, or as a part of another element. So it stays there when the
// figure is resized, rescaled or drawn with other data.
#pragma once

#include "figure/layout.h"
#include "figure/look.h"

namespace jointer::figure {

// Elements that are placed by such points: text, lines, shapes, brackets, bars of a length.
bool isNote(std::string_view kind);
std::vector<std::string_view> pointsOf(std::string_view kind); // suffixes of their settings: "", "-2"

// The settings of one point. `anchored`: its first choice; `fallback`: of x and y.
std::vector<Setting> anchorSettings(std::string_view suffix, draw::Point fallback);

// What a point is told in.
struct AnchorFrame {
    const Layout& layout;       // as far as it is laid out
    const PanelGeometry* panel; // nullptr: on the page
};

struct AnchoredPoint {
    draw::Point at;     // mm
    bool onAxes = true; // no part of it lies off an axis that it is told on
};
// Nothing: the element that it is told in is not there, or a value has no place on its axis.
std::optional<AnchoredPoint> placeOf(const AnchorFrame& frame, const Look& look, std::string_view suffix);

// The same point moved by so many mm, as settings of the element.
std::vector<std::pair<std::string, Value>> movedPoint(const AnchorFrame& frame, const Look& look,
                                                      std::string_view suffix, draw::Point byMm);

// Told in another way, at the same place: "panel", "data", "page".
std::vector<std::pair<std::string, Value>> toldIn(const AnchorFrame& frame, const Look& look,
                                                  std::string_view suffix, const std::string& anchor);

} // namespace jointer::figure
