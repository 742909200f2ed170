// SPDX-License-Identifier: GPL-3.0-or-later
// Leaves points out by hand or by intervals of x and y. They stay visible, but nothing is fitted to them.
#include "base/text.h"
#include "steps/step.h"

#include <algorithm>
#include <unordered_set>

namespace jointer::steps {

namespace {

std::string pointList(const std::vector<std::size_t>& points) {
    if (points.empty()) return {};
    std::vector<std::string> some;
    for (std::size_t i = 0; i < std::min<std::size_t>(points.size(), 6); ++i)
        some.push_back(std::to_string(points[i] + 1));
    const std::string more =
        points.size() > some.size() ? " and " + std::to_string(points.size() - some.size()) + " more" : "";
    return (points.size() == 1 ? "point " : "points ") + joined(some, ", ") + more;
}

Outcome<StepOutput> apply(const Curve& curve, const Settings& settings) {
    Outcome<StepOutput> out{{.curve = curve}, {}};
    std::unordered_set<std::uint32_t> rows;
    for (double id : settings.numbers("rows")) rows.insert(static_cast<std::uint32_t>(id));
    const Numbers keepX = settings.numbers("keep-x"), keepY = settings.numbers("keep-y");
    auto outside = [](const Numbers& keep, double v) {
        return keep.size() == 2 && (v < keep[0] || v > keep[1]);
    };

    Curve& c = out.value.curve;
    c.excluded.resize(c.size(), 0);
    std::vector<std::size_t> left;
    bool byRule = false;
    for (std::size_t i = 0; i < c.size(); ++i) {
        const bool byHand = i < c.rowIds.size() && rows.contains(c.rowIds[i]);
        const bool rule = outside(keepX, c.x[i]) || outside(keepY, c.y[i]);
        if (c.excluded[i] || !(byHand || rule)) continue;
        byRule |= rule;
        c.excluded[i] = 1;
        left.push_back(i);
        out.value.takenX.push_back(c.x[i]);
        out.value.takenY.push_back(c.y[i]);
    }
    out.value.sentence =
        "Left out " + counted(static_cast<long long>(left.size()), "point") + (byRule ? "." : " by hand.");
    out.value.detail = left.empty() ? "click points with the tool Leave out" : pointList(left);
    if (c.rowIds.empty() && !rows.empty())
        out.issues.push_back({"rows-lost",
                              "Points left out by hand cannot be found again after resampling: move this "
                              "step above the one that resamples.",
                              {}});
    return out;
}

} // namespace

StepKind excludeStep() {
    return {
        .info = {.key = "exclude",
                 .name = "Leave out points",
                 .purpose = "Bad points stay visible, but are not fitted or smoothed",
                 .group = "Points",
                 .settings =
                     {{.key = "rows",
                       .label = "Points",
                       .kind = SettingKind::List,
                       .help = "Row ids of the points left out by hand; click them with the Leave out tool.",
                       .hidden = true},
                      {.key = "keep-x",
                       .label = "Keep x",
                       .kind = SettingKind::Interval,
                       .help = "Points with x outside this interval are left out.",
                       .unit = "x",
                       .whenEmpty = "open"},
                      {.key = "keep-y",
                       .label = "Keep y",
                       .kind = SettingKind::Interval,
                       .help = "Points with y outside this interval are left out.",
                       .unit = "y",
                       .whenEmpty = "open"}}},
        .locality = Locality::Point,
        .apply = apply};
}

} // namespace jointer::steps
