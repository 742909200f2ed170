// SPDX-License-Identifier: GPL-3.0-or-later
// What the mouse, the wheel and the keys do on a plot.
#include "app/canvas/plot_canvas.h"
#include "app/theme/theme.h"
#include "base/text.h"
#include "draw/markup.h"

#include "data/column.h"

#include <QMimeData>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>
#include <utility>

namespace jointer::app {

namespace {

constexpr double kHandleReach = 9; // pixels within which a handle or a point is hit

} // namespace

QPointF PlotCanvas::placeOf(const steps::Handle& handle) const {
    const QPointF place = toPixels(handle.x, handle.y);
    if (handle.form == steps::HandleForm::Peak) return place - QPointF(0, handle.downwards ? -7 : 7);
    return handle.form == steps::HandleForm::Level ? QPointF(areaPixels().left() + 9, place.y()) : place;
}

std::optional<steps::Handle> PlotCanvas::handleAt(QPointF p) const {
    std::optional<steps::Handle> best;
    double nearest = kHandleReach;
    for (const steps::Handle& handle : content_.handles)
        if (const double away = QLineF(p, placeOf(handle)).length(); away < nearest)
            nearest = away, best = handle;
    return best;
}

std::pair<PlotCanvas::Drag, std::size_t> PlotCanvas::spanEndAt(QPointF p) const {
    for (std::size_t k = 0; k < content_.spans.size(); ++k) {
        const auto& [low, high] = content_.spans[k];
        if (std::abs(toPixels(low, 0).x() - p.x()) < kHandleReach) return {Drag::SpanLow, k};
        if (std::abs(toPixels(high, 0).x() - p.x()) < kHandleReach) return {Drag::SpanHigh, k};
    }
    return {Drag::None, 0};
}

// Of several pieces, and of what lies outside of one, what does not count is veiled.
void PlotCanvas::paintSpans(QPainter& p, const QRectF& area) const {
    if (content_.spans.size() < 2 && !content_.outsideSpans) return;
    std::vector<std::pair<double, double>> pieces; // from left to right, also on a reversed axis
    for (const auto& [low, high] : content_.spans)
        pieces.emplace_back(std::minmax({toPixels(low, 0).x(), toPixels(high, 0).x()}));
    std::ranges::sort(pieces);
    QColor veil = theme().ground;
    veil.setAlpha(150);
    auto fill = [&](double from, double to) {
        const QRectF part(QPointF(from, area.top()), QPointF(to, area.bottom()));
        if (from < to) p.fillRect(part & area, veil);
    };
    double open = area.left();
    for (const auto& [a, b] : pieces) {
        if (content_.outsideSpans)
            fill(a, b);
        else
            fill(open, a);
        open = std::max(open, b);
    }
    if (!content_.outsideSpans) fill(open, area.right());
}

void PlotCanvas::mousePressEvent(QMouseEvent* e) {
    if (!panel_) return;
    from_ = now_ = e->position();
    moved_ = false;
    const auto handle = handleAt(from_);
    if (e->button() == Qt::RightButton && handle) Q_EMIT handleAsked(*handle, e->globalPosition().toPoint());
    if (content_.overview && e->button() == Qt::LeftButton) {
        drag_ = Drag::Window;
        return moveWindow();
    }
    if (e->button() == Qt::MiddleButton || (e->button() == Qt::LeftButton && spaceHeld_)) {
        drag_ = Drag::Pan;
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    // Handles come first, whatever the tool.
    if (handle)
        drag_ = Drag::Handle, dragged_ = *handle;
    else if (content_.cutoff && std::abs(toPixels(*content_.cutoff, 0).x() - from_.x()) < kHandleReach)
        drag_ = Drag::Cutoff;
    else if (const auto [end, piece] = spanEndAt(from_); end != Drag::None)
        drag_ = end, draggedSpan_ = piece;
    else if (tool_ == Tool::LeaveOut && e->modifiers().testFlag(Qt::AltModifier)) {
        drag_ = Drag::Lasso;
        lasso_ = {from_};
    } else if (tool_ == Tool::Zoom || tool_ == Tool::LeaveOut)
        drag_ = Drag::Region;
    else if (tool_ == Tool::Span)
        drag_ = Drag::Span, further_ = e->modifiers().testFlag(Qt::ShiftModifier);
    else if ((tool_ == Tool::Anchor || tool_ == Tool::Peak) && areaPixels().contains(from_)) {
        const QPointF v = toValues(from_);
        Q_EMIT placeClicked(v.x(), v.y(), e->modifiers().testFlag(Qt::AltModifier));
    } else {
        probeAt(from_);
        if (content_.probedPoints && probe_ && *probe_ < probedCurve_->rowIds.size())
            Q_EMIT pointClicked(probedCurve_->rowIds[*probe_]);
    }
    if (isHandle(drag_)) Q_EMIT dragBegan();
}

void PlotCanvas::dragEnterEvent(QDragEnterEvent* e) {
    if (!dropped_.isEmpty() && e->mimeData()->hasFormat(dropped_))
        e->acceptProposedAction();
    else
        e->ignore(); // files go to the window
}

void PlotCanvas::dropEvent(QDropEvent* e) {
    e->acceptProposedAction();
    Q_EMIT tableDropped(QString::fromUtf8(e->mimeData()->data(dropped_)),
                        mapToGlobal(e->position().toPoint()));
}

void PlotCanvas::pan(QPointF before) {
    if (content_.overview) return;
    const QPointF by = (before - now_) * kMmPerPixel;
    auto move = [](figure::AxisMap& map, double mm) {
        const figure::Range range = map.moved(mm);
        if (!map.scale().takes(range.low) || !map.scale().takes(range.high)) return;
        map = figure::AxisMap(map.sharedScale(), range, map.start(), map.end());
    };
    move(panel_->x, by.x());
    move(panel_->y, by.y());
    content_.xRange = {panel_->x.low(), panel_->x.high()};
    content_.yRange = {panel_->y.low(), panel_->y.high()};
    redraw();
}

// The window of the work plot goes where the pointer is, as wide as it is.
void PlotCanvas::moveWindow() {
    if (!content_.window) return;
    const double half = (content_.window->second - content_.window->first) / 2, at = toValues(now_).x();
    content_.window = {at - half, at + half};
    offerRange(*content_.window, std::nullopt);
    update();
}

void PlotCanvas::mouseMoveEvent(QMouseEvent* e) {
    if (!panel_) return;
    const QPointF before = now_;
    now_ = e->position();
    moved_ |= (now_ - from_).manhattanLength() > 3;
    const QPointF v = toValues(now_);
    switch (drag_) {
    case Drag::None:
        probeAt(now_);
        return;
    case Drag::Pan:
        return pan(before);
    case Drag::Window:
        return moveWindow();
    case Drag::Handle:
        if (moved_) Q_EMIT handleMoved(dragged_, v.x(), v.y());
        return;
    case Drag::Cutoff:
        if (v.x() > 0) {
            content_.cutoff = v.x();
            Q_EMIT cutoffMoved(v.x());
        }
        break;
    case Drag::Lasso:
        lasso_ << now_;
        break;
    case Drag::SpanLow:
    case Drag::SpanHigh: {
        if (draggedSpan_ >= content_.spans.size()) return;
        auto span = content_.spans[draggedSpan_];
        (drag_ == Drag::SpanLow ? span.first : span.second) = v.x();
        if (span.first < span.second) {
            content_.spans[draggedSpan_] = span;
            Q_EMIT spanChosen(span.first, span.second, draggedSpan_, false);
        }
        break;
    }
    default:
        break;
    }
    update();
}

void PlotCanvas::mouseReleaseEvent(QMouseEvent*) {
    const Drag was = drag_;
    drag_ = Drag::None;
    if (was == Drag::Handle && !moved_) Q_EMIT handleClicked(dragged_);
    if (isHandle(was)) Q_EMIT dragEnded();
    if (was == Drag::Region) chooseRegion();
    if (was == Drag::Lasso) toggleIn(lasso_, lasso_.size() < 4);
    if (was == Drag::Span && std::abs(now_.x() - from_.x()) > 3) {
        const double a = toValues(from_).x(), b = toValues(now_).x();
        Q_EMIT spanChosen(std::min(a, b), std::max(a, b), std::nullopt, further_);
    }
    if (was == Drag::Pan && content_.xRange) offerRange(*content_.xRange, content_.yRange);
    update();
}

// Numbers can no longer be told apart in a range that is too narrow, nor subtracted in one that is too wide.
void PlotCanvas::offerRange(std::pair<double, double> x, std::optional<std::pair<double, double>> y) {
    auto makesSense = [](const std::pair<double, double>& r) {
        const double size = std::max(std::abs(r.first), std::abs(r.second));
        return r.second - r.first > 1e-11 * size && size < 1e290;
    };
    if (makesSense(x) && (!y || makesSense(*y))) Q_EMIT rangeChosen(x.first, x.second, y);
}

void PlotCanvas::chooseRegion() {
    const QRectF region = QRectF(from_, now_).normalized();
    const bool click = region.width() < 4 && region.height() < 4;
    if (tool_ == Tool::LeaveOut) return toggleIn(QPolygonF(region), click);
    if (click) return;
    const QPointF a = toValues(region.bottomLeft()), b = toValues(region.topRight());
    const std::pair<double, double> x = std::minmax(a.x(), b.x()), y = std::minmax(a.y(), b.y());
    offerRange(x, region.height() < 4 ? content_.yRange : y); // a flat drag is one along x
}

// A click takes the nearest point, a box or a lasso all in it: out when any of them still counts, else back
// in.
void PlotCanvas::toggleIn(const QPolygonF& region, bool click) {
    if (!probedCurve_) return;
    std::vector<std::uint32_t> rows;
    bool anyCounts = false;
    const QRectF box = region.boundingRect();
    std::optional<std::size_t> nearest = click ? pointNear(box.center()) : std::nullopt;
    for (std::size_t i = 0; i < probedCurve_->size() && i < probedCurve_->rowIds.size(); ++i) {
        const QPointF at = click ? QPointF() : toPixels(probedCurve_->x[i], probedCurve_->y[i]);
        const bool hit = click ? nearest == i : box.contains(at) && region.containsPoint(at, Qt::OddEvenFill);
        if (!hit) continue;
        rows.push_back(probedCurve_->rowIds[i]);
        anyCounts |= !probedCurve_->isExcluded(i);
    }
    if (!rows.empty()) Q_EMIT pointsToggled(rows, anyCounts);
}

std::optional<std::size_t> PlotCanvas::pointNear(QPointF p) const {
    if (!probedCurve_ || probedCurve_->size() == 0 || !panel_) return std::nullopt;
    std::optional<std::size_t> best;
    double distance = 20;
    const double left = toValues(p - QPointF(20, 0)).x(), right = toValues(p + QPointF(20, 0)).x();
    const auto& xs = probedCurve_->x;
    auto i =
        static_cast<std::size_t>(std::lower_bound(xs.begin(), xs.end(), std::min(left, right)) - xs.begin());
    for (; i < xs.size() && xs[i] <= std::max(left, right); ++i) {
        const double d = QLineF(p, toPixels(xs[i], probedCurve_->y[i])).length();
        if (d < distance) distance = d, best = i;
    }
    return best;
}

void PlotCanvas::probeAt(QPointF p) {
    const auto handle = handleAt(p);
    probe_ = handle ? std::nullopt : pointNear(p);
    if (handle && !handle->says.empty())
        Q_EMIT probed(QString::fromStdString(handle->says));
    else if (probe_)
        say(*probe_);
    else if (areaPixels().contains(p)) {
        const QPointF v = toValues(p);
        const bool isTime = probedCurve_ && probedCurve_->xMeaning.isTime && !content_.ownX;
        Q_EMIT probed(tr("x %1   y %2")
                          .arg(QString::fromStdString(isTime ? isoDateTime(v.x()) : readableNumber(v.x(), 5)),
                               QString::fromStdString(readableNumber(v.y(), 4))));
    }
    update();
}

void PlotCanvas::say(std::size_t i) {
    const Curve& c = *probedCurve_;
    const QString unit =
        c.xMeaning.unit.empty() ? QString() : " " + QString::fromStdString(draw::unitPlain(c.xMeaning.unit));
    const QString x =
        QString::fromStdString(c.xMeaning.isTime ? isoDateTime(c.x[i]) : readableNumber(c.x[i], 6));
    Q_EMIT probed(tr("%1   point %2   x %3%4   y %5%6")
                      .arg(QString::fromStdString(content_.probedName))
                      .arg(i + 1)
                      .arg(x, unit, QString::fromStdString(readableNumber(c.y[i], 6)),
                           c.isExcluded(i) ? tr("   left out")
                           : c.isMade(i)   ? tr("   put in by a step")
                                           : QString()));
}

void PlotCanvas::moveProbe(int by) {
    if (!probedCurve_ || probedCurve_->size() == 0) return;
    const auto last = static_cast<long>(probedCurve_->size()) - 1;
    probe_ = static_cast<std::size_t>(std::clamp((probe_ ? static_cast<long>(*probe_) : 0) + by, 0L, last));
    say(*probe_);
    update();
}

void PlotCanvas::mouseDoubleClickEvent(QMouseEvent* e) {
    if (e->button() == Qt::LeftButton && tool_ != Tool::Anchor && tool_ != Tool::Peak &&
        tool_ != Tool::LeaveOut)
        Q_EMIT rangeReset();
}

void PlotCanvas::wheelEvent(QWheelEvent* e) {
    if (!panel_) return;
    const QRectF area = areaPixels();
    const QPointF at = e->position();
    if (content_.overview) return;
    const double factor = std::pow(0.9985, e->angleDelta().y());
    auto zoomed = [&](const figure::AxisMap& map, double about) {
        const figure::Range range = map.zoomed(about, factor);
        return std::pair(range.low, range.high);
    };
    const QPointF v = toValues(at);
    const bool onX = at.y() > area.bottom(), onY = at.x() < area.left();
    const auto x = onY ? std::pair(panel_->x.low(), panel_->x.high()) : zoomed(panel_->x, v.x());
    const auto y = onX ? std::nullopt : std::optional(zoomed(panel_->y, v.y()));
    offerRange(x, onX ? content_.yRange : y);
}

void PlotCanvas::keyPressEvent(QKeyEvent* e) {
    const int step = e->modifiers().testFlag(Qt::ShiftModifier) ? 10 : 1;
    if (e->matches(QKeySequence::Copy)) return Q_EMIT numbersCopied();
    if (e->modifiers().testFlag(Qt::AltModifier) && (e->key() == Qt::Key_Left || e->key() == Qt::Key_Right))
        return Q_EMIT viewStepped(e->key() == Qt::Key_Left ? -1 : 1);
    switch (e->key()) {
    case Qt::Key_Escape:
        if (const Drag was = std::exchange(drag_, Drag::None); isHandle(was)) return Q_EMIT dragGivenUp();
        return Q_EMIT escaped();
    case Qt::Key_Left:
        return moveProbe(-step);
    case Qt::Key_Right:
        return moveProbe(step);
    case Qt::Key_Up:
        return Q_EMIT curveStepped(-1);
    case Qt::Key_Down:
        return Q_EMIT curveStepped(1);
    case Qt::Key_Home:
        return moveProbe(-1000000000);
    case Qt::Key_End:
        return moveProbe(1000000000);
    case Qt::Key_Space:
        spaceHeld_ = true;
        return;
    case Qt::Key_M:
        if (!e->isAutoRepeat()) Q_EMIT measuredHeld(true);
        return;
    case Qt::Key_C:
        return lookIntoCrowd();
    case Qt::Key_Delete:
        if (const auto handle = underMouse() ? handleAt(mapFromGlobal(QCursor::pos())) : std::nullopt)
            Q_EMIT handleRemoved(*handle);
        else if (probe_ && probedCurve_ && *probe_ < probedCurve_->rowIds.size())
            Q_EMIT pointsToggled({probedCurve_->rowIds[*probe_]}, !probedCurve_->isExcluded(*probe_));
        return;
    default:
        QWidget::keyPressEvent(e);
    }
}

void PlotCanvas::keyReleaseEvent(QKeyEvent* e) {
    if (e->key() == Qt::Key_Space && !e->isAutoRepeat()) spaceHeld_ = false;
    if (e->key() == Qt::Key_M && !e->isAutoRepeat()) return Q_EMIT measuredHeld(false);
    QWidget::keyReleaseEvent(e);
}

void PlotCanvas::focusOutEvent(QFocusEvent* e) {
    spaceHeld_ = false;
    Q_EMIT measuredHeld(false);
    QWidget::focusOutEvent(e);
}

void PlotCanvas::focusInEvent(QFocusEvent* e) {
    byKeyboard_ = e->reason() == Qt::TabFocusReason || e->reason() == Qt::BacktabFocusReason;
    update();
}

void PlotCanvas::leaveEvent(QEvent*) {
    probe_.reset();
    Q_EMIT probed({});
    update();
}

} // namespace jointer::app
