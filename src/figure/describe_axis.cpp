// SPDX-License-Identifier: GPL-3.0-or-later
// What an axis is told by; the settings of every scale are among it.
#include "describe/setting_makers.h"
#include "figure/kinds.h"
#include "figure/scales/scale.h"

#include <cmath>

namespace jointer::figure {

using namespace describe;

namespace {

const std::string kTicks = "Ticks", kNumbers = "Numbers", kLooks = "How it looks", kPlace = "Where it stands",
                  kBreaks = "Breaks";

void add(std::vector<Setting>& to, std::vector<Setting> more) {
    std::ranges::move(more, std::back_inserter(to));
}

Setting range() {
    Setting s = interval("range", "Range", "First and last value; an empty end fits the data.",
                         {.unit = "x", .whenEmpty = "automatic"});
    return s;
}

// The choice of a scale, then the settings of each, shown where it is chosen.
std::vector<Setting> scales() {
    std::vector<Choice> choices = {{"automatic", "automatic"}};
    std::vector<Setting> own;
    std::string bent;
    for (const ScaleKind& kind : scaleCatalogue()) {
        choices.push_back({kind.info.key, kind.info.name});
        const bool even = kind.info.key == "linear" || kind.info.key == "time" || kind.info.key == "category";
        if (!even) bent += (bent.empty() ? "" : "|") + kind.info.key;
        for (Setting s : kind.info.settings) {
            if (s.shownIf.empty()) s.shownIf = "scale=" + kind.info.key;
            own.push_back(std::move(s));
        }
    }
    std::vector<Setting> all = {
        choice("scale", "Scale", std::move(choices), "How values are spread along the axis.")};
    add(all, std::move(own));
    all.push_back(flag("applied", "Transformed data", false,
                       "The data have been transformed so already (a column of logarithms): numbers show the "
                       "original values.",
                       {.shownIf = "scale=" + bent}));
    return all;
}

std::vector<Setting> ticks() {
    Setting every = number("every", "Every", 0, "Distance of numbered ticks; 0 chooses a round one.",
                           {.unit = "x", .lowest = 0, .highest = 1e300, .group = kTicks});
    return {std::move(every),
            openNumber("from", "From", "A value that has a numbered tick, with the distance.",
                       {.unit = "x", .group = kTicks, .whenEmpty = "zero"}),
            wholeNumber("count", "About", 0, "How many numbered ticks are wished for; 0 chooses.",
                        {.lowest = 0, .highest = 50, .group = kTicks}),
            wholeNumber("minor", "Minor", -1, "Small ticks between two numbered ones; −1 chooses.",
                        {.lowest = -1, .highest = 50, .group = kTicks}),
            list("places", "Own places", "Values at which ticks stand instead.",
                 {.unit = "x", .group = kTicks, .whenEmpty = "chosen"}),
            word("texts", "Own texts", "What stands at these places, with bars between: low | high.",
                 {.group = kTicks, .whenEmpty = "the numbers"}),
            choice("ticks", "Point", {{"in", "in"}, {"out", "out"}, {"both", "both"}, {"none", "none"}},
                   "Direction of the ticks.", {.group = kTicks}),
            number("tick-length", "Length", 1.4, "Length of numbered ticks.",
                   {.unit = "mm", .lowest = 0, .highest = 10, .group = kTicks}),
            openNumber("minor-length", "Minor length", "Length of small ticks; empty: half.",
                       {.unit = "mm", .lowest = 0, .highest = 10, .group = kTicks, .whenEmpty = "half"}),
            number("tick-width", "Width", 0.6, "Line width of ticks.",
                   {.unit = "pt", .lowest = 0, .highest = 5, .group = kTicks})};
}

std::vector<Setting> numbers() {
    return {
        choice("format", "Format",
               {{"automatic", "automatic"},
                {"fixed", "fixed"},
                {"scientific", "powers of ten"},
                {"engineering", "powers of 1000"},
                {"percent", "per cent"}},
               "How the numbers are written.", {.group = kNumbers}),
        wholeNumber("decimals", "Decimals", -1, "Digits after the point; −1 takes as many as needed.",
                    {.lowest = -1, .highest = 12, .group = kNumbers}),
        wholeNumber("factor", "Factor 10^", 0,
                    "A power of ten that stands in the title instead: 3 makes 12 000 into 12 and adds ×10³; "
                    "99 chooses it.",
                    {.lowest = -30, .highest = 99, .group = kNumbers}),
        word("prefix", "Before", "What stands before each number.", {.group = kNumbers}),
        word("suffix", "After", "What stands after each number.", {.group = kNumbers}),
        choice("turn", "Turned",
               {{"automatic", "where crowded"},
                {"level", "level"},
                {"slanted", "slanted"},
                {"upright", "upright"}},
               "Whether numbers and names are turned.", {.group = kNumbers}),
        openNumber("text-size", "Text", "Size of numbers and title; empty takes that of the figure.",
                   {.unit = "pt", .lowest = 3, .highest = 72, .group = kNumbers, .whenEmpty = "automatic"}),
        flag("show", "Show numbers", true, "Draw numbers and title.", {.group = kNumbers})};
}

std::vector<Setting> looks() {
    return {
        choice("opposite", "Opposite side",
               {{"with-ticks", "with ticks"}, {"line", "line"}, {"none", "none"}},
               "What is drawn on the opposite side.", {.group = kLooks}),
        flag("grid", "Grid", false, "Faint lines at the numbered ticks.", {.group = kLooks}),
        flag("grid-minor", "Fine grid", false, "Fainter lines at the small ticks.", {.group = kLooks}),
        made(SettingKind::Colour, "colour", "Colour", std::string(),
             "Colour of line, ticks, numbers and title; empty takes that of the figure.", {.group = kLooks}),
        flag("as-curve", "As its curve", false, "In the colour of the first mark that it belongs to.",
             {.group = kLooks}),
        choice("title-turn", "Title reads",
               {{"usual", "as usual"}, {"other", "the other way"}, {"level", "level"}},
               "Which way the title of a vertical axis is turned.", {.group = kLooks}),
        openNumber("title-gap", "Title distance", "Between numbers and title; empty chooses.",
                   {.unit = "mm", .lowest = -20, .highest = 50, .group = kLooks, .whenEmpty = "automatic"})};
}

std::vector<Setting> place() {
    return {
        choice("side", "Side", {{"bottom", "bottom"}, {"left", "left"}, {"top", "top"}, {"right", "right"}},
               "Where the axis stands.", {.group = kPlace}),
        choice("stands", "Stands",
               {{"edge", "at the edge"}, {"off", "off the edge"}, {"zero", "through zero"}},
               "At the edge of the panel, at a distance from it, or where the other axis is zero.",
               {.group = kPlace}),
        number("off", "Distance", 2, "From the edge.",
               {.unit = "mm", .lowest = 0, .highest = 100, .group = kPlace, .shownIf = "stands=off"}),
        flag("shorten", "Only the data", false, "The line is as long as the data reach.", {.group = kPlace}),
        openNumber("margin", "Margin",
                   "Kept free beyond the data where the range is automatic; empty chooses.",
                   {.unit = "%", .lowest = 0, .highest = 200, .group = kPlace, .whenEmpty = "automatic"}),
        wholeNumber("lane", "Lane", 0, "Which lane of the panel, from the lowest, 1; 0: its whole height.",
                    {.lowest = 0, .highest = 50, .group = kPlace}),
        number("share", "Share", 1, "Of the height, beside the other lanes.",
               {.lowest = 0.01, .highest = 100, .group = kPlace}),
        number("gap", "Gap below", 0, "Between the lane and the one below.",
               {.unit = "mm", .lowest = 0, .highest = 100, .group = kPlace}),
        reference("linked-to", "Computed from", "axis",
                  "Another axis, from which the values of this one are computed.",
                  {.group = kPlace, .whenEmpty = "none"}),
        formulaText("formula", "by", "The value of this axis from x, that of the other: 1239.84/x, x+273.15.",
                    {.group = kPlace, .whenEmpty = "x"}),
        formulaText("inverse", "and back",
                    "The value of the other axis from x, that of this one; empty: it is found by bisection.",
                    {.group = kPlace, .whenEmpty = "by bisection"}),
        number("room", "Least room", 0, "Room kept for numbers and title; alike in panels that shall align.",
               {.unit = "mm", .lowest = 0, .highest = 100, .group = kPlace})};
}

std::vector<Setting> breaks() {
    return {points("breaks", "Left out", "Parts of the axis that are left out, from and to.",
                   {.unit = "x", .group = kBreaks, .whenEmpty = "nothing"}, {"from", "to"}),
            list("shares", "Shares", "How the parts share the length; empty: as long as they are.",
                 {.group = kBreaks, .whenEmpty = "by length"}),
            number("break-gap", "Gap", 1.6, "Between the parts.",
                   {.unit = "mm", .lowest = 0, .highest = 50, .group = kBreaks}),
            choice("break-sign", "Sign", {{"strokes", "strokes"}, {"wave", "wave"}, {"none", "none"}},
                   "What is drawn on the axis at a break.", {.group = kBreaks})};
}

} // namespace

KindInfo axisKind() {
    std::vector<Setting> all = {
        word("name", "Name",
             "What is shown along this axis; empty takes the name from the data, a dash shows no title.",
             {.whenEmpty = "automatic"}),
        word("unit", "Unit",
             "Unit in parentheses after the name; empty takes it from the data, a dash shows none.",
             {.whenEmpty = "automatic"}),
        range(),
        flag("reversed", "Reversed", false,
             "Turn the axis round: let values grow the other way than is usual for what it shows.")};
    add(all, scales());
    add(all, ticks());
    add(all, numbers());
    add(all, looks());
    add(all, place());
    add(all, breaks());
    return {.key = "axis",
            .name = "Axis",
            .purpose = "Scale, ticks, numbers and title along one side",
            .settings = std::move(all)};
}

} // namespace jointer::figure
