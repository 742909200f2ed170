// SPDX-License-Identifier: GPL-3.0-or-later
// What the plots of Clean show: marks, ranges, handles and captions of steps.
#include "app/stages/work_stage.h"

#include "app/stages/plot_marks.h"
#include "app/stages/shown_curves.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "data/column.h"
#include "figure/kinds.h"
#include "steps/spectrum.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::app {

namespace {

// The numbers of a span, for the readout and for the clipboard.
struct SpanWords {
    std::string line, table;
};
SpanWords wordsOf(const Curve& c, std::pair<double, double> span) {
    const SpanNumbers found = numbersOfSpan(c, span.first, span.second);
    if (found.n == 0) return {};
    const AxisMeaning& x = c.xMeaning;
    auto place = [&](double v) { return x.isTime ? isoDateTime(v) : readableNumber(v, 5); };
    auto number = [](double v) { return std::isfinite(v) ? readableNumber(v, 4) : std::string("–"); };
    auto yAt = [&](double at) { return c.y[nearestPoint(c.x, at)]; };
    const double dy = yAt(span.second) - yAt(span.first);
    const std::pair<const char*, double> all[] = {{"from", span.first},
                                                  {"to", span.second},
                                                  {"points", static_cast<double>(found.n)},
                                                  {"mean", found.mean},
                                                  {"SD", found.sd},
                                                  {"area", found.area},
                                                  {"area above chord", found.areaAboveChord},
                                                  {"centroid", found.centroid},
                                                  {"maximum", found.maximum},
                                                  {"at", found.at},
                                                  {"FWHM", found.fwhm}};
    SpanWords words;
    std::string names, values;
    for (const auto& [name, value] : all) {
        names += (names.empty() ? "" : "\t") + std::string(name);
        const bool time =
            x.isTime && (value == span.first || value == span.second || name == std::string_view("at"));
        values += (values.empty() ? "" : "\t") + (time                   ? isoDateTime(value)
                                                  : std::isfinite(value) ? shortestNumber(value)
                                                                         : "");
    }
    words.table = names + "\n" + values + "\n";
    words.line =
        fmt::format("span {} … {}  Δx {}  Δy {}  {}  mean {} ± {}  area {} ({} above chord)  centroid {}  "
                    "maximum {} at {}  FWHM {}",
                    place(span.first), place(span.second), number(span.second - span.first), number(dy),
                    counted(static_cast<long long>(found.n), "point"), number(found.mean), number(found.sd),
                    number(found.area), number(found.areaAboveChord), number(found.centroid),
                    number(found.maximum), place(found.at), number(found.fwhm));
    return words;
}

constexpr std::size_t kMostSymbols = 1500; // of a curve; beyond, symbols only blacken it
constexpr std::size_t kMostOthers = 24;    // selected datasets drawn beside the current one

// Of a step that takes nothing away and makes another quantity of the curve: what the main plot does not
// show.
void showOther(PlotContent& c, const evaluate::ProtocolResult& p, const Shown& shown, const std::string& id,
               const Value& quiet, const Value& strong) {
    chooseRange(c, p.stages[shown.strong].curve());
    if (shown.step == 0) return;
    c.emptyText = "This step takes nothing away.";
    const std::size_t other = shown.strong == shown.step ? shown.step - 1 : shown.step;
    const Curve &there = p.stages[other].curve(), &main = p.stages[shown.strong].curve();
    if (goWellTogether(there, main)) return;
    const bool after = other == shown.step;
    c.bareY = true; // the axis is too short for more than the name
    c.caption = after ? "after this step" : "before this step";
    c.marks = {mark("line", id,
                    {{"point", Value(pointOf(p, other).text())},
                     {"colour", after ? strong : quiet},
                     {"width", after ? 1.2 : 0.8},
                     {"label", "-"}})};
    if (sameAxes(there.xMeaning, main.xMeaning)) return;
    c.xRange.reset();
    c.ownX = c.showXTitle = true;
    chooseRange(c, there);
}

// Of a step: what it took away, the curve before and after it, or the frequencies of both.
void fillStrip(PlotContent& c, const evaluate::ProtocolResult& p, const Shown& shown, WorkStage::Strip what,
               const std::string& id, const Value& quiet, const Value& strong) {
    c.marks.clear();
    const std::size_t last = shown.step, before = last > 0 ? last - 1 : 0;
    const steps::StepOutput& output = *p.stages[last].output;
    if (what == WorkStage::Strip::Taken) {
        const steps::Layer* taken = last > 0 ? output.layer("taken") : nullptr;
        const steps::Layer* line = last > 0 ? output.layer("baseline") : nullptr;
        const bool any = taken && !taken->x.empty();
        if (!any && !line) return showOther(c, p, shown, id, quiet, strong);
        chooseRange(c, p.stages[shown.strong].curve());
        c.yName = "taken away";
        c.bareY = true;
        c.marks = {mark(any ? "taken" : "baseline", id,
                        {{"colour", quiet}, {"width", 0.8}, {"step", Value(p.stages[last].step.text())}})};
        return;
    }
    const bool frequencies = what == WorkStage::Strip::Frequencies;
    const char* kind = frequencies ? "spectrum" : "line";
    auto add = [&](std::size_t stage, const Value& colour, double width) {
        c.marks.push_back(mark(kind, id,
                               {{"point", Value(pointOf(p, stage).text())},
                                {"colour", colour},
                                {"width", Value(width)},
                                {"label", "-"}}));
    };
    const Curve &first = p.stages[before].curve(), &now = p.stages[last].curve();
    if (last > 0 && (goWellTogether(first, now) || frequencies)) add(before, quiet, 0.7);
    add(last, strong, 1.2);
    if (!frequencies) return chooseRange(c, now);
    c.xRange.reset();
    c.showXTitle = true;
    c.logY = true;
    c.cutoffUnit = steps::stepOfSpectrum(first);
    if (output.cutoff) c.cutoff = *output.cutoff / c.cutoffUnit;
}

// The corner in which the curve leaves room for the legend: the usual one unless much of the curve is there.
const char* freeCorner(const Curve& c, std::pair<double, double> shown) {
    constexpr const char* kCorners[] = {"top-left", "top-right", "bottom-left", "bottom-right"};
    double low = INFINITY, high = -INFINITY;
    auto counts = [&](std::size_t i) {
        return c.counts(i) && c.x[i] >= shown.first && c.x[i] <= shown.second;
    };
    for (std::size_t i = 0; i < c.size(); ++i)
        if (counts(i)) low = std::min(low, c.y[i]), high = std::max(high, c.y[i]);
    std::size_t points[4] = {}, all = 0;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!counts(i)) continue;
        ++all;
        const double x = (c.x[i] - shown.first) / (shown.second - shown.first),
                     y = (c.y[i] - low) / std::max(high - low, 1e-300);
        if (x > 0.35 && x < 0.65) continue;
        if (y > 0.8) ++points[x > 0.5 ? 1 : 0];
        if (y < 0.2) ++points[x > 0.5 ? 3 : 2];
    }
    if (points[0] * 25 <= all) return kCorners[0];
    return kCorners[std::ranges::min_element(points) - points];
}

// Where on the axes substituted points of the curve stand.
std::vector<AxisNote> notesOf(const evaluate::ProtocolResult& protocol, std::size_t strong) {
    std::vector<AxisNote> notes;
    const Curve& curve = protocol.stages[strong].curve();
    for (std::size_t i = 1; i <= strong; ++i) {
        if (!protocol.stages[i].on) continue;
        for (const steps::Substitution& put : protocol.stages[i].output->substitutions) {
            const auto at = std::ranges::find(curve.rowIds, put.rows.front());
            if (at == curve.rowIds.end()) continue;
            const auto point = static_cast<std::size_t>(at - curve.rowIds.begin());
            notes.push_back({put.ofY, put.ofY ? curve.y[point] : curve.x[point], put.says});
        }
    }
    return notes;
}

// The other selected datasets at the same place of their protocols, thin in their own colours, where they
// have the same axes.
void addOthers(PlotContent& c, const Dataset& current, const evaluate::ProtocolResult& protocol,
               std::size_t stage, const std::vector<DatasetId>& others) {
    const Curve& strong = protocol.stages[stage].curve();
    for (DatasetId id : others) {
        const auto other = c.project.datasets.find(id);
        if (!other) continue;
        const auto theirs = c.evaluator->protocol(c.project, id);
        const auto at = counterpartStage(current, stage, *other);
        if (!at) continue;
        const Curve& curve = theirs.stages[*at].curve();
        if (curve.xMeaning.unit != strong.xMeaning.unit || curve.xMeaning.isTime != strong.xMeaning.isTime ||
            curve.yMeaning.unit != strong.yMeaning.unit)
            continue;
        c.marks.push_back(mark("line", id.text(),
                               {{"point", Value(pointOf(theirs, *at).text())},
                                {"colour", Value(shownColour(other->colour))},
                                {"width", 0.8},
                                {"label", Value(other->name)}}));
    }
}

// The main plot of Clean: which stages of a protocol it shows, and in which inks.
struct StepScene {
    std::shared_ptr<const Dataset> dataset;
    std::vector<DatasetId> others; // selected with it
    std::optional<std::pair<double, double>> span;
    StepId open, seenStep;
    Document::Seen seen = Document::Seen::Natural;
    Value quiet, strong, copper;

    std::string id() const { return dataset->id.text(); }
    Shown chosenOf(const evaluate::ProtocolResult& p) const { return chosen(p, open, seen, seenStep); }
    void fill(PlotContent& c) const;

private:
    void addFaint(PlotContent& c, const evaluate::ProtocolResult& p, std::size_t stage, bool symbols) const;
    void addStrong(PlotContent& c, const Value& at, const std::string& name, const Value& ink,
                   bool isMeasured, bool symbols) const;
    void addBaseline(PlotContent& c, StepId step) const;
    void addMadeAndLeftOut(PlotContent& c, const Value& at) const;
};

void StepScene::addFaint(PlotContent& c, const evaluate::ProtocolResult& p, std::size_t stage,
                         bool symbols) const {
    c.marks.push_back(mark(symbols ? "points-line" : "line", id(),
                           {{"point", Value(pointOf(p, stage).text())},
                            {"size", 0.7},
                            {"width", 0.7},
                            {"colour", quiet},
                            {"errors", Value(false)},
                            {"label", Value(nameOfStage(*dataset, p, stage))},
                            {"fill", "filled"}}));
}

void StepScene::addStrong(PlotContent& c, const Value& at, const std::string& name, const Value& ink,
                          bool isMeasured, bool symbols) const {
    c.marks.push_back(mark(symbols ? "points-line" : "line", id(),
                           {{"point", at}, {"colour", ink}, {"label", Value(name)}}));
    Settings& look = c.marks.back().settings;
    look.set("width", Value(isMeasured ? 0.7 : 1.6));
    if (!symbols) return;
    look.set("size", Value(0.7));
    look.set("errors", Value(false));
    look.set("fill", "filled");
}

void StepScene::addBaseline(PlotContent& c, StepId step) const {
    c.marks.push_back(mark("baseline", id(),
                           {{"step", Value(step.text())},
                            {"colour", copper},
                            {"width", 1.0},
                            {"dash", "dashed"},
                            {"label", "baseline"}}));
}

void StepScene::addMadeAndLeftOut(PlotContent& c, const Value& at) const {
    for (const auto& [which, size, ink] :
         {std::tuple("made", 4.0, &strong), std::tuple("excluded", 4.5, &copper)})
        c.marks.push_back(mark("points", id(),
                               {{"point", at},
                                {"shown", which},
                                {"size", size},
                                {"colour", *ink},
                                {"errors", Value(false)},
                                {"excluded", Value(std::string_view(which) == "excluded")},
                                {"label", "-"},
                                {"fill", "open"}}));
}

void StepScene::fill(PlotContent& c) const {
    const auto protocol = c.evaluator->protocol(c.project, dataset->id);
    const Shown shown = chosenOf(protocol);
    const evaluate::StepResult& opened = protocol.stages[shown.step];
    const Curve& curve = protocol.stages[shown.strong].curve();
    const Value at(pointOf(protocol, shown.strong).text());
    const std::string stage = nameOfStage(*dataset, protocol, shown.strong);
    c.marks.clear();
    addOthers(c, *dataset, protocol, shown.strong, others);
    const bool amongOthers = !c.marks.empty();
    const bool symbols = curve.size() <= kMostSymbols &&
                         (!shown.faint || protocol.stages[*shown.faint].curve().size() <= kMostSymbols);
    if (shown.faint) addFaint(c, protocol, *shown.faint, symbols);
    const bool isMeasured = shown.strong == 0;
    addStrong(c, at, amongOthers ? dataset->name + " · " + stage : stage,
              isMeasured && !amongOthers ? quiet : strong, isMeasured,
              symbols && (isMeasured || !shown.faint));
    const bool layers = shown.step > 0 && handlesFit(protocol, shown);
    if (layers && opened.output->layer("baseline")) addBaseline(c, opened.step);
    addMadeAndLeftOut(c, at);
    c.probedPoint = pointOf(protocol, shown.strong);
    chooseRange(c, curve);
    chooseSizes(c, curve.size());
    if (layers || (shown.step > 0 && shown.strong == shown.step && shown.faint)) {
        c.handledOutput = opened.output;
        c.handled = opened.step;
        c.handles = c.handledOutput->handles;
    }
    if (amongOthers) c.yName = curve.yMeaning.name;
    if (c.xRange) c.legendWhere = freeCorner(curve, *c.xRange);
    c.axisNotes = notesOf(protocol, shown.strong);
    if (!span) return;
    c.spans = {*span};
    SpanWords words = wordsOf(curve, *span);
    c.spanText = std::move(words.line);
    c.spanTable = std::move(words.table);
}

} // namespace

// The interval of the open step, where it has one (the ends of several are its handles); else what was
// dragged.
std::optional<std::pair<double, double>> WorkStage::spanOfSteps() const {
    if (const auto step = openStep())
        if (const auto keys = openIntervals(*step); keys.size() == 1)
            if (const Numbers set = step->settings.numbers(keys.front()); set.size() == 2)
                return std::pair(set[0], set[1]);
    return shownSpan_;
}

void WorkStage::fillForSteps(const Dataset& d, PlotContent& main, PlotContent& strip) {
    StepScene scene{.dataset = document_.currentDataset(),
                    .others = {},
                    .span = spanOfSteps(),
                    .open = document_.step(),
                    .seenStep = document_.seenStep(),
                    .seen = document_.seen(),
                    .quiet = str(theme().muted),
                    .strong = Value(shownColour(d.colour)),
                    .copper = str(theme().copper)};
    for (DatasetId other : document_.selection())
        if (other != d.id && scene.others.size() < kMostOthers) scene.others.push_back(other);
    main.prepare = [scene](PlotContent& c) { scene.fill(c); };
    main.marks = {mark("points-line", scene.id(), {{"label", "-"}})}; // something is to be drawn
    strip.marks = main.marks;
    strip.emptyText = tr("What a step takes away (noise, left-out points) appears here.").toStdString();
    strip.ownX = shownStrip_ == Strip::Frequencies;
    strip.prepare = [scene, what = shownStrip_](PlotContent& c) {
        const auto protocol = c.evaluator->protocol(c.project, scene.dataset->id);
        Shown shown = scene.chosenOf(protocol);
        if (shown.strong + 1 == protocol.stages.size() && !placeOf(protocol, scene.open))
            shown.step = lastThatTook(protocol);
        fillStrip(c, protocol, shown, what, scene.id(), scene.quiet, scene.strong);
    };
}

// The whole curve with the part that is shown.
void WorkStage::fillOverview(const Dataset& d) {
    PlotContent c{.project = document_.project(), .evaluator = document_.session().sharedEvaluator()};
    c.overview = true;
    c.legend = false;
    c.showXTitle = false;
    c.yName = "-";
    c.window = document_.xRange;
    c.marks = {mark("line", d.id.text(),
                    {{"point", "end"}, {"width", 0.8}, {"colour", str(theme().muted)}, {"label", "-"}})};
    overview_->show(std::move(c));
}

} // namespace jointer::app
