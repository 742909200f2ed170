// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/results.h"

#include "base/text.h"
#include "data/kept_tables.h"
#include "evaluate/sources.h"
#include "project/edit.h"

#include <cmath>
#include <filesystem>
#include <fmt/format.h>
#include <map>

namespace jointer::evaluate {

ValueText shownValue(const analyses::Quantity& q) {
    if (q.se > 0) return readableWithError(q.value, q.se);
    const double apart = (q.high - q.low) / 4;
    if (apart > 0 && std::isfinite(apart) && std::isfinite(q.value))
        return {readableWithError(q.value, apart).value, {}};
    return {readableNumber(q.value, q.digits), {}};
}

ValueText shownValue(const ResultRow& row) {
    analyses::Quantity q{.value = row.value, .se = row.error, .low = row.low, .high = row.high};
    q.digits = row.digits;
    return shownValue(q);
}

std::vector<ResultRow> rowsOf(const Analysis& a, const AnalysisOutcome& outcome) {
    std::vector<ResultRow> rows;
    const DatasetId first = a.inputs.empty() ? DatasetId{} : a.inputs.front().dataset;
    if (!outcome.exists()) {
        rows.push_back({.dataset = first,
                        .analysis = a.id,
                        .quantity = a.name,
                        .state = outcome.stateText(),
                        .value = std::nan(""),
                        .error = std::nan(""),
                        .good = false});
        return rows;
    }
    for (const analyses::Quantity& q : outcome->quantities) {
        const bool ofAnswers =
            outcome->state == "done" && !q.state.empty() && q.state != "summary"; // "in range"
        const bool ownState = q.state == "fixed" || !q.good || ofAnswers;
        rows.push_back({.dataset = q.member ? q.member : first,
                        .analysis = a.id,
                        .key = q.key,
                        .quantity = q.label,
                        .unit = q.unit,
                        .state = ownState ? q.state : outcome->state,
                        .subject = q.subject,
                        .value = q.value,
                        .error = q.se,
                        .low = q.low,
                        .high = q.high,
                        .good = outcome->good && q.good,
                        .ofAll = !q.member && a.inputs.size() > 1,
                        .digits = q.digits});
    }
    return rows;
}

std::vector<ResultRow> resultRows(const Project& project, Evaluator& evaluator, const Cancellation& stop) {
    std::vector<ResultRow> rows;
    auto firstOf = [](const Analysis& a) {
        return a.inputs.empty() ? DatasetId{} : a.inputs.front().dataset;
    };
    for (const auto& d : project.datasets)
        for (const auto& a : analysesOf(project, d->id)) {
            if (a->settings.flag("hold") || firstOf(*a) != d->id) continue;
            std::ranges::move(rowsOf(*a, evaluator.analysis(project, *a, {.stop = stop})),
                              std::back_inserter(rows));
        }
    return rows;
}

std::string nameOf(const ResultRow& row) {
    if (row.subject.empty()) return row.quantity;
    return (parseNumber(row.subject) ? "peak " + row.subject : row.subject) + ": " + row.quantity;
}

void groupBySubject(std::vector<ResultRow>& rows, const Project& project) {
    // In the order in which they are met first.
    std::map<std::string, std::size_t> groups, quantities;
    std::vector<std::tuple<std::size_t, std::size_t, std::size_t>> keys;
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const auto a = project.analyses.find(rows[i].analysis);
        const std::string group = (a ? a->kind : "") + "\n" + rows[i].subject;
        const std::size_t g = groups.try_emplace(group, groups.size()).first->second;
        const std::size_t q =
            quantities.try_emplace(group + "\n" + rows[i].quantity, quantities.size()).first->second;
        keys.emplace_back(g, q, i);
    }
    std::ranges::sort(keys);
    std::vector<ResultRow> sorted;
    for (const auto& [g, q, i] : keys) sorted.push_back(std::move(rows[i]));
    rows = std::move(sorted);
}

Table resultsTable(const Project& project, const std::vector<ResultRow>& rows) {
    std::vector<std::string> datasets, analyses, quantities, subjects, units, states;
    std::vector<double> values, errors;
    for (const ResultRow& row : rows) {
        const auto d = project.datasets.find(row.dataset);
        const auto a = project.analyses.find(row.analysis);
        datasets.push_back(d ? d->name : "");
        analyses.push_back(a ? a->name : "");
        quantities.push_back(row.quantity);
        subjects.push_back(row.subject);
        values.push_back(row.value);
        errors.push_back(row.error);
        units.push_back(row.unit);
        states.push_back(row.state);
    }
    Table table{.name = "Results"};
    table.columns = {
        textColumn("dataset", std::move(datasets)),    textColumn("analysis", std::move(analyses)),
        textColumn("quantity", std::move(quantities)), numberColumn("value", "", std::move(values)),
        numberColumn("error", "", std::move(errors)),  textColumn("unit", std::move(units)),
        textColumn("state", std::move(states)),        textColumn("subject", std::move(subjects))};
    return table;
}

std::string asClause(std::string sentence) {
    if (sentence.ends_with('.')) sentence.pop_back();
    if (sentence.size() > 1 && std::isupper(static_cast<unsigned char>(sentence[0])) &&
        std::islower(static_cast<unsigned char>(sentence[1])))
        sentence[0] = static_cast<char>(std::tolower(static_cast<unsigned char>(sentence[0])));
    return sentence;
}

namespace {

// Where the points come from: lines and columns of a file, a function, or the two datasets that were joined.
void addOrigin(const Project& project, const Dataset& d, std::vector<Source>& out) {
    if (const SourceKind* made = sourceCatalogue().find(d.source.kind)) {
        std::vector<std::string> from;
        for (DatasetId id : d.source.inputs)
            if (const auto input = project.datasets.find(id)) from.push_back("“" + input->name + "”");
        const std::string expression = made->info.text(d.source.settings, "expression");
        if (made->inputs == 0)
            out.push_back({"Computed as y = " + expression + ".", {}});
        else
            out.push_back({"Joined from " + joined(from, " and ") + ".",
                           "partners " + made->info.text(d.source.settings, "match")});
        return;
    }
    if (const auto t = project.tables.find(d.source.table)) {
        std::vector<std::string> columns;
        for (const RoleBinding& b : d.source.roles)
            if (const Column* c = t->find(b.column); c && b.role != Role::Label) columns.push_back(c->name);
        const std::size_t n = t->rowCount();
        const std::string lines = t->rows->line(0) > 0 && n > 0
                                      ? fmt::format("lines {}–{}, ", t->rows->line(0), t->rows->line(n - 1))
                                      : "";
        const auto kept =
            std::ranges::find(t->origin.metadata, kKeptFrom, &std::pair<std::string, std::string>::first);
        std::string from = "Typed into the table “" + t->name + "”.";
        if (kept != t->origin.metadata.end()) from = "Kept from the results: " + kept->second + ".";
        if (!t->origin.file.empty())
            from = "Read from " + std::filesystem::path(t->origin.file).filename().string() + ".";
        out.push_back({std::move(from), lines + "columns " + joined(columns, ", ")});
    }
}

} // namespace

namespace {

// How a number came about, station by station; each dataset is followed back to where it was read once.
class Way {
public:
    Way(const Project& project, Evaluator& evaluator, DatasetId dataset)
        : project_(project), evaluator_(evaluator), dataset_(dataset) {}

    void addDataset(const Dataset& d) {
        known_.push_back(d.id);
        const std::size_t from = out_.size();
        addOrigin(project_, d, out_);
        const ProtocolResult protocol = evaluator_.protocol(project_, d.id);
        for (std::size_t i = 1; i < protocol.stages.size(); ++i)
            if (protocol.stages[i].on)
                out_.push_back({protocol.stages[i].output->sentence, protocol.stages[i].output->detail,
                                protocol.stages[i].step});
        for (std::size_t k = from; k < out_.size(); ++k) out_[k].dataset = d.id, name(out_[k], d);
    }

    // Those that it rests on first.
    void addAnalysis(const Analysis& a, int depth = 0) {
        constexpr int kDeepest = 8; // beyond there is a circle
        if (depth < kDeepest)
            for (AnalysisId id : a.analyses)
                if (const auto other = project_.analyses.find(id)) addAnalysis(*other, depth + 1);
        const auto of = depth == 0 || a.takes(dataset_) || a.inputs.empty()
                            ? nullptr
                            : project_.datasets.find(a.inputs[0].dataset);
        if (of && std::ranges::find(known_, of->id) == known_.end()) addDataset(*of);
        const AnalysisOutcome outcome = evaluator_.analysis(project_, a);
        Source told = outcome.exists() ? Source{outcome->sentence, outcome->detail}
                                       : Source{analyses::nameOf(a) + ".", outcome.result.error().text};
        told.analysis = a.id;
        told.dataset = of ? of->id : dataset_;
        if (of) name(told, *of);
        const bool isTold = std::ranges::any_of(
            out_, [&](const Source& s) { return s.sentence == told.sentence && s.detail == told.detail; });
        if (!isTold || depth == 0) out_.push_back(std::move(told));
    }

    std::vector<Source> take() { return std::move(out_); }

private:
    // What is of another dataset than the number says so.
    void name(Source& s, const Dataset& d) const {
        if (d.id != dataset_) s.sentence = d.name + ": " + asClause(s.sentence) + ".";
    }

    const Project& project_;
    Evaluator& evaluator_;
    DatasetId dataset_;
    std::vector<DatasetId> known_;
    std::vector<Source> out_;
};

} // namespace

std::vector<Source> provenance(const Project& project, Evaluator& evaluator, const ResultRow& row) {
    const auto d = project.datasets.find(row.dataset);
    const auto a = project.analyses.find(row.analysis);
    if (!d) return {};
    Way way(project, evaluator, d->id);
    way.addDataset(*d);
    if (a) way.addAnalysis(*a); // else the protocol alone
    return way.take();
}

Result<ResultRow> withoutStep(const Project& project, Evaluator& evaluator, const ResultRow& row,
                              const Source& step, const Cancellation& stop) {
    const auto a = project.analyses.find(row.analysis);
    const auto other = edits::switchStep(step.dataset, step.step, false).apply(project);
    if (!a || !other) return failure("gone", "The step or the analysis is no longer there.");
    const AnalysisOutcome outcome = evaluator.analysis(*other, *a, {.stop = stop});
    if (!outcome.exists()) return std::unexpected(outcome.result.error());
    for (const ResultRow& r : rowsOf(*a, outcome))
        if (r.key == row.key) return r;
    return failure("gone", "Without this step there is no such number.");
}

} // namespace jointer::evaluate
