// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/handles.h"

#include <algorithm>

namespace jointer::steps {

namespace {

const Settings& startingFrom(const StepOutput& shown, const Settings& now, const Handle& handle) {
    const bool ofDraft = handle.state == HandleState::Proposed && handle.form == HandleForm::Anchor;
    return ofDraft && shown.draft ? *shown.draft : now;
}

Settings moved(Settings s, const Handle& handle, double x, double y) {
    if (handle.form == HandleForm::Grip) { // two numbers that move the whole curve from where it was
        s.set("x", Value(x - handle.homeX));
        s.set("y", Value(y - handle.homeY));
    }
    if (handle.form == HandleForm::Level) {
        s.set(handle.setting, Value(y));
        for (const auto& [key, value] : handle.with.entries()) s.set(key, value);
    }
    Numbers numbers = s.numbers(handle.setting);
    if (handle.form == HandleForm::SpanEnd && numbers.size() == 2) { // an end stops at the other
        numbers[handle.index] = handle.index == 0 ? std::min(x, numbers[1]) : std::max(x, numbers[0]);
        s.set(handle.setting, Value(std::move(numbers)));
        return s;
    }
    const std::size_t at = 2 * handle.index;
    if (handle.form != HandleForm::Anchor || at + 1 >= numbers.size()) return s;
    numbers[at] = x;
    if (!handle.xOnly) numbers[at + 1] = y;
    s.set(handle.setting, Value(std::move(numbers)));
    return s;
}

Settings listed(Settings s, std::uint32_t row, const char* in) {
    for (const char* key : {"refused", "accepted"}) {
        Numbers rows = s.numbers(key);
        std::erase(rows, static_cast<double>(row));
        if (std::string_view(key) == in) {
            rows.push_back(row);
            std::ranges::sort(rows);
        }
        if (rows.empty())
            s.remove(key);
        else
            s.set(key, Value(std::move(rows)));
    }
    return s;
}

} // namespace

std::string anchorSetting(const StepKind& kind) {
    const auto at = std::ranges::find(kind.info.settings, SettingKind::Points, &Setting::kind);
    return at == kind.info.settings.end() ? std::string() : at->key;
}

Settings afterMove(const StepOutput& shown, const Settings& now, const Handle& h, double x, double y) {
    return moved(startingFrom(shown, now, h), h, x, y);
}

Settings afterRemoval(const StepOutput& shown, const Settings& now, const Handle& h) {
    if (h.form == HandleForm::Found) return listed(now, h.row, "refused");
    Settings s = startingFrom(shown, now, h);
    if (h.form == HandleForm::Grip) {
        s.remove("x");
        s.remove("y");
        return s;
    }
    if (h.form == HandleForm::Level || h.form == HandleForm::SpanEnd) {
        s.remove(h.setting);
        for (const auto& entry : h.with.entries()) s.remove(entry.first);
        return s;
    }
    Numbers numbers = s.numbers(h.setting);
    const auto at = static_cast<std::ptrdiff_t>(2 * h.index);
    if (at + 1 < std::ssize(numbers)) numbers.erase(numbers.begin() + at, numbers.begin() + at + 2);
    s.set(h.setting, Value(std::move(numbers)));
    return s;
}

Settings afterClick(const StepOutput& shown, const Settings& now, const Handle& h) {
    if (h.form == HandleForm::Found)
        return listed(now, h.row, h.state == HandleState::Refused ? "accepted" : "refused");
    if (h.form == HandleForm::Level && h.state == HandleState::Proposed) return moved(now, h, h.x, h.y);
    return startingFrom(shown, now, h);
}

Settings afterAdding(const StepKind& kind, const StepOutput& shown, const Settings& now, double x, double y) {
    const std::string key = anchorSetting(kind);
    if (key.empty()) return now;
    Settings s = shown.draft ? *shown.draft : now;
    Numbers numbers = s.numbers(key);
    numbers.push_back(x);
    numbers.push_back(kind.anchorsAreX ? x : y);
    s.set(key, Value(std::move(numbers)));
    return s;
}

std::vector<HandleAction> actionsOf(const StepOutput& shown, const Settings& now, const Handle& h) {
    std::vector<HandleAction> actions;
    if (h.form == HandleForm::Found) {
        if (h.state != HandleState::Accepted) actions.push_back({"Accept", listed(now, h.row, "accepted")});
        if (h.state != HandleState::Refused) actions.push_back({"Refuse", listed(now, h.row, "refused")});
        if (h.state != HandleState::Proposed)
            actions.push_back({"As the threshold says", listed(now, h.row, "")});
        return actions;
    }
    if (h.state == HandleState::Proposed && shown.draft)
        actions.push_back({"Take it as anchors", *shown.draft});
    const bool proposedLevel = h.form == HandleForm::Level && h.state == HandleState::Proposed;
    if (proposedLevel) actions.push_back({"Take it as a number", moved(now, h, h.x, h.y)});
    if (!proposedLevel)
        actions.push_back(
            {h.form == HandleForm::Grip ? "Back to its place" : "Remove", afterRemoval(shown, now, h)});
    return actions;
}

} // namespace jointer::steps
