// SPDX-License-Identifier: GPL-3.0-or-later
// The commands that analyse columns: `fit` with words of its own, `analyse` for a kind by its key.
#include "base/text.h"
#include "cli/commands.h"
#include "cli/fit_output.h"
#include "evaluate/evaluator.h"
#include "session/fit_order.h"

#include <CLI/CLI.hpp>
#include <cmath>
#include <fmt/format.h>
#include <iostream>
#include <map>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;
using Assignments = std::vector<std::pair<std::string, std::string>>;

// "a=1,b=2": names and texts; commas inside parentheses do not separate.
Result<Assignments> assignments(const std::string& text, const std::string& option) {
    Assignments out;
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

CLI::Option* oneOrMore(CLI::App& app, const std::string& name, std::vector<std::string>& into,
                       const std::string& help) {
    return app.add_option(name, into, help)->expected(1)->take_all()->allow_extra_args(false);
}

// What all commands that analyse columns share: the input, its columns, the span, and how they end.
class ColumnCommand : public Command {
public:
    void declare(CLI::App& app) override {
        input_.declare(app);
        oneOrMore(app, "--x", order_.x, "Column of the predictor; several are x1, x2 …")->required();
        oneOrMore(app, "--y", order_.y, "Column of the response; several are replicates")->required();
        oneOrMore(app, "--sigma", order_.sigma, "Column of uncertainties");
        app.add_flag("--separate", order_.separate, "Each --y is a dataset of its own");
        app.add_option("--group", order_.group, "A column: each of its texts is a dataset of its own");
        oneOrMore(app, "--span", spans_, "LOW:HIGH of x; several are pieces");
        app.add_flag("--outside", order_.span.outside, "What lies outside of the span");
        app.add_flag("--json", json_, "As JSON");
    }

    int run() override {
        if (auto good = completeOrder(); !good) return fail(good.error(), WrongUsage);
        for (const std::string& text : spans_) {
            const auto piece = interval(text, "--span");
            if (!piece) return fail(piece.error(), WrongUsage);
            order_.span.pieces.push_back(*piece);
        }
        auto reading = input_.read();
        if (!reading) return fail(reading.error(), CannotRead);
        issues_ = reading->issues;
        if (input_.table < 1 || static_cast<std::size_t>(input_.table) > reading->tables.size())
            return fail({"usage", "There is no table of this number.", {}}, WrongUsage);
        Table& table = reading->tables[static_cast<std::size_t>(input_.table) - 1].table;
        table.origin.file = input_.file;
        const auto project = projectOf(table, order_);
        if (!project)
            return fail(project.error(), project.error().code == "not-numbers" ? Failed : WrongUsage);
        evaluate::Evaluator evaluator;
        const auto outcome = evaluator.analysis(*project, project->analyses[0]);
        if (!outcome.exists()) return fail(outcome.result.error(), statusOf(outcome.result.error()));
        std::vector<std::string> warnings;
        for (const Issue& w : outcome.issues) warnings.push_back(w.text);
        for (const Issue& issue : issues_) warnings.push_back(issue.sentence());
        for (const auto& d : project->datasets) names_[d->id] = d->name;
        if (const auto shown = show(*outcome, warnings); !shown) return fail(shown.error(), WrongUsage);
        for (const std::string& warning : warnings) std::cerr << warning << '\n';
        return issues_.empty() && outcome->good ? Done : DoneWithWarnings;
    }

protected:
    virtual Result<void> completeOrder() = 0;
    virtual Result<void> show(const analyses::AnalysisResult& result,
                              const std::vector<std::string>& warnings) = 0;
    static Status statusOf(const Issue& issue) {
        static constexpr std::string_view kUsage[] = {"formula", "no-parameters", "setting"};
        return std::ranges::find(kUsage, issue.code) != std::end(kUsage) ? WrongUsage : Failed;
    }

    // Settings by text, as a kind describes them. Errors: a key that it has not, a value that does not fit.
    static Result<void> set(const KindInfo& info, const Assignments& list, Settings& into) {
        for (const auto& [key, text] : list) {
            const Setting* s = info.find(key);
            if (!s) return failure("usage", fmt::format("“{}” has no setting called {}.", info.name, key));
            const auto value = parseValue(*s, text);
            if (!value) return std::unexpected(value.error());
            into.set(key, *value);
        }
        return {};
    }

    InputOptions input_;
    FitOrder order_;
    std::vector<std::string> spans_;
    bool json_ = false;
    std::vector<Issue> issues_;              // of the reading
    std::map<DatasetId, std::string> names_; // of the datasets
};

class FitCommand final : public ColumnCommand {
public:
    std::string name() const override { return "fit"; }
    std::string purpose() const override { return "Fit a model or an equation to columns"; }

    void declare(CLI::App& app) override {
        ColumnCommand::declare(app);
        auto* model = app.add_option("--model", model_, "Key of a library model; several with + are a sum");
        app.add_option("--equation", equation_, "Equation, such as \"a*exp(-b*x)+c\"")->excludes(model);
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
        app.add_option("--seed", seed_, "Of the bootstrap");
        oneOrMore(app, "--derive", derive_, "A number from the parameters, such as \"tau=1/b\"");
        app.add_option("--predict", predict_, "Values of x at which the curve is wanted");
        app.add_option("--level", level_, "Level of the intervals")->check(CLI::Range(0.5, 0.999999));
        app.add_flag("--correlation", correlation_, "Correlations also of more than 60 free parameters");
    }

protected:
    Result<void> completeOrder() override {
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
    // The model as the project holds it. Errors: in the words of the command line.
    Result<ModelNode> modelNode() const {
        if (model_.empty() == equation_.empty())
            return failure("usage", "Give either --model or --equation.");
        if (model_.empty()) {
            ModelNode node{.kind = "equation"};
            node.settings.set("equation", Value(equation_));
            const auto list = assignments(start_, "--start");
            if (!list) return std::unexpected(list.error());
            std::string rules;
            for (const auto& [name, value] : *list)
                if (!parseNumber(value)) rules += name + " = " + value + "; ";
            if (!rules.empty()) node.settings.set("starts", Value(rules));
            return node;
        }
        ModelNode sum{.kind = "sum"};
        for (std::string_view key : split(model_, '+')) {
            ModelNode part{.kind = std::string(trimmed(key)),
                           .component = static_cast<int>(sum.children.size()) + 1};
            const models::ModelKind* kind = models::catalogue().find(part.kind);
            if (!kind) return failure("unknown-model", models::makeModel(part.kind, {}).error().text);
            for (const std::string& text : set_) {
                const auto list = assignments(text, "--setting");
                if (!list) return std::unexpected(list.error());
                if (auto good = set(kind->info, *list, part.settings); !good)
                    return std::unexpected(good.error());
            }
            sum.children.push_back(std::move(part));
        }
        if (sum.children.size() > 1) return sum;
        sum.children.front().component = 0;
        return sum.children.front();
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
        if (!rows.empty())
            order_.settings.set("derive", Value(std::make_shared<const RowList>(std::move(rows))));
        return {};
    }

    std::vector<std::string> set_, derive_;
    std::string model_, equation_, start_, fix_, limits_, tie_, shared_, predict_, loss_, interval_,
        resampling_, repetitions_, seed_;
    double level_ = 0.95;
    bool correlation_ = false;
};

// Any kind of analysis, by the description that it gives of itself.
class AnalyseCommand final : public ColumnCommand {
public:
    std::string name() const override { return "analyse"; }
    std::string purpose() const override { return "Any analysis of columns, such as a summary of a span"; }

    void declare(CLI::App& app) override {
        ColumnCommand::declare(app);
        app.add_option("--kind", order_.kind,
                       "Key of the analysis: " + joined(analyses::catalogue().keys(), ", "))
            ->required();
        oneOrMore(app, "--setting,--set", set_, "Its settings, such as \"level=0.9\"");
    }

protected:
    Result<void> completeOrder() override {
        const analyses::AnalysisKind* kind = analyses::catalogue().find(order_.kind);
        if (!kind)
            return failure("usage", fmt::format("There is no analysis called “{}”; there are {}.",
                                                order_.kind, joined(analyses::catalogue().keys(), ", ")));
        for (const std::string& text : set_) {
            const auto list = assignments(text, "--setting");
            if (!list) return std::unexpected(list.error());
            if (auto good = set(kind->info, *list, order_.settings); !good) return good;
        }
        return {};
    }

    Result<void> show(const analyses::AnalysisResult& result,
                      const std::vector<std::string>& warnings) override {
        if (!json_) {
            std::cout << result.sentence << "\n" << result.detail << "\n\n";
            DatasetId before;
            for (const analyses::Quantity& q : result.quantities) {
                if (names_.size() > 1 && q.member && q.member != before)
                    std::cout << "  " << names_[q.member] << "\n";
                before = q.member;
                const ValueText t = readableWithError(q.value, q.se);
                std::cout << fmt::format("  {:<24} {:>16} {:<14} {}\n", q.label, t.value,
                                         t.error.empty() ? "" : "± " + t.error, q.unit);
            }
            return {};
        }
        Json quantities = Json::array();
        for (const analyses::Quantity& q : result.quantities) {
            Json j = {{"key", q.key},       {"name", q.label},
                      {"unit", q.unit},     {"value", number(q.value)},
                      {"se", number(q.se)}, {"ci", {number(q.low), number(q.high)}},
                      {"state", q.state}};
            if (names_.size() > 1) j["member"] = q.member ? Json(names_[q.member]) : Json();
            quantities.push_back(std::move(j));
        }
        print({{"kind", order_.kind},
               {"state", result.state},
               {"sentence", result.sentence},
               {"quantities", quantities},
               {"warnings", warnings}});
        return {};
    }

private:
    std::vector<std::string> set_;
};

} // namespace

std::unique_ptr<Command> fitCommand() {
    return std::make_unique<FitCommand>();
}
std::unique_ptr<Command> analyseCommand() {
    return std::make_unique<AnalyseCommand>();
}

} // namespace jointer::cli
