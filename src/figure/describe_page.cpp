// SPDX-License-Identifier: GPL-3.0-or-later
// What a page and its panels are told by.
#include "describe/setting_makers.h"
#include "figure/kinds.h"
#include "figure/page/panel.h"

namespace jointer::figure {

using namespace describe;

namespace {

const std::string kShown = "What is shown", kLooks = "How it looks", kPlace = "Where it stands";

Setting colour(std::string label, std::string help, Extras e = {}) {
    return made(SettingKind::Colour, "colour", std::move(label), std::string(), std::move(help),
                std::move(e));
}

} // namespace

KindInfo pageKind() {
    Setting written = made(SettingKind::Rows, "export", "Export", {}, "How the figure was written last.",
                           {.whenEmpty = "not yet", .hidden = true});
    written.row = exportKind().settings;
    Extras page{.unit = "mm", .lowest = 10, .highest = 1000};
    const Extras gap{.unit = "mm", .lowest = 0, .highest = 200, .group = kPlace};
    const Extras count{.lowest = 1, .highest = 20, .group = kPlace};
    Setting family = choice("family", "Typeface",
                            {{"sans", "Heros (sans)"}, {"serif", "STIX Two (serif)"}, {"window", "Inter"}},
                            "Typeface of all text on the figure.", {.group = kLooks});
    return {
        .key = "figure",
        .name = "Figure",
        .purpose = "A page with a size in millimetres",
        .settings = {
            number("width", "Width", 85, "Width of the page as it will be printed.", page),
            number("height", "Height", 65, "Height of the page.", page),
            std::move(family),
            number("text-size", "Text size", 8, "Size of all text that has no size of its own.",
                   {.unit = "pt", .lowest = 3, .highest = 72, .group = kLooks}),
            flag("bold", "Bold", false, "All text is bold.", {.group = kLooks}),
            colour("Colour", "Colour of axes and text; empty is black.", {.group = kLooks}),
            made(SettingKind::Colour, "ground", "Ground", std::string(), "Colour of the page; empty: none.",
                 {.group = kLooks, .whenEmpty = "none"}),
            choice("palette", "Palette", palettes(), "The colours of datasets that have none of their own.",
                   {.group = kLooks}),
            choice("letters", "Letters",
                   {{"none", "none"},
                    {"a", "a"},
                    {"a)", "a)"},
                    {"(a)", "(a)"},
                    {"A", "A"},
                    {"A)", "A)"},
                    {"(A)", "(A)"},
                    {"i", "i"}},
                   "Letters at the panels, in the order of the page.", {.group = kLooks}),
            choice("letters-at", "Letters stand", {{"corner", "above the corner"}, {"inside", "inside"}},
                   "Where the letter of a panel stands.",
                   {.group = kLooks, .shownIf = "letters=a|a)|(a)|A|A)|(A)|i"}),
            number("letters-size", "Letter size", 1.15, "How much larger than the text the letters are.",
                   {.lowest = 0.5, .highest = 4, .group = kLooks, .shownIf = "letters=a|a)|(a)|A|A)|(A)|i"}),
            flag("letters-bold", "Bold letters", true, "Letters of panels are bold.",
                 {.group = kLooks, .shownIf = "letters=a|a)|(a)|A|A)|(A)|i"}),
            wholeNumber("rows", "Rows", 1, "Rows of the grid in which panels stand.", count),
            wholeNumber("columns", "Columns", 1, "Columns of the grid in which panels stand.", count),
            list("column-shares", "Widths", "How the columns share the width, such as 2, 1; empty: alike.",
                 {.group = kPlace, .whenEmpty = "alike"}),
            list("row-shares", "Heights", "How the rows share the height; empty: alike.",
                 {.group = kPlace, .whenEmpty = "alike"}),
            number("gap-x", "Gap across", 3, "Between the columns, beside what axes need.", gap),
            number("gap-y", "Gap down", 3, "Between the rows, beside what axes need.", gap),
            flag("share-x", "Common x", false,
                 "Panels above each other have one x axis: its range is common, its numbers stand below "
                 "the lowest.",
                 {.group = kPlace}),
            flag("share-y", "Common y", false,
                 "Panels beside each other have one y axis: its range is common, its numbers stand at "
                 "the first.",
                 {.group = kPlace}),
            list("guides-x", "Guides across",
                 "Places in mm from the left, to which what is dragged snaps; not drawn.",
                 {.unit = "mm", .group = kPlace, .whenEmpty = "none"}),
            list("guides-y", "Guides down", "Places in mm from the top; a click on a ruler sets one.",
                 {.unit = "mm", .group = kPlace, .whenEmpty = "none"}),
            number("margin", "Margin", 1.5, "Space kept free at the edges of the page.",
                   {.unit = "mm", .lowest = 0, .highest = 50, .group = kPlace}),
            std::move(written)}};
}

KindInfo panelKind() {
    const Extras cell{.lowest = 0, .highest = 20, .group = kPlace, .shownIf = "place=grid"};
    const Extras span{.lowest = 1, .highest = 20, .group = kPlace, .shownIf = "place=grid"};
    auto free = [](const char* key, const char* label, double fallback, const char* help) {
        return number(
            key, label, fallback, help,
            {.unit = "mm", .lowest = -1000, .highest = 2000, .group = kPlace, .shownIf = "place=free"});
    };
    auto part = [](const char* key, const char* label, double fallback, const char* help) {
        return number(key, label, fallback, help,
                      {.lowest = -1, .highest = 2, .group = kPlace, .shownIf = "place=inset"});
    };
    std::vector<Choice> coordinates;
    std::vector<Setting> ofCoordinates;
    for (const CoordinateKind& kind : coordinateCatalogue()) {
        coordinates.push_back({kind.info.key, kind.info.name});
        for (Setting s : kind.info.settings) {
            const auto known = std::ranges::find(ofCoordinates, s.key, &Setting::key);
            if (known != ofCoordinates.end()) { // common to several
                known->shownIf += "|" + kind.info.key;
                continue;
            }
            s.shownIf = "coordinates=" + kind.info.key;
            ofCoordinates.push_back(std::move(s));
        }
    }
    KindInfo panel{
        .key = "panel",
        .name = "Panel",
        .purpose = "One plotting area with its axes",
        .settings = {
            choice("coordinates", "Coordinates", std::move(coordinates), "Where values have their places.",
                   {.group = kShown}),
            word("title", "Title", "Text above the panel."),
            choice("title-align", "Title stands", {{"centre", "centred"}, {"left", "left"}},
                   "Where the title stands above the panel.", {.group = kLooks}),
            number("frame-width", "Frame", 0.6, "Width of axis and frame lines.",
                   {.unit = "pt", .lowest = 0, .highest = 5, .group = kLooks}),
            made(SettingKind::Colour, "ground", "Ground", std::string(),
                 "Colour of the plotting area; empty: none.", {.group = kLooks}),
            word("letter", "Letter", "A letter of its own; a dash: none.",
                 {.group = kLooks, .whenEmpty = "by order"}),
            choice("place", "Stands",
                   {{"grid", "in the grid"}, {"free", "freely"}, {"inset", "in the panel"}},
                   "In a cell of the page's grid, anywhere on the page, or within the panel it belongs "
                   "to.",
                   {.group = kPlace}),
            wholeNumber("row", "Row", 0, "Of the grid, from 1; 0: the next that is free.", cell),
            wholeNumber("column", "Column", 0, "Of the grid, from 1; 0: the next that is free.", cell),
            wholeNumber("row-span", "Rows", 1, "How many rows it takes.", span),
            wholeNumber("column-span", "Columns", 1, "How many columns it takes.", span),
            free("left", "From the left", 10, "Left edge of the plotting area."),
            free("top", "From the top", 10, "Upper edge of the plotting area."),
            free("area-width", "Width", 60, "Width of the plotting area."),
            free("area-height", "Height", 45, "Height of the plotting area."),
            part("x", "From the left", 0.55, "Left edge of its plotting area, as part of the panel's width."),
            part("y", "From below", 0.55, "Lower edge, as part of the panel's height."),
            part("part-width", "Width", 0.4, "As part of the panel's width."),
            part("part-height", "Height", 0.38, "As part of the panel's height."),
            choice("shows", "Shows", {{"own", "marks of its own"}, {"parent", "what the panel shows"}},
                   "Whether it magnifies what the panel shows.", {.group = kShown, .shownIf = "place=inset"}),
            flag("connect", "Connecting lines", true,
                 "Mark the region that is shown, and join its corners to those of the inset.",
                 {.group = kLooks, .shownIf = "place=inset"}),
            number("room-right", "Room at the right", 0,
                   "Room kept at the right; alike in panels that shall align.",
                   {.unit = "mm", .lowest = 0, .highest = 100, .group = kPlace}),
            reference("linked-to", "Linked to", "panel",
                      "The panel from which it takes its marks and their looks: a change there is seen "
                      "here.",
                      {.group = kShown, .whenEmpty = "none"})}};
    std::ranges::move(ofCoordinates, std::back_inserter(panel.settings));
    return panel;
}

KindInfo artworkKind() {
    // It stands where a panel can stand, with the height that its width gives it.
    std::vector<Setting> place;
    for (const Setting& s : panelKind().settings)
        if (s.group == kPlace && s.key != "area-height" && s.key != "part-height" && s.key != "room-right")
            place.push_back(s);
    const auto crop = [](const char* key, const char* label) {
        return number(key, label, 0, "Cut off at this side.",
                      {.unit = "%", .lowest = 0, .highest = 98, .group = "What is cut off"});
    };
    KindInfo kind{
        .key = "artwork",
        .name = "Artwork",
        .purpose = "A drawing or a picture from a file, or another figure, in its own proportions",
        .settings = {
            word("title", "Title", "Text above it."),
            choice("scale", "Size",
                   {{"fit", "as large as fits"}, {"own", "its own size"}, {"factor", "by a factor"}},
                   "How large it is in its cell.", {.shownIf = "place=grid"}),
            number("factor", "Factor", 1, "1 is its own size.",
                   {.lowest = 0.01, .highest = 100, .shownIf = "scale=factor"}),
            choice("align", "Across", {{"centre", "in the middle"}, {"left", "left"}, {"right", "right"}},
                   "Where it stands in its cell.", {.group = kPlace, .shownIf = "place=grid"}),
            choice("align-y", "Down", {{"middle", "in the middle"}, {"top", "top"}, {"bottom", "bottom"}},
                   "Where it stands in its cell.", {.group = kPlace, .shownIf = "place=grid"}),
            crop("crop-left", "Left"), crop("crop-right", "Right"), crop("crop-top", "Top"),
            crop("crop-bottom", "Bottom"),
            choice("turned", "Turned", {{"0", "no"}, {"90", "90°"}, {"180", "180°"}, {"270", "270°"}},
                   "Counter-clockwise.", {.group = kLooks}),
            number("frame-width", "Frame", 0, "A line around it; 0: none.",
                   {.unit = "pt", .lowest = 0, .highest = 5, .group = kLooks}),
            made(SettingKind::Colour, "ground", "Ground", std::string(), "What lies behind; empty: nothing.",
                 {.group = kLooks, .whenEmpty = "none"}),
            word("letter", "Letter", "A letter of its own; a dash: none.",
                 {.group = kLooks, .whenEmpty = "by order"}),
            openNumber("stands-for", "Width stands for",
                       "A length that its whole width shows, for scale bars upon it; empty: its size in mm.",
                       {.lowest = 0, .highest = 1e300, .whenEmpty = "its size"}),
            word("unit", "Unit", "Of that length.", {.whenEmpty = "none"})}};
    std::ranges::move(place, std::back_inserter(kind.settings));
    return kind;
}

bool standsBeside(std::string_view where) {
    return where == "right" || where == "above" || where == "below";
}

KindInfo legendKind() {
    static const std::string kBeside = "where=right;where=above;where=below";
    return {
        .key = "legend",
        .name = "Legend",
        .purpose = "Which mark is which",
        .settings = {
            choice("where", "Where",
                   {{"best", "where it hides least"},
                    {"top-right", "top right"},
                    {"top-left", "top left"},
                    {"bottom-right", "bottom right"},
                    {"bottom-left", "bottom left"},
                    {"right", "right of the panel"},
                    {"above", "above the panel"},
                    {"below", "below the panel"},
                    {"hand", "by hand"},
                    {"none", "hidden"}},
                   "Inside the panel or beside it."),
            wholeNumber("columns", "Columns", 0,
                        "0: one inside and at the right, as many as fit above and below.",
                        {.lowest = 0, .highest = 20}),
            choice("order", "Order", {{"drawn", "as drawn"}, {"reversed", "reversed"}},
                   "Reversed, where curves are staggered upwards."),
            flag("frame", "Frame", false, "A line around it, and white behind.", {.group = kLooks}),
            openNumber("text-size", "Text", "Size of the text; empty takes that of the figure.",
                       {.unit = "pt", .lowest = 3, .highest = 72, .group = kLooks, .whenEmpty = "automatic"}),
            number("key-width", "Key", 2.2, "Width of the samples, as parts of the text size.",
                   {.lowest = 0.5, .highest = 10, .group = kLooks}),
            flag("single", "Of one", false, "Also where there is only one mark.", {.group = kShown}),
            word("title", "Heading", "A line above.", {.group = kShown}),
            number("x", "x", 0.6, "Left edge, as part of the panel's width.",
                   {.lowest = -2, .highest = 3, .group = kPlace, .shownIf = "where=hand"}),
            number("y", "y", 0.95, "Upper edge, as part of the panel's height from below.",
                   {.lowest = -2, .highest = 3, .group = kPlace, .shownIf = "where=hand"}),
            number("shift-x", "Moved right", 0, "From its place beside the panel; its room stays there.",
                   {.unit = "mm", .lowest = -1000, .highest = 1000, .group = kPlace, .shownIf = kBeside}),
            number("shift-y", "Moved down", 0, "From its place beside the panel; its room stays there.",
                   {.unit = "mm", .lowest = -1000, .highest = 1000, .group = kPlace, .shownIf = kBeside})}};
}

KindInfo colourBarKind() {
    return {.key = "colour-bar",
            .name = "Colour bar",
            .purpose = "The scale of colours that an attribute gives to a group",
            .settings = {choice("where", "Where",
                                {{"right", "right of the panel"}, {"inside", "inside, top right"}},
                                "Beside the panel or in it."),
                         word("name", "Name", "What the colours mean; empty: the attribute's name.",
                              {.whenEmpty = "automatic"}),
                         number("thickness", "Thickness", 2.5, "Of the bar.",
                                {.unit = "mm", .lowest = 0.5, .highest = 20, .group = kLooks}),
                         number("share", "Length", 0.8, "As part of the panel's height.",
                                {.lowest = 0.1, .highest = 1, .group = kLooks})}};
}

KindInfo groupKind() {
    const std::string vary = "What varies";
    auto by = [&](const char* key, const char* label, std::vector<Choice> choices, const char* help) {
        return choice(key, label, std::move(choices), help, {.group = vary});
    };
    std::vector<Choice> maps = colourMaps();
    Setting hand = made(SettingKind::Rows, "by-hand", "By hand", {},
                        "What single datasets have of their own.", {.whenEmpty = "nothing", .hidden = true});
    hand.row = {reference("dataset", "Dataset", "dataset", "Whose it is."),
                colour("Colour", "Its colour.", {.whenEmpty = "automatic"}),
                word("symbol", "Symbol", "Its symbol.", {.whenEmpty = "automatic"}),
                word("dash", "Dash", "Its dash.", {.whenEmpty = "automatic"}),
                openNumber("offset", "Offset", "By how much it is moved up.",
                           {.unit = "y", .whenEmpty = "automatic"}),
                word("label", "Label", "What it is called.", {.whenEmpty = "automatic"})};
    return {
        .key = "group",
        .name = "Group",
        .purpose = "Several datasets drawn as one: its marks are drawn for each of them",
        .settings = {
            references("datasets", "Datasets", "dataset", "Which datasets, in order.", {.whenEmpty = "none"}),
            choice("stagger", "Stagger",
                   {{"none", "none"},
                    {"equal", "equal distances"},
                    {"touch", "as needed not to touch"},
                    {"hand", "by hand"}},
                   "How the curves are moved apart."),
            openNumber("distance", "Distance",
                       "From one curve to the next, on the axis; a power of the base on a logarithmic one. "
                       "Empty chooses it from the data.",
                       {.unit = "y", .shownIf = "stagger=equal", .whenEmpty = "automatic"}),
            number("clearance", "Clearance", 4, "Between curves that would touch, in per cent of the axis.",
                   {.unit = "%", .lowest = 0, .highest = 100, .shownIf = "stagger=touch"}),
            choice("labels", "Labels",
                   {{"legend", "in the legend"},
                    {"ends", "at the curves"},
                    {"beside", "beside the panel"},
                    {"none", "none"}},
                   "Where the datasets are named."),
            word("label", "Label",
                 "A pattern: {name} is the name of the dataset, {age} its attribute age with the unit, "
                 "{age.} without.",
                 {.whenEmpty = "name"}),
            word("attribute", "Attribute", "The attribute by which looks and order vary.",
                 {.group = vary, .whenEmpty = "the first"}),
            by("order", "Order", {{"listed", "as listed"}, {"attribute", "by the attribute"}},
               "In which order they are drawn and staggered."),
            made(SettingKind::Flag, "reversed", "Reversed", false, "The last one first.", {.group = vary}),
            by("colours", "Colour",
               {{"own", "of the dataset"},
                {"order", "by order"},
                {"scale", "by the attribute"},
                {"class", "by class"},
                {"one", "common"}},
               "By the attribute: on a scale of colours; by class: one for each value of it."),
            choice("map", "Colours", std::move(maps), "The scale of colours; all are perceptually uniform.",
                   {.group = vary, .shownIf = "colours=scale"}),
            by("symbols", "Symbol", {{"one", "common"}, {"order", "by order"}, {"class", "by class"}},
               "Whether symbols differ."),
            by("dashes", "Dash", {{"one", "common"}, {"order", "by order"}, {"class", "by class"}},
               "Whether lines differ."),
            by("sizes", "Size", {{"one", "common"}, {"scale", "by the attribute"}},
               "Whether symbols and lines grow with the attribute."),
            std::move(hand)}};
}

} // namespace jointer::figure
