// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/shown_curves.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::app {

bool sameAxes(const AxisMeaning& a, const AxisMeaning& b) {
    return a.unit == b.unit && a.name == b.name && a.isTime == b.isTime;
}

namespace {

std::optional<std::pair<double, double>> heights(const Curve& c) {
    std::optional<std::pair<double, double>> range;
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (!c.counts(i)) continue;
        range = range ? std::pair(std::min(range->first, c.y[i]), std::max(range->second, c.y[i]))
                      : std::pair(c.y[i], c.y[i]);
    }
    return range;
}

} // namespace

bool goWellTogether(const Curve& a, const Curve& b) {
    if (!sameAxes(a.xMeaning, b.xMeaning) || a.yMeaning.unit != b.yMeaning.unit ||
        a.yMeaning.name != b.yMeaning.name)
        return false;
    const auto ra = heights(a), rb = heights(b);
    if (!ra || !rb) return true;
    const double both = std::max(ra->second, rb->second) - std::min(ra->first, rb->first);
    return both <= 40 * (ra->second - ra->first) && both <= 40 * (rb->second - rb->first);
}

std::size_t placeOf(const evaluate::ProtocolResult& p, StepId step) {
    for (std::size_t i = 1; i < p.stages.size(); ++i)
        if (step && p.stages[i].step == step && p.stages[i].on) return i;
    return 0;
}

Shown chosen(const evaluate::ProtocolResult& p, StepId open, Document::Seen seen, StepId seenStep) {
    using enum Document::Seen;
    const std::size_t end = p.stages.size() - 1, opened = placeOf(p, open), looked = placeOf(p, seenStep);
    auto wellBefore = [&](std::size_t from, std::size_t strong) -> std::optional<std::size_t> {
        for (std::size_t i = from; i < strong; ++i)
            if (goWellTogether(p.stages[i].curve(), p.stages[strong].curve())) return i;
        return std::nullopt;
    };
    if (seen == Measured) return {0, std::nullopt, 0};
    if (seen == Before && looked > 0) return {looked - 1, std::nullopt, looked};
    if (seen == After && looked > 0) return {looked, wellBefore(looked - 1, looked), looked};
    // Handles belong to what the step takes: where its result is another quantity, that is what is looked at.
    auto fits = [&](std::size_t step, std::size_t strong) {
        return goWellTogether(p.stages[step - 1].curve(), p.stages[strong].curve());
    };
    if (opened > 0 && !p.stages[opened].output->handles.empty() && !fits(opened, opened))
        return {opened - 1, std::nullopt, opened};
    if (opened > 0) return {opened, wellBefore(opened - 1, opened), opened};
    // At the end: the handles of the last step that has some which belong there.
    std::size_t last = 0;
    for (std::size_t i = 1; i <= end; ++i)
        if (p.stages[i].on && !p.stages[i].output->handles.empty() && fits(i, end)) last = i;
    return {end, wellBefore(0, end), last};
}

std::size_t lastThatTook(const evaluate::ProtocolResult& p) {
    std::size_t last = 0, took = 0;
    for (std::size_t i = 1; i < p.stages.size(); ++i) {
        if (!p.stages[i].on) continue;
        last = i;
        const steps::Layer* taken = p.stages[i].output->layer("taken");
        if (taken && !taken->x.empty()) took = i;
    }
    return took > 0 ? took : last;
}

CurvePoint pointOf(const evaluate::ProtocolResult& p, std::size_t stage) {
    if (stage == 0) return {CurvePoint::Place::Measured};
    return {CurvePoint::Place::AfterStep, p.stages[stage].step};
}

bool handlesFit(const evaluate::ProtocolResult& p, const Shown& shown) {
    return shown.step > 0 && goWellTogether(p.stages[shown.step - 1].curve(), p.stages[shown.strong].curve());
}

std::string nameOfStage(const Dataset& d, const evaluate::ProtocolResult& p, std::size_t stage) {
    if (stage == 0) return "measured";
    if (stage + 1 == p.stages.size()) return "result";
    return fmt::format("after {} · {}", stage, steps::nameOf(d.protocol[stage - 1].kind));
}

std::optional<std::size_t> counterpartStage(const Dataset& of, std::size_t stage, const Dataset& in) {
    if (stage > 0 && stage == of.protocol.size()) return in.protocol.size();
    if (stage > in.protocol.size()) return std::nullopt;
    const auto until = of.protocol.begin() + static_cast<std::ptrdiff_t>(stage);
    const bool alike = std::equal(of.protocol.begin(), until, in.protocol.begin(),
                                  [](const Step& a, const Step& b) { return a.kind == b.kind; });
    return alike ? std::optional(stage) : std::nullopt;
}

} // namespace jointer::app
