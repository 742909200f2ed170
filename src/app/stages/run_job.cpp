// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/run_job.h"

#include "app/widgets.h"
#include "session/alike_reading.h"
#include "session/recipe_batch.h"
#include "session/recipe_chain.h"

#include <QElapsedTimer>
#include <set>

namespace jointer::app {

namespace {

constexpr int kTogether = 250;            // ms between two handings over
constexpr std::size_t kMostTogether = 60; // files

// A recipe whose further inputs hold the data of the project's datasets, so that it can run by itself.
Result<Recipe> filledInputs(Recipe recipe, const InputDatasets& inputs, const Project& project) {
    for (const auto& [name, id] : inputs) {
        const auto d = project.datasets.find(id);
        const auto t = d ? project.tables.find(d->source.table) : nullptr;
        if (!t) continue;
        io::ReadResult reading;
        reading.tables.push_back({.table = *t});
        auto made = filled(recipe, name, reading, d->name);
        if (!made) return std::unexpected(made.error());
        recipe.parts = std::make_shared<const Project>(std::move(made->project));
    }
    return recipe;
}

} // namespace

struct RunJob::Batch {
    std::vector<FilledRecipe> filled;
    std::vector<RunFailure> failures;
    std::size_t files = 0;
    bool last = false;
};

RunJob::RunJob(Document& document, QObject* parent) : QObject(parent), document_(document), queue_(this) {}

void RunJob::stop() {
    queue_.stopRunning();
}

void RunJob::expect(std::size_t n) {
    if (!running_) {
        done_ = all_ = 0;
        failures_.clear();
    }
    all_ += n;
    running_ = true;
}

void RunJob::finishOne() {
    running_ = queue_.isBusy() && done_ < all_;
    if (!running_) Q_EMIT ended();
}

Result<std::size_t> RunJob::begin(RecipeId id, std::vector<std::string> files) {
    const Project& project = document_.project();
    const auto recipe = project.recipes.find(id);
    if (!recipe) return failure("target-gone", "The recipe is no longer there.");
    const InputDatasets inputs = inputsByName(*recipe, project);
    for (std::size_t i = 1; i < recipe->inputs.size(); ++i)
        if (!inputs.contains(recipe->inputs[i].name))
            return failure("input", "The recipe takes “" + recipe->inputs[i].name +
                                        "”: import it, and call a dataset so.");
    std::set<std::string> before;
    for (const auto& d : project.datasets)
        if (d->recipe == id)
            if (const auto t = project.tables.find(d->source.table)) before.insert(t->origin.file);
    std::erase_if(files, [&](const std::string& f) { return before.contains(f); });
    sortInOrder(*recipe, files);
    if (files.empty()) return 0;
    const std::size_t n = files.size();
    expect(n);
    queue_.add([this, recipe = *recipe, inputs, project, files = std::move(files),
                run = ++run_](const Cancellation& stop) -> std::function<void()> {
        work(recipe, inputs, project, files, run, stop);
        return [] {};
    });
    Q_EMIT progressed();
    return n;
}

void RunJob::beginOn(RecipeId id, std::vector<DatasetId> datasets) {
    const Project& project = document_.project();
    const auto recipe = project.recipes.find(id);
    if (!recipe) return;
    sortInOrder(*recipe, datasets, project);
    const auto apply = [this, name = recipe->name](Result<std::vector<Edit>> list) {
        if (!list) return document_.say(text(list.error().text), true);
        document_.apply(edits::together("Run " + name, std::move(*list)));
    };
    const auto inTurn = [recipe, datasets, project, inputs = inputsByName(*recipe, project),
                         evaluator = document_.session().sharedEvaluator()](const Cancellation& stop) {
        return runInTurn(*recipe, datasets, project, inputs, *evaluator, stop);
    };
    if (!isChained(*recipe)) return apply(inTurn({}));
    expect(datasets.size());
    queue_.add([this, apply, inTurn, n = datasets.size()](const Cancellation& stop) -> std::function<void()> {
        return [this, apply, n, list = inTurn(stop)] {
            done_ += n;
            apply(list);
            finishOne();
            Q_EMIT progressed();
        };
    });
    Q_EMIT progressed();
}

void RunJob::work(const Recipe& recipe, const InputDatasets& inputs, const Project& project,
                  const std::vector<std::string>& files, int run, const Cancellation& stop) {
    auto batch = std::make_shared<Batch>();
    QElapsedTimer since;
    since.start();
    const auto handOver = [&](bool last) {
        batch->last = last;
        QMetaObject::invokeMethod(
            this, [this, run, recipe, inputs, batch] { take(run, recipe, inputs, batch); },
            Qt::QueuedConnection);
        batch = std::make_shared<Batch>();
        since.restart();
    };
    const auto fail = [&](const std::string& file, const Issue& why) {
        batch->failures.push_back({file, text(why.sentence())});
    };
    AlikeReading reading;
    const Settings told = readingOf(recipe, recipe.inputs.front().dataset);
    // Where each begins as the one before ended, the fits are done here; else the window does them.
    std::optional<RecipeRun> chained;
    if (isChained(recipe))
        if (auto whole = filledInputs(recipe, inputs, project)) {
            whole->inputs.resize(1); // the others are filled
            if (auto made = RecipeRun::make(std::move(*whole), {})) chained.emplace(std::move(*made));
        }
    RunProjects before;
    for (const std::string& file : files) {
        if (stop.stop_requested()) break;
        ++batch->files;
        if (chained) {
            const RunFile ran = chained->run(file, before, stop);
            if (ran.failed)
                fail(file, *ran.failed);
            else
                for (const FilledRecipe& one : before) batch->filled.push_back(one);
        } else if (const auto read = reading.read(file, told, stop); !read)
            fail(file, read.error());
        else if (auto all = filledWithData(recipe, *read, file); !all)
            fail(file, all.error());
        else
            std::ranges::move(*all, std::back_inserter(batch->filled));
        if (since.elapsed() > kTogether || batch->files >= kMostTogether) handOver(false);
    }
    handOver(true);
}

void RunJob::take(int run, const Recipe& recipe, const InputDatasets& inputs,
                  const std::shared_ptr<Batch>& batch) {
    done_ += batch->files;
    std::ranges::move(batch->failures, std::back_inserter(failures_));
    if (!batch->filled.empty()) {
        std::vector<Edit> list;
        for (FilledRecipe& one : batch->filled)
            list.push_back(edits::joinFilled(recipe, std::move(one), inputs));
        Edit all = edits::together("Run " + recipe.name, std::move(list));
        all.mergeKey = "run " + std::to_string(run);
        document_.apply(all);
    }
    if (batch->last) {
        document_.session().endMerging();
        finishOne();
    }
    Q_EMIT progressed();
}

} // namespace jointer::app
