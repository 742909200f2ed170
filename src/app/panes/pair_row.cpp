// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/pair_row.h"

#include "analyses/fit_analysis.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace jointer::app {

namespace {

constexpr Eigen::Index kMostShown = 24;       // parameters
constexpr std::size_t kMostFollowed = 200000; // points times parameters: beyond the ellipse must do
constexpr int kRegionWidth = 330, kNames = 110, kCell = 30, kMostPictureWidth = 400;

// Only those of one member and those that it shares, by their plain names.
fit::Correlation partOf(const fit::Correlation& all, const fit::FitReport& report, std::size_t member) {
    std::vector<Eigen::Index> kept;
    fit::Correlation out;
    for (std::size_t k = 0; k < all.names.size(); ++k) {
        const fit::ParameterPlace& place = all.places[k];
        const auto& of = report.members[place.member].parameters;
        if (place.member != member && !std::ranges::find(of, place.name, &fit::ParameterResult::name)->shared)
            continue;
        kept.push_back(static_cast<Eigen::Index>(k));
        out.names.push_back(place.name);
        out.places.push_back(place);
    }
    out.values = all.values(kept, kept);
    return out;
}

// The two that go together most.
std::pair<std::string, std::string> closest(const fit::Correlation& c) {
    std::pair<std::string, std::string> out{c.names[0], c.names[1]};
    double most = -1;
    for (Eigen::Index i = 0; i < c.values.rows(); ++i)
        for (Eigen::Index j = 0; j < i; ++j)
            if (const double r = std::abs(c.values(i, j)); r > most)
                most = r, out = {c.names[static_cast<std::size_t>(j)], c.names[static_cast<std::size_t>(i)]};
    return out;
}

} // namespace

// The lower triangle: a square for each pair, the stronger the more they go together, copper where they go
// against each other.
class CorrelationPicture final : public QWidget {
public:
    explicit CorrelationPicture(std::function<void(Eigen::Index, Eigen::Index)> chosen)
        : chosen_(std::move(chosen)) {
        setObjectName("correlations");
        setAccessibleName(tr("Correlations"));
        setToolTip(tr(
            "Correlations of the parameters: click a pair to see its joint region, or use the arrow keys"));
        setFocusPolicy(Qt::StrongFocus);
    }
    void set(const fit::Correlation& c) {
        correlation_ = c;
        const int n = static_cast<int>(std::min(c.values.rows(), kMostShown));
        setFixedSize(kNames + std::max(1, n - 1) * kCell + 4, std::max(1, n) * kCell + 2);
        update();
    }
    void select(Eigen::Index row, Eigen::Index column) {
        row_ = row;
        column_ = column;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        for (Eigen::Index i = 0; i < shown(); ++i) {
            p.setPen(theme().ink);
            const QString name = text(correlation_.names[static_cast<std::size_t>(i)]);
            p.drawText(QRectF(0, static_cast<double>(i) * kCell, kNames - 8, kCell),
                       Qt::AlignRight | Qt::AlignVCenter,
                       fontMetrics().elidedText(name, Qt::ElideRight, kNames - 8));
            for (Eigen::Index j = 0; j < i; ++j) drawCell(p, i, j);
        }
    }
    void mousePressEvent(QMouseEvent* e) override {
        for (Eigen::Index i = 0; i < shown(); ++i)
            for (Eigen::Index j = 0; j < i; ++j)
                if (cell(i, j).contains(e->position())) return chosen_(i, j);
    }
    void keyPressEvent(QKeyEvent* e) override {
        const Eigen::Index down = e->key() == Qt::Key_Down ? 1 : e->key() == Qt::Key_Up ? -1 : 0;
        const Eigen::Index right = e->key() == Qt::Key_Right ? 1 : e->key() == Qt::Key_Left ? -1 : 0;
        if (down == 0 && right == 0) return QWidget::keyPressEvent(e);
        const Eigen::Index i =
            std::clamp<Eigen::Index>(row_ + down, 1, std::max<Eigen::Index>(1, shown() - 1));
        if (shown() > 1) chosen_(i, std::clamp<Eigen::Index>(column_ + right, 0, i - 1));
    }
    bool event(QEvent* e) override {
        if (e->type() == QEvent::FocusIn || e->type() == QEvent::FocusOut) update();
        return QWidget::event(e);
    }

private:
    Eigen::Index shown() const { return std::min(correlation_.values.rows(), kMostShown); }
    static QRectF cell(Eigen::Index row, Eigen::Index column) {
        return {kNames + static_cast<double>(column) * kCell + 1.0, static_cast<double>(row) * kCell + 1.0,
                kCell - 2.0, kCell - 2.0};
    }
    void drawCell(QPainter& p, Eigen::Index i, Eigen::Index j) {
        const double r = correlation_.values(i, j);
        const QRectF at = cell(i, j);
        QColor fill = r < 0 ? theme().copper : theme().accent;
        fill.setAlphaF(std::isfinite(r) ? 0.06f + 0.74f * static_cast<float>(std::min(1.0, std::abs(r)))
                                        : 0.0f);
        p.setPen(i == row_ && j == column_ ? QPen(hasFocus() ? theme().accent : theme().ink, 1.6)
                                           : QPen(theme().line, 1));
        p.setBrush(fill);
        p.drawRoundedRect(at, 3, 3);
        p.setPen(std::isfinite(r) && std::abs(r) > 0.75 ? theme().panel : theme().ink);
        QFont small = font();
        small.setPointSizeF(7.5);
        const QFont usual = p.font();
        p.setFont(small);
        p.drawText(at, Qt::AlignCenter,
                   std::isfinite(r)
                       ? QString::number(r, 'f', std::abs(r) > 0.995 ? 3 : 2).replace('-', QChar(0x2212))
                       : "–");
        p.setFont(usual);
    }

    fit::Correlation correlation_;
    Eigen::Index row_ = 1, column_ = 0;
    std::function<void(Eigen::Index, Eigen::Index)> chosen_;
};

// The region filled, the ellipse of the errors dashed, the intervals of each for itself as ticks along the
// frame.
class RegionPlot final : public QWidget {
public:
    RegionPlot() {
        setFixedWidth(kRegionWidth);
        setMinimumHeight(90);
        setAccessibleName(tr("Joint region"));
    }
    void set(const fit::Region& region) {
        region_ = region;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        if (region_.ellipse.empty()) return;
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        takeRange();
        const QRectF area = areaOf();
        p.setPen(theme().line);
        p.drawRect(area);
        drawIntervals(p, area);
        QColor fill = theme().accent;
        fill.setAlpha(region_.open ? 18 : 40);
        p.setPen(QPen(theme().accent, 1.4));
        p.setBrush(fill);
        if (!region_.edge.empty()) p.drawPolygon(polygonOf(region_.edge));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().muted, 1, Qt::DashLine));
        p.drawPolygon(polygonOf(region_.ellipse));
        p.setPen(Qt::NoPen);
        p.setBrush(theme().accent);
        p.drawEllipse(placeOf(region_.x, region_.y), 3, 3);
        drawWords(p, area);
    }

private:
    QRectF areaOf() const { return {88.5, 4.5, width() - 94.0, height() - 38.0}; }
    void takeRange() {
        low_ = high_ = QPointF(region_.x, region_.y);
        for (const auto* list : {&region_.ellipse, &region_.edge})
            for (const auto& [x, y] : *list) {
                low_ = {std::min(low_.x(), x), std::min(low_.y(), y)};
                high_ = {std::max(high_.x(), x), std::max(high_.y(), y)};
            }
        const QPointF margin = 0.08 * (high_ - low_);
        low_ -= margin;
        high_ += margin;
    }
    QPointF placeOf(double x, double y) const {
        const QRectF a = areaOf();
        return {a.left() + (x - low_.x()) / (high_.x() - low_.x()) * a.width(),
                a.bottom() - (y - low_.y()) / (high_.y() - low_.y()) * a.height()};
    }
    QPolygonF polygonOf(const std::vector<std::pair<double, double>>& list) const {
        QPolygonF out;
        for (const auto& [x, y] : list) out << placeOf(x, y);
        return out;
    }
    // What each parameter's own interval would be: a thick line along its axis.
    void drawIntervals(QPainter& p, const QRectF& area) const {
        p.setPen(QPen(theme().copper, 3, Qt::SolidLine, Qt::FlatCap));
        if (std::isfinite(region_.xLow + region_.xHigh))
            p.drawLine(QPointF(std::max(area.left(), placeOf(region_.xLow, 0).x()), area.bottom()),
                       QPointF(std::min(area.right(), placeOf(region_.xHigh, 0).x()), area.bottom()));
        if (std::isfinite(region_.yLow + region_.yHigh))
            p.drawLine(QPointF(area.left(), std::max(area.top(), placeOf(0, region_.yHigh).y())),
                       QPointF(area.left(), std::min(area.bottom(), placeOf(0, region_.yLow).y())));
    }
    void drawWords(QPainter& p, const QRectF& area) const {
        p.setPen(theme().muted);
        const auto digits = [](double low, double high, double v) {
            return text(readableWithError(v, (high - low) / 12).value);
        };
        const QRectF foot(area.left(), area.bottom() + 3, area.width(), 14);
        p.drawText(foot, Qt::AlignLeft, digits(low_.x(), high_.x(), low_.x()));
        p.drawText(foot, Qt::AlignRight, digits(low_.x(), high_.x(), high_.x()));
        const QRectF side(0, area.top(), area.left() - 5, area.height());
        p.drawText(side, Qt::AlignRight | Qt::AlignTop, digits(low_.y(), high_.y(), high_.y()));
        p.drawText(side, Qt::AlignRight | Qt::AlignBottom, digits(low_.y(), high_.y(), low_.y()));
        p.setPen(theme().ink);
        const auto fitting = [&](const std::string& name, double room) {
            return fontMetrics().elidedText(text(name), Qt::ElideRight, static_cast<int>(room));
        };
        p.drawText(QRectF(area.left(), area.bottom() + 18, area.width(), 16), Qt::AlignHCenter,
                   fitting(region_.first, area.width()));
        p.drawText(side, Qt::AlignRight | Qt::AlignVCenter, fitting(region_.second, side.width()));
    }

    fit::Region region_;
    QPointF low_, high_;
};

PairRow::PairRow(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), sentence_(new QLabel),
      picture_(new CorrelationPicture([this](Eigen::Index i, Eigen::Index j) {
          chosen_ = {correlation_.names[static_cast<std::size_t>(j)],
                     correlation_.names[static_cast<std::size_t>(i)]};
          follow();
      })),
      scroll_(new QScrollArea), plot_(new RegionPlot) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(56, 4, 12, 4);
    layout->setSpacing(4);
    sentence_->setObjectName("pairSentence");
    sentence_->setWordWrap(true);
    layout->addWidget(sentence_);
    scroll_->setObjectName("strip");
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setAccessibleName(tr("Pairs of parameters"));
    scroll_->setWidget(picture_);
    auto* row = new QHBoxLayout;
    row->setSpacing(16);
    row->addWidget(scroll_);
    row->addWidget(plot_);
    row->addStretch(1);
    layout->addLayout(row, 1);
}

void PairRow::refresh() {
    const auto open = document_.project().analyses.find(document_.analysis());
    if (!open) return showNothing(tr("Open a fit first: how its parameters go together is then shown."));
    waiting_ = true;
    job_.request([this, a = *open, project = document_.project(),
                  evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        auto outcome = evaluator->analysis(project, a, {.stop = stop});
        return [this, outcome, held = a.settings.flag("hold")] {
            waiting_ = false;
            outcome_ = outcome;
            const analyses::FitDetail* detail = outcome.exists() ? analyses::fitDetail(*outcome) : nullptr;
            if (!detail || held || detail->report.provisional)
                return showNothing(tr("This analysis has no parameters with errors."));
            const auto member = std::ranges::find(detail->taken->members, document_.dataset(),
                                                  &analyses::MemberPoints::dataset);
            if (member == detail->taken->members.end())
                return showNothing(tr("This fit does not take the dataset."));
            correlation_ = partOf(fit::correlation(detail->report), detail->report,
                                  static_cast<std::size_t>(member - detail->taken->members.begin()));
            if (correlation_.names.size() < 2)
                return showNothing(tr("There is a single free parameter: nothing goes with it."));
            picture_->set(correlation_);
            scroll_->setFixedWidth(
                std::min(picture_->width() + 8, kMostPictureWidth)); // of many parameters a part is seen
            picture_->show();
            plot_->show();
            follow();
        };
    });
}

void PairRow::showNothing(const QString& why) {
    region_ = {};
    picture_->hide();
    plot_->hide();
    sentence_->setText(why);
}

// The ellipse at once, the edge as soon as it is followed.
void PairRow::follow() {
    const auto placeOf = [&](const std::string& name) {
        return std::ranges::find(correlation_.names, name) - correlation_.names.begin();
    };
    const auto count = std::min<std::ptrdiff_t>(std::ssize(correlation_.names), kMostShown);
    if (placeOf(chosen_.first) >= placeOf(chosen_.second) || placeOf(chosen_.second) >= count)
        chosen_ = closest(correlation_);
    const auto column = placeOf(chosen_.first), row = placeOf(chosen_.second);
    picture_->select(row, column);
    const fit::ParameterPlace first = correlation_.places[static_cast<std::size_t>(column)],
                              second = correlation_.places[static_cast<std::size_t>(row)];
    waiting_ = true;
    const std::size_t parameters = correlation_.names.size();
    job_.request([this, outcome = outcome_, first, second,
                  parameters](const Cancellation& stop) -> std::function<void()> {
        const analyses::FitDetail& d = *analyses::fitDetail(*outcome);
        const fit::FitProblem& problem = d.taken->problem;
        const auto regionOf = [&](bool followed) {
            auto region = fit::regionOf(problem, d.report, first, second, {.follow = followed}, stop);
            if (region) region->first = first.name, region->second = second.name; // all are of one dataset
            return region;
        };
        auto region = regionOf(false);
        if (!region)
            return [this, why = region.error().text] {
                waiting_ = false;
                show({}, why);
            };
        job_.tell([this, ellipse = *region] { show(ellipse, fit::sentenceOf(ellipse)); });
        if (problem.observationCount() * parameters <= kMostFollowed) region = regionOf(true);
        return [this, region = *region] {
            waiting_ = false;
            show(region, fit::sentenceOf(region));
        };
    });
}

void PairRow::show(const fit::Region& region, const std::string& sentence) {
    region_ = region;
    sentence_->setText(text(sentence));
    plot_->set(region);
}

} // namespace jointer::app
