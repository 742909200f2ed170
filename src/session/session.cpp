// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/session.h"

#include "session/import.h"

#include <csignal>
#include <fmt/format.h>
#include <mutex>
#include <nlohmann/json.hpp>
#include <unistd.h>

namespace jointer {

namespace fs = std::filesystem;

// The file of the autosaves. Work that was begun before the project was saved must not leave one behind: it
// looks whether its generation is still the present one.
struct Session::Autosave {
    std::string file;
    std::mutex mutex;
    int generation = 0;
};

Session::Session(std::string stateFolder) : stateFolder_(std::move(stateFolder)) {
    start(newProject("Untitled"));
    if (stateFolder_.empty()) return;
    std::error_code error;
    fs::create_directories(stateFolder_, error);
    static int count = 0;
    autosave_ = std::make_shared<Autosave>();
    autosave_->file = fmt::format("{}/{}-{}.jointer", stateFolder_, ::getpid(), ++count);
}

Session::~Session() {
    removeAutosave();
}

void Session::removeAutosave() {
    if (!autosave_) return;
    const std::lock_guard lock(autosave_->mutex);
    ++autosave_->generation;
    std::error_code error;
    fs::remove(autosave_->file, error);
    fs::remove(autosave_->file + ".json", error);
}

void Session::replace(Project project, bool asSaved) {
    history_ = History(std::move(project));
    saved_ = asSaved ? history_.current() : Project{};
    autosaved_ = history_.current();
    removeAutosave();
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
    auto opened = openProject(path);
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
    return {};
}

Result<void> Session::autosave() {
    const auto work = autosaveWork();
    return work ? work() : Result<void>{};
}

std::function<Result<void>()> Session::autosaveWork() {
    if (!autosave_ || history_.current() == autosaved_ || !isChanged()) return {};
    autosaved_ = history_.current();
    return [project = autosaved_, view = view, path = path_, to = autosave_,
            generation = autosave_->generation]() -> Result<void> {
        const std::string fresh = to->file + ".new";
        const nlohmann::ordered_json about = {{"title", project.title}, {"path", path}, {"pid", ::getpid()}};
        if (auto done = saveProject(project, {{}, view}, fresh); !done) return done;
        const std::lock_guard lock(to->mutex);
        std::error_code error;
        if (to->generation != generation) {
            fs::remove(fresh, error);
            return {};
        }
        fs::rename(fresh, to->file, error);
        if (error) return failure("autosave", "The autosave could not be written: " + error.message() + ".");
        return replaceFile(to->file + ".json", about.dump());
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
    auto opened = openProject(what.file);
    if (!opened) return std::unexpected(opened.error());
    path_ = what.originalPath;
    view = std::move(opened->beside.view);
    evaluator_ = std::make_shared<evaluate::Evaluator>();
    replace(std::move(opened->project), false);
    forget(what);
    return {};
}

void Session::forget(const Recoverable& what) {
    std::error_code error;
    fs::remove(what.file, error);
    fs::remove(what.file + ".json", error);
}

} // namespace jointer
