// SPDX-License-Identifier: GPL-3.0-or-later
// How elements look: their own settings, then those of the house style, then the defaults; the styles that
// ship; new elements.
#include "figure/kinds.h"

#include <algorithm>

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

Look::Look(const KindInfo& kind, const Settings& own, const HouseStyle* style)
    : kind_(kind), own_(own), style_(nullptr) {
    if (!style) return;
    const auto at = style->looks.find(kind.key);
    if (at != style->looks.end()) style_ = &at->second;
}

Value Look::value(std::string_view key) const {
    if (own_.has(key)) return kind_.value(own_, key);
    if (style_ && style_->has(key)) return kind_.value(*style_, key);
    const Setting* s = kind_.find(key);
    return s ? s->fallback : Value{};
}

double Look::number(std::string_view key) const {
    const Value v = value(key);
    const double* n = std::get_if<double>(&v);
    return n ? *n : std::numeric_limits<double>::quiet_NaN();
}
std::string Look::text(std::string_view key) const {
    const Value v = value(key);
    const std::string* t = std::get_if<std::string>(&v);
    return t ? *t : std::string{};
}
bool Look::flag(std::string_view key) const {
    const Value v = value(key);
    const bool* b = std::get_if<bool>(&v);
    return b && *b;
}
Numbers Look::numbers(std::string_view key) const {
    const Value v = value(key);
    const Numbers* n = std::get_if<Numbers>(&v);
    return n ? *n : Numbers{};
}

const std::vector<std::string>& palette() {
    static const std::vector<std::string> colours = {"#2f6091", "#8a4c82", "#3d7f4c", "#c07d2b",
                                                     "#5b5f66", "#9c3f45", "#3b9a9c", "#86752f"};
    return colours;
}

Element newMark(std::string kind, std::string source) {
    return {.kind = std::move(kind), .source = std::move(source)};
}

Figure newFigure(std::string name, StyleId style, const std::vector<Element>& marks) {
    Element panel{.kind = "panel"}, bottom{.kind = "axis"}, left{.kind = "axis"};
    bottom.settings.set("side", "bottom");
    left.settings.set("side", "left");
    panel.children = {bottom, left};
    std::ranges::copy(marks, std::back_inserter(panel.children));
    panel.children.push_back({.kind = "legend"});
    return {.name = std::move(name), .style = style, .elements = {panel}};
}

} // namespace jointer::figure
