// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/fit_command.h"

#include "base/text.h"
#include "project/references.h"
#include "session/own_models.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace jointer::cli {

void FitCommand::declare(CLI::App& app) {
    ColumnCommand::declare(app);
    auto* model = app.add_option("--model", model_, "Key of a library model; several with + are a sum");
    app.add_option("--equation", equation_, "Equation, such as \"a*exp(-b*x)+c\"")->excludes(model);
    app.add_option("--model-file", modelFile_, "A file of an equation that was kept")->excludes(model);
    oneOrMore(app, "--setting,--set", set_, "Settings of the model, such as \"base=line\"");
    app.add_option("--shared", shared_, "Parameters with one value for all datasets, such as \"k,m\"");
    options_.declare(app, order_);
    others_.declare(app);
    app.add_option("--predict", predict_, "Values of x at which the curve is wanted");
    oneOrMore(app, "--doubt", doubts_, "A number: how it moves with span, weights, model and other choices");
    oneOrMore(app, "--region", regions_, "Two parameters, such as \"a,b\": their joint confidence region");
    app.add_flag("--influence", influence_,
                 "What each point weighs: leverage, standardised residual, distance of Cook");
    app.add_flag("--correlation", correlation_, "Correlations also of more than 60 free parameters");
}

Result<void> FitCommand::completeOrder() {
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

Result<void> FitCommand::lookAround(const Project& project, evaluate::Evaluator& evaluator) {
    for (const std::string& name : doubts_) {
        auto doubt = evaluate::doubtOf(project, project.analyses[0], project.datasets[0].id, name, evaluator);
        if (!doubt) return std::unexpected(doubt.error());
        found_.doubts.push_back(std::move(*doubt));
    }
    const auto outcome = evaluator.analysis(project, project.analyses[0]);
    const analyses::FitDetail* detail = analyses::fitDetail(*outcome);
    if (!regions_.empty() && !detail) return failure("usage", "A curve without a formula has no parameters.");
    for (const std::string& pair : regions_) {
        const auto names = split(pair, ',');
        if (names.size() != 2) return failure("usage", "--region takes two names, such as \"a,b\".");
        const fit::Correlation all = fit::correlation(detail->report); // names them, of several members too
        const auto placeOf = [&](std::string_view name) {
            const auto at = std::ranges::find(all.names, trimmed(name)) - all.names.begin();
            return at < std::ssize(all.names) ? all.places[static_cast<std::size_t>(at)]
                                              : fit::ParameterPlace{0, std::string(trimmed(name))};
        };
        auto region =
            fit::regionOf(detail->taken->problem, detail->report, placeOf(names[0]), placeOf(names[1]));
        if (!region) return std::unexpected(region.error());
        found_.regions.push_back(std::move(*region));
    }
    return {};
}

Result<std::vector<double>> FitCommand::predictedAt() const {
    if (predict_.empty()) return std::vector<double>();
    return numberList(predict_, "--predict");
}

FreeCurveOutput FitCommand::freeOutput(const analyses::AnalysisResult& result,
                                       const std::vector<std::string>& warnings,
                                       std::vector<double> at) const {
    return {model_, result, std::move(at), warnings};
}

Result<FitOutput> FitCommand::fitOutput(const analyses::AnalysisResult& result,
                                        const std::vector<std::string>& warnings,
                                        std::vector<double> at) const {
    FitOutput output{.name = model_,
                     .result = result,
                     .detail = *analyses::fitDetail(result),
                     .predictAt = std::move(at),
                     .correlation = correlation_,
                     .influence = influence_,
                     .doubts = found_.doubts,
                     .regions = found_.regions,
                     .warnings = warnings};
    if (output.name.empty()) output.name = output.detail.taken->model().formula();
    if (!output.predictAt.empty() && output.detail.taken->model().predictorCount() > 1)
        return failure("usage", "--predict needs a single predictor.");
    return output;
}

Result<nlohmann::ordered_json> FitCommand::documentOf(const analyses::AnalysisResult& result,
                                                      const std::vector<std::string>& warnings) const {
    auto at = predictedAt();
    if (!at) return std::unexpected(at.error());
    if (isFree()) return freeCurveJson(freeOutput(result, warnings, std::move(*at)));
    const auto output = fitOutput(result, warnings, std::move(*at));
    if (!output) return std::unexpected(output.error());
    return fitJson(*output);
}

Result<void> FitCommand::show(const analyses::AnalysisResult& result,
                              const std::vector<std::string>& warnings) {
    if (json_) {
        const auto document = documentOf(result, warnings);
        if (!document) return std::unexpected(document.error());
        print(*document);
        return {};
    }
    auto at = predictedAt();
    if (!at) return std::unexpected(at.error());
    if (isFree()) {
        printFreeCurve(freeOutput(result, warnings, std::move(*at)));
        return {};
    }
    const auto output = fitOutput(result, warnings, std::move(*at));
    if (!output) return std::unexpected(output.error());
    printFit(*output);
    return {};
}

Result<void> FitCommand::orderFreeCurve() {
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

Result<void> FitCommand::takeModelFile() {
    if (modelFile_.empty()) return {};
    const auto kept = readModelFile(modelFile_);
    if (!kept) return std::unexpected(kept.error());
    equation_ = kept->equation;
    rules_ = kept->starts;
    return {};
}

Result<ModelNode> FitCommand::modelNode() const {
    if (model_.empty() == equation_.empty()) return failure("usage", "Give either --model or --equation.");
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

Result<void> FitCommand::setPart(const models::ModelKind& kind, Settings& into) const {
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

Result<References> FitCommand::called() const {
    const auto names = others_.names();
    if (!names) return std::unexpected(names.error());
    References out;
    for (const std::string& name : *names) out.push_back({name});
    return out;
}

Result<Project> FitCommand::completed(const Project& project, int& status) {
    auto with = others_.addedTo(project, status, [this](const Issue& issue) { issues_.push_back(issue); });
    if (!with || with->datasets.size() == project.datasets.size()) return with;
    return withReferences(*with, [&](const Link& link) {
        for (std::size_t i = project.datasets.size(); i < with->datasets.size(); ++i)
            if (with->datasets[i].name == link.to) return with->datasets[i].id.text();
        return link.to;
    });
}

Result<void> FitCommand::addShared() {
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

std::unique_ptr<Command> fitCommand() {
    return std::make_unique<FitCommand>();
}

} // namespace jointer::cli
