// SPDX-License-Identifier: GPL-3.0-or-later
// The coordinates that a panel can have.
#include "figure/page/panel.h"

namespace jointer::figure {

const Catalogue<CoordinateKind>& coordinateCatalogue() {
    static const Catalogue<CoordinateKind> all(
        {cartesianCoordinates(), ternaryCoordinates(), waterCoordinates(), reliefCoordinates()});
    return all;
}

std::unique_ptr<Panel> panelFor(Page& page, const Element& element) {
    if (element.kind == "artwork") return artworkPanel(page, element);
    const CoordinateKind* kind =
        coordinateCatalogue().find(element.settings.text("coordinates", "cartesian"));
    return (kind ? *kind : coordinateCatalogue().front()).make(page, element);
}

} // namespace jointer::figure
