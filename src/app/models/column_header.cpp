// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/models/column_header.h"

#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QPainter>

namespace jointer::app {

namespace {

constexpr int kMargin = 9, kGap = 5, kChipHeight = 17, kHeight = 30;

QFont bold(QFont font) {
    font.setWeight(QFont::DemiBold);
    return font;
}
QFont small(QFont font) {
    font.setPointSizeF(8.5);
    return font;
}

// Copper is for handles and uncertainties; x is calm, y warm, all else quiet.
std::pair<QColor, QColor> chipColours(const QString& chip) {
    const Theme& t = theme();
    if (chip == "x") return {t.accentSoft, t.accent};
    if (chip == "y" || chip == QString::fromUtf8("± y") || chip == QString::fromUtf8("± x") || chip == "z") {
        QColor ground = t.copper;
        ground.setAlpha(44);
        return {ground, t.copper};
    }
    return {t.line, t.ink};
}

} // namespace

ColumnHeader::ColumnHeader(QWidget* parent) : QHeaderView(Qt::Horizontal, parent) {
    setSectionsClickable(true);
    setHighlightSections(false);
    setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
}

QString ColumnHeader::textOf(int section, int role) const {
    return model()->headerData(section, Qt::Horizontal, role).toString();
}

QSize ColumnHeader::sectionSizeFromContents(int section) const {
    ensurePolished(); // the style sheet decides the font
    const QFontMetrics name(bold(font())), unit(small(font()));
    int width = 2 * kMargin + 2 + name.horizontalAdvance(textOf(section, Qt::DisplayRole));
    for (int role : {UnitRole, ChipRole})
        if (const QString words = textOf(section, role); !words.isEmpty())
            width += unit.horizontalAdvance(words) + kGap + (role == ChipRole ? 14 : 0);
    return {width, kHeight};
}

QRect ColumnHeader::chipOf(int section, const QRect& rect) const {
    const QString chip = textOf(section, ChipRole);
    if (chip.isEmpty()) return {};
    const int width = QFontMetrics(small(font())).horizontalAdvance(chip) + 14;
    const int right = sectionSizeFromContents(section).width() - kMargin;
    const int left = std::min(right, rect.width() - 5) - width;
    return QRect(rect.left() + std::max(left, kMargin), rect.center().y() - kChipHeight / 2, width,
                 kChipHeight);
}

void ColumnHeader::paintSection(QPainter* p, const QRect& rect, int section) const {
    p->save();
    p->setClipRect(rect);
    p->fillRect(rect, theme().panel);
    p->setPen(theme().line);
    p->drawLine(rect.bottomLeft(), rect.bottomRight());
    p->drawLine(rect.topRight(), rect.bottomRight());
    const QRect chip = chipOf(section, rect);
    const int end = chip.isEmpty() ? rect.right() - 4 : chip.left() - kGap;
    int x = rect.left() + kMargin;
    auto word = [&](const QString& words, const QFont& font, const QColor& ink) {
        const QFontMetrics metrics(font);
        const QString shown = metrics.elidedText(words, Qt::ElideRight, std::max(0, end - x));
        p->setFont(font);
        p->setPen(ink);
        p->drawText(QRect(x, rect.top(), std::max(0, end - x), rect.height()), Qt::AlignVCenter, shown);
        x += metrics.horizontalAdvance(shown) + kGap;
    };
    word(textOf(section, Qt::DisplayRole), bold(font()), theme().ink);
    word(textOf(section, UnitRole), small(font()), theme().muted);
    if (!chip.isEmpty()) {
        const auto [ground, ink] = chipColours(textOf(section, ChipRole));
        p->setRenderHint(QPainter::Antialiasing);
        p->setPen(Qt::NoPen);
        p->setBrush(ground);
        p->drawRoundedRect(chip, kChipHeight / 2.0, kChipHeight / 2.0);
        p->setFont(small(font()));
        p->setPen(ink);
        p->drawText(chip, Qt::AlignCenter, textOf(section, ChipRole));
    }
    p->restore();
}

void ColumnHeader::mouseReleaseEvent(QMouseEvent* e) {
    const int section = logicalIndexAt(e->position().toPoint());
    if (section >= 0) {
        const QRect rect(sectionViewportPosition(section), 0, sectionSize(section), height());
        const QRect chip = chipOf(section, rect);
        if (chip.contains(e->position().toPoint()))
            Q_EMIT chipClicked(section, viewport()->mapToGlobal(chip.bottomLeft()));
    }
    QHeaderView::mouseReleaseEvent(e);
}

} // namespace jointer::app
