// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/raw_lines.h"

#include "app/stages/line_menu.h"
#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QPainter>
#include <QStyledItemDelegate>
#include <algorithm>
#include <cmath>

namespace jointer::app {

namespace {

constexpr int kTextLeft = 40, kReach = 4; // pixels

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
        const QRect line = o.rect.adjusted(kTextLeft, 0, -kindWidth - 4, 0);
        p->drawText(line, Qt::AlignVCenter,
                    p->fontMetrics().elidedText(index.data().toString(), Qt::ElideRight, line.width()));
        if (kind.isEmpty()) return;
        p->setFont(small);
        p->setPen(theme().muted);
        p->drawText(o.rect.adjusted(0, 0, -6, 0), Qt::AlignVCenter | Qt::AlignRight, kind);
    }
};

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
        const auto [colour, name] = lineTint(index < kinds.size() ? kinds[index] : io::LineKind::Data);
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
    askAboutLine(this, row(clicked) + 1,
                 viewport()->mapToGlobal(visualItemRect(clicked).bottomLeft() + QPoint(kTextLeft, 0)),
                 [this](const QString& key, int value) { Q_EMIT told(key, value); });
}

void RawLines::setBorders(std::vector<std::size_t> borders) {
    borders_ = std::move(borders);
    dragged_ = -1;
    viewport()->setMouseTracking(!borders_.empty());
    viewport()->unsetCursor();
    setToolTip(borders_.empty()
                   ? tr("Click a line to say what it is")
                   : tr("Drag the borders of the columns; a double-click adds one, one dragged to "
                        "the left edge goes. Click a line to say what it is"));
    viewport()->update();
}

int RawLines::borderPixel(std::size_t border) const {
    const double wide = QFontMetricsF(font()).horizontalAdvance(QStringLiteral("0000000000")) / 10;
    return kTextLeft + static_cast<int>(std::lround(wide * static_cast<double>(borders_[border])));
}

int RawLines::borderAt(int x) const {
    for (std::size_t i = 0; i < borders_.size(); ++i)
        if (std::abs(borderPixel(i) - x) <= kReach) return static_cast<int>(i);
    return -1;
}

std::size_t RawLines::characterAt(int x) const {
    const double wide = QFontMetricsF(font()).horizontalAdvance(QStringLiteral("0000000000")) / 10;
    return static_cast<std::size_t>(std::max(0L, std::lround((x - kTextLeft) / wide)));
}

void RawLines::paintEvent(QPaintEvent* e) {
    QListWidget::paintEvent(e);
    if (borders_.empty()) return;
    QPainter p(viewport());
    for (std::size_t i = 0; i < borders_.size(); ++i) {
        p.setPen(QPen(theme().copper, static_cast<int>(i) == dragged_ ? 2 : 1));
        p.drawLine(borderPixel(i), 0, borderPixel(i), viewport()->height());
    }
}

void RawLines::mousePressEvent(QMouseEvent* e) {
    dragged_ = borderAt(static_cast<int>(e->position().x()));
    if (dragged_ < 0) QListWidget::mousePressEvent(e);
}

void RawLines::mouseMoveEvent(QMouseEvent* e) {
    const int x = static_cast<int>(e->position().x());
    if (dragged_ >= 0) {
        borders_[static_cast<std::size_t>(dragged_)] = characterAt(x);
        viewport()->update();
    } else {
        if (!borders_.empty()) viewport()->setCursor(borderAt(x) >= 0 ? Qt::SplitHCursor : Qt::ArrowCursor);
        QListWidget::mouseMoveEvent(e);
    }
}

void RawLines::mouseReleaseEvent(QMouseEvent* e) {
    if (dragged_ < 0) return QListWidget::mouseReleaseEvent(e);
    dragged_ = -1;
    tellWidths();
}

void RawLines::mouseDoubleClickEvent(QMouseEvent* e) {
    const int x = static_cast<int>(e->position().x());
    if (borders_.empty() || borderAt(x) >= 0) return QListWidget::mouseDoubleClickEvent(e);
    borders_.push_back(characterAt(x));
    tellWidths();
}

// Borders in order, none twice and none at the edge.
void RawLines::tellWidths() {
    std::ranges::sort(borders_);
    borders_.erase(std::unique(borders_.begin(), borders_.end()), borders_.end());
    std::erase(borders_, std::size_t{0});
    QStringList widths;
    std::size_t before = 0;
    for (std::size_t border : borders_) {
        widths << QString::number(border - before);
        before = border;
    }
    Q_EMIT widthsTold(widths.join(","));
}

} // namespace jointer::app
