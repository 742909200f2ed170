// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/kinds.h"

#include <algorithm>

namespace jointer::figure {

namespace {

const double kNone = std::numeric_limits<double>::quiet_NaN();

Setting number(std::string key, std::string label, double fallback, std::string unit, double lowest,
               double highest, std::string help, std::string group = {}) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::Number,
            .fallback = fallback,
            .help = std::move(help),
            .unit = std::move(unit),
            .lowest = lowest,
            .highest = highest,
            .group = std::move(group)};
}
Setting choice(std::string key, std::string label, std::string fallback, std::vector<Choice> choices,
               std::string help, std::string group = {}) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::Choice,
            .fallback = std::move(fallback),
            .help = std::move(help),
            .choices = std::move(choices),
            .group = std::move(group)};
}
Setting text(std::string key, std::string label, std::string help, std::string group = {}) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::Text,
            .fallback = std::string(),
            .help = std::move(help),
            .group = std::move(group)};
}
Setting flag(std::string key, std::string label, bool fallback, std::string help, std::string group = {}) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::Flag,
            .fallback = fallback,
            .help = std::move(help),
            .group = std::move(group)};
}
Setting colour(std::string help) {
    return {.key = "colour",
            .label = "Colour",
            .kind = SettingKind::Colour,
            .fallback = std::string(),
            .help = std::move(help)};
}

Setting emptyReads(std::string words, Setting setting) {
    setting.whenEmpty = std::move(words);
    return setting;
}

KindInfo figureKind() {
    return {.key = "figure",
            .name = "Figure",
            .purpose = "A page with a size in millimetres",
            .settings = {
                number("width", "Width", 85, "mm", 10, 1000, "Width of the page as it will be printed."),
                number("height", "Height", 65, "mm", 10, 1000, "Height of the page."),
                choice("family", "Typeface", "sans",
                       {{"sans", "Heros (sans)"}, {"serif", "STIX Two (serif)"}, {"window", "Inter"}},
                       "Typeface of all text on the figure.", "Text"),
                number("text-size", "Text size", 8, "pt", 3, 72,
                       "Size of all text that has no size of its own.", "Text"),
                number("margin", "Margin", 1.5, "mm", 0, 50, "Space kept free at the edges of the page."),
                colour("Colour of axes and text; empty is black.")}};
}

KindInfo panelKind() {
    return {.key = "panel",
            .name = "Panel",
            .purpose = "One plotting area with its axes",
            .settings = {
                text("title", "Title", "Text above the panel."),
                choice("title-align", "Title stands", "centre", {{"left", "left"}, {"centre", "centred"}},
                       "Where the title stands above the panel."),
                number("frame-width", "Frame", 0.6, "pt", 0, 5, "Width of axis and frame lines.", "Lines"),
                number("room-right", "Room at the right", 0, "mm", 0, 100,
                       "Room kept at the right; alike in panels that shall align.", "Lines")}};
}

KindInfo axisKind() {
    return {
        .key = "axis",
        .name = "Axis",
        .purpose = "Scale, ticks, numbers and title along one side",
        .settings = {
            emptyReads("automatic", text("name", "Name",
                                         "What is shown along this axis; empty takes the name from the data, "
                                         "a dash shows no title.")),
            emptyReads(
                "automatic",
                text("unit", "Unit",
                     "Unit in parentheses after the name; empty takes it from the data, a dash shows none.")),
            {.key = "range",
             .label = "Range",
             .kind = SettingKind::Interval,
             .help = "First and last value; empty fits the data.",
             .unit = "x",
             .whenEmpty = "automatic"},
            flag("reversed", "Reversed", false,
                 "Turn the axis round: let values grow the other way than is usual for what it shows."),
            choice("scale", "Scale", "linear", {{"linear", "linear"}, {"log", "logarithmic"}},
                   "How values are spread along the axis."),
            number("every", "Every", 0, "x", 0, 1e300, "Distance of numbered ticks; 0 chooses a round one.",
                   "Ticks"),
            number("minor", "Minor", -1, "", -1, 50, "Small ticks between two numbered ones; −1 chooses.",
                   "Ticks"),
            choice("ticks", "Point", "in", {{"in", "in"}, {"out", "out"}, {"both", "both"}, {"none", "none"}},
                   "Direction of the ticks.", "Ticks"),
            number("tick-length", "Length", 1.4, "mm", 0, 10,
                   "Length of numbered ticks; small ones have half of it.", "Ticks"),
            number("tick-width", "Width", 0.6, "pt", 0, 5, "Line width of ticks.", "Ticks"),
            choice("format", "Format", "automatic",
                   {{"automatic", "automatic"}, {"fixed", "fixed"}, {"scientific", "powers of ten"}},
                   "How the numbers are written.", "Numbers"),
            number("decimals", "Decimals", -1, "", -1, 12,
                   "Digits after the point; −1 takes as many as needed.", "Numbers"),
            emptyReads("automatic",
                       number("text-size", "Text", kNone, "pt", 3, 72,
                              "Size of numbers and title; empty takes that of the figure.", "Numbers")),
            choice("opposite", "Draw", "with-ticks",
                   {{"none", "none"}, {"line", "line"}, {"with-ticks", "with ticks"}},
                   "What is drawn on the opposite side.", "Opposite side"),
            flag("grid", "Grid", false, "Faint lines at the numbered ticks.", "Grid"),
            flag("show", "Show numbers", true, "Draw numbers and title.", "Numbers"),
            choice("side", "Side", "bottom", {{"bottom", "bottom"}, {"left", "left"}},
                   "Where the axis stands.", "Place"),
            number("room", "Least room", 0, "mm", 0, 100,
                   "Room kept for numbers and title; alike in panels that shall align.", "Place")}};
}

std::vector<Setting> markSettings(bool symbols, bool line) {
    std::vector<Setting> s = {
        emptyReads("automatic", text("label", "Legend",
                                     "Text in the legend; empty takes the name, a dash leaves it out.")),
        colour("Colour; empty takes that of the dataset.")};
    if (symbols) {
        s.push_back(choice("symbol", "Symbol", "circle",
                           {{"circle", "circle"},
                            {"square", "square"},
                            {"diamond", "diamond"},
                            {"triangle-up", "triangle"},
                            {"triangle-down", "triangle, down"},
                            {"plus", "plus"},
                            {"cross", "cross"}},
                           "Shape of the points."));
        s.push_back(number("size", "Size", 3.5, "pt", 0.2, 40, "Size of the symbols."));
        s.push_back(choice("fill", "Fill", "open", {{"open", "open"}, {"filled", "filled"}},
                           "Open symbols show what overlaps."));
        s.push_back(
            flag("errors", "Error bars", true, "Bars of ± one standard uncertainty, where it is known."));
        s.push_back(flag("excluded", "Left-out points", false, "Show points that were left out, faintly."));
        s.push_back(choice(
            "shown", "Points", "counting", {{"counting", "all"}, {"excluded", "left out"}, {"made", "made"}},
            "Show all points, only those that were left out, or only those that a step put in."));
    }
    if (line) {
        s.push_back(number("width", "Width", 1, "pt", 0.05, 20, "Line width."));
        s.push_back(
            choice("dash", "Dash", "solid",
                   {{"solid", "solid"}, {"dashed", "dashed"}, {"dotted", "dotted"}, {"dash-dot", "dash-dot"}},
                   "Pattern of the line."));
    }
    Setting point = choice(
        "point", "Shows", "end",
        {{"measured", "as measured"}, {"before-smoothing", "before smoothing"}, {"end", "after all steps"}},
        "Which state of the protocol is drawn; also the id of a step, after which it is.", "Data");
    point.of = "step";
    point.others = 24;
    s.push_back(std::move(point));
    s.push_back(number("offset", "Offset", 0, "y", -1e300, 1e300, "Distance by which the curve is moved up.",
                       "Data"));
    return s;
}

std::vector<Setting> stepMarkSettings() {
    std::vector<Setting> s = markSettings(false, true);
    s.push_back(emptyReads(
        "automatic", text("step", "Step",
                          "Id of the step; empty takes the last one that has something to show.", "Data")));
    return s;
}

KindInfo areaKind() {
    KindInfo k{.key = "area",
               .name = "Area",
               .purpose = "The area between the curve and zero",
               .group = "Marks",
               .settings = markSettings(false, true)};
    k.settings.push_back(
        number("opacity", "Opacity", 0.3, "", 0, 1, "How much of what lies behind is covered."));
    return k;
}

// Of an analysis: which of its datasets, and which part of its model.
std::vector<Setting> ofAnalysis(std::vector<Setting> settings) {
    settings.push_back({.key = "member",
                        .label = "Dataset",
                        .kind = SettingKind::Reference,
                        .help = "Which dataset of the analysis; none: the first.",
                        .whenEmpty = "the first",
                        .of = "dataset"});
    settings.push_back({.key = "component",
                        .label = "Part",
                        .kind = SettingKind::WholeNumber,
                        .fallback = 0.0,
                        .help = "The number of a part of the model; 0: the whole.",
                        .lowest = 0,
                        .highest = 1000});
    settings.push_back(
        emptyReads("automatic", text("role", "What of it",
                                     "Another curve of the analysis than its fit or its residuals.")));
    settings.back().hidden = true;
    settings.push_back(
        emptyReads("the first", text("named", "Which", "Of several of that sort the one so called.")));
    settings.back().hidden = true;
    return settings;
}

KindInfo curveKind() {
    return {
        .key = "curve",
        .name = "Fitted curve",
        .purpose = "The curve of a fit, with its band",
        .group = "Marks",
        .settings = ofAnalysis(
            {emptyReads("automatic",
                        text("label", "Legend",
                             "Text in the legend; empty takes the name of the fit, a dash leaves it out.")),
             colour("Colour; empty takes that of the dataset."),
             number("width", "Width", 1, "pt", 0.05, 20, "Line width."),
             choice(
                 "dash", "Dash", "solid",
                 {{"solid", "solid"}, {"dashed", "dashed"}, {"dotted", "dotted"}, {"dash-dot", "dash-dot"}},
                 "Pattern of the line."),
             choice("band", "Band", "none",
                    {{"none", "none"}, {"confidence", "confidence"}, {"prediction", "prediction"}},
                    "Confidence: where the curve lies. Prediction: where further points lie."),
             number("band-opacity", "Band opacity", 0.18, "", 0, 1, "How strongly the band is filled."),
             choice("extent", "Drawn over", "span", {{"span", "the fitted span"}, {"axis", "the whole axis"}},
                    "How far the curve is drawn."),
             number("offset", "Offset", 0, "y", -1e300, 1e300, "Distance by which the curve is moved up.")})};
}

KindInfo legendKind() {
    return {
        .key = "legend",
        .name = "Legend",
        .purpose = "Which mark is which",
        .settings = {choice("where", "Where", "top-right",
                            {{"top-left", "top left"},
                             {"top-right", "top right"},
                             {"bottom-left", "bottom left"},
                             {"bottom-right", "bottom right"},
                             {"none", "hidden"}},
                            "Corner of the panel."),
                     emptyReads("automatic", number("text-size", "Text", kNone, "pt", 3, 72,
                                                    "Size of the text; empty takes that of the figure."))}};
}

KindInfo noteKind() {
    return {
        .key = "note",
        .name = "Note",
        .purpose = "Text on the figure; names in braces such as {centre} become numbers of the fit",
        .settings = {
            text("text", "Text",
                 "What the note says. {centre} becomes the value ± error of that parameter of the fit it "
                 "belongs to."),
            choice("anchor", "Anchored to", "panel",
                   {{"panel", "the panel"}, {"data", "a place in the data"}, {"page", "the page"}},
                   "What the note stays with when the figure changes."),
            number("x", "x", 0.05, "", -1e300, 1e300, "Place: part of the panel's width, data value, or mm."),
            number("y", "y", 0.95, "", -1e300, 1e300,
                   "Place: part of the panel's height from below, data value, or mm."),
            choice("align", "Align", "left", {{"left", "left"}, {"centre", "centre"}, {"right", "right"}},
                   "Which side of the text stands at the place."),
            emptyReads("automatic", number("text-size", "Text size", kNone, "pt", 3, 72,
                                           "Size of the text; empty takes that of the figure.")),
            colour("Colour of the text.")}};
}

} // namespace

const Catalogue<KindInfo>& elementKinds() {
    static const Catalogue<KindInfo> all([] {
        std::vector<KindInfo> kinds = {figureKind(), panelKind(), axisKind()};
        kinds.push_back({.key = "points",
                         .name = "Points",
                         .purpose = "A symbol for each point, with its error",
                         .group = "Marks",
                         .settings = markSettings(true, false)});
        kinds.push_back({.key = "line",
                         .name = "Line",
                         .purpose = "The points joined",
                         .group = "Marks",
                         .settings = markSettings(false, true)});
        kinds.push_back({.key = "points-line",
                         .name = "Points with line",
                         .purpose = "Symbols, joined",
                         .group = "Marks",
                         .settings = markSettings(true, true)});
        kinds.push_back(areaKind());
        kinds.push_back(curveKind());
        kinds.push_back({.key = "residuals",
                         .name = "Residuals",
                         .purpose = "What a fit leaves: data minus curve",
                         .group = "Marks",
                         .settings = ofAnalysis(markSettings(true, false))});
        kinds.push_back({.key = "baseline",
                         .name = "Baseline",
                         .purpose = "The baseline of a step, before it was taken off",
                         .group = "Marks",
                         .settings = stepMarkSettings()});
        kinds.push_back({.key = "taken",
                         .name = "Taken away",
                         .purpose = "What a step took away",
                         .group = "Marks",
                         .settings = stepMarkSettings()});
        kinds.push_back({.key = "spectrum",
                         .name = "Frequencies",
                         .purpose = "Amplitude over the frequencies that a curve holds",
                         .group = "Marks",
                         .settings = markSettings(false, true)});
        kinds.push_back(legendKind());
        kinds.push_back(noteKind());
        return kinds;
    }());
    return all;
}

} // namespace jointer::figure
