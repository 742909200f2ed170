// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/controls.h"

#include "app/theme/theme.h"

#include <QPainter>

namespace jointer::app {

namespace {

constexpr int kCircle = 20, kStageHeight = 30, kStagePadding = 9, kToolHeight = 28;

QFont withSize(QFont font, double points, bool strong = false) {
    font.setPointSizeF(points);
    font.setWeight(strong ? QFont::DemiBold : QFont::Normal);
    return font;
}

int widthOf(const QFont& font, const QString& words) {
    return words.isEmpty() ? 0 : QFontMetrics(font).horizontalAdvance(words);
}

} // namespace

StageButton::StageButton(int number, const QString& name, QWidget* parent)
    : QPushButton(name, parent), number_(number) {
    setCheckable(true);
    setCursor(Qt::PointingHandCursor);
    setAccessibleName(name);
    setToolTip(tr("%1 (Ctrl+%2)").arg(name).arg(number));
}

void StageButton::setCount(const QString& count) {
    if (count == count_) return;
    count_ = count;
    updateGeometry();
    update();
}

QSize StageButton::sizeHint() const {
    // As wide as when it is the present stage, so that the track does not move under the pointer.
    const int count = widthOf(withSize(font(), 9), count_);
    return {2 * kStagePadding + kCircle + 8 + widthOf(withSize(font(), 10, true), text()) +
                (count > 0 ? count + 7 : 0),
            kStageHeight};
}

void StageButton::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    const bool now = isChecked();
    const QColor onAccent = t.dark ? QColor("#10201E") : QColor(Qt::white);
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(1, 1, -1, -1);
    if (now) {
        p.setPen(Qt::NoPen);
        p.setBrush(t.accent);
        p.drawRoundedRect(box, box.height() / 2, box.height() / 2);
    }
    if (hasFocus()) {
        p.setPen(QPen(t.copper, 1.5));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(box, box.height() / 2, box.height() / 2);
    }
    const QRectF circle(kStagePadding, (height() - kCircle) / 2.0, kCircle, kCircle);
    p.setPen(QPen(now ? onAccent : t.accent, 1.2));
    p.setBrush(now ? onAccent : t.ground);
    p.drawEllipse(circle);
    p.setFont(withSize(font(), 9, true));
    p.setPen(t.accent);
    p.drawText(circle, Qt::AlignCenter, QString::number(number_));
    p.setFont(withSize(font(), 10, now));
    p.setPen(now ? onAccent : underMouse() ? t.ink : t.muted);
    const int left = static_cast<int>(circle.right()) + 8;
    p.drawText(QRect(left, 0, width(), height()), Qt::AlignVCenter, text());
    if (count_.isEmpty()) return;
    const int after = left + widthOf(p.font(), text()) + 7;
    p.setFont(withSize(font(), 9));
    p.drawText(QRect(after, 0, width(), height()), Qt::AlignVCenter, count_);
}

ToolButton::ToolButton(const QString& name, const QString& key, const QString& tip, QWidget* parent)
    : QPushButton(name, parent), key_(key) {
    setObjectName("tool");
    setCheckable(true);
    setToolTip(tip);
    setAccessibleName(name);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}

QSize ToolButton::minimumSizeHint() const {
    return {6 + widthOf(withSize(font(), 10, true), text()) + 6, kToolHeight};
}

QSize ToolButton::sizeHint() const {
    const int key = widthOf(withSize(font(), 8.5), key_);
    return {9 + widthOf(withSize(font(), 10, true), text()) + 7 + key + 8 + 8, kToolHeight};
}

void ToolButton::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    const bool now = isChecked();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    if (now) {
        p.setPen(Qt::NoPen);
        p.setBrush(t.accentSoft);
        p.drawRoundedRect(box, 4, 4);
    }
    if (hasFocus()) {
        p.setPen(QPen(t.accent, 1));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(box, 4, 4);
    }
    p.setFont(withSize(font(), 10, now));
    p.setPen(now ? t.accent : underMouse() ? t.ink : t.muted);
    const bool hasKey = width() >= sizeHint().width();
    p.drawText(QRect(hasKey ? 9 : 6, 0, width(), height()), Qt::AlignVCenter, text());
    if (!hasKey) return;
    const int left = 9 + widthOf(p.font(), text()) + 7;
    p.setFont(withSize(font(), 8.5));
    const QRectF cap(left, (height() - 17) / 2.0, widthOf(p.font(), key_) + 8, 17);
    p.setPen(QPen(t.line, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(cap, 3, 3);
    p.setPen(t.muted);
    p.drawText(cap, Qt::AlignCenter, key_);
}

namespace {

constexpr int kRowMargin = 7, kRowGap = 10;

// Words that fit a width, one line after the other.
QStringList wrapped(const QString& words, const QFont& font, int width) {
    QStringList lines;
    QString line;
    for (const QString& word : words.split(' ')) {
        const QString longer = line.isEmpty() ? word : line + " " + word;
        if (!line.isEmpty() && widthOf(font, longer) > width) {
            lines << line;
            line = word;
        } else
            line = longer;
    }
    return lines << line;
}

} // namespace

RowButton::RowButton(QWidget* parent) : QPushButton(parent) {
    setObjectName("row");
    setCheckable(true);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
}

void RowButton::setWords(const Words& words) {
    if (words == words_) return;
    words_ = words;
    setAccessibleName(
        QStringList{words.name, words.value, words.below, words.belowValue}.join(" ").simplified());
    settle();
    update();
}

QFont RowButton::fontOf(const Line& line) const {
    return withSize(font(), line.first ? 10 : 9, line.first && (isChecked() || tinted_));
}

// A value goes below where it has no room beside its words.
std::vector<RowButton::Line> RowButton::linesFor(int width) const {
    std::vector<Line> lines;
    const int room = width - 2 * kRowMargin;
    const auto add = [&](const QString& left, const QString& right, bool first) {
        const QFont font = withSize(this->font(), first ? 10 : 9, first);
        if (right.isEmpty()) {
            for (const QString& part : wrapped(left, font, room)) lines.push_back({part, {}, first});
            return;
        }
        const bool beside = widthOf(font, left) + kRowGap + widthOf(font, right) <= room;
        if (beside) return lines.push_back({left, right, first});
        for (const QString& part : wrapped(left, font, room)) lines.push_back({part, {}, first});
        lines.push_back({{}, right, first});
    };
    add(words_.name, words_.value, true);
    if (!words_.below.isEmpty() || !words_.belowValue.isEmpty()) add(words_.below, words_.belowValue, false);
    return lines;
}

QSize RowButton::sizeHint() const {
    int height = 9;
    for (const Line& line : linesFor(std::max(width(), 120)))
        height += QFontMetrics(fontOf(line)).height() + (line.first ? 1 : 0);
    return {220, height};
}

void RowButton::resizeEvent(QResizeEvent* e) {
    QPushButton::resizeEvent(e);
    settle();
}

void RowButton::settle() {
    if (const int wanted = sizeHint().height(); wanted != minimumHeight()) setFixedHeight(wanted);
}

void RowButton::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5);
    p.setPen(hasFocus() || underMouse() ? QPen(t.accent, 1) : QPen(Qt::NoPen));
    p.setBrush(isChecked() || tinted_ ? QBrush(t.accentSoft) : QBrush(Qt::NoBrush));
    p.drawRoundedRect(box, 4, 4);
    int y = 4;
    for (const Line& line : linesFor(width())) {
        p.setFont(fontOf(line));
        const int height = p.fontMetrics().height() + (line.first ? 1 : 0);
        const QRect place(kRowMargin, y, width() - 2 * kRowMargin, height);
        p.setPen(line.first ? t.ink : words_.doubtful ? t.warning : t.muted);
        p.drawText(place, Qt::AlignLeft | Qt::AlignVCenter, line.left);
        p.setPen(line.first ? t.ink : t.muted);
        p.drawText(place, Qt::AlignRight | Qt::AlignVCenter, line.right);
        y += height;
    }
}

} // namespace jointer::app
