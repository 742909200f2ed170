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

} // namespace jointer::app
