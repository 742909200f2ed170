// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/sources.h"

#include "draw/markup.h"

#include <cmath>
#include <limits>
#include <unordered_map>

namespace jointer::figure {

namespace {

constexpr std::size_t kManyPoints = 20000; // from here on an overview of the curve pays

// Values of a column of the dataset's table in the order of the curve's points; NaN where a point is of no
// row.
std::vector<double> valuesBeside(const MarkTask& task, const Dataset& dataset, const Curve& curve,
                                 ColumnId id, AxisMeaning* meaning = nullptr) {
    const Table table = task.evaluator.table(task.project, dataset.source.table).value;
    const Column* column = table.find(id);
    std::vector<double> out(curve.size(), NAN);
    if (!column || !column->isNumeric()) return out;
    if (meaning) *meaning = {.name = column->name, .unit = column->unit, .isTime = column->isTime()};
    const auto numbers = column->numbers();
    const auto rows = rowsOf(table, curve);
    for (std::size_t i = 0; i < rows.size(); ++i)
        if (rows[i] < numbers.size()) out[i] = numbers[rows[i]];
    return out;
}

// The dataset as measured, with another column as its only y, which is called like the measured one where both are
// of one unit.
std::shared_ptr<const Curve> withOtherY(const MarkTask& task, const Dataset& dataset, ColumnId column) {
    auto curve = std::make_shared<Curve>(*task.evaluator.measured(task.project, dataset.id).value);
    const AxisMeaning measured = curve->yMeaning;
    curve->y = valuesBeside(task, dataset, *curve, column, &curve->yMeaning);
    if (curve->yMeaning.unit == measured.unit) curve->yMeaning.name = measured.name;
    curve->replicates.clear();
    curve->sigma.clear();
    curve->common.clear();
    curve->made.clear();
    return curve;
}

const RoleBinding* companionOf(const Dataset& dataset, const std::string& name) {
    for (const RoleBinding& b : dataset.source.roles)
        if ((b.role == Role::Companion || b.role == Role::Component) && b.of == name) return &b;
    return nullptr;
}

// Only the points that lie in a part, and of those every nth.
std::shared_ptr<const Curve> partOf(std::shared_ptr<const Curve> curve, const Look& look) {
    const Numbers part = look.numbers("part");
    const auto nth = static_cast<std::size_t>(std::max(1, look.integer("nth")));
    if (part.size() != 2 && nth == 1) return curve;
    std::vector<std::uint8_t> keep(curve->size(), 1);
    std::size_t within = 0;
    for (std::size_t i = 0; i < curve->size(); ++i) {
        const bool in = part.size() != 2 || (curve->x[i] >= part[0] && curve->x[i] <= part[1]);
        keep[i] = in && within++ % nth == 0;
    }
    return std::make_shared<const Curve>(selected(*curve, keep));
}

} // namespace

FoundCurve foundCurve(const MarkTask& task, std::vector<Issue>& issues) {
    const auto id = DatasetId::fromText(task.source);
    FoundCurve found{.dataset = task.project.datasets.find(id)};
    if (!found.dataset) {
        issues.push_back({"source-gone", "A mark on the figure has lost its dataset.", {}});
        return found;
    }
    if (const std::string name = task.look.text("companion"); !name.empty()) {
        const RoleBinding* companion = companionOf(*found.dataset, name);
        if (!companion) {
            issues.push_back({"no-companion",
                              "The dataset “" + found.dataset->name + "” has no companion “" + name + "”.",
                              {}});
            return found;
        }
        found.curve = partOf(withOtherY(task, *found.dataset, companion->column), task.look);
        return found;
    }
    const auto protocol = task.evaluator.protocol(task.project, id);
    const auto& stage = protocol.at(CurvePoint::fromText(task.look.text("point")));
    found.measuredPoints = protocol.stages.front().curve().size();
    const auto whole = task.look.text("shown") == "excluded"
                           ? protocol.leftOutAsMeasured(stage) // wherever the steps have moved the others
                           : std::shared_ptr<const Curve>(stage.output, &stage.output->curve);
    found.curve = partOf(whole, task.look);
    if (task.projection) {
        Projected projected = task.projection->project(*found.curve, *found.dataset, issues);
        found.curve = std::move(projected.curve);
        found.doubtful = std::move(projected.doubtful);
        return found;
    }
    if (found.curve == whole && whole->size() > kManyPoints) found.overview = task.evaluator.overview(stage);
    return found;
}

std::shared_ptr<const Curve> curveOfStep(const MarkTask& task, const std::string& layer, FoundCurve& found,
                                         std::vector<Issue>& issues) {
    const auto id = DatasetId::fromText(task.source);
    found.dataset = task.project.datasets.find(id);
    if (!found.dataset) {
        issues.push_back({"source-gone", "A mark on the figure has lost its dataset.", {}});
        return nullptr;
    }
    const auto protocol = task.evaluator.protocol(task.project, id);
    found.measuredPoints = protocol.stages.front().curve().size();
    const StepId wanted = StepId::fromText(task.look.text("step"));
    auto out = std::make_shared<Curve>();
    for (const evaluate::StepResult& stage : protocol.stages) {
        if (!stage.on || !stage.step || (wanted && stage.step != wanted)) continue;
        const steps::Layer* made = stage.output->layer(layer);
        if (!made || made->x.empty()) continue;
        out->x = made->x;
        out->y = made->y;
    }
    out->xMeaning = protocol.end().curve().xMeaning;
    out->yMeaning = protocol.end().curve().yMeaning;
    found.curve = out;
    return out;
}

std::vector<std::size_t> rowsOf(const Table& table, const Curve& curve) {
    constexpr auto none = std::numeric_limits<std::size_t>::max();
    std::vector<std::size_t> out(curve.size(), none);
    const bool numbered = table.rows->ids.empty(); // 1, 2, 3…
    std::unordered_map<std::uint32_t, std::size_t> rowOf;
    for (std::size_t row = 0; row < table.rows->ids.size(); ++row) rowOf[table.rows->id(row)] = row;
    for (std::size_t i = 0; i < curve.size() && i < curve.rowIds.size(); ++i) {
        if (numbered) {
            out[i] = curve.rowIds[i] - std::size_t{1};
            continue;
        }
        const auto at = rowOf.find(curve.rowIds[i]);
        if (at != rowOf.end()) out[i] = at->second;
    }
    return out;
}

std::vector<double> columnBeside(const MarkTask& task, const Dataset& dataset, const Curve& curve,
                                 const std::string& column) {
    const auto id = ColumnId::fromText(column);
    if (!id) return {};
    return valuesBeside(task, dataset, curve, id);
}

AxisMeaning columnMeaning(const MarkTask& task, const Dataset& dataset, const std::string& column) {
    const auto table = task.project.tables.find(dataset.source.table);
    const Column* c = table ? table->find(ColumnId::fromText(column)) : nullptr;
    return c ? AxisMeaning{.name = c->name, .unit = c->unit, .isTime = c->isTime()} : AxisMeaning{};
}

std::vector<std::string> labelsBeside(const MarkTask& task, const Dataset& dataset, const Curve& curve) {
    const Table table = task.evaluator.table(task.project, dataset.source.table).value;
    const auto& roles = dataset.source.roles;
    const auto label = std::ranges::find(roles, Role::Label, &RoleBinding::role);
    const Column* column = label == roles.end() ? nullptr : table.find(label->column);
    std::vector<std::string> names;
    for (const std::size_t row : rowsOf(table, curve)) {
        std::string name = column && row < column->cells->size() ? plainCellText(*column, row) : "";
        if (name.empty() || name == "–") name = "row " + std::to_string(row + 1);
        names.push_back(std::move(name));
    }
    return names;
}

void takeFrom(const FoundCurve& found, const MarkTask& task, Mark& mark) {
    mark.label = task.look.text("label");
    mark.offset = task.look.number("offset");
    if (!std::isfinite(mark.offset)) mark.offset = 0;
    if (found.dataset && mark.label.empty()) {
        const std::string companion = task.look.text("companion");
        mark.label =
            draw::literal(companion.empty() ? found.dataset->name : found.dataset->name + ", " + companion);
    }
    mark.colour = task.look.colour(
        "colour", draw::Colour::fromText(inPalette(found.dataset ? found.dataset->colour : "", task.palette),
                                         task.ink));
    if (!found.curve || task.projection) return;
    mark.xMeaning = found.curve->xMeaning;
    mark.yMeaning = found.curve->yMeaning;
}

FoundAnalysis foundAnalysis(const MarkTask& task, std::vector<Issue>& issues) {
    FoundAnalysis found{.analysis = task.project.analyses.find(AnalysisId::fromText(task.source))};
    if (!found.analysis) {
        issues.push_back({"source-gone", "A fitted curve on the figure has lost its fit.", {}});
        return found;
    }
    const auto member = DatasetId::fromText(task.look.reference("member"));
    if (found.analysis->takes(member))
        found.member = member;
    else if (!found.analysis->inputs.empty())
        found.member = found.analysis->inputs.front().dataset;
    const auto outcome = task.evaluator.analysis(task.project, *found.analysis, {.effort = task.effort});
    if (outcome.exists())
        found.result = *outcome.result;
    else
        issues.push_back(outcome.result.error());
    return found;
}

void takeFrom(const FoundAnalysis& found, const MarkTask& task, Mark& mark) {
    mark.label = task.look.text("label");
    mark.offset = task.look.number("offset");
    if (!std::isfinite(mark.offset)) mark.offset = 0;
    if (found.analysis && mark.label.empty()) mark.label = draw::literal(analyses::nameOf(*found.analysis));
    const auto dataset = task.project.datasets.find(found.member);
    mark.of = found.member;
    mark.colour = task.look.colour(
        "colour", draw::Colour::fromText(inPalette(dataset ? dataset->colour : "", task.palette), task.ink));
}

} // namespace jointer::figure
