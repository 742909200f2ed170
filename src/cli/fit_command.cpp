// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "base/text.h"
#include "evaluate/evaluator.h"
#include "models/catalogue.h"
#include "session/fit_order.h"

#include <CLI/CLI.hpp>
#include <cmath>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>
#include <tuple>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

// "a=1,b=2": names and texts; commas inside parentheses do not separate.
Result<std::vector<std::pair<std::string, std::string>>> assignments(const std::string& text,
                                                                     const char* option) {
    std::vector<std::pair<std::string, std::string>> out;
    std::string now;
    int depth = 0;
    auto finish = [&]() -> bool {
        const std::size_t at = now.find('=');
        if (at == std::string::npos) return false;
        out.emplace_back(trimmed(now.substr(0, at)), trimmed(now.substr(at + 1)));
        now.clear();
        return true;
    };
    const auto bad = [&] {
        return failure("usage",
                       fmt::format("{} takes assignments such as \"a=1,b=2\", not “{}”.", option, text));
    };
    for (char c : text) {
        depth += c == '(' ? 1 : c == ')' ? -1 : 0;
        if (c == ',' && depth == 0) {
            if (!finish()) return bad();
        } else
            now += c;
    }
    if (!trimmed(now).empty() && !finish()) return bad();
    return out;
}

Result<std::pair<double, double>> interval(std::string_view text, const char* option) {
    const std::size_t colon = text.find(':');
    const auto side = [](std::string_view t, double open) {
        return trimmed(t).empty() ? std::optional(open) : parseNumber(t);
    };
    const auto low = colon == std::string_view::npos ? std::nullopt : side(text.substr(0, colon), -INFINITY);
    const auto high = colon == std::string_view::npos ? std::nullopt : side(text.substr(colon + 1), INFINITY);
    if (!low || !high || *low > *high)
        return failure("usage", fmt::format("{} takes LOW:HIGH, not “{}”.", option, text));
    return std::pair(*low, *high);
}

class FitCommand final : public Command {
public:
    std::string name() const override { return "fit"; }
    std::string purpose() const override { return "Fit a model or an equation to columns"; }

    void declare(CLI::App& app) override {
        input_.declare(app);
        app.add_option("--x", x_, "Column of the predictor; several are x1, x2 …")
            ->required()
            ->expected(1)
            ->take_all()
            ->allow_extra_args(false);
        app.add_option("--y", y_, "Column of the response; several are replicates")
            ->required()
            ->expected(1)
            ->take_all()
            ->allow_extra_args(false);
        app.add_option("--sigma", sigma_, "Column of uncertainties");
        auto* model = app.add_option("--model", model_, "Key of a library model");
        app.add_option("--equation", equation_, "Equation, such as \"a*exp(-b*x)+c\"")->excludes(model);
        app.add_option("--set", set_, "Settings of the model, such as \"base=line\"");
        app.add_option("--start", start_, "Start values, such as \"a=1,b=2\"");
        app.add_option("--fix", fix_, "Fixed parameters, such as \"c=0\"");
        app.add_option("--limits", limits_, "Limits, such as \"b=0:10\"");
        app.add_option("--tie", tie_, "Ties, such as \"d=2*b\"");
        app.add_option("--span", span_, "LOW:HIGH of x");
        app.add_option("--predict", predict_, "Values of x at which the curve is wanted");
        app.add_option("--level", level_, "Level of the intervals")->check(CLI::Range(0.5, 0.999999));
        app.add_flag("--absolute", absolute_, "The uncertainties are absolute");
        app.add_flag("--json", json_, "As JSON");
    }

    int run() override {
        auto order = makeOrder();
        if (!order) return fail(order.error(), WrongUsage);
        auto reading = input_.read();
        if (!reading) return fail(reading.error(), CannotRead);
        issues_ = reading->issues;
        if (input_.table < 1 || static_cast<std::size_t>(input_.table) > reading->tables.size())
            return fail({"usage", "There is no table of this number.", {}}, WrongUsage);
        Table& table = reading->tables[static_cast<std::size_t>(input_.table) - 1].table;
        table.origin.file = input_.file;
        const auto project = projectOf(table, *order);
        if (!project)
            return fail(project.error(), project.error().code == "not-numbers" ? Failed : WrongUsage);
        evaluate::Evaluator evaluator;
        const evaluate::FitResult fitted = evaluator.fit(*project, project->analyses[0]);
        if (!fitted.model) return fail(fitted.report.error(), WrongUsage);
        if (!fitted.good()) return fail(fitted.report.error(), Failed);
        const auto predicted = predict(fitted);
        if (!predicted) return fail(predicted.error(), WrongUsage);
        for (const Issue& issue : issues_) say(issue);
        for (const Issue& w : fitted.report->warnings) say(w);
        if (json_)
            printJson(*fitted.model, *fitted.report, *predicted);
        else
            printForPeople(*fitted.model, *fitted.report, *predicted);
        return issues_.empty() && fitted.report->state == fit::FitState::Converged ? Done : DoneWithWarnings;
    }

private:
    // The model as the project holds it. Errors: in the words of the command line.
    Result<ModelNode> modelNode() const {
        if (model_.empty() == equation_.empty())
            return failure("usage", "Give either --model or --equation.");
        ModelNode node{.kind = model_.empty() ? "equation" : model_};
        if (model_.empty()) {
            node.settings.set("equation", Value(equation_));
            return node;
        }
        const auto given = assignments(set_, "--set");
        if (!given) return std::unexpected(given.error());
        const models::ModelKind* kind = models::catalogue().find(model_);
        for (const auto& [key, text] : *given) {
            const Setting* s = kind ? kind->info.find(key) : nullptr;
            if (!s)
                return failure("usage", fmt::format("The model {} has no setting called {}.", model_, key));
            const auto value = parseValue(*s, text);
            if (!value) return std::unexpected(value.error());
            node.settings.set(key, *value);
        }
        return node;
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

    Result<FitOrder> makeOrder() const {
        FitOrder order{.x = x_, .y = y_, .sigma = sigma_, .absolute = absolute_, .level = level_};
        auto model = modelNode();
        if (!model) return std::unexpected(model.error());
        order.model = std::move(*model);
        if (auto made = evaluate::modelOf(order.model, x_.size()); !made)
            return std::unexpected(made.error());
        if (auto good = addParameters(order.parameters); !good) return std::unexpected(good.error());
        if (!span_.empty()) {
            const auto given = interval(span_, "--span");
            if (!given) return std::unexpected(given.error());
            std::tie(order.low, order.high) = *given;
        }
        if (absolute_ && sigma_.empty())
            return failure("usage", "--absolute needs the uncertainties: give --sigma.");
        return order;
    }

    struct Predicted {
        std::vector<double> x;
        fit::Prediction at;
    };
    Result<Predicted> predict(const evaluate::FitResult& fitted) const {
        Predicted p;
        if (predict_.empty()) return p;
        if (!fitted.isCurve()) return failure("usage", "--predict needs a single predictor.");
        auto xs = numberList(predict_, "--predict");
        if (!xs) return std::unexpected(xs.error());
        p.x = *xs;
        p.at = fitted.sample(p.x);
        return p;
    }

    void printJson(const models::Model& model, const fit::FitReport& r, const Predicted& predicted) const {
        Json parameters = Json::array(), correlation = Json::array(), predictions = Json::array(),
             warnings = Json::array(), derived = Json::array();
        for (const auto& p : r.parameters)
            parameters.push_back({{"name", p.name},
                                  {"value", number(p.value)},
                                  {"se", number(p.se)},
                                  {"ci", {number(p.low), number(p.high)}},
                                  {"fixed", p.treatment == fit::Treatment::Fixed},
                                  {"at_limit", p.atLimit},
                                  {"determined", p.determined}});
        for (const auto& d : r.derived)
            derived.push_back({{"name", d.name}, {"value", number(d.value)}, {"se", number(d.se)}});
        for (Eigen::Index i = 0; i < r.correlation.rows(); ++i) {
            Json row = Json::array();
            for (Eigen::Index k = 0; k < r.correlation.cols(); ++k)
                row.push_back(number(r.correlation(i, k)));
            correlation.push_back(row);
        }
        for (std::size_t i = 0; i < predicted.x.size(); ++i) {
            const double y = predicted.at.y[i], c = predicted.at.confidence[i],
                         p = predicted.at.prediction[i];
            predictions.push_back({{"x", predicted.x[i]},
                                   {"y", number(y)},
                                   {"confidence", {number(y - c), number(y + c)}},
                                   {"prediction", {number(y - p), number(y + p)}}});
        }
        for (const Issue& w : r.warnings) warnings.push_back(w.text);
        for (const Issue& w : issues_) warnings.push_back(w.sentence());
        print({{"model", model_.empty() ? model.formula() : model_},
               {"formula", model.formula()},
               {"n", r.n},
               {"dof", r.dof},
               {"state", fit::stateKey(r.state)},
               {"iterations", r.iterations},
               {"restarts", r.restarts},
               {"parameters", parameters},
               {"derived", derived},
               {"rss", number(r.rss)},
               {"residual_sd", number(r.residualSd)},
               {"chi2", r.chi2 ? number(*r.chi2) : Json()},
               {"reduced_chi2", r.reducedChi2 ? number(*r.reducedChi2) : Json()},
               {"r2", number(r.r2)},
               {"adjusted_r2", number(r.adjustedR2)},
               {"aicc", number(r.aicc)},
               {"bic", number(r.bic)},
               {"correlation", correlation},
               {"predicted", predictions},
               {"warnings", warnings}});
    }

    void printForPeople(const models::Model& model, const fit::FitReport& r,
                        const Predicted& predicted) const {
        std::cout << model.formula() << "\n"
                  << counted(static_cast<long long>(r.n), "point") << ", " << fit::stateText(r.state)
                  << " after " << counted(r.iterations, "iteration") << "\n\n";
        for (const auto& p : r.parameters) {
            const ValueText t = readableWithError(p.value, p.se);
            std::cout << fmt::format("  {:<14} {:>16} {}\n", p.name, t.value,
                                     p.treatment == fit::Treatment::Fixed ? "fixed"
                                     : t.error.empty()                    ? ""
                                                                          : "± " + t.error);
        }
        for (const auto& d : r.derived) {
            const ValueText t = readableWithError(d.value, d.se);
            std::cout << fmt::format("  {:<14} {:>16} {}\n", d.name, t.value,
                                     t.error.empty() ? "" : "± " + t.error);
        }
        std::cout << fmt::format("\n  R² {:.6g}   residual SD {:.6g}   AICc {:.5g}   BIC {:.5g}\n", r.r2,
                                 r.residualSd, r.aicc, r.bic);
        if (r.reducedChi2) std::cout << fmt::format("  χ² {:.6g}   χ²/dof {:.6g}\n", *r.chi2, *r.reducedChi2);
        for (std::size_t i = 0; i < predicted.x.size(); ++i)
            std::cout << fmt::format("  at x = {}: {} ± {} (confidence), ± {} (prediction)\n",
                                     shortestNumber(predicted.x[i]), readableNumber(predicted.at.y[i], 8),
                                     readableNumber(predicted.at.confidence[i], 3),
                                     readableNumber(predicted.at.prediction[i], 3));
    }

    InputOptions input_;
    std::vector<std::string> x_, y_;
    std::string sigma_, model_, equation_, set_, start_, fix_, limits_, tie_, span_, predict_;
    double level_ = 0.95;
    bool absolute_ = false, json_ = false;
    std::vector<Issue> issues_;
};

class ModelsCommand final : public Command {
public:
    std::string name() const override { return "models"; }
    std::string purpose() const override { return "List the library of models"; }
    void declare(CLI::App& app) override { app.add_flag("--json", json_, "As JSON"); }
    int run() override {
        Json all = Json::array();
        for (const models::ModelKind& kind : models::catalogue()) {
            const models::ModelPtr model = kind.make({});
            if (!json_) {
                std::cout << fmt::format("{:<18} {:<34} {}\n", kind.info.key, kind.info.name,
                                         model->formula());
                continue;
            }
            Json parameters = Json::array(), settings = Json::array();
            for (const auto& p : model->parameters())
                parameters.push_back({{"name", p.name}, {"meaning", p.meaning}, {"unit", p.unit}});
            for (const Setting& s : kind.info.settings) {
                Json choices = Json::array();
                for (const Choice& c : s.choices) choices.push_back(c.key);
                settings.push_back(
                    {{"key", s.key}, {"name", s.label}, {"help", s.help}, {"choices", choices}});
            }
            all.push_back({{"key", kind.info.key},
                           {"name", kind.info.name},
                           {"group", kind.info.group},
                           {"purpose", kind.info.purpose},
                           {"formula", model->formula()},
                           {"parameters", parameters},
                           {"settings", settings}});
        }
        if (json_) print(all);
        return Done;
    }

private:
    bool json_ = false;
};

} // namespace

std::unique_ptr<Command> fitCommand() {
    return std::make_unique<FitCommand>();
}
std::unique_ptr<Command> modelsCommand() {
    return std::make_unique<ModelsCommand>();
}

} // namespace jointer::cli
