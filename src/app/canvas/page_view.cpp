// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/canvas/page_view.h"

#include "app/forms/text_completion.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/page/live_text.h"
#include "paint/painter.h"

#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>

namespace jointer::app {

namespace {

constexpr double kMostPixels = 12e6; // of a whole page in one picture
constexpr double kPanMargin = 200;   // pixels around what is visible

} // namespace

PageView::PageView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), editor_(new QLineEdit(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(300, 200);
    setAccessibleName(tr("Page"));
    setMouseTracking(true);
    setAcceptDrops(true);
    editor_->hide();
    completion_ = new TextCompletion(editor_, [this] {
        std::vector<std::pair<std::string, std::string>> names;
        const auto figure = shownFigure();
        if (const Element* e = figure ? figure->find(edited_) : nullptr)
            for (figure::LiveName& n :
                 figure::liveNames(document_.project(), document_.session().evaluator(), *e))
                names.emplace_back(std::move(n.name), std::move(n.now));
        return names;
    });
}

double PageView::pixelsPerMm() const {
    if (zoom_ > 0) return zoom_ * kTrueSize;
    const auto figure = document_.project().figures.find(document_.figure());
    if (!figure) return kTrueSize;
    const draw::Rect page = figure::pageOf(document_.project(), *figure);
    return std::min((width() - kRuler - 50) / page.width, (height() - kRuler - 40) / page.height);
}

QPointF PageView::corner(QSizeF pageMm) const {
    const QSizeF size = pageMm * pixelsPerMm();
    return QPointF((width() - size.width()) / 2, kRuler + (height() - kRuler - size.height()) / 2) + pan_;
}

QPointF PageView::origin() const {
    const QPointF at = corner({layout_.list.widthMm, layout_.list.heightMm});
    return {std::round(at.x()), std::round(at.y())}; // whole pixels, so that the picture is not blurred
}

// The whole page, or what is visible of a large one with a margin to pan in.
QRectF PageView::partToDraw(const draw::Rect& page) const {
    const double s = pixelsPerMm();
    const QSizeF size = QSizeF(page.width, page.height) * s * devicePixelRatioF();
    const QRectF whole(0, 0, page.width, page.height);
    if (size.width() * size.height() <= kMostPixels) return whole;
    const QRectF seen = QRectF(rect())
                            .translated(-corner({page.width, page.height}))
                            .adjusted(-kPanMargin, -kPanMargin, kPanMargin, kPanMargin);
    const QRectF wholePixels(std::floor(seen.x()), std::floor(seen.y()), std::ceil(seen.width()),
                             std::ceil(seen.height()));
    const QRectF part(wholePixels.topLeft() / s, wholePixels.size() / s);
    return part.intersected(whole);
}

QRectF PageView::onScreen(const QRectF& partMm) const {
    const double s = pixelsPerMm();
    return {origin() + partMm.topLeft() * s, partMm.size() * s};
}

void PageView::refresh() {
    const int number = ++wanted_;
    const auto figure = document_.project().figures.find(document_.figure());
    const double perMm = pixelsPerMm() * devicePixelRatioF();
    if (!figure) {
        layout_ = {};
        picture_ = {};
        shown_ = number;
        update();
        return;
    }
    job_.request(
        [this, number, figure, perMm, part = partToDraw(figure::pageOf(document_.project(), *figure)),
         project = document_.project(), before = picture_, partBefore = part_, sight = sight_,
         sightBefore = pictureSight_, listBefore = std::make_shared<const draw::DisplayList>(layout_.list),
         evaluator = document_.session().sharedEvaluator()](const Cancellation&) -> std::function<void()> {
            auto layout = std::make_shared<figure::Layout>(
                figure::layOut(project, *figure, *evaluator, {.pixelsPerMm = perMm}));
            const draw::Rect shown{part.x(), part.y(), part.width(), part.height()};
            // Of the same part at the same size only what differs is painted again.
            QImage image = before;
            const int wide =
                std::max(1, static_cast<int>(std::lround(part.width() * std::min(perMm, 2000 / 25.4))));
            const bool isPart = before.width() == wide && partBefore == part && !before.isNull();
            const bool usual = sight == draw::Sight::Usual;
            if (isPart && usual && sightBefore == sight)
                paint::paintChange(image, *listBefore, layout->list, shown);
            else
                image = paint::toImage(usual ? layout->list : draw::seenBy(layout->list, sight),
                                       std::min(perMm * 25.4, 2000.0), false, shown);
            return [this, number, image, part, layout, sight] {
                picture_ = image;
                pictureSight_ = sight;
                part_ = part;
                layout_ = *layout;
                sample_.reset();
                shown_ = number;
                QStringList issues;
                for (const Issue& i : layout_.issues) issues << text(i.text);
                Q_EMIT issuesFound(issues);
                update();
                Q_EMIT drawn();
            };
        });
}

void PageView::see(draw::Sight sight) {
    sight_ = sight;
    refresh();
}

void PageView::resizeEvent(QResizeEvent*) {
    refresh();
}

bool PageView::tellsTime(ElementId id) const {
    const auto figure = shownFigure();
    return figure && figure::tellsTime(*figure, layout_, id);
}

QRectF PageView::regionOf(ElementId id) const {
    for (const draw::Region& r : layout_.list.regions)
        if (r.element == id) return onScreen({r.bounds.x, r.bounds.y, r.bounds.width, r.bounds.height});
    return {};
}

QPointF PageView::toPixels(draw::Point mm) const {
    return origin() + QPointF(mm.x, mm.y) * pixelsPerMm();
}

draw::Point PageView::toMm(QPointF pixels) const {
    const QPointF mm = (pixels - origin()) / pixelsPerMm();
    return {mm.x(), mm.y()};
}

std::shared_ptr<const Figure> PageView::shownFigure() const {
    return document_.project().figures.find(document_.figure());
}

void PageView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().dark ? QColor("#17191A") : QColor("#E7E3DA"));
    if (picture_.isNull()) return;
    const double s = pixelsPerMm();
    const QRectF page(origin(), QSizeF(layout_.list.widthMm * s, layout_.list.heightMm * s));
    p.fillRect(page.translated(3, 3), QColor(0, 0, 0, 28));
    // While a zoom is being computed the old picture stands in for the new one.
    const QSizeF own = QSizeF(picture_.size()) / devicePixelRatioF();
    const QRectF shown = onScreen(part_);
    p.setRenderHint(QPainter::SmoothPixmapTransform);
    if (shown.width() < page.width() - 1 || shown.height() < page.height() - 1) p.fillRect(page, Qt::white);
    if (std::abs(own.width() - shown.width()) < 1)
        p.drawImage(QRectF(shown.topLeft(), own), picture_);
    else
        p.drawImage(shown, picture_);
    p.setPen(theme().line);
    p.drawRect(page);
    drawRulers(p);
    paintGuides(p);
    paintSelection(p);
    paintSample(p);
    paintDrop(p);
}

void PageView::drawRulers(QPainter& p) const {
    const double s = pixelsPerMm(), left = origin().x(), top = origin().y();
    const double step = s * 10 > 45 ? 10 : s * 20 > 45 ? 20 : 50;
    QFont small = font();
    small.setPointSizeF(8);
    p.setFont(small);
    p.setPen(theme().muted);
    for (double mm = 0; mm <= layout_.list.widthMm + 1e-9; mm += step / 4) {
        const double x = left + mm * s;
        const bool numbered = std::fmod(mm, step) < 1e-9;
        p.drawLine(QPointF(x, numbered ? 15 : 19), QPointF(x, kRuler));
        if (numbered) p.drawText(QRectF(x - 20, 0, 40, 14), Qt::AlignCenter, QString::number(mm));
    }
    for (double mm = 0; mm <= layout_.list.heightMm + 1e-9; mm += step / 4) {
        const double y = top + mm * s;
        const bool numbered = std::fmod(mm, step) < 1e-9;
        if (y < kRuler) continue;
        p.drawLine(QPointF(numbered ? 27 : 30, y), QPointF(34, y));
        if (numbered)
            p.drawText(QRectF(0, y - 7, 25, 14), Qt::AlignRight | Qt::AlignVCenter, QString::number(mm));
    }
}

// A dashed frame about each selected element, grips on what can be resized, and the lines where it snapped.
void PageView::paintSelection(QPainter& p) const {
    const auto figure = shownFigure();
    if (!figure) return;
    p.setRenderHint(QPainter::Antialiasing);
    std::vector<figure::Hit> shown;
    for (ElementId id : document_.elements()) shown.push_back(selectedHit(id));
    for (const figure::Hit& hit : shown) {
        const auto bounds = figure::boundsOf(layout_, hit);
        if (!bounds) continue;
        p.setPen(QPen(theme().copper, 1.3, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(onScreen({bounds->x, bounds->y, bounds->width, bounds->height}).adjusted(-2, -2, 2, 2));
    }
    if (hasFocus() && shown.size() < 2) {
        p.setPen(QPen(theme().copper, 1.3));
        p.setBrush(theme().panel);
        for (const figure::GripPlace& grip :
             figure::gripsOf(*figure, layout_, shown.empty() ? figure::Hit{} : shown.front())) {
            const QPointF at = toPixels(grip.at);
            using figure::Grip;
            if (grip.grip >= Grip::Low && grip.grip != Grip::Gap) // a value
                p.drawRoundedRect(QRectF(at - QPointF(5, 5), QSizeF(10, 10)), 4, 4);
            else
                p.drawRect(QRectF(at - QPointF(3.5, 3.5), QSizeF(7, 7)));
        }
    }
    p.setPen(QPen(theme().accent, 1, Qt::DotLine));
    const QRectF page = onScreen({0, 0, layout_.list.widthMm, layout_.list.heightMm});
    if (guideX_)
        p.drawLine(QPointF(toPixels({*guideX_, 0}).x(), page.top()),
                   QPointF(toPixels({*guideX_, 0}).x(), page.bottom()));
    if (guideY_)
        p.drawLine(QPointF(page.left(), toPixels({0, *guideY_}).y()),
                   QPointF(page.right(), toPixels({0, *guideY_}).y()));
}

// Where a dragged dataset would go, in words.
void PageView::paintDrop(QPainter& p) const {
    if (!dropping_) return;
    const auto [panel, where] = dropAt(*dropping_);
    static const char* words[] = {QT_TR_NOOP("draw it here"), QT_TR_NOOP("a second axis for it"),
                                  QT_TR_NOOP("a lane for it"), QT_TR_NOOP("a panel for it")};
    QRectF r = onScreen({0, 0, layout_.list.widthMm, layout_.list.heightMm});
    if (panel) r = onScreen({panel->area.x, panel->area.y, panel->area.width, panel->area.height});
    if (where == 1) r.setLeft(r.right() - 18);
    if (where == 2) r.setBottom(r.top() + 18);
    QColor fill = theme().accent;
    fill.setAlpha(40);
    p.fillRect(r, fill);
    p.setPen(QPen(theme().accent, 1.5));
    p.setBrush(Qt::NoBrush);
    p.drawRect(r);
    const QString said = tr(words[where]);
    // Above the pointer: what is dragged hides the rest.
    QRectF box({}, QSizeF(fontMetrics().horizontalAdvance(said) + 16, fontMetrics().height() + 8));
    box.moveBottomLeft(*dropping_ - QPointF(box.width() / 2, 30));
    box.moveLeft(std::clamp(box.left(), 0.0, std::max(0.0, width() - box.width())));
    if (box.top() < 0) box.moveTop(dropping_->y() + 30);
    p.fillRect(box, theme().panel);
    p.setPen(theme().line);
    p.drawRect(box);
    p.setPen(theme().ink);
    p.drawText(box, Qt::AlignCenter, said);
}

} // namespace jointer::app
