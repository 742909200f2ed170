// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/plot_marks.h"

#include "figure/kinds.h"

#include <QColor>
#include <algorithm>
#include <cmath>

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

void chooseRange(PlotContent& c, const Curve& measured) {
    if (c.xRange || measured.size() < 2 || !(measured.x.back() > measured.x.front())) return;
    if (c.logX) {
        const auto first = std::ranges::upper_bound(measured.x, 0.0);
        if (first == measured.x.end()) return;
        const double ratio = std::pow(measured.x.back() / *first, 0.02);
        c.xRange = {*first / ratio, measured.x.back() * ratio};
        return;
    }
    const double by = 0.02 * (measured.x.back() - measured.x.front());
    c.xRange = {measured.x.front() - by, measured.x.back() + by};
}

void chooseSizes(PlotContent& c, std::size_t points) {
    const std::size_t crowd = points <= 60 ? 0 : points <= 300 ? 1 : 2;
    constexpr double kAlone[] = {5, 4, 3}, kOnLine[] = {3.2, 1.6, 0.7};
    for (Element& m : c.marks)
        if (m.settings.has("size") && !m.settings.has("shown"))
            m.settings.set("size", Value((m.kind == "points-line" ? kOnLine : kAlone)[crowd]));
}

} // namespace jointer::app
