// SPDX-License-Identifier: GPL-3.0-or-later
// `apply`: a recipe over files.
#include "base/files.h"
#include "base/text.h"
#include "cli/commands.h"
#include "cli/figure_files.h"
#include "session/recipe_batch.h"
#include "session/run_journal.h"
#include "session/shipped_recipes.h"
#include "session/watched_folder.h"

#include <CLI/CLI.hpp>
#include <algorithm>
#include <fmt/format.h>
#include <iostream>
#include <nlohmann/json.hpp>
#include <thread>

namespace jointer::cli {

namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

namespace {

// "1/4": a part of a whole, from 1.
Result<std::pair<std::size_t, std::size_t>> partOf(const std::string& text) {
    const auto halves = split(text, '/');
    const auto i = halves.size() == 2 ? parseNumber(halves[0]) : std::nullopt;
    const auto n = halves.size() == 2 ? parseNumber(halves[1]) : std::nullopt;
    const auto whole = [](double v) { return v >= 1 && v <= 1e6 && v == std::floor(v); };
    if (!i || !n || !whole(*i) || !whole(*n) || *i > *n)
        return failure("usage", fmt::format("--part takes a part of the whole such as 1/4, not “{}”.", text));
    return std::pair(static_cast<std::size_t>(*i), static_cast<std::size_t>(*n));
}

// Why nothing is run, and what the program ends with.
struct Refusal {
    Issue issue;
    Status status;
};

std::unexpected<Refusal> refused(Issue issue, Status status) {
    return std::unexpected(Refusal{std::move(issue), status});
}

class ApplyCommand final : public Command {
public:
    std::string name() const override { return "apply"; }
    std::string purpose() const override { return "Run a recipe over files"; }

    void declare(CLI::App& app) override {
        app.add_option("recipe", recipe_, "Recipe file, or the key of one that comes with the program")
            ->required();
        app.add_option("files", files_, "Files, or folders of files")->required();
        app.add_option(
            "--out", out_,
            "Folder for results.csv, figures and curves; what is there of the same run is taken up");
        app.add_option("--jobs", jobs_, "Files at a time; as many as there are processors")
            ->check(CLI::Range(1, 1024));
        app.add_option("--part", part_, "Only the files of a part, such as 1/4: for schedulers");
        app.add_option("--with", with_, "A further input of the recipe, as NAME=FILE")->expected(1);
        app.add_option("--starts", starts_, "Where fits begin: recipe, previous, better");
        app.add_option("--pattern", pattern_, "Attributes from file names, such as shell_{site}_{age:d}");
        app.add_option("--order", order_, "The attribute by which files follow each other");
        app.add_option("--samples", samples_,
                       "A list of samples: a column names the files, others are attributes");
        app.add_option("--figures", figures_, "Format of the recipe’s figures: pdf, svg, png… or none");
        app.add_flag("--curves", curves_, "Write each cleaned curve as CSV");
        app.add_flag("--afresh", afresh_, "Do again what is done");
        app.add_flag("--watch", watch_, "Go on with files as they come into the folder, until stopped")
            ->excludes("--part");
        app.add_option("--still", still_, "Seconds that a watched file stands still before it is taken")
            ->check(CLI::Range(0.0, 3600.0));
        app.add_option("--until-idle", idle_, "End watching when nothing has come for so many seconds");
        app.add_flag("--json", json_, "All results as JSON");
    }

    int run() override {
        std::error_code error;
        if (watch_ && (files_.size() != 1 || !fs::is_directory(files_[0], error)))
            return fail({"usage", "--watch takes one folder.", {}}, WrongUsage);
        const std::string folder = files_[0];
        auto prepared = prepare();
        if (!prepared) return fail(prepared.error().issue, prepared.error().status);
        if (!out_.empty()) {
            auto journal = RunJournal::open(out_, prepared->recipe(), afresh_);
            if (!journal) return fail(journal.error(), CannotWrite);
            journal_.emplace(std::move(*journal));
        }
        BatchOrder order{.files = files_, .jobs = jobs_};
        if (journal_) order.done = [this](const std::string& file) { return journal_->done(file); };
        Result<void> written;
        order.take = [&](RunFile& file, RunProjects& projects, bool before) {
            written = take(*prepared, file, projects, before);
            return written.has_value();
        };
        std::vector<RunFile> all;
        if (!watch_)
            all = runBatch(*prepared, order);
        else
            watch(*prepared, folder, order, written, all);
        if (!written) return fail(written.error(), CannotWrite);
        return tell(*prepared, std::move(all));
    }

private:
    using Prepared = std::expected<RecipeRun, Refusal>;

    // NAME=FILE of each --with.
    Result<std::map<std::string, std::string>> inputs() const {
        std::map<std::string, std::string> out;
        for (const std::string& text : with_) {
            const auto at = text.find('=');
            if (at == text.npos || at == 0)
                return failure("usage", fmt::format("--with takes NAME=FILE, not “{}”.", text));
            out[text.substr(0, at)] = text.substr(at + 1);
        }
        return out;
    }

    Result<void> takeOptions(Recipe& recipe) const {
        for (const auto& [key, text] :
             {std::pair("starts", &starts_), {"pattern", &pattern_}, {"order", &order_}}) {
            if (text->empty()) continue;
            auto value = parseValue(*recipeSettings().find(key), *text);
            if (!value) return std::unexpected(value.error());
            recipe.settings.set(key, std::move(*value));
        }
        return {};
    }

    Prepared prepare() {
        const auto with = inputs();
        if (!with) return refused(with.error(), WrongUsage);
        const auto part = part_.empty() ? std::pair<std::size_t, std::size_t>{1, 1} : partOf(part_);
        if (!part) return refused(part.error(), WrongUsage);
        auto recipe = recipeFor(recipe_);
        if (!recipe) return refused(recipe.error(), CannotRead);
        if (const auto taken = takeOptions(*recipe); !taken) return refused(taken.error(), WrongUsage);
        auto files = filesOf(files_);
        if (!files && !watch_) return refused(files.error(), CannotRead);
        if (files) files_ = std::move(*files);
        auto run = RecipeRun::make(std::move(*recipe), *with);
        if (!run) {
            const std::string& code = run.error().code;
            return refused(run.error(), code == "input" || code == "takes-no-file" ? WrongUsage : CannotRead);
        }
        if (isChained(run->recipe()) && part->second > 1)
            return refused({"usage",
                            "Each file of this recipe begins where the one before ended, so it cannot "
                            "run in parts: run it whole, or with --starts recipe.",
                            {}},
                           WrongUsage);
        sortInOrder(run->recipe(), files_);
        keepPart(part->first, part->second);
        if (const auto given = giveSamples(*run); !given) return refused(given.error(), CannotRead);
        return std::move(*run);
    }

    // Of the files the first of so many parts, the second…
    void keepPart(std::size_t which, std::size_t of) {
        const std::size_t n = files_.size();
        files_ = {files_.begin() + static_cast<std::ptrdiff_t>(n * (which - 1) / of),
                  files_.begin() + static_cast<std::ptrdiff_t>(n * which / of)};
    }

    Result<void> giveSamples(RecipeRun& run) const {
        if (samples_.empty()) return {};
        const auto list = io::readFileAs(samples_, {});
        if (!list) return std::unexpected(list.error());
        if (list->tables.empty())
            return failure("no-names", "The list of samples holds no table.", {.file = samples_});
        const auto told = run.setSamples(list->tables.front().table, files_);
        if (!told) return std::unexpected(told.error());
        for (const Issue& issue : *told) say(issue);
        return {};
    }

    // Files are taken as they stand still; without an end unless one is told.
    void watch(const RecipeRun& run, const std::string& path, BatchOrder& order, const Result<void>& written,
               std::vector<RunFile>& all) const {
        WatchedFolder folder(path, std::chrono::milliseconds(static_cast<long long>(1000 * still_)));
        auto last = std::chrono::steady_clock::now();
        const auto idle = [&] {
            return std::chrono::duration<double>(std::chrono::steady_clock::now() - last).count();
        };
        bool told = false; // that the folder is gone
        while (written && (idle_ <= 0 || idle() < idle_)) {
            const auto come = folder.look();
            if (!come && !std::exchange(told, true)) say(come.error());
            if (come) {
                told = false;
                order.files = *come;
                if (folder.waiting() > 0 || !come->empty()) last = std::chrono::steady_clock::now();
                std::ranges::move(runBatch(run, order), std::back_inserter(all));
            }
            std::cout.flush();
            std::this_thread::sleep_for(std::chrono::milliseconds(200));
        }
    }

    // What came of one file goes out: rows, curves, figures.
    Result<void> take(const RecipeRun& run, RunFile& file, RunProjects& projects, bool before) {
        if (before)
            ++taken_;
        else if (journal_) {
            for (FilledRecipe& one : projects)
                if (auto good = writeBeside(run, one); !good) return good;
            if (auto good = journal_->add(file); !good) return good;
        }
        if (!json_) {
            std::cout << lineOf(file) << '\n';
            // Only what the look at the whole family needs is kept.
            for (RunCurve& c : file.curves)
                std::erase_if(c.rows,
                              [](const RunRow& r) { return r.quantity != "centre" && r.quantity != "fwhm"; });
        }
        return {};
    }

    Result<void> writeBeside(const RecipeRun& run, FilledRecipe& one) {
        const Project& p = one.project;
        const std::string name = fileSafe(p.datasets.find(one.dataset)->name);
        const std::string stem = names_.insert(name).second ? name : fmt::format("{}-{}", name, ++again_);
        if (curves_) {
            const auto protocol = run.evaluator().protocol(p, one.dataset);
            const std::string called = stem + (stem == "results" ? "-curve.csv" : ".csv");
            if (auto good = replaceFile(fs::path(out_) / called, curveCsv(protocol.end().curve())); !good)
                return good;
        }
        if (figures_ == "none" || p.figures.empty()) return {};
        if (!figureFiles_) figureFiles_ = std::make_unique<FigureFiles>();
        for (const auto& f : p.figures) {
            const std::string path =
                (fs::path(out_) / (stem + "-" + fileSafe(f->name) + "." + figures_)).string();
            const auto done = exportFigure(p, *f, run.evaluator(), path, figureFiles_->writer());
            if (!done) return std::unexpected(done.error());
        }
        return {};
    }

    static std::string lineOf(const RunFile& file) {
        if (file.failed) return "not read  " + file.failed->sentence();
        std::size_t rows = 0;
        std::string doubt;
        for (const RunCurve& c : file.curves) {
            rows += c.rows.size();
            if (doubt.empty() && !c.doubts.empty()) doubt = c.doubts.front();
        }
        return fmt::format("{}  {}: {}{}", doubt.empty() ? "done    " : "doubtful", file.file,
                           counted(static_cast<long long>(rows), "number"),
                           doubt.empty() ? "" : "; " + doubt);
    }

    int tell(const RecipeRun& run, std::vector<RunFile> all) {
        std::vector<const RunCurve*> family;
        for (const RunFile& f : all)
            for (const RunCurve& c : f.curves) family.push_back(&c);
        const auto reasons = familyDoubts(family);
        auto reason = reasons.begin(); // of each curve in turn
        for (RunFile& f : all)
            for (RunCurve& c : f.curves) {
                for (const std::string& doubt : *reason) {
                    std::cerr << f.file << ": " << doubt << '\n';
                    c.doubts.push_back(doubt);
                }
                ++reason;
            }
        const std::vector<std::string> remarks = familyRemarks(family);
        for (const std::string& remark : remarks) std::cerr << remark << '\n';
        std::size_t failed = 0, doubtful = 0;
        Json files = Json::array(), warnings = Json::array();
        for (const RunFile& f : all) {
            failed += f.failed.has_value();
            doubtful += !f.failed && !f.isGood();
            if (f.failed) say(*f.failed);
            if (f.failed) warnings.push_back(f.failed->sentence());
            for (const RunCurve& c : f.curves)
                for (const std::string& doubt : c.doubts) warnings.push_back(c.dataset + ": " + doubt);
            if (json_) files.push_back(toJson(f));
        }
        for (const std::string& remark : remarks) warnings.push_back(remark);
        const std::string results = journal_ ? journal_->results().string() : std::string();
        if (json_)
            print({{"recipe", run.recipe().name},
                   {"done", all.size() - failed},
                   {"failed", failed},
                   {"doubtful", doubtful},
                   {"taken_up", taken_},
                   {"results", results},
                   {"files", std::move(files)},
                   {"warnings", std::move(warnings)}});
        else
            std::cout << fmt::format("{} done, {} of them doubtful, {} not read{}{}\n", all.size() - failed,
                                     doubtful, failed,
                                     taken_ > 0 ? fmt::format(", {} taken up from before", taken_) : "",
                                     results.empty() ? "" : ": " + results);
        if (!all.empty() && failed == all.size()) return CannotRead;
        return failed + doubtful + remarks.size() > 0 ? DoneWithWarnings : Done;
    }

    std::string recipe_, out_, part_, starts_, pattern_, order_, samples_, figures_ = "pdf";
    std::vector<std::string> files_, with_;
    int jobs_ = 0;
    bool json_ = false, curves_ = false, afresh_ = false, watch_ = false;
    double still_ = 2, idle_ = 0;
    std::optional<RunJournal> journal_;
    std::unique_ptr<FigureFiles> figureFiles_;
    std::set<std::string> names_; // of files beside the results
    int again_ = 1;
    std::size_t taken_ = 0;
};

} // namespace

std::unique_ptr<Command> applyCommand() {
    return std::make_unique<ApplyCommand>();
}

} // namespace jointer::cli
