// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/history.h"

#include <algorithm>

namespace jointer {

namespace {

constexpr std::size_t kMostEntries = 2000;

std::size_t bytesOf(const Cells& c) {
    std::size_t bytes = c.numbers.size() * sizeof(double) + c.states.size();
    for (const std::string& t : c.texts) bytes += sizeof t + t.capacity();
    return bytes;
}

bool holds(const Table* table, const Cells* cells) {
    return table &&
           std::ranges::any_of(table->columns, [&](const Column& c) { return c.cells.get() == cells; });
}

// What an edit took out of a project: the bytes of cells and assets that only the one before holds. Looks at
// the parts that changed.
std::size_t bytesOnlyIn(const Project& before, const Project& after) {
    std::size_t bytes = 0;
    for (std::size_t i = 0; i < before.tables.size(); ++i) {
        const Table& was = before.tables[i];
        if (i < after.tables.size() && &was == &after.tables[i]) continue;
        const auto now = after.tables.find(was.id);
        if (now.get() == &was) continue;
        for (const Column& c : was.columns)
            if (!holds(now.get(), c.cells.get())) bytes += bytesOf(*c.cells);
    }
    for (const auto& asset : before.assets)
        if (after.assets.find(asset->id) != asset)
            bytes += asset->bytes->size() + (asset->drawing ? asset->drawing->size() : 0);
    return bytes;
}

} // namespace

Result<void> History::apply(const Edit& edit) {
    auto after = edit.apply(current_);
    if (!after) return std::unexpected(after.error());
    if (*after == current_) return {};
    const bool merge = !edit.mergeKey.empty() && edit.mergeKey == mergeKey_ && !undo_.empty();
    if (!merge) undo_.push_back({edit.name, current_, 0});
    mergeKey_ = edit.mergeKey;
    redo_.clear();
    current_ = std::move(*after);
    weighLast();
    forgetOld();
    return {};
}

// The newest entry is followed by the current project, the others by the entry after them.
void History::weighLast() {
    Entry& last = undo_.back();
    undoBytes_ -= last.bytes;
    last.bytes = bytesOnlyIn(last.project, current_);
    undoBytes_ += last.bytes;
}

void History::forgetOld() {
    while (!undo_.empty() && (undoBytes_ > byteLimit_ || undo_.size() > kMostEntries)) {
        undoBytes_ -= undo_.front().bytes;
        undo_.pop_front();
    }
}

bool History::undo() {
    if (undo_.empty()) return false;
    const std::uint64_t next = current_.nextId; // ids are never reused, not even after undo
    redo_.push_back({undo_.back().name, std::move(current_), 0});
    current_ = std::move(undo_.back().project);
    current_.nextId = std::max(current_.nextId, next);
    undoBytes_ -= undo_.back().bytes;
    undo_.pop_back();
    mergeKey_.clear();
    return true;
}

bool History::redo() {
    if (redo_.empty()) return false;
    undo_.push_back({redo_.back().name, std::move(current_), 0});
    current_ = std::move(redo_.back().project);
    redo_.pop_back();
    weighLast();
    mergeKey_.clear();
    return true;
}

} // namespace jointer
