// SPDX-License-Identifier: GPL-3.0-or-later
// How much of each pixel a long line or a large area covers, and its colour laid on by that much. For curves
// of many points this is an order faster than the toolkit's rasteriser, and draws the same but for the
// smoothing of edges.
#pragma once

#include "draw/geometry.h"

#include <QImage>
#include <span>
#include <vector>

namespace jointer::paint {

class Coverage {
public:
    // Places are pixels. Only within the clip anything is drawn. Requires: premultiplied ARGB of 32 bits.
    void begin(const QImage& onto, const QRect& clip);

    // Whether anything of a line of that width lies within the clip; width 0: of an area.
    bool reaches(std::span<const QPointF> points, double width) const;

    // Joined by straight pieces, with round joins and ends: the distance to the nearest piece tells.
    void line(std::span<const QPointF> points, double width);

    // What a closed line encloses, exactly. Requires: for each x it has one upper and one lower edge.
    // Source: sums of signed areas along each row, as in the rasterising of fonts.
    void area(std::span<const QPointF> points);

    // Lays the colour on and begins anew.
    void blend(QImage& onto, const QColor& colour);

private:
    struct Row {
        int from = 0, to = 0; // touched columns
    };
    float* rowAt(int y) { return &cells_[static_cast<std::size_t>(y) * stride_]; }
    void touch(int y, int from, int to);
    void piece(QPointF a, QPointF b, double half);
    void edge(QPointF a, QPointF b);

    QRect clip_;
    int width_ = 0, height_ = 0; // of the clip
    std::size_t stride_ = 0;
    std::vector<float> cells_; // all nought between uses
    std::vector<Row> rows_;
    bool summed_ = false; // cells are differences along a row
};

// Whether an area that is enclosed has one upper and one lower edge at each x.
bool isBetweenCurves(std::span<const draw::Point> points);

} // namespace jointer::paint
