// SPDX-License-Identifier: GPL-3.0-or-later
// journal: a figure against what a publisher takes.
#include "cli/commands.h"
#include "cli/figure_files.h"

#include "base/files.h"
#include "base/text.h"
#include "session/export.h"
#include "session/journal_profiles.h"
#include "session/session.h"

#include <CLI/CLI.hpp>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>

namespace jointer::cli {

namespace {

using Json = nlohmann::ordered_json;

class JournalCommand final : public Command {
public:
    std::string name() const override { return "journal"; }
    std::string purpose() const override { return "Check figures against what a publisher takes"; }
    void declare(CLI::App& app) override {
        app.add_option("project", project_, "Project file");
        app.add_option("--figure", figure_, "Name of the figure, or all");
        app.add_option("--profile", profile_, "Name of a publisher profile, or its file (.json)");
        app.add_flag("--list", list_, "Name the profiles that there are");
        app.add_flag("--json", json_, "As JSON");
    }
    int run() override {
        const auto profiles = journalProfiles(personalJournals());
        for (const Issue& issue : profiles.issues) say(issue);
        if (list_) return tellProfiles(profiles.value);
        if (project_.empty()) return fail({"usage", "Give a project, or --list.", {}}, WrongUsage);
        const auto profile = chosen(profiles.value);
        if (!profile) return fail(profile.error(), profile.error().code == "usage" ? WrongUsage : CannotRead);
        Session session;
        auto opened = session.open(project_);
        if (!opened) return fail(opened.error(), CannotRead);
        Json figures = Json::array();
        std::size_t count = 0, checked = 0;
        for (const auto& f : session.project().figures) {
            if (figure_ != "all" && f->name != figure_) continue;
            ++checked;
            const auto layout = figure::layOut(session.project(), *f, session.evaluator());
            Json list = Json::array();
            for (const figure::Finding& finding :
                 figure::journalFindings(session.project(), *f, layout, *profile, lastExport(*f))) {
                ++count;
                if (!json_)
                    std::cout << f->name << ": " << finding.text
                              << (finding.mend ? " " + finding.mending + "?" : "") << "\n";
                list.push_back({{"code", finding.code},
                                {"text", finding.text},
                                {"element", finding.element ? Json(finding.element.text()) : Json()},
                                {"mending", finding.mend ? Json(finding.mending) : Json()}});
            }
            figures.push_back({{"figure", f->name}, {"findings", list}});
        }
        if (checked == 0) return fail(noSuchFigure(session.project(), figure_, project_), WrongUsage);
        if (json_)
            print({{"profile", profile->name}, {"figures", figures}});
        else
            std::cout << fmt::format(
                "{} against “{}”: {}.\n", counted(static_cast<long long>(checked), "figure"), profile->name,
                count == 0 ? "nothing to mend" : counted(static_cast<long long>(count), "finding"));
        return count == 0 ? Done : DoneWithWarnings;
    }

private:
    int tellProfiles(const std::vector<figure::JournalProfile>& profiles) {
        Json list = Json::array();
        for (const auto& p : profiles) {
            if (!json_) std::cout << p.name << "\n";
            list.push_back(Json::parse(journalProfileText(p)));
        }
        if (json_) print({{"profiles", list}});
        return Done;
    }
    Result<figure::JournalProfile> chosen(const std::vector<figure::JournalProfile>& profiles) const {
        if (profile_.ends_with(".json")) {
            const auto text = readFile(profile_);
            if (!text) return std::unexpected(text.error());
            return journalProfileFromText(*text, profile_);
        }
        std::vector<std::string> names;
        for (const auto& p : profiles) {
            if (p.name == profile_ || profile_.empty()) return p;
            names.push_back("“" + p.name + "”");
        }
        return failure("usage", fmt::format("There is no publisher profile “{}”; there are {}.", profile_,
                                            joined(names, ", ")));
    }

    std::string project_, figure_ = "all", profile_;
    bool list_ = false, json_ = false;
};

} // namespace

std::unique_ptr<Command> journalCommand() {
    return std::make_unique<JournalCommand>();
}

} // namespace jointer::cli
