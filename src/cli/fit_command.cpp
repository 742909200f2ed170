// SPDX-License-Identifier: GPL-3.0-or-later
// `fit`, with words of its own.
#include "base/text.h"
#include "cli/column_command.h"
#include "cli/fit_output.h"
#include "cli/fitting_options.h"
#include "cli/free_curve_output.h"
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
        app.add_option("--shared", shared_, "Parameters with one value for all datasets, such as \"k,m\"");
        options_.declare(app, order_);
        others_.declare(app);
        app.add_option("--predict", predict_, "Values of x at which the curve is wanted");
        app.add_flag("--correlation", correlation_, "Correlations also of more than 60 free parameters");
    }

protected:
    Result<void> completeOrder() override {
        if (isFree()) return orderFreeCurve();
        if (auto good = takeModelFile(); !good) return good;
        auto model = modelNode();
        if (!model) return std::unexpected(model.error());
        order_.model = std::move(*model);
        if (auto made = analyses::modelOf(order_.model, {.predictors = order_.x.size()}); !made)
            return std::unexpected(made.error());
        if (auto good = options_.addParameters(order_.parameters, !equation_.empty()); !good) return good;
        if (auto good = addShared(); !good) return good;
        return options_.addSettings(analyses::fitSettings(), order_.settings);
    }

    Result<void> show(const analyses::AnalysisResult& result,
                      const std::vector<std::string>& warnings) override {
        auto xs = numberList(predict_, "--predict");
        if (!predict_.empty() && !xs) return std::unexpected(xs.error());
        if (isFree()) {
            const FreeCurveOutput free{model_, result, predict_.empty() ? std::vector<double>() : *xs, warnings};
            if (json_)
                print(freeCurveJson(free));
            else
                printFreeCurve(free);
            return {};
        }
        FitOutput output{.name = model_,
                         .result = result,
                         .detail = *analyses::fitDetail(result),
                         .correlation = correlation_,
                         .warnings = warnings};
        if (output.name.empty()) output.name = output.detail.taken->model().formula();
        if (!predict_.empty()) {
            if (output.detail.taken->model().predictorCount() > 1)
                return failure("usage", "--predict needs a single predictor.");
            output.predictAt = std::move(*xs);
        }
        if (json_)
            print(fitJson(output));
        else
            printFit(output);
        return {};
    }

private:
    // Curves without a formula are called like models: "loess", "smoothing-spline", "interpolate".
    bool isFree() const {
        const Setting* method = analyses::freeCurveSettings().find("method");
        return std::ranges::find(method->choices, model_, &Choice::key) != method->choices.end();
    }
    Result<void> orderFreeCurve() {
        if (order_.x.size() > 1) return failure("usage", "A curve without a formula has a single predictor.");
        const KindInfo& info = analyses::freeCurveSettings();
        order_.kind = info.key;
        order_.settings.set("method", Value(model_));
        for (const std::string& text : set_) {
            auto list = assignments(text, "--setting");
            if (!list) return std::unexpected(list.error());
            std::erase_if(*list, [](const auto& one) { return one.second == "auto"; });
            if (auto good = set(info, *list, order_.settings); !good) return good;
        }
        return set(info, {{"level", fmt::format("{}", options_.level())}}, order_.settings);
    }
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
            const auto list = assignments(options_.start(), "--start");
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

    Result<void> addShared() {
        if (shared_.empty()) return {};
        if (!order_.separate && order_.group.empty())
            return failure("usage", "--shared needs several datasets: give --separate or --group.");
        for (std::string_view text : split(shared_, ',')) {
            const std::string name(trimmed(text));
            ParameterChoice& choice = choiceIn(order_.parameters, name);
            if (choice.treatment == Treatment::Free) choice.treatment = Treatment::Shared;
        }
        return {};
    }

    std::vector<std::string> set_;
    FittingOptions options_;
    OtherCurves others_;
    std::string modelFile_, rules_; // of the kept equation
    std::string model_, equation_, shared_, predict_;
    bool correlation_ = false;
};

} // namespace

std::unique_ptr<Command> fitCommand() {
    return std::make_unique<FitCommand>();
}

} // namespace jointer::cli
