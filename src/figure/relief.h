// SPDX-License-Identifier: GPL-3.0-or-later
// A box of x, y and z seen from a side, by parallel rays: where its places stand in the plane of the picture.
// Thread-safe once
// it is made.
#pragma once

#include "figure/projection.h"
#include "figure/scales/scale.h"

namespace jointer::figure {

class Relief final : public Projection {
public:
    struct View {
        double azimuthDeg = 30, elevationDeg = 30; // turned about z; looked down upon
        double width = 1, depth = 1, height = 0.6; // of the box, in proportion
    };
    Relief(Range x, Range y, Range z, const View& view);

    draw::Point place(double x, double y, double z) const;  // of values
    draw::Point corner(double x, double y, double z) const; // of shares of the ranges, 0 … 1
    double depthOf(double x, double y) const;               // of shares: larger is farther away
    bool holds(double x, double y) const {                  // with a hair of rounding
        return x >= x_.low - 1e-9 * span(x_) && x <= x_.high + 1e-9 * span(x_) &&
               y >= y_.low - 1e-9 * span(y_) && y <= y_.high + 1e-9 * span(y_);
    }
    // Whether a surface stands between the place and the reader, who looks from far away.
    bool isBehind(const fields::Field& surface, double x, double y, double z) const;

    void addSurface(fields::FieldPtr surface) { surfaces_.push_back(std::move(surface)); }
    const std::vector<fields::FieldPtr>& surfaces() const { return surfaces_; } // that the panel shows

    const Range& x() const { return x_; }
    const Range& y() const { return y_; }
    const Range& z() const { return z_; }

    draw::Rect plane() const override { return plane_; }
    Projected project(const Curve& curve, const Dataset& dataset, std::vector<Issue>& issues) const override;
    std::string wordsAt(draw::Point) const override { return {}; } // a place stands for a line of sight

private:
    static double span(const Range& r) { return r.high - r.low; }

    Range x_, y_, z_;
    View view_;
    double cosA_, sinA_, cosE_, sinE_;
    draw::Rect plane_{};
    std::vector<fields::FieldPtr> surfaces_;
};

} // namespace jointer::figure
