// SPDX-License-Identifier: GPL-3.0-or-later
// What the plots of Analyse show: the points, the open analysis strong with its parts and members, the others
// of the dataset thin, residuals below. Knows no kind of analysis.
#include "analyses/fit_analysis.h"
#include "app/stages/plot_marks.h"
#include "app/stages/shown_curves.h"
#include "app/stages/work_stage.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"

#include <fmt/format.h>

namespace jointer::app {

namespace {

constexpr std::size_t kMostMembers = 24; // of a joint fit drawn beside the current one

// What the runs test says of residuals, for the line above them.
std::string residualsCaption(const evaluate::AnalysisOutcome& outcome) {
    const analyses::FitDetail* fit = outcome.exists() ? analyses::fitDetail(*outcome) : nullptr;
    if (!fit || fit->report.provisional || fit->report.n < 10) return "residuals";
    const double p = fit->report.runsP;
    return fmt::format("residuals · {} (runs test p {})",
                       p < 0.01   ? "they follow a pattern"
                       : p < 0.05 ? "perhaps a pattern"
                                  : "no pattern found",
                       p < 0.001 ? "< 0.001" : fmt::format("= {:.2g}", p));
}

// A colour thinned towards the ground, the more the larger the number.
Value tint(const QColor& colour, int number) {
    const QColor ground = theme().panel;
    const double share = std::min(0.75, 0.3 + 0.12 * number);
    auto mix = [&](int a, int b) { return static_cast<int>(a + share * (b - a)); };
    return str(QColor(mix(colour.red(), ground.red()), mix(colour.green(), ground.green()),
                      mix(colour.blue(), ground.blue())));
}

AnalysisInput inputOf(const Analysis& a, DatasetId dataset) {
    const auto at = std::ranges::find(a.inputs, dataset, &AnalysisInput::dataset);
    return at == a.inputs.end() ? AnalysisInput{} : *at;
}

// The other datasets that the analysis takes: their points small and their curves thin.
void addMembers(const Project& project, const Analysis& a, DatasetId current, std::vector<Element>& marks) {
    std::size_t drawn = 0;
    for (const AnalysisInput& in : a.inputs) {
        const auto other = project.datasets.find(in.dataset);
        if (!other || in.dataset == current || ++drawn > kMostMembers) continue;
        const Value colour = str(QColor(text(shownColour(other->colour))));
        marks.push_back(mark("points", in.dataset.text(),
                             {{"point", Value(in.point.text())},
                              {"size", 2.0},
                              {"colour", colour},
                              {"errors", Value(false)},
                              {"label", "-"}}));
        marks.push_back(mark("curve", a.id.text(),
                             {{"width", 0.9},
                              {"colour", colour},
                              {"label", Value(other->name)},
                              {"member", Value(Reference{in.dataset.text()})}}));
    }
}

// Its parts, each a tint.
void addComponents(const Analysis& a, DatasetId current, const QColor& colour, std::vector<Element>& marks) {
    int number = 0;
    for (const ModelNode& part : a.model.children)
        marks.push_back(mark("curve", a.id.text(),
                             {{"width", 1.0},
                              {"colour", tint(colour, ++number)},
                              {"component", Value(static_cast<double>(part.component))},
                              {"member", Value(Reference{current.text()})}}));
}

// Further fits of the dataset, thin, named at their ends.
void addOtherFits(const Project& project, DatasetId current, AnalysisId open, const QColor& colour,
                  std::vector<Element>& marks) {
    int number = 0;
    for (const auto& other : analysesOf(project, current)) {
        if (other->id == open || other->kind != "fit" || other->settings.flag("hold")) continue;
        marks.push_back(mark("curve", other->id.text(),
                             {{"width", 0.9},
                              {"colour", tint(colour, ++number)},
                              {"label", Value(analyses::nameOf(*other))},
                              {"member", Value(Reference{current.text()})}}));
    }
}

std::vector<Element> mainMarks(const Project& project, const Dataset& d, const Analysis* a) {
    const QColor colour(text(shownColour(d.colour)));
    std::vector<Element> marks;
    if (a) addMembers(project, *a, d.id, marks);
    marks.push_back(mark("points", d.id.text(),
                         {{"point", Value(a ? inputOf(*a, d.id).point.text() : std::string("end"))},
                          {"size", 3.0},
                          {"colour", str(colour)},
                          {"excluded", Value(true)},
                          {"label", "-"}}));
    addOtherFits(project, d.id, a ? a->id : AnalysisId{}, colour, marks);
    if (!a) return marks;
    addComponents(*a, d.id, colour, marks);
    if (a->kind == "fit")
        marks.push_back(mark("curve", a->id.text(),
                             {{"width", 1.8},
                              {"colour", str(colour)},
                              {"label", Value(a->inputs.size() > 1 ? d.name
                                              : marks.size() > 1   ? analyses::nameOf(*a)
                                                                   : std::string("-"))},
                              {"band", "confidence"},
                              {"member", Value(Reference{d.id.text()})}}));
    return marks;
}

// How many points of the dataset count, and how many of the span are left out.
std::string pointsText(const Curve& points, const Span& span, std::pair<double, double> shown) {
    long long used = 0, left = 0;
    for (std::size_t i = 0; i < points.size(); ++i) {
        if (!span.takes(points.x[i])) continue;
        used += points.counts(i);
        left += points.isExcluded(i);
    }
    return fmt::format("span {} … {}   {}{}", readableNumber(shown.first, 5), readableNumber(shown.second, 5),
                       counted(used, "point"), left > 0 ? fmt::format(", {} left out", left) : "");
}

} // namespace

void WorkStage::fillForAnalyses(const Dataset& d, PlotContent& main, PlotContent& strip) {
    const auto a = document_.project().analyses.find(document_.analysis());
    main.marks = mainMarks(document_.project(), d, a.get());
    if (a && a->kind == "fit")
        strip.marks = {mark("residuals", a->id.text(),
                            {{"size", 3.0},
                             {"colour", str(QColor(text(shownColour(d.colour))))},
                             {"label", "-"},
                             {"member", Value(Reference{d.id.text()})}})};
    main.prepare = [id = d.id, a](PlotContent& c) {
        const auto protocol = c.evaluator->protocol(c.project, id);
        const Curve& measured = protocol.stages.front().curve();
        chooseRange(c, measured);
        chooseSizes(c, measured.size());
        if (!a) return;
        const AnalysisInput input = inputOf(*a, id);
        std::pair<double, double> span = {input.span.low(), input.span.high()};
        if (measured.size() > 0)
            span = {std::max(span.first, measured.x.front()), std::min(span.second, measured.x.back())};
        if (span.first < span.second) c.span = span;
        c.spanText = pointsText(protocol.at(input.point).curve(), input.span, span);
    };
    strip.yName = tr("residual").toStdString();
    strip.emptyText = tr("Residuals appear here once something is fitted.").toStdString();
    strip.prepare = [id = d.id, a](PlotContent& c) {
        const auto protocol = c.evaluator->protocol(c.project, id);
        const Curve& measured = protocol.stages.front().curve();
        chooseRange(c, measured);
        chooseSizes(c, measured.size());
        if (a && a->kind == "fit")
            c.caption = residualsCaption(c.evaluator->analysis(c.project, *a, {.effort = c.effort}));
    };
}

} // namespace jointer::app
