// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/coverage.h"

#include <QColor>
#include <algorithm>
#include <cmath>
#include <cstdint>

// Compiled twice, for processors that work eight numbers at once and for all others; the right one is taken
// when the program starts. The sanitizers cannot look into that choice.
#if defined(__x86_64__) && !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
#define JOINTER_WIDE __attribute__((target_clones("avx2", "default")))
#else
#define JOINTER_WIDE
#endif

namespace jointer::paint {

namespace {

constexpr int kLanes = 8; // pixels of a row that are worked at once

// A premultiplied colour over what is there. Eight bits each; the error is below one step.
inline QRgb over(QRgb source, QRgb below) {
    const std::uint32_t keep = 255 - qAlpha(source);
    std::uint32_t rb = (below & 0xff00ff) * keep, ag = ((below >> 8) & 0xff00ff) * keep;
    rb = ((rb + ((rb >> 8) & 0xff00ff) + 0x800080) >> 8) & 0xff00ff;
    ag = (ag + ((ag >> 8) & 0xff00ff) + 0x800080) & 0xff00ff00;
    return source + (rb | ag);
}

inline QRgb scaled(const float (&colour)[4], float by) {
    const auto part = [by](float c) { return static_cast<int>(c * by + 0.5F); };
    return qRgba(part(colour[0]), part(colour[1]), part(colour[2]), part(colour[3]));
}

} // namespace

void Coverage::begin(const QImage& onto, const QRect& clip) {
    clip_ = clip.intersected(onto.rect());
    width_ = std::max(0, clip_.width());
    height_ = std::max(0, clip_.height());
    stride_ = static_cast<std::size_t>(width_ + kLanes + 2);
    cells_.resize(std::max(cells_.size(), stride_ * static_cast<std::size_t>(height_)));
    rows_.assign(static_cast<std::size_t>(height_), {});
    summed_ = false;
}

void Coverage::touch(int y, int from, int to) {
    Row& row = rows_[static_cast<std::size_t>(y)];
    if (row.from == row.to)
        row = {from, to};
    else
        row = {std::min(row.from, from), std::max(row.to, to)};
}

bool Coverage::reaches(std::span<const QPointF> points, double width) const {
    double left = INFINITY, right = -INFINITY, top = INFINITY, bottom = -INFINITY;
    for (const QPointF& p : points) {
        left = std::min(left, p.x());
        right = std::max(right, p.x());
        top = std::min(top, p.y());
        bottom = std::max(bottom, p.y());
    }
    const double by = width / 2 + 1;
    return left - by <= clip_.x() + width_ && right + by >= clip_.x() && top - by <= clip_.y() + height_ &&
           bottom + by >= clip_.y();
}

void Coverage::line(std::span<const QPointF> points, double width) {
    const QPointF origin = clip_.topLeft();
    for (std::size_t k = 1; k < points.size(); ++k)
        piece(points[k - 1] - origin, points[k] - origin, width / 2);
}

JOINTER_WIDE void Coverage::piece(QPointF from, QPointF to, double half) {
    if (std::max(from.y(), to.y()) + half + 1 < 0 || std::min(from.y(), to.y()) - half - 1 > height_) return;
    if (!(std::abs(from.x()) + std::abs(from.y()) + std::abs(to.x()) + std::abs(to.y()) < 1e8)) return;
    const auto ax = static_cast<float>(from.x()), ay = static_cast<float>(from.y()),
               dx = static_cast<float>(to.x() - from.x()), dy = static_cast<float>(to.y() - from.y());
    const auto reach = static_cast<float>(half) + 0.5F, most = static_cast<float>(std::min(1.0, 2 * half));
    const float square = dx * dx + dy * dy, perSquare = square > 0 ? 1 / square : 0;
    const float left = std::min(ax, ax + dx) - reach, right = std::max(ax, ax + dx) + reach;
    const int first = std::max(0, static_cast<int>(std::floor(std::min(ay, ay + dy) - reach))),
              end = std::min(height_, static_cast<int>(std::min(ay, ay + dy) + std::abs(dy) + reach) + 1);
    if (right < 0 || left > static_cast<float>(width_)) return;
    // Of each row only where it crosses the strip about the piece.
    const bool crosses = std::abs(dy) > 1e-3F;
    const float slope = crosses ? dx / dy : 0,
                across = crosses ? reach * std::sqrt(square) / std::abs(dy) : 0;
    for (int y = first; y < end; ++y) {
        const float py = static_cast<float>(y) + 0.5F - ay;
        const float x0f = crosses ? std::max(left, ax + py * slope - across) : left,
                    x1f = crosses ? std::min(right, ax + py * slope + across) : right;
        const int x0 = std::max(0, static_cast<int>(x0f)), x1 = std::min(width_, static_cast<int>(x1f) + 1);
        if (x0 >= x1) continue;
        touch(y, x0, x1);
        float* row = rowAt(y);
        for (int x = x0; x < x1; x += kLanes) { // a fixed number at once, which the compiler does in parallel
            float* cells = row + x;
            const float start = static_cast<float>(x) + 0.5F - ax;
            for (int k = 0; k < kLanes; ++k) {
                const float px = start + static_cast<float>(k);
                const float at = (px * dx + py * dy) * perSquare, share = at < 0 ? 0 : at,
                            along = share > 1 ? 1 : share;
                const float ex = px - along * dx, ey = py - along * dy;
                const float covered = reach - std::sqrt(ex * ex + ey * ey),
                            own = covered < most ? covered : most;
                cells[k] = cells[k] > own ? cells[k] : own;
            }
        }
    }
}

void Coverage::area(std::span<const QPointF> points) {
    summed_ = true;
    const QPointF origin = clip_.topLeft();
    for (std::size_t k = 0; k < points.size(); ++k)
        edge(points[k] - origin, points[(k + 1) % points.size()] - origin);
}

// Adds to each row what lies at the right of the edge, as differences from pixel to pixel.
void Coverage::edge(QPointF a, QPointF b) {
    if (a.y() == b.y()) return;
    const float sign = a.y() < b.y() ? 1 : -1;
    if (sign < 0) std::swap(a, b);
    const double slope = (b.x() - a.x()) / (b.y() - a.y());
    const int first = std::max(0, static_cast<int>(std::floor(a.y()))),
              end = std::min(height_, static_cast<int>(std::ceil(b.y())));
    for (int y = first; y < end; ++y) {
        const double top = std::max<double>(y, a.y()), bottom = std::min<double>(y + 1, b.y());
        double from = a.x() + (top - a.y()) * slope, to = a.x() + (bottom - a.y()) * slope;
        if (from > to) std::swap(from, to);
        auto height = static_cast<float>(bottom - top) * sign;
        float* row = rowAt(y);
        if (from < 0) { // what lies left of the clip covers it from its border on
            const double share = to <= 0 ? 1 : -from / (to - from);
            row[0] += height * static_cast<float>(share);
            touch(y, 0, 1);
            height *= static_cast<float>(1 - share);
            from = 0;
            if (to <= 0) continue;
        }
        if (to > width_) { // what is covered goes on to the clip's end
            touch(y, width_ - 1, width_);
            height *= from >= width_ ? 0 : static_cast<float>((width_ - from) / (to - from));
            to = width_;
        }
        if (from >= width_) continue;
        const int x0 = static_cast<int>(from), x1 = std::max(x0 + 1, static_cast<int>(std::ceil(to)));
        touch(y, x0, std::min(width_, x1 + 1));
        if (x1 == x0 + 1) {
            const auto middle = static_cast<float>((from + to) / 2 - x0);
            row[x0] += height * (1 - middle);
            row[x1] += height * middle;
            continue;
        }
        // Spread evenly from `from` to `to`: the covered part of each pixel grows as a square, then evenly.
        const auto per = static_cast<float>(height / (to - from));
        float before = 0;
        for (int x = x0; x < x1; ++x) {
            const double u = std::max(from, static_cast<double>(x)), v = std::min(to, x + 1.0);
            // The mean over the pixel of what lies at the right of the edge.
            const auto own = per * static_cast<float>((v - u) * (x + 1 - (u + v) / 2));
            const auto passed = per * static_cast<float>(u - from);
            row[x] += own + passed - before;
            before = own + passed;
        }
        row[x1] += height - before;
    }
}

void Coverage::blend(QImage& onto, const QColor& colour) {
    const auto alpha = static_cast<float>(colour.alphaF());
    const float premultiplied[] = {static_cast<float>(colour.red()) * alpha,
                                   static_cast<float>(colour.green()) * alpha,
                                   static_cast<float>(colour.blue()) * alpha, 255 * alpha};
    const float least = 0.5F / 255;
    for (int y = 0; y < height_; ++y) {
        const Row touched = rows_[static_cast<std::size_t>(y)];
        if (touched.from == touched.to) continue;
        float* row = rowAt(y);
        QRgb* out = reinterpret_cast<QRgb*>(onto.scanLine(clip_.y() + y)) + clip_.x();
        float sum = 0;
        for (int x = touched.from; x < touched.to;) {
            sum = summed_ ? sum + row[x] : row[x];
            int end = x + 1; // as far as nothing changes
            if (summed_)
                while (end < touched.to && row[end] == 0) ++end;
            const float covered = std::min(1.0F, std::abs(sum));
            if (covered > least) {
                const QRgb source = scaled(premultiplied, covered);
                for (int k = x; k < end; ++k) out[k] = over(source, out[k]);
            }
            x = end;
        }
        std::fill(row + touched.from, row + std::min<std::size_t>(touched.to + kLanes, stride_), 0.0F);
    }
    rows_.assign(rows_.size(), {});
    summed_ = false;
}

bool isBetweenCurves(std::span<const draw::Point> points) {
    int turns = 0, direction = 0;
    for (std::size_t k = 0; k < points.size(); ++k) {
        const double step = points[k + 1 < points.size() ? k + 1 : 0].x - points[k].x;
        const int now = step > 0 ? 1 : step < 0 ? -1 : 0;
        if (now == 0) continue;
        turns += direction != 0 && now != direction;
        direction = now;
    }
    return turns <= 2;
}

} // namespace jointer::paint
