// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/commands.h"

#include "base/text.h"
#include "io/writer.h"

#include <CLI/CLI.hpp>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

std::string delimiterName(const io::Dialect& d) {
    if (d.form == io::Form::Fixed) return "fixed";
    const bool blanks = d.separator == io::kBlanks || d.form == io::Form::Wide;
    if (d.form == io::Form::KeyValue) return "=";
    return blanks ? "whitespace" : std::string(1, d.separator);
}

std::string contractKind(ColumnKind kind) { // whole numbers and categories are no kinds of their own there
    if (kind == ColumnKind::WholeNumber) return "number";
    return kind == ColumnKind::Category ? "text" : std::string(kindKey(kind));
}

Json cellJson(const Column& c, std::size_t row) {
    if (c.cells->state(row) != CellState::Fine) return {};
    switch (c.kind) {
    case ColumnKind::Text:
    case ColumnKind::Category:
        return c.cells->texts[row];
    case ColumnKind::Boolean:
        return c.numbers()[row] != 0;
    case ColumnKind::DateTime:
    case ColumnKind::Date:
    case ColumnKind::TimeOfDay:
        return plainCellText(c, row);
    default:
        return number(c.numbers()[row]);
    }
}

Json columnJson(const Column& c, std::size_t rows) {
    Json values = Json::array(), flags = Json::object();
    std::size_t missing = 0;
    for (std::size_t i = 0; i < rows; ++i) {
        const CellState state = i < c.cells->size() ? c.cells->state(i) : CellState::Missing;
        values.push_back(i < c.cells->size() ? cellJson(c, i) : Json());
        missing += state == CellState::Missing || state == CellState::Unreadable;
        if (state == CellState::Below || state == CellState::Above) {
            const std::string& text = c.cells->originals.at(static_cast<std::uint32_t>(i));
            const std::size_t digits = text.find_first_not_of("<>= ");
            flags[std::to_string(i)] = std::string(state == CellState::Below ? "below " : "above ") +
                                       (digits == std::string::npos ? "" : text.substr(digits));
        }
    }
    Json j = {{"name", c.name},
              {"unit", c.unit.empty() ? Json() : Json(c.unit)},
              {"kind", contractKind(c.kind)},
              {"missing", missing},
              {"values", std::move(values)}};
    if (!flags.empty()) j["flags"] = std::move(flags);
    return j;
}

Json lineOrNull(long line) {
    return line > 0 ? Json(line) : Json();
}

// The first of equal keys stays.
Json metadataJson(const std::vector<std::pair<std::string, std::string>>& facts) {
    Json json = Json::object();
    for (const auto& [key, value] : facts)
        if (!json.contains(key)) json[key] = value;
    return json;
}

Json tableJson(const io::ReadTable& t, bool named) {
    Json columns = Json::array();
    const std::size_t rows = t.table.rowCount();
    for (const Column& c : t.table.columns) columns.push_back(columnJson(c, rows));
    return {{"name", named ? Json(t.table.name) : Json()},
            {"heading_line", lineOrNull(t.headingLine)},
            {"units_line", lineOrNull(t.unitsLine)},
            {"first_data_line", lineOrNull(t.firstDataLine)},
            {"rows", rows},
            {"metadata", metadataJson(t.metadata)},
            {"columns", std::move(columns)}};
}

void printForPeople(const io::ReadResult& r) {
    for (const io::ReadTable& t : r.tables) {
        std::cout << t.table.name << ": " << counted(static_cast<long long>(t.table.rowCount()), "row")
                  << ", " << counted(static_cast<long long>(t.table.columns.size()), "column") << "\n";
        for (const Column& c : t.table.columns) {
            std::cout << "  " << c.name << (c.unit.empty() ? "" : " [" + c.unit + "]") << "  "
                      << kindKey(c.kind) << "  ";
            for (std::size_t i = 0; i < std::min<std::size_t>(4, c.cells->size()); ++i)
                std::cout << (i ? ", " : "") << cellText(c, i);
            std::cout << (c.cells->size() > 4 ? ", …\n" : "\n");
        }
    }
}

// The options that lead to another reading: "--separator space --decimal ,".
std::string optionsOf(const io::Alternative& a) {
    std::vector<std::string> options;
    for (const auto& [key, value] : a.told.entries())
        if (const auto* t = std::get_if<std::string>(&value))
            options.push_back("--" + key + " " + (*t == ";" || *t == "|" ? "'" + *t + "'" : *t));
    return joined(options, " ");
}

Json alternativesJson(const std::vector<io::Alternative>& all) {
    Json list = Json::array();
    for (const io::Alternative& a : all) list.push_back({{"text", a.words}, {"options", optionsOf(a)}});
    return list;
}

class ReadCommand final : public Command {
public:
    std::string name() const override { return "read"; }
    std::string purpose() const override { return "Read a file and show what was understood"; }
    void declare(CLI::App& app) override {
        input_.declare(app);
        auto* json = app.add_flag("--json", json_, "Everything as JSON");
        app.add_flag("--csv", csv_, "One table as CSV")->excludes(json);
    }
    int run() override {
        const auto r = input_.read();
        if (!r) {
            if (json_)
                print({{"file", input_.file},
                       {"format", Json()},
                       {"metadata", Json::object()},
                       {"tables", Json::array()},
                       {"warnings", Json::array({toJson(r.error())})}});
            return fail(r.error(), CannotRead);
        }
        const auto table = input_.chosenFrom(*r);
        if (!table) return fail(table.error(), WrongUsage);
        for (const Issue& issue : r->issues) say(issue);
        for (const io::Alternative& a : r->alternatives)
            std::cerr << "To read " << a.words << ": " << optionsOf(a) << '\n';
        if (csv_)
            std::cout << io::toCsv(*table);
        else if (!json_)
            printForPeople(*r);
        else {
            Json tables = Json::array(), warnings = Json::array();
            for (const auto& t : r->tables) tables.push_back(tableJson(t, r->tables.size() > 1));
            for (const Issue& issue : r->issues) warnings.push_back(toJson(issue));
            Json document = {{"file", input_.file},
                             {"format", r->format},
                             {"encoding", r->encoding.empty() ? Json() : Json(r->encoding)}};
            if (r->format == "delimited" || r->format == "fixed-width")
                document["dialect"] = {{"delimiter", delimiterName(r->dialect)},
                                       {"decimal", std::string(1, r->dialect.decimal)}};
            document["metadata"] = metadataJson(r->metadata);
            document["tables"] = tables;
            document["warnings"] = warnings;
            if (!r->alternatives.empty()) document["alternatives"] = alternativesJson(r->alternatives);
            print(document);
        }
        return r->issues.empty() ? Done : DoneWithWarnings;
    }

private:
    InputOptions input_;
    bool json_ = false, csv_ = false;
};

} // namespace

std::unique_ptr<Command> readCommand() {
    return std::make_unique<ReadCommand>();
}

} // namespace jointer::cli
