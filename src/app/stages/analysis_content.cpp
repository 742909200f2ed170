// SPDX-License-Identifier: GPL-3.0-or-later
// What the plots of Analyse show: the points, the open analysis strong with its parts and members, the others
// of the dataset thin, residuals below. Knows no kind of analysis.
#include "analyses/fit_analysis.h"
#include "analyses/residual_looks.h"
#include "app/stages/analysis_marks.h"
#include "app/stages/answer_marks.h"
#include "app/stages/area_handles.h"
#include "app/stages/peak_handles.h"
#include "app/stages/plot_marks.h"
#include "app/stages/shown_curves.h"
#include "app/stages/without_point.h"
#include "app/stages/work_stage.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <QComboBox>
#include <cmath>
#include <fmt/format.h>

namespace jointer::app {

namespace {

constexpr std::size_t kCrowd = 300; // points that hide a line of their own colour

// What the residuals shown tell, for the line above them, and which points they are; `over` is empty for x.
void takeResiduals(PlotContent& c, const Analysis& a, DatasetId dataset, const std::string& over) {
    const auto outcome = c.evaluator->analysis(c.project, a, {.effort = c.effort});
    const analyses::NamedCurve* curve = !outcome.exists() ? nullptr
                                        : over.empty()    ? outcome->curve("residuals", dataset)
                                                          : outcome->curve("residuals-over", dataset, over);
    c.caption = curve && !curve->says.empty() ? "residuals · " + curve->says : "residuals";
    c.probedPoints = curve ? curve->points : nullptr;
}

// What takes other analyses has no points of its own.
bool ownsSpan(const Analysis& a) {
    const analyses::AnalysisKind* kind = analyses::kindOf(a);
    return kind && std::ranges::find(kind->slots, "analysis", &analyses::InputSlot::of) == kind->slots.end();
}

// The curve of a dataset as the analysis takes it; without one as its protocol leaves it.
auto stageFor(const PlotContent& c, const Analysis* a, DatasetId id) {
    return c.evaluator->protocol(c.project, id)
        .at(a ? inputOf(*a, id).point : CurvePoint{CurvePoint::Place::End});
}

// The pieces as far as there are points; without any the whole as one.
std::vector<std::pair<double, double>> shownPieces(const Span& span, const Curve& points) {
    auto pieces = span.pieces;
    if (pieces.empty()) pieces = {{-INFINITY, INFINITY}};
    if (points.size() > 0)
        for (auto& [low, high] : pieces)
            low = std::max(low, points.x.front()), high = std::min(high, points.x.back());
    for (auto& [low, high] : pieces) // a piece beyond the points cannot be shown, but keeps its place
        if (!(low < high)) low = high = std::nan("");
    return pieces;
}

// How many points of the dataset count, and how many of the span are left out.
std::string pointsText(const Curve& points, const Span& span) {
    long long used = 0, left = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (!span.takes(points.x[i])) continue;
        used += points.counts(i);
        left += points.isExcluded(i);
    }
    return fmt::format("{}   {}{}", analyses::spanText(span), counted(used, "point"),
                       left > 0 ? fmt::format(", {} left out", left) : "");
}

void addHandles(PlotContent& c, const Analysis& a) {
    const auto outcome = c.evaluator->analysis(c.project, a, {.effort = c.effort});
    if (!outcome.exists()) return;
    if (const analyses::PeaksDetail* peaks = analyses::peaksDetail(*outcome))
        c.handles = peakHandles(*peaks, c.strongPeak);
    else if (const analyses::AreasDetail* areas = analyses::areasDetail(*outcome))
        c.handles = areaHandles(*areas, c.strongPeak);
    else
        return;
    c.handledAnalysis = a.id;
    c.handledResult = *outcome.result;
}

// What is known only once it is computed: slices of a surface in place of its curve, and points that a
// robust loss hardly counts.
void addFound(PlotContent& c, const Analysis& a, const Dataset& d) {
    // A content is prepared again when the plot changes its size.
    c.found.clear();
    if (a.kind == "fit")
        std::erase_if(c.marks, [](const Element& m) { return !m.settings.text("role").empty(); });
    const analyses::AnalysisKind* kind = analyses::kindOf(a);
    if (a.kind != "fit" && !isOfScattering(a) && !(kind && kind->givesQuantiles)) return;
    if (isOfScattering(a)) c.found.emplace_back("decades", "");
    const auto outcome = c.evaluator->analysis(c.project, a, {.effort = c.effort});
    if (!outcome.exists()) return;
    const Value member = Value(Reference{d.id.text()});
    const QColor colour(text(shownColour(d.colour)));
    bool sliced = false;
    int number = 0;
    for (const analyses::NamedCurve& curve : outcome->curves) {
        if (curve.member != d.id) continue;
        if (curve.role == "residuals-over" || curve.role == "profile" || curve.role == "quantiles")
            c.found.emplace_back(curve.role, curve.label);
        if (curve.role == "distribution" || curve.role == "distances" || curve.role == "straight")
            c.found.emplace_back(curve.role, curve.label);
        // What the curve would be without an ingredient: left away while something is dragged.
        if (curve.role == "without" && c.effort == evaluate::Effort::Full)
            c.marks.push_back(mark("curve", a.id.text(),
                                   {{"width", 0.9},
                                    {"dash", "dotted"},
                                    {"colour", tint(theme().ink, number++)},
                                    {"role", "without"},
                                    {"named", Value(curve.label)},
                                    {"component", Value(static_cast<double>(curve.component))},
                                    {"label", Value(curve.label)},
                                    {"member", member}}));
        if (curve.role == "slice") {
            sliced = true;
            c.marks.push_back(mark("curve", a.id.text(),
                                   {{"width", 1.4},
                                    {"colour", tint(colour, number++)},
                                    {"role", "slice"},
                                    {"named", Value(curve.label)},
                                    {"member", member}}));
        }
        if (curve.role == "apart")
            c.marks.push_back(mark("curve", a.id.text(),
                                   {{"width", 1.0},
                                    {"dash", "dashed"},
                                    {"colour", str(theme().ink)},
                                    {"role", "apart"},
                                    {"label", Value(curve.label)},
                                    {"member", member}}));
        const bool less = curve.role == "lessened", hardly = curve.role == "disregarded";
        if ((less || hardly) && curve.points->size() > 0)
            c.marks.push_back(mark("residuals", a.id.text(),
                                   {{"size", 8.0},
                                    {"symbol", hardly ? "cross" : "circle"},
                                    {"fill", "open"},
                                    {"colour", str(theme().warning)},
                                    {"role", Value(curve.role)},
                                    {"label", Value(curve.label)},
                                    {"member", member}}));
    }
    if (sliced)
        std::erase_if(c.marks, [&](const Element& m) {
            return m.kind == "curve" && m.source == a.id.text() && m.settings.text("role").empty();
        });
}

} // namespace

// What there is to choose from below has been found while the plot was prepared: then it is offered.
void WorkStage::takeFound() {
    Found found;
    for (const auto& [role, label] : plot_->content().found) {
        if (role == "residuals-over") found.overs.push_back(label);
        if (role == "profile") found.profiles.push_back(label);
        if (role == "quantiles") found.quantiles.push_back(label);
        if (role == "distribution" || role == "distances") found.sizes.push_back(label);
        if (role == "straight") found.straight = true;
        if (role == "decades") found.decades = true;
    }
    if (found == found_) return;
    found_ = std::move(found);
    showDecades();
    refresh();
}

// Residuals over x or another predictor, or the profile of a quantity.
void WorkStage::fillBelow(const Analysis& fit, DatasetId dataset, PlotContent& strip) {
    const Below shown = belowShown();
    if (shown == Below::Profile) return fillProfile(fit, dataset, strip);
    if (shown == Below::Sizes) return fillSizes(fit, dataset, strip);
    const std::string chosen = which_->currentData().toString().toStdString();
    const auto d = document_.project().datasets.find(dataset);
    strip.marks = {stripMark("residuals", fit, dataset,
                             {{"size", 3.0}, {"colour", str(QColor(text(shownColour(d->colour))))}})};
    if (chosen == analyses::kInSigma) {
        strip.yName = tr("residual/σ").toStdString();
        strip.bareY = true;
        strip.marks[0].settings.set("role", "residuals-over");
        strip.marks[0].settings.set("named", Value(chosen));
    } else if (std::ranges::find(found_.overs, chosen) != found_.overs.end()) {
        giveOwnX(strip);
        const bool sizes = chosen.ends_with("as sizes"),
                   standard = chosen == "normal quantile" || chosen == "leverage";
        strip.yName = (sizes      ? tr("√|standardised|")
                       : standard ? tr("standardised")
                                  : tr("residual"))
                          .toStdString();
        strip.bareY = sizes || standard;
        strip.marks[0].settings.set("role", "residuals-over");
        strip.marks[0].settings.set("named", Value(chosen));
    }
}

void WorkStage::fillProfile(const Analysis& fit, DatasetId dataset, PlotContent& strip) {
    giveOwnX(strip);
    strip.emptyText = tr("The profile of a parameter appears here once the fit’s intervals are “profile” "
                         "(under details).")
                          .toStdString();
    if (found_.profiles.empty()) return;
    const auto at = std::ranges::find(found_.profiles, which_->currentData().toString().toStdString());
    const Value named = Value(at == found_.profiles.end() ? found_.profiles.front() : *at);
    const auto d = document_.project().datasets.find(dataset);
    strip.marks = {stripMark("curve", fit, dataset,
                             {{"role", "profile"},
                              {"named", named},
                              {"width", 1.6},
                              {"colour", str(QColor(text(shownColour(d->colour))))}}),
                   stripMark("curve", fit, dataset,
                             {{"role", "profile-level"},
                              {"named", named},
                              {"width", 0.9},
                              {"dash", "dashed"},
                              {"colour", str(theme().copper)}})};
    strip.yName = tr("rise / s²").toStdString();
    strip.caption = tr("rise of the residual sum with all others fitted again; the interval ends at the line")
                        .toStdString();
    strip.bareY = true;
}

// Values over the quantiles of the normal distribution, and the line on which they would lie, were they
// normal.
void WorkStage::fillQuantiles(const Analysis& analysis, DatasetId dataset, PlotContent& strip) {
    giveOwnX(strip);
    strip.emptyText = tr("Quantiles appear here once there are three values that differ.").toStdString();
    if (found_.quantiles.empty()) return;
    const auto at = std::ranges::find(found_.quantiles, which_->currentData().toString().toStdString());
    const std::string named = at == found_.quantiles.end() ? found_.quantiles.front() : *at;
    const auto d = document_.project().datasets.find(dataset);
    strip.marks = {stripMark("curve", analysis, dataset,
                             {{"role", "quantile-line"},
                              {"named", Value(named)},
                              {"width", 0.9},
                              {"dash", "dashed"},
                              {"colour", str(theme().copper)}}),
                   stripMark("residuals", analysis, dataset,
                             {{"role", "quantiles"},
                              {"named", Value(named)},
                              {"size", 3.5},
                              {"colour", str(QColor(text(shownColour(d->colour))))}})};
    strip.bareY = true;
    strip.prepare = [id = dataset, a = analysis, named](PlotContent& c) {
        const auto outcome = c.evaluator->analysis(c.project, a, {.effort = c.effort});
        const analyses::NamedCurve* curve =
            outcome.exists() ? outcome->curve("quantiles", id, named) : nullptr;
        c.caption = "quantiles of the normal distribution";
        if (curve && !curve->says.empty()) c.caption += " · " + curve->says;
    };
}

void WorkStage::offerStripChoices() {
    std::vector<std::pair<QString, QString>> wanted;
    const Below shown = belowShown();
    const auto offer = [&](const std::vector<std::string>& names) {
        for (const std::string& name : names) wanted.emplace_back(text(name), text(name));
    };
    if (shown == Below::Profile)
        offer(found_.profiles);
    else if (shown == Below::Quantiles)
        offer(found_.quantiles);
    else if (shown == Below::Sizes)
        offer(found_.sizes);
    else if (shown == Below::Residuals && !found_.overs.empty()) {
        const bool inSigma = std::ranges::find(found_.overs, analyses::kInSigma) != found_.overs.end();
        if (inSigma) wanted.emplace_back(tr("in σ"), QString(analyses::kInSigma));
        wanted.emplace_back(tr("over x"), QString());
        for (const std::string& over : found_.overs)
            if (over != analyses::kInSigma) wanted.emplace_back(tr("over %1").arg(text(over)), text(over));
    }
    which_->setVisible(wanted.size() > 1);
    bool same = which_->count() == static_cast<int>(wanted.size());
    for (int k = 0; same && k < which_->count(); ++k)
        same = which_->itemData(k).toString() == wanted[static_cast<std::size_t>(k)].second;
    if (same) return;
    which_->clear();
    for (const auto& [words, key] : wanted) which_->addItem(words, key);
}

void WorkStage::fillForAnalyses(const Dataset& d, PlotContent& main, PlotContent& strip) {
    const auto a = document_.project().analyses.find(document_.analysis());
    main.marks = mainMarks(document_.project(), d, a.get(), document_.peak(), stressed_);
    main.strongPeak = document_.peak();
    main.legendWhere = "best";
    main.logX = document_.logX;
    main.logY = document_.logY;
    strip.logX = document_.logX;
    offerStripChoices();
    const bool fits = a && isFitted(*a);
    const bool quantiles = a && belowShown() == Below::Quantiles;
    if (quantiles)
        fillQuantiles(*a, d.id, strip);
    else if (a && belowShown() == Below::Straight)
        fillStraight(*a, d.id, strip);
    else if (fits)
        fillBelow(*a, d.id, strip);
    std::optional<std::uint32_t> without; // of this fit, as long as it is open
    if (without_ && without_->fit == document_.analysis() && without_->dataset == d.id)
        without = without_->row;
    else
        without_.reset();
    main.prepare = [id = d.id, a, without, project = document_.project(), waiting = document_.spanToTake(),
                    ink = str(theme().ink)](PlotContent& c) {
        const auto stage = stageFor(c, a.get(), id);
        const Curve& given = stage.curve();
        chooseRange(c, given);
        chooseSizes(c, given.size());
        if (a && a->inputs.size() == 1 && given.size() > kCrowd) standOut(c, ink);
        if (!a && waiting) c.spans = {*waiting};
        if (!a) return;
        if (a->inputs.size() > 1) c.yName = given.yMeaning.name; // not that of the first that is drawn
        if (const auto dataset = c.project.datasets.find(id)) {
            addFound(c, *a, *dataset);
            if (dataset->source.kind == "groups") addBrackets(c, *a, *dataset);
        }
        if (a->kind == "peaks" || a->kind == "areas") addHandles(c, *a);
        c.caption.clear();
        const bool ofSpan = ownsSpan(*a) && given.xMeaning.categories.empty();
        const AnalysisInput input = inputOf(*a, id);
        if (ofSpan) c.spans = shownPieces(input.span, given);
        c.outsideSpans = input.span.outside;
        c.spanText = pointsText(given, input.span);
        if (without) addWithout(c, project, *a, id, *without);
    };
    if (belowShown() != Below::Residuals) return;
    const std::string chosen = which_->currentData().toString().toStdString();
    const std::string over = strip.ownX || chosen == analyses::kInSigma ? chosen : std::string();
    if (over.empty()) strip.yName = tr("residual").toStdString();
    strip.emptyText = tr("Residuals appear here once something is fitted.").toStdString();
    strip.probedName = tr("residual").toStdString();
    strip.prepare = [id = d.id, a, fits, over](PlotContent& c) {
        if (fits) takeResiduals(c, *a, id, over);
        if (c.ownX) return;
        const auto stage = stageFor(c, a.get(), id);
        const Curve& given = stage.curve();
        chooseRange(c, given);
        chooseSizes(c, given.size());
    };
}

} // namespace jointer::app
