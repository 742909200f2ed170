// SPDX-License-Identifier: GPL-3.0-or-later
// clean: runs a protocol over columns of a file. steps: lists the kinds of steps.
#include "cli/commands.h"

#include "base/text.h"
#include "cli/other_curves.h"
#include "evaluate/evaluator.h"
#include "session/clean_order.h"
#include "session/command_project.h"
#include "session/export.h"
#include "steps/step.h"

#include <CLI/CLI.hpp>
#include <cmath>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>
#include <set>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

Json numbers(const std::vector<double>& values) {
    Json list = Json::array();
    for (double v : values) list.push_back(number(v));
    return list;
}

class CleanCommand final : public Command {
public:
    std::string name() const override { return "clean"; }
    std::string purpose() const override { return "Run a protocol of steps over columns"; }

    void declare(CLI::App& app) override {
        input_.declare(app);
        app.add_option("--x", columns_.x, "Column of x; several are predictors")
            ->required()
            ->expected(1)
            ->take_all()
            ->allow_extra_args(false);
        app.add_option("--y", columns_.y, "Column of y; several are replicates")
            ->required()
            ->expected(1)
            ->take_all()
            ->allow_extra_args(false);
        app.add_option("--sigma", columns_.sigma, "Column of uncertainties");
        app.add_option("--step", steps_,
                       "A step, such as \"smooth method=median window=5\"; see the command steps")
            ->expected(1)
            ->take_all()
            ->allow_extra_args(false);
        others_.declare(app);
        auto* json = app.add_flag("--json", json_, "As JSON");
        app.add_flag("--csv", csv_, "The curve as CSV")->excludes(json);
    }

    int run() override {
        auto reading = input_.read();
        if (!reading) return fail(reading.error(), CannotRead);
        for (const Issue& issue : reading->issues) warn(issue);
        if (input_.table < 1 || static_cast<std::size_t>(input_.table) > reading->tables.size())
            return fail({"usage", "There is no table of this number.", {}}, WrongUsage);
        Table& table = reading->tables[static_cast<std::size_t>(input_.table) - 1].table;
        table.origin.file = input_.file;
        auto project = withDataset({}, table, columns_);
        if (!project)
            return fail(project.error(), project.error().code == "not-numbers" ? Failed : WrongUsage);
        const DatasetId dataset = project->datasets[0].id;
        int status = Done;
        project = others_.addedTo(*project, status, [this](const Issue& issue) { warn(issue); });
        if (project) project = withSteps(*project, dataset, steps_);
        if (!project) return fail(project.error(), static_cast<Status>(status == Done ? WrongUsage : status));
        evaluate::Evaluator evaluator;
        const evaluate::ProtocolResult result = evaluator.protocol(*project, dataset);
        for (const Issue& issue : result.issues) warn(issue);
        for (const auto& stage : result.stages)
            for (const Issue& issue : stage.step ? stage.issues : std::vector<Issue>{}) warn(issue);
        const auto spec = project->datasets.find(dataset);
        if (json_)
            printJson(*spec, result);
        else if (csv_)
            std::cout << curveCsv(result.end().curve());
        else
            printForPeople(result);
        return warnings_.empty() ? Done : DoneWithWarnings;
    }

private:
    void warn(const Issue& issue) {
        say(issue);
        warnings_.push_back(toJson(issue));
    }

    // The points that do not count, by the rows of the file: of the last stage that still knows rows.
    static std::set<std::uint32_t> rowsOf(const evaluate::ProtocolResult& result, auto isMeant) {
        std::set<std::uint32_t> rows;
        for (auto stage = result.stages.rbegin(); stage != result.stages.rend(); ++stage) {
            const Curve& c = stage->curve();
            if (c.rowIds.empty()) continue;
            for (std::size_t i = 0; i < c.size(); ++i)
                if (isMeant(c, i)) rows.insert(c.rowIds[i]);
            break;
        }
        return rows;
    }
    static Json leftOut(const evaluate::ProtocolResult& result) {
        auto rows = rowsOf(result, [](const Curve& c, std::size_t i) { return c.isExcluded(i); });
        for (const auto& stage : result.stages)
            if (stage.on) rows.insert(stage.output->droppedRows.begin(), stage.output->droppedRows.end());
        return rows;
    }

    void printJson(const Dataset& d, const evaluate::ProtocolResult& result) const {
        Json protocol = Json::array(), layers = Json::object();
        for (std::size_t i = 1; i < result.stages.size(); ++i) {
            const steps::StepOutput& o = *result.stages[i].output;
            protocol.push_back({{"kind", d.protocol[i - 1].kind},
                                {"sentence", o.sentence},
                                {"detail", o.detail},
                                {"on", result.stages[i].on}});
            for (const steps::Layer& layer : o.layers)
                if (layer.role == "baseline")
                    layers["baseline"] = numbers(layer.y);
                else
                    layers[layer.role] = {{"x", numbers(layer.x)}, {"y", numbers(layer.y)}};
        }
        const Curve& c = result.end().curve();
        Json replicates = Json::array();
        for (const auto& r : c.replicates) replicates.push_back(numbers(r));
        if (c.replicates.empty()) replicates.push_back(numbers(c.y));
        print({{"protocol", protocol},
               {"x", numbers(c.x)},
               {"y", numbers(c.y)},
               {"sigma", c.sigma.empty() ? Json() : numbers(c.sigma)},
               {"replicates", replicates},
               {"left_out", leftOut(result)},
               {"made", rowsOf(result, [](const Curve& k, std::size_t i) { return k.isMade(i); })},
               {"layers", layers},
               {"x_unit", c.xMeaning.unit},
               {"y_unit", c.yMeaning.unit},
               {"warnings", warnings_}});
    }

    static void printForPeople(const evaluate::ProtocolResult& result) {
        for (std::size_t i = 1; i < result.stages.size(); ++i) {
            const steps::StepOutput& o = *result.stages[i].output;
            std::cout << fmt::format("{}. {}{}\n", i, o.sentence,
                                     o.detail.empty() ? "" : "  (" + o.detail + ")");
        }
        const Curve& c = result.end().curve();
        std::size_t counting = 0;
        for (std::size_t i = 0; i < c.size(); ++i) counting += c.counts(i);
        std::cout << fmt::format("{}, {} count.  --csv or --json gives them.\n",
                                 counted(static_cast<long long>(c.size()), "point"), counting);
    }

    InputOptions input_;
    ColumnChoice columns_;
    std::vector<std::string> steps_;
    OtherCurves others_;
    bool json_ = false, csv_ = false;
    Json warnings_ = Json::array();
};

Json defaultOf(const Setting& s) {
    if (const auto* number = std::get_if<double>(&s.fallback)) return cli::number(*number);
    if (const auto* flag = std::get_if<bool>(&s.fallback)) return *flag;
    if (const auto* text = std::get_if<std::string>(&s.fallback)) return *text;
    return nullptr;
}

std::string_view kindName(SettingKind kind) {
    using enum SettingKind;
    switch (kind) {
    case Number:
        return "number";
    case WholeNumber:
        return "whole-number";
    case Choice:
        return "choice";
    case Flag:
        return "flag";
    case Formula:
        return "formula";
    case List:
        return "list";
    case Points:
        return "points";
    case Interval:
        return "interval";
    case Reference:
        return "reference";
    case References:
        return "references";
    default:
        return "text";
    }
}

class StepsCommand final : public Command {
public:
    std::string name() const override { return "steps"; }
    std::string purpose() const override { return "List the kinds of steps"; }
    void declare(CLI::App& app) override { app.add_flag("--json", json_, "As JSON"); }
    int run() override {
        Json all = Json::array();
        for (const steps::StepKind& kind : steps::catalogue()) {
            if (!json_) {
                std::cout << fmt::format("{:<15} {:<22} {}\n", kind.info.key, kind.info.name,
                                         kind.info.purpose);
                continue;
            }
            Json settings = Json::array();
            for (const Setting& s : kind.info.settings) settings.push_back(described(s));
            all.push_back({{"key", kind.info.key},
                           {"name", kind.info.name},
                           {"group", kind.info.group},
                           {"purpose", kind.info.purpose},
                           {"smooths", kind.smooths},
                           {"settings", settings}});
        }
        if (json_) print(all);
        return Done;
    }

private:
    static Json described(const Setting& s) {
        Json choices = Json::array();
        for (const Choice& c : s.choices) choices.push_back(c.key);
        return {{"key", s.key == "rows" ? "points" : s.key},
                {"name", s.label},
                {"kind", kindName(s.kind)},
                {"default", defaultOf(s)},
                {"unit", s.unit},
                {"help", s.help},
                {"choices", choices}};
    }
    bool json_ = false;
};

} // namespace

std::unique_ptr<Command> cleanCommand() {
    return std::make_unique<CleanCommand>();
}
std::unique_ptr<Command> stepsCommand() {
    return std::make_unique<StepsCommand>();
}

} // namespace jointer::cli
