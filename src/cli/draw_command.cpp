// SPDX-License-Identifier: GPL-3.0-or-later
// draw: a figure from its text form, also with other data.
#include "cli/commands.h"
#include "cli/figure_files.h"

#include "base/files.h"
#include "io/reader.h"
#include "session/figure_text.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <iostream>
#include <iterator>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

// NAME=FILE:X:Y or NAME=FILE:X:Y:SIGMA, or NAME=FILE with the columns of the names that the figure has; the
// columns are the last parts, so that a path may hold colons.
Result<FigureData> dataOf(const std::string& text, bool& unreadable, std::vector<Issue>& issues) {
    const auto usage = [&] {
        return failure(
            "usage",
            fmt::format("--data takes NAME=FILE, NAME=FILE:X:Y or NAME=FILE:X:Y:SIGMA, not “{}”.", text));
    };
    const std::size_t equals = text.find('=');
    if (equals == text.npos || equals == 0) return usage();
    std::string file = text.substr(equals + 1);
    std::vector<std::string> columns;
    std::error_code error;
    while (columns.size() < 3 && !(columns.size() != 1 && std::filesystem::exists(file, error))) {
        const std::size_t colon = file.rfind(':');
        if (colon == file.npos) break;
        columns.insert(columns.begin(), file.substr(colon + 1));
        file.resize(colon);
    }
    if (columns.size() == 1 || file.empty()) return usage();
    auto reading = io::readFileAs(file, {});
    if (!reading) return unreadable = true, std::unexpected(reading.error());
    issues.insert(issues.end(), reading->issues.begin(), reading->issues.end());
    if (reading->tables.empty())
        return unreadable = true, failure("no-table", "There is no table in " + file + ".");
    FigureData out{text.substr(0, equals), std::move(reading->tables[0].table), {}};
    if (columns.size() > 1) out.columns = {{columns[0]}, {columns[1]}};
    if (columns.size() > 2) out.columns.sigma = columns[2];
    out.table.origin.file = file;
    return out;
}

class DrawCommand final : public Command {
public:
    std::string name() const override { return "draw"; }
    std::string purpose() const override {
        return "Draw a figure from its text form (JSON), also with other data";
    }
    void declare(CLI::App& app) override {
        app.add_option("figure", figure_,
                       "Text form of a figure, as export --to FIGURE.json writes it; - is standard input")
            ->required();
        app.add_option("--data", data_, "NAME=FILE:X:Y, data in the place of those of that name")
            ->expected(1)
            ->take_all()
            ->allow_extra_args(false);
        app.add_option("--to", to_, "File to write")->required();
        writing_.declare(app);
        app.add_flag("--json", json_, "What was written, as JSON");
    }
    int run() override {
        std::vector<FigureData> data;
        for (const std::string& text : data_) {
            bool unreadable = false;
            std::vector<Issue> issues;
            auto one = dataOf(text, unreadable, issues);
            if (!one) return fail(one.error(), unreadable ? CannotRead : WrongUsage);
            for (const Issue& issue : issues) warn(issue);
            data.push_back(std::move(*one));
        }
        const auto text = figure_ == "-"
                              ? Result<std::string>(std::string(std::istreambuf_iterator<char>(std::cin), {}))
                              : readFile(figure_);
        if (!text) return fail(text.error(), CannotRead);
        const auto figure = figureFromText(*text, figure_ == "-" ? "" : figure_, std::move(data));
        if (!figure) return fail(figure.error(), CannotRead);
        for (const Issue& issue : figure->issues) warn(issue);
        FigureFiles files;
        evaluate::Evaluator evaluator;
        const auto done = exportFigure(figure->project, *figure->project.figures.find(figure->figure),
                                       evaluator, to_, files.writer(), writing_.options());
        if (!done) return fail(done.error(), statusOfWriting(done.error()));
        for (const Issue& issue : done->issues) warn(issue);
        if (json_) {
            auto j = writtenJson(*done, writing_.options());
            j["warnings"] = warnings_;
            print(j);
        } else
            std::cout << writtenText(*done, writing_.options());
        return warnings_.empty() ? Done : DoneWithWarnings;
    }

private:
    void warn(const Issue& issue) {
        say(issue);
        warnings_.push_back(toJson(issue));
    }

    std::string figure_, to_;
    std::vector<std::string> data_;
    WritingOptions writing_;
    bool json_ = false;
    nlohmann::ordered_json warnings_ = nlohmann::ordered_json::array();
};

} // namespace

std::unique_ptr<Command> drawCommand() {
    return std::make_unique<DrawCommand>();
}

} // namespace jointer::cli
