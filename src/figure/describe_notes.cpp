// SPDX-License-Identifier: GPL-3.0-or-later
// What is drawn on a figure beside its data: text, lines and arrows, shapes, brackets, bars of a length.
#include "describe/setting_makers.h"
#include "figure/anchors.h"
#include "figure/kinds.h"
#include "figure/marks/parts.h"

namespace jointer::figure {

using namespace describe;

namespace {

const std::string kLooks = "How it looks", kPlace = "Where it stands";

Setting colourSetting(const char* key, const char* label, const char* help, const char* whenEmpty) {
    return made(SettingKind::Colour, key, label, std::string(), help,
                {.group = kLooks, .whenEmpty = whenEmpty});
}
Setting inkSetting() {
    return colourSetting("colour", "Colour", "Of lines and text.", "of the figure");
}
Setting wavelengthSetting() {
    return openNumber("wavelength", "Wavelength",
                      "Its colour becomes that of light of this wavelength, 380 to 780 nm.",
                      {.unit = "nm", .lowest = 380, .highest = 780, .group = kLooks, .whenEmpty = "none"});
}
Setting textSizeSetting() {
    return openNumber("text-size", "Text size", "Size of the text; empty takes that of the figure.",
                      {.unit = "pt", .lowest = 3, .highest = 72, .group = kLooks, .whenEmpty = "automatic"});
}
Setting lineWidth(double fallback) {
    return number("width", "Line", fallback, "Width of the line; 0: none.",
                  {.unit = "pt", .lowest = 0, .highest = 20, .group = kLooks});
}
Setting dashSetting() {
    for (const Setting& s : lineSettings())
        if (s.key == "dash") {
            Setting own = s;
            own.group = kLooks;
            return own;
        }
    return {};
}
Setting fillSetting() {
    return colourSetting("ground", "Ground", "What lies behind; empty: nothing.", "none");
}
Setting fillOpacity() {
    return number("opacity", "Opacity", 1, "Of the ground.", {.lowest = 0, .highest = 1, .group = kLooks});
}
Setting textSetting(const char* help) {
    return word("text", "Text", help, {.whenEmpty = "none"});
}
std::vector<Choice> heads() {
    return {{"none", "none"}, {"filled", "filled"}, {"open", "open"}, {"barbed", "barbed"},
            {"bar", "bar"},   {"dot", "dot"},       {"ring", "ring"}};
}

KindInfo kind(const char* key, const char* name, const char* purpose, std::vector<Setting> own,
              std::initializer_list<std::vector<Setting>> points) {
    for (const std::vector<Setting>& list : points) own.insert(own.end(), list.begin(), list.end());
    return {.key = key, .name = name, .purpose = purpose, .settings = std::move(own)};
}

const char* const kTextHelp = "What it says, with markup; \\\\ begins a line. {centre} becomes the value ± "
                              "error of that number of the fit it "
                              "belongs to; {centre:3} writes the error with three digits, {centre:()} as "
                              "1.234(5); {n}, {name}, {date} and "
                              "attributes by their names; {fit/centre} asks another analysis by its name.";

} // namespace

KindInfo noteKind() {
    std::vector<Setting> own = {
        word("text", "Text", kTextHelp),
        choice("align", "Align", {{"left", "left"}, {"centre", "centre"}, {"right", "right"}},
               "Which side of the text stands at the place.", {.group = kPlace}),
        choice("align-y", "Place is",
               {{"top", "at its top"}, {"middle", "in its middle"}, {"bottom", "at its bottom"}},
               "Which part of its height stands at the place.", {.group = kPlace}),
        number("angle", "Turned", 0, "Counter-clockwise, about the place.",
               {.unit = "°", .lowest = -360, .highest = 360, .group = kPlace}),
        choice("leader", "Leader",
               {{"none", "none"}, {"line", "line"}, {"arrow", "arrow"}, {"dot", "line with a dot"}},
               "A line from the text to the place that it speaks of."),
        number("leader-x", "Leads to x", 0, "A value on the panel's x axis.",
               {.lowest = -1e300, .highest = 1e300, .shownIf = "leader=line|arrow|dot"}),
        number("leader-y", "Leads to y", 0, "A value on the panel's y axis.",
               {.lowest = -1e300, .highest = 1e300, .shownIf = "leader=line|arrow|dot"}),
        number("leader-peak", "Leads to peak", 0,
               "The top of this peak of the fit, counted in x from 1; 0: to the values above.",
               {.lowest = 0, .highest = 1000, .shownIf = "leader=line|arrow|dot"}),
        textSizeSetting(),
        inkSetting(),
        wavelengthSetting(),
        choice("box", "Box", {{"none", "none"}, {"square", "square"}, {"round", "rounded"}},
               "A frame around the text.", {.group = kLooks}),
        number("width", "Line", 0.5, "Width of the frame and the leader; 0: none.",
               {.unit = "pt", .lowest = 0, .highest = 20, .group = kLooks}),
        fillSetting(),
        fillOpacity()};
    return kind("note", "Note",
                "Text on the figure; names in braces such as {centre} become numbers of the fit",
                std::move(own), {anchorSettings("", {0.05, 0.95})});
}

KindInfo arrowKind() {
    return kind("arrow", "Line or arrow", "A straight or bent line between two places, with heads",
                {textSetting("Stands along the line, at its middle."),
                 choice("head", "Head", heads(), "At the end."),
                 choice("tail", "Tail", heads(), "At the beginning."),
                 number("head-size", "Head size", 1.8, "Length of a head.",
                        {.unit = "mm", .lowest = 0.2, .highest = 20, .group = kLooks}),
                 number("bend", "Bend", 0, "How far it bends aside, as a part of its length.",
                        {.lowest = -2, .highest = 2, .group = kLooks, .slider = std::pair(-1.0, 1.0)}),
                 lineWidth(0.75), dashSetting(), inkSetting(), wavelengthSetting(), textSizeSetting()},
                {anchorSettings("", {0.3, 0.7}), anchorSettings("-2", {0.5, 0.5})});
}

KindInfo shapeKind() {
    return kind(
        "shape", "Shape", "A rectangle, an ellipse, a polygon or a free curve between two corners",
        {choice("form", "Form",
                {{"rectangle", "rectangle"},
                 {"rounded", "rounded rectangle"},
                 {"ellipse", "ellipse"},
                 {"polygon", "polygon"},
                 {"curve", "curve"}},
                "What is drawn between the corners."),
         number("corners", "Corners", 6, "Of a regular polygon; as a triangle one points up.",
                {.lowest = 3, .highest = 24, .shownIf = "form=polygon"}),
         points(
             "outline", "Outline",
             "Corners of a polygon, or what a curve goes through, as parts of the width and the height from "
             "below; empty: a regular one.",
             {.shownIf = "form=polygon|curve", .whenEmpty = "regular"}, {"x", "y"}),
         textSetting("Stands in the middle."), lineWidth(0.75), dashSetting(), inkSetting(),
         wavelengthSetting(), fillSetting(), fillOpacity(), textSizeSetting()},
        {anchorSettings("", {0.3, 0.4}), anchorSettings("-2", {0.6, 0.7})});
}

KindInfo braceKind() {
    return kind(
        "brace", "Bracket", "Spans from one place to another, with a text: a range, a difference",
        {textSetting("Stands outside, at its middle."),
         choice("form", "Form",
                {{"square", "square"}, {"curly", "curly"}, {"round", "round"}, {"line", "line with ends"}},
                "How it looks."),
         number("depth", "Depth", 1.5, "How far its ends reach; negative: to the other side.",
                {.unit = "mm", .lowest = -50, .highest = 50, .group = kLooks}),
         lineWidth(0.6), inkSetting(), wavelengthSetting(), textSizeSetting()},
        {anchorSettings("", {0.3, 0.8}), anchorSettings("-2", {0.6, 0.8})});
}

KindInfo tableKind() {
    return kind(
        "table", "Table", "Columns of a table of the project, which they follow",
        {references("columns", "Columns", "column", "Which ones, in order.",
                    {.whenEmpty = "the first eight"}),
         wholeNumber("first", "From row", 1, "Of the table, from 1.", {.lowest = 1, .highest = 1000000000}),
         wholeNumber("rows", "Rows", 12, "At most so many.", {.lowest = 1, .highest = 200}),
         wholeNumber("digits", "Digits", 0, "Significant ones of all numbers; 0: as in the table.",
                     {.lowest = 0, .highest = 15}),
         word("text", "Caption", "Stands above it.", {.whenEmpty = "none"}),
         choice("align", "Align", {{"left", "left"}, {"centre", "centre"}, {"right", "right"}},
                "Which side of it stands at the place.", {.group = kPlace}),
         choice("align-y", "Place is",
                {{"top", "at its top"}, {"middle", "in its middle"}, {"bottom", "at its bottom"}},
                "Which part of its height stands at the place.", {.group = kPlace}),
         flag("heads", "Headings", true, "Names and units above the columns.", {.group = kLooks}),
         flag("lines", "Lines", true, "Above and below the headings and at the end.", {.group = kLooks}),
         textSizeSetting(), inkSetting(), fillSetting(), fillOpacity()},
        {anchorSettings("", {0.05, 0.95})});
}

KindInfo scaleBarKind() {
    return kind(
        "scale-bar", "Scale bar", "A bar as long as a value on the axis",
        {number("length", "Length", 1, "In units of the axis.", {.unit = "x", .lowest = 0, .highest = 1e300}),
         choice("along", "Along", {{"x", "x"}, {"y", "y"}}, "Of which axis."),
         textSetting("Empty: the length with the unit of the axis; a dash: none."),
         choice("ends", "Ends", {{"none", "plain"}, {"bar", "with bars"}}, "At its ends.", {.group = kLooks}),
         lineWidth(1.5), inkSetting(), textSizeSetting()},
        {anchorSettings("", {0.1, 0.1})});
}

} // namespace jointer::figure
