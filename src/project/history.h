// SPDX-License-Identifier: GPL-3.0-or-later
// The history of a session: projects before and after each edit, with names. Undo is the project before.
// Old entries go when the cells that only they hold take more than a limit. Owned by one thread.
#pragma once

#include "project/edit.h"

#include <deque>

namespace jointer {

class History {
public:
    explicit History(Project start = {}, std::size_t byteLimit = 512u << 20)
        : current_(std::move(start)), byteLimit_(byteLimit) {}

    const Project& current() const { return current_; }

    // Applies an edit. One that changes nothing leaves no entry. Errors: those of the edit; nothing changes.
    Result<void> apply(const Edit& edit);
    bool undo();
    bool redo();
    void endMerging() { mergeKey_.clear(); } // the next edit makes an entry of its own

    std::string undoName() const { return undo_.empty() ? std::string{} : undo_.back().name; }
    std::string redoName() const { return redo_.empty() ? std::string{} : redo_.back().name; }
    std::size_t undoCount() const { return undo_.size(); }

private:
    struct Entry {
        std::string name;
        Project project;   // before (in undo) or after (in redo)
        std::size_t bytes; // of the cells that the project after it has no longer
    };
    void weighLast();
    void forgetOld();
    Project current_;
    std::size_t byteLimit_, undoBytes_ = 0;
    std::deque<Entry> undo_, redo_;
    std::string mergeKey_;
};

} // namespace jointer
