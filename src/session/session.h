// SPDX-License-Identifier: GPL-3.0-or-later
// What both faces work on: the history of one open project, its evaluator, its file, autosave and recovery.
// Owned by one thread; workers get the current project, which nobody changes under them.
#pragma once

#include "evaluate/evaluator.h"
#include "project/history.h"
#include "project/project_file.h"

#include <chrono>
#include <functional>

namespace jointer {

class Session {
public:
    explicit Session(std::string stateFolder = {}); // where autosaves go; empty: no autosave
    ~Session();

    const Project& project() const { return history_.current(); }
    const History& history() const { return history_; }
    evaluate::Evaluator& evaluator() { return *evaluator_; }
    std::shared_ptr<evaluate::Evaluator> sharedEvaluator() const { return evaluator_; }

    Result<void> apply(const Edit& edit);
    void undo();
    void redo();
    void endMerging() { history_.endMerging(); }
    std::function<void()> onChange; // called after each change of the project

    void start(Project project); // a new project without a file
    Result<std::vector<Issue>> open(const std::string& path);
    Result<void> save(const std::string& path);

    // What the window wants to find again with the project: written on saving, there after opening.
    std::string view;
    const std::string& path() const { return path_; }
    bool readOnly() const { return readOnly_; }
    bool isChanged() const { return !(history_.current() == saved_); }

    // Writes the autosave when something changed since the last one that succeeded. Cheap when nothing did.
    Result<void> autosave();
    // The same as work for another thread; empty when there is nothing to do.
    std::function<Result<void>()> autosaveWork();
    // Autosaves of sessions that did not end well.
    struct Recoverable {
        std::string file, title, originalPath;
    };
    static std::vector<Recoverable> recoverable(const std::string& stateFolder);
    // The file that was recovered from stays until the work is saved, or autosaved, again.
    Result<void> recover(const Recoverable& what);
    static void forget(const Recoverable& what); // deletes the autosave

private:
    void replace(Project project, bool asSaved);
    void removeAutosave();
    void forgetRecovered();
    struct Autosave; // shared with work that still runs when the session has gone on
    std::shared_ptr<Autosave> autosave_;
    std::shared_ptr<evaluate::Evaluator> evaluator_ = std::make_shared<evaluate::Evaluator>();
    History history_;
    Project saved_;
    std::string path_, stateFolder_;
    bool readOnly_ = false;
};

} // namespace jointer
