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
#include <algorithm>
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
        content.handles = content_.handles;
        content.handled = content_.handled;
        content.handledOutput = content_.handledOutput;
        content.handledAnalysis = content_.handledAnalysis;
        content.handledResult = content_.handledResult;
        content.spans = content_.spans;
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
            content.handles.clear();
            content.handledOutput.reset();
            content.handledResult.reset();
            content.spans.clear();
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
            paint::paintOver(image, layout->list, {0, 0, image.width() / perMm, image.height() / perMm},
                             paint::Medium::Raster);
            image.setDevicePixelRatio(ratio);
            if (content.probed) {
                const auto protocol = content.evaluator->protocol(content.project, content.probed);
                // Left-out points are hit where they are drawn.
                curve = protocol.leftOutAsMeasured(protocol.at(content.probedPoint));
            }
            if (content.probedPoints) curve = content.probedPoints;
        }
        return [this, number, image, layout, curve, content] {
            if (number == wanted_ && drag_ != Drag::Pan) {
                const auto spans = content_.spans;
                content_ = content;
                if (isSpanEnd(drag_)) content_.spans = spans;
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
    if (content_.overview) paintWindow(p, area);
    auto tab = [&](double x) {
        const double px = toPixels(x, 0).x();
        if (!std::isfinite(px) || px < area.left() - 1 || px > area.right() + 1) return;
        p.setPen(QPen(theme().copper, 1.4));
        p.setBrush(theme().plot);
        p.drawLine(QPointF(px, area.top()), QPointF(px, area.bottom()));
        p.drawRoundedRect(QRectF(px - 5, area.center().y() - 13, 10, 26), 4, 4);
    };
    paintSpans(p, area);
    for (const auto& [low, high] : content_.spans)
        for (double x : {low, high}) tab(x);
    if (content_.cutoff) tab(*content_.cutoff);
    paintAxisNotes(p, area);
    for (const steps::Handle& handle : content_.handles)
        if (area.adjusted(-6, -6, 6, 6).contains(placeOf(handle))) paintHandle(p, handle);
    if (probe_ && probedCurve_ && *probe_ < probedCurve_->size()) {
        const QPointF c = toPixels(probedCurve_->x[*probe_], probedCurve_->y[*probe_]);
        if (area.contains(c)) {
            p.setPen(QPen(theme().ink, 1.2));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(c, 5, 5);
        }
    }
    paintGestures(p, area);
    if (hasFocus() && byKeyboard_) {
        p.setPen(QPen(theme().accent, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

// Handles are told apart by form, their states by filling: hollow is proposed, full accepted, crossed
// refused.
void PlotCanvas::paintHandle(QPainter& p, const steps::Handle& handle) const {
    using namespace steps;
    const QPointF c = placeOf(handle);
    const bool refused = handle.state == HandleState::Refused;
    p.setPen(QPen(refused ? theme().muted : theme().copper, 1.6));
    p.setBrush(handle.state == HandleState::Accepted ? theme().copper : theme().plot);
    constexpr double r = 5.5;
    const QPolygonF diamond({c + QPointF(0, -r), c + QPointF(r, 0), c + QPointF(0, r), c + QPointF(-r, 0)});
    switch (handle.form) {
    case HandleForm::Anchor:
        p.drawPolygon(diamond);
        break;
    case HandleForm::Found:
        if (handle.state == HandleState::Proposed) p.setBrush(Qt::NoBrush);
        p.drawEllipse(c, r, r);
        break;
    case HandleForm::Level:
        p.drawPolygon(diamond);
        p.setPen(QPen(theme().copper, 1, Qt::DashLine));
        p.drawLine(c + QPointF(r + 2, 0), QPointF(areaPixels().right(), c.y()));
        p.setPen(theme().muted);
        p.drawText(QRectF(c.x() + r + 4, c.y() - fontMetrics().height() - 1,
                          areaPixels().right() - c.x() - r - 10, fontMetrics().height()),
                   Qt::AlignRight, QString::fromStdString(handle.says));
        break;
    case HandleForm::SpanEnd:
        p.drawRoundedRect(QRectF(c.x() - 4, c.y() - 10, 8, 20), 4, 4);
        if (handle.index == 0) // a line to the other end
            for (const Handle& other : content_.handles)
                if (other.form == HandleForm::SpanEnd && other.setting == handle.setting && other.index == 1)
                    p.drawLine(c + QPointF(4, 0), placeOf(other) - QPointF(4, 0));
        break;
    case HandleForm::Peak:
        paintPeak(p, handle, c);
        break;
    case HandleForm::PeakWidth:
        if (handle.row == 0) // a bar to the other end
            for (const Handle& other : content_.handles)
                if (other.form == HandleForm::PeakWidth && other.index == handle.index && other.row == 1) {
                    p.drawLine(c, placeOf(other));
                    p.setBrush(theme().plot);
                }
        p.setBrush(theme().plot);
        p.drawRoundedRect(QRectF(c.x() - 3, c.y() - 6, 6, 12), 2.5, 2.5);
        break;
    case HandleForm::Grip:
        p.drawRoundedRect(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), 2, 2);
        p.drawLine(c + QPointF(-r - 5, 0), c + QPointF(-r, 0));
        p.drawLine(c + QPointF(r, 0), c + QPointF(r + 5, 0));
        break;
    }
    if (!refused) return;
    p.drawLine(c + QPointF(-r, -r), c + QPointF(r, r));
    p.drawLine(c + QPointF(-r, r), c + QPointF(r, -r));
}

// A triangle that points at the top of the peak, its name above it; broken lines: only proposed.
void PlotCanvas::paintPeak(QPainter& p, const steps::Handle& handle, QPointF at) const {
    const double up = handle.downwards ? -1 : 1;
    QPen pen(theme().copper, handle.setting == "further" ? 1.1 : 1.6);
    if (handle.setting == "further") pen.setStyle(Qt::DotLine);
    p.setPen(pen);
    p.drawPolygon(
        QPolygonF({at + QPointF(0, 6 * up), at + QPointF(-6.5, -5 * up), at + QPointF(6.5, -5 * up)}));
    if (handle.label.empty()) return;
    QFont font = p.font();
    font.setBold(static_cast<int>(handle.index) == content_.strongPeak && handle.index > 0);
    p.setFont(font);
    p.setPen(font.bold() ? theme().ink : theme().muted);
    const QString words = QString::fromStdString(handle.label);
    const double width = QFontMetricsF(font).horizontalAdvance(words) + 4, height = p.fontMetrics().height();
    const QRectF area = areaPixels();
    const double left =
        std::clamp(at.x() - width / 2, area.left() + 2, std::max(area.left() + 2, area.right() - width - 2));
    p.drawText(QRectF(left, up > 0 ? at.y() - 7 - height : at.y() + 7, width, height), Qt::AlignCenter,
               words);
    font.setBold(false);
    p.setFont(font);
}

// An open triangle on the axis, with words beside it that stay within the panel.
void PlotCanvas::paintAxisNotes(QPainter& p, const QRectF& area) const {
    for (const AxisNote& note : content_.axisNotes) {
        const QPointF place = note.ofY ? QPointF(area.left(), toPixels(0, note.at).y())
                                       : QPointF(toPixels(note.at, 0).x(), area.bottom());
        if (!area.adjusted(-1, -1, 1, 1).contains(place)) continue;
        const QPointF inwards = note.ofY ? QPointF(8, 0) : QPointF(0, -8);
        const QPointF along(inwards.y() / 1.6, inwards.x() / 1.6);
        p.setPen(QPen(theme().copper, 1.2));
        p.setBrush(theme().plot);
        p.drawPolygon(QPolygonF({place, place + inwards + along, place + inwards - along}));
        const QString words = QString::fromStdString(note.says);
        const QSizeF size(fontMetrics().horizontalAdvance(words) + 2, fontMetrics().height());
        QPointF at = place + (note.ofY ? QPointF(12, -size.height() / 2) : QPointF(8, -size.height() - 2));
        if (at.x() + size.width() > area.right()) at.setX(place.x() - 8 - size.width());
        p.setPen(theme().muted);
        p.drawText(QRectF(at, size), Qt::AlignLeft | Qt::AlignVCenter, words);
    }
}

void PlotCanvas::paintGestures(QPainter& p, const QRectF& area) const {
    QColor fill = theme().copper;
    fill.setAlpha(36);
    p.setPen(QPen(theme().copper, 1, Qt::DashLine));
    if (drag_ == Drag::Lasso) {
        p.setBrush(fill);
        p.drawPolygon(lasso_);
    }
    if (drag_ != Drag::Region && drag_ != Drag::Span) return;
    QRectF r = QRectF(from_, now_).normalized().intersected(area);
    if (drag_ == Drag::Span) r.setTop(area.top()), r.setBottom(area.bottom());
    p.setBrush(Qt::NoBrush);
    p.fillRect(r, fill);
    p.drawRect(r);
}

// Of the whole curve what the work plot shows; the rest is dimmed.
void PlotCanvas::paintWindow(QPainter& p, const QRectF& area) const {
    if (!content_.window) return;
    double a = toPixels(content_.window->first, 0).x(), b = toPixels(content_.window->second, 0).x();
    if (a > b) std::swap(a, b);
    a = std::clamp(a, area.left(), area.right());
    b = std::clamp(b, area.left(), area.right());
    QColor dim = theme().ground;
    dim.setAlpha(190);
    p.fillRect(QRectF(QPointF(area.left(), area.top()), QPointF(a, area.bottom())), dim);
    p.fillRect(QRectF(QPointF(b, area.top()), QPointF(area.right(), area.bottom())), dim);
    p.setPen(QPen(theme().copper, 1.2));
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(QPointF(a, area.top()), QPointF(std::max(b, a + 2), area.bottom())));
}

// The end of x where the points stand closest, and the view before when it is seen already: the low standards
// of a curve, the beginning of a decay.
void PlotCanvas::lookIntoCrowd() {
    if (!panel_ || !probedCurve_ || content_.overview || probedCurve_->size() < 4) return;
    const Curve& c = *probedCurve_;
    const std::size_t last = c.size() - 1, part = (9 * last) / 20;
    const bool low = c.x[last / 2] - c.x[0] <= c.x[last] - c.x[last / 2];
    const std::size_t from = low ? 0 : last - part, to = low ? part : last;
    if (!(c.x[to] > c.x[from])) return;
    const auto padded = [](double a, double b) {
        const double room = 0.08 * (b - a);
        return std::pair(a - room, b + room);
    };
    const auto [least, most] = std::minmax_element(c.y.begin() + static_cast<std::ptrdiff_t>(from),
                                                   c.y.begin() + static_cast<std::ptrdiff_t>(to) + 1);
    const auto x = padded(c.x[from], c.x[to]);
    if (content_.xRange == x) return Q_EMIT viewStepped(-1);
    offerRange(x, *most > *least ? std::optional(padded(*least, *most)) : std::nullopt);
}

} // namespace jointer::app
