// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trend_plot.h"

#include "app/canvas/work_figure.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "figure/kinds.h"
#include "paint/painter.h"
#include "session/import.h"
#include "session/trend.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <cmath>
#include <map>

namespace jointer::app {

namespace {

constexpr double kReach = 10; // pixels around a point

// A figure of the size of the widget with the points of the table.
std::pair<Project, FigureId> figureOf(const Table& trend, const QSize& size) {
    Project p = newProject("trend");
    if (auto kept = keepTrend(trend).apply(p)) p = std::move(*kept);
    const DatasetId d = p.datasets[0].id;
    Element points = figure::newMark("points", d.text());
    Figure f = figure::newFigure("trend", p.styles[0].id, {points});
    f.settings.set("width", Value(size.width() * kMmPerPixel));
    f.settings.set("height", Value(size.height() * kMmPerPixel));
    for (Element& e : f.elements)
        std::erase_if(e.children, [](const Element& child) { return child.kind == "legend"; });
    std::erase_if(f.elements, [](const Element& e) { return e.kind == "legend"; });
    if (auto made = edits::addFigure(std::move(f)).apply(p)) p = std::move(*made);
    return {p, p.figures[0].id};
}

// Numbers, or which of the groups each is, counted from 1 in the order in which they come.
std::vector<double> placesOf(const Column& column) {
    if (column.kind != ColumnKind::Text) return {column.numbers().begin(), column.numbers().end()};
    std::map<std::string, double> groups;
    std::vector<double> out;
    for (const std::string& group : column.cells->texts)
        out.push_back(groups.try_emplace(group, static_cast<double>(groups.size() + 1)).first->second);
    return out;
}

} // namespace

TrendPlot::TrendPlot(QWidget* parent) : QWidget(parent), job_(this) {
    setObjectName("trendPlot");
    setAccessibleName(tr("Trend"));
    setMinimumHeight(150);
    setMouseTracking(true);
}

void TrendPlot::show(Table trend) {
    if (trend == table_) return;
    table_ = std::move(trend);
    xs_ = table_.rowCount() > 0 ? placesOf(table_.columns[1]) : std::vector<double>();
    draw();
}

void TrendPlot::draw() {
    if (table_.rowCount() == 0 || width() < 60) {
        picture_ = {};
        panels_.clear();
        update();
        return;
    }
    job_.request([this, table = table_, size = size(),
                  ratio = devicePixelRatioF()](const Cancellation&) -> std::function<void()> {
        const auto [project, id] = figureOf(table, size);
        evaluate::Evaluator evaluator(8u << 20);
        figure::Layout layout = figure::layOut(project, *project.figures.find(id), evaluator);
        QImage image = paint::toImage(layout.list, 25.4 / kMmPerPixel * ratio, false);
        image.setDevicePixelRatio(ratio);
        return [this, image, panels = std::move(layout.panels)] {
            picture_ = image;
            panels_ = panels;
            update();
        };
    });
}

void TrendPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    if (!picture_.isNull()) return painter.drawImage(0, 0, picture_);
    painter.setPen(theme().muted);
    painter.drawText(rect(), Qt::AlignCenter,
                     tr("A trend needs a quantity and an attribute of two curves at least."));
}

QPointF TrendPlot::placeOf(std::size_t row) const {
    if (panels_.empty() || row >= table_.rowCount()) return {};
    const figure::PanelGeometry& panel = panels_.front();
    const double x = panel.x.place(xs_[row]),
                 y = panel.y.place(table_.columns[2].numbers()[row]);
    return {x / kMmPerPixel, y / kMmPerPixel};
}

std::ptrdiff_t TrendPlot::rowAt(const QPointF& at) const {
    std::ptrdiff_t nearest = -1;
    double least = kReach;
    for (std::size_t row = 0; row < table_.rowCount(); ++row) {
        const QPointF away = placeOf(row) - at;
        const double distance = std::hypot(away.x(), away.y());
        if (distance > least) continue;
        least = distance;
        nearest = static_cast<std::ptrdiff_t>(row);
    }
    return nearest;
}

void TrendPlot::mousePressEvent(QMouseEvent* event) {
    if (const auto row = rowAt(event->position()); row >= 0)
        Q_EMIT opened(text(table_.columns[0].cells->texts[static_cast<std::size_t>(row)]));
}

bool TrendPlot::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const auto row = rowAt(help->pos());
    if (row < 0)
        QToolTip::hideText();
    else
        QToolTip::showText(help->globalPos(),
                           text(table_.columns[0].cells->texts[static_cast<std::size_t>(row)]), this);
    return true;
}

} // namespace jointer::app
