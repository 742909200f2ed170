// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plot_marks.h"

#include "analyses/weights.h"
#include "figure/kinds.h"
#include "figure/log_axis.h"
#include "figure/scales/scale.h"

#include <QColor>
#include <algorithm>

namespace jointer::app {

Element mark(const char* kind, const std::string& source,
             std::initializer_list<std::pair<const char*, Value>> settings) {
    Element e = figure::newMark(kind, source);
    for (const auto& [key, value] : settings) e.settings.set(key, value);
    return e;
}

Value str(const QColor& c) {
    return Value(c.name().toStdString());
}

void giveOwnX(PlotContent& strip) {
    strip.ownX = true;
    strip.logX = false;
    strip.xRange.reset();
    strip.showXTitle = true;
}

Element stripMark(const char* kind, const Analysis& fit, DatasetId dataset,
                  std::initializer_list<std::pair<const char*, Value>> settings) {
    Element made = mark(kind, fit.id.text(), settings);
    made.settings.set("label", Value(std::string("-")));
    made.settings.set("member", Value(Reference{dataset.text()}));
    return made;
}

bool isOfScattering(const Analysis& a) {
    static constexpr std::string_view kKinds[] = {"free-sizes", "pair-distances", "scattering-laws"};
    return std::ranges::find(kKinds, a.kind) != std::end(kKinds) ||
           (a.kind == "fit" && analyses::goesOverDecades(a.model));
}

void chooseRange(PlotContent& c, const Curve& measured) {
    if (c.logX) c.linearX = figure::linearPart(measured.x);
    if (!measured.xMeaning.categories.empty()) return; // the marks know how wide they stand
    if (c.xRange || measured.size() < 2 || !(measured.x.back() > measured.x.front())) return;
    Settings axis;
    if (c.logX) figure::makeLogarithmic(axis, c.linearX);
    const auto scale = figure::scaleFor({.settings = axis, .meaning = {}});
    const auto first = std::ranges::find_if(measured.x, [&](double x) { return scale->takes(x); });
    if (first == measured.x.end() || !(measured.x.back() > *first)) return;
    const figure::Range shown = scale->padded({*first, measured.x.back()}, 0.02);
    c.xRange = {shown.low, shown.high};
}

void chooseSizes(PlotContent& c, std::size_t points) {
    const std::size_t crowd = points <= 60 ? 0 : points <= 300 ? 1 : 2;
    constexpr double kAlone[] = {5, 4, 3}, kOnLine[] = {3.2, 1.6, 0.7};
    for (Element& m : c.marks)
        if (m.settings.has("size") && !m.settings.has("shown"))
            m.settings.set("size", Value((m.kind == "points-line" ? kOnLine : kAlone)[crowd]));
}

} // namespace jointer::app
