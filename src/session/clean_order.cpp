// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/clean_order.h"

#include "base/text.h"
#include "project/edit.h"
#include "steps/step.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer {

namespace {

// Words between blanks; quotes hold blanks together and are taken away.
Result<std::vector<std::string>> wordsOf(std::string_view text) {
    std::vector<std::string> words;
    std::string now;
    bool any = false;
    char quote = 0;
    for (char c : text) {
        if (quote != 0) {
            if (c == quote)
                quote = 0;
            else
                now += c;
        } else if (c == '\'' || c == '"') {
            quote = c;
            any = true;
        } else if (c == ' ' || c == '\t' || c == '\n') {
            if (any || !now.empty()) words.push_back(std::move(now));
            now.clear();
            any = false;
        } else
            now += c;
    }
    if (quote != 0) return failure("usage", fmt::format("A quote is not closed in “{}”.", text));
    if (any || !now.empty()) words.push_back(std::move(now));
    return words;
}

std::string keysOf(const steps::StepKind& kind) {
    std::vector<std::string> keys;
    for (const Setting& s : kind.info.settings) keys.push_back(s.key == "rows" ? "points" : s.key);
    return joined(keys, ", ");
}

// Names of datasets or columns become the ids that the project has for them.
Result<std::string> idOf(const Project& project, const Setting& s, const std::string& name) {
    std::vector<std::string> known;
    if (s.of == "dataset")
        for (const auto& d : project.datasets) {
            if (d->name == name || d->id.text() == name) return d->id.text();
            known.push_back(d->name);
        }
    if (s.of == "column")
        for (const auto& t : project.tables)
            for (const Column& c : t->columns) {
                if (c.name == name || c.id.text() == name) return c.id.text();
                known.push_back(c.name);
            }
    return failure(
        "usage", fmt::format("There is no {} called “{}”; there are: {}.", s.of, name, joined(known, ", ")));
}

Result<Value> valueOf(const Project& project, const Setting& s, std::string_view text) {
    auto value = parseValue(s, text);
    if (!value) return std::unexpected(Issue{"usage", value.error().text, {}});
    if (auto* one = std::get_if<Reference>(&*value)) {
        auto id = idOf(project, s, one->to);
        if (!id) return std::unexpected(id.error());
        one->to = *id;
    }
    if (auto* several = std::get_if<References>(&*value))
        for (Reference& r : *several) {
            auto id = idOf(project, s, r.to);
            if (!id) return std::unexpected(id.error());
            r.to = *id;
        }
    return value;
}

} // namespace

Result<Step> stepFromText(const Project& project, std::string_view text) {
    const auto words = wordsOf(text);
    if (!words) return std::unexpected(words.error());
    if (words->empty())
        return failure("usage", "A step needs the key of its kind, such as “smooth window=11”.");
    const steps::StepKind* kind = steps::catalogue().find(words->front());
    if (!kind)
        return failure("usage", fmt::format("There is no step called “{}”; there are: {}.", words->front(),
                                            joined(steps::catalogue().keys(), ", ")));
    Step step{.kind = kind->info.key};
    for (std::size_t i = 1; i < words->size(); ++i) {
        const std::string& word = (*words)[i];
        const std::size_t equals = word.find('=');
        std::string key = word.substr(0, equals);
        if (key == "points") key = "rows";
        const Setting* setting = equals == word.npos ? nullptr : kind->info.find(key);
        if (!setting)
            return failure("usage",
                           fmt::format("The step {} takes settings as key=value with the keys {}; not “{}”.",
                                       kind->info.key, keysOf(*kind), word));
        auto value = valueOf(project, *setting, std::string_view(word).substr(equals + 1));
        if (!value) return std::unexpected(value.error());
        step.settings.set(key, std::move(*value));
    }
    if (step.kind == "baseline" && step.settings.has("anchors") && !step.settings.has("place"))
        step.settings.set("place", "free");
    return step;
}

Result<Project> withSteps(const Project& project, DatasetId dataset, const std::vector<std::string>& steps) {
    Result<Project> made = project;
    for (const std::string& text : steps) {
        const auto step = stepFromText(*made, text);
        if (!step) return std::unexpected(step.error());
        made = edits::addStep(dataset, step->kind, step->settings, "Add step").apply(*made);
        if (!made) return made;
    }
    return made;
}

} // namespace jointer
