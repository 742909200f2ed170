// SPDX-License-Identifier: GPL-3.0-or-later
// Derived numbers as a kind: it takes analyses of any kind and the attributes of its dataset.
#include "analyses/derived/names.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using namespace describe;

const KindInfo& info() {
    static const KindInfo kind{
        .key = "derived",
        .name = "Derived numbers",
        .purpose = "Formulas over the numbers of fits and other analyses, with error, interval and unit",
        .settings = {made(SettingKind::Formula, "formula", "Formulas", Value(std::string()),
                          "One to a line: half_life [d] = ln(2)/k. Names are those of the analyses' numbers "
                          "(k_A, k_B where "
                          "several have it), attributes of the dataset, earlier lines, and constants such as "
                          "R, F, N_A, k_B. "
                          "A unit in brackets is the one that is wished for.",
                          {.whenEmpty = "half_life = ln(2)/k", .hidden = true}),
                     choice("errors", "Errors",
                            {{"automatic", "as the formula needs"},
                             {"first-order", "first order"},
                             {"simulated", "simulated"}},
                            "First order takes the slope of the formula with all correlations. Simulated "
                            "draws what it rests "
                            "on 40 000 times: for ratios and powers of what is little known.")}};
    return kind;
}

struct DerivedDetail final : Detail {
    std::vector<ResultPtr> rests; // what it rests on
};

// A derived number and what it was derived from are not independent.
void sayShared(const Task& task, AnalysisResult& out) {
    for (const ResultPtr& a : task.analyses)
        if (const auto* d = dynamic_cast<const DerivedDetail*>(a->kept.get()))
            for (const ResultPtr& b : task.analyses)
                if (std::ranges::find(d->rests, b) != d->rests.end())
                    out.issues.push_back(
                        {"not-independent",
                         "One of these analyses rests on another of them: their errors are taken as "
                         "independent, which they are not. Put the formulas into one list instead.",
                         {}});
}

NamedTable tableOf(const std::vector<NameToUse>& names) {
    std::vector<std::string> spellings, units, meanings;
    std::vector<double> values;
    for (const NameToUse& n : names) {
        spellings.push_back(n.spelling);
        values.push_back(n.value);
        units.push_back(n.unit);
        meanings.push_back(n.meaning);
    }
    Table t{.name = "Names"};
    t.columns = {textColumn("name", spellings), numberColumn("value", "", values), textColumn("unit", units),
                 textColumn("meaning", meanings)};
    return {"names", "Names for formulas", std::move(t)};
}

AnalysisResult nothingYet() {
    AnalysisResult out{.state = "no formula", .good = false};
    out.sentence = "No formula yet.";
    out.issues.push_back({"no-formula", "Write a formula, such as half_life = ln(2)/k.", {}});
    return out;
}

Result<AnalysisResult> derivedFrom(const std::string& text, DerivedTask wanted) {
    auto formulas = derivedFormulas(text);
    if (!formulas) return std::unexpected(formulas.error());
    wanted.formulas = std::move(*formulas);
    return derive(wanted);
}

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    DerivedTask wanted{
        .formulas = {}, .sources = {}, .errors = derivedErrors(info().text(task.spec.settings, "errors"))};
    if (!task.inputs.empty()) {
        wanted.attributes = task.inputs[0].attributes;
        wanted.attributeUnits = task.inputs[0].attributeUnits;
    }
    const DatasetId of = task.spec.inputs.empty() ? DatasetId{} : task.spec.inputs[0].dataset;
    for (std::size_t k = 0; k < task.analyses.size(); ++k) {
        const auto& quantities = task.analyses[k]->quantities;
        const bool isOfIt =
            std::ranges::any_of(quantities, [&](const Quantity& q) { return q.member == of; });
        wanted.sources.push_back({.name = std::string(1, DerivedNames::letterOf(k)),
                                  .result = task.analyses[k].get(),
                                  .member = isOfIt ? of : DatasetId{}});
    }
    const std::vector<NameToUse> names = namesFor(wanted);
    const std::string text = info().text(task.spec.settings, "formula");
    auto out =
        trimmed(text).empty() ? Result<AnalysisResult>(nothingYet()) : derivedFrom(text, std::move(wanted));
    if (!out) return out;
    out->tables.push_back(tableOf(names));
    auto kept = std::make_shared<DerivedDetail>();
    kept->rests = task.analyses;
    out->kept = kept;
    sayShared(task, *out);
    return out;
}

std::vector<InputSlot> slotsOfAnalyses() {
    constexpr std::size_t kMost = 12;
    std::vector<InputSlot> all = {{.key = "dataset", .label = "Dataset", .of = "dataset"}};
    for (std::size_t k = 0; k < kMost; ++k)
        all.push_back({.key = fmt::format("analysis-{}", k + 1),
                       .label = std::string(1, DerivedNames::letterOf(k)),
                       .of = "analysis",
                       .fewest = 0,
                       .eager = k == 0});
    return all;
}

} // namespace

DerivedErrors derivedErrors(std::string_view key) {
    if (key == "first-order") return DerivedErrors::FirstOrder;
    return key == "simulated" ? DerivedErrors::Simulated : DerivedErrors::Automatic;
}

AnalysisKind derivedAnalysis() {
    return {.info = info(), .slots = slotsOfAnalyses(), .compute = compute, .costly = false};
}

} // namespace jointer::analyses
