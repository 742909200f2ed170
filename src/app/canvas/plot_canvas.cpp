// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/canvas/plot_canvas.h"

#include "app/canvas/work_figure.h"
#include "app/theme/theme.h"
#include "base/text.h"
#include "draw/markup.h"
#include "paint/painter.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <cmath>
#include <utility>

namespace jointer::app {

namespace {

constexpr double kReach = 9; // pixels within which a handle or a point is hit

} // namespace

PlotCanvas::PlotCanvas(QWidget* parent) : QWidget(parent), job_(this) {
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(160, 80);
    setAccessibleName(tr("Plot"));
}

PlotCanvas::~PlotCanvas() = default;

void PlotCanvas::show(PlotContent content) {
    // The handles of the picture that still stands stay with it, also while one is being dragged.
    if (content.prepare) {
        content.anchors = content_.anchors;
        content.span = content_.span;
    }
    content_ = std::move(content);
    probe_.reset();
    redraw();
}

void PlotCanvas::setTool(Tool tool) {
    tool_ = tool;
    drag_ = Drag::None;
    setCursor(tool == Tool::Pointer ? Qt::ArrowCursor
              : tool == Tool::Span  ? Qt::SizeHorCursor
                                    : Qt::CrossCursor);
    update();
}

void PlotCanvas::redraw() {
    const int number = ++wanted_;
    const double ratio = devicePixelRatioF();
    const QColor ground = theme().plot;
    job_.request([this, number, content = content_, size = QSizeF(this->size()), ratio,
                  ground](const Cancellation&) mutable -> std::function<void()> {
        if (content.prepare) {
            content.anchors.clear();
            content.span.reset();
            content.prepare(content);
        }
        auto layout = std::make_shared<figure::Layout>();
        QImage image;
        std::shared_ptr<const Curve> curve;
        if (!content.marks.empty() && content.evaluator) {
            const double perMm = ratio / kMmPerPixel;
            *layout = figure::layOut(content.project, workFigure(content, size), *content.evaluator,
                                     {.pixelsPerMm = perMm, .effort = content.effort});
            image = QImage((size * ratio).toSize(), QImage::Format_ARGB32_Premultiplied);
            image.fill(ground);
            QPainter painter(&image);
            painter.scale(perMm, perMm);
            paint::paintList(painter, layout->list, paint::Medium::Raster, perMm);
            painter.end();
            image.setDevicePixelRatio(ratio);
            if (content.probed) {
                const auto protocol = content.evaluator->protocol(content.project, content.probed);
                curve = protocol.leftOutAsMeasured(); // hit where they are drawn
            }
        }
        return [this, number, image, layout, curve, content] {
            if (number == wanted_ && drag_ != Drag::Pan) {
                const auto span = content_.span;
                content_ = content;
                if (isSpanEnd(drag_)) content_.span = span;
            }
            picture_ = image;
            panel_ = layout->panels.empty() ? std::nullopt : std::optional(layout->panels.front());
            probedCurve_ = curve;
            shown_ = number;
            update();
            Q_EMIT drawn();
        };
    });
}

QRectF PlotCanvas::areaPixels() const {
    if (!panel_) return {};
    const draw::Rect& a = panel_->area;
    return {a.x / kMmPerPixel, a.y / kMmPerPixel, a.width / kMmPerPixel, a.height / kMmPerPixel};
}

double PlotCanvas::nearestX(double x) const {
    if (!probedCurve_ || probedCurve_->size() == 0 || x < probedCurve_->x.front() ||
        x > probedCurve_->x.back())
        return x;
    return probedCurve_->x[nearestPoint(probedCurve_->x, x)];
}

QPointF PlotCanvas::toPixels(double x, double y) const {
    if (!panel_) return {};
    return {panel_->x.place(x) / kMmPerPixel, panel_->y.place(y) / kMmPerPixel};
}

QPointF PlotCanvas::toValues(QPointF p) const {
    if (!panel_) return {};
    return {panel_->x.value(p.x() * kMmPerPixel), panel_->y.value(p.y() * kMmPerPixel)};
}

void PlotCanvas::resizeEvent(QResizeEvent*) {
    redraw();
}

void PlotCanvas::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().plot);
    if (content_.marks.empty()) {
        p.setPen(theme().muted);
        p.drawText(rect().adjusted(20, 20, -20, -20), Qt::AlignCenter | Qt::TextWordWrap,
                   QString::fromStdString(content_.emptyText));
        return;
    }
    if (!picture_.isNull()) p.drawImage(0, 0, picture_);
    if (!panel_) return;
    const QRectF area = areaPixels();
    if (content_.span) {
        p.setPen(QPen(theme().copper, 1.4));
        for (double x : {content_.span->first, content_.span->second}) {
            const double px = toPixels(x, 0).x();
            if (!std::isfinite(x) || px < area.left() - 1 || px > area.right() + 1) continue;
            p.setBrush(theme().plot);
            p.drawLine(QPointF(px, area.top()), QPointF(px, area.bottom()));
            p.drawRoundedRect(QRectF(px - 5, area.center().y() - 13, 10, 26), 4, 4);
        }
    }
    p.setPen(QPen(theme().copper, 1.6));
    p.setBrush(theme().plot);
    for (std::size_t i = 0; i + 1 < content_.anchors.size(); i += 2) {
        const QPointF c = toPixels(content_.anchors[i], content_.anchors[i + 1]);
        if (!area.adjusted(-6, -6, 6, 6).contains(c)) continue;
        p.drawPolygon(
            QPolygonF({c + QPointF(0, -6), c + QPointF(6, 0), c + QPointF(0, 6), c + QPointF(-6, 0)}));
    }
    if (probe_ && probedCurve_ && *probe_ < probedCurve_->size()) {
        const QPointF c = toPixels(probedCurve_->x[*probe_], probedCurve_->y[*probe_]);
        if (area.contains(c)) {
            p.setPen(QPen(theme().ink, 1.2));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(c, 5, 5);
        }
    }
    if (drag_ == Drag::Region || drag_ == Drag::Span) {
        QRectF r = QRectF(from_, now_).normalized().intersected(area);
        if (drag_ == Drag::Span) r.setTop(area.top()), r.setBottom(area.bottom());
        QColor fill = theme().copper;
        fill.setAlpha(36);
        p.setPen(QPen(theme().copper, 1, Qt::DashLine));
        p.fillRect(r, fill);
        p.drawRect(r);
    }
    if (hasFocus() && byKeyboard_) {
        p.setPen(QPen(theme().accent, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

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
