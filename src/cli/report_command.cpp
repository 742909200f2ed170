// SPDX-License-Identifier: GPL-3.0-or-later
// `report`: a dataset of a project on one page.
#include "analyses/analysis.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/figure_files.h"
#include "session/report.h"
#include "session/session.h"

#include <CLI/CLI.hpp>
#include <iostream>

namespace jointer::cli {

namespace {

class ReportCommand final : public Command {
public:
    std::string name() const override { return "report"; }
    std::string purpose() const override {
        return "A dataset on one page: curve, protocol, numbers, doubts, methods";
    }

    void declare(CLI::App& app) override {
        app.add_option("project", project_, "The project")->required();
        app.add_option("--dataset", dataset_, "Its name; all with {name} in the file's name")->required();
        app.add_option("--analysis", analysis_,
                       "Which is drawn with the curve, by its name; the last without");
        app.add_option("--to", to_, "File to write: .pdf, .svg, .png …")->required();
    }

    int run() override {
        const auto opened = session_.open(project_);
        if (!opened) return fail(opened.error(), CannotRead);
        const Project& p = session_.project();
        const bool all = dataset_ == "all";
        if (all && to_.find("{name}") == to_.npos)
            return fail(
                {"usage", "For all datasets the file's name needs {name}, such as report-{name}.pdf.", {}},
                WrongUsage);
        FigureFiles files;
        int written = 0;
        for (const auto& d : p.datasets) {
            if (!all && d->name != dataset_) continue;
            ReportOptions options{.dataset = d->id};
            for (const auto& a : analysesOf(p, d->id))
                if (!analysis_.empty() && analyses::nameOf(*a) == analysis_) options.analysis = a->id;
            if (!analysis_.empty() && !options.analysis)
                return fail(
                    {"no-analysis", "“" + d->name + "” has no analysis called “" + analysis_ + "”.", {}},
                    WrongUsage);
            std::string path = to_;
            if (const std::size_t at = path.find("{name}"); at != path.npos)
                path.replace(at, 6, fileSafe(d->name));
            const auto done = exportReport(p, options, session_.evaluator(), path, files.writer());
            if (!done) return fail(done.error(), done.error().code == "format" ? WrongUsage : CannotWrite);
            std::cout << path << "\n";
            ++written;
            if (!all) break;
        }
        if (written > 0) return Done;
        std::vector<std::string> names;
        for (const auto& d : p.datasets)
            if (names.size() < 12) names.push_back("“" + d->name + "”");
        return fail({"no-dataset",
                     "There is no dataset “" + dataset_ + "”; there are " + joined(names, ", ") + ".",
                     {}},
                    WrongUsage);
    }

private:
    Session session_;
    std::string project_, dataset_, analysis_, to_;
};

} // namespace

std::unique_ptr<Command> reportCommand() {
    return std::make_unique<ReportCommand>();
}

} // namespace jointer::cli
