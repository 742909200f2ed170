// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/answer_marks.h"

#include "analyses/groups/groups.h"
#include "base/text.h"
#include "figure/kinds.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::figure {

namespace {

constexpr std::size_t kMostBrackets = 6;
constexpr std::size_t kFewGroups = 3;

std::vector<stats::PairResult> comparedPairs(const analyses::GroupsDetail& d) {
    std::vector<stats::PairResult> pairs;
    for (const analyses::GroupTest& t : d.tests) {
        pairs.insert(pairs.end(), t.result.pairs.begin(), t.result.pairs.end());
        const stats::TestKind* kind = stats::findTest(t.result.test);
        const bool ofTwo = kind && kind->needs != stats::Needs::Columns && d.design.groups.size() == 2;
        if (ofTwo && t.result.pairs.empty())
            pairs.push_back({0, 1, t.result.difference, t.result.low, t.result.high, t.result.p});
    }
    std::ranges::stable_sort(pairs, {}, &stats::PairResult::p);
    if (pairs.size() > kMostBrackets) pairs.resize(kMostBrackets);
    return pairs;
}

} // namespace

std::vector<Element> bracketsOf(const Project& project, const Analysis& analysis, DatasetId dataset,
                                evaluate::Evaluator& evaluator, evaluate::Effort effort) {
    std::vector<Element> out;
    const auto outcome = evaluator.analysis(project, analysis, {.effort = effort});
    const analyses::GroupsDetail* d = outcome.exists() ? analyses::groupsDetail(*outcome) : nullptr;
    if (!d || d->design.factors || d->design.counts) return out;
    const bool few = d->design.groups.size() <= kFewGroups;
    for (const stats::PairResult& p : comparedPairs(*d)) {
        std::string words = stats::probabilityText(p.p);
        if (few && std::isfinite(p.difference))
            words = fmt::format("{} ({} … {}), {}", readableNumber(p.difference, 3), readableNumber(p.low, 3),
                                readableNumber(p.high, 3), words);
        Element bracket = newMark("bracket", dataset.text());
        bracket.settings.set("from", Value(d->design.groups[p.a].name));
        bracket.settings.set("to", Value(d->design.groups[p.b].name));
        bracket.settings.set("shows", "text");
        bracket.settings.set("label", Value(words));
        out.push_back(std::move(bracket));
    }
    return out;
}

std::vector<Element> readingsOf(const Analysis& analysis, DatasetId dataset) {
    const analyses::AnalysisKind* kind = analyses::kindOf(analysis);
    if (!kind || !kind->takesSamples || analysis.analyses.empty()) return {};
    Element curve = newMark("curve", analysis.analyses.front().text()),
            readings = newMark("readings", analysis.id.text());
    curve.settings.set("band", "prediction");
    curve.settings.set("label", "-");
    curve.settings.set("member", Value(Reference{dataset.text()}));
    readings.settings.set("label", "-");
    return {std::move(curve), std::move(readings)};
}

} // namespace jointer::figure
