// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/model_row.h"

#include "analyses/fit_analysis.h"
#include "analyses/neighbours.h"
#include "app/panes/fit_names.h"
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

constexpr QSize kSize{132, 58};
constexpr int kBar = 4;
constexpr std::size_t kMostProposed = 4, kMostPoints = 20000; // of whose neighbours are tried by themselves

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
        return {3 + (px - left) / (right - left) * (kSize.width() - 6),
                kSize.height() - kBar - 5 - (py - low) / (high - low) * (kSize.height() - kBar - 10)};
    }
};

QImage pictureOf(const Shown& shown, const fit::FitProblem& problem, const fit::Compared& model, qreal ratio) {
    QImage image(kSize * ratio, QImage::Format_ARGB32_Premultiplied);
    image.setDevicePixelRatio(ratio);
    image.fill(Qt::transparent);
    QPainter p(&image);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(Qt::NoPen);
    p.setBrush(theme().muted);
    const std::size_t stride = shown.x.size() / 600 + 1;
    for (std::size_t i = 0; i < shown.x.size(); i += stride) p.drawEllipse(shown.at(shown.x[i], shown.y[i]), 1.1, 1.1);
    if (model.report) {
        std::vector<double> xs;
        for (int k = 0; k <= 160; ++k) xs.push_back(std::lerp(shown.left, shown.right, k / 160.0));
        const std::span<const double> column(xs);
        const std::vector<double> ys = fit::curve(*problem.members.front().model, model.report->one(), {&column, 1});
        QPolygonF line;
        for (std::size_t k = 0; k < ys.size(); ++k)
            if (std::isfinite(ys[k])) line << shown.at(xs[k], std::clamp(ys[k], shown.low - 1e3 * (shown.high - shown.low), shown.high + 1e3 * (shown.high - shown.low)));
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().accent, 1.4));
        p.drawPolyline(line);
    }
    p.setPen(Qt::NoPen);
    p.setBrush(theme().line);
    const QRectF whole(3, kSize.height() - kBar, kSize.width() - 6, kBar);
    p.drawRect(whole);
    p.setBrush(theme().accent);
    p.drawRect(QRectF(whole.topLeft(), QSizeF(whole.width() * model.weight, kBar)));
    return image;
}

// Always two lines, so that all tiles are as high.
QString inTwoLines(const QString& name, const QFontMetrics& metrics) {
    QStringList words = name.split(' '), first;
    while (!words.isEmpty() && metrics.horizontalAdvance((first + QStringList(words.front())).join(' ')) <= kSize.width())
        first << words.takeFirst();
    if (first.isEmpty() && !words.isEmpty()) first << metrics.elidedText(words.takeFirst(), Qt::ElideRight, kSize.width());
    return first.join(' ') + "\n" + metrics.elidedText(words.join(' '), Qt::ElideRight, kSize.width());
}

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
    job_.request([this, id = open ? open->id : AnalysisId{}, project = document_.project(), dataset = document_.dataset(),
                  ratio = devicePixelRatioF(),
                  evaluator = document_.session().sharedEvaluator()](const Cancellation& stop) -> std::function<void()> {
        return [this, now = found(project, id, dataset, *evaluator, ratio, stop)] {
            waiting_ = false;
            fill(now);
        };
    });
}

ModelRow::Found ModelRow::found(const Project& project, AnalysisId openId, DatasetId dataset, evaluate::Evaluator& evaluator,
                                qreal ratio, const Cancellation& stop) {
    Found out;
    std::vector<fit::Candidate> candidates;
    const auto take = [&](const Analysis& a) {
        if (a.kind != "fit" || a.inputs.size() > 1 || a.settings.flag("hold")) return;
        const auto outcome = evaluator.analysis(project, a, {.stop = stop});
        const auto* detail = outcome.exists() ? analyses::fitDetail(*outcome) : nullptr;
        if (!detail || detail->taken->model().predictorCount() > 1) return;
        // Only what is of the same points can stand beside the open one.
        const auto same = [](const fit::FitProblem& one, const fit::FitProblem& two) {
            return one.absolute == two.absolute && one.members[0].predictors == two.members[0].predictors &&
                   one.members[0].y == two.members[0].y && one.members[0].sigma == two.members[0].sigma;
        };
        if (!candidates.empty() && !same(candidates.front().problem, detail->taken->problem)) return;
        candidates.push_back({nameBeside(project, a, dataset), detail->taken->problem, detail->report});
        out.tiles.push_back({.name = candidates.back().name, .fit = a.id, .model = a.model, .open = a.id == openId});
    };
    if (const auto open = project.analyses.find(openId)) take(*open);
    for (const auto& a : analysesOf(project, dataset))
        if (a->id != openId) take(*a);
    if (candidates.empty()) return {{}, {"Fit a model first: others are then shown beside it.", {}}};
    const bool quick = candidates.front().problem.observationCount() <= kMostPoints;
    for (const ModelNode& node : quick && out.tiles[0].open ? analyses::neighboursOf(out.tiles[0].model, kMostProposed) : std::vector<ModelNode>()) {
        const auto there = [&](const Tile& t) { return t.model.kind == node.kind; };
        auto model = analyses::modelOf(node);
        if (!model || std::ranges::any_of(out.tiles, there)) continue;
        fit::FitProblem problem = candidates.front().problem;
        problem.parameters.clear();
        problem.derive.clear();
        problem.schedule.clear();
        problem.members[0].parameters.clear();
        problem.members[0].model = *model;
        candidates.push_back({analyses::modelName(node), std::move(problem), {}});
        out.tiles.push_back({.name = candidates.back().name, .fit = {}, .model = node});
    }
    const auto compared = fit::compareModels(candidates, {}, stop);
    if (!compared) return {{}, {compared.error().text, {}}};
    out.verdict = fit::verdictOf(*compared);
    const Shown shown(candidates.front().problem);
    for (std::size_t k = 0; k < out.tiles.size(); ++k) {
        const fit::Compared& m = compared->models[k];
        out.tiles[k].weight = m.weight;
        out.tiles[k].difference = m.report ? m.aiccDifference : NAN;
        out.tiles[k].state = m.report ? std::string(fit::stateText(m.report->state)) : m.why;
        out.tiles[k].picture = pictureOf(shown, candidates[k].problem, m, ratio);
    }
    return out;
}

void ModelRow::fill(const Found& now) {
    auto* row = static_cast<QHBoxLayout*>(tiles_->layout());
    while (QLayoutItem* item = row->takeAt(0)) {
        if (QWidget* old = item->widget()) old->deleteLater();
        delete item;
    }
    QString said = text(now.verdict.sentence);
    for (const std::string& against : now.verdict.against) said += " " + tr("But %1.").arg(text(against));
    sentence_->setText(said);
    for (const Tile& tile : now.tiles) {
        auto* made = new QToolButton;
        made->setObjectName("markChoice");
        made->setToolButtonStyle(Qt::ToolButtonTextUnderIcon);
        made->setIcon(QIcon(QPixmap::fromImage(tile.picture)));
        made->setIconSize(kSize);
        made->setCheckable(true);
        made->setChecked(tile.open);
        const QString numbers = std::isfinite(tile.difference)
                                    ? tr("%1 %   ΔAICc %2").arg(std::lround(100 * tile.weight)).arg(text(readableNumber(tile.difference, 3)))
                                    : tr("not fitted");
        made->setText(inTwoLines(text(tile.name), made->fontMetrics()) + "\n" + numbers);
        made->setAccessibleName(text(tile.name) + ", " + numbers);
        made->setToolTip(tile.fit ? tr("%1, %2. Click to open it").arg(text(tile.name), text(tile.state))
                                  : tr("%1, %2. Click to make it the model of the open fit").arg(text(tile.name), text(tile.state)));
        connect(made, &QToolButton::clicked, this, [this, tile] { take(tile); });
        row->addWidget(made, 0, Qt::AlignTop);
    }
    row->addStretch(1);
}

void ModelRow::take(const Tile& tile) {
    if (tile.fit) return document_.openAnalysis(tile.fit);
    document_.apply(edits::changeAnalysis(document_.analysis(), "Choose model", [model = tile.model](Analysis& a) {
        a.model = model;
        a.parameters.clear();
    }));
}

} // namespace jointer::app
