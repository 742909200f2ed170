// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/several.h"

#include "base/text.h"

#include <ranges>

namespace jointer {

StepId counterpart(const Dataset& of, StepId step, const Dataset& in) {
    const Step* mine = of.find(step);
    if (!mine) return {};
    auto alike = [&](const Step& s) { return s.kind == mine->kind; };
    const auto place = std::count_if(of.protocol.data(), mine, alike);
    auto theirs = in.protocol | std::views::filter(alike) | std::views::drop(place);
    return theirs.empty() ? StepId{} : theirs.front().id;
}

Agreement agreement(const Dataset& of, StepId step, const Dataset& in) {
    const StepId theirs = counterpart(of, step, in);
    if (!theirs) return Agreement::Missing;
    const Step *a = of.find(step), *b = in.find(theirs);
    return a->settings == b->settings && a->on == b->on ? Agreement::Same : Agreement::Differs;
}

std::vector<std::pair<std::string, Value>> difference(const Settings& from, const Settings& to) {
    std::vector<std::pair<std::string, Value>> out;
    for (const auto& [key, value] : to.entries())
        if (const Value* before = from.find(key); !before || !(*before == value))
            out.emplace_back(key, value);
    for (const auto& [key, value] : from.entries())
        if (!to.has(key)) out.emplace_back(key, Value());
    return out;
}

AnalysisId counterpart(const Project& project, AnalysisId analysis, DatasetId in) {
    const auto mine = project.analyses.find(analysis);
    if (!mine || mine->inputs.empty()) return {};
    auto alike = [&](const auto& a) { return a->kind == mine->kind && a->model.kind == mine->model.kind; };
    std::ptrdiff_t place = 0;
    for (const auto& a : analysesOf(project, mine->inputs.front().dataset) | std::views::filter(alike)) {
        if (a->id == analysis) break;
        ++place;
    }
    const auto there = analysesOf(project, in);
    auto theirs = there | std::views::filter(alike) | std::views::drop(place);
    return theirs.empty() ? AnalysisId{} : theirs.front()->id;
}

Edit edits::onEach(std::vector<Edit> list) {
    if (list.size() == 1) return std::move(list.front());
    const std::string name =
        list.empty() ? "" : list.front().name + ", " + counted(std::ssize(list), "dataset");
    const std::string key = list.empty() ? "" : list.front().mergeKey;
    return {name, key.empty() ? key : key + " of " + std::to_string(list.size()),
            [list = std::move(list)](const Project& before) -> Result<Project> {
                Result<Project> now = before;
                for (const Edit& e : list) {
                    auto next = e.apply(*now);
                    if (!next && &e == &list.front()) return next;
                    if (next) now = std::move(next);
                }
                return now;
            }};
}

} // namespace jointer
