// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/canvas/page_view.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "paint/painter.h"

#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>
#include <functional>
#include <limits>

namespace jointer::app {

namespace {

constexpr double kTrueSize = 96 / 25.4; // pixels per mm
constexpr double kRuler = 24;
constexpr double kMostPixels = 12e6; // of a whole page in one picture
constexpr double kPanMargin = 200;   // pixels around what is visible

} // namespace

PageView::PageView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), editor_(new QLineEdit(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(300, 200);
    setAccessibleName(tr("Page"));
    editor_->hide();
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
         project = document_.project(),
         evaluator = document_.session().sharedEvaluator()](const Cancellation&) -> std::function<void()> {
            auto layout = std::make_shared<figure::Layout>(
                figure::layOut(project, *figure, *evaluator, {.pixelsPerMm = perMm}));
            QImage image = paint::toImage(layout->list, std::min(perMm * 25.4, 2000.0), false,
                                          {part.x(), part.y(), part.width(), part.height()});
            return [this, number, image, part, layout] {
                picture_ = image;
                part_ = part;
                layout_ = *layout;
                shown_ = number;
                QStringList issues;
                for (const Issue& i : layout_.issues) issues << text(i.text);
                Q_EMIT issuesFound(issues);
                update();
                Q_EMIT drawn();
            };
        });
}

void PageView::resizeEvent(QResizeEvent*) {
    refresh();
}

QRectF PageView::regionOf(ElementId id) const {
    const double s = pixelsPerMm();
    for (const draw::Region& r : layout_.list.regions)
        if (r.element == id)
            return QRectF(origin() + QPointF(r.bounds.x, r.bounds.y) * s,
                          QSizeF(r.bounds.width, r.bounds.height) * s);
    return {};
}

void PageView::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.fillRect(rect(), theme().dark ? QColor("#17191A") : QColor("#E7E3DA"));
    if (picture_.isNull()) {
        p.setPen(theme().muted);
        p.drawText(
            rect().adjusted(30, 30, -30, -30), Qt::AlignCenter | Qt::TextWordWrap,
            tr("No figure yet. Press “New figure” below: it begins with the selected dataset and its fit."));
        return;
    }
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
    const QRectF selected = regionOf(document_.element());
    if (!selected.isEmpty()) {
        p.setRenderHint(QPainter::Antialiasing);
        p.setPen(QPen(theme().copper, 1.3, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(selected.adjusted(-2, -2, 2, 2));
    }
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

ElementId PageView::elementAt(QPointF pixels) const {
    const double s = pixelsPerMm();
    const QPointF mm = (pixels - origin()) / s;
    for (auto r = layout_.list.regions.rbegin(); r != layout_.list.regions.rend(); ++r) {
        const bool panel =
            std::ranges::any_of(layout_.panels, [&](const auto& g) { return g.panel == r->element; });
        if (r->bounds.contains({mm.x(), mm.y()}) && !panel) return r->element;
    }
    // Inside a panel the nearest curve or point wins, then the panel.
    const double reach = 5 / s;
    ElementId best;
    double distance = reach;
    auto consider = [&](ElementId id, const draw::Point& a) {
        const double d = std::hypot(a.x - mm.x(), a.y - mm.y());
        if (d < distance) distance = d, best = id;
    };
    figure::forEachPlace(layout_, consider);
    if (best) return best;
    for (const auto& g : layout_.panels)
        if (g.area.contains({mm.x(), mm.y()})) return g.panel;
    return {};
}

void PageView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    from_ = e->position();
    if (e->button() == Qt::MiddleButton) {
        panning_ = true;
        return;
    }
    const ElementId id = elementAt(from_);
    document_.selectElement(id);
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* element = figure ? figure->find(id) : nullptr;
    draggedNote_ = element && element->kind == "note" && e->button() == Qt::LeftButton ? id : ElementId{};
    if (draggedNote_) document_.beginDrag();
}

// A dragged note moves by the same distance in its own coordinates.
void PageView::mouseMoveEvent(QMouseEvent* e) {
    if (panning_) {
        pan_ += e->position() - from_;
        from_ = e->position();
        const QRectF page = onScreen({0, 0, layout_.list.widthMm, layout_.list.heightMm});
        if (!onScreen(part_).adjusted(-1, -1, 1, 1).contains(page.intersected(rect()))) refresh();
        update();
        return;
    }
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* note = figure && draggedNote_ ? figure->find(draggedNote_) : nullptr;
    if (!note || layout_.panels.empty() || QLineF(from_, e->position()).length() < 1) return;
    const QPointF mm = (e->position() - from_) / pixelsPerMm();
    from_ = e->position();
    const figure::PanelGeometry& g = layout_.panels.front();
    const std::string anchor = note->settings.text("anchor", "panel");
    double x = note->settings.number("x", 0.05), y = note->settings.number("y", 0.95);
    if (anchor == "panel")
        x += mm.x() / g.area.width, y -= mm.y() / g.area.height;
    else if (anchor == "page")
        x += mm.x(), y += mm.y();
    else
        x = g.x.value(g.x.place(x) + mm.x()), y = g.y.value(g.y.place(y) + mm.y());
    const Edit move =
        edits::together("Move note", {edits::setElement(document_.figure(), draggedNote_, "x", Value(x)),
                                      edits::setElement(document_.figure(), draggedNote_, "y", Value(y))});
    document_.apply({move.name, "move " + draggedNote_.text(), move.apply});
}

void PageView::mouseReleaseEvent(QMouseEvent*) {
    panning_ = false;
    if (draggedNote_) document_.endDrag();
    draggedNote_ = {};
}

void PageView::mouseDoubleClickEvent(QMouseEvent* e) {
    editText(elementAt(e->position()));
}

// Text in place: axis names, notes, the panel's title.
void PageView::editText(ElementId id) {
    const auto figure = document_.project().figures.find(document_.figure());
    const Element* e = figure ? figure->find(id) : nullptr;
    if (!e) return;
    const char* key = e->kind == "axis"    ? "name"
                      : e->kind == "note"  ? "text"
                      : e->kind == "panel" ? "title"
                                           : nullptr;
    if (!key) return;
    const QRectF region = regionOf(id);
    QString now = text(e->settings.text(key));
    editor_->setText(now.replace("\n", "\\n"));
    editor_->setGeometry(
        QRectF(QPointF(std::clamp(region.center().x() - 110, 4.0, width() - 224.0), region.center().y() - 14),
               QSizeF(220, 28))
            .toRect());
    editor_->setAccessibleName(tr("Text"));
    editor_->show();
    editor_->setFocus();
    editor_->selectAll();
    disconnect(editor_, nullptr, this, nullptr);
    connect(editor_, &QLineEdit::editingFinished, this, [this, id, key] {
        if (!editor_->isVisible()) return;
        editor_->hide();
        const std::string typed = editor_->text().replace("\\n", "\n").toStdString();
        document_.apply(
            edits::setElement(document_.figure(), id, key, typed.empty() ? Value() : Value(typed)));
        setFocus();
    });
}

void PageView::wheelEvent(QWheelEvent* e) {
    const double before = pixelsPerMm(), after = std::clamp(before * std::pow(1.0015, e->angleDelta().y()),
                                                            0.3 * kTrueSize, 12 * kTrueSize);
    const QPointF centre(width() / 2.0, kRuler + (height() - kRuler) / 2.0);
    pan_ = (pan_ + centre - e->position()) * (after / before) + e->position() - centre;
    zoom_ = after / kTrueSize;
    refresh();
}

void PageView::fitToView() {
    zoom_ = 0;
    pan_ = {};
    refresh();
}

void PageView::keyPressEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Escape) {
        editor_->hide();
        if (document_.element())
            document_.selectElement({});
        else
            fitToView();
    } else if ((e->key() == Qt::Key_Delete || e->key() == Qt::Key_Backspace) && document_.element())
        document_.apply(edits::removeElement(document_.figure(), document_.element()));
    else
        QWidget::keyPressEvent(e);
}

} // namespace jointer::app
