// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings and pictures from elsewhere on a figure, and other figures placed on a page.
#pragma once

#include "draw/artwork.h"
#include "figure/layout.h"
#include "project/edit.h"

namespace jointer::figure {

// What an asset draws, read once while its bytes are in use anywhere. Thread-safe.
std::shared_ptr<const Result<draw::Artwork>> drawnArtwork(const Asset& asset);

// The pixels for each inch of the coarsest of its pictures, as it stands on the page; nothing: lines alone.
std::optional<double> resolutionOf(const Project& project, const Layout& layout, const Element& artwork);

// In the next cell of the page's grid. The same bytes are kept once; a figure that is placed follows its own.
Edit placeArtwork(FigureId figure, Asset asset);
Edit placeFigure(FigureId onto, FigureId figure);

} // namespace jointer::figure
