// SPDX-License-Identifier: GPL-3.0-or-later
// What can be set of a baseline.
#include "describe/setting_makers.h"
#include "steps/baselines.h"

namespace jointer::steps {

const KindInfo& baselineInfo() {
    using namespace describe;
    static const KindInfo kind{
        .key = "baseline",
        .name = "Baseline",
        .purpose = "Take off a background, marked by hand or found",
        .group = "Shape",
        .version = 2,
        .settings = {
            choice("method", "Method",
                   {{"anchors", "through anchors"},
                    {"als", "asymmetric (ALS)"},
                    {"arpls", "adaptive (arPLS)"},
                    {"rolling-ball", "rolling ball"},
                    {"polynomial", "polynomial below"},
                    {"snip", "clipping (SNIP)"},
                    {"shirley", "Shirley"},
                    {"tougaard", "Tougaard"},
                    {"constant", "constant"},
                    {"line", "line by two spans"}},
                   "By hand, or found from the points. Found ones are drafts: take them as anchors to mend "
                   "them."),
            choice("through", "Joined by",
                   {{"spline", "natural spline"},
                    {"line", "straight pieces"},
                    {"shape", "shape-preserving"},
                    {"polynomial", "polynomial"}},
                   "How the anchors are joined. The shape-preserving one never swings beyond its anchors.",
                   {.shownIf = "method=anchors"}),
            choice(
                "place", "Anchors", {{"on-curve", "on curve"}, {"free", "free"}},
                "On the curve an anchor takes the mean of the points around it; free, it stays where you put "
                "it.",
                {.shownIf = "method=anchors"}),
            wholeNumber(
                "mean-over", "Mean over", 5,
                "Points whose mean gives an anchor on the curve its height. Larger is steadier against "
                "noise.",
                {.unit = "points", .lowest = 1, .highest = 1001, .shownIf = "place=on-curve"}),
            number("smoothness", "Smoothness", 1e5,
                   "Weight of the second differences, by points. Larger is stiffer.",
                   {.lowest = 0,
                    .highest = 1e15,
                    .shownIf = "method=als|arpls",
                    .slider = {{1e1, 1e10}},
                    .logSlider = true}),
            number("asymmetry", "Asymmetry", 0.01,
                   "Weight of points above the baseline; those below have one minus it. Smaller lies lower.",
                   {.lowest = 1e-9,
                    .highest = 0.999,
                    .shownIf = "method=als",
                    .slider = {{1e-4, 0.1}},
                    .logSlider = true}),
            wholeNumber("radius", "Radius", 50,
                        "Points on both sides; more than the width of the widest peak. Larger is stiffer.",
                        {.unit = "points",
                         .lowest = 1,
                         .highest = 1e6,
                         .shownIf = "method=rolling-ball|snip",
                         .slider = {{5, 500}},
                         .logSlider = true}),
            wholeNumber("degree", "Degree", 3, "Degree of the polynomial. Higher follows more.",
                        {.lowest = 0,
                         .highest = 15,
                         .shownIf = "method=polynomial;through=polynomial",
                         .slider = {{0, 10}}}),
            wholeNumber(
                "ends", "Ends over", 5, "Points whose mean gives the level at each end.",
                {.unit = "points", .lowest = 1, .highest = 1001, .shownIf = "method=shirley|tougaard"}),
            choice("losses", "Losses lie", {{"up", "towards high x"}, {"down", "towards low x"}},
                   "Towards high x for binding energies, towards low x for kinetic energies.",
                   {.shownIf = "method=tougaard"}),
            openNumber("loss-b", "B",
                       "Factor of the cross-section B·T/(C + T²)²; open: so that the background "
                       "meets the curve at the end of the losses.",
                       {.lowest = 0, .shownIf = "method=tougaard", .whenEmpty = "by the curve"}),
            number("loss-c", "C", 1643, "Constant of the cross-section, for T in eV.",
                   {.unit = "eV²", .lowest = 1e-9, .shownIf = "method=tougaard"}),
            interval(
                "span", "Over",
                "Interval of x from which the baseline is found; of the constant its mean, of the line the "
                "first mean. Outside, the curve stays as it is, or for a constant and a line is corrected "
                "too.",
                {.shownIf = "method=als|arpls|rolling-ball|polynomial|snip|shirley|tougaard|constant|line",
                 .whenEmpty = "whole curve"}),
            interval("span-2", "And over", "Interval of x of the second mean of the line.",
                     {.shownIf = "method=line", .whenEmpty = "last tenth"}),
            choice("remove", "Then", {{"yes", "subtract"}, {"no", "only show"}, {"divide", "divide by it"}},
                   "Take the baseline off, keep it beside the curve, or divide by it."),
            points("anchors", "Anchor points", "x and y of each anchor; place them with the tool Anchor.",
                   {.hidden = true})}};
    return kind;
}

} // namespace jointer::steps
