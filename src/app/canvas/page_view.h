// SPDX-License-Identifier: GPL-3.0-or-later
// The page of a figure on a desk with rulers in mm: a click selects an element, a double click edits its text
// in place, notes are dragged, the wheel zooms.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "figure/places.h"

#include <QImage>
#include <QWidget>

class QLineEdit;

namespace jointer::app {

class PageView final : public QWidget {
    Q_OBJECT
public:
    explicit PageView(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return shown_ == wanted_; }
    QRectF regionOf(ElementId id) const; // in pixels
    double zoom() const { return zoom_; }
    const QImage& picture() const { return picture_; }
    draw::Point emptiestCorner() const { return figure::emptiestCorner(layout_); }

Q_SIGNALS:
    void drawn();
    void issuesFound(const QStringList& issues);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    QPointF corner(QSizeF pageMm) const; // in pixels, where a page of this size begins
    QPointF origin() const;
    QRectF partToDraw(const draw::Rect& page) const;
    QRectF onScreen(const QRectF& partMm) const;
    double pixelsPerMm() const;
    ElementId elementAt(QPointF p) const;
    void fitToView();
    void drawRulers(QPainter& p) const;
    void editText(ElementId id);

    Document& document_;
    LatestJob job_;
    QImage picture_;
    QRectF part_; // of the page that the picture shows, in mm
    figure::Layout layout_;
    double zoom_ = 0; // of true size; 0: fits the view
    int wanted_ = 0, shown_ = 0;
    QPointF pan_, from_;
    ElementId draggedNote_;
    bool panning_ = false;
    QLineEdit* editor_;
};

} // namespace jointer::app
