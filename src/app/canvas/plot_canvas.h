// SPDX-License-Identifier: GPL-3.0-or-later
// A work plot: one panel laid out and painted in the background by the figure engine, with tools and handles
// on top. It shows what it is told and turns gestures into signals; it changes nothing itself.
#pragma once

#include "app/background.h"
#include "app/canvas/work_figure.h"
#include "figure/layout.h"
#include "project/project.h"

#include <QImage>
#include <QWidget>
#include <optional>

namespace jointer::app {

enum class Tool { Pointer, Zoom, Span, LeaveOut, Anchor, Peak };

class PlotCanvas final : public QWidget {
    Q_OBJECT
public:
    explicit PlotCanvas(QWidget* parent = nullptr);
    ~PlotCanvas() override;

    void show(PlotContent content);
    void setTool(Tool tool);
    void takeDropsOf(const QString& mime) { dropped_ = mime; } // besides files, which the window takes
    Tool tool() const { return tool_; }
    bool isCurrent() const { return shown_ == wanted_; } // nothing is still to be drawn
    const PlotContent& content() const { return content_; }
    double nearestX(double x) const; // of the points shown; x itself beyond them
    const std::optional<figure::PanelGeometry>& geometryShown() const { return panel_; }
    QPointF toPixels(double x, double y) const;
    QPointF toValues(QPointF pixels) const;
    QSize sizeHint() const override { return {700, 420}; }

Q_SIGNALS:
    void rangeChosen(double xLow, double xHigh, std::optional<std::pair<double, double>> y);
    void rangeReset();
    // Piece: the one whose end was dragged; none: a new one, or with Shift one more.
    void spanChosen(double low, double high, std::optional<std::size_t> piece, bool further);
    void pointsToggled(std::vector<std::uint32_t> rows, bool leaveOut);
    void pointClicked(std::uint32_t row); // of what is shown in the place of a dataset’s points
    // With the tools Anchor and Peak, on empty ground; with Alt just there, and not on what is near.
    void placeClicked(double x, double y, bool free);
    void handleMoved(const jointer::steps::Handle& handle, double x, double y);
    void handleClicked(const jointer::steps::Handle& handle);
    void handleRemoved(const jointer::steps::Handle& handle);
    void handleAsked(const jointer::steps::Handle& handle, QPoint at); // what can be done to it
    void cutoffMoved(double frequency);
    void curveStepped(int by); // to the next curve, with the same view
    void viewStepped(int by);  // back or forward in the history of zooms
    void measuredHeld(bool held);
    void numbersCopied();
    void dragBegan(); // of a handle
    void dragEnded();
    void dragGivenUp();
    void escaped();
    void tableDropped(const QString& id, QPoint at);
    void probed(const QString& text);
    void drawn(); // a new picture is on screen

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void keyReleaseEvent(QKeyEvent*) override;
    void focusOutEvent(QFocusEvent*) override;
    void leaveEvent(QEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    enum class Drag { None, Region, Lasso, Pan, Window, Span, SpanLow, SpanHigh, Handle, Cutoff };
    void redraw();
    QRectF areaPixels() const;
    static bool isHandle(Drag d) {
        return d == Drag::Handle || d == Drag::SpanLow || d == Drag::SpanHigh || d == Drag::Cutoff;
    }
    static bool isSpanEnd(Drag d) { return d == Drag::SpanLow || d == Drag::SpanHigh; }
    void offerRange(std::pair<double, double> x, std::optional<std::pair<double, double>> y);
    std::optional<steps::Handle> handleAt(QPointF p) const;
    QPointF placeOf(const steps::Handle& handle) const;
    void paintHandle(QPainter& p, const steps::Handle& handle) const;
    void paintPeak(QPainter& p, const steps::Handle& handle, QPointF at) const;
    void paintGestures(QPainter& p, const QRectF& area) const;
    void paintAxisNotes(QPainter& p, const QRectF& area) const;
    void paintWindow(QPainter& p, const QRectF& area) const;
    void pan(QPointF before);
    void moveWindow();
    std::pair<Drag, std::size_t> spanEndAt(QPointF p) const;
    void paintSpans(QPainter& p, const QRectF& area) const;
    const Curve* probedCurve() const { return probedCurve_ ? probedCurve_.get() : nullptr; }
    std::optional<std::size_t> pointNear(QPointF p) const;
    void probeAt(QPointF p);
    void moveProbe(int by);
    void lookIntoCrowd();
    void say(std::size_t point);
    void toggleIn(const QPolygonF& region, bool click);
    void chooseRegion();

    PlotContent content_;
    LatestJob job_;
    QImage picture_;
    std::optional<figure::PanelGeometry> panel_;
    std::shared_ptr<const Curve> probedCurve_;
    int wanted_ = 0, shown_ = 0;
    Tool tool_ = Tool::Pointer;
    Drag drag_ = Drag::None;
    QPointF from_, now_;
    QPolygonF lasso_;
    steps::Handle dragged_;
    std::size_t draggedSpan_ = 0;
    bool further_ = false; // the span that is drawn comes to those that are there
    bool moved_ = false;   // since the button went down
    QString dropped_;
    bool spaceHeld_ = false;
    bool byKeyboard_ = false; // the focus came by Tab: its frame is shown
    std::optional<std::size_t> probe_;
};

} // namespace jointer::app
