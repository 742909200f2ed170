// SPDX-License-Identifier: GPL-3.0-or-later
// Figure: the page on a desk with rulers in mm, the settings of what is selected at the right, thumbnails of
// the figures below.
#pragma once

#include "app/document.h"
#include "app/latest_job.h"
#include "figure/layout.h"

#include <QImage>
#include <QScrollArea>
#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace jointer::app {

class SettingsForm;

class PageView final : public QWidget {
    Q_OBJECT
public:
    explicit PageView(Document& document, QWidget* parent = nullptr);
    void refresh();
    bool isCurrent() const { return shown_ == wanted_; }
    QRectF regionOf(ElementId id) const; // in pixels
    double zoom() const { return zoom_; }

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
    QPointF origin() const;
    double pixelsPerMm() const;
    ElementId elementAt(QPointF p) const;
    void fitToView();
    void drawRulers(QPainter& p) const;
    void editText(ElementId id);

    Document& document_;
    LatestJob job_;
    QImage picture_;
    figure::Layout layout_;
    double zoom_ = 0; // of true size; 0: fits the view
    int wanted_ = 0, shown_ = 0;
    QPointF pan_, from_;
    ElementId draggedNote_;
    bool panning_ = false;
    QLineEdit* editor_;
};

class FigureStage final : public QWidget {
    Q_OBJECT
public:
    explicit FigureStage(Document& document, QWidget* parent = nullptr);
    PageView* page() { return page_; }
    void addFigure();
    void addMarksOf(DatasetId dataset);

Q_SIGNALS:
    void exportWanted();

protected:
    void showEvent(QShowEvent*) override { refresh(); } // what is hidden is brought up to date when it shows

private:
    QWidget* buildStrip();
    void refresh();
    void refreshSide();
    void refreshThumbnails();
    void offerMarks();
    void addNote();

    Document& document_;
    LatestJob thumbnails_;
    PageView* page_;
    QListWidget* figures_;
    QWidget* crumbs_;
    SettingsForm* form_;
    QLabel *size_, *issues_, *hint_;
    QPushButton *remove_, *reset_;
    QComboBox* style_;
    std::string built_;
};

} // namespace jointer::app
