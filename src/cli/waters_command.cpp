// SPDX-License-Identifier: GPL-3.0-or-later
// `waters`: charges, balance, types and ratios of water samples.
#include "base/text.h"
#include "cli/column_command.h"
#include "cli/summary_output.h"
#include "evaluate/mapping.h"
#include "evaluate/water_samples.h"
#include "io/writer.h"
#include "session/command_project.h"
#include "waters/quantities.h"

#include <CLI/CLI.hpp>
#include <cmath>
#include <fmt/format.h>
#include <iostream>

namespace jointer::cli {

namespace {

constexpr const char* kPartKeys[] = {"Ca", "Mg", "Na+K", "Cl", "SO4", "HCO3+CO3"};

Json sharesJson(const std::array<double, 3>& of, std::array<const char*, 3> names) {
    Json j = Json::object();
    for (std::size_t k = 0; k < 3; ++k) j[names[k]] = number(of[k]);
    return j;
}

Json ionsJson(const std::vector<const waters::Ion*>& ions) {
    Json j = Json::array();
    for (const waters::Ion* ion : ions) j.push_back(std::string(ion->key));
    return j;
}

Json sampleJson(const std::string& name, const waters::Sample& s, double balanceLimit) {
    Json j = {{"name", name}};
    Json parts = Json::object();
    for (std::size_t k = 0; k < waters::kParts; ++k) parts[kPartKeys[k]] = number(s.parts[k]);
    j["meq"] = std::move(parts);
    const auto c = waters::cationShares(s), a = waters::anionShares(s);
    const bool placed = s.canBePlaced();
    j["placed"] = placed;
    j["cation_shares"] = placed ? sharesJson(c, {"Ca", "Mg", "Na+K"}) : Json();
    j["anion_shares"] = placed ? sharesJson(a, {"Cl", "SO4", "HCO3+CO3"}) : Json();
    for (const waters::SampleQuantity& q : waters::sampleQuantities()) {
        std::string key(q.key);
        std::ranges::replace(key, '-', '_');
        j[key] = q.word ? Json(q.word(s)) : number(q.number(s));
    }
    j["balanced"] = std::isfinite(s.balance()) ? Json(std::abs(s.balance()) <= balanceLimit) : Json();
    j["missing"] = ionsJson(s.missing);
    j["below_limit"] = ionsJson(s.limited);
    return j;
}

class WatersCommand final : public Command {
public:
    std::string name() const override { return "waters"; }
    std::string purpose() const override { return "Charge balances, types and ratios of water samples"; }

    void declare(CLI::App& app) override {
        input_.declare(app);
        oneOrMore(app, "--ion", ions_,
                  "ION=COLUMN, such as Ca=Calcium; without, columns are known by their headings");
        app.add_option("--label", label_, "Column with the names of the samples");
        for (const Setting& s : kind().info.settings) oneOrMore(app, "--" + s.key, told_[s.key], s.help);
        app.add_flag("--csv", csv_, "As a table");
        app.add_flag("--json", json_, "As JSON");
    }

    int run() override {
        auto reading = input_.read();
        if (!reading) return fail(reading.error(), CannotRead);
        for (const Issue& issue : reading->issues) say(issue);
        const auto table = input_.chosenFrom(*reading);
        if (!table) return fail(table.error(), WrongUsage);
        ColumnChoice choice{.kind = "ions"};
        if (auto good = complete(choice, *table); !good) return fail(good.error(), WrongUsage);
        const auto project = withDataset({}, *table, choice);
        if (!project) return fail(project.error(), WrongUsage);
        const DatasetSource& source = project->datasets[0].source;
        const Table& own = project->tables[0];
        const auto check = evaluate::checkedSource(kind(), own, source);
        for (const Issue& issue : check.issues) say(issue);
        const auto all = evaluate::waterSamples(own, source);
        if (!all.cations || !all.anions) return Failed;
        const double limit = evaluate::waterRules(source.settings).balanceLimit;
        if (json_)
            printJson(all, limit, check, reading->issues);
        else if (csv_)
            std::cout << io::toCsv(tableOf(all));
        else
            printTable(tableOf(all));
        return reading->issues.empty() && check.issues.empty() ? Done : DoneWithWarnings;
    }

private:
    static const evaluate::MappingKind& kind() { return *evaluate::mappingCatalogue().find("ions"); }

    Result<void> complete(ColumnChoice& choice, const Table& table) const {
        for (const std::string& told : ions_) {
            const auto equals = told.find('=');
            if (equals == told.npos)
                return failure("usage", fmt::format("--ion takes ION=COLUMN, not “{}”.", told));
            choice.places.emplace_back(told.substr(0, equals), told.substr(equals + 1));
        }
        if (!label_.empty() && choice.places.empty()) // beside what is known by headings
            for (const RoleBinding& b : evaluate::guessedRoles(kind(), table))
                if (b.role == Role::Component) choice.places.emplace_back(b.of, table.find(b.column)->name);
        if (!label_.empty()) choice.places.emplace_back("label", label_);
        Assignments settings;
        for (const auto& [key, values] : told_)
            if (!values.empty()) settings.emplace_back(key, values.back());
        return ColumnCommand::set(kind().info, settings, choice.settings);
    }

    static void printJson(const evaluate::WaterSamples& all, double limit, const evaluate::Check& check,
                          const std::vector<Issue>& issues) {
        Json samples = Json::array();
        for (std::size_t k = 0; k < all.samples.size(); ++k)
            samples.push_back(sampleJson(all.names[k], all.samples[k], limit));
        Json j = {{"n", all.samples.size()}, {"samples", std::move(samples)}, {"facts", check.value}};
        j["warnings"] = Json::array();
        for (const auto* list : {&issues, &check.issues})
            for (const Issue& issue : *list) j["warnings"].push_back(toJson(issue));
        print(j);
    }

    // A column for each quantity, beside the names.
    static Table tableOf(const evaluate::WaterSamples& all) {
        Table table;
        table.columns.push_back(textColumn("Sample", all.names));
        for (const waters::SampleQuantity& q : waters::sampleQuantities()) {
            std::vector<double> numbers;
            std::vector<std::string> words;
            for (const waters::Sample& s : all.samples)
                if (q.word)
                    words.push_back(q.word(s));
                else
                    numbers.push_back(q.number(s));
            table.columns.push_back(
                q.word ? textColumn(std::string(q.label), std::move(words))
                       : numberColumn(std::string(q.label), std::string(q.unit), std::move(numbers)));
        }
        return table;
    }

    // For people: fewer digits than files hold.
    static void printTable(const Table& table) {
        std::vector<std::string> line;
        for (const Column& c : table.columns) line.push_back(io::headingOf(c));
        std::cout << joined(line, "\t") << "\n";
        for (std::size_t row = 0; row < table.rowCount(); ++row) {
            line.clear();
            for (const Column& c : table.columns) {
                const double v = c.isNumeric() ? c.numbers()[row] : NAN;
                line.push_back(!c.isNumeric()     ? c.cells->texts[row]
                               : std::isfinite(v) ? readableNumber(v, 4)
                                                  : "");
            }
            std::cout << joined(line, "\t") << "\n";
        }
    }

    InputOptions input_;
    std::vector<std::string> ions_;
    std::string label_;
    std::map<std::string, std::vector<std::string>> told_;
    bool csv_ = false, json_ = false;
};

} // namespace

std::unique_ptr<Command> watersCommand() {
    return std::make_unique<WatersCommand>();
}

} // namespace jointer::cli
