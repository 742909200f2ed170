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

std::vector<HouseStyle> shippedStyles() {
    HouseStyle column{.name = "Single column", .looks = {}};
    column.looks["figure"] =
        of({{"width", 85.0}, {"height", 65.0}, {"text-size", 8.0}, {"family", Value(std::string("sans"))}});
    HouseStyle slide{.name = "Slide", .looks = {}};
    slide.looks["figure"] = of({{"width", 240.0},
                                {"height", 150.0},
                                {"text-size", 18.0},
                                {"family", Value(std::string("sans"))},
                                {"margin", 5.0}});
    slide.looks["panel"] = of({{"frame-width", 1.5}});
    slide.looks["axis"] = of({{"tick-length", 3.0},
                              {"tick-width", 1.5},
                              {"opposite", Value(std::string("none"))},
                              {"ticks", Value(std::string("out"))}});
    for (const char* mark : {"points", "points-line"})
        slide.looks[mark] = of({{"size", 8.0}, {"fill", Value(std::string("filled"))}});
    for (const char* mark : {"points-line", "line", "curve", "area"})
        slide.looks[mark].set("width", Value(2.5));
    return {column, slide};
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
