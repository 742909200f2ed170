// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/relief.h"

#include <fmt/format.h>
#include <numbers>

namespace jointer::figure {

using draw::Point;

Relief::Relief(Range x, Range y, Range z, const View& view)
    : x_(x), y_(y), z_(z), view_(view), cosA_(std::cos(view.azimuthDeg * std::numbers::pi / 180)),
      sinA_(std::sin(view.azimuthDeg * std::numbers::pi / 180)),
      cosE_(std::cos(view.elevationDeg * std::numbers::pi / 180)),
      sinE_(std::sin(view.elevationDeg * std::numbers::pi / 180)) {
    std::vector<Point> corners;
    for (const double a : {0.0, 1.0})
        for (const double b : {0.0, 1.0})
            for (const double c : {0.0, 1.0}) corners.push_back(corner(a, b, c));
    plane_ = draw::boundsOf(corners);
}

Point Relief::corner(double x, double y, double z) const {
    const double a = (x - 0.5) * view_.width, b = (y - 0.5) * view_.depth, c = (z - 0.5) * view_.height;
    return {a * cosA_ + b * sinA_, c * cosE_ + (b * cosA_ - a * sinA_) * sinE_};
}

double Relief::depthOf(double x, double y) const {
    return (y - 0.5) * view_.depth * cosA_ - (x - 0.5) * view_.width * sinA_;
}

bool Relief::isBehind(const fields::Field& surface, double x, double y, double z) const {
    // Towards the reader along the ray, in shares of the ranges for one step of the box.
    const double dx = sinA_ * cosE_ / view_.width, dy = -cosA_ * cosE_ / view_.depth,
                 dz = sinE_ / view_.height;
    const double least = 1e-6 * span(z_); // what lies upon it is not behind
    const int steps =
        static_cast<int>(std::clamp<std::size_t>(8 * std::max(surface.columns(), surface.rows()), 120, 600));
    const double longest = 1.5 * std::max({view_.width, view_.depth, view_.height}) / steps;
    int side = 0; // of the surface on which the ray was last
    for (int k = 0; k <= steps; ++k) {
        const double t = longest * k;
        const double there = fields::valueAt(surface, x + t * dx * span(x_), y + t * dy * span(y_));
        if (!std::isfinite(there)) {
            if (k > 0) return false; // it has left the surface
            continue;
        }
        const double above = z + t * dz * span(z_) - there;
        if (std::abs(above) < least) continue;
        const int now = above > 0 ? 1 : -1;
        if (side != 0 && now != side) return true;
        side = now;
    }
    return false;
}

Point Relief::place(double x, double y, double z) const {
    return corner((x - x_.low) / span(x_), (y - y_.low) / span(y_), (z - z_.low) / span(z_));
}

Projected Relief::project(const Curve& c, const Dataset& d, std::vector<Issue>& issues) const {
    auto out = std::make_shared<Curve>();
    if (c.more.empty()) {
        issues.push_back(
            {"not-placed", fmt::format("“{}” has no x, y and z to stand in this view.", d.name), {}});
        return {std::move(out), {}};
    }
    out->rowIds = c.rowIds;
    out->excluded = c.excluded;
    for (std::size_t i = 0; i < c.size(); ++i) {
        const Point p = holds(c.x[i], c.more[0][i]) ? place(c.x[i], c.more[0][i], c.y[i]) : Point{NAN, NAN};
        out->x.push_back(p.x);
        out->y.push_back(p.y);
    }
    return {std::move(out), {}};
}

} // namespace jointer::figure
