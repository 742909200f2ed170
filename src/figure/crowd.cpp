// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/crowd.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

constexpr double kCell = 0.5;
constexpr std::size_t kMost = 4000; // cells in each direction: two metres
constexpr double kLongest = 500;    // mm; of longer pieces only the ends count

std::size_t cell(double mm, std::size_t count) {
    return mm > 0 ? static_cast<std::size_t>(std::min(mm / kCell, static_cast<double>(count - 1))) : 0;
}

} // namespace

Crowd::Crowd(const draw::Rect& area)
    : area_(area), columns_(cell(area.width, kMost) + 1), rows_(cell(area.height, kMost) + 1),
      sums_((columns_ + 1) * (rows_ + 1), 0) {}

std::size_t Crowd::column(double x) const {
    return cell(x - area_.x, columns_);
}
std::size_t Crowd::row(double y) const {
    return cell(y - area_.y, rows_);
}

void Crowd::add(const draw::Group& drawn) {
    for (const draw::Item& item : drawn.items) {
        if (const auto* symbols = std::get_if<draw::Symbols>(&item.what))
            for (const draw::Point& at : symbols->places) add(at);
        if (const auto* path = std::get_if<draw::Path>(&item.what))
            for (const draw::Polyline& l : path->lines) add(l);
    }
}

void Crowd::add(const draw::Point& p) {
    if (area_.contains(p)) ++sums_[place(column(p.x) + 1, row(p.y) + 1)];
}

void Crowd::add(const draw::Polyline& line) {
    for (std::size_t i = 0; i < line.points.size(); ++i) {
        add(line.points[i]);
        if (i == 0) continue;
        const draw::Point a = line.points[i - 1], b = line.points[i];
        const double length = std::abs(b.x - a.x) + std::abs(b.y - a.y);
        const int steps = length < kLongest ? static_cast<int>(length) : 0;
        for (int k = 1; k < steps; ++k) {
            const double t = static_cast<double>(k) / steps;
            add(draw::Point{a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)});
        }
    }
}

void Crowd::sum() {
    for (std::size_t r = 1; r <= rows_; ++r)
        for (std::size_t c = 1; c <= columns_; ++c)
            sums_[place(c, r)] +=
                sums_[place(c - 1, r)] + sums_[place(c, r - 1)] - sums_[place(c - 1, r - 1)];
}

long Crowd::within(const draw::Rect& r) const {
    const std::size_t left = column(r.x), right = column(r.right()) + 1, top = row(r.y),
                      bottom = row(r.bottom()) + 1;
    return sums_[place(right, bottom)] - sums_[place(left, bottom)] - sums_[place(right, top)] +
           sums_[place(left, top)];
}

} // namespace jointer::figure
