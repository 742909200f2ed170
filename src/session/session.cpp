// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/session.h"

#include "session/import.h"

#include <csignal>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <unistd.h>

namespace jointer {

namespace fs = std::filesystem;

Session::Session(std::string stateFolder) : stateFolder_(std::move(stateFolder)) {
    start(newProject("Untitled"));
    if (stateFolder_.empty()) return;
    std::error_code error;
    fs::create_directories(stateFolder_, error);
    static int count = 0;
    autosaveFile_ = fmt::format("{}/{}-{}.jointer", stateFolder_, ::getpid(), ++count);
}

Session::~Session() {
    removeAutosave();
}

void Session::removeAutosave() {
    if (autosaveFile_.empty()) return;
    std::error_code error;
    fs::remove(autosaveFile_, error);
    fs::remove(autosaveFile_ + ".json", error);
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
    evaluator_->adopt(opened->results);
    replace(std::move(opened->project), true);
    return std::move(opened->issues);
}

Result<void> Session::save(const std::string& path) {
    if (readOnly_ && fs::absolute(path) == fs::path(path_))
        return failure("newer-version",
                       "This project was written by a newer version; save it under another name.",
                       {.file = path});
    const Project& now = history_.current();
    if (auto done = saveProject(now, evaluator_->collect(now), path); !done) return done;
    path_ = fs::absolute(path).string();
    readOnly_ = false;
    saved_ = now;
    removeAutosave();
    return {};
}

Result<void> Session::autosave() {
    if (autosaveFile_.empty() || history_.current() == autosaved_ || !isChanged()) return {};
    const nlohmann::ordered_json about = {
        {"title", history_.current().title}, {"path", path_}, {"pid", ::getpid()}};
    if (auto done = saveProject(history_.current(), {}, autosaveFile_); !done) return done;
    if (auto done = replaceFile(autosaveFile_ + ".json", about.dump()); !done) return done;
    autosaved_ = history_.current();
    return {};
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
