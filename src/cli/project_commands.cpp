// SPDX-License-Identifier: GPL-3.0-or-later
// Commands on projects: export figures and tables, check stored results; and the reference of the manual.
#include "cli/commands.h"
#include "cli/figure_files.h"

#include "base/files.h"
#include "base/text.h"
#include "evaluate/results.h"
#include "io/writer.h"
#include "paint/painter.h"
#include "session/check.h"
#include "session/export.h"
#include "session/reference.h"
#include "session/session.h"

#include <CLI/CLI.hpp>
#include <filesystem>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

class ExportCommand final : public Command {
public:
    std::string name() const override { return "export"; }
    std::string purpose() const override { return "Write a figure, a table or the results of a project"; }
    void declare(CLI::App& app) override {
        app.add_option("project", project_, "Project file")->required();
        auto* figure = app.add_option("--figure", figure_, "Name of the figure, or all");
        app.add_option("--table", table_, "Name of the table")->excludes(figure);
        app.add_flag("--results", results_, "All numbers that the project has derived")->excludes(figure);
        app.add_option("--to", to_, "File to write; {name} stands for the figure's name")->required();
        writing_.declare(app);
        app.add_flag("--json", json_, "What was written, as JSON");
    }
    int run() override {
        if (!figure_.empty() + !table_.empty() + results_ != 1)
            return fail({"usage", "Give one of --figure, --table and --results.", {}}, WrongUsage);
        auto opened = session_.open(project_);
        if (!opened) return fail(opened.error(), CannotRead);
        for (const Issue& issue : *opened) say(issue), warned_ = true;
        const int status = results_ ? exportResults() : table_.empty() ? exportFigures() : exportTable();
        if (json_ && (status == Done || status == DoneWithWarnings)) print({{"written", written_}});
        return status;
    }

private:
    int exportFigures() {
        FigureFiles files;
        const Project& p = session_.project();
        if (figure_ == "all" && p.figures.size() > 1 && to_.find("{name}") == std::string::npos)
            return fail({"usage",
                         "Each figure would overwrite the one before: put {name} into the name of the file.",
                         {}},
                        WrongUsage);
        bool found = false;
        const std::vector<std::string> names = figureFileNames(p);
        for (std::size_t k = 0; k < p.figures.size(); ++k) {
            const Figure* figure = &p.figures[k];
            if (figure_ != "all" && figure->name != figure_) continue;
            found = true;
            std::string path = to_;
            if (const std::size_t at = path.find("{name}"); at != std::string::npos)
                path.replace(at, 6, names[k]);
            const auto done =
                exportFigure(p, *figure, session_.evaluator(), path, files.writer(), writing_.options());
            if (!done) return fail(done.error(), statusOfWriting(done.error()));
            for (const Issue& issue : done->issues) say(issue), warned_ = true;
            if (!json_) std::cout << writtenText(*done, writing_.options());
            written_.push_back(writtenJson(*done, writing_.options()));
        }
        if (found) return warned_ ? DoneWithWarnings : Done;
        return fail(noSuchFigure(p, figure_, project_), WrongUsage);
    }

    int exportResults() {
        const auto rows = evaluate::resultRows(session_.project(), session_.evaluator());
        const auto done = jointer::exportResults(evaluate::resultsTable(session_.project(), rows), to_);
        if (!done) return fail(done.error(), done.error().code == "format" ? WrongUsage : CannotWrite);
        if (!json_) std::cout << to_ << ": " << counted(static_cast<long long>(rows.size()), "row") << "\n";
        written_.push_back({{"file", to_}, {"bytes", done->bytes}});
        return warned_ ? DoneWithWarnings : Done;
    }

    int exportTable() {
        const Project& p = session_.project();
        std::vector<std::string> names;
        for (const auto& t : p.tables) {
            names.push_back("“" + t->name + "”");
            if (t->name != table_) continue;
            const auto done = jointer::exportTable(p, t->id, session_.evaluator(), to_);
            if (!done) return fail(done.error(), done.error().code == "format" ? WrongUsage : CannotWrite);
            for (const Issue& issue : done->issues) say(issue), warned_ = true;
            if (!json_)
                std::cout << to_ << ": " << counted(static_cast<long long>(t->rowCount()), "row") << "\n";
            written_.push_back({{"file", to_}, {"bytes", done->bytes}});
            return warned_ ? DoneWithWarnings : Done;
        }
        return fail({"no-table",
                     fmt::format("There is no table called “{}”; the project has {}.", table_,
                                 names.empty() ? "none" : joined(names, ", ")),
                     {.file = project_}},
                    WrongUsage);
    }

    std::string project_, figure_, table_, to_;
    WritingOptions writing_;
    bool json_ = false, warned_ = false, results_ = false;
    Session session_;
    Json written_ = Json::array();
};

class CheckCommand final : public Command {
public:
    std::string name() const override { return "check"; }
    std::string purpose() const override { return "Recompute a project and compare with its stored results"; }
    void declare(CLI::App& app) override {
        app.add_option("project", project_, "Project file")->required();
        app.add_flag("--json", json_, "As JSON");
    }
    int run() override {
        const auto checked = checkProject(project_);
        if (!checked) return fail(checked.error(), CannotRead);
        Json issues = Json::array();
        for (const Issue& issue : checked->issues) {
            say(issue);
            issues.push_back(toJson(issue));
        }
        if (json_)
            print({{"file", project_},
                   {"fits", checked->fits},
                   {"compared", checked->compared},
                   {"agree", checked->issues.empty()},
                   {"warnings", issues}});
        else
            std::cout << fmt::format("{}: {}, {} with stored results, {}.\n", project_,
                                     counted(checked->fits, "fit"), checked->compared,
                                     checked->issues.empty()
                                         ? "all agree"
                                         : counted(static_cast<long long>(checked->issues.size()), "thing") +
                                               " to look at");
        return checked->issues.empty() ? Done : DoneWithWarnings;
    }

private:
    std::string project_;
    bool json_ = false;
};

class ReferenceCommand final : public Command {
public:
    std::string name() const override { return "reference"; }
    std::string purpose() const override {
        return "Describe all steps, models, elements, formats and functions, as Markdown";
    }
    void declare(CLI::App&) override {}
    int run() override {
        std::cout << referenceText(paint::QtFigureWriter().formats());
        return Done;
    }
};

} // namespace

std::unique_ptr<Command> referenceCommand() {
    return std::make_unique<ReferenceCommand>();
}
std::unique_ptr<Command> exportCommand() {
    return std::make_unique<ExportCommand>();
}
std::unique_ptr<Command> checkCommand() {
    return std::make_unique<CheckCommand>();
}

} // namespace jointer::cli
