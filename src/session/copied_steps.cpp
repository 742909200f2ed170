// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/copied_steps.h"

#include "base/text.h"
#include "project/several.h"
#include "steps/step.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer {

std::string copiedText(const CopiedSteps& copied) {
    nlohmann::ordered_json list = nlohmann::ordered_json::array();
    for (const Step& s : copied.steps)
        list.push_back({{"kind", s.kind}, {"on", s.on}, {"settings", toJson(s.settings)}});
    return nlohmann::ordered_json{{"jointer-steps", list}, {"table", copied.table.text()}}.dump();
}

Result<CopiedSteps> copiedFromText(std::string_view text) {
    const auto json = nlohmann::ordered_json::parse(text, nullptr, false);
    if (!json.is_object() || !json.contains("jointer-steps") || !json["jointer-steps"].is_array())
        return failure("no-steps", "The clipboard holds no steps: copy some from a protocol first.");
    CopiedSteps copied;
    if (json.contains("table") && json["table"].is_string())
        copied.table = TableId::fromText(json["table"].get<std::string>());
    for (const auto& entry : json["jointer-steps"]) {
        if (!entry.is_object() || !entry.contains("kind") || !entry["kind"].is_string()) continue;
        Step step{.kind = entry["kind"].get<std::string>()};
        if (entry.contains("on") && entry["on"].is_boolean()) step.on = entry["on"].get<bool>();
        if (entry.contains("settings") && entry["settings"].is_object())
            step.settings = settingsFromJson(entry["settings"]);
        copied.steps.push_back(std::move(step));
    }
    return copied;
}

std::size_t takeOffPoints(Step& step) {
    const steps::StepKind* kind = steps::catalogue().find(step.kind);
    std::size_t byHand = 0;
    for (const Setting& s : kind ? kind->info.settings : std::vector<Setting>()) {
        if (!s.ofRows || !step.settings.has(s.key)) continue;
        byHand += step.settings.numbers(s.key).size();
        step.settings.remove(s.key);
    }
    return byHand;
}

// Where nothing but points by hand was set, nothing is left to do.
bool isEmptied(const Step& step) {
    return step.kind == "exclude" && step.settings.empty();
}

Outcome<std::vector<Step>> stepsFor(const CopiedSteps& copied, const Dataset& target) {
    Outcome<std::vector<Step>> out;
    const bool sameRows = copied.table && copied.table == target.source.table;
    for (Step step : copied.steps) {
        const std::size_t byHand = sameRows ? 0 : takeOffPoints(step);
        if (byHand > 0)
            out.issues.push_back(
                {"not-carried",
                 fmt::format("{} chosen by hand in “{}” stayed behind: they belong to the rows of "
                             "another table.",
                             counted(static_cast<long long>(byHand), "point"), steps::nameOf(step.kind)),
                 {}});
        if (byHand > 0 && isEmptied(step)) continue;
        step.id = {};
        out.value.push_back(std::move(step));
    }
    return out;
}

std::vector<Edit> makingAlike(const Project& project, const Dataset& of, StepId step,
                              const std::vector<DatasetId>& others) {
    std::vector<Edit> list;
    const Step* mine = of.find(step);
    const steps::StepKind* kind = mine ? steps::catalogue().find(mine->kind) : nullptr;
    for (DatasetId id : others) {
        const auto other = id == of.id ? nullptr : project.datasets.find(id);
        const StepId theirs = other ? counterpart(of, step, *other) : StepId{};
        if (!theirs) continue;
        const Step& held = *other->find(theirs);
        auto change = difference(held.settings, mine->settings);
        std::erase_if(change, [&](const auto& c) {
            const Setting* s = kind ? kind->info.find(c.first) : nullptr;
            return s && s->ofRows && other->source.table != of.source.table;
        });
        if (!change.empty()) list.push_back(edits::setStep(id, theirs, std::move(change), "Make alike"));
        if (held.on != mine->on) list.push_back(edits::switchStep(id, theirs, mine->on));
    }
    return list;
}

} // namespace jointer
