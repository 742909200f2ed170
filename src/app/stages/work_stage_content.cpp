// SPDX-License-Identifier: GPL-3.0-or-later
// What the plots of a work stage show: marks, ranges, handles and captions of steps and of analyses.
#include "app/stages/work_stage.h"
#include "app/theme/theme.h"
#include "app/widgets.h"
#include "base/text.h"
#include "figure/kinds.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::app {

namespace {

Element mark(const char* kind, const std::string& source,
             std::initializer_list<std::pair<const char*, Value>> settings) {
    Element e = figure::newMark(kind, source);
    for (const auto& [key, value] : settings) e.settings.set(key, value);
    return e;
}

Value str(const QColor& c) {
    return Value(c.name().toStdString());
}

// The numbers of a span for the readout.
std::string spanText(const Curve& c, std::pair<double, double> span) {
    const SpanNumbers found = numbersOfSpan(c, span.first, span.second);
    if (found.n == 0) return {};
    auto number = [](double v, int digits = 5) { return readableNumber(v, digits); };
    return fmt::format("span {} … {}   Δx {}   {}   area {}   maximum {} at {}", number(span.first),
                       number(span.second), number(span.second - span.first),
                       counted(static_cast<long long>(found.n), "point"), number(found.area, 4),
                       number(found.maximum, 4), number(found.at));
}

// Plot and strip share one range of x.
void chooseRange(PlotContent& c, const Curve& measured) {
    if (c.xRange || measured.size() < 2 || !(measured.x.back() > measured.x.front())) return;
    const double by = 0.02 * (measured.x.back() - measured.x.front());
    c.xRange = {measured.x.front() - by, measured.x.back() + by};
}

// Few points are drawn larger: there is room, and they are aimed at.
void chooseSizes(PlotContent& c, std::size_t points) {
    const std::size_t crowd = points <= 60 ? 0 : points <= 300 ? 1 : 2;
    constexpr double kAlone[] = {5, 4, 3}, kOnLine[] = {3.2, 1.6, 0.7};
    for (Element& m : c.marks)
        if (m.settings.has("size") && m.settings.text("shown") != "excluded")
            m.settings.set("size", Value((m.kind == "points-line" ? kOnLine : kAlone)[crowd]));
}

const Curve& measuredOf(const evaluate::ProtocolResult& protocol) {
    return protocol.stages.front().curve();
}

// Handles sit on the curve that the step takes in, unless they were placed freely.
std::vector<double> anchorHandles(const Step& baseline, const evaluate::ProtocolResult& protocol) {
    std::vector<double> anchors = baseline.settings.numbers("anchors");
    if (baseline.settings.text("place", "on-curve") != "on-curve") return anchors;
    for (const auto& stage : protocol.stages) {
        if (stage.step != baseline.id || !stage.output->baseline || stage.curve().size() == 0) continue;
        for (std::size_t i = 0; i + 1 < anchors.size(); i += 2)
            anchors[i + 1] = (*stage.output->baseline)[nearestPoint(stage.curve().x, anchors[i])];
    }
    return anchors;
}

// What the runs test says of residuals, for the line above them.
std::string residualsCaption(const evaluate::FitResult& fit) {
    if (!fit.good() || fit.report->provisional || fit.report->n < 10) return "residuals";
    const double p = fit.report->runsP;
    return fmt::format("residuals · {} (runs test p {})",
                       p < 0.01   ? "they follow a pattern"
                       : p < 0.05 ? "perhaps a pattern"
                                  : "no pattern found",
                       p < 0.001 ? "< 0.001" : fmt::format("= {:.2g}", p));
}

} // namespace

void WorkStage::fillForSteps(const Dataset& d, PlotContent& main, PlotContent& strip) {
    const std::string id = d.id.text();
    const Value quiet = str(theme().muted);
    main.marks = {
        mark("points-line", id,
             {{"point", "measured"},
              {"size", 0.7},
              {"width", 0.7},
              {"colour", quiet},
              {"errors", Value(false)},
              {"label", "measured"},
              {"fill", "filled"}}),
        mark("baseline", id,
             {{"colour", str(theme().copper)}, {"width", 1.0}, {"dash", "dashed"}, {"label", "baseline"}})};
    if (std::ranges::any_of(d.protocol, [](const Step& s) { return s.on; }))
        main.marks.push_back(mark(
            "line", id, {{"colour", Value(shownColour(d.colour))}, {"width", 1.6}, {"label", "result"}}));
    main.marks.push_back(mark("points", id,
                              {{"point", "end"},
                               {"shown", "excluded"},
                               {"size", 4.5},
                               {"colour", str(theme().copper)},
                               {"errors", Value(false)},
                               {"excluded", Value(true)},
                               {"label", "-"},
                               {"fill", "open"}}));
    const std::optional<Step> baseline = openBaseline();
    main.prepare = [id = d.id, baseline, span = shownSpan_](PlotContent& c) {
        const auto protocol = c.evaluator->protocol(c.project, id);
        chooseRange(c, measuredOf(protocol));
        chooseSizes(c, measuredOf(protocol).size());
        if (baseline) c.anchors = anchorHandles(*baseline, protocol);
        c.span = span;
        if (span) c.spanText = spanText(protocol.end().curve(), *span);
    };
    strip.marks = {
        mark("taken", id, {{"colour", quiet}, {"width", 0.8}, {"step", Value(document_.step().text())}})};
    strip.yName = tr("taken away").toStdString();
    strip.emptyText = tr("What a step takes away (noise, left-out points) appears here.").toStdString();
    strip.prepare = [id = d.id, step = document_.step()](PlotContent& c) {
        const auto protocol = c.evaluator->protocol(c.project, id);
        chooseRange(c, measuredOf(protocol));
        const bool anythingTaken = std::ranges::any_of(protocol.stages, [&](const auto& s) {
            return s.on && s.step && (!step || s.step == step) && !s.output->takenX.empty();
        });
        if (!anythingTaken) c.marks.clear();
    };
}

void WorkStage::fillForAnalyses(const Dataset& d, PlotContent& main, PlotContent& strip) {
    const auto a = document_.project().analyses.find(document_.analysis());
    main.marks = {
        mark("points", d.id.text(),
             {{"point", Value(a && !a->inputs.empty() ? a->inputs[0].point.text() : std::string("end"))},
              {"size", 3.0},
              {"colour", Value(shownColour(d.colour))},
              {"excluded", Value(true)},
              {"label", "-"}})};
    if (a) {
        main.marks.push_back(mark("curve", a->id.text(),
                                  {{"width", 1.8},
                                   {"colour", Value(shownColour(d.colour))},
                                   {"label", "-"},
                                   {"band", "confidence"}}));
        strip.marks = {mark("residuals", a->id.text(),
                            {{"size", 3.0}, {"colour", Value(shownColour(d.colour))}, {"label", "-"}})};
    }
    main.prepare = [id = d.id, a](PlotContent& c) {
        const auto protocol = c.evaluator->protocol(c.project, id);
        const Curve& measured = measuredOf(protocol);
        chooseRange(c, measured);
        chooseSizes(c, measured.size());
        if (!a) return;
        double low = a->inputs[0].low, high = a->inputs[0].high;
        if (measured.size() > 0)
            low = std::max(low, measured.x.front()), high = std::min(high, measured.x.back());
        if (low < high) c.span = {low, high};
        const auto fit = c.evaluator->fit(c.project, *a, {.effort = c.effort});
        if (!fit.points) return;
        const auto used = std::ranges::count(fit.used, 1);
        std::size_t left = 0;
        for (std::size_t i = 0; i < fit.points->size(); ++i)
            left += fit.points->isExcluded(i) && fit.points->x[i] >= low && fit.points->x[i] <= high;
        c.spanText = fmt::format("span {} … {}   {}{}", readableNumber(low, 5), readableNumber(high, 5),
                                 counted(used, "point"), left > 0 ? fmt::format(", {} left out", left) : "");
    };
    strip.yName = tr("residual").toStdString();
    strip.emptyText = tr("Residuals appear here once something is fitted.").toStdString();
    strip.prepare = [id = d.id, a](PlotContent& c) {
        const auto protocol = c.evaluator->protocol(c.project, id);
        chooseRange(c, measuredOf(protocol));
        chooseSizes(c, measuredOf(protocol).size());
        if (a) c.caption = residualsCaption(c.evaluator->fit(c.project, *a, {.effort = c.effort}));
    };
}

} // namespace jointer::app
