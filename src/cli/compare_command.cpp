// SPDX-License-Identifier: GPL-3.0-or-later
// `compare`: several models over the same columns.
#include "analyses/comparison.h"
#include "analyses/fit_analysis.h"
#include "analyses/free_curve.h"
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
        oneOrMore(app, "--model", models_,
                  "Key of a library model, or loess, smoothing-spline; give it for each");
        oneOrMore(app, "--equation", equations_, "An equation, such as \"a*exp(-b*x)+c\"");
        oneOrMore(app, "--setting,--set", set_,
                  "Settings of the comparison, such as \"leave-out=points,parts=10\"");
        options_.declare(app, order_);
    }

protected:
    Result<void> completeOrder() override {
        for (const std::string& key : models_) {
            if (!analyses::isFreeCurve(key) && !models::catalogue().find(key))
                return failure("unknown-model", models::makeModel(key, {}).error().text);
            asked_.push_back({key, {.kind = key}});
        }
        for (const std::string& text : equations_) {
            ModelNode node{.kind = "equation"};
            node.settings.set("equation", Value(text));
            if (auto made = analyses::modelOf(node, {.predictors = order_.x.size()}); !made)
                return std::unexpected(made.error());
            asked_.push_back({text, std::move(node)});
        }
        const std::size_t most = analyses::catalogue().find("comparison")->slots.size();
        if (asked_.size() < 2) return failure("usage", "Give two models or more: --model A --model B.");
        if (asked_.size() > most)
            return failure("usage", fmt::format("At most {} models are compared at once.", most));
        const auto formula =
            std::ranges::find_if(asked_, [](const Asked& a) { return !analyses::isFreeCurve(a.node.kind); });
        if (formula == asked_.end())
            return failure("usage",
                           "Give a model with a formula too: curves without one are compared with it.");
        order_.model = formula->node;
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
        bool isThere = false; // the first formula has been fitted by the order itself
        for (const Asked& a : asked_) {
            if (!isThere && !analyses::isFreeCurve(a.node.kind)) {
                isThere = true;
                comparison.analyses.push_back(first.id);
                continue;
            }
            auto with = edits::addAnalysis(analysisOf(a, first)).apply(out);
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
    struct Asked {
        std::string name; // as it was given
        ModelNode node;   // of a curve without a formula its method alone
    };

    static Analysis analysisOf(const Asked& asked, const Analysis& like) {
        if (analyses::isFreeCurve(asked.node.kind)) {
            Analysis curve{.kind = analyses::freeCurveSettings().key, .inputs = like.inputs};
            curve.settings.set("method", Value(asked.node.kind));
            return curve;
        }
        Analysis fit = like;
        fit.id = {};
        fit.model = asked.node;
        return fit;
    }

    Json document(const analyses::ComparisonDetail& d, const std::vector<std::string>& warnings) const {
        Json models = Json::array(), tests = Json::array();
        for (std::size_t k = 0; k < d.comparison.models.size(); ++k) {
            const fit::Compared& m = d.comparison.models[k];
            models.push_back({{"model", asked_[k].name},
                              {"state", m.report ? Json(fit::stateKey(m.report->state)) : Json()},
                              {"k", number(m.k)},
                              {"rss", number(m.rss)},
                              {"aicc", number(m.aicc)},
                              {"bic", number(m.bic)},
                              {"weight", number(m.weight)},
                              {"prediction_error", number(m.predictionError)}});
        }
        for (const fit::NestedTest& t : d.comparison.tests)
            tests.push_back({{"simpler", asked_[t.simpler].name},
                             {"larger", asked_[t.larger].name},
                             {d.comparison.absolute ? "chi2" : "f", number(t.statistic)},
                             {"dof", d.comparison.absolute ? Json({t.dof[0]}) : Json({t.dof[0], t.dof[1]})},
                             {"p", number(t.p)}});
        return {{"models", models},
                {d.comparison.absolute ? "chi2_tests" : "f_tests", tests},
                {"verdict", d.verdict.sentence},
                {"against", d.verdict.against},
                {"warnings", warnings}};
    }

    void printTable(const analyses::ComparisonDetail& d) const {
        std::cout << d.verdict.sentence << "\n";
        for (const std::string& against : d.verdict.against) std::cout << "But " << against << ".\n";
        std::cout << fmt::format("\n  {:<28} {:>4} {:>14} {:>12} {:>12} {:>8}\n", "model", "k",
                                 "residual sum", "AICc", "BIC", "weight");
        for (std::size_t k = 0; k < asked_.size(); ++k) {
            const fit::Compared& m = d.comparison.models[k];
            if (!m.report && !m.free) {
                std::cout << fmt::format("  {:<28} {}\n", asked_[k].name, m.why);
                continue;
            }
            std::cout << fmt::format("  {:<28} {:>4.3g} {:>14} {:>12} {:>12} {:>8.3f}", asked_[k].name, m.k,
                                     readableNumber(m.rss, 6), readableNumber(m.aicc, 6),
                                     readableNumber(m.bic, 6), m.weight);
            if (std::isfinite(m.predictionError))
                std::cout << "   predicts to " << readableNumber(m.predictionError, 4);
            std::cout << "\n";
        }
        for (const fit::NestedTest& t : d.comparison.tests)
            std::cout << fmt::format("  {} against {}: {} = {:.4g}, p = {:.3g}\n", asked_[t.larger].name,
                                     asked_[t.simpler].name, d.comparison.absolute ? "χ²" : "F", t.statistic,
                                     t.p);
    }

    std::vector<std::string> models_, equations_, set_;
    std::vector<Asked> asked_;
    FittingOptions options_;
    analyses::ResultPtr compared_;
};

} // namespace

std::unique_ptr<Command> compareCommand() {
    return std::make_unique<CompareCommand>();
}

} // namespace jointer::cli
