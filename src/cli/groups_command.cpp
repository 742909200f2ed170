// SPDX-License-Identifier: GPL-3.0-or-later
// `groups`: values by groups, their numbers, and whether they differ.
#include "analyses/groups/groups.h"
#include "base/text.h"
#include "cli/column_command.h"
#include "cli/summary_output.h"
#include "project/edit.h"

#include <fmt/format.h>
#include <iostream>

namespace jointer::cli {

namespace {

Json pairJson(double a, double b) {
    return std::isnan(a) && std::isnan(b) ? Json() : Json::array({number(a), number(b)});
}

Json groupJson(const analyses::GroupSummary& g) {
    Json j = {{"name", g.name}};
    j.update(toJson(g.numbers));
    j["ci"] = {number(g.low), number(g.high)};
    j["whiskers"] = {number(g.whiskers.first), number(g.whiskers.second)};
    j["outliers"] = g.outliers;
    if (g.limited.below > 0) {
        j["below_limit"] = g.limited.below;
        j["mean_at_least"] = number(g.limited.meanAtLeast);
    }
    j["normality"] = {{"w", number(g.normality.w)}, {"p", number(g.normality.p)}};
    return j;
}

Json pairsJson(const stats::TestResult& r, const stats::Design& d) {
    Json pairs = Json::array();
    for (const stats::PairResult& p : r.pairs)
        pairs.push_back({{"a", d.groups[p.a].name},
                         {"b", d.groups[p.b].name},
                         {"difference", number(p.difference)},
                         {"ci", pairJson(p.low, p.high)},
                         {"p", number(p.p)}});
    return pairs;
}

Json termsJson(const stats::TestResult& r) {
    Json terms = Json::array();
    for (const stats::VarianceTerm& t : r.terms)
        terms.push_back({{"name", t.name},
                         {"sum_of_squares", number(t.squares)},
                         {"dof", number(t.dof)},
                         {"f", number(t.f)},
                         {"p", number(t.p)},
                         {"partial_eta_squared", number(t.share)}});
    return terms;
}

Json testJson(const analyses::GroupTest& t, const stats::Design& d) {
    const stats::TestResult& r = t.result;
    Json dof = Json::array(), assumptions = Json::array();
    for (double v : r.dof) dof.push_back(number(v));
    for (const stats::Assumption& a : t.assumptions)
        assumptions.push_back(a.instead.empty() ? a.says : a.says + " Take instead: " + a.instead + ".");
    Json j = {{"test", r.test},
              {"statistic", number(r.statistic)},
              {"statistic_name", r.statisticName},
              {"dof", dof},
              {"p", number(r.p)},
              {"difference", number(r.difference)},
              {"difference_of", r.differenceOf.empty() ? Json() : Json(r.differenceOf)},
              {"ci", pairJson(r.low, r.high)}};
    j["effect"] = r.effect.name.empty() ? Json()
                                        : Json({{"name", r.effect.name},
                                                {"value", number(r.effect.value)},
                                                {"ci", pairJson(r.effect.low, r.effect.high)}});
    j["pairs"] = pairsJson(r, d);
    if (!r.terms.empty()) j["terms"] = termsJson(r);
    j["assumptions"] = assumptions;
    j["notes"] = r.notes;
    j["meaning"] = analyses::meaningOfP(r.p);
    return j;
}

class GroupsCommand final : public Command {
public:
    std::string name() const override { return "groups"; }
    std::string purpose() const override { return "Values by groups, and whether the groups differ"; }

    void declare(CLI::App& app) override {
        input_.declare(app);
        auto* column = app.add_option("--column", column_, "Column of the values; words are outcomes");
        oneOrMore(app, "--by", by_, "Column of the groups; a second one is a second factor");
        app.add_option("--columns", columns_, "Instead: a column for each group, \"a,b,c\"")
            ->excludes(column);
        oneOrMore(app, "--test", tests_,
                  "Which tests; without, the one that the design calls for. Keys: " + keys());
        app.add_option("--subject", subject_, "Column of what was measured: pairs, or means of each");
        app.add_option("--control", control_, "The group that others are compared with");
        app.add_option("--against", against_, "Of one group: the mean that it may have");
        app.add_option("--type", type_, "Sums of squares of two factors: II or III");
        app.add_option("--outliers", outliers_, "By fences, deviates or median");
        app.add_option("--below-limit", below_,
                       "Cells such as \"<0.05\": kept (means of Kaplan and Meier), half or left-out");
        app.add_option("--level", level_, "Of the intervals");
        app.add_flag("--json", json_, "As JSON");
    }

    int run() override {
        auto reading = input_.read();
        if (!reading) return fail(reading.error(), CannotRead);
        for (const Issue& issue : reading->issues) say(issue);
        const auto table = input_.chosenFrom(*reading);
        if (!table) return fail(table.error(), WrongUsage);
        const auto project = projectOf(*table);
        if (!project) return fail(project.error(), WrongUsage);
        evaluate::Evaluator evaluator;
        const analyses::GroupsDetail* all = nullptr;
        std::vector<analyses::ResultPtr> results;
        std::vector<std::string> warnings;
        for (const auto& a : project->analyses) {
            const auto outcome = evaluator.analysis(*project, *a);
            if (!outcome.exists()) return fail(outcome.result.error(), statusOf(outcome.result.error()));
            results.push_back(outcome.result.value());
            for (const Issue& w : outcome.issues)
                if (std::ranges::find(warnings, w.text) == warnings.end()) warnings.push_back(w.text);
        }
        all = analyses::groupsDetail(*results.front());
        json_ ? print(document(results, reading->issues, warnings)) : printText(*all, results, warnings);
        const bool good = std::ranges::all_of(results, [](const auto& r) { return r->good; });
        return reading->issues.empty() && good ? Done : DoneWithWarnings;
    }

private:
    static std::string keys() {
        std::vector<std::string> all;
        for (const stats::TestKind& t : stats::groupTests()) all.push_back(t.key);
        return joined(all, ", ");
    }

    static Status statusOf(const Issue& issue) {
        return issue.code == "test" || issue.code == "setting" ? WrongUsage : Failed; // "no-points"
    }

    Result<Project> projectOf(const Table& table) const {
        if (column_.empty() && columns_.empty())
            return failure("usage", "Say which values: --column VALUES --by GROUPS, or --columns \"a,b,c\".");
        if (by_.size() > 2) return failure("usage", "Two factors are the most: give --by once or twice.");
        auto with = edits::addTable(table).apply(Project());
        if (!with) return with;
        const Table& own = with->tables[0];
        Dataset d{.name = table.name, .source = {.kind = "groups", .table = own.id}};
        for (const auto& [role, heading] : roles()) {
            const auto c = columnOf(own, heading);
            if (!c) return std::unexpected(c.error());
            if (role == Role::Y && !(*c)->isNumeric() && by_.empty())
                return failure("not-numbers",
                               "The column “" + heading + "” holds words; outcomes need --by.");
            d.source.roles.push_back({role, (*c)->id});
        }
        with = edits::addDataset(std::move(d)).apply(*with);
        for (std::size_t k = 0; with && k < std::max<std::size_t>(1, tests_.size()); ++k) {
            auto analysis = analysisOf(with->datasets[0].id, k < tests_.size() ? tests_[k] : "design");
            if (!analysis) return std::unexpected(analysis.error());
            with = edits::addAnalysis(std::move(*analysis)).apply(*with);
        }
        return with;
    }

    std::vector<std::pair<Role, std::string>> roles() const {
        std::vector<std::pair<Role, std::string>> out;
        if (!column_.empty()) out.emplace_back(Role::Y, column_);
        if (!columns_.empty())
            for (const std::string_view name : split(columns_, ','))
                out.emplace_back(Role::Y, std::string(trimmed(name)));
        for (const std::string& by : by_) out.emplace_back(Role::Class, by);
        if (!subject_.empty()) out.emplace_back(Role::Label, subject_);
        return out;
    }

    Result<Analysis> analysisOf(DatasetId dataset, const std::string& test) const {
        Analysis a{.kind = "groups", .inputs = {{.dataset = dataset}}};
        if (test != "design" && !stats::findTest(test))
            return std::unexpected(stats::runTest(test, {}).error()); // which names all
        const std::string type = type_ == "III" || type_ == "3"  ? "3"
                                 : type_ == "II" || type_ == "2" ? "2"
                                                                 : type_;
        const Assignments given = {{"test", test},        {"level", level_}, {"control", control_},
                                   {"against", against_}, {"squares", type}, {"outliers", outliers_},
                                   {"below", below_}};
        for (const auto& [key, text] : given)
            if (!text.empty())
                if (auto good = ColumnCommand::set(analyses::groupsSettings(), {{key, text}}, a.settings);
                    !good)
                    return std::unexpected(good.error());
        return a;
    }

    Json document(const std::vector<analyses::ResultPtr>& results, const std::vector<Issue>& issues,
                  const std::vector<std::string>& warnings) const {
        const analyses::GroupsDetail& first = *analyses::groupsDetail(*results.front());
        Json groups = Json::array(), tests = Json::array(), said = Json::array();
        for (const analyses::GroupSummary& g : first.groups) groups.push_back(groupJson(g));
        for (const auto& r : results)
            for (const analyses::GroupTest& t : analyses::groupsDetail(*r)->tests)
                tests.push_back(testJson(t, first.design));
        for (const Issue& issue : issues) said.push_back(toJson(issue));
        for (const std::string& w : warnings) said.push_back(w);
        Json j = {{"groups", groups}};
        if (first.design.counts)
            j["counts"] = {{"groups", first.design.counts->rows},
                           {"outcomes", first.design.counts->columns},
                           {"counts", first.design.counts->counts}};
        j["tests"] = tests;
        if (!first.reason.empty()) j["reason"] = first.reason;
        j["sentence"] = results.front()->sentence;
        j["notes"] = first.notes;
        j["warnings"] = said;
        return j;
    }

    static void printText(const analyses::GroupsDetail& d, const std::vector<analyses::ResultPtr>& results,
                          const std::vector<std::string>& warnings) {
        for (const analyses::GroupSummary& g : d.groups)
            std::cout << fmt::format("{:24} n {:<6} mean {} ({} … {})  SD {}  median {}\n", g.name,
                                     g.numbers.n, readableNumber(g.numbers.mean), readableNumber(g.low),
                                     readableNumber(g.high), readableNumber(g.numbers.sd),
                                     readableNumber(g.numbers.median));
        if (!d.reason.empty()) std::cout << d.reason << "\n";
        for (const auto& r : results) {
            std::cout << r->sentence << "\n";
            for (const analyses::GroupTest& t : analyses::groupsDetail(*r)->tests)
                for (const stats::PairResult& p : t.result.pairs)
                    std::cout << fmt::format("  {} − {}: {} ({} … {}), p = {:.2g}\n",
                                             d.design.groups[p.a].name, d.design.groups[p.b].name,
                                             readableNumber(p.difference), readableNumber(p.low),
                                             readableNumber(p.high), p.p);
        }
        for (const std::string& note : d.notes) std::cout << note << "\n";
        for (const std::string& w : warnings) std::cerr << w << "\n";
    }

    InputOptions input_;
    std::string column_, columns_, subject_, control_, type_, outliers_, level_, against_, below_;
    std::vector<std::string> by_, tests_;
    bool json_ = false;
};

} // namespace

std::unique_ptr<Command> groupsCommand() {
    return std::make_unique<GroupsCommand>();
}

} // namespace jointer::cli
