// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/parameter_grid.h"

#include "app/theme/theme.h"
#include "app/widgets.h"

#include <QHeaderView>
#include <QResizeEvent>

namespace jointer::app {

namespace {

constexpr int kRowHeight = 25, kMostRowsShown = 12; // shown without scrolling
constexpr int kPadding = 13;                   // of a cell, with the margins that the grid adds

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

QString errorText(const ParameterLine& l) {
    return QString(l.value.error.empty() ? l.unit : "± " + text(l.value.error) + " " + l.unit).trimmed();
}

// The width of the four columns, each as wide as its widest cell.
int neededWidth(const std::vector<ParameterLine>& lines, const QFontMetrics& wide,
                const QFontMetrics& narrow) {
    int name = 0, value = 0, error = 0, how = 0;
    for (const ParameterLine& l : lines) {
        name = std::max(name, wide.horizontalAdvance(l.name));
        value = std::max(value, wide.horizontalAdvance(text(l.value.value)));
        error = std::max(error, narrow.horizontalAdvance(errorText(l)));
        how = std::max(how, narrow.horizontalAdvance(l.how));
    }
    return name + value + error + how + 4 * kPadding;
}

} // namespace

ParameterGrid::ParameterGrid(QWidget* parent) : QTableWidget(0, 4, parent) {
    horizontalHeader()->hide();
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(kRowHeight);
    setShowGrid(false);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    horizontalHeader()->setMinimumSectionSize(1); // an empty last column takes nothing from the values
    horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    setStyleSheet("QTableWidget { border: none; } QTableWidget::item { padding: 0 1px; }");
}

void ParameterGrid::showLines(std::vector<ParameterLine> lines) {
    lines_ = std::move(lines);
    fill();
}

std::string ParameterGrid::nameAt(int row) const {
    const QTableWidgetItem* first = item(row, 0);
    return first ? first->data(Qt::UserRole).toString().toStdString() : std::string();
}

void ParameterGrid::resizeEvent(QResizeEvent* event) {
    QTableWidget::resizeEvent(event);
    if (event->size().width() != event->oldSize().width()) fill();
}

void ParameterGrid::fill() {
    const QFont small = smallerFont(font());
    const int room = viewport()->width();
    const bool sideBySide = neededWidth(lines_, QFontMetrics(font()), QFontMetrics(small)) <= room;
    setRowCount(static_cast<int>(lines_.size()));
    int height = 10;
    for (int row = 0; row < rowCount(); ++row) {
        const ParameterLine& l = lines_[static_cast<std::size_t>(row)];
        sideBySide ? fillSideBySide(row, l, small) : fillBelow(row, l, room - kPadding);
        item(row, 0)->setData(Qt::UserRole, l.name);
        for (int column = 0; column < 4; ++column) item(row, column)->setToolTip(l.tip);
        const int span = sideBySide ? 1 : 4;
        if (columnSpan(row, 0) != span) setSpan(row, 0, 1, span);
        if (row < kMostRowsShown) height += rowHeight(row);
    }
    setFixedHeight(height);
}

void ParameterGrid::fillSideBySide(int row, const ParameterLine& l, const QFont& small) {
    put(*this, row, 0, l.name, Qt::AlignLeft, l.ink);
    put(*this, row, 1, text(l.value.value), Qt::AlignRight, l.ink);
    put(*this, row, 2, errorText(l), Qt::AlignLeft, theme().muted)->setFont(small);
    put(*this, row, 3, l.how, Qt::AlignRight, l.howInk)->setFont(small);
    setRowHeight(row, kRowHeight);
}

void ParameterGrid::fillBelow(int row, const ParameterLine& l, int room) {
    const QFontMetrics metrics(font());
    const QString value = text(l.value.value), error = errorText(l);
    const QString told = l.name + "   " + l.how;
    const bool fits = metrics.horizontalAdvance(told) <= room; // else what it is goes before how it came
    QStringList lines = {fits ? told : metrics.elidedText(l.name, Qt::ElideMiddle, room), value + " " + error};
    if (metrics.horizontalAdvance(lines[1]) > room) lines = {lines[0], value, error};
    put(*this, row, 0, lines.join("\n"), Qt::AlignLeft, l.howInk == theme().warning ? l.howInk : l.ink);
    for (int column = 1; column < 4; ++column) put(*this, row, column, {}, Qt::AlignLeft, l.ink);
    setRowHeight(row, static_cast<int>(lines.size()) * metrics.lineSpacing() + 8);
}

} // namespace jointer::app
