// SPDX-License-Identifier: GPL-3.0-or-later
// Bars: beside each other, stacked, or as shares of a whole.
#include "figure/marks/grouped.h"
#include "stats/summary.h"

#include <cmath>
#include <map>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

class Bars final : public Grouped {
public:
    std::string together = "beside";
    double base = 0, opacity = 1, outlineMm = 0;
    Colour outline;
    bool errors = true, caps = true;
    struct Bar {
        double place, value, error, from; // from: where it begins
    };
    std::vector<Bar> bars;

    std::vector<double> flushValues() const override {
        return together == "shares" ? std::vector<double>{0, 100} : std::vector<double>{base};
    }

    // One bar for each place: the mean of what is there.
    void remake() override {
        bars.clear();
        if (!curve) return;
        std::map<double, double> sigma; // of places with one point
        for (std::size_t i = 0; i < std::min(curve->size(), curve->sigma.size()); ++i)
            sigma[curve->x[i]] = curve->sigma[i];
        for (const PlaceValues& at : valuesByPlace(*curve)) {
            if (at.values.empty()) continue;
            const stats::Summary s = stats::summarise(at.values);
            const bool known =
                sigma.contains(at.place) && (at.values.size() == 1 || !curve->replicates.empty());
            bars.push_back({at.place, s.mean, known ? sigma[at.place] : s.sem, base});
        }
    }

    void draw(const Frame& frame, Group& into) const override {
        Path fill{.lines = {}, .stroke = {}, .fill = colour.withAlpha(opacity)};
        if (outlineMm > 0) fill.stroke = Stroke{.widthMm = outlineMm, .colour = outline, .join = Join::Miter};
        for (const Bar& b : bars) {
            const double middle = middleOf(b.place);
            fill.lines.push_back(rectangle(
                box(frame, middle - halfWidth(), middle + halfWidth(), b.from, b.from + (b.value - base))));
        }
        if (!fill.lines.empty()) add(into, std::move(fill));
        if (errors) drawErrors(frame, into);
    }
    void key(Rect r, Group& into) const override {
        Path fill{.lines = {rectangle({r.x + 0.2 * r.width, r.y, 0.6 * r.width, r.height})},
                  .stroke = {},
                  .fill = colour.withAlpha(opacity)};
        if (outlineMm > 0) fill.stroke = Stroke{.widthMm = outlineMm, .colour = outline};
        add(into, std::move(fill));
    }

protected:
    std::optional<Range> valueReach(const Scale& values) const override {
        std::optional<Range> range;
        for (const Bar& b : bars) {
            widen(range, b.from, values);
            const double top = b.from + (b.value - base);
            widen(range, top, values);
            if (!errors || !std::isfinite(b.error)) continue;
            widen(range, top + b.error, values);
            widen(range, top - b.error, values);
        }
        return range;
    }

private:
    void drawErrors(const Frame& frame, Group& into) const {
        Path path{.lines = {}, .stroke = Stroke{.widthMm = 0.2, .colour = frame.text.colour}, .fill = {}};
        for (const Bar& b : bars) {
            if (!(b.error > 0) || !std::isfinite(b.error)) continue;
            const double middle = middleOf(b.place), top = b.from + (b.value - base);
            const Point low = at(frame, middle, top - b.error), high = at(frame, middle, top + b.error);
            const double half =
                std::min(0.9, 0.35 * box(frame, middle - halfWidth(), middle + halfWidth(), base, top).width);
            path.lines.push_back({{low, high}});
            if (!caps) continue;
            for (const Point& p : {low, high})
                path.lines.push_back(level ? Polyline{{{p.x, p.y - half}, {p.x, p.y + half}}}
                                           : Polyline{{{p.x - half, p.y}, {p.x + half, p.y}}});
        }
        if (!path.lines.empty()) add(into, std::move(path));
    }
};

// Positive bars upon positive ones, negative below negative ones.
void stack(std::vector<Bars*>& all, bool shares) {
    std::map<double, double> sums;
    for (const Bars* bars : all)
        for (const Bars::Bar& b : bars->bars) sums[b.place] += std::abs(b.value);
    std::map<double, std::pair<double, double>> heights;
    for (Bars* bars : all) {
        bars->base = 0;
        for (Bars::Bar& b : bars->bars) {
            if (shares && sums[b.place] > 0) {
                b.value *= 100 / sums[b.place];
                b.error *= 100 / sums[b.place];
            }
            double& height = b.value >= 0 ? heights[b.place].first : heights[b.place].second;
            b.from = height;
            height += b.value;
        }
    }
}

void arrangeBars(std::span<Mark* const> marks) {
    std::vector<Bars*> all;
    for (Mark* m : marks) all.push_back(static_cast<Bars*>(m));
    const std::string how = all.front()->together;
    if (how == "beside") return beside(marks);
    if (how == "stacked" || how == "shares") stack(all, how == "shares");
}

MarkPtr prepareBars(const MarkTask& task) {
    auto b = std::make_unique<Bars>();
    prepareGrouped(task, *b);
    b->together = task.look.text("together");
    if (b->together == "shares")
        (b->level ? b->xMeaning : b->yMeaning).unit = "%"; // whatever the values were
    b->base = task.look.number("base");
    b->opacity = task.look.number("opacity");
    b->outlineMm = task.look.millimetres("outline");
    b->outline = task.look.colour("outline-colour", b->colour);
    b->errors = task.look.flag("errors");
    b->caps = task.look.flag("caps");
    b->remake();
    return b;
}

} // namespace

MarkKind barsMark() {
    std::vector<Setting> own = {
        choice("together", "Several",
               {{"beside", "beside each other"},
                {"stacked", "stacked"},
                {"shares", "stacked to 100 %"},
                {"over", "over each other"}},
               "How the bars of several datasets at one place stand; the first one tells."),
        opacitySetting(1),
        number("base", "From", 0, "The value at which bars begin.",
               {.unit = "y", .lowest = -1e300, .highest = 1e300, .group = kShownGroup}),
        flag("errors", "Error bars", true,
             "Of the uncertainty, or of the mean where there are several points at a place.",
             {.group = kShownGroup}),
        flag("caps", "Caps", true, "Short strokes at the ends of error bars.",
             {.group = kLooksGroup, .shownIf = "errors=yes"}),
        number("outline", "Outline", 0, "Line around the bars.",
               {.unit = "pt", .lowest = 0, .highest = 10, .group = kLooksGroup}),
        made(SettingKind::Colour, "outline-colour", "Outlined in", std::string(),
             "Colour of the line around; empty takes that of the bars.", {.group = kLooksGroup})};
    std::vector<Setting> all = together({commonSettings(), groupedSettings(0.7), own, datasetSettings()});
    return {.info = {.key = "bars",
                     .name = "Bars",
                     .purpose = "A bar from a base to each value; means where several points share a place",
                     .group = "Marks",
                     .settings = without(std::move(all), "offset")},
            .prepare = prepareBars,
            .arrange = arrangeBars,
            .likely = [](const Curve& c) {
                return !c.xMeaning.categories.empty() ? 7 : c.size() <= 40 ? 4 : 1;
            }};
}

} // namespace jointer::figure
