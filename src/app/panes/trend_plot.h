// SPDX-License-Identifier: GPL-3.0-or-later
// How a quantity goes with an attribute, drawn by the figure engine; a point tells whose it is, and a click
// opens it.
#pragma once

#include "app/background.h"
#include "data/table.h"
#include "figure/layout.h"

#include <QImage>
#include <QWidget>

namespace jointer::app {

class TrendPlot final : public QWidget {
    Q_OBJECT
public:
    explicit TrendPlot(QWidget* parent = nullptr);
    void show(Table trend); // trend.h
    const Table& table() const { return table_; }
    bool isCurrent() const { return !job_.isBusy(); }
    QPointF placeOf(std::size_t row) const; // in pixels; null: not drawn

Q_SIGNALS:
    void opened(const QString& dataset);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override { draw(); }
    void mousePressEvent(QMouseEvent*) override;
    bool event(QEvent*) override;

private:
    void draw();
    std::ptrdiff_t rowAt(const QPointF& at) const;

    Table table_;
    std::vector<double> xs_; // of its rows on the axis
    LatestJob job_;
    QImage picture_;
    std::vector<figure::PanelGeometry> panels_;
};

} // namespace jointer::app
