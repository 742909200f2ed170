// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/session.h"

#include "base/text.h"
#include "session/import.h"
#include "session/validation.h"

#include <csignal>
#include <fmt/format.h>
#include <mutex>
#include <nlohmann/json.hpp>
#include <unistd.h>

namespace jointer {

namespace fs = std::filesystem;

// The file of the autosaves. Work that was begun before the project was saved must not leave one behind: it
// looks whether its generation is still the present one. What was recovered from goes only once the work is
// safe elsewhere.
struct Session::Autosave {
    std::string file; // empty: there are no autosaves
    std::mutex mutex; // of what follows
    int generation = 0;
    Project written; // the autosave holds it
    std::optional<Project> writing;
    std::optional<Recoverable> recovered;

    void forgetRecovered() {
        if (recovered) forget(*recovered);
        recovered.reset();
    }
};

Session::Session(std::string stateFolder)
    : autosave_(std::make_shared<Autosave>()), stateFolder_(std::move(stateFolder)) {
    start(newProject("Untitled"));
    if (stateFolder_.empty()) return;
    std::error_code error;
    fs::create_directories(stateFolder_, error);
    static int count = 0;
    autosave_->file = fmt::format("{}/{}-{}.jointer", stateFolder_, ::getpid(), ++count);
}

Session::~Session() {
    removeAutosave();
    forgetRecovered();
}

void Session::forgetRecovered() {
    const std::lock_guard lock(autosave_->mutex);
    autosave_->forgetRecovered();
}

void Session::removeAutosave() {
    const std::lock_guard lock(autosave_->mutex);
    ++autosave_->generation;
    autosave_->written = {};
    autosave_->writing.reset();
    if (autosave_->file.empty()) return;
    std::error_code error;
    fs::remove(autosave_->file, error);
    fs::remove(autosave_->file + ".json", error);
}

void Session::replace(Project project, bool asSaved) {
    history_ = History(std::move(project));
    saved_ = asSaved ? history_.current() : Project{};
    removeAutosave();
    if (asSaved) forgetRecovered(); // what was recovered has been left
    if (onChange) onChange();
}

void Session::start(Project project) {
    path_.clear();
    view.clear();
    readOnly_ = false;
    evaluator_ = std::make_shared<evaluate::Evaluator>();
    replace(std::move(project), true);
}

Result<void> Session::apply(const Edit& edit) {
    auto done = history_.apply(edit);
    if (done && onChange) onChange();
    return done;
}

void Session::undo() {
    if (history_.undo() && onChange) onChange();
}

void Session::redo() {
    if (history_.redo() && onChange) onChange();
}

Result<std::vector<Issue>> Session::open(const std::string& path) {
    auto opened = openValidated(path);
    if (!opened) return std::unexpected(opened.error());
    path_ = fs::absolute(path).string();
    readOnly_ = opened->readOnly;
    evaluator_ = std::make_shared<evaluate::Evaluator>();
    evaluator_->adopt(opened->beside.results);
    view = std::move(opened->beside.view);
    replace(std::move(opened->project), true);
    return std::move(opened->issues);
}

Result<void> Session::save(const std::string& path) {
    if (readOnly_ && fs::absolute(path) == fs::path(path_))
        return failure("newer-version",
                       "This project was written by a newer version; save it under another name.",
                       {.file = path});
    const Project& now = history_.current();
    if (auto done = saveProject(now, {evaluator_->collect(now), view}, path); !done) return done;
    path_ = fs::absolute(path).string();
    readOnly_ = false;
    saved_ = now;
    removeAutosave();
    forgetRecovered();
    return {};
}

Result<void> Session::autosave() {
    const auto work = autosaveWork();
    return work ? work() : Result<void>{};
}

std::function<Result<void>()> Session::autosaveWork() {
    if (autosave_->file.empty() || !isChanged()) return {};
    const std::lock_guard lock(autosave_->mutex);
    const Project& now = history_.current();
    if (now == autosave_->written || (autosave_->writing && now == *autosave_->writing)) return {};
    autosave_->writing = now;
    return [project = now, view = view, path = path_, to = autosave_,
            generation = autosave_->generation]() -> Result<void> {
        const std::string fresh = to->file + ".new";
        auto done = saveProject(project, {{}, view}, fresh);
        const std::lock_guard held(to->mutex);
        to->writing.reset(); // what failed is tried again
        std::error_code error;
        if (!done || to->generation != generation) {
            fs::remove(fresh, error);
            return done;
        }
        fs::rename(fresh, to->file, error);
        if (error) return failure("autosave", "The autosave could not be written: " + error.message() + ".");
        const nlohmann::ordered_json about = {
            {"title", validUtf8(project.title)}, {"path", validUtf8(path)}, {"pid", ::getpid()}};
        done = replaceFile(to->file + ".json", about.dump());
        if (!done) return done;
        to->written = project;
        to->forgetRecovered();
        return done;
    };
}

std::vector<Session::Recoverable> Session::recoverable(const std::string& stateFolder) {
    std::vector<Recoverable> out;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(stateFolder, error)) {
        if (entry.path().extension() != ".json") continue;
        const auto text = readFile(entry.path());
        const auto about = nlohmann::ordered_json::parse(text.value_or(""), nullptr, false);
        if (!about.is_object() || !about.contains("pid") || !about["pid"].is_number_integer()) continue;
        if (::kill(about["pid"].get<pid_t>(), 0) == 0) continue; // that session is still running
        std::string file = entry.path().string();
        file.resize(file.size() - 5);
        out.push_back({file, about.value("title", ""), about.value("path", "")});
    }
    return out;
}

Result<void> Session::recover(const Recoverable& what) {
    auto opened = openValidated(what.file);
    if (!opened) return std::unexpected(opened.error());
    path_ = what.originalPath;
    view = std::move(opened->beside.view);
    evaluator_ = std::make_shared<evaluate::Evaluator>();
    replace(std::move(opened->project), false);
    const std::lock_guard lock(autosave_->mutex);
    autosave_->recovered = what;
    return {};
}

void Session::forget(const Recoverable& what) {
    std::error_code error;
    fs::remove(what.file, error);
    fs::remove(what.file + ".json", error);
}

} // namespace jointer
