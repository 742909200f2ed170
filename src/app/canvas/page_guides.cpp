// SPDX-License-Identifier: GPL-3.0-or-later
// Guides of a page: a click on a ruler sets one, its mark is dragged along the ruler, and off the page it is
// gone.
#include "app/canvas/page_view.h"
#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPath>
#include <cmath>

namespace jointer::app {

namespace {

constexpr double kMark = 5;   // pixels, half the width of its mark on the ruler
constexpr double kLeft = 34;  // the width of the ruler at the left
constexpr double kBeyond = 3; // mm off the page, where a guide goes

const char* keyOf(bool ofX) {
    return ofX ? "guides-x" : "guides-y";
}

} // namespace

// On a ruler: its mark that is there, or a new one.
bool PageView::takeGuide(QPointF pixels) {
    const auto figure = shownFigure();
    const bool above = pixels.y() < kRuler, beside = pixels.x() < kLeft;
    const draw::Point mm = toMm(pixels);
    const bool ofX = above && mm.x >= 0 && mm.x <= layout_.list.widthMm,
               ofY = !above && beside && mm.y >= 0 && mm.y <= layout_.list.heightMm;
    if (!figure || (!ofX && !ofY)) return false;
    HeldGuide held{ofX, 0, figure->settings.numbers(keyOf(ofX))};
    const double at = ofX ? mm.x : mm.y;
    const auto near = std::ranges::find_if(
        held.before, [&](double g) { return std::abs(g - at) * pixelsPerMm() <= kMark; });
    held.which = static_cast<std::size_t>(near - held.before.begin());
    const bool fresh = near == held.before.end();
    if (fresh) held.before.push_back(at);
    heldGuide_ = std::move(held);
    document_.beginDrag();
    if (fresh) dragGuide(pixels);
    return true;
}

void PageView::dragGuide(QPointF pixels) {
    const draw::Point mm = toMm(pixels);
    const double at = std::round(2 * (heldGuide_->ofX ? mm.x : mm.y)) / 2, // half millimetres
        end = heldGuide_->ofX ? layout_.list.widthMm : layout_.list.heightMm;
    std::vector<double> all = heldGuide_->before;
    all[heldGuide_->which] = at;
    if (at < -kBeyond || at > end + kBeyond)
        all.erase(all.begin() + static_cast<std::ptrdiff_t>(heldGuide_->which));
    document_.apply(edits::setElement(document_.figure(), {}, keyOf(heldGuide_->ofX),
                                      all.empty() ? Value() : Value(Numbers(all.begin(), all.end()))));
}

void PageView::paintGuides(QPainter& p) const {
    const auto figure = shownFigure();
    if (!figure) return;
    const QRectF page = onScreen({0, 0, layout_.list.widthMm, layout_.list.heightMm});
    QColor line = theme().accent;
    line.setAlpha(130);
    for (const bool ofX : {true, false})
        for (const double mm : figure->settings.numbers(keyOf(ofX))) {
            const QPointF at = toPixels({ofX ? mm : 0, ofX ? 0 : mm});
            p.setPen(QPen(line, 1));
            if (ofX)
                p.drawLine(QPointF(at.x(), kRuler), QPointF(at.x(), page.bottom()));
            else
                p.drawLine(QPointF(kLeft, at.y()), QPointF(page.right(), at.y()));
            QPainterPath mark(ofX ? QPointF(at.x(), kRuler) : QPointF(kLeft, at.y()));
            mark.lineTo(ofX ? QPointF(at.x() - kMark, kRuler - 8) : QPointF(kLeft - 8, at.y() - kMark));
            mark.lineTo(ofX ? QPointF(at.x() + kMark, kRuler - 8) : QPointF(kLeft - 8, at.y() + kMark));
            mark.closeSubpath();
            p.fillPath(mark, theme().accent);
        }
}

} // namespace jointer::app
