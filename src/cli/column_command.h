// SPDX-License-Identifier: GPL-3.0-or-later
// What all commands that analyse columns share: the input, its columns, the span, and how they end.
#pragma once

#include "analyses/analysis.h"
#include "cli/commands.h"
#include "evaluate/evaluator.h"
#include "session/fit_order.h"

#include <CLI/CLI.hpp>
#include <map>

namespace jointer::cli {

using Assignments = std::vector<std::pair<std::string, std::string>>;

// "a=1,b=2": names and texts; commas inside parentheses do not separate. Errors: "usage".
Result<Assignments> assignments(const std::string& text, const std::string& option);
// "LOW:HIGH", either may be left open. Errors: "usage".
Result<std::pair<double, double>> interval(std::string_view text, const char* option);
// An option that may be given several times, each time with one value.
CLI::Option* oneOrMore(CLI::App& app, const std::string& name, std::vector<std::string>& into,
                       const std::string& help);

class ColumnCommand : public Command {
public:
    void declare(CLI::App& app) override;
    int run() override;

    // Settings by text, as a kind describes them. Errors: a key that it has not, a value that does not fit.
    static Result<void> set(const KindInfo& info, const Assignments& list, Settings& into);

protected:
    virtual Result<void> completeOrder() = 0;
    // What is said of the rows of the table beside the columns. Errors: usage.
    virtual Result<void> prepare(Table&) { return {}; }
    // What the analysis takes beside the columns. Errors: with the status that the command ends with.
    virtual Result<Project> completed(const Project& project, int&) { return project; }
    virtual Result<void> show(const analyses::AnalysisResult& result,
                              const std::vector<std::string>& warnings) = 0;
    // A failure that is an answer: whether it was shown as one.
    virtual bool showFailure(const Issue&) { return false; }
    // The results of further analyses of the project, in order; each with its warnings.
    virtual void takeFurther(const evaluate::AnalysisOutcome&) {}
    // What is asked of the first analysis beyond its result. Errors: usage.
    virtual Result<void> lookAround(const Project&, evaluate::Evaluator&) { return {}; }

    InputOptions input_;
    FitOrder order_;
    std::vector<std::string> spans_;
    bool json_ = false;
    std::vector<Issue> issues_;              // of the reading
    std::map<DatasetId, std::string> names_; // of the datasets
};

} // namespace jointer::cli
