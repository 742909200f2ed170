// SPDX-License-Identifier: GPL-3.0-or-later
// What can be set of a set of peaks.
#include "analyses/peaks/peaks.h"
#include "describe/setting_makers.h"

namespace jointer::analyses {

namespace {

using namespace describe;

Setting rowsOf(std::string key, std::string label, std::string help, std::vector<Setting> row) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::Rows,
            .help = std::move(help),
            .hidden = true,
            .row = std::move(row)};
}

std::vector<Setting> finding() {
    Extras share{.lowest = 0, .highest = 1, .group = "Finding"};
    share.slider = {{0.0, 0.5}};
    return {
        choice("direction", "Peaks", {{"up", "upwards"}, {"down", "downwards"}, {"both", "both ways"}},
               "Which way the peaks point.", {.group = "Finding"}),
        made(SettingKind::WholeNumber, "count", "How many", {},
             "The highest so many; empty: all that stand out of the noise.",
             {.lowest = 1, .highest = 1000, .group = "Finding", .whenEmpty = "all"}),
        number("prominence", "Least height", 0, "As a share of the highest; larger finds fewer.", share),
        number("significance", "Least bend", 5.5,
               "How far the curvature of a peak stands out of the noise, in its standard deviations; larger "
               "finds fewer.",
               {.lowest = 1, .highest = 1000, .group = "Finding"}),
        openNumber("narrowest", "Narrowest", "The least full width at half maximum.",
                   {.unit = "x", .lowest = 0, .group = "Finding", .whenEmpty = "by the points"}),
        openNumber("widest", "Widest", "The largest full width at half maximum.",
                   {.unit = "x", .lowest = 0, .group = "Finding", .whenEmpty = "a third of the span"})};
}

std::vector<Setting> alike() {
    return {
        choice("limits", "Limits", {{"proposed", "proposed"}, {"own", "my own"}, {"off", "none"}},
               "Of all peaks: proposed from the data, so that none becomes the baseline, a needle or its "
               "neighbour.",
               {.group = "All peaks"}),
        interval("width-limits", "Widths", "The least and the largest width of all peaks.",
                 {.unit = "x", .group = "All peaks", .shownIf = "limits=own", .whenEmpty = "open"}),
        number(
            "centre-limits", "Centres move", 1, "How far from where they begin, in widths.",
            {.unit = "widths", .lowest = 0, .highest = 1000, .group = "All peaks", .shownIf = "limits=own"}),
        choice("widths", "Width",
               {{"own", "each its own"},
                {"alike", "one for all"},
                {"line", "grows with x"},
                {"root", "its square grows with x"}},
               "How the widths of the peaks go together.", {.group = "All peaks"}),
        choice(
            "partner", "Partner",
            {{"none", "none"},
             {"distance", "at a distance"},
             {"factor", "at a factor"},
             {"wavelengths", "by two wavelengths"}},
            "A second line for each peak, of the same shape. By two wavelengths: x is 2θ in degrees, after "
            "Bragg’s law.",
            {.group = "Partner"}),
        number("ratio", "Ratio of areas", 0.5, "Area of the partner over that of its peak.",
               {.lowest = 0,
                .highest = 1000,
                .group = "Partner",
                .shownIf = "partner=distance|factor|wavelengths"}),
        number("distance", "Distance", 1, "From the peak to its partner; below zero: to the left.",
               {.unit = "x", .group = "Partner", .shownIf = "partner=distance"}),
        number("factor", "Factor", 1.01, "Place of the partner over that of the peak.",
               {.lowest = 1e-6, .highest = 1e6, .group = "Partner", .shownIf = "partner=factor"}),
        number("wavelength", "Wavelength of the peak", 1.5406, "In the unit of the other one.",
               {.lowest = 1e-9, .group = "Partner", .shownIf = "partner=wavelengths"}),
        number("wavelength-2", "of the partner", 1.5444, "In the unit of the first one.",
               {.lowest = 1e-9, .group = "Partner", .shownIf = "partner=wavelengths"})};
}

std::vector<Setting> lists() {
    return {rowsOf("peaks", "Peaks", "Where each begins; empty: they are found.",
                   {wholeNumber("number", "Number", 0, "Of the peak.", {.lowest = 1, .highest = 1e6}),
                    word("name", "Name", "What it is called."),
                    word("shape", "Shape", "Its own; empty: that of all."),
                    number("place", "Place", 0, "Of the maximum.", {.unit = "x"}),
                    number("height", "Height", 1, "Above the baseline.", {.unit = "y"}),
                    number("width", "Width", 1, "Full width at half maximum.", {.unit = "x", .lowest = 0}),
                    flag("partner", "Partner", true, "Whether it has one, where all have.")}),
            rowsOf("ties", "Ties", "Between two peaks.",
                   {choice("what", "What",
                           {{"distance", "distance"},
                            {"area-ratio", "ratio of areas"},
                            {"height-ratio", "ratio of heights"},
                            {"width-ratio", "ratio of widths"}},
                           "Of the first to the second."),
                    wholeNumber("of", "Of peak", 0, "Its number.", {.lowest = 1, .highest = 1e6}),
                    wholeNumber("to", "to peak", 0, "Its number.", {.lowest = 1, .highest = 1e6}),
                    number("value", "Value", 1, "That it is kept at.")}),
            rowsOf("names", "Names", "Given to the peaks of each dataset by a rule.",
                   {word("name", "Name", "What the peak is called."),
                    number("place", "Place", 0, "Near which it stands.", {.unit = "x"}),
                    number("reach", "Reach", 0, "How far from there it may stand; 0: two widths of the peak.",
                           {.unit = "x", .lowest = 0})})};
}

} // namespace

const KindInfo& peaksSettings() {
    static const KindInfo info = [] {
        KindInfo k{.key = "peaks",
                   .name = "Peaks",
                   .purpose = "Overlapping peaks on a baseline: place, height, width and area of each"};
        k.settings = {choice("baseline", "Baseline",
                             {{"line", "line"},
                              {"none", "none"},
                              {"constant", "constant"},
                              {"polynomial-2", "parabola"},
                              {"polynomial-3", "cubic"},
                              {"polynomial-4", "quartic"},
                              {"polynomial-5", "quintic"},
                              {"exponential-decay", "exponential tail"},
                              {"shirley", "integral of the peaks"}},
                             "What the peaks stand on, fitted together with them.", {.hidden = true}),
                      choice("naming", "Names by",
                             {{"nearest", "the nearest place"},
                              {"highest", "the highest near the place"},
                              {"order", "order of x"},
                              {"height", "order of height"}},
                             "How the names of the list go to the peaks.", {.hidden = true})};
        for (auto part : {finding, alike, lists}) std::ranges::move(part(), std::back_inserter(k.settings));
        k.settings.push_back(wholeNumber("only", "Fit only", 0, "The peak that alone is fitted; 0: all.",
                                         {.lowest = 0, .highest = 1e6, .hidden = true}));
        for (Setting s : fitSettings().settings) {
            if (s.group.empty()) s.group = "Fitting";
            k.settings.push_back(std::move(s));
        }
        return k;
    }();
    return info;
}

} // namespace jointer::analyses
