// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/histogram_strip.h"

#include "app/theme/theme.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

namespace jointer::app {

namespace {

constexpr int kBars = 44, kWords = 16;

} // namespace

HistogramStrip::HistogramStrip(QWidget* parent) : QWidget(parent) {
    setFixedHeight(kBars + kWords);
    setAccessibleName(tr("Histogram of the column"));
}

void HistogramStrip::show(stats::Histogram histogram, std::function<QString(double)> spell) {
    histogram_ = std::move(histogram);
    spell_ = std::move(spell);
    update();
}

int HistogramStrip::binAt(int x) const {
    const int n = static_cast<int>(histogram_.counts.size());
    return n == 0 ? -1 : std::clamp(x * n / std::max(1, width()), 0, n - 1);
}

void HistogramStrip::paintEvent(QPaintEvent*) {
    if (histogram_.counts.empty()) return;
    QPainter p(this);
    const auto n = static_cast<int>(histogram_.counts.size());
    const auto most = static_cast<double>(std::ranges::max(histogram_.counts));
    QColor bars = theme().muted;
    bars.setAlpha(150);
    const QRect ground(0, 0, width(), kBars);
    p.fillRect(ground, theme().panel);
    for (int i = 0; i < n; ++i) {
        const auto count = static_cast<double>(histogram_.counts[static_cast<std::size_t>(i)]);
        if (count == 0) continue;
        const int left = i * width() / n, right = (i + 1) * width() / n;
        const int height = std::max(1, static_cast<int>((kBars - 3) * count / most));
        p.fillRect(QRect(left, kBars - height, std::max(1, right - left - (n < 40 ? 1 : 0)), height), bars);
    }
    p.setPen(theme().line);
    p.drawLine(0, kBars, width(), kBars);
    QFont small = font();
    small.setPointSizeF(8);
    p.setFont(small);
    p.setPen(theme().muted);
    const QRect words(0, kBars + 1, width(), kWords - 1);
    p.drawText(words, Qt::AlignLeft | Qt::AlignVCenter, spell_(histogram_.low));
    if (n > 1)
        p.drawText(words, Qt::AlignRight | Qt::AlignVCenter,
                   spell_(histogram_.edge(histogram_.counts.size())));
}

bool HistogramStrip::event(QEvent* e) {
    if (e->type() != QEvent::ToolTip) return QWidget::event(e);
    const auto* help = static_cast<QHelpEvent*>(e);
    const int i = binAt(help->pos().x());
    if (i < 0) return true;
    const auto bin = static_cast<std::size_t>(i);
    QToolTip::showText(help->globalPos(),
                       tr("%1 from %2 to %3")
                           .arg(histogram_.counts[bin])
                           .arg(spell_(histogram_.edge(bin)), spell_(histogram_.edge(bin + 1))));
    return true;
}

} // namespace jointer::app
