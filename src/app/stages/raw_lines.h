// SPDX-License-Identifier: GPL-3.0-or-later
// The raw text of a file that is being imported, each line tinted by what it was recognised as. A click on a
// line asks what it is: headings, units, or the first line of the data. Where columns lie at fixed places
// their borders can be dragged; a double-click adds one, dragging one to the left edge or onto another takes
// it away.
#pragma once

#include "io/dialect.h"

#include <QListWidget>

namespace jointer::app {

class RawLines final : public QListWidget {
    Q_OBJECT
public:
    explicit RawLines(QWidget* parent = nullptr);
    void show(const QStringList& lines, const std::vector<io::LineKind>& kinds);
    void goTo(long line); // from 1
    void setPointable(bool on) { pointable_ = on; }
    // Where columns end, in characters; empty: they are not at fixed places.
    void setBorders(std::vector<std::size_t> borders);
    int borderPixel(std::size_t border) const; // from the left of the viewport

Q_SIGNALS:
    void told(const QString& key, int line); // "heading", "units", "first"; line 0: there are none
    void widthsTold(const QString& widths);  // "4,8,8"

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void mouseDoubleClickEvent(QMouseEvent*) override;

private:
    void ask(QListWidgetItem* item);
    int borderAt(int x) const;
    std::size_t characterAt(int x) const;
    void tellWidths();

    bool pointable_ = true;
    std::vector<std::size_t> borders_;
    int dragged_ = -1;
};

} // namespace jointer::app
