// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/parameter_row.h"

#include "app/theme/theme.h"
#include "app/widgets.h"

#include <QTableWidget>

namespace jointer::app {

namespace {

constexpr int kPadding = 9; // of a cell

QTableWidgetItem* put(QTableWidget& grid, int row, int column, const QString& words, Qt::Alignment align,
                      const QColor& ink) {
    auto* item = new QTableWidgetItem(words);
    item->setTextAlignment(align | Qt::AlignVCenter);
    item->setForeground(ink);
    grid.setItem(row, column, item);
    return item;
}

QFont smallerFont(QFont font) {
    font.setPointSizeF(9);
    return font;
}

} // namespace

void fillParameterRow(QTableWidget& grid, int row, const QString& name, const ValueText& t,
                      const QString& unit, const QString& how, const QColor& ink, const QColor& howInk) {
    const QString value = text(t.value),
                  error = QString(t.error.empty() ? unit : "± " + text(t.error) + " " + unit).trimmed();
    const QFont small = smallerFont(grid.font());
    const QFontMetrics wide(grid.font()), narrow(small);
    const int room = grid.viewport()->width() - kPadding;
    const int needed =
        wide.horizontalAdvance(name + value) + narrow.horizontalAdvance(error + how) + 3 * kPadding;
    const bool oneLine = needed <= room;
    QStringList lines = {name + "   " + how, value + " " + error};
    if (wide.horizontalAdvance(lines[1]) > room) lines = {lines[0], value, error};
    const QColor first = !oneLine && howInk == theme().warning ? howInk : ink;
    put(grid, row, 0, oneLine ? name : lines.join("\n"), Qt::AlignLeft, first)->setData(Qt::UserRole, name);
    put(grid, row, 1, oneLine ? value : QString(), Qt::AlignRight, ink);
    put(grid, row, 2, oneLine ? error : QString(), Qt::AlignLeft, theme().muted)->setFont(small);
    put(grid, row, 3, oneLine ? how : QString(), Qt::AlignRight, howInk)->setFont(small);
    const int span = oneLine ? 1 : 4;
    if (grid.columnSpan(row, 0) != span) grid.setSpan(row, 0, 1, span);
    grid.setRowHeight(row, oneLine ? kParameterRowHeight
                                   : static_cast<int>(lines.size()) * wide.lineSpacing() + 8);
}

} // namespace jointer::app
