// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "base/text.h"
#include "io/fixed_width.h"
#include "io/moment_text.h"

#include <CLI/CLI.hpp>
#include <cmath>
#include <iostream>
#include <iterator>
#include <nlohmann/json.hpp>

namespace jointer::cli {

std::vector<std::unique_ptr<Command>> makeCommands() {
    std::vector<std::unique_ptr<Command>> all;
    for (auto make :
         {readCommand,    statsCommand,     groupsCommand,  unknownsCommand, deriveCommand,  fitCommand,
          scatterCommand, peaksCommand,     analyseCommand, compareCommand,  modelsCommand,  cleanCommand,
          stepsCommand,   referenceCommand, exportCommand,  drawCommand,     journalCommand, resultsCommand,
          checkCommand,   applyCommand,     recipeCommand,  reportCommand,   watersCommand})
        all.push_back(make());
    return all;
}

namespace {

// Other words of `read --json` for what can be told.
std::string asTold(const std::string& key, const std::string& text) {
    if (key == "separator" && (text == "whitespace" || text == "\\t")) return text == "\\t" ? "tab" : "space";
    return key == "encoding" && text == "utf-8-bom" ? "utf-8" : text;
}

std::string helpOf(const Setting& s) {
    std::vector<std::string> keys;
    for (const Choice& c : s.choices) keys.push_back(c.key);
    std::string help = s.help;
    if (!keys.empty()) help += " One of: " + joined(keys, " ") + ".";
    return s.zero.empty() ? help : help + " Or " + s.zero + ".";
}

} // namespace

void InputOptions::declare(CLI::App& app) {
    app.add_option("file", file, "File to read; - is standard input")->required();
    for (const Setting& s : io::readerSettings()) {
        const std::string option = "--" + s.key;
        if (s.kind == SettingKind::Flag)
            app.add_flag_callback(
                option, [this, key = s.key] { told_.set(key, Value(true)); }, s.help);
        else
            app.add_option_function<std::string>(
                option,
                [this, s](const std::string& text) {
                    if (const std::string wrong = typed(s, text); !wrong.empty())
                        throw CLI::ValidationError("--" + s.key, wrong);
                },
                helpOf(s));
    }
    app.add_option("--table", table, "Which table of a file with several, from 1");
}

std::string InputOptions::tell(const std::string& key, const std::string& text) {
    for (const Setting& s : io::readerSettings())
        if (s.key == key) return typed(s, text);
    return "There is no such setting.";
}

std::string InputOptions::typed(const Setting& setting, const std::string& text) {
    if (setting.key == "widths" && io::bordersFromWidths(text).empty())
        return "“" + text + "” are no widths: give whole numbers with commas between them.";
    auto value = parseValue(setting, asTold(setting.key, text));
    if (!value) return value.error().text;
    told_.set(setting.key, std::move(*value));
    return {};
}

Result<io::ReadResult> InputOptions::read() const {
    if (file != "-") return io::readFileAs(file, told_);
    const std::string bytes{std::istreambuf_iterator<char>(std::cin), {}};
    return io::read(bytes, "standard input", told_);
}

Result<Table> InputOptions::chosenFrom(const io::ReadResult& all) const {
    const auto there = static_cast<long long>(all.tables.size());
    if (table < 1 || table > there)
        return failure("usage", "The file has " + counted(there, "table") + "; --table must be one of them.");
    Table out = all.tables[static_cast<std::size_t>(table) - 1].table;
    out.origin.file = file;
    return out;
}

Result<const Column*> columnOf(const Table& table, const std::string& name) {
    if (const Column* c = table.findByName(name)) return c;
    return std::unexpected(Issue{"no-column",
                                 "There is no column “" + name + "”; there are " + columnNames(table) + ".",
                                 {.file = table.origin.file}});
}

void say(const Issue& issue) {
    std::cerr << issue.sentence() << '\n';
}

int fail(const Issue& issue, Status status) {
    say(issue);
    return status;
}

nlohmann::ordered_json number(double value) {
    return std::isfinite(value) ? nlohmann::ordered_json(value) : nlohmann::ordered_json();
}

nlohmann::ordered_json toJson(const Issue& issue) {
    nlohmann::ordered_json j = {{"code", issue.code}};
    if (issue.place.line > 0) j["line"] = issue.place.line;
    if (!issue.place.column.empty()) j["column"] = issue.place.column;
    j["text"] = issue.text;
    return j;
}

void print(const nlohmann::ordered_json& document) {
    std::cout << document.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace) << '\n';
}

std::optional<double> numberOrMoment(std::string_view text) {
    if (const auto number = parseNumber(text)) return number;
    const auto moment = io::isoMoment(trimmed(text));
    return moment ? std::optional(moment->seconds) : std::nullopt;
}

std::string askedPlace(const AxisMeaning& axis, double x) {
    return axis.isTime ? placeText(axis, x) : shortestNumber(x);
}

Result<std::vector<double>> numberList(const std::string& text, const std::string& option) {
    std::vector<double> out;
    for (std::string_view part : split(text, ',')) {
        const auto n = numberOrMoment(part);
        if (!n)
            return failure("usage",
                           option + " takes numbers or dates (2031-05-18) with commas between them, not “" +
                               text + "”.");
        out.push_back(*n);
    }
    return out;
}

} // namespace jointer::cli
