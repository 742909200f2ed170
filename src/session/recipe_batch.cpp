// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/recipe_batch.h"

#include "base/one_thread.h"
#include "base/text.h"
#include "session/import.h"
#include "session/name_pattern.h"

#include <algorithm>
#include <condition_variable>
#include <fmt/format.h>
#include <mutex>
#include <thread>

namespace jointer {

namespace fs = std::filesystem;

namespace {

struct Finished {
    RunFile file;
    RunProjects projects;
    bool known = false;
};

// Files are begun in order, and wait until they are taken in order.
class Batch {
public:
    Batch(const RecipeRun& run, const BatchOrder& order) : run_(run), order_(order) {
        const int processors = static_cast<int>(std::max(1u, std::thread::hardware_concurrency()));
        jobs_ = isChained(run.recipe()) ? 1 : order.jobs > 0 ? order.jobs : processors;
        ahead_ = 4 * static_cast<std::size_t>(jobs_);
    }

    std::vector<RunFile> all() {
        std::vector<RunFile> out;
        std::vector<std::jthread> workers;
        for (int k = 0; k < jobs_; ++k) workers.emplace_back([this] { work(); });
        for (std::size_t i = 0; i < order_.files.size(); ++i) {
            std::optional<Finished> one = next(i);
            if (!one) break;
            const bool goOn = !order_.take || order_.take(one->file, one->projects, one->known);
            out.push_back(std::move(one->file));
            if (!goOn) break;
        }
        const std::lock_guard lock(mutex_);
        over_ = true;
        changed_.notify_all();
        return out;
    }

private:
    std::optional<Finished> next(std::size_t i) {
        std::unique_lock lock(mutex_);
        changed_.wait(lock, [&] { return finished_.contains(i) || (over_ && begun_ <= i); });
        const auto at = finished_.find(i);
        if (at == finished_.end()) return std::nullopt;
        Finished one = std::move(at->second);
        finished_.erase(at);
        taken_ = i + 1;
        changed_.notify_all();
        return one;
    }

    void work() {
        std::optional<OnOneThread> alone; // a single one may use all processors for its file
        if (jobs_ > 1) alone.emplace();
        RunProjects before;
        for (;;) {
            std::size_t i = 0;
            {
                std::unique_lock lock(mutex_);
                changed_.wait(lock, [&] { return over_ || begun_ < taken_ + ahead_; });
                if (order_.stop.stop_requested()) over_ = true;
                if (over_ || begun_ == order_.files.size()) {
                    changed_.notify_all();
                    return;
                }
                i = begun_++;
            }
            Finished one = finish(order_.files[i], before);
            const std::lock_guard lock(mutex_);
            finished_.emplace(i, std::move(one));
            changed_.notify_all();
        }
    }

    Finished finish(const std::string& file, RunProjects& before) {
        const bool chained = isChained(run_.recipe());
        auto known = order_.done ? order_.done(file) : std::nullopt;
        if (known && !chained) return {std::move(*known), {}, true};
        // What begins where the last file ended has to have run it.
        Finished one{.file = {}, .projects = {}, .known = known.has_value()};
        if (chained) one.projects = before;
        one.file = run_.run(file, one.projects, order_.stop);
        if (chained) before = one.projects;
        return one;
    }

    const RecipeRun& run_;
    const BatchOrder& order_;
    int jobs_ = 1;
    std::size_t ahead_ = 1;
    std::mutex mutex_;
    std::condition_variable changed_;
    std::map<std::size_t, Finished> finished_;
    std::size_t begun_ = 0, taken_ = 0;
    bool over_ = false;
};

} // namespace

std::vector<RunFile> runBatch(const RecipeRun& run, const BatchOrder& order) {
    return Batch(run, order).all();
}

Result<std::vector<std::string>> filesOf(const std::vector<std::string>& paths) {
    std::vector<std::string> out;
    std::error_code error;
    for (const std::string& path : paths) {
        if (!fs::is_directory(path, error)) {
            out.push_back(path);
            continue;
        }
        std::vector<std::string> inside;
        for (const auto& entry : fs::directory_iterator(path, error))
            if (entry.is_regular_file(error) && !entry.path().filename().string().starts_with('.'))
                inside.push_back(entry.path().string());
        std::ranges::sort(inside);
        std::ranges::move(inside, std::back_inserter(out));
    }
    if (out.empty())
        return failure("no-files", "There are no files in this folder.", {.file = joined(paths, ", ")});
    return out;
}

void sortInOrder(const Recipe& recipe, std::vector<std::string>& files) {
    const std::string by = recipeSettings().text(recipe.settings, "order");
    const std::string pattern = recipeSettings().text(recipe.settings, "pattern");
    if (by.empty() || pattern.empty()) return;
    const auto valueOf = [&](const std::string& file) {
        const auto found = matchPattern(pattern, nameFromPath(file));
        double value = INFINITY;
        if (found && *found)
            for (const auto& [name, text] : **found)
                if (name == by) value = parseNumber(text).value_or(INFINITY);
        return value;
    };
    std::vector<std::pair<double, std::string>> keyed;
    for (std::string& file : files) keyed.emplace_back(valueOf(file), std::move(file));
    std::ranges::stable_sort(keyed, {}, &std::pair<double, std::string>::first);
    for (std::size_t i = 0; i < files.size(); ++i) files[i] = std::move(keyed[i].second);
}

} // namespace jointer
