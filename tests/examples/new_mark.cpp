// SPDX-License-Identifier: GPL-3.0-or-later
// A mark as it would stand in src/figure/marks/crosshair.cpp: two lines through the highest point of a curve.
#include "describe/setting_makers.h"
#include "figure/marks/parts.h"
#include "figure/marks/sources.h"

#include <cmath>

namespace jointer::figure {

namespace {

class Crosshair final : public Mark {
public:
    double x = NAN, y = NAN, arm = 5; // mm

    std::optional<Range> extentX(const Scale& scale) const override { return reach(x, scale); }
    std::optional<Range> extentY(const Scale& scale, const Range&) const override { return reach(y, scale); }
    void draw(const Frame& frame, draw::Group& into) const override {
        const draw::Point at = frame.at(x, y);
        add(into, draw::Path{.lines = {{.points = {{at.x - arm, at.y}, {at.x + arm, at.y}}},
                                       {.points = {{at.x, at.y - arm}, {at.x, at.y + arm}}}},
                             .stroke = strokeOf(0.2),
                             .fill = {}});
    }

private:
    static std::optional<Range> reach(double value, const Scale& scale) {
        std::optional<Range> range;
        widen(range, value, scale);
        return range;
    }
};

MarkPtr prepare(const MarkTask& task) {
    auto mark = std::make_unique<Crosshair>();
    const FoundCurve found = foundCurve(task, mark->issues);
    takeFrom(found, task, *mark);
    mark->arm = task.look.number("arm");
    for (std::size_t i = 0; found.curve && i < found.curve->size(); ++i)
        if (!(found.curve->y[i] <= mark->y)) mark->x = found.curve->x[i], mark->y = found.curve->y[i];
    return mark;
}

} // namespace

MarkKind crosshairMark() {
    return {.info = {.key = "crosshair",
                     .name = "Crosshair",
                     .purpose = "Two lines through the highest point",
                     .group = "Marks",
                     .settings = {describe::number("arm", "Arm", 5, "Half the length of the lines.",
                                                   {.unit = "mm", .lowest = 0, .highest = 500})}},
            .prepare = prepare};
}

} // namespace jointer::figure
