// SPDX-License-Identifier: GPL-3.0-or-later
// `results`: the numbers of a project, filtered, long or wide; and what was done for them in words.
#include "base/files.h"
#include "base/text.h"
#include "cli/commands.h"
#include "io/writer.h"
#include "session/export.h"
#include "session/result_filter.h"
#include "session/result_grid.h"
#include "session/session.h"

#include <CLI/CLI.hpp>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

class ResultsCommand final : public Command {
public:
    std::string name() const override { return "results"; }
    std::string purpose() const override { return "The numbers of a project, and how they came about"; }

    void declare(CLI::App& app) override {
        app.add_option("project", project_, "The project")->required();
        app.add_option("--filter", filter_,
                       "Which: \"doubtful\", \"site = north\", \"centre > 701\", words; commas mean and");
        app.add_flag("--wide", wide_, "A row for each dataset, a column for each quantity");
        app.add_option("--to", to_, "Write a file: .csv, .xlsx, .json, .h5, .tex");
        app.add_flag("--methods", methods_, "What was done, as text");
        app.add_flag("--latex", latex_, "As a tabular of LaTeX");
        app.add_flag("--json", json_, "As JSON");
    }

    int run() override {
        const auto filter = ResultFilter::parse(filter_);
        if (!filter) return fail(filter.error(), WrongUsage);
        const auto opened = session_.open(project_);
        if (!opened) return fail(opened.error(), CannotRead);
        const Project& p = session_.project();
        const auto all = evaluate::resultRows(p, session_.evaluator());
        std::vector<evaluate::ResultRow> rows;
        for (std::size_t k : filter->rows(p, all)) rows.push_back(all[k]);
        const Table table =
            wide_ ? wideResults(p, all, filter->datasets(p, all)) : evaluate::resultsTable(p, rows);
        if (methods_)
            std::cout << methodsText(p, session_.evaluator(), rows) << '\n';
        else if (!to_.empty())
            return write(p, rows, table);
        else if (latex_)
            std::cout << resultsLatex(p, rows);
        else if (json_)
            print(Json::parse(io::tableBytes(table, "json").value_or("null")));
        else
            std::cout << (wide_ ? io::toCsv(table) : resultsText(p, rows));
        return Done;
    }

private:
    int write(const Project& p, const std::vector<evaluate::ResultRow>& rows, const Table& table) {
        if (to_.ends_with(".tex")) {
            const auto done = replaceFile(to_, resultsLatex(p, rows));
            return done ? Done : fail(done.error(), CannotWrite);
        }
        const auto done = exportResults(table, to_);
        if (!done) return fail(done.error(), done.error().code == "format" ? WrongUsage : CannotWrite);
        std::cout << to_ << ": " << counted(static_cast<long long>(table.rowCount()), "row") << "\n";
        return Done;
    }

    Session session_;
    std::string project_, filter_, to_;
    bool wide_ = false, methods_ = false, latex_ = false, json_ = false;
};

} // namespace

std::unique_ptr<Command> resultsCommand() {
    return std::make_unique<ResultsCommand>();
}

} // namespace jointer::cli
