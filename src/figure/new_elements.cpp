// SPDX-License-Identifier: GPL-3.0-or-later
// The styles that ship, and new elements.
#include "draw/geometry.h"
#include "figure/kinds.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

Settings of(std::initializer_list<std::pair<const char*, Value>> list) {
    Settings s;
    for (const auto& [key, value] : list) s.set(key, value);
    return s;
}

} // namespace

namespace {

// Lines and symbols of all marks, times a factor.
void giveLines(HouseStyle& style, double width, double size, bool filled) {
    for (const char* mark : {"points", "points-line"}) {
        style.looks[mark].set("size", Value(size));
        if (filled) style.looks[mark].set("fill", "filled");
    }
    for (const char* mark : {"points-line", "line", "curve", "area", "function", "steps"})
        style.looks[mark].set("width", Value(width));
}

HouseStyle pageStyle(const char* name, double width, double height, double textPt, const char* family) {
    HouseStyle style{.name = name, .looks = {}};
    style.looks["figure"] = of({{"width", width},
                                {"height", height},
                                {"text-size", textPt},
                                {"family", Value(std::string(family))}});
    return style;
}

// For a room: larger text, thicker lines, an open frame.
HouseStyle projected(HouseStyle style, double times) {
    style.looks["figure"].set("margin", Value(3 * times));
    style.looks["panel"] = of({{"frame-width", 0.9 * times}});
    style.looks["axis"] = of({{"tick-length", 1.8 * times},
                              {"tick-width", 0.9 * times},
                              {"opposite", Value(std::string("none"))},
                              {"ticks", Value(std::string("out"))}});
    giveLines(style, 1.5 * times, 4.8 * times, true);
    for (const char* note : {"arrow", "shape", "brace", "note"})
        style.looks[note].set("width", Value(0.9 * times));
    style.looks["scale-bar"].set("width", Value(1.8 * times));
    style.looks["arrow"].set("head-size", Value(2.4 * times));
    return style;
}

} // namespace

std::vector<HouseStyle> shippedStyles() {
    HouseStyle slide = pageStyle("Slide", 240, 150, 18, "sans");
    slide.looks["figure"].set("margin", Value(5.0));
    slide.looks["panel"] = of({{"frame-width", 1.5}});
    slide.looks["axis"] = of({{"tick-length", 3.0},
                              {"tick-width", 1.5},
                              {"opposite", Value(std::string("none"))},
                              {"ticks", Value(std::string("out"))}});
    for (const char* mark : {"points", "points-line"})
        slide.looks[mark] = of({{"size", 8.0}, {"fill", Value(std::string("filled"))}});
    for (const char* mark : {"points-line", "line", "curve", "area"})
        slide.looks[mark].set("width", Value(2.5));
    HouseStyle dark = projected(pageStyle("Dark slide", 240, 150, 18, "sans"), 1.667);
    dark.looks["figure"].set("ground", "#1c2427");
    dark.looks["figure"].set("colour", "#f2efe6");
    dark.looks["figure"].set("palette", "dusk");
    HouseStyle print = pageStyle("Monochrome print", 85, 65, 8.5, "serif");
    print.looks["figure"].set("palette", "ink");
    print.looks["panel"] = of({{"frame-width", 0.5}});
    giveLines(print, 0.9, 3.5, false);
    return {pageStyle("Single column", 85, 65, 8, "sans"),
            slide,
            pageStyle("Double column", 174, 85, 8, "sans"),
            projected(pageStyle("Poster", 380, 260, 32, "sans"), 3),
            print,
            dark};
}

Element newMark(std::string kind, std::string source) {
    return {.kind = std::move(kind), .source = std::move(source)};
}

Element groupOf(const std::vector<DatasetId>& datasets, std::vector<Element> marks) {
    for (Element& m : marks) {
        m.source.clear();
        m.settings.remove("member");
    }
    Element group{.kind = "group", .children = std::move(marks)};
    References all;
    for (DatasetId d : datasets) all.push_back({d.text()});
    group.settings.set("datasets", Value(std::move(all)));
    return group;
}

Element newPanel(const std::vector<Element>& marks) {
    Element panel{.kind = "panel"}, bottom{.kind = "axis"}, left{.kind = "axis"};
    bottom.settings.set("side", "bottom");
    left.settings.set("side", "left");
    panel.children = {bottom, left};
    std::ranges::copy(marks, std::back_inserter(panel.children));
    panel.children.push_back({.kind = "legend"});
    return panel;
}

Figure newFigure(std::string name, StyleId style, const std::vector<Element>& marks) {
    return {.name = std::move(name), .style = style, .elements = {newPanel(marks)}};
}

double tableRowMm(double sizePt) {
    return 1.45 * sizePt * draw::kMmPerPt;
}

Figure newTableFigure(std::string name, std::size_t rows) {
    constexpr double kText = 8, kAround = 9, kLowest = 30, kHighest = 260; // pt and mm
    Figure made = newFigure(std::move(name), {}, {});
    const double wanted = kAround + tableRowMm(kText) * static_cast<double>(rows + 1);
    made.settings.set("height", Value(std::round(std::clamp(wanted, kLowest, kHighest))));
    made.elements[0].settings.set("frame-width", Value(0.0));
    for (Element& axis : made.elements[0].children) {
        if (axis.kind != "axis") continue;
        axis.settings.set("show", Value(false));
        axis.settings.set("ticks", "none");
        axis.settings.set("opposite", "none");
    }
    return made;
}

} // namespace jointer::figure
