// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/artwork_fill.h"

#include <cmath>

namespace jointer::draw::svg {

std::optional<double> Gradient::parameter(Point p) const {
    if (!radial) {
        const double dx = to.x - from.x, dy = to.y - from.y, length = dx * dx + dy * dy;
        return length > 0 ? ((p.x - from.x) * dx + (p.y - from.y) * dy) / length : 1;
    }
    // The circle about a place between focus and middle, of a radius as far along, through p.
    const double cx = to.x - from.x, cy = to.y - from.y, px = p.x - from.x, py = p.y - from.y;
    const double a = cx * cx + cy * cy - radius * radius, b = px * cx + py * cy, c = px * px + py * py;
    if (std::abs(a) < 1e-12) return b > 0 ? std::optional(c / (2 * b)) : std::nullopt;
    const double inside = b * b - a * c;
    if (inside < 0) return {};
    const double root = std::sqrt(inside);
    const double t = std::max((b + root) / a, (b - root) / a);
    return t >= 0 ? std::optional(t) : std::nullopt;
}
Colour Gradient::colour(double t) const {
    if (stops.empty()) return {0, 0, 0, 0};
    if (repeats) t -= std::floor(t);
    if (reflects) t = std::abs(t - 2 * std::round(t / 2));
    const auto after = std::ranges::upper_bound(stops, t, {}, &Stop::at);
    if (after == stops.begin()) return stops.front().colour;
    if (after == stops.end()) return stops.back().colour;
    const Stop &a = *(after - 1), &b = *after;
    const double part = b.at > a.at ? (t - a.at) / (b.at - a.at) : 1;
    const auto mix = [part](std::uint8_t u, std::uint8_t v) {
        return static_cast<std::uint8_t>(std::lround(std::lerp(u, v, part)));
    };
    return {mix(a.colour.r, b.colour.r), mix(a.colour.g, b.colour.g), mix(a.colour.b, b.colour.b),
            mix(a.colour.a, b.colour.a)};
}
bool Gradient::hasSteps() const {
    for (std::size_t k = 1; k < stops.size(); ++k)
        if (stops[k].at - stops[k - 1].at < 0.004 && stops[k].colour != stops[k - 1].colour &&
            stops.size() < 64)
            return true;
    return false;
}

Picture pictureOf(const Gradient& g, const Rect& reach, const Matrix& back) {
    const double fine = g.hasSteps() ? 1000 : 300, longer = std::max(reach.width, reach.height);
    const auto count = [&](double length) {
        return static_cast<std::size_t>(std::max(2.0, std::ceil(fine * length / longer)));
    };
    const std::size_t columns = count(reach.width), rows = count(reach.height);
    auto pixels = std::make_shared<std::vector<std::uint8_t>>();
    pixels->reserve(4 * columns * rows);
    for (std::size_t row = 0; row < rows; ++row)
        for (std::size_t column = 0; column < columns; ++column) {
            const double x = (static_cast<double>(column) + 0.5) / static_cast<double>(columns),
                         y = (static_cast<double>(row) + 0.5) / static_cast<double>(rows);
            const auto t = g.parameter(back({reach.x + x * reach.width, reach.y + y * reach.height}));
            const Colour c = t ? g.colour(*t) : Colour{0, 0, 0, 0};
            pixels->insert(pixels->end(), {c.r, c.g, c.b, c.a});
        }
    return {.bounds = reach, .columns = columns, .rows = rows, .pixels = std::move(pixels), .smooth = true};
}

double seenThrough(Colour c, bool byOpacity) {
    const double light = (0.2126 * c.r + 0.7152 * c.g + 0.0722 * c.b) / 255;
    return c.a / 255.0 * (byOpacity ? 1 : light);
}

std::shared_ptr<const std::vector<std::uint8_t>> throughOf(const Picture& picture, bool byOpacity) {
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(*picture.pixels);
    for (std::size_t k = 0; k + 3 < pixels->size(); k += 4) {
        const Colour c{(*pixels)[k], (*pixels)[k + 1], (*pixels)[k + 2], (*pixels)[k + 3]};
        (*pixels)[k + 3] = c.withAlpha(seenThrough(c, byOpacity)).a;
    }
    return pixels;
}

bool maskPicture(Item& item, const Mask& mask) {
    Matrix m;
    Picture* picture = std::get_if<Picture>(&item.what);
    if (auto* turned = std::get_if<Group>(&item.what);
        turned && turned->matrix && turned->items.size() == 1 && turned->outline.empty() && !turned->clip) {
        m = *turned->matrix;
        picture = std::get_if<Picture>(&turned->items.front().what);
    }
    const auto back = inverse(mask.matrix);
    if (!picture || !back) return false;
    const Rect &own = picture->bounds, &other = mask.picture.bounds;
    const auto count = [](std::size_t n) { return static_cast<double>(n); };
    const double columns = count(mask.picture.columns), rows = count(mask.picture.rows);
    auto pixels = std::make_shared<std::vector<std::uint8_t>>(*picture->pixels);
    for (std::size_t row = 0; row < picture->rows; ++row)
        for (std::size_t column = 0; column < picture->columns; ++column) {
            const double u = (count(column) + 0.5) / count(picture->columns),
                         v = (count(row) + 0.5) / count(picture->rows);
            const Point at = (*back)(m({own.x + u * own.width, own.y + v * own.height}));
            const double x = (at.x - other.x) / other.width * columns,
                         y = (at.y - other.y) / other.height * rows;
            std::uint8_t& a = (*pixels)[4 * (row * picture->columns + column) + 3];
            const bool outside = !(x >= 0 && y >= 0 && x < columns && y < rows);
            const std::size_t from =
                outside ? 0
                        : static_cast<std::size_t>(y) * mask.picture.columns + static_cast<std::size_t>(x);
            a = outside ? std::uint8_t{0}
                        : static_cast<std::uint8_t>(a * (*mask.picture.pixels)[4 * from + 3] / 255);
        }
    picture->pixels = std::move(pixels);
    return true;
}

} // namespace jointer::draw::svg
