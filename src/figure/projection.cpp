// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/projection.h"

#include <fmt/format.h>

namespace jointer::figure {

using draw::Point;

fields::FieldPtr Projection::projectField(const fields::FieldPtr&, const Dataset& dataset,
                                          std::vector<Issue>& issues) const {
    issues.push_back(
        {"not-placed", fmt::format("The field “{}” has no place in these coordinates.", dataset.name), {}});
    return std::make_shared<const fields::Field>();
}

Point Triangle::place(double a, double b, double c) const {
    const fields::Place p = fields::inTriangle(a, b, c);
    return enlarged({p.x, p.y});
}

Point Triangle::enlarged(Point whole) const {
    return {(whole.x - least_[2] - least_[0] / 2) / size_, (whole.y - least_[0] * kHeight) / size_};
}

Point Triangle::inWhole(Point plane) const {
    return {size_ * plane.x + least_[2] + least_[0] / 2, size_ * plane.y + least_[0] * kHeight};
}

std::array<double, 3> Triangle::parts(Point p) const {
    const double up = p.y / kHeight, right = p.x - up / 2;
    const double a = least_[0] + size_ * up, c = least_[2] + size_ * right;
    return {a, 1 - a - c, c};
}

bool Triangle::holds(const std::array<double, 3>& parts, double slack) const {
    for (std::size_t k = 0; k < 3; ++k)
        if (!(parts[k] >= low(k) - slack)) return false;
    return true;
}

Point WaterPlane::cation(const std::array<double, 3>& of) const {
    return Triangle().place(of[1], of[0], of[2]);
}

Point WaterPlane::anion(const std::array<double, 3>& of) const {
    const Point p = Triangle().place(of[1], of[2], of[0]);
    return {p.x + 1 + gap_, p.y};
}

// The lines through both places, along the outer edges of their triangles, meet there.
Point WaterPlane::diamond(double alkalis, double strongAcids) const {
    return {(alkalis + 1 + gap_ + strongAcids) / 2, Triangle::kHeight * (1 + gap_ + strongAcids - alkalis)};
}

std::array<double, 3> WaterPlane::cationsAt(Point p) const {
    const auto parts = Triangle().parts(p);
    return {parts[1], parts[0], parts[2]};
}

std::array<double, 3> WaterPlane::anionsAt(Point p) const {
    const auto parts = Triangle().parts({p.x - 1 - gap_, p.y});
    return {parts[2], parts[0], parts[1]};
}

std::array<double, 2> WaterPlane::sharesAt(Point p) const {
    const double sum = 2 * p.x - 1 - gap_, difference = p.y / Triangle::kHeight - 1 - gap_;
    return {(sum - difference) / 2, (sum + difference) / 2};
}

} // namespace jointer::figure
