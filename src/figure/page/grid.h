// SPDX-License-Identifier: GPL-3.0-or-later
// How panels share a page: cells of a grid with equal plotting areas, however much room their axes need.
#pragma once

#include "figure/page/panel.h"

namespace jointer::figure {

// Cells that a panel takes, from 0.
struct Cells {
    int row = 0, column = 0, rows = 1, columns = 1;
};

// Cells for each panel in order: as told, else the next that are free. Gives the size of the grid, which
// grows where there are more panels than cells.
struct Grid {
    int rows = 1, columns = 1;
    std::vector<Cells> cells;
};
Grid gridOf(const Look& page, const std::vector<const Panel*>& panels);

// Places the panels of the grid in the space: plotting areas of one column have the same left and right edges
// to a hair, those of one row the same top and bottom; columns and rows share what the axes leave.
void placeInGrid(const Page& page, const Grid& grid, const std::vector<Panel*>& panels,
                 const draw::Rect& space);

} // namespace jointer::figure
