// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/grid.h"

#include <algorithm>
#include <set>

namespace jointer::figure {

namespace {

// One direction of the grid: room before and after each track, and where the areas end up.
struct Tracks {
    std::vector<double> before, after, share, start, length;

    Tracks(int count, const Numbers& shares) {
        const auto n = static_cast<std::size_t>(count);
        before.assign(n, 0);
        after.assign(n, 0);
        start.assign(n, 0);
        length.assign(n, 1);
        for (std::size_t k = 0; k < n; ++k)
            share.push_back(k < shares.size() && shares[k] > 0 ? shares[k] : 1);
    }
    void need(int first, int count, double roomBefore, double roomAfter) {
        auto& b = before[static_cast<std::size_t>(first)];
        auto& a = after[static_cast<std::size_t>(first + count - 1)];
        b = std::max(b, roomBefore);
        a = std::max(a, roomAfter);
    }
    void lay(double from, double room, double gap) {
        double rest = room - gap * static_cast<double>(before.size() - 1), shares = 0;
        for (std::size_t k = 0; k < before.size(); ++k) {
            rest -= before[k] + after[k];
            shares += share[k];
        }
        rest = std::max(rest, static_cast<double>(before.size())); // at least a millimetre each
        double at = from;
        for (std::size_t k = 0; k < before.size(); ++k) {
            start[k] = at + before[k];
            length[k] = rest * share[k] / shares;
            at = start[k] + length[k] + after[k] + gap;
        }
    }
    double low(int first) const { return start[static_cast<std::size_t>(first)]; }
    double high(int first, int count) const {
        const auto last = static_cast<std::size_t>(first + count - 1);
        return start[last] + length[last];
    }
    double outerLow(int first) const { return low(first) - before[static_cast<std::size_t>(first)]; }
    double outerHigh(int first, int count) const {
        return high(first, count) + after[static_cast<std::size_t>(first + count - 1)];
    }
};

} // namespace

Grid gridOf(const Look& page, const std::vector<const Panel*>& panels) {
    Grid grid{.rows = std::max(1, page.integer("rows")), .columns = std::max(1, page.integer("columns"))};
    std::set<std::pair<int, int>> taken;
    auto isFree = [&](const Cells& c) {
        for (int r = c.row; r < c.row + c.rows; ++r)
            for (int k = c.column; k < c.column + c.columns; ++k)
                if (taken.contains({r, k})) return false;
        return true;
    };
    grid.cells.resize(panels.size());
    auto take = [&](std::size_t k, const Cells& c) {
        grid.cells[k] = c;
        for (int r = c.row; r < c.row + c.rows; ++r)
            for (int i = c.column; i < c.column + c.columns; ++i) taken.insert({r, i});
        grid.rows = std::max(grid.rows, c.row + c.rows);
        grid.columns = std::max(grid.columns, c.column + c.columns);
    };
    std::vector<std::size_t> open;
    for (std::size_t k = 0; k < panels.size(); ++k) {
        const Look& look = panels[k]->look();
        const int row = look.integer("row"), column = look.integer("column");
        if (row > 0 && column > 0)
            take(k, {row - 1, column - 1, std::max(1, look.integer("row-span")),
                     std::max(1, look.integer("column-span"))});
        else
            open.push_back(k);
    }
    for (std::size_t k : open) {
        const Look& look = panels[k]->look();
        Cells c{0, 0, std::max(1, look.integer("row-span")),
                std::min(std::max(1, look.integer("column-span")), grid.columns)};
        for (bool found = false; !found;) {
            if (c.column + c.columns <= grid.columns && isFree(c)) {
                found = true;
            } else if (c.column + c.columns < grid.columns)
                ++c.column;
            else {
                c.column = 0;
                ++c.row;
            }
        }
        take(k, c);
    }
    return grid;
}

void placeInGrid(const Page& page, const Grid& grid, const std::vector<Panel*>& panels,
                 const draw::Rect& space) {
    if (panels.empty()) return;
    Tracks across(grid.columns, page.look.numbers("column-shares")),
        down(grid.rows, page.look.numbers("row-shares"));
    const double gapX = page.look.number("gap-x"), gapY = page.look.number("gap-y");
    across.lay(space.x, space.width, gapX);
    down.lay(space.y, space.height, gapY);
    // The room of labels depends on the lengths of the axes, which depend on it: twice, and once more where
    // other labels need more room than those before.
    for (int round = 0; round < 3; ++round) {
        if (round < 2)
            for (auto* rooms : {&across.before, &across.after, &down.before, &down.after})
                std::ranges::fill(*rooms, 0);
        std::vector<Room> rooms;
        for (std::size_t k = 0; k < panels.size(); ++k) {
            const Cells& c = grid.cells[k];
            rooms.push_back(panels[k]->room(across.high(c.column, c.columns) - across.low(c.column),
                                            down.high(c.row, c.rows) - down.low(c.row)));
        }
        for (std::size_t k = 0; k < panels.size(); ++k) {
            const Cells& c = grid.cells[k];
            across.need(c.column, c.columns, rooms[k].left, rooms[k].right);
            down.need(c.row, c.rows, rooms[k].top, rooms[k].bottom);
        }
        across.lay(space.x, space.width, gapX);
        down.lay(space.y, space.height, gapY);
    }
    for (std::size_t k = 0; k < panels.size(); ++k) {
        const Cells& c = grid.cells[k];
        const double left = across.low(c.column), right = across.high(c.column, c.columns),
                     top = down.low(c.row), bottom = down.high(c.row, c.rows);
        const double outerLeft = across.outerLow(c.column),
                     outerRight = across.outerHigh(c.column, c.columns), outerTop = down.outerLow(c.row),
                     outerBottom = down.outerHigh(c.row, c.rows);
        panels[k]->place({left, top, right - left, bottom - top},
                         {outerLeft, outerTop, outerRight - outerLeft, outerBottom - outerTop});
    }
}

} // namespace jointer::figure
