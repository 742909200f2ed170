// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/grouped.h"

#include "figure/marks/sources.h"

#include <cmath>
#include <set>

namespace jointer::figure {

using namespace describe;
using namespace draw;

std::vector<PlaceValues> valuesByPlace(const Curve& c) {
    std::vector<PlaceValues> out;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i)) continue;
        if (out.empty() || out.back().place != c.x[i]) out.push_back({c.x[i]});
        const std::uint32_t row = i < c.rowIds.size() ? c.rowIds[i] : 0;
        if (c.replicates.empty()) {
            out.back().values.push_back(c.y[i]);
            out.back().rows.push_back(row);
        }
        for (const auto& r : c.replicates)
            if (std::isfinite(r[i])) {
                out.back().values.push_back(r[i]);
                out.back().rows.push_back(row);
            }
    }
    return out;
}

void Grouped::useCategories(const std::vector<std::string>& names) {
    curve = recategorised(curve, names);
    unit_.reset();
    remake();
}

double Grouped::unit() const {
    if (unit_) return *unit_;
    double least = INFINITY;
    for (std::size_t i = 1; curve && i < curve->size(); ++i)
        if (curve->x[i] > curve->x[i - 1]) least = std::min(least, curve->x[i] - curve->x[i - 1]);
    const bool names = curve && !curve->xMeaning.categories.empty();
    unit_ = names || !std::isfinite(least) ? 1 : least;
    return *unit_;
}

double Grouped::middleOf(double place) const {
    const double share = (static_cast<double>(slot) + 0.5) / static_cast<double>(slots) - 0.5;
    return place + unit() * widthShare * share;
}

std::optional<Range> Grouped::extentX(const Scale& x) const {
    if (level) return valueReach(x);
    std::optional<Range> range;
    for (std::size_t i = 0; curve && i < curve->size(); ++i)
        if (curve->counts(i)) {
            widen(range, curve->x[i] - unit() / 2, x);
            widen(range, curve->x[i] + unit() / 2, x);
        }
    return range;
}

std::optional<Range> Grouped::extentY(const Scale& y, const Range&) const {
    if (!level) return valueReach(y);
    std::optional<Range> range;
    for (std::size_t i = 0; curve && i < curve->size(); ++i)
        if (curve->counts(i)) {
            widen(range, curve->x[i] - unit() / 2, y);
            widen(range, curve->x[i] + unit() / 2, y);
        }
    return range;
}

Point Grouped::at(const Frame& frame, double place, double value) const {
    const double along = (level ? frame.y : frame.x).place(place);
    const double up = valuesAxis(frame).placeOrStart(value);
    return level ? Point{cut(up), cut(along)} : Point{cut(along), cut(up)};
}

Rect Grouped::box(const Frame& frame, double from, double to, double low, double high) const {
    const Point a = at(frame, from, low), b = at(frame, to, high);
    return {std::min(a.x, b.x), std::min(a.y, b.y), std::abs(b.x - a.x), std::abs(b.y - a.y)};
}

std::vector<Setting> groupedSettings(double width) {
    return {number("share", "Width", width, "Of the distance from one place to the next.",
                   {.lowest = 0.01, .highest = 1, .slider = std::pair(0.05, 1.0)}),
            choice("direction", "Stands", {{"upright", "upright"}, {"level", "level"}},
                   "Level: the values lie along x.", {.group = kPlaceGroup})};
}

void turnIfLevel(Grouped& mark) {
    if (mark.level) std::swap(mark.xMeaning, mark.yMeaning);
}

void prepareGrouped(const MarkTask& task, Grouped& mark) {
    const FoundCurve found = foundCurve(task, mark.issues);
    mark.curve = found.curve;
    takeFrom(found, task, mark);
    mark.offset = 0;
    mark.widthShare = task.look.number("share");
    mark.level = task.look.text("direction") == "level";
    turnIfLevel(mark);
}

void beside(std::span<Mark* const> marks) {
    std::vector<Grouped*> all;
    for (Mark* m : marks) all.push_back(static_cast<Grouped*>(m));
    std::set<double> seen;
    bool meet = false;
    for (const Grouped* g : all) {
        std::set<double> own;
        if (g->curve) own.insert(g->curve->x.begin(), g->curve->x.end());
        for (double place : own) meet |= !seen.insert(place).second;
    }
    if (!meet) return;
    for (std::size_t k = 0; k < all.size(); ++k) {
        all[k]->slot = k;
        all[k]->slots = all.size();
    }
}

} // namespace jointer::figure
