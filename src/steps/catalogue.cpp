// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/columns.h"
#include "steps/kinds.h"
#include "steps/own_kinds.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

Catalogue<StepKind>& kinds() {
    static Catalogue<StepKind> all({excludeStep(),
                                    despikeStep(),
                                    cropStep(),
                                    sortStep(),
                                    resampleStep(),
                                    smoothStep(),
                                    baselineStep(),
                                    stripDoubletStep(),
                                    derivativeStep(),
                                    integralStep(),
                                    normaliseStep(),
                                    transformStep(),
                                    convertStep(),
                                    dilutionStep(),
                                    driftStep(),
                                    shiftStep(),
                                    scaleStep(),
                                    alignStep(),
                                    calibrateStep(),
                                    averageStep(),
                                    subtractStep(),
                                    divideStep(),
                                    multiplyStep(),
                                    joinPiecesStep(),
                                    scatteringBackgroundStep(),
                                    absoluteScaleStep()});
    return all;
}

} // namespace

const Catalogue<StepKind>& catalogue() {
    return kinds();
}

void addKind(StepKind kind) {
    kinds().add(std::move(kind));
}

std::string nameOf(std::string_view key) {
    const StepKind* kind = catalogue().find(key);
    return kind ? kind->info.name : std::string(key);
}

const Layer* StepOutput::layer(std::string_view role) const {
    const auto at = std::ranges::find(layers, role, &Layer::role);
    return at == layers.end() ? nullptr : &*at;
}

const OtherCurve* StepInput::other(std::string_view reference) const {
    const auto at = std::ranges::find(others, reference, &OtherCurve::reference);
    return reference.empty() || at == others.end() || !at->curve ? nullptr : &*at;
}

namespace {

std::vector<std::string> named(const KindInfo& kind, const Settings& settings, std::string_view of) {
    std::vector<std::string> all;
    for (const Setting& s : kind.settings) {
        const Value* value = s.of == of ? settings.find(s.key) : nullptr;
        if (!value) continue;
        if (const auto* one = std::get_if<Reference>(value); one && !one->to.empty()) all.push_back(one->to);
        if (const auto* several = std::get_if<References>(value))
            for (const Reference& r : *several)
                if (!r.to.empty()) all.push_back(r.to);
    }
    return all;
}

// What the uncertainties of the result are worth.
void judgeUncertainty(const Curve& before, Outcome<StepOutput>& out) {
    Curve& c = out.value.curve;
    auto none = [](const Curve& of) {
        return std::ranges::none_of(of.sigma, [](double s) { return std::isfinite(s); });
    };
    if (none(before) || c.size() == 0) return;
    const bool gone = none(c);
    if (!gone && !out.value.uncertaintyLost) return;
    c.sigmaCarried = false;
    out.issues.push_back({"uncertainty-lost",
                          gone ? "This step does not carry the uncertainties of the points along: after it "
                                 "they have none."
                               : "This step does not carry the uncertainties of the points along; those "
                                 "shown are of the points before it.",
                          {}});
}

// Where several intervals of x matter, each shows its ends: at the height of its points' mean.
void addSpanEnds(const KindInfo& kind, const StepInput& in, StepOutput& out) {
    std::vector<const Setting*> intervals;
    for (const Setting& s : kind.settings)
        if (s.kind == SettingKind::Interval && s.unit == "x" && isShown(kind, s, in.settings))
            intervals.push_back(&s);
    if (intervals.size() < 2) return;
    for (const Setting* s : intervals) {
        const auto span = intervalOf(kind, in.settings, s->key);
        if (!span || !std::isfinite(span->first) || !std::isfinite(span->second)) continue;
        const SpanNumbers numbers = numbersOfSpan(in.curve, span->first, span->second);
        const double height =
            numbers.n > 0 ? numbers.mean : in.curve.y[nearestPoint(in.curve.x, span->first)];
        for (std::size_t end : {0, 1})
            out.handles.push_back(
                {.form = HandleForm::SpanEnd,
                 .x = end == 0 ? span->first : span->second,
                 .y = std::isfinite(height) ? height : 0,
                 .setting = s->key,
                 .index = end,
                 .says = s->label + " " + spanText(in.curve.xMeaning, span->first, span->second)});
    }
}

} // namespace

std::vector<std::string> datasetsNamed(const KindInfo& kind, const Settings& settings) {
    return named(kind, settings, "dataset");
}
std::vector<std::string> columnsNamed(const KindInfo& kind, const Settings& settings) {
    return named(kind, settings, "column");
}

Outcome<StepOutput> apply(std::string_view key, const StepInput& input) {
    const StepKind* kind = catalogue().find(key);
    if (!kind)
        return {
            {.curve = input.curve, .sentence = "Unknown step “" + std::string(key) + "”: nothing was done."},
            {{"unknown-step",
              "This step comes from a newer version of Jointer; it is kept but not applied.",
              {}}}};
    Outcome<StepOutput> out;
    if (input.curve.size() == 0)
        out.value = {.curve = input.curve, .sentence = kind->info.name + ": the curve has no points."};
    else
        out = kind->apply(input);
    if (input.stop.stop_requested()) // what was half done is no result
        out = {{.curve = input.curve, .sentence = kind->info.name + ": stopped."},
               {{"stopped", "Stopped before it was done; change a setting to begin again.", {}}}};
    judgeUncertainty(input.curve, out);
    if (input.curve.size() > 0) addSpanEnds(kind->info, input, out.value);
    if (auto good = validate(kind->info, input.settings); !good) out.issues.push_back(good.error());
    return out;
}

Outcome<StepOutput> apply(std::string_view key, const Curve& curve, const Settings& settings) {
    const DatasetFacts none;
    return apply(key, {.curve = curve, .settings = settings, .facts = none, .others = {}});
}

} // namespace jointer::steps
