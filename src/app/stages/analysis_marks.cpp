// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/analysis_marks.h"

#include "app/panes/fit_names.h"
#include "app/stages/answer_marks.h"
#include "app/stages/plot_marks.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "models/catalogue.h"

#include <QColor>
#include <algorithm>

namespace jointer::app {

bool isFitted(const Analysis& a) {
    const analyses::AnalysisKind* kind = analyses::kindOf(a);
    return kind && kind->givesCurve;
}

AnalysisInput inputOf(const Analysis& a, DatasetId dataset) {
    const auto at = std::ranges::find(a.inputs, dataset, &AnalysisInput::dataset);
    return at == a.inputs.end() ? AnalysisInput{} : *at;
}

Value tint(const QColor& colour, int number) {
    const QColor ground = theme().panel;
    const double share = std::min(0.75, 0.3 + 0.12 * number);
    auto mix = [&](int a, int b) { return static_cast<int>(a + share * (b - a)); };
    return str(QColor(mix(colour.red(), ground.red()), mix(colour.green(), ground.green()),
                      mix(colour.blue(), ground.blue())));
}

namespace {

constexpr std::size_t kMostMembers = 24; // of a joint fit drawn beside the current one

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
        if (other->id == open || !isFitted(*other) || other->kind == "peaks" || other->settings.flag("hold"))
            continue;
        marks.push_back(mark("curve", other->id.text(),
                             {{"width", 0.9},
                              {"colour", tint(colour, ++number)},
                              {"label", Value(nameBeside(project, *other, current))},
                              {"member", Value(Reference{current.text()})}}));
    }
}

// Beside the names of its parts those need not be said again.
std::string shortName(const Project& project, const Analysis& a, DatasetId dataset) {
    const models::CombinerKind* combiner = models::combiners().find(a.model.kind);
    return combiner && a.name.empty() ? combiner->info.name : nameBeside(project, a, dataset);
}

// Tints filled down to the baseline, the selected peak stronger.
void addPeaks(const Analysis& a, const QColor& colour, int peak, std::vector<Element>& marks) {
    marks.push_back(mark("components", a.id.text(),
                         {{"colour", str(colour)},
                          {"colours", "one"},
                          {"opacity", 0.16},
                          {"stressed", Value(static_cast<double>(peak))},
                          {"label", "-"}}));
    marks.push_back(mark("curve", a.id.text(),
                         {{"role", "baseline"},
                          {"width", 1.0},
                          {"dash", "dashed"},
                          {"colour", str(theme().copper)},
                          {"label", "-"}}));
}

} // namespace

void standOut(PlotContent& c, const Value& ink) {
    for (Element& m : c.marks)
        if (m.kind == "curve" && m.settings.has("band")) m.settings.set("colour", ink);
}

std::vector<Element> mainMarks(const Project& project, const Dataset& d, const Analysis* a, int peak,
                               const std::string& stressed) {
    if (d.source.kind == "groups") return groupMarks(d);
    const QColor colour(text(shownColour(d.colour)));
    std::vector<Element> marks;
    if (a) addMembers(project, *a, d.id, marks);
    marks.push_back(mark("points", d.id.text(),
                         {{"point", Value(a ? inputOf(*a, d.id).point.text() : std::string("end"))},
                          {"size", 3.0},
                          {"colour", str(colour)},
                          {"excluded", Value(true)},
                          {"label", "-"}}));
    const bool samples = a && readsSamples(*a);
    addOtherFits(project, d.id, samples ? a->analyses.front() : a ? a->id : AnalysisId{}, colour, marks);
    if (!a) return marks;
    if (samples) addReadings(*a, d, stressed, marks);
    addComponents(*a, d.id, colour, marks);
    if (a->kind == "peaks" || a->kind == "areas") addPeaks(*a, colour, peak, marks);
    if (isFitted(*a))
        marks.push_back(mark("curve", a->id.text(),
                             {{"width", 1.8},
                              {"colour", str(colour)},
                              {"label", Value(a->kind == "peaks"     ? std::string("-")
                                              : a->inputs.size() > 1 ? d.name
                                              : marks.size() > 1     ? shortName(project, *a, d.id)
                                                                     : std::string("-"))},
                              {"band", "confidence"},
                              {"member", Value(Reference{d.id.text()})}}));
    return marks;
}

} // namespace jointer::app
