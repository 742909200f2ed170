// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/without_point.h"

#include "app/stages/plot_marks.h"
#include "app/theme/theme.h"
#include "base/text.h"
#include "project/edit.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::app {

namespace {

// The numbers of a dataset, or of all, that move most in its copy without a point, in units of their errors.
std::string movedText(const analyses::AnalysisResult& whole, DatasetId dataset,
                      const analyses::AnalysisResult& without, DatasetId copy) {
    constexpr std::size_t kMostNamed = 2;
    std::vector<std::pair<double, std::string>> moved;
    for (const analyses::Quantity& q : whole.quantities) {
        if (q.state == "derived" || !(q.se > 0) || (q.member && q.member != dataset)) continue;
        const auto now = std::ranges::find_if(without.quantities, [&](const analyses::Quantity& other) {
            return other.label == q.label && (!other.member || other.member == copy);
        });
        if (now == without.quantities.end()) continue;
        const double by = (now->value - q.value) / q.se;
        moved.emplace_back(std::abs(by), fmt::format("{} {} ({}{} errors)", q.label,
                                                     readableWithError(now->value, now->se).value,
                                                     by < 0 ? "−" : "+", readableNumber(std::abs(by), 2)));
    }
    std::ranges::sort(moved, std::greater(), &std::pair<double, std::string>::first);
    std::vector<std::string> words;
    for (const auto& [by, text] : moved)
        if (words.size() < kMostNamed) words.push_back(text);
    return joined(words, ", ");
}

} // namespace

void addWithout(PlotContent& c, const Project& before, const Analysis& a, DatasetId dataset,
                std::uint32_t row) {
    constexpr const char* kLabel = "without the point";
    std::erase_if(c.marks,
                  [](const Element& m) { return m.settings.text("label") == kLabel; }); // of a drawing before
    const auto d = before.datasets.find(dataset);
    if (!d) return;
    Dataset copy = *d;
    copy.id = {};
    auto project = edits::addDataset(std::move(copy)).apply(before);
    if (!project) return;
    const DatasetId id = project->datasets[project->datasets.size() - 1].id;
    if (auto left = edits::excludeRows(id, {row}, true).apply(*project)) project = std::move(left);
    Analysis other = a;
    other.id = {};
    for (AnalysisInput& in : other.inputs)
        if (in.dataset == dataset) in.dataset = id;
    for (ParameterChoice& p : other.parameters)
        if (p.member == dataset) p.member = id;
    project = edits::addAnalysis(std::move(other)).apply(*project);
    if (!project) return;
    const AnalysisId made = project->analyses[project->analyses.size() - 1].id;
    const auto whole = c.evaluator->analysis(c.project, a, {.effort = c.effort});
    const auto without = c.evaluator->analysis(*project, *project->analyses.find(made), {.effort = c.effort});
    if (!whole.exists() || !without.exists()) return;
    c.marks.push_back(mark("curve", made.text(),
                           {{"width", 1.2},
                            {"dash", "dashed"},
                            {"colour", str(theme().copper)},
                            {"label", Value(std::string(kLabel))},
                            {"member", Value(Reference{id.text()})}}));
    const auto protocol = c.evaluator->protocol(before, dataset);
    const Curve& points = protocol.end().curve();
    const auto at = std::ranges::find(points.rowIds, row);
    const std::string place =
        at == points.rowIds.end()
            ? ""
            : " at " +
                  placeText(points.xMeaning, points.x[static_cast<std::size_t>(at - points.rowIds.begin())]);
    c.caption = kLabel + place + ": " + movedText(*whole, dataset, *without, id);
    c.project = std::move(*project);
}

} // namespace jointer::app
