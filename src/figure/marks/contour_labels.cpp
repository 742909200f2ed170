// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/contour_labels.h"

#include "draw/reading_angle.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kStraight = 0.93; // chord over arc, that a label may stand on
constexpr int kTries = 24;         // places looked at between two labels

struct Along {
    std::vector<double> length; // from the beginning to each point
    const std::vector<Point>& points;

    explicit Along(const std::vector<Point>& p) : points(p) {
        length.push_back(0);
        for (std::size_t k = 1; k < p.size(); ++k)
            length.push_back(length.back() + std::hypot(p[k].x - p[k - 1].x, p[k].y - p[k - 1].y));
    }
    double total() const { return length.back(); }
    Point at(double s) const {
        const auto above = std::ranges::upper_bound(length, s);
        const auto k =
            std::clamp<std::size_t>(static_cast<std::size_t>(above - length.begin()), 1, points.size() - 1);
        const double step = length[k] - length[k - 1],
                     t = step > 0 ? std::clamp((s - length[k - 1]) / step, 0.0, 1.0) : 0;
        return {std::lerp(points[k - 1].x, points[k].x, t), std::lerp(points[k - 1].y, points[k].y, t)};
    }
    Polyline part(double from, double to) const {
        Polyline out{.points = {at(from)}};
        for (std::size_t k = 0; k < points.size(); ++k)
            if (length[k] > from && length[k] < to) out.points.push_back(points[k]);
        out.points.push_back(at(to));
        return out;
    }
};

} // namespace

bool LineLabels::isFree(const Point& p, double reach) const {
    if (!area_.grown(-reach).contains(p)) return false;
    return std::ranges::none_of(taken_, [&](const auto& other) {
        return std::hypot(other.first.x - p.x, other.first.y - p.y) < other.second + reach + 0.5;
    });
}

std::vector<Polyline> LineLabels::broken(Polyline line, const std::string& markup) {
    if (line.closed && !line.points.empty()) line.points.push_back(line.points.front());
    if (line.points.size() < 2) return {};
    line.closed = false;
    const SetText set = setText(markup, style_);
    const double em = style_.sizePt * kMmPerPt, gap = set.widthMm + 0.6 * em;
    const Along along(line.points);
    if (along.total() < 1.6 * gap + 2) return {std::move(line)};
    std::vector<Stretch> labels;
    const auto wanted = std::max(1, static_cast<int>(along.total() / std::max(everyMm_, 2 * gap)));
    for (int n = 0; n < wanted; ++n) {
        // The straightest of some places in this part of the line.
        const double low = along.total() * n / wanted, high = along.total() * (n + 1) / wanted;
        std::optional<Stretch> best;
        double bestWorth = 0;
        for (int k = 0; k < kTries; ++k) {
            const double centre = std::lerp(low, high, (k + 0.5) / kTries), from = centre - gap / 2,
                         to = centre + gap / 2;
            if (from < 0.3 || to > along.total() - 0.3) continue;
            if (!labels.empty() && from < labels.back().to + 1) continue;
            const Point a = along.at(from), b = along.at(to), m = along.at(centre);
            const double straight = std::hypot(b.x - a.x, b.y - a.y) / gap;
            if (straight < kStraight || !isFree(m, gap / 2)) continue;
            const double level = 1 - std::abs(b.y - a.y) / gap,
                         middle = 1 - std::abs(2 * (k + 0.5) / kTries - 1);
            const double worth = straight + 0.05 * level + 0.03 * middle;
            if (worth <= bestWorth) continue;
            best = {from, to, {(a.x + b.x + 2 * m.x) / 4, (a.y + b.y + 2 * m.y) / 4}, readingAngle(a, b)};
            bestWorth = worth;
        }
        if (!best) continue;
        taken_.emplace_back(best->middle, gap / 2);
        for (Item& item : placed(set, best->middle, HAlign::Centre, VAlign::Middle, best->angleDeg))
            texts_.push_back(std::move(item));
        labels.push_back(*best);
    }
    std::vector<Polyline> parts;
    double at = 0;
    for (const Stretch& s : labels) {
        parts.push_back(along.part(at, s.from));
        at = s.to;
    }
    parts.push_back(labels.empty() ? std::move(line) : along.part(at, along.total()));
    return parts;
}

} // namespace jointer::figure
