// SPDX-License-Identifier: GPL-3.0-or-later
// `derive`: numbers by a formula, from the analyses of a project or from values that are typed.
#include "analyses/derived/derived.h"
#include "base/text.h"
#include "cli/column_command.h"
#include "session/session.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

struct Given {
    std::string name, unit;
    double value = 0, error = NAN;
};

std::vector<std::string> wordsOf(std::string_view text) {
    std::vector<std::string> words;
    for (std::string_view word : split(text, ' '))
        if (!trimmed(word).empty()) words.emplace_back(trimmed(word));
    return words;
}

// "k = 0.12 ± 0.01 1/h"; the error may be written +- or be left out.
Result<Given> givenFrom(const std::string& text) {
    const auto wrong = [&] {
        return failure("usage",
                       fmt::format("“{}” is not understood: write a value as k = 0.12 ± 0.01 1/h.", text));
    };
    const std::size_t equals = text.find('=');
    if (equals == text.npos) return wrong();
    Given out{.name = std::string(trimmed(text.substr(0, equals)))};
    std::string rest(trimmed(text.substr(equals + 1)));
    for (std::string_view sign : {"±", "+-", "+/-"})
        if (const std::size_t at = rest.find(sign); at != rest.npos) {
            rest = rest.substr(0, at) + " ± " + rest.substr(at + sign.size());
            break;
        }
    const std::vector<std::string> words = wordsOf(rest);
    std::size_t next = 0;
    const auto take = [&](double& into) {
        const auto value = next < words.size() ? parseNumber(words[next]) : std::nullopt;
        if (value) into = *value, ++next;
        return value.has_value();
    };
    if (out.name.empty() || !take(out.value)) return wrong();
    if (next < words.size() && words[next] == "±") {
        ++next;
        if (!take(out.error) || !(out.error >= 0)) return wrong();
    }
    out.unit = joined(std::vector(words.begin() + static_cast<std::ptrdiff_t>(next), words.end()), " ");
    if (const auto unit = Unit::parse(out.unit); !unit)
        return failure("usage", fmt::format("The unit of {}: {}", out.name, unit.error().text));
    return out;
}

class DeriveCommand final : public Command {
public:
    std::string name() const override { return "derive"; }
    std::string purpose() const override { return "Numbers by a formula, with error, interval and unit"; }

    void declare(CLI::App& app) override {
        app.add_option("project", project_, "A project, whose analyses the formulas may name");
        oneOrMore(app, "--formula", formulas_, "A formula, such as \"half_life [d] = ln(2)/k\"")->required();
        oneOrMore(app, "--analysis", analyses_,
                  "An analysis by its name or its dataset's; numbers of the first are A, of the second B");
        oneOrMore(app, "--given", given_, "A number, such as \"k = 0.12 ± 0.01 1/h\"");
        oneOrMore(app, "--correlation", correlations_, "Of two of them, such as \"a b 0.93\"");
        app.add_option("--dof", dof_,
                       "Degrees of freedom of the given errors; without, they are known exactly");
        app.add_option("--errors", errors_, "How errors are carried: automatic, first-order or simulated")
            ->check(CLI::IsMember({"automatic", "first-order", "simulated"}));
        app.add_flag("--json", json_, "As JSON");
    }

    int run() override {
        auto formulas = analyses::derivedFormulas(joined(formulas_, "\n"));
        if (!formulas) return fail(formulas.error(), WrongUsage);
        task_.formulas = std::move(*formulas);
        task_.errors = analyses::derivedErrors(errors_);
        if (!given_.empty())
            if (const auto done = takeGiven(); !done) return fail(done.error(), WrongUsage);
        if (!project_.empty())
            if (const int status = takeProject(); status != Done) return status;
        const auto out = analyses::derive(task_);
        if (!out) return fail(out.error(), out.error().code == "name" ? WrongUsage : Failed);
        show(*out);
        for (const Issue& issue : out->issues) say(issue);
        return out->issues.empty() ? Done : DoneWithWarnings;
    }

private:
    Result<void> takeGiven() {
        const auto n = static_cast<Eigen::Index>(given_.size());
        std::map<std::string, Eigen::Index> places;
        typed_.good = true;
        Eigen::VectorXd errors(n);
        for (const std::string& text : given_) {
            const auto g = givenFrom(text);
            if (!g) return std::unexpected(g.error());
            const auto at = static_cast<Eigen::Index>(typed_.quantities.size());
            if (!places.emplace(g->name, at).second) return failure("usage", g->name + " is given twice.");
            const bool exact = std::isnan(g->error);
            typed_.quantities.push_back({.key = g->name,
                                         .label = g->name,
                                         .unit = g->unit,
                                         .value = g->value,
                                         .se = exact ? 0 : g->error,
                                         .state = exact ? "fixed" : "given"});
            errors[at] = exact ? 0 : g->error;
        }
        Eigen::MatrixXd correlation = Eigen::MatrixXd::Identity(n, n);
        for (const std::string& text : correlations_) {
            const std::vector<std::string> words = wordsOf(text);
            const auto r = words.size() == 3 ? parseNumber(words[2]) : std::nullopt;
            if (!r || std::abs(*r) > 1 || !places.contains(words[0]) || !places.contains(words[1]))
                return failure("usage", "“" + text +
                                            "” is not understood: write two given names and a number "
                                            "between −1 and 1, such as \"a b 0.93\".");
            correlation(places[words[0]], places[words[1]]) =
                correlation(places[words[1]], places[words[0]]) = *r;
        }
        const Eigen::LLT<Eigen::MatrixXd> root(correlation + 1e-13 * Eigen::MatrixXd::Identity(n, n));
        if (root.info() != Eigen::Success)
            return failure("usage", "These correlations contradict each other.");
        const Eigen::MatrixXd rows = errors.asDiagonal() * Eigen::MatrixXd(root.matrixL());
        for (Eigen::Index i = 0; i < n; ++i) typed_.covariance.add({.common = rows.row(i)});
        if (dof_ > 0)
            typed_.quality.push_back({.key = "dof", .label = "dof", .value = dof_, .state = "quality"});
        task_.sources.push_back({.name = "given", .result = &typed_});
        return {};
    }

    int takeProject() {
        const auto opened = session_.open(project_);
        if (!opened) return fail(opened.error(), CannotRead);
        const Project& p = session_.project();
        for (const std::string& wanted : analyses_) {
            const Analysis* found = nullptr;
            DatasetId of;
            for (const auto& a : p.analyses) {
                const bool called = analyses::nameOf(*a) == wanted;
                for (const AnalysisInput& in : a->inputs) {
                    const auto d = p.datasets.find(in.dataset);
                    if (d && (called || d->name == wanted) && !found)
                        found = a.get(), of = called ? DatasetId{} : d->id;
                }
            }
            if (!found)
                return fail(
                    {"no-analysis",
                     fmt::format("Nothing is called “{}”: neither an analysis nor a dataset that has one.",
                                 wanted),
                     {}},
                    WrongUsage);
            const auto outcome = session_.evaluator().analysis(p, *found);
            if (!outcome.exists()) return fail(outcome.result.error(), Failed);
            results_.push_back(*outcome.result);
            task_.sources.push_back({.name = wanted, .result = results_.back().get(), .member = of});
            const auto d = p.datasets.find(of ? of : found->inputs.front().dataset);
            for (const Attribute& a : d ? d->attributes : std::vector<Attribute>())
                if (const auto value = parseNumber(a.value)) {
                    task_.attributes.emplace(a.name, *value);
                    task_.attributeUnits.emplace(a.name, a.unit);
                }
        }
        return Done;
    }

    void show(const analyses::AnalysisResult& out) const {
        if (json_) {
            Json list = Json::array();
            for (const analyses::Quantity& q : out.quantities)
                list.push_back({{"name", q.label},
                                {"value", number(q.value)},
                                {"se", number(q.se)},
                                {"ci", {number(q.low), number(q.high)}},
                                {"unit", q.unit.empty() ? Json() : Json(q.unit)}});
            Json warnings = Json::array();
            for (const Issue& issue : out.issues) warnings.push_back(toJson(issue));
            return print({{"derived", list}, {"errors", out.detail}, {"warnings", warnings}});
        }
        for (const analyses::Quantity& q : out.quantities) {
            std::cout << fmt::format("{} = {}{}", q.label, readableWithError(q.value, q.se).text(),
                                     q.unit.empty() ? "" : " " + q.unit);
            if (std::isfinite(q.low) || std::isfinite(q.high))
                std::cout << fmt::format("   (95 %: {} … {})", readableNumber(q.low, 4),
                                         readableNumber(q.high, 4));
            std::cout << "\n";
        }
        std::cout << out.detail << "\n";
    }

    Session session_;
    std::string project_, errors_ = "automatic";
    std::vector<std::string> formulas_, analyses_, given_, correlations_;
    double dof_ = 0;
    bool json_ = false;
    analyses::AnalysisResult typed_;
    std::vector<analyses::ResultPtr> results_;
    analyses::DerivedTask task_;
};

} // namespace

std::unique_ptr<Command> deriveCommand() {
    return std::make_unique<DeriveCommand>();
}

} // namespace jointer::cli
