// SPDX-License-Identifier: GPL-3.0-or-later
// Small plots of the curves of a run, the doubtful first, each with its reason in words. Click or arrow keys
// choose one, Return or a double-click opens it. Paints what is visible only.
#pragma once

#include "project/project.h"

#include <QAbstractScrollArea>
#include <QImage>
#include <QPolygonF>

namespace jointer::app {

// The curve and the lines over it, in parts of the picture's width and height.
struct RunPicture {
    QPolygonF measured;
    std::vector<QPolygonF> lines;
};

struct RunTile {
    DatasetId dataset;
    QString name, reason; // why it is doubtful; empty: it is not
    bool looked = false;  // and found good
    bool computed = false;
    std::shared_ptr<const RunPicture> picture;

    bool isDoubtful() const { return !reason.isEmpty() && !looked; }
};

class RunGallery final : public QAbstractScrollArea {
    Q_OBJECT
public:
    explicit RunGallery(QWidget* parent = nullptr);
    void setTiles(std::vector<RunTile> tiles);
    const std::vector<RunTile>& tiles() const { return tiles_; }
    DatasetId current() const { return current_; }
    void setCurrent(DatasetId id, bool shows = true); // shows: it comes into view
    QRect place(std::size_t tile) const;              // within the viewport

Q_SIGNALS:
    void chosen(jointer::DatasetId id);
    void opened(jointer::DatasetId id);

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    bool viewportEvent(QEvent*) override; // the whole reason under the pointer

private:
    int columns() const;
    int tileWidth() const;
    void settleBars();
    std::ptrdiff_t tileAt(const QPoint& place) const; // -1: none
    std::ptrdiff_t currentTile() const;
    void choose(std::ptrdiff_t tile);

    std::vector<RunTile> tiles_;
    DatasetId current_;
};

} // namespace jointer::app
