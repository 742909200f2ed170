// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/doubt_row.h"

#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "draw/markup.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHelpEvent>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolTip>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::app {

namespace {

constexpr int kPlotWidth = 164, kCaption = 16, kFoot = 14;
constexpr double kMostHalves = 8; // of the interval, from the number itself

// One choice: its variations from left to right, the chosen one filled, over the interval of the number.
class DoubtPlot final : public QWidget {
public:
    using Taken = std::function<void(const evaluate::DoubtPoint&, const std::string& choice)>;
    DoubtPlot(evaluate::DoubtSeries series, const evaluate::Doubt& of, double low, double high, Taken taken)
        : taken_(std::move(taken)), series_(std::move(series)), bandLow_(of.low), bandHigh_(of.high),
          unit_(of.unit), low_(low), high_(high) {
        setFixedWidth(kPlotWidth);
        setMinimumHeight(80);
        setMouseTracking(true);
        setAccessibleName(text(series_.choice));
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        const QRectF area = areaOf();
        p.setPen(theme().muted);
        const QRectF caption(0, 0, width(), kCaption);
        const QString reach = text(readableNumber(series_.reach(), 2));
        p.drawText(caption, Qt::AlignRight | Qt::AlignVCenter, reach);
        const int left = width() - fontMetrics().horizontalAdvance(reach) - 8;
        p.drawText(caption, Qt::AlignLeft | Qt::AlignVCenter,
                   fontMetrics().elidedText(text(series_.choice), Qt::ElideRight, left));
        QColor band = theme().accent;
        band.setAlpha(34);
        if (std::isfinite(bandLow_) && std::isfinite(bandHigh_))
            p.fillRect(QRectF(QPointF(area.left(), yOf(bandHigh_)), QPointF(area.right(), yOf(bandLow_)))
                           .intersected(area),
                       band);
        p.setPen(theme().line);
        p.drawRect(area);
        QPolygonF line;
        for (std::size_t k = 0; k < series_.points.size(); ++k)
            if (std::isfinite(series_.points[k].value)) line << placeOf(k);
        if (std::isfinite(series_.points.front().place)) {
            p.setPen(QPen(theme().accent, 1));
            p.drawPolyline(line);
        }
        drawIntervals(p);
        for (std::size_t k = 0; k < series_.points.size(); ++k) {
            if (!std::isfinite(series_.points[k].value)) continue;
            p.setPen(QPen(theme().accent, 1.2));
            p.setBrush(series_.points[k].chosen ? theme().accent : theme().panel);
            drawPoint(p, k);
        }
        p.setPen(theme().muted);
        // The caption says already whether it is "to" or "from" there.
        const auto end = [&](const evaluate::DoubtPoint& e) {
            return text(std::isfinite(e.place) ? e.label.substr(e.label.find(' ') + 1) : e.label);
        };
        const QRectF foot(0, height() - kFoot, width(), kFoot);
        p.drawText(foot, Qt::AlignLeft,
                   fontMetrics().elidedText(end(series_.points.front()), Qt::ElideRight, kPlotWidth / 2 - 4));
        p.drawText(foot, Qt::AlignRight,
                   fontMetrics().elidedText(end(series_.points.back()), Qt::ElideRight, kPlotWidth / 2 - 4));
    }
    bool event(QEvent* e) override {
        if (e->type() != QEvent::ToolTip) return QWidget::event(e);
        auto* help = static_cast<QHelpEvent*>(e);
        if (const auto k = pointAt(help->pos())) {
            const evaluate::DoubtPoint& point = series_.points[*k];
            const ValueText t = readableWithError(point.value, (point.high - point.low) / 4);
            const QString what =
                QString("%1: %2 %3").arg(text(point.label), text(t.value), text(draw::unitPlain(unit_)));
            QToolTip::showText(help->globalPos(), point.chosen ? what : tr("%1 – click to take it").arg(what),
                               this);
            return true;
        }
        QToolTip::hideText();
        return true;
    }

    void mousePressEvent(QMouseEvent* e) override {
        if (const auto k = pointAt(e->position()); k && !series_.points[*k].chosen)
            taken_(series_.points[*k], series_.choice);
    }
    void mouseMoveEvent(QMouseEvent* e) override {
        const auto k = pointAt(e->position());
        setCursor(k && !series_.points[*k].chosen ? Qt::PointingHandCursor : Qt::ArrowCursor);
    }

private:
    std::optional<std::size_t> pointAt(QPointF p) const {
        for (std::size_t k = 0; k < series_.points.size(); ++k)
            if (std::isfinite(series_.points[k].value) && QLineF(placeOf(k), p).length() < 8) return k;
        return {};
    }
    // Far outside of the scale: an arrow at its edge.
    void drawPoint(QPainter& p, std::size_t k) const {
        const QPointF at = placeOf(k);
        const double value = series_.points[k].value, side = value > high_ ? -1 : 1;
        if (value >= low_ && value <= high_) return p.drawEllipse(at, 2.8, 2.8);
        p.drawPolygon(
            QPolygonF({at + QPointF(-4, 4 * side), at + QPointF(4, 4 * side), at - QPointF(0, 3 * side)}));
    }
    // Of each variation, as far as it is on the plot.
    void drawIntervals(QPainter& p) const {
        QColor thin = theme().accent;
        thin.setAlpha(110);
        p.setPen(QPen(thin, 1));
        for (std::size_t k = 0; k < series_.points.size(); ++k) {
            const evaluate::DoubtPoint& point = series_.points[k];
            if (!std::isfinite(point.value) || !std::isfinite(point.low + point.high)) continue;
            const double x = placeOf(k).x();
            p.drawLine(QPointF(x, yOf(point.low)), QPointF(x, yOf(point.high)));
        }
    }
    QRectF areaOf() const {
        return {0.5, kCaption + 0.5, kPlotWidth - 1.0, height() - kCaption - kFoot - 3.0};
    }
    double yOf(double value) const {
        const QRectF a = areaOf();
        return a.bottom() - 5 - (std::clamp(value, low_, high_) - low_) / (high_ - low_) * (a.height() - 10);
    }
    QPointF placeOf(std::size_t k) const {
        const QRectF a = areaOf();
        const auto &first = series_.points.front(), &last = series_.points.back(), &point = series_.points[k];
        const double share = std::isfinite(point.place) && last.place > first.place
                                 ? (point.place - first.place) / (last.place - first.place)
                             : series_.points.size() > 1
                                 ? static_cast<double>(k) / static_cast<double>(series_.points.size() - 1)
                                 : 0.5;
        return {a.left() + 7 + share * (a.width() - 14), yOf(point.value)};
    }

    Taken taken_;
    evaluate::DoubtSeries series_;
    double bandLow_, bandHigh_;
    std::string unit_;
    double low_, high_;
};

} // namespace

DoubtRow::DoubtRow(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), quantity_(new QComboBox), sentence_(new QLabel),
      plots_(new QWidget) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(56, 4, 12, 4);
    layout->setSpacing(4);
    auto* head = new QHBoxLayout;
    quantity_->setObjectName("doubtOf");
    quantity_->setAccessibleName(tr("Number in doubt"));
    quantity_->setSizeAdjustPolicy(QComboBox::AdjustToContents);
    head->addWidget(quantity_);
    sentence_->setObjectName("doubtSentence");
    sentence_->setWordWrap(true);
    head->addWidget(sentence_, 1);
    keep_ = button(this, tr("Keep as table"), "link",
                   tr("The numbers of the doubt view as a table of the project"), [this] { keep(); });
    head->addWidget(keep_, 0, Qt::AlignTop);
    layout->addLayout(head);
    auto* row = new QHBoxLayout(plots_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(10);
    layout->addWidget(stripScroll(plots_, tr("Doubt")), 1);
    connect(quantity_, &QComboBox::activated, this, &DoubtRow::refresh);
}

void DoubtRow::refresh() {
    const auto open = document_.project().analyses.find(document_.analysis());
    if (!open) {
        quantity_->clear();
        doubt_ = {};
        doubt_.sentence =
            tr("Open a fit first: its numbers are then looked at from all sides.").toStdString();
        return show(doubt_);
    }
    waiting_ = true;
    job_.request([this, a = *open, wanted = quantity_->currentData().toString().toStdString(),
                  project = document_.project(), dataset = document_.dataset(),
                  evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        const auto outcome = evaluator->analysis(project, a, {.stop = stop});
        std::string key = wanted;
        if (outcome.exists() && !outcome->find(key))
            for (const analyses::Quantity& q : outcome->quantities)
                if (!q.member || q.member == dataset) {
                    key = q.key;
                    break;
                }
        job_.tell([this, outcome, key] { offerQuantities(outcome, key); });
        auto doubt = evaluate::doubtOf(
            project, a, dataset, key, *evaluator, stop,
            [this](const evaluate::Doubt& sofar) { job_.tell([this, sofar] { show(sofar); }); });
        return
            [this, outcome, key, doubt = doubt ? *doubt : evaluate::Doubt{.sentence = doubt.error().text}] {
                waiting_ = false;
                offerQuantities(outcome, key);
                show(doubt);
            };
    });
}

void DoubtRow::offerQuantities(const evaluate::AnalysisOutcome& outcome, const std::string& key) {
    quantity_->clear();
    if (!outcome.exists()) return;
    for (const analyses::Quantity& q : outcome->quantities)
        if (!q.member || q.member == document_.dataset())
            quantity_->addItem(text(q.subject.empty() ? q.label : q.subject + ": " + q.label), text(q.key));
    quantity_->setCurrentIndex(std::max(0, quantity_->findData(text(key))));
}

void DoubtRow::show(const evaluate::Doubt& doubt) {
    doubt_ = doubt;
    sentence_->setText(text(doubt.sentence));
    keep_->setEnabled(!doubt.series.empty());
    auto* row = static_cast<QHBoxLayout*>(plots_->layout());
    clearLayout(row);
    double low = doubt.low, high = doubt.high; // one scale for all
    if (!std::isfinite(low) || !std::isfinite(high)) low = high = doubt.value;
    for (const evaluate::DoubtSeries& s : doubt.series)
        for (const evaluate::DoubtPoint& p : s.points)
            if (std::isfinite(p.value)) low = std::min(low, p.value), high = std::max(high, p.value);
    // What flies far off shall not flatten all others.
    if (const double most = kMostHalves * (doubt.high - doubt.low) / 2; most > 0)
        low = std::max(low, doubt.value - most), high = std::min(high, doubt.value + most);
    if (!(low < high)) low -= 1, high += 1;
    for (const evaluate::DoubtSeries& s : doubt.series)
        row->addWidget(new DoubtPlot(s, doubt, low, high,
                                     [this](const auto& point, const auto& choice) { take(point, choice); }));
    row->addStretch(1);
}

// What was varied is then chosen, as if it had been set where it belongs.
void DoubtRow::take(const evaluate::DoubtPoint& point, const std::string& choice) {
    if (waiting_ || !point.project) return; // it would be of what was before
    document_.apply({fmt::format("Choose {}: {}", choice, point.label),
                     {},
                     [changed = point.project](const Project&) -> Result<Project> { return *changed; }});
}

void DoubtRow::keep() {
    if (document_.apply(edits::addTable(evaluate::doubtTable(doubt_))))
        document_.say(tr("Kept as the table “Doubt of %1”.").arg(text(doubt_.quantity)));
}

} // namespace jointer::app
