// SPDX-License-Identifier: GPL-3.0-or-later
// `fit`, with words of its own.
#include "base/text.h"
#include "cli/column_command.h"
#include "cli/fit_output.h"
#include "cli/other_curves.h"
#include "project/references.h"
#include "session/own_models.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

class FitCommand final : public ColumnCommand {
public:
    std::string name() const override { return "fit"; }
    std::string purpose() const override { return "Fit a model or an equation to columns"; }

    void declare(CLI::App& app) override {
        ColumnCommand::declare(app);
        auto* model = app.add_option("--model", model_, "Key of a library model; several with + are a sum");
        app.add_option("--equation", equation_, "Equation, such as \"a*exp(-b*x)+c\"")->excludes(model);
        app.add_option("--model-file", modelFile_, "A file of an equation that was kept")->excludes(model);
        oneOrMore(app, "--setting,--set", set_, "Settings of the model, such as \"base=line\"");
        app.add_option("--start", start_,
                       "Start values, such as \"a=1,b=2\"; of an equation also rules, \"a=max(y)\"");
        app.add_option("--fix", fix_, "Fixed parameters, such as \"c=0\"");
        app.add_option("--limits", limits_, "Limits, such as \"b=0:10\"");
        app.add_option("--tie", tie_, "Ties, such as \"d=2*b\"");
        app.add_option("--shared", shared_, "Parameters with one value for all datasets, such as \"k,m\"");
        app.add_option("--weights", order_.weights,
                       "none, relative, absolute, 1/y, 1/y2, counting, column:NAME");
        app.add_flag("--absolute", order_.absolute, "The uncertainties are absolute");
        app.add_option("--sigma-x", order_.sigmaX, "Column of uncertainties of x: errors in both variables");
        app.add_option("--loss", loss_, "squares, huber, cauchy, bisquare");
        app.add_option("--interval", interval_, "asymptotic, profile, bootstrap");
        app.add_option("--resampling", resampling_, "Of the bootstrap: residuals, cases, parametric");
        app.add_option("--repetitions", repetitions_, "Of the bootstrap");
        app.add_option("--seed", seed_, "Of the bootstrap, and of further starts");
        oneOrMore(app, "--derive", derive_,
                  "A number from parameters and curve, such as \"tau=1/b\", \"A=area(0,5)\"");
        app.add_option("--starts", starts_, "From how many start values it is tried; the ends are listed");
        oneOrMore(app, "--release", release_,
                  "Parameters let free in a step before all are, such as \"height,centre\"; in order");
        others_.declare(app);
        app.add_option("--predict", predict_, "Values of x at which the curve is wanted");
        app.add_option("--level", level_, "Level of the intervals")->check(CLI::Range(0.5, 0.999999));
        app.add_flag("--correlation", correlation_, "Correlations also of more than 60 free parameters");
    }

protected:
    Result<void> completeOrder() override {
        if (auto good = takeModelFile(); !good) return good;
        auto model = modelNode();
        if (!model) return std::unexpected(model.error());
        order_.model = std::move(*model);
        if (auto made = analyses::modelOf(order_.model, {.predictors = order_.x.size()}); !made)
            return std::unexpected(made.error());
        if (auto good = addParameters(order_.parameters); !good) return good;
        if (auto good = addShared(); !good) return good;
        return addSettings();
    }

    Result<void> show(const analyses::AnalysisResult& result,
                      const std::vector<std::string>& warnings) override {
        FitOutput output{.name = model_,
                         .result = result,
                         .detail = *analyses::fitDetail(result),
                         .correlation = correlation_,
                         .warnings = warnings};
        if (output.name.empty()) output.name = output.detail.taken->model().formula();
        if (!predict_.empty()) {
            if (output.detail.taken->model().predictorCount() > 1)
                return failure("usage", "--predict needs a single predictor.");
            auto xs = numberList(predict_, "--predict");
            if (!xs) return std::unexpected(xs.error());
            output.predictAt = std::move(*xs);
        }
        if (json_)
            print(fitJson(output));
        else
            printFit(output);
        return {};
    }

private:
    Result<void> takeModelFile() {
        if (modelFile_.empty()) return {};
        const auto kept = readModelFile(modelFile_);
        if (!kept) return std::unexpected(kept.error());
        equation_ = kept->equation;
        rules_ = kept->starts;
        return {};
    }

    // The model as the project holds it. Errors: in the words of the command line.
    Result<ModelNode> modelNode() const {
        if (model_.empty() == equation_.empty())
            return failure("usage", "Give either --model or --equation.");
        if (model_.empty()) {
            ModelNode node{.kind = "equation"};
            node.settings.set("equation", Value(equation_));
            const auto list = assignments(start_, "--start");
            if (!list) return std::unexpected(list.error());
            std::string rules = rules_.empty() ? "" : rules_ + "; ";
            for (const auto& [name, value] : *list)
                if (!parseNumber(value)) rules += name + " = " + value + "; ";
            if (!rules.empty()) node.settings.set("starts", Value(rules));
            return node;
        }
        const auto calledCurves = called();
        if (!calledCurves) return std::unexpected(calledCurves.error());
        ModelNode sum{.kind = "sum"};
        for (std::string_view key : split(model_, '+')) {
            ModelNode part{.kind = std::string(trimmed(key)),
                           .component = static_cast<int>(sum.children.size()) + 1};
            const models::ModelKind* kind = models::catalogue().find(part.kind);
            if (!kind) return failure("unknown-model", models::makeModel(part.kind, {}).error().text);
            if (auto good = setPart(*kind, part.settings); !good) return std::unexpected(good.error());
            if (part.kind == "measured-curves") part.settings.set("curves", Value(*calledCurves));
            sum.children.push_back(std::move(part));
        }
        if (sum.children.size() > 1) return sum;
        sum.children.front().component = 0;
        return sum.children.front();
    }

    // What --setting says of a part. Of several parts each takes what it knows.
    Result<void> setPart(const models::ModelKind& kind, Settings& into) const {
        const bool alone = model_.find('+') == model_.npos;
        for (const std::string& text : set_) {
            const auto list = assignments(text, "--setting");
            if (!list) return std::unexpected(list.error());
            for (const auto& one : *list)
                if (alone || kind.info.find(one.first))
                    if (auto good = set(kind.info, {one}, into); !good) return good;
        }
        return {};
    }

    // Measured curves by their names, until their datasets are there.
    Result<References> called() const {
        const auto names = others_.names();
        if (!names) return std::unexpected(names.error());
        References out;
        for (const std::string& name : *names) out.push_back({name});
        return out;
    }
    Result<Project> completed(const Project& project, int& status) override {
        auto with =
            others_.addedTo(project, status, [this](const Issue& issue) { issues_.push_back(issue); });
        if (!with || with->datasets.size() == project.datasets.size()) return with;
        return withReferences(*with, [&](const Link& link) {
            for (std::size_t i = project.datasets.size(); i < with->datasets.size(); ++i)
                if (with->datasets[i].name == link.to) return with->datasets[i].id.text();
            return link.to;
        });
    }

    Result<void> addParameters(std::vector<ParameterChoice>& all) const {
        auto choice = [&](const std::string& name) -> ParameterChoice& {
            const auto at = std::ranges::find(all, name, &ParameterChoice::name);
            return at != all.end() ? *at : all.emplace_back(ParameterChoice{.name = name});
        };
        for (const auto& [option, text] : {std::pair("--start", &start_), std::pair("--fix", &fix_)}) {
            const auto list = assignments(*text, option);
            if (!list) return std::unexpected(list.error());
            for (const auto& [name, value] : *list) {
                const auto n = parseNumber(value);
                if (!n && text == &start_ && !equation_.empty()) continue; // a rule
                if (!n) return failure("usage", fmt::format("{}: “{}” is not a number.", option, value));
                choice(name).start = n;
                if (text == &fix_) choice(name).treatment = Treatment::Fixed;
            }
        }
        const auto limits = assignments(limits_, "--limits"), ties = assignments(tie_, "--tie");
        if (!limits) return std::unexpected(limits.error());
        if (!ties) return std::unexpected(ties.error());
        for (const auto& [name, text] : *limits) {
            const auto range = interval(text, "--limits");
            if (!range) return std::unexpected(range.error());
            choice(name).lower = range->first;
            choice(name).upper = range->second;
        }
        for (const auto& [name, formula] : *ties) {
            choice(name).treatment = Treatment::Tied;
            choice(name).tie = formula;
        }
        return {};
    }

    Result<void> addShared() {
        if (shared_.empty()) return {};
        if (!order_.separate && order_.group.empty())
            return failure("usage", "--shared needs several datasets: give --separate or --group.");
        for (std::string_view text : split(shared_, ',')) {
            const std::string name(trimmed(text));
            auto at = std::ranges::find(order_.parameters, name, &ParameterChoice::name);
            if (at == order_.parameters.end())
                at = order_.parameters.insert(at, ParameterChoice{.name = name});
            if (at->treatment == Treatment::Free) at->treatment = Treatment::Shared;
        }
        return {};
    }

    Result<void> addSettings() {
        Assignments list = {{"level", fmt::format("{}", level_)}};
        auto add = [&](const char* key, const std::string& text) {
            if (!text.empty()) list.emplace_back(key, text);
        };
        add("loss", loss_);
        add("interval", interval_);
        add("resampling", resampling_);
        add("repetitions", repetitions_);
        add("seed", seed_);
        add("starts", starts_);
        if (auto good = set(analyses::fitSettings(), list, order_.settings); !good) return good;
        RowList rows;
        for (const std::string& text : derive_) {
            const auto one = assignments(text, "--derive");
            if (!one) return std::unexpected(one.error());
            for (const auto& [name, formula] : *one) {
                Settings row;
                row.set("name", Value(name));
                row.set("formula", Value(formula));
                rows.push_back(std::move(row));
            }
        }
        setRows("derive", std::move(rows));
        RowList steps;
        for (const std::string& text : release_) steps.emplace_back().set("release", Value(text));
        setRows("schedule", std::move(steps));
        return {};
    }

    void setRows(const char* key, RowList rows) {
        if (!rows.empty()) order_.settings.set(key, Value(std::make_shared<const RowList>(std::move(rows))));
    }

    std::vector<std::string> set_, derive_, release_;
    OtherCurves others_;
    std::string modelFile_, rules_; // of the kept equation
    std::string starts_, model_, equation_, start_, fix_, limits_, tie_, shared_, predict_, loss_, interval_,
        resampling_, repetitions_, seed_;
    double level_ = 0.95;
    bool correlation_ = false;
};

} // namespace

std::unique_ptr<Command> fitCommand() {
    return std::make_unique<FitCommand>();
}

} // namespace jointer::cli
