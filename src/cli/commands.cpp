// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "base/text.h"
#include "io/fixed_width.h"

#include <CLI/CLI.hpp>
#include <cmath>
#include <iostream>
#include <iterator>
#include <nlohmann/json.hpp>

namespace jointer::cli {

std::vector<std::unique_ptr<Command>> makeCommands() {
    std::vector<std::unique_ptr<Command>> all;
    for (auto make : {readCommand, statsCommand, fitCommand, modelsCommand, exportCommand, checkCommand})
        all.push_back(make());
    return all;
}

void InputOptions::declare(CLI::App& app) {
    app.add_option("file", file, "File to read; - is standard input")->required();
    app.add_option("--separator", separator, "What stands between columns: , ; tab space | fixed")
        ->check([](const std::string& typed) -> std::string {
            const bool known = typed.size() == 1 || typed == "tab" || typed == "\\t" || typed == "space" ||
                               typed == "whitespace" || typed == "fixed";
            return known ? "" : "“" + typed + "” is no separator: give one character, tab, space or fixed.";
        });
    app.add_option("--decimal", decimal, "Decimal mark: . or ,")->check(CLI::IsMember({".", ","}));
    const auto lineOrNone = [](const std::string& typed) -> std::string {
        const auto n = parseNumber(typed);
        const bool good = typed == "none" || (n && *n >= 0 && *n == std::floor(*n));
        return good ? "" : "“" + typed + "” is no line: give its number, or none.";
    };
    app.add_option("--heading", heading, "Line of the headings, or none")->check(lineOrNone);
    app.add_option("--units", units, "Line of the units, or none")->check(lineOrNone);
    app.add_option("--first", first, "First line of the data");
    app.add_option("--comment", comment, "What comment lines begin with");
    app.add_option("--missing", missing, "Texts for missing values, with commas between them");
    app.add_option("--encoding", encoding, "utf-8, utf-16le, utf-16be, windows-1252 or iso-8859-1")
        ->check(CLI::IsMember({"utf-8", "utf-8-bom", "utf-16le", "utf-16be", "windows-1252", "iso-8859-1"}));
    app.add_option("--date-order", dateOrder, "Order of dates by figures: dmy, mdy or ymd")
        ->check(CLI::IsMember({"dmy", "mdy", "ymd"}));
    app.add_option("--names", names, "Names of the columns, with commas between them");
    app.add_option("--widths", widths, "Widths of fixed columns, such as \"4,8,8\"")
        ->check([](const std::string& typed) -> std::string {
            return !io::bordersFromWidths(typed).empty()
                       ? ""
                       : "“" + typed + "” are no widths: give whole numbers with commas between them.";
        });
    app.add_flag("--transpose", transpose, "Each line is a variable");
    app.add_flag("--key-value", keyValue, "Each line says key=value");
    app.add_option("--join", join, "A column of dates and one of times to be one: \"Date,Time\"");
    app.add_option("--sheet", sheet, "Sheet of a spreadsheet, by name or number");
    app.add_option("--range", range, "Cells of a spreadsheet, such as B3:F40");
    app.add_option("--table", table, "Which table of a file with several, from 1");
}

Settings InputOptions::told() const {
    Settings s;
    auto take = [&](const char* key, const std::string& text) {
        if (!text.empty()) s.set(key, Value(text));
    };
    take("separator", separator);
    take("decimal", decimal);
    take("comment", comment);
    take("missing", missing);
    take("date-order", dateOrder);
    take("names", names);
    take("widths", widths);
    take("join", join);
    take("sheet", sheet);
    take("range", range);
    if (transpose) s.set("transpose", Value(true));
    if (keyValue) s.set("key-value", Value(true));
    take("encoding", encoding == "utf-8-bom" ? "utf-8" : encoding);
    for (const auto& [key, text] : {std::pair("heading", heading), std::pair("units", units)}) {
        if (text.empty()) continue;
        s.set(key, Value(text == "none" ? 0.0 : parseNumber(text).value_or(0)));
    }
    if (first > 0) s.set("first", static_cast<int>(first));
    return s;
}

Result<io::ReadResult> InputOptions::read() const {
    if (file != "-") return io::readFileAs(file, told());
    const std::string bytes{std::istreambuf_iterator<char>(std::cin), {}};
    return io::read(bytes, "standard input", told());
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

Result<std::vector<double>> numberList(const std::string& text, const std::string& option) {
    std::vector<double> out;
    for (std::string_view part : split(text, ',')) {
        const auto n = parseNumber(part);
        if (!n)
            return failure("usage", option + " takes numbers with commas between them, not “" + text + "”.");
        out.push_back(*n);
    }
    return out;
}

} // namespace jointer::cli
