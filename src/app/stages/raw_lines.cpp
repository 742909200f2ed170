// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/raw_lines.h"

#include "app/theme/theme.h"

#include <QMenu>
#include <QPainter>
#include <QStyledItemDelegate>

namespace jointer::app {

namespace {

// A line of the raw text, with what it was recognised as at the right.
class RawLineDelegate final : public QStyledItemDelegate {
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* p, const QStyleOptionViewItem& o, const QModelIndex& index) const override {
        const QVariant tint = index.data(Qt::BackgroundRole);
        if (tint.isValid()) p->fillRect(o.rect, tint.value<QBrush>());
        const QString kind = index.data(Qt::ToolTipRole).toString();
        QFont small = o.widget->window()->font();
        small.setPointSizeF(8.5);
        const int kindWidth = kind.isEmpty() ? 0 : QFontMetrics(small).horizontalAdvance(kind) + 10;
        p->setFont(o.font);
        p->setPen(theme().muted);
        p->drawText(o.rect.adjusted(2, 0, 0, 0), Qt::AlignVCenter,
                    QString::number(index.row() + 1).rightJustified(4));
        p->setPen(theme().ink);
        const QRect line = o.rect.adjusted(40, 0, -kindWidth - 4, 0);
        p->drawText(line, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, line.width()));
        if (kind.isEmpty()) return;
        p->setFont(small);
        p->setPen(theme().muted);
        p->drawText(o.rect.adjusted(0, 0, -6, 0), Qt::AlignVCenter | Qt::AlignRight, kind);
    }
};

std::pair<QColor, QString> tint(io::LineKind kind) {
    const bool dark = theme().dark;
    switch (kind) {
    case io::LineKind::Preamble:
        return {dark ? QColor("#34332D") : QColor("#EFEBE2"), RawLines::tr("preamble")};
    case io::LineKind::Comment:
        return {dark ? QColor("#2C3440") : QColor("#E6EAF3"), RawLines::tr("comment")};
    case io::LineKind::Heading:
        return {dark ? QColor("#26403C") : QColor("#DAEBE8"), RawLines::tr("headings")};
    case io::LineKind::Units:
        return {dark ? QColor("#2C3D2C") : QColor("#E5F0E0"), RawLines::tr("units")};
    case io::LineKind::Unread:
        return {dark ? QColor("#4A2C2C") : QColor("#F8DFDC"), RawLines::tr("not read")};
    default:
        return {QColor(), {}};
    }
}

} // namespace

RawLines::RawLines(QWidget* parent) : QListWidget(parent) {
    QFont mono("monospace");
    mono.setStyleHint(QFont::Monospace);
    mono.setPointSizeF(9);
    setStyleSheet(QString("QListWidget { font-family: monospace; font-size: 9pt; border: 1px solid %1; } "
                          "QListWidget::item { height: 17px; }")
                      .arg(theme().line.name()));
    setFont(mono);
    setItemDelegate(new RawLineDelegate(this));
    setUniformItemSizes(true);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setAccessibleName(tr("Raw text"));
    setObjectName("rawLines");
    setToolTip(tr("Click a line to say what it is"));
    connect(this, &QListWidget::itemClicked, this, &RawLines::ask);
    connect(this, &QListWidget::itemActivated, this, &RawLines::ask);
}

void RawLines::show(const QStringList& lines, const std::vector<io::LineKind>& kinds) {
    const int at = currentRow();
    clear();
    for (qsizetype i = 0; i < lines.size(); ++i) {
        const auto index = static_cast<std::size_t>(i);
        const auto [colour, name] = tint(index < kinds.size() ? kinds[index] : io::LineKind::Data);
        auto* item = new QListWidgetItem(QString(lines[i]).replace('\t', QChar(0x2192)));
        if (colour.isValid()) item->setBackground(colour);
        item->setToolTip(name);
        addItem(item);
    }
    if (at >= 0 && at < count()) setCurrentRow(at);
}

void RawLines::goTo(long line) {
    if (line < 1 || line > count()) return;
    setCurrentRow(static_cast<int>(line) - 1);
    scrollToItem(item(static_cast<int>(line) - 1), QAbstractItemView::PositionAtCenter);
}

void RawLines::ask(QListWidgetItem* clicked) {
    if (!pointable_) return;
    const int line = row(clicked) + 1;
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName("lineMenu");
    auto add = [&](const QString& label, const char* key, int value) {
        connect(menu->addAction(label), &QAction::triggered, this,
                [this, key, value] { Q_EMIT told(key, value); });
    };
    add(tr("Headings are here"), "heading", line);
    add(tr("Units are here"), "units", line);
    add(tr("Data begin here"), "first", line);
    menu->addSeparator();
    add(tr("There are no headings"), "heading", 0);
    add(tr("There are no units"), "units", 0);
    menu->popup(viewport()->mapToGlobal(visualItemRect(clicked).bottomLeft() + QPoint(40, 0)));
}

} // namespace jointer::app
