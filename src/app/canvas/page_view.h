// SPDX-License-Identifier: GPL-3.0-or-later
// The page of a figure on a desk with rulers in mm. A click selects what is under the pointer, again what
// lies below; what is selected is dragged, resized by its grips and moved by the arrows; ranges are dragged
// on the axes; a double click edits text in place. Datasets are dropped onto it.
#pragma once

#include "app/background.h"
#include "app/document.h"
#include "draw/colour_sight.h"
#include "figure/moves.h"
#include "figure/places.h"

#include <QImage>
#include <QWidget>

class QLineEdit;
class QMimeData;

namespace jointer::app {

// What a dragged dataset is called among what is dragged.
inline constexpr const char* kDatasetMime = "application/x-jointer-dataset";
inline constexpr const char* kFigureMime = "application/x-jointer-figure";

inline constexpr double kTrueSize = 96 / 25.4; // pixels per mm
inline constexpr double kRuler = 24;

QStringList artworkIn(const QMimeData& data); // files of drawings and pictures

class TextCompletion;

class PageView final : public QWidget {
    Q_OBJECT
public:
    explicit PageView(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return shown_ == wanted_; }
    bool tellsTime(ElementId id) const;  // its settings along an axis are moments
    QRectF regionOf(ElementId id) const; // in pixels
    QPointF toPixels(draw::Point mm) const;
    double zoom() const { return zoom_; }
    const QImage& picture() const { return picture_; }
    const figure::Layout& layoutShown() const { return layout_; }
    draw::Point emptiestPlace() const { return figure::emptiestPlace(layout_); }
    void see(draw::Sight sight); // the page as other eyes see it
    void fitToView();
    void showTrueSize();
    void editText(ElementId id);

Q_SIGNALS:
    void drawn();
    void issuesFound(const QStringList& issues);
    void hovered(const QString& words); // what is under the pointer, with its coordinates
    void zoomChanged(double ofTrueSize);
    void datasetsDropped(const QString& ids, int where, jointer::ElementId panel); // figure::Drop
    void figureDropped(const QString& id); // its panels are shown here too
    void artworkDropped(const QStringList& paths);
    void menuAsked(QPoint at);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void leaveEvent(QEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void dragEnterEvent(QDragEnterEvent*) override;
    void dragMoveEvent(QDragMoveEvent*) override;
    void dragLeaveEvent(QDragLeaveEvent*) override;
    void dropEvent(QDropEvent*) override;

private:
    // A drag that has begun: of what, from where, and the figure and layout of that moment.
    struct Held {
        figure::Hit hit;
        figure::GripPlace grip;
        QPointF from;
        std::shared_ptr<const Figure> figure;
        figure::Layout layout;
        bool moved = false, again = false; // again: a click goes to what lies below
    };

    QPointF corner(QSizeF pageMm) const; // in pixels, where a page of this size begins
    QPointF origin() const;
    QRectF partToDraw(const draw::Rect& page) const;
    QRectF onScreen(const QRectF& partMm) const;
    draw::Point toMm(QPointF pixels) const;
    double pixelsPerMm() const;
    std::shared_ptr<const Figure> shownFigure() const;

    void paintSelection(QPainter& p) const;
    void paintDrop(QPainter& p) const;
    void drawRulers(QPainter& p) const;

    figure::Hit selectedHit(ElementId id) const; // with its dataset where it is the one shown
    std::optional<figure::GripPlace> gripAt(QPointF pixels) const;
    void select(QPointF pixels, bool add, bool below);
    void dragTo(QPointF pixels, bool free);
    void nudge(draw::Point byMm);
    void zoomAxis(const figure::AxisGeometry& axis, QPointF at, double factor);
    bool takeGuide(QPointF pixels);
    void dragGuide(QPointF pixels);
    void paintGuides(QPainter& p) const;
    void chooseCursor(QPointF pixels);
    QString wordsAt(QPointF pixels) const;
    void showSample(QPointF pixels);
    QString sampleWords(const figure::Layout::Sample& sample) const;
    void paintSample(QPainter& p) const;
    std::pair<const figure::PanelGeometry*, int> dropAt(QPointF pixels) const;

    Document& document_;
    LatestJob job_;
    QImage picture_;
    QRectF part_; // of the page that the picture shows, in mm
    figure::Layout layout_;
    double zoom_ = 0; // of true size; 0: fits the view
    int wanted_ = 0, shown_ = 0;
    draw::Sight sight_ = draw::Sight::Usual, pictureSight_ = draw::Sight::Usual; // wished for; of the picture
    QPointF pan_, from_;
    std::optional<Held> held_;
    std::optional<double> guideX_, guideY_; // where what is dragged has snapped
    struct HeldGuide {
        bool ofX;
        std::size_t which;
        std::vector<double> before; // all of that direction
    };
    std::optional<HeldGuide> heldGuide_; // a guide of the page that is dragged along its ruler
    std::optional<QPointF> dropping_;
    std::optional<figure::Layout::Sample> sample_; // under the pointer
    bool panning_ = false, spaceHeld_ = false;
    QLineEdit* editor_;
    ElementId edited_; // by it
    TextCompletion* completion_ = nullptr;
};

} // namespace jointer::app
