// SPDX-License-Identifier: GPL-3.0-or-later
// The heading of a grid of columns: name, unit in quiet ink, and the usual role as a chip. A click on the
// chip offers the roles.
#pragma once

#include <QHeaderView>

namespace jointer::app {

// What the model gives for each section beside its name.
enum HeaderRoles { UnitRole = Qt::UserRole + 10, ChipRole };

class ColumnHeader final : public QHeaderView {
    Q_OBJECT
public:
    explicit ColumnHeader(QWidget* parent = nullptr);

    int headingWidth(int section) const { return sectionSizeFromContents(section).width(); }

Q_SIGNALS:
    void chipClicked(int section, QPoint below);

protected:
    void paintSection(QPainter* painter, const QRect& rect, int section) const override;
    QSize sectionSizeFromContents(int section) const override;
    void mouseReleaseEvent(QMouseEvent*) override;

private:
    QRect chipOf(int section, const QRect& rect) const;
    QString textOf(int section, int role) const;
};

} // namespace jointer::app
