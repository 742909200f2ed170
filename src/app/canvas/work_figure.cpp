// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/canvas/work_figure.h"

#include "app/theme/theme.h"
#include "draw/markup.h"
#include "figure/first_figure.h"
#include "figure/kinds.h"
#include "figure/log_axis.h"

#include <cmath>

namespace jointer::app {

Figure workFigure(const PlotContent& c, QSizeF pixels) {
    Figure f = figure::newFigure("work", {}, c.marks);
    f.settings.set("width", Value(std::max(12.0, pixels.width() * kMmPerPixel)));
    f.settings.set("height", Value(std::max(12.0, pixels.height() * kMmPerPixel)));
    f.settings.set("family", "window");
    f.settings.set("text-size", Value(9.0));
    f.settings.set("margin", Value(1.5));
    f.settings.set("colour", Value(theme().muted.name().toStdString()));
    Element& panel = f.elements[0];
    panel.settings.set("frame-width", Value(0.75));
    panel.settings.set("room-right", Value(4.0));
    if (!c.caption.empty()) {
        panel.settings.set("title", Value(draw::literal(c.caption)));
        panel.settings.set("title-align", "left");
    }
    if (!c.coordinates.empty()) figure::giveCoordinates(panel, c.coordinates);
    for (Element& e : panel.children) {
        if (e.kind == "legend") e.settings.set("where", c.legend ? c.legendWhere : "none");
        if (e.kind != "axis") continue;
        e.settings.set("grid", Value(!c.overview));
        e.settings.set("opposite", "line");
        e.settings.set("tick-length", Value(1.1));
        const bool isX = e.settings.text("side") == "bottom";
        if (!isX) e.settings.set("room", Value(15.5));
        if (isX ? c.logX : c.logY) figure::makeLogarithmic(e.settings, isX ? c.linearX : NAN);
        if (c.overview) {
            e.settings.set("show", Value(false));
            e.settings.set("ticks", "none");
        }
        if (!isX && !c.yName.empty()) e.settings.set("name", Value(c.yName));
        if (!isX && c.bareY) e.settings.set("unit", "-");
        if (isX && !c.showXTitle) e.settings.set("name", "-");
        const auto& range = isX ? c.xRange : c.yRange;
        if (range) e.settings.set("range", Value(Numbers{range->first, range->second}));
    }
    return f;
}

} // namespace jointer::app
