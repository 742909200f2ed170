// SPDX-License-Identifier: GPL-3.0-or-later
// Leaves points out by hand, by intervals, by a rule typed as a formula, as outliers of a running median, or
// all but every nth; or takes back in what earlier steps left out. They stay visible, but do not count.
#include "describe/setting_makers.h"
#include "formula/program.h"
#include "numerics/running.h"
#include "stats/summary.h"
#include "steps/columns.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <unordered_set>

namespace jointer::steps {

namespace {

const KindInfo& info() {
    using namespace describe;
    static const KindInfo kind{
        .key = "exclude",
        .name = "Leave out points",
        .purpose = "Bad points stay visible, but are not fitted or smoothed",
        .group = "Points",
        .version = 2,
        .settings = {
            list("rows", "Points",
                 "Row ids of the points left out by hand; click them with the tool Leave out.",
                 {.hidden = true, .ofRows = true}),
            choice("what", "What", {{"leave-out", "leave out"}, {"take-back", "take back in"}},
                   "Taking back holds for points that steps before this one left out."),
            interval("outside", "x outside", "Points with x outside this interval.", {.whenEmpty = "none"}),
            interval("inside", "x inside", "Points with x inside this interval, its ends included.",
                     {.whenEmpty = "none"}),
            interval("outside-y", "y outside", "Points with y outside this interval.",
                     {.unit = "y", .whenEmpty = "none"}),
            formulaText(
                "rule", "Rule",
                "A formula that is true for the points, such as y > 3*x. It may use x, y, row (from 1) "
                "and median, mean, sd, lowest, highest of y, as in abs(y - median) > 5.",
                {.whenEmpty = "such as y > 3*x"}),
            flag("outliers", "Outliers", false,
                 "Points far from the running median, measured by the scatter about it."),
            wholeNumber("window", "Window", 11,
                        "Points over which the median and the scatter are taken; odd.",
                        {.unit = "points",
                         .lowest = 3,
                         .highest = 100001,
                         .shownIf = "outliers=yes",
                         .slider = {{3, 101}}}),
            number(
                "threshold", "Farther than", 4,
                "How many standard deviations (1.48 × the median distance) a point may be off. Larger leaves "
                "out fewer.",
                {.lowest = 0, .highest = 1e6, .shownIf = "outliers=yes", .slider = {{1, 20}}}),
            wholeNumber("every", "Keep every", 1, "Of so many points one is kept, the first of each. 1: all.",
                        {.unit = "points", .lowest = 1, .highest = 1e9})}};
    return kind;
}

std::string pointList(const std::vector<std::size_t>& points) {
    if (points.empty()) return {};
    std::vector<std::string> some;
    for (std::size_t i = 0; i < std::min<std::size_t>(points.size(), 6); ++i)
        some.push_back(std::to_string(points[i] + 1));
    const std::string more =
        points.size() > some.size() ? " and " + std::to_string(points.size() - some.size()) + " more" : "";
    return (points.size() == 1 ? "point " : "points ") + joined(some, ", ") + more;
}

using Chosen = std::vector<std::uint8_t>;

void chooseByHand(const Curve& c, const Settings& s, Chosen& chosen) {
    const Numbers given = s.numbers("rows");
    if (given.empty()) return;
    std::unordered_set<std::uint32_t> rows;
    for (double id : given) rows.insert(static_cast<std::uint32_t>(id));
    for (std::size_t i = 0; i < c.rowIds.size(); ++i) chosen[i] |= rows.contains(c.rowIds[i]);
}

// What was chosen by rules, in words.
using Said = std::vector<std::string>;

void chooseByIntervals(const Curve& c, const Settings& s, Chosen& chosen, Said& said) {
    if (const auto keep = intervalOf(info(), s, "outside")) {
        for (std::size_t i = 0; i < c.size(); ++i) chosen[i] |= c.x[i] < keep->first || c.x[i] > keep->second;
        said.push_back("outside " + spanText(c.xMeaning, keep->first, keep->second));
    }
    if (const auto in = intervalOf(info(), s, "inside")) {
        for (std::size_t i = 0; i < c.size(); ++i) chosen[i] |= c.x[i] >= in->first && c.x[i] <= in->second;
        said.push_back("inside " + spanText(c.xMeaning, in->first, in->second));
    }
    if (const auto keep = intervalOf(info(), s, "outside-y")) {
        for (std::size_t i = 0; i < c.size(); ++i) chosen[i] |= c.y[i] < keep->first || c.y[i] > keep->second;
        said.push_back("y outside " + spanText(c.yMeaning, keep->first, keep->second));
    }
}

Result<void> chooseByRule(const Curve& c, const Settings& s, Chosen& chosen, Said& said) {
    const std::string text = info().text(s, "rule");
    if (trimmed(text).empty()) return {};
    const auto expression = formula::Expression::parse(text);
    if (!expression) return std::unexpected(expression.error());
    const auto program = formula::Program::compile(*expression, {"x", "y", "row"},
                                                   {"median", "mean", "sd", "lowest", "highest"},
                                                   formula::Differentiate::Nothing);
    if (!program) return std::unexpected(program.error());
    const stats::Summary y = stats::summarise(countingPoints(c).y);
    List rows(c.size()), values(c.size());
    for (std::size_t i = 0; i < c.size(); ++i) rows[i] = static_cast<double>(i + 1);
    const Values inputs[] = {c.x, c.y, rows};
    const double scalars[] = {y.median, y.mean, y.sd, y.min, y.max};
    program->evaluate(inputs, scalars, values);
    for (std::size_t i = 0; i < c.size(); ++i) chosen[i] |= std::isfinite(values[i]) && values[i] != 0;
    said.push_back("where " + text);
    return {};
}

void chooseOutliers(const Curve& c, const Settings& s, Chosen& chosen, Said& said) {
    if (!info().flag(s, "outliers")) return;
    const CountingPoints points = countingPoints(c);
    const auto window = static_cast<std::size_t>(info().integer(s, "window")) | 1;
    const double threshold = info().number(s, "threshold");
    const auto running = numerics::runningMedian(points.y, window, true);
    const double noise = noiseOf(points.y); // stands in where half of a window reads the same
    for (std::size_t k = 0; k < points.places.size(); ++k) {
        double scatter = stats::kSdOfMedianDeviation * running.scatter[k];
        if (!(scatter > 0)) scatter = std::isfinite(noise) ? noise : 0;
        chosen[points.places[k]] |= std::abs(points.y[k] - running.median[k]) > threshold * scatter &&
                                    points.y[k] != running.median[k];
    }
    said.push_back(fmt::format("over {} times the scatter about the median of {}",
                               readableNumber(threshold, 3), countedPoints(window)));
}

void chooseAllButEvery(const Curve& c, const Settings& s, Chosen& chosen, Said& said) {
    const auto every = static_cast<std::size_t>(info().integer(s, "every"));
    if (every < 2) return;
    std::size_t counted = 0;
    for (std::size_t i = 0; i < c.size(); ++i)
        if (c.counts(i)) chosen[i] |= counted++ % every != 0;
    said.push_back(fmt::format("one of {} kept", every));
}

Outcome<StepOutput> apply(const StepInput& in) {
    Outcome<StepOutput> out{{.curve = in.curve}, {}};
    const bool back = info().text(in.settings, "what") == "take-back";
    Curve& c = out.value.curve;
    Chosen chosen(c.size());
    Said said;
    chooseByHand(c, in.settings, chosen);
    chooseByIntervals(c, in.settings, chosen, said);
    if (const auto ruled = chooseByRule(c, in.settings, chosen, said); !ruled)
        out.issues.push_back(ruled.error());
    chooseOutliers(c, in.settings, chosen, said);
    chooseAllButEvery(c, in.settings, chosen, said);

    c.excluded.resize(c.size(), 0);
    Layer taken{"taken", {}, {}};
    std::vector<std::size_t> changed;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!chosen[i] || (c.excluded[i] != 0) != back) continue;
        c.excluded[i] = back ? 0 : 1;
        changed.push_back(i);
        if (!std::isfinite(c.y[i]) || back) continue;
        taken.x.push_back(c.x[i]);
        taken.y.push_back(c.y[i]);
    }
    if (std::ranges::count(c.excluded, 0) == std::ssize(c.excluded)) c.excluded.clear();
    const bool byHand = said.empty();
    out.value.sentence = fmt::format("{} {}{}.", back ? "Took back" : "Left out",
                                     countedPoints(changed.size()), byHand ? " by hand" : "");
    if (changed.empty() && byHand)
        out.value.detail = "click points with the tool Leave out, or set a rule";
    else
        out.value.detail =
            joined(said, " · ") + (said.empty() || changed.empty() ? "" : " · ") + pointList(changed);
    out.value.layers.push_back(std::move(taken));
    if (c.rowIds.empty() && !in.settings.numbers("rows").empty())
        out.issues.push_back({"rows-lost",
                              "Points left out by hand cannot be found again after resampling: move this "
                              "step above the one that resamples.",
                              {}});
    return out;
}

// Files of the first version named what was kept.
void upgrade(Settings& s) {
    for (const auto& [old, now] : {std::pair("keep-x", "outside"), {"keep-y", "outside-y"}}) {
        if (const Value* kept = s.find(old); kept && !s.has(now)) s.set(now, *kept);
        s.remove(old);
    }
}

} // namespace

StepKind excludeStep() {
    return {.info = info(), .apply = apply, .upgrade = upgrade};
}

} // namespace jointer::steps
