// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/kinds.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

const Catalogue<StepKind>& catalogue() {
    static const Catalogue<StepKind> all(
        {excludeStep(),   despikeStep(),   cropStep(),         sortStep(),       resampleStep(),
         smoothStep(),    baselineStep(),  stripDoubletStep(), derivativeStep(), integralStep(),
         normaliseStep(), transformStep(), convertStep(),      dilutionStep(),   driftStep(),
         shiftStep(),     scaleStep(),     alignStep(),        calibrateStep(),  averageStep(),
         subtractStep(),  divideStep(),    multiplyStep(),     joinPiecesStep()});
    return all;
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
    if (out.value.uncertainty != Carried::Lost || before.sigma.empty() || c.sigma.empty()) return;
    c.sigmaCarried = false;
    out.issues.push_back(
        {"uncertainty-lost",
         "This step does not carry the uncertainties of the points along; those shown are of the "
         "points before it.",
         {}});
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
    if (auto good = validate(kind->info, input.settings); !good) out.issues.push_back(good.error());
    return out;
}

Outcome<StepOutput> apply(std::string_view key, const Curve& curve, const Settings& settings) {
    const DatasetFacts none;
    return apply(key, {.curve = curve, .settings = settings, .facts = none, .others = {}});
}

} // namespace jointer::steps
