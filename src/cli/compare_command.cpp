// SPDX-License-Identifier: GPL-3.0-or-later
// `compare`: several models over the same columns.
#include "analyses/comparison.h"
#include "analyses/fit_analysis.h"
#include "base/text.h"
#include "cli/column_command.h"
#include "cli/fitting_options.h"
#include "project/edit.h"

#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

class CompareCommand final : public ColumnCommand {
public:
    std::string name() const override { return "compare"; }
    std::string purpose() const override { return "Which of several models the points speak for"; }

    void declare(CLI::App& app) override {
        ColumnCommand::declare(app);
        oneOrMore(app, "--model", models_, "Key of a library model; give it for each");
        oneOrMore(app, "--equation", equations_, "An equation, such as \"a*exp(-b*x)+c\"");
        oneOrMore(app, "--setting,--set", set_, "Settings of the comparison, such as \"leave-out=points,parts=10\"");
        options_.declare(app, order_);
    }

protected:
    Result<void> completeOrder() override {
        for (const std::string& key : models_) {
            if (!models::catalogue().find(key)) return failure("unknown-model", models::makeModel(key, {}).error().text);
            nodes_.push_back({.kind = key});
            names_.push_back(key);
        }
        for (const std::string& text : equations_) {
            ModelNode node{.kind = "equation"};
            node.settings.set("equation", Value(text));
            if (auto made = analyses::modelOf(node, {.predictors = order_.x.size()}); !made) return std::unexpected(made.error());
            nodes_.push_back(std::move(node));
            names_.push_back(text);
        }
        if (nodes_.size() < 2) return failure("usage", "Give two models or more: --model A --model B.");
        if (nodes_.size() > analyses::catalogue().find("comparison")->slots.size())
            return failure("usage", fmt::format("At most {} models are compared at once.",
                                                analyses::catalogue().find("comparison")->slots.size()));
        order_.model = nodes_.front();
        return options_.addSettings(analyses::fitSettings(), order_.settings);
    }

    Result<Project> completed(const Project& project, int&) override {
        Project out = project;
        Analysis comparison{.kind = "comparison", .inputs = {{.dataset = project.datasets[0].id}}};
        for (const std::string& text : set_) {
            const auto list = assignments(text, "--setting");
            if (!list) return std::unexpected(list.error());
            if (auto good = set(analyses::comparisonSettings(), *list, comparison.settings); !good)
                return std::unexpected(good.error());
        }
        const Analysis first = project.analyses[0];
        comparison.analyses = {first.id};
        for (std::size_t k = 1; k < nodes_.size(); ++k) {
            Analysis other = first;
            other.id = {};
            other.model = nodes_[k];
            auto with = edits::addAnalysis(std::move(other)).apply(out);
            if (!with) return with;
            out = std::move(*with);
            comparison.analyses.push_back(out.analyses[out.analyses.size() - 1].id);
        }
        return edits::addAnalysis(std::move(comparison)).apply(out);
    }

    void takeFurther(const evaluate::AnalysisOutcome& outcome) override {
        if (analyses::comparisonDetail(*outcome)) compared_ = outcome.result.value();
    }

    Result<void> show(const analyses::AnalysisResult&, const std::vector<std::string>& warnings) override {
        if (!compared_) return failure("no-comparison", "The models could not be compared.");
        const auto& detail = *analyses::comparisonDetail(*compared_);
        json_ ? print(document(detail, warnings)) : printTable(detail);
        return {};
    }

private:
    Json document(const analyses::ComparisonDetail& d, const std::vector<std::string>& warnings) const {
        Json models = Json::array(), tests = Json::array();
        for (std::size_t k = 0; k < d.comparison.models.size(); ++k) {
            const fit::Compared& m = d.comparison.models[k];
            const auto of = [&](double fit::FitReport::* member) { return m.report ? number((*m.report).*member) : Json(); };
            models.push_back({{"model", names_[k]}, {"state", m.report ? Json(fit::stateKey(m.report->state)) : Json()},
                              {"k", m.k}, {"rss", of(&fit::FitReport::rss)}, {"aicc", of(&fit::FitReport::aicc)},
                              {"bic", of(&fit::FitReport::bic)}, {"weight", number(m.weight)},
                              {"prediction_error", number(m.predictionError)}});
        }
        for (const fit::NestedTest& t : d.comparison.tests)
            tests.push_back({{"simpler", names_[t.simpler]}, {"larger", names_[t.larger]},
                             {d.comparison.absolute ? "chi2" : "f", number(t.statistic)},
                             {"dof", d.comparison.absolute ? Json({t.dof[0]}) : Json({t.dof[0], t.dof[1]})},
                             {"p", number(t.p)}});
        return {{"models", models}, {d.comparison.absolute ? "chi2_tests" : "f_tests", tests},
                {"verdict", d.verdict.sentence}, {"against", d.verdict.against}, {"warnings", warnings}};
    }

    void printTable(const analyses::ComparisonDetail& d) const {
        std::cout << d.verdict.sentence << "\n";
        for (const std::string& against : d.verdict.against) std::cout << "But " << against << ".\n";
        std::cout << fmt::format("\n  {:<28} {:>3} {:>14} {:>12} {:>12} {:>8}\n", "model", "k", "residual sum", "AICc", "BIC", "weight");
        for (std::size_t k = 0; k < names_.size(); ++k) {
            const fit::Compared& m = d.comparison.models[k];
            if (!m.report) {
                std::cout << fmt::format("  {:<28} {}\n", names_[k], m.why);
                continue;
            }
            std::cout << fmt::format("  {:<28} {:>3} {:>14} {:>12} {:>12} {:>8.3f}", names_[k], m.k,
                                     readableNumber(m.report->rss, 6), readableNumber(m.report->aicc, 6),
                                     readableNumber(m.report->bic, 6), m.weight);
            if (std::isfinite(m.predictionError)) std::cout << "   predicts to " << readableNumber(m.predictionError, 4);
            std::cout << "\n";
        }
        for (const fit::NestedTest& t : d.comparison.tests)
            std::cout << fmt::format("  {} against {}: {} = {:.4g}, p = {:.3g}\n", names_[t.larger], names_[t.simpler],
                                     d.comparison.absolute ? "χ²" : "F", t.statistic, t.p);
    }

    std::vector<std::string> models_, equations_, set_, names_;
    std::vector<ModelNode> nodes_;
    FittingOptions options_;
    analyses::ResultPtr compared_;
};

} // namespace

std::unique_ptr<Command> compareCommand() {
    return std::make_unique<CompareCommand>();
}

} // namespace jointer::cli
