// SPDX-License-Identifier: GPL-3.0-or-later
// What the mouse, the wheel and the keys do on a plot.
#include "app/canvas/plot_canvas.h"
#include "base/text.h"
#include "draw/markup.h"

#include <QMouseEvent>
#include <cmath>
#include <utility>

namespace jointer::app {

namespace {

constexpr double kReach = 9; // pixels within which a handle or a point is hit

} // namespace

int PlotCanvas::anchorAt(QPointF p) const {
    for (std::size_t i = 0; i + 1 < content_.anchors.size(); i += 2)
        if (QLineF(p, toPixels(content_.anchors[i], content_.anchors[i + 1])).length() < kReach)
            return static_cast<int>(i / 2);
    return -1;
}

PlotCanvas::Drag PlotCanvas::spanEndAt(QPointF p) const {
    if (!content_.span) return Drag::None;
    if (std::abs(toPixels(content_.span->first, 0).x() - p.x()) < kReach) return Drag::SpanLow;
    return std::abs(toPixels(content_.span->second, 0).x() - p.x()) < kReach ? Drag::SpanHigh : Drag::None;
}

void PlotCanvas::mousePressEvent(QMouseEvent* e) {
    if (!panel_) return;
    from_ = now_ = e->position();
    if (e->button() == Qt::MiddleButton) {
        drag_ = Drag::Pan;
        return;
    }
    if (e->button() == Qt::RightButton) {
        if (const int anchor = anchorAt(from_); anchor >= 0) Q_EMIT anchorRemoved(anchor);
        return;
    }
    if (e->button() != Qt::LeftButton) return;
    // Handles come first, whatever the tool.
    dragged_ = anchorAt(from_);
    if (dragged_ >= 0)
        drag_ = Drag::Anchor;
    else if (const Drag end = spanEndAt(from_); end != Drag::None)
        drag_ = end;
    else if (tool_ == Tool::Zoom || tool_ == Tool::LeaveOut)
        drag_ = Drag::Region;
    else if (tool_ == Tool::Span)
        drag_ = Drag::Span;
    else if (tool_ == Tool::Anchor && areaPixels().contains(from_)) {
        const QPointF v = toValues(from_);
        Q_EMIT anchorAdded(v.x(), v.y());
    } else
        probeAt(from_);
    if (isHandle(drag_)) Q_EMIT dragBegan();
}

void PlotCanvas::mouseMoveEvent(QMouseEvent* e) {
    if (!panel_) return;
    const QPointF before = now_;
    now_ = e->position();
    switch (drag_) {
    case Drag::None:
        probeAt(now_);
        return;
    case Drag::Pan: {
        const QPointF a = toValues(before), b = toValues(now_);
        if (panel_->x.log || panel_->y.log) return;
        const double dx = a.x() - b.x(), dy = a.y() - b.y();
        content_.xRange = {panel_->x.low + dx, panel_->x.high + dx};
        content_.yRange = {panel_->y.low + dy, panel_->y.high + dy};
        panel_->x.low += dx, panel_->x.high += dx, panel_->y.low += dy, panel_->y.high += dy;
        redraw();
        return;
    }
    case Drag::Anchor: {
        const QPointF v = toValues(now_);
        Q_EMIT anchorMoved(dragged_, v.x(), v.y());
        return;
    }
    case Drag::SpanLow:
    case Drag::SpanHigh: {
        if (!content_.span) return;
        auto span = *content_.span;
        (drag_ == Drag::SpanLow ? span.first : span.second) = toValues(now_).x();
        if (span.first < span.second) {
            content_.span = span;
            Q_EMIT spanChosen(span.first, span.second);
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
    if (isHandle(was)) Q_EMIT dragEnded();
    if (was == Drag::Region) chooseRegion();
    if (was == Drag::Span && std::abs(now_.x() - from_.x()) > 3) {
        const double a = toValues(from_).x(), b = toValues(now_).x();
        Q_EMIT spanChosen(std::min(a, b), std::max(a, b));
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
    if (tool_ == Tool::LeaveOut) return toggleIn(region, click);
    if (click) return;
    const QPointF a = toValues(region.bottomLeft()), b = toValues(region.topRight());
    offerRange({a.x(), b.x()}, std::pair(a.y(), b.y()));
}

// A click takes the nearest point, a box all in it: out when any of them still counts, else back in.
void PlotCanvas::toggleIn(QRectF region, bool click) {
    if (!probedCurve_) return;
    std::vector<std::uint32_t> rows;
    bool anyCounts = false;
    std::optional<std::size_t> nearest = click ? pointNear(region.center()) : std::nullopt;
    for (std::size_t i = 0; i < probedCurve_->size() && i < probedCurve_->rowIds.size(); ++i) {
        const bool hit =
            click ? nearest == i : region.contains(toPixels(probedCurve_->x[i], probedCurve_->y[i]));
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
    probe_ = pointNear(p);
    if (probe_)
        say(*probe_);
    else if (areaPixels().contains(p)) {
        const QPointF v = toValues(p);
        Q_EMIT probed(tr("x %1   y %2")
                          .arg(QString::fromStdString(readableNumber(v.x(), 5)),
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
                           c.isExcluded(i) ? tr("   left out") : QString()));
}

void PlotCanvas::moveProbe(int by) {
    if (!probedCurve_ || probedCurve_->size() == 0) return;
    const auto last = static_cast<long>(probedCurve_->size()) - 1;
    probe_ = static_cast<std::size_t>(std::clamp((probe_ ? static_cast<long>(*probe_) : 0) + by, 0L, last));
    say(*probe_);
    update();
}

void PlotCanvas::mouseDoubleClickEvent(QMouseEvent* e) {
    if (e->button() == Qt::LeftButton && tool_ != Tool::Anchor && tool_ != Tool::LeaveOut)
        Q_EMIT rangeReset();
}

void PlotCanvas::wheelEvent(QWheelEvent* e) {
    if (!panel_) return;
    const QRectF area = areaPixels();
    const QPointF at = e->position();
    const double factor = std::pow(0.9985, e->angleDelta().y());
    auto zoomed = [&](const figure::Scale& s, double about) {
        if (s.log)
            return std::pair(about * std::pow(s.low / about, factor),
                             about * std::pow(s.high / about, factor));
        return std::pair(about + (s.low - about) * factor, about + (s.high - about) * factor);
    };
    const QPointF v = toValues(at);
    const bool onX = at.y() > area.bottom(), onY = at.x() < area.left();
    const auto x = onY ? std::pair(panel_->x.low, panel_->x.high) : zoomed(panel_->x, v.x());
    const auto y = onX ? std::nullopt : std::optional(zoomed(panel_->y, v.y()));
    offerRange(x, onX ? content_.yRange : y);
}

void PlotCanvas::keyPressEvent(QKeyEvent* e) {
    const int step = e->modifiers().testFlag(Qt::ShiftModifier) ? 10 : 1;
    switch (e->key()) {
    case Qt::Key_Escape:
        if (isHandle(std::exchange(drag_, Drag::None))) Q_EMIT dragEnded();
        Q_EMIT escaped();
        return;
    case Qt::Key_Left:
        return moveProbe(-step);
    case Qt::Key_Right:
        return moveProbe(step);
    case Qt::Key_Home:
        return moveProbe(-1000000000);
    case Qt::Key_End:
        return moveProbe(1000000000);
    case Qt::Key_Delete:
        if (probe_ && probedCurve_ && *probe_ < probedCurve_->rowIds.size())
            Q_EMIT pointsToggled({probedCurve_->rowIds[*probe_]}, !probedCurve_->isExcluded(*probe_));
        return;
    default:
        QWidget::keyPressEvent(e);
    }
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
