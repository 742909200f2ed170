// SPDX-License-Identifier: GPL-3.0-or-later
// Every value at its place: beside each other where they would cover each other, jittered, or joined in
// pairs.
#include "figure/marks/grouped.h"
#include "stats/summary.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

// A number between −1 and 1 that a row always gets.
double jitterOf(std::uint32_t row, std::size_t k) {
    std::uint64_t h = (static_cast<std::uint64_t>(row) << 20) + k + 0x9E3779B97F4A7C15ULL;
    h = (h ^ (h >> 30)) * 0xBF58476D1CE4E5B9ULL;
    h = (h ^ (h >> 27)) * 0x94D049BB133111EBULL;
    return 2 * static_cast<double>((h ^ (h >> 31)) >> 11) / 9007199254740992.0 - 1;
}

class Strips final : public Grouped {
public:
    std::string spread = "beside";
    bool paired = false;
    SymbolLook symbol;
    LineLook pairLine;
    std::string middle = "none"; // a line at each place: mean, median
    double middleMm = 0.4;

    bool keepsDistance() const override { return false; }

    void draw(const Frame& frame, Group& into) const override {
        if (!curve) return;
        Symbols points = symbol.symbols(colour);
        std::map<std::uint32_t, std::vector<Point>> pairs;
        for (const PlaceValues& at : valuesByPlace(*curve)) {
            const std::vector<Point> places = placesOf(frame, at);
            for (std::size_t k = 0; k < places.size(); ++k)
                if (paired && at.rows[k]) pairs[at.rows[k]].push_back(places[k]);
            std::ranges::copy(places, std::back_inserter(points.places));
        }
        if (paired) {
            std::vector<Polyline> lines;
            for (auto& [row, places] : pairs)
                if (places.size() > 1) lines.push_back({places});
            if (!lines.empty()) add(into, linePath(std::move(lines), pairLine, colour.withAlpha(0.5)));
        }
        if (!points.places.empty()) add(into, std::move(points));
        if (middle != "none") drawMiddles(frame, into);
    }
    void key(Rect r, Group& into) const override {
        Symbols s = symbol.symbols(colour);
        s.places = {{r.x + r.width / 2, r.y + r.height / 2}};
        add(into, std::move(s));
    }

protected:
    std::optional<Range> valueReach(const Scale& values) const override {
        std::optional<Range> range;
        for (std::size_t i = 0; curve && i < curve->size(); ++i) {
            if (!curve->counts(i)) continue;
            if (curve->replicates.empty()) widen(range, curve->y[i], values);
            for (const auto& r : curve->replicates) widen(range, r[i], values);
        }
        return range;
    }

private:
    // Beside each other: from the lowest value on, each goes as near to the middle as those before it allow.
    std::vector<Point> placesOf(const Frame& frame, const PlaceValues& values) const {
        const double centre = middleOf(values.place);
        std::vector<Point> out(values.values.size());
        for (std::size_t k = 0; k < out.size(); ++k) out[k] = at(frame, centre, values.values[k]);
        const double halfMm =
            0.5 *
            (level
                 ? box(frame, centre - halfWidth(), centre + halfWidth(), values.values[0], values.values[0])
                       .height
                 : box(frame, centre - halfWidth(), centre + halfWidth(), values.values[0], values.values[0])
                       .width);
        auto along = [this](Point& p) -> double& { return level ? p.y : p.x; };
        auto up = [this](const Point& p) { return level ? p.x : p.y; };
        if (spread == "jitter")
            for (std::size_t k = 0; k < out.size(); ++k)
                along(out[k]) += halfMm * jitterOf(values.rows[k], k);
        if (spread != "beside") return out;
        std::vector<std::size_t> order(out.size());
        for (std::size_t k = 0; k < order.size(); ++k) order[k] = k;
        std::ranges::sort(order, {}, [&](std::size_t k) { return values.values[k]; });
        const double gap = symbol.sizeMm * 1.05;
        std::vector<std::pair<double, double>> near; // shift, height of those close below
        for (std::size_t k : order) {
            std::erase_if(near, [&](const auto& n) { return std::abs(n.second - up(out[k])) >= gap; });
            double best = 0;
            if (!near.empty()) {
                std::vector<double> tries = {0};
                for (const auto& [shift, height] : near) {
                    const double dy = height - up(out[k]),
                                 reach = std::sqrt(std::max(0.0, gap * gap - dy * dy));
                    tries.push_back(shift + reach);
                    tries.push_back(shift - reach);
                }
                std::ranges::stable_sort(tries, {}, [](double t) { return std::abs(t); });
                for (double t : tries) {
                    best = t;
                    const bool free = std::ranges::none_of(near, [&](const auto& n) {
                        return std::hypot(n.first - t, n.second - up(out[k])) < gap * (1 - 1e-9);
                    });
                    if (free) break;
                }
            }
            near.emplace_back(best, up(out[k]));
            along(out[k]) += std::clamp(best, -halfMm, halfMm);
        }
        return out;
    }

    void drawMiddles(const Frame& frame, Group& into) const {
        Path path{
            .lines = {}, .stroke = Stroke{.widthMm = middleMm, .colour = frame.text.colour}, .fill = {}};
        for (const PlaceValues& values : valuesByPlace(*curve)) {
            const stats::Summary s = stats::summarise(values.values);
            const double value = middle == "mean" ? s.mean : s.median;
            const double centre = middleOf(values.place), half = 0.8 * halfWidth();
            path.lines.push_back({{at(frame, centre - half, value), at(frame, centre + half, value)}});
        }
        if (!path.lines.empty()) add(into, std::move(path));
    }
};

MarkPtr prepareStrips(const MarkTask& task) {
    auto s = std::make_unique<Strips>();
    prepareGrouped(task, *s);
    s->symbol = SymbolLook(task.look);
    s->spread = task.look.text("spread");
    s->paired = task.look.flag("paired");
    s->pairLine = LineLook(task.look);
    s->middle = task.look.text("middle");
    return s;
}

} // namespace

MarkKind stripsMark() {
    std::vector<Setting> own = {
        choice("spread", "Spread",
               {{"beside", "beside each other"}, {"jitter", "jittered"}, {"line", "in a line"}},
               "How values at one place keep out of each other's way."),
        choice("middle", "Line", {{"none", "none"}, {"mean", "at the mean"}, {"median", "at the median"}},
               "A line at each place."),
        flag("paired", "Joined", false, "Join the values of one row: paired measurements.",
             {.group = kShownGroup})};
    std::vector<Setting> symbols = symbolSettings(), line = lineSettings();
    std::erase_if(symbols, [](const Setting& s) {
        return s.key == "excluded" || s.key == "shown" || s.key == "spacing";
    });
    symbols[1].fallback = 2.6;
    line[0].fallback = 0.5;
    for (Setting& s : line) {
        s.group = kLooksGroup;
        s.shownIf = "paired=yes";
    }
    std::vector<Setting> all =
        together({commonSettings(), symbols, own, line, groupedSettings(0.7), datasetSettings()});
    return {.info = {.key = "strips",
                     .name = "Single values",
                     .purpose = "Every value at its place, beside each other or jittered; pairs joined",
                     .group = "Marks",
                     .settings = without(std::move(all), "offset")},
            .takes = Takes::Groups,
            .prepare = prepareStrips,
            .arrange = beside,
            .likely = [](const Curve& c) { return c.xMeaning.categories.empty() ? 0 : 7; }};
}

} // namespace jointer::figure
