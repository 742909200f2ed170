// SPDX-License-Identifier: GPL-3.0-or-later
// `unknowns`: samples read on a standard curve.
#include "analyses/unknowns/unknowns.h"
#include "base/text.h"
#include "cli/fit_command.h"
#include "project/edit.h"

#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

Json numbers(const std::vector<double>& values) {
    Json out = Json::array();
    for (double v : values) out.push_back(number(v));
    return out;
}

Json sampleJson(const analyses::Sample& s) {
    Json j = {{"name", s.name},
              {"readings", numbers(s.readings)},
              {"mean_reading", number(s.meanReading)},
              {"value", number(s.value)},
              {"se", number(s.se)},
              {"ci", std::isnan(s.value) ? Json() : Json::array({number(s.low), number(s.high)})},
              {"state", fit::readStateKey(s.state)},
              {"solutions", numbers(s.solutions)},
              {"each", numbers(s.each)},
              {"dilution", number(s.dilution)}};
    if (s.disagrees) j["disagree"] = true;
    return j;
}

Json limitJson(const analyses::Limit& l) {
    return {{"value", number(l.value)}, {"from", l.from}};
}

// What a row is, by the first letter of what a column says.
std::optional<RowKind> kindOf(const std::string& word) {
    switch (word.empty() ? ' ' : lowerAscii(word)[0]) {
    case 's':
        return startsWithNoCase(word, "sam") ? RowKind::Unknown : RowKind::Standard;
    case 'b':
    case 'z':
        return RowKind::Blank;
    case 'u':
        return RowKind::Unknown;
    case 'c':
        return startsWithNoCase(word, "cal") ? RowKind::Standard : RowKind::Control;
    default:
        return {};
    }
}

class UnknownsCommand final : public FitCommand {
public:
    std::string name() const override { return "unknowns"; }
    std::string purpose() const override { return "Amounts of samples by a standard curve"; }

    void declare(CLI::App& app) override {
        FitCommand::declare(app);
        app.add_option("--name", name_, "Column of names: rows of one name are one sample");
        app.add_option("--dilution", dilution_, "Column of dilution factors");
        app.add_option("--kind", kind_, "Column that says what a row is: standard, blank, unknown");
        app.add_option("--by", by_,
                       "Interval: slope, band (where the band of the curve meets the reading) or bootstrap")
            ->check(CLI::IsMember({"slope", "band", "bootstrap"}));
        app.add_flag("--rank", rank_,
                     "Which curves would serve: each level left out and read back by the others");
    }

protected:
    Result<void> prepare(Table& table) override {
        if (kind_.empty()) return {};
        const auto c = columnOf(table, kind_);
        if (!c) return std::unexpected(c.error());
        for (std::size_t row = 0; row < table.rowCount(); ++row) {
            const std::string word = cellText(**c, row);
            const auto kind = kindOf(word);
            if (!kind)
                return failure("usage",
                               fmt::format("“{}” in row {} of “{}” is no kind of row: write standard, "
                                           "blank, unknown or control.",
                                           word, row + 1, kind_));
            table.rowKinds[table.rows->id(row)] = *kind;
        }
        return {};
    }

    Result<Project> completed(const Project& project, int& status) override {
        auto with = FitCommand::completed(project, status);
        if (!with) return with;
        Dataset standards = with->datasets[0];
        const auto table = with->tables.find(standards.source.table);
        for (const auto& [heading, role] :
             {std::pair(name_, Role::Label), std::pair(dilution_, Role::Companion)}) {
            // Without a column none is guessed: the role is held by no column.
            RoleBinding bound{role, {}, role == Role::Companion ? "dilution" : ""};
            if (!heading.empty()) {
                const auto c = columnOf(*table, heading);
                if (!c) return std::unexpected(c.error());
                bound.column = (*c)->id;
            }
            std::erase_if(standards.source.roles, [&](const RoleBinding& b) { return b.role == role; });
            standards.source.roles.push_back(std::move(bound));
        }
        Analysis unknowns{
            .kind = "unknowns", .inputs = {{.dataset = standards.id}}, .analyses = {with->analyses[0].id}};
        unknowns.settings.set("interval", Value(by_));
        unknowns.settings.set("rank", Value(rank_));
        with->datasets = with->datasets.with(std::move(standards));
        return edits::addAnalysis(std::move(unknowns)).apply(*with);
    }

    void takeFurther(const evaluate::AnalysisOutcome& outcome) override {
        if (analyses::unknownsDetail(*outcome)) found_ = outcome.result.value();
    }

    Result<void> show(const analyses::AnalysisResult& result,
                      const std::vector<std::string>& warnings) override {
        const analyses::UnknownsDetail* d = found_ ? analyses::unknownsDetail(*found_) : nullptr;
        if (!d) return failure("no-samples", "The samples could not be read.");
        if (!json_) {
            printText(*d);
            return {};
        }
        auto fit = documentOf(result, {});
        if (!fit) return std::unexpected(fit.error());
        Json unknowns = Json::array(), standards = Json::array();
        for (const analyses::Sample& s : d->samples) unknowns.push_back(sampleJson(s));
        for (const analyses::StandardBack& s : d->standards)
            standards.push_back({{"given", number(s.given)},
                                 {"reading", number(s.reading)},
                                 {"computed", number(s.computed)},
                                 {"recovery", number(s.recovery())}});
        Json curves = Json::array();
        for (const analyses::ServingCurve& c : d->serving)
            curves.push_back({{"model", c.key},
                              {"typical_error_percent", number(c.typical)},
                              {"largest_error_percent", number(c.worst)},
                              {"at", number(c.worstAt)},
                              {"levels_read", c.read},
                              {"levels", c.of}});
        print({{"fit", std::move(*fit)},
               {"range", {number(d->low), number(d->high)}},
               {"unknowns", unknowns},
               {"standards", standards},
               {"detection_limit", limitJson(d->detection)},
               {"quantification_limit", limitJson(d->quantification)},
               {"curves", curves},
               {"warnings", warnings}});
        return {};
    }

private:
    static void printText(const analyses::UnknownsDetail& d) {
        for (const analyses::Sample& s : d.samples) {
            std::string told(fit::readStateWords(s.state));
            if (!std::isnan(s.value)) told = readableWithError(s.value, s.se).text();
            if (!std::isnan(s.value) && !std::isnan(s.high - s.low))
                told += fmt::format(" ({} … {})", readableNumber(s.low), readableNumber(s.high));
            std::cout << fmt::format("{:20} {:>12}  {}\n", s.name, readableNumber(s.meanReading), told);
        }
        for (const analyses::ServingCurve& c : d.serving)
            std::cout << fmt::format("{:28} standards come back within {} % ({} of {} levels)\n", c.name,
                                     readableNumber(c.typical, 2), c.read, c.of);
        if (std::isfinite(d.detection.value))
            std::cout << fmt::format("Limit of detection {} ({}), of quantification {}\n",
                                     readableNumber(d.detection.value), d.detection.from,
                                     readableNumber(d.quantification.value));
    }

    std::string name_, dilution_, kind_, by_ = "slope";
    bool rank_ = false;
    analyses::ResultPtr found_;
};

} // namespace

std::unique_ptr<Command> unknownsCommand() {
    return std::make_unique<UnknownsCommand>();
}

} // namespace jointer::cli
