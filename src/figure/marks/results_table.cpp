// SPDX-License-Identifier: GPL-3.0-or-later
// A table of what analyses have found: datasets down, quantities across; numbers follow their analyses,
// decimal points stand below each other.
#include "base/text.h"
#include "base/unit_text.h"
#include "figure/marks/parts.h"
#include "figure/page/live_text.h"
#include "figure/page/set_table.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

class ResultsTable final : public Mark {
public:
    bool hasExtent() const override { return false; }
    bool staysInside() const override { return false; }
    std::vector<std::string> heads;
    std::vector<std::string> names;
    std::vector<std::vector<std::string>> rows;
    double x = 0, y = 1, sizePt = 8;
    bool lines = true;

    std::optional<Range> extentX(const Scale&) const override { return {}; }
    std::optional<Range> extentY(const Scale&, const Range&) const override { return {}; }
    void draw(const Frame& frame, Group& into) const override {
        TextStyle style = frame.text;
        style.sizePt = sizePt;
        std::vector<TableColumn> columns = {{.head = {}, .cells = names, .words = true}};
        for (std::size_t c = 0; c < heads.size(); ++c) {
            columns.push_back({.head = heads[c], .cells = {}});
            for (const auto& row : rows) columns.back().cells.push_back(row[c]);
        }
        const Point at{frame.area.x + x * frame.area.width, frame.area.bottom() - y * frame.area.height};
        std::vector<Item> items;
        SetTable(std::move(columns), style).draw(at, lines, items);
        addText(into, std::move(items));
    }
};

// The analyses told by their members: each dataset's last fit, or the one of the source.
std::vector<std::pair<std::shared_ptr<const Dataset>, std::shared_ptr<const Analysis>>>
rowsOf(const MarkTask& task) {
    std::vector<std::pair<std::shared_ptr<const Dataset>, std::shared_ptr<const Analysis>>> out;
    const Value given = task.look.value("datasets");
    const References* told = std::get_if<References>(&given);
    const auto only = task.project.analyses.find(AnalysisId::fromText(task.source));
    auto add = [&](DatasetId id) {
        std::shared_ptr<const Analysis> last = only && only->takes(id) ? only : nullptr;
        for (const auto& a : task.project.analyses)
            if (!last || (!only && a->takes(id))) last = a->takes(id) ? a : last;
        if (auto d = task.project.datasets.find(id); d && last)
            out.emplace_back(std::move(d), std::move(last));
    };
    if (told && !told->empty())
        for (const Reference& r : *told) add(DatasetId::fromText(r.to));
    else if (only)
        for (const AnalysisInput& in : only->inputs) add(in.dataset);
    return out;
}

MarkPtr prepare(const MarkTask& task) {
    auto t = std::make_unique<ResultsTable>();
    t->named = false;
    t->x = task.look.number("x");
    t->y = task.look.number("y");
    t->sizePt = task.look.number("text-size");
    t->lines = task.look.flag("lines");
    const std::string form = task.look.text("errors") == "brackets" ? "()" : "";
    const int digits = task.look.integer("digits");
    std::vector<std::string> wanted;
    const std::string told = task.look.text("quantities");
    for (std::string_view part : split(told, ','))
        if (!trimmed(part).empty()) wanted.emplace_back(trimmed(part));
    const bool bySubject = task.look.text("rows") == "subjects";
    const auto add = [&](const std::string& name, const auto& find) {
        std::vector<std::string> row;
        for (const std::string& quantity : wanted) {
            const analyses::Quantity* q = find(quantity);
            const bool known = q && std::isfinite(q->value);
            row.push_back(known ? quantityText(*q, fmt::format("{}{}", digits, form), false)
                          : q && !q->state.empty() ? literal(q->state) // "above the standards"
                                                   : "–");
            if (t->heads.size() < wanted.size() && row.size() > t->heads.size())
                t->heads.push_back(
                    (q ? literal(q->label) + (q->unit.empty() ? "" : " (" + unitMarkup(q->unit) + ")")
                       : literal(quantity)));
        }
        t->names.push_back(literal(name));
        t->rows.push_back(std::move(row));
    };
    for (const auto& [dataset, analysis] : rowsOf(task)) {
        const auto outcome = task.evaluator.analysis(task.project, *analysis, {.effort = task.effort});
        if (!outcome.exists()) {
            t->issues.push_back(outcome.result.error());
            continue;
        }
        const auto takes = [&, id = dataset->id](const analyses::Quantity& q) {
            return (!q.member || q.member == id) && (!bySubject || !q.subject.empty());
        };
        if (wanted.empty())
            for (const analyses::Quantity& q : outcome->quantities)
                if (takes(q) && wanted.size() < 4 && std::ranges::find(wanted, q.label) == wanted.end())
                    wanted.push_back(q.label);
        const auto named = [&](const std::string& name,
                               const std::string& subject) -> const analyses::Quantity* {
            for (const analyses::Quantity& q : outcome->quantities)
                if ((q.label == name || q.key == name) && takes(q) &&
                    (subject.empty() || q.subject == subject))
                    return &q;
            return subject.empty() ? outcome->find(name) : nullptr;
        };
        if (!bySubject) {
            add(dataset->name, [&](const std::string& name) { return named(name, {}); });
            continue;
        }
        std::vector<std::string> subjects;
        for (const analyses::Quantity& q : outcome->quantities)
            if (takes(q) && std::ranges::find(subjects, q.subject) == subjects.end() &&
                std::ranges::find(wanted, q.label) != wanted.end())
                subjects.push_back(q.subject);
        for (const std::string& subject : subjects)
            add(subject, [&](const std::string& name) { return named(name, subject); });
    }
    if (t->rows.empty())
        t->issues.push_back({"no-results", "The table of results has no analysis to show.", {}});
    return t;
}

} // namespace

MarkKind resultsTableMark() {
    return {
        .info = {.key = "results-table",
                 .name = "Table of results",
                 .purpose =
                     "Numbers of analyses, datasets down and quantities across; they follow their analyses",
                 .group = "Marks",
                 .settings =
                     {word("quantities", "Quantities",
                           "Their names with commas between; empty takes the first four.",
                           {.whenEmpty = "the first"}),
                      references("datasets", "Datasets", "dataset",
                                 "Each with its last analysis; none: those of the analysis.",
                                 {.whenEmpty = "of the analysis"}),
                      choice("rows", "Rows", {{"datasets", "datasets"}, {"subjects", "what was analysed"}},
                             "Datasets, or the samples, groups or peaks of one analysis."),
                      choice("errors", "Errors", {{"plus-minus", "2.31 ± 0.04"}, {"brackets", "2.31(4)"}},
                             "How standard errors are written."),
                      wholeNumber("digits", "Digits", 2, "Of the error.", {.lowest = 1, .highest = 6}),
                      number("text-size", "Text", 8, "Size of the text.",
                             {.unit = "pt", .lowest = 3, .highest = 72, .group = kLooksGroup}),
                      flag("lines", "Lines", true, "Above and below the headings and at the end.",
                           {.group = kLooksGroup}),
                      number("x", "x", 0.05, "Left edge, as part of the panel's width.",
                             {.lowest = -2, .highest = 3, .group = kPlaceGroup}),
                      number("y", "y", 0.95, "Upper edge, as part of the panel's height from below.",
                             {.lowest = -2, .highest = 3, .group = kPlaceGroup})}},
        .takes = Takes::Analysis,
        .prepare = prepare};
}

} // namespace jointer::figure
