// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/paths.h"

namespace jointer::paint {

using namespace draw;

QColor colourOf(Colour c) {
    return {c.r, c.g, c.b, c.a};
}

QPen penOf(const Stroke& s) {
    QPen pen(colourOf(s.colour), s.widthMm);
    pen.setCapStyle(s.cap == Cap::Butt ? Qt::FlatCap : s.cap == Cap::Round ? Qt::RoundCap : Qt::SquareCap);
    pen.setJoinStyle(s.join == Join::Miter ? Qt::SvgMiterJoin : Qt::RoundJoin); // told as SVG and PDF tell it
    pen.setMiterLimit(4);
    if (!s.dashMm.empty() && s.widthMm > 0) {
        QList<qreal> pattern;
        for (double d : s.dashMm) pattern << d / s.widthMm;
        pen.setDashPattern(pattern);
    }
    return pen;
}

QPainterPath pathOf(const std::vector<Polyline>& lines, bool evenOdd) {
    QPainterPath path;
    path.setFillRule(evenOdd ? Qt::OddEvenFill : Qt::WindingFill); // as in SVG and PDF
    for (const Polyline& line : lines) {
        if (line.points.empty()) continue;
        path.moveTo(line.points[0].x, line.points[0].y);
        for (std::size_t i = 1; i < line.points.size(); ++i) path.lineTo(line.points[i].x, line.points[i].y);
        if (line.closed) path.closeSubpath();
    }
    return path;
}

} // namespace jointer::paint
