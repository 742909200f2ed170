// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/printing.h"

#include "paint/painter.h"

#include <QPainter>
#include <QPrinter>
#include <algorithm>

namespace jointer::app {

void preparePrinter(QPrinter& printer, const draw::DisplayList& list) {
    const QSizeF upright = printer.pageLayout().pageSize().size(QPageSize::Millimeter);
    const bool across = list.widthMm > list.heightMm && list.widthMm > upright.width() - 10;
    printer.setPageOrientation(across ? QPageLayout::Landscape : QPageLayout::Portrait);
}

double printedScale(const QPrinter& printer, const draw::DisplayList& list) {
    const QRectF room = printer.pageRect(QPrinter::Millimeter);
    return std::min({1.0, room.width() / list.widthMm, room.height() / list.heightMm});
}

void printOn(QPrinter& printer, const draw::DisplayList& list) {
    QPainter painter(&printer);
    if (!painter.isActive()) return;
    const QRectF room = printer.pageRect(QPrinter::Millimeter);
    const double perMm = printer.resolution() / 25.4, scale = printedScale(printer, list);
    painter.scale(perMm, perMm); // its origin is the corner of what can be printed on
    painter.translate((room.width() - scale * list.widthMm) / 2, (room.height() - scale * list.heightMm) / 2);
    painter.scale(scale, scale);
    paint::paintList(painter, list, paint::Medium::Pdf);
}

} // namespace jointer::app
