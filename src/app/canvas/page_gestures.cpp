// SPDX-License-Identifier: GPL-3.0-or-later
// Gestures on the page: what they mean is told by figure/moves.h.
#include "app/canvas/page_view.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "data/column.h"
#include "draw/markup.h"
#include "figure/actions.h"
#include "figure/anchors.h"
#include "figure/compose.h"
#include "figure/kinds.h"
#include "session/artwork.h"

#include <QDragEnterEvent>
#include <QMimeData>
#include <QMouseEvent>
#include <QUrl>
#include <cmath>

namespace jointer::app {

namespace {

constexpr double kReach = 5;       // pixels about a line or a grip
constexpr double kEdgePixels = 28; // of a panel, where a dropped dataset gets an axis or a lane

// A value as its axis tells it: a moment, a name, a number with its unit.
QString valueWords(const AxisMeaning& of, double v) {
    if (of.isTime) return text(isoDateTime(std::round(v)));
    const double place = std::round(v);
    if (!of.categories.empty() && place >= 1 && place <= static_cast<double>(of.categories.size()))
        return text(of.categories[static_cast<std::size_t>(place) - 1]);
    return text(readableNumber(v, 5) + (of.unit.empty() ? "" : " " + draw::unitPlain(of.unit)));
}

} // namespace

QStringList artworkIn(const QMimeData& data) {
    QStringList paths;
    for (const QUrl& url : data.urls())
        if (url.isLocalFile() && hasArtworkEnding(url.toLocalFile().toStdString()))
            paths << url.toLocalFile();
    return paths;
}

figure::Hit PageView::selectedHit(ElementId id) const {
    return {id, id == document_.element() ? document_.elementDataset() : DatasetId{}};
}

std::optional<figure::GripPlace> PageView::gripAt(QPointF pixels) const {
    const auto figure = shownFigure();
    if (!figure || document_.elements().size() > 1) return {};
    const figure::Hit hit = selectedHit(document_.element());
    for (const figure::GripPlace& grip : figure::gripsOf(*figure, layout_, hit)) {
        const QPointF d = toPixels(grip.at) - pixels;
        if (std::max(std::abs(d.x()), std::abs(d.y())) <= kReach + 1) return grip;
    }
    return {};
}

// A click selects the uppermost; on what is selected already the one below it.
void PageView::select(QPointF pixels, bool add, bool below) {
    const auto hits = figure::hitsAt(layout_, toMm(pixels), kReach / pixelsPerMm());
    if (hits.empty()) {
        if (!add) document_.selectElement({});
        return;
    }
    const figure::Hit now = selectedHit(document_.element());
    const auto at = std::ranges::find(hits, now);
    const figure::Hit next = below && at != hits.end()
                                 ? hits[static_cast<std::size_t>(at - hits.begin() + 1) % hits.size()]
                                 : hits.front();
    if (add) return document_.toggleElement(next.element);
    const auto figure = shownFigure();
    const auto all =
        figure && !below ? figure::togetherWith(*figure, next.element) : std::vector<ElementId>();
    if (all.size() < 2)
        return document_.selectElement(next.element, next.of); // so does a second click on a set
    document_.selectElement(all.back());
    for (std::size_t k = 1; k + 1 < all.size(); ++k) document_.toggleElement(all[k]);
    document_.toggleElement(next.element); // the last one leads
}

void PageView::mousePressEvent(QMouseEvent* e) {
    setFocus();
    from_ = e->position();
    if (e->button() == Qt::MiddleButton || spaceHeld_) {
        panning_ = true;
        return;
    }
    const auto figure = shownFigure();
    if (!figure) return;
    if (e->button() == Qt::RightButton) {
        select(from_, false, false);
        Q_EMIT menuAsked(e->globalPosition().toPoint());
        return;
    }
    if (e->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier)) return select(from_, true, false);
    if (takeGuide(from_)) return;
    if (const auto grip = gripAt(from_)) {
        held_ = Held{selectedHit(document_.element()), *grip, from_, figure, layout_};
        document_.beginDrag();
        return;
    }
    const auto hits = figure::hitsAt(layout_, toMm(from_), kReach / pixelsPerMm());
    const bool onSelected = std::ranges::find(hits, selectedHit(document_.element())) != hits.end();
    if (!onSelected) select(from_, false, false);
    held_ = Held{selectedHit(document_.element()), {figure::Grip::Whole, {}}, from_, figure, layout_};
    held_->again = onSelected;
    document_.beginDrag();
}

void PageView::mouseMoveEvent(QMouseEvent* e) {
    if (panning_) {
        pan_ += e->position() - from_;
        from_ = e->position();
        const QRectF page = onScreen({0, 0, layout_.list.widthMm, layout_.list.heightMm});
        if (!onScreen(part_).adjusted(-1, -1, 1, 1).contains(page.intersected(rect()))) refresh();
        update();
        return;
    }
    if (heldGuide_ && (e->buttons() & Qt::LeftButton)) return dragGuide(e->position());
    if (held_ && (e->buttons() & Qt::LeftButton))
        return dragTo(e->position(), e->modifiers() & Qt::AltModifier);
    chooseCursor(e->position());
    showSample(e->position());
    Q_EMIT hovered(wordsAt(e->position()));
}

void PageView::dragTo(QPointF pixels, bool free) {
    if (!held_->moved && QLineF(held_->from, pixels).length() < 3) return;
    held_->moved = true;
    const QPointF mm = (pixels - held_->from) / pixelsPerMm();
    draw::Point by{mm.x(), mm.y()};
    guideX_.reset();
    guideY_.reset();
    const Element* e = held_->hit.element ? held_->figure->find(held_->hit.element) : nullptr;
    const bool stands = e && figure::canBePlaced(e->kind);
    const auto bounds = figure::boundsOf(held_->layout, held_->hit);
    if (!free && stands && bounds && held_->grip.grip == figure::Grip::Whole) {
        const figure::Snapped snapped =
            figure::snapped(held_->layout, held_->hit, *bounds, by, kReach / pixelsPerMm());
        by = snapped.by;
        guideX_ = snapped.x;
        guideY_ = snapped.y;
    }
    std::vector<figure::Change> changes;
    std::vector<ElementId> all = document_.elements();
    if (all.size() < 2 || held_->grip.grip != figure::Grip::Whole) all = {held_->hit.element};
    for (ElementId id : all) {
        const figure::Hit hit{id, id == held_->hit.element ? held_->hit.of : DatasetId{}};
        std::ranges::move(
            figure::changesOf({*held_->figure, held_->layout, hit, held_->grip.grip, held_->grip.which}, by),
            std::back_inserter(changes));
    }
    if (changes.empty()) return;
    document_.apply(figure::editOf(document_.figure(),
                                   held_->grip.grip == figure::Grip::Whole ? "Move" : "Resize",
                                   "drag on the page", std::move(changes)));
}

void PageView::mouseReleaseEvent(QMouseEvent* e) {
    panning_ = false;
    if (heldGuide_) {
        heldGuide_.reset();
        document_.endDrag();
    }
    if (!held_) return;
    const bool click = !held_->moved, again = held_->again;
    held_.reset();
    guideX_.reset();
    guideY_.reset();
    document_.endDrag();
    if (click && again && e->button() == Qt::LeftButton) select(e->position(), false, true);
    update();
}

void PageView::leaveEvent(QEvent*) {
    Q_EMIT hovered({});
}

void PageView::chooseCursor(QPointF pixels) {
    using figure::Grip;
    if (spaceHeld_) return setCursor(Qt::OpenHandCursor);
    if (const auto grip = gripAt(pixels)) {
        switch (grip->grip) {
        case Grip::Left:
        case Grip::Right:
            return setCursor(Qt::SizeHorCursor);
        case Grip::Top:
        case Grip::Bottom:
        case Grip::Lane:
            return setCursor(Qt::SizeVerCursor);
        case Grip::TopLeft:
        case Grip::BottomRight:
            return setCursor(Qt::SizeFDiagCursor);
        case Grip::TopRight:
        case Grip::BottomLeft:
            return setCursor(Qt::SizeBDiagCursor);
        default:
            return setCursor(Qt::SizeAllCursor);
        }
    }
    setCursor(Qt::ArrowCursor);
}

// The sample under the pointer, in all of its places.
void PageView::showSample(QPointF pixels) {
    auto found = layout_.sampleAt(toMm(pixels), kReach / pixelsPerMm());
    if (found == sample_) return;
    sample_ = std::move(found);
    update();
}

// "28 d: Raman shift 702.4 cm⁻¹, Intensity 3120", in the words of the axes.
QString PageView::wordsAt(QPointF pixels) const {
    const draw::Point mm = toMm(pixels);
    QStringList words;
    if (const std::string name = figure::nameAt(layout_, mm, kReach / pixelsPerMm()); !name.empty())
        words << text(name);
    if (sample_) words << sampleWords(*sample_);
    if (const figure::PanelGeometry* panel = figure::panelAt(layout_, mm)) {
        if (panel->projection)
            words << text(panel->projection->wordsAt({panel->x.value(mm.x), panel->y.value(mm.y)}));
        for (const figure::AxisGeometry& axis : panel->axes) {
            if (!axis.lanes.contains(mm)) continue;
            const double v = axis.map.value(figure::isAlongX(axis.side) ? mm.x : mm.y);
            words << valueWords(axis.meaning, v);
        }
    }
    words.removeAll({});
    words << tr("%1, %2 mm").arg(mm.x, 0, 'f', 1).arg(mm.y, 0, 'f', 1);
    return words.join("   ");
}

void PageView::mouseDoubleClickEvent(QMouseEvent* e) {
    for (const figure::Hit& hit : figure::hitsAt(layout_, toMm(e->position()), kReach / pixelsPerMm())) {
        const auto figure = shownFigure();
        const Element* element = figure ? figure->find(hit.element) : nullptr;
        if (!element) continue;
        held_.reset();
        document_.endDrag();
        document_.selectElement(hit.element, hit.of);
        return editText(hit.element);
    }
}

void PageView::zoomAxis(const figure::AxisGeometry& axis, QPointF at, double factor) {
    const draw::Point mm = toMm(at);
    const auto change = figure::zoomed(axis, figure::isAlongX(axis.side) ? mm.x : mm.y, factor);
    if (change)
        document_.apply(
            figure::editOf(document_.figure(), "Zoom axis", "zoom " + axis.axis.text(), {*change}));
}

void PageView::wheelEvent(QWheelEvent* e) {
    const double turn = e->angleDelta().y();
    if (const figure::AxisGeometry* axis = figure::axisAt(layout_, toMm(e->position()));
        axis && axis->axis && !(e->modifiers() & Qt::ControlModifier))
        return zoomAxis(*axis, e->position(), std::pow(0.9985, turn));
    const double before = pixelsPerMm(),
                 after = std::clamp(before * std::pow(1.0015, turn), 0.3 * kTrueSize, 12 * kTrueSize);
    const QPointF centre(width() / 2.0, kRuler + (height() - kRuler) / 2.0);
    pan_ = (pan_ + centre - e->position()) * (after / before) + e->position() - centre;
    zoom_ = after / kTrueSize;
    Q_EMIT zoomChanged(zoom_);
    refresh();
}

void PageView::fitToView() {
    zoom_ = 0;
    pan_ = {};
    Q_EMIT zoomChanged(pixelsPerMm() / kTrueSize);
    refresh();
}

void PageView::showTrueSize() {
    zoom_ = 1;
    pan_ = {};
    Q_EMIT zoomChanged(1);
    refresh();
}

void PageView::nudge(draw::Point by) {
    const auto figure = shownFigure();
    if (!figure) return;
    std::vector<figure::Change> changes;
    for (ElementId id : document_.elements()) {
        std::ranges::move(figure::changesOf({*figure, layout_, selectedHit(id), figure::Grip::Whole}, by),
                          std::back_inserter(changes));
    }
    if (!changes.empty())
        document_.apply(figure::editOf(document_.figure(), "Move", "nudge", std::move(changes)));
}

void PageView::keyPressEvent(QKeyEvent* e) {
    const double step = e->modifiers().testFlag(Qt::ShiftModifier) ? 1 : 0.1; // mm
    const bool selected = !document_.elements().empty();
    switch (e->key()) {
    case Qt::Key_Escape:
        if (held_ || heldGuide_ || editor_->isVisible()) { // as it was before
            held_.reset();
            heldGuide_.reset();
            guideX_.reset();
            guideY_.reset();
            editor_->hide();
            document_.cancelDrag();
            setFocus();
            return;
        }
        if (document_.element())
            document_.selectElement({});
        else
            fitToView();
        return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (selected) document_.apply(edits::removeElements(document_.figure(), document_.elements()));
        return;
    case Qt::Key_Left:
    case Qt::Key_Right:
        if (selected) return nudge({e->key() == Qt::Key_Left ? -step : step, 0});
        break;
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (selected) return nudge({0, e->key() == Qt::Key_Up ? -step : step});
        break;
    case Qt::Key_Space:
        spaceHeld_ = !e->isAutoRepeat() || spaceHeld_;
        return;
    case Qt::Key_F2:
        if (document_.element()) return editText(document_.element());
        break;
    default:
        break;
    }
    QWidget::keyPressEvent(e);
}

// The panel under the pointer, and what would become of a dataset there.
std::pair<const figure::PanelGeometry*, int> PageView::dropAt(QPointF pixels) const {
    const auto on = [&](const figure::PanelGeometry& g) {
        return onScreen({g.area.x, g.area.y, g.area.width, g.area.height});
    };
    for (auto g = layout_.panels.rbegin(); g != layout_.panels.rend(); ++g) {
        if (g->parent) continue;
        const QRectF r = on(*g);
        if (!r.adjusted(0, -kEdgePixels, kEdgePixels, 0).contains(pixels)) continue;
        if (std::abs(pixels.x() - r.right()) < kEdgePixels)
            return {&*g, static_cast<int>(figure::Drop::RightAxis)};
        if (std::abs(pixels.y() - r.top()) < kEdgePixels)
            return {&*g, static_cast<int>(figure::Drop::TopLane)};
        return {&*g, static_cast<int>(figure::Drop::Join)};
    }
    return {nullptr, static_cast<int>(figure::Drop::NewPanel)};
}

void PageView::dragEnterEvent(QDragEnterEvent* e) {
    if (e->mimeData()->hasFormat(kDatasetMime) || e->mimeData()->hasFormat(kFigureMime) ||
        !artworkIn(*e->mimeData()).isEmpty())
        e->acceptProposedAction();
    else
        e->ignore(); // files of data go to the window
}

void PageView::dragMoveEvent(QDragMoveEvent* e) {
    if (e->mimeData()->hasFormat(kDatasetMime)) dropping_ = e->position();
    e->acceptProposedAction();
    update();
}

void PageView::dragLeaveEvent(QDragLeaveEvent*) {
    dropping_.reset();
    update();
}

void PageView::dropEvent(QDropEvent* e) {
    dropping_.reset();
    e->acceptProposedAction();
    if (e->mimeData()->hasFormat(kFigureMime))
        return Q_EMIT figureDropped(QString::fromUtf8(e->mimeData()->data(kFigureMime)));
    if (const QStringList files = artworkIn(*e->mimeData()); !files.isEmpty())
        return Q_EMIT artworkDropped(files);
    const auto [panel, where] = dropAt(e->position());
    Q_EMIT datasetsDropped(QString::fromUtf8(e->mimeData()->data(kDatasetMime)), where,
                           panel ? panel->panel : ElementId{});
    update();
}

} // namespace jointer::app
