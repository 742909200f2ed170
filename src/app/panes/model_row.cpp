// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/model_row.h"

#include "analyses/comparison.h"
#include "analyses/fit_analysis.h"
#include "analyses/neighbours.h"
#include "app/panes/fit_names.h"
#include "app/panes/protocol_pane.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::app {

namespace {

constexpr QSize kRowSize{132, 58};
constexpr int kBar = 4;
constexpr std::size_t kMostProposed = 4,
                      kMostPointsTried = 20000;  // of whose neighbours are tried by themselves
constexpr std::size_t kMostPointsOfLoess = 3000; // its degrees of freedom take their square

struct Shown {
    std::vector<double> x, y;
    double left = INFINITY, right = -INFINITY, low = INFINITY, high = -INFINITY;

    explicit Shown(const fit::FitProblem& problem) {
        const fit::FitMember& m = problem.members.front();
        for (std::size_t i = 0; i < m.y.size(); ++i) {
            x.push_back(m.predictors[0][i]);
            y.push_back(m.y[i]);
            left = std::min(left, x.back()), right = std::max(right, x.back());
            low = std::min(low, y.back()), high = std::max(high, y.back());
        }
        if (!(left < right)) right = left + 1;
        if (!(low < high)) high = low + 1;
    }
    QPointF at(double px, double py) const {
        return {3 + (px - left) / (right - left) * (kRowSize.width() - 6),
                kRowSize.height() - kBar - 5 - (py - low) / (high - low) * (kRowSize.height() - kBar - 10)};
    }
};

// The fitted curve over the shown range, or of a curve without a formula its values at the points.
QPolygonF lineOf(const Shown& shown, const fit::Candidate& candidate, const fit::Compared& model) {
    std::vector<double> xs, ys;
    if (candidate.free) {
        xs = candidate.problem.members.front().predictors[0];
        ys = candidate.free->fitted;
    } else if (model.report) {
        for (int k = 0; k <= 160; ++k) xs.push_back(std::lerp(shown.left, shown.right, k / 160.0));
        const std::span<const double> column(xs);
        ys = fit::curve(*candidate.problem.members.front().model, model.report->one(), {&column, 1});
    }
    const double far = 1e3 * (shown.high - shown.low);
    QPolygonF line;
    for (std::size_t k = 0; k < ys.size(); ++k)
        if (std::isfinite(ys[k]))
            line << shown.at(xs[k], std::clamp(ys[k], shown.low - far, shown.high + far));
    return line;
}

QImage pictureOf(const Shown& shown, const fit::Candidate& candidate, const fit::Compared& model,
                 qreal ratio) {
    QImage image(kRowSize * ratio, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(ratio);
    image.fill(Qt::transparent);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().muted);
    const std::size_t stride = shown.x.size() / 600 + 1;
    for (std::size_t i = 0; i < shown.x.size(); i += stride)
        p.drawEllipse(shown.at(shown.x[i], shown.y[i]), 1.1, 1.1);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().accent, 1.4));
    p.drawPolyline(lineOf(shown, candidate, model));
    p.setPen(Qt::NoPen);
    p.setBrush(theme().line);
    const QRectF whole(3, kRowSize.height() - kBar, kRowSize.width() - 6, kBar);
    p.drawRect(whole);
    p.setBrush(theme().accent);
    p.drawRect(QRectF(whole.topLeft(), QSizeF(whole.width() * model.weight, kBar)));
    return image;
}

// Always two lines, so that all tiles are as high.
QString inTwoLines(const QString& name, const QFontMetrics& metrics) {
    QStringList words = name.split(' '), first;
    while (!words.isEmpty() &&
           metrics.horizontalAdvance((first + QStringList(words.front())).join(' ')) <= kRowSize.width())
        first << words.takeFirst();
    if (first.isEmpty() && !words.isEmpty())
        first << metrics.elidedText(words.takeFirst(), Qt::ElideRight, kRowSize.width());
    return first.join(' ') + "\n" + metrics.elidedText(words.join(' '), Qt::ElideRight, kRowSize.width());
}

// Collects what can stand beside the open curve: the others of the dataset, and what might be tried.
class Beside {
public:
    Beside(const Project& project, DatasetId dataset, evaluate::Evaluator& evaluator,
           const Cancellation& stop)
        : project_(project), dataset_(dataset), evaluator_(evaluator), stop_(stop) {}

    ModelRow::Found found(AnalysisId openId, qreal ratio) {
        if (const auto open = project_.analyses.find(openId)) take(*open, true);
        for (const auto& a : analysesOf(project_, dataset_))
            if (a->id != openId) take(*a, false);
        if (tiles_.empty()) return {{}, {"Fit a model first: others are then shown beside it.", {}}};
        if (tiles_[0].open && !candidates_[0].free) propose();
        const auto compared = fit::compareModels(candidates_, {}, stop_);
        if (!compared) return {{}, {compared.error().text, {}}};
        const Shown shown(candidates_.front().problem);
        for (std::size_t k = 0; k < tiles_.size(); ++k) {
            const fit::Compared& m = compared->models[k];
            tiles_[k].weight = m.weight;
            tiles_[k].difference = m.report || m.free ? m.aiccDifference : NAN;
            tiles_[k].state = m.report ? std::string(fit::stateText(m.report->state))
                              : m.free ? fmt::format("{:.3g} degrees of freedom", m.k)
                                       : m.why;
            tiles_[k].picture = pictureOf(shown, candidates_[k], m, ratio);
        }
        // The open one, then the better first.
        std::stable_sort(tiles_.begin() + (tiles_[0].open ? 1 : 0), tiles_.end(),
                         [](const ModelRow::Tile& a, const ModelRow::Tile& b) {
                             return std::isfinite(a.difference) &&
                                    (!std::isfinite(b.difference) || a.difference < b.difference);
                         });
        return {std::move(tiles_), fit::verdictOf(*compared)};
    }

private:
    void take(const Analysis& a, bool open) {
        if (a.inputs.size() > 1 || a.settings.flag("hold") || (a.kind != "fit" && a.kind != "free-curve"))
            return;
        const auto outcome = evaluator_.analysis(project_, a, {.stop = stop_});
        auto candidate = outcome.exists() ? analyses::candidateOf(*outcome, nameBeside(project_, a, dataset_))
                                          : std::nullopt;
        if (!candidate || candidate->problem.members[0].predictors.size() > 1) return;
        // Only what is of the same points can stand beside the open one.
        if (!candidates_.empty() && !fit::haveSamePoints(candidates_.front().problem, candidate->problem)) return;
        if (const analyses::FitDetail* fit = analyses::fitDetail(*outcome)) time_ = fit->taken->time;
        tiles_.push_back({.name = candidate->name, .fit = a.id, .model = a.model, .open = open});
        candidates_.push_back(std::move(*candidate));
    }

    // Neighbours of the open model in the library, and a local regression.
    void propose() {
        const std::size_t points = candidates_.front().problem.observationCount();
        const bool hasFree =
            std::ranges::any_of(candidates_, [](const fit::Candidate& c) { return c.free.has_value(); });
        if (points <= kMostPointsTried)
            for (const ModelNode& node : analyses::neighboursOf(tiles_[0].model, kMostProposed))
                addModel(node);
        if (hasFree || points > kMostPointsOfLoess) return;
        const fit::FitProblem& problem = candidates_.front().problem;
        auto form = analyses::freeFormOf({}, problem.members[0], stop_);
        if (!form) return;
        candidates_.push_back({"LOESS", problem, {}, std::move(*form)});
        tiles_.push_back({.name = "LOESS", .fit = {}});
    }
    void addModel(const ModelNode& node) {
        auto model = analyses::modelOf(node);
        if (!model || std::ranges::any_of(tiles_, [&](const auto& t) { return t.model.kind == node.kind; }))
            return;
        fit::FitProblem problem = candidates_.front().problem;
        problem.parameters.clear();
        problem.derive.clear();
        problem.schedule.clear();
        problem.members[0].parameters.clear();
        problem.members[0].model = time_ ? models::timedModel(*model, *time_) : *model;
        candidates_.push_back({analyses::modelName(node), std::move(problem)});
        tiles_.push_back({.name = candidates_.back().name, .fit = {}, .model = node});
    }

    const Project& project_;
    DatasetId dataset_;
    evaluate::Evaluator& evaluator_;
    const Cancellation& stop_;
    std::vector<fit::Candidate> candidates_;
    std::vector<ModelRow::Tile> tiles_;     // one for each
    std::optional<models::TimeScale> time_; // by which models count moments
};

} // namespace

ModelRow::ModelRow(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), job_(this), sentence_(new QLabel), tiles_(new QWidget) {
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(56, 4, 12, 4);
    layout->setSpacing(4);
    sentence_->setObjectName("modelVerdict");
    sentence_->setWordWrap(true);
    layout->addWidget(sentence_);
    auto* row = new QHBoxLayout(tiles_);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    layout->addWidget(stripScroll(tiles_, tr("Models")), 1);
}

void ModelRow::refresh() {
    const auto open = document_.project().analyses.find(document_.analysis());
    waiting_ = true;
    job_.request([this, id = open ? open->id : AnalysisId{}, project = document_.project(),
                  dataset = document_.dataset(), ratio = devicePixelRatioF(),
                  evaluator = document_.session().sharedEvaluator()](
                     const Cancellation& stop) -> std::function<void()> {
        return [this, now = Beside(project, dataset, *evaluator, stop).found(id, ratio)] {
            waiting_ = false;
            fill(now);
        };
    });
}

void ModelRow::fill(const Found& now) {
    auto* row = static_cast<QHBoxLayout*>(tiles_->layout());
    clearLayout(row);
    QString said = text(now.verdict.sentence);
    for (const std::string& against : now.verdict.against) said += " " + tr("But %1.").arg(text(against));
    sentence_->setText(said);
    for (const Tile& tile : now.tiles) {
        auto* made = new QToolButton;
        made->setObjectName("markChoice");
        made->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        made->setIcon(QIcon(QPixmap::fromImage(tile.picture)));
        made->setIconSize(kRowSize);
        made->setCheckable(true);
        made->setChecked(tile.open);
        const QString numbers = std::isfinite(tile.difference)
                                    ? tr("%1 %   ΔAICc %2")
                                          .arg(std::lround(100 * tile.weight))
                                          .arg(text(readableNumber(tile.difference, 3)))
                                    : tr("not fitted");
        made->setText(inTwoLines(text(tile.name), made->fontMetrics()) + "\n" + numbers);
        made->setAccessibleName(text(tile.name) + ", " + numbers);
        made->setToolTip((tile.fit ? tr("%1, %2. Click to open it")
                          : tile.model.kind.empty()
                              ? tr("%1, %2. Click to draw it beside the fit")
                              : tr("%1, %2. Click to make it the model of the open fit"))
                             .arg(text(tile.name), text(tile.state)));
        connect(made, &QToolButton::clicked, this, [this, tile] { take(tile); });
        row->addWidget(made, 0, Qt::AlignTop);
    }
    row->addStretch(1);
}

void ModelRow::take(const Tile& tile) {
    if (tile.fit) return document_.openAnalysis(tile.fit);
    if (tile.model.kind.empty()) {
        const auto open = document_.project().analyses.find(document_.analysis());
        document_.addAnalysis([&](DatasetId dataset) {
            Analysis curve = newAnalysis(dataset, "free-curve");
            if (open)
                curve.inputs = open->inputs; // of the same points, or they could not stand beside each other
            return curve;
        });
        return;
    }
    document_.apply(
        edits::changeAnalysis(document_.analysis(), "Choose model", [model = tile.model](Analysis& a) {
            a.model = model;
            a.parameters.clear();
        }));
}

} // namespace jointer::app
