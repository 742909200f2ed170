// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/history.h"

#include <set>

namespace jointer {

namespace {

constexpr std::size_t kMostEntries = 2000;

std::size_t bytesOf(const Cells& c) {
    std::size_t bytes = c.numbers.size() * sizeof(double) + c.states.size();
    for (const std::string& t : c.texts) bytes += sizeof t + t.capacity();
    return bytes;
}

// Bytes of the cells in a project that are not in `known` yet; they are added to it.
std::size_t newBytes(const Project& project, std::set<const Cells*>& known) {
    std::size_t bytes = 0;
    for (const auto& table : project.tables)
        for (const Column& c : table->columns)
            if (known.insert(c.cells.get()).second) bytes += bytesOf(*c.cells);
    return bytes;
}

} // namespace

Result<void> History::apply(const Edit& edit) {
    auto after = edit.apply(current_);
    if (!after) return std::unexpected(after.error());
    if (*after == current_) return {};
    const bool merge = !edit.mergeKey.empty() && edit.mergeKey == mergeKey_ && !undo_.empty();
    if (!merge) undo_.push_back({edit.name, current_});
    mergeKey_ = edit.mergeKey;
    redo_.clear();
    current_ = std::move(*after);
    forgetOld();
    return {};
}

void History::forgetOld() {
    std::set<const Cells*> known;
    newBytes(current_, known);
    std::size_t bytes = 0;
    for (std::size_t i = undo_.size(); i-- > 0;) {
        bytes += newBytes(undo_[i].project, known);
        if (bytes <= byteLimit_ && undo_.size() - i <= kMostEntries) continue;
        undo_.erase(undo_.begin(), undo_.begin() + static_cast<std::ptrdiff_t>(i) + 1);
        return;
    }
}

bool History::undo() {
    if (undo_.empty()) return false;
    const std::uint64_t next = current_.nextId; // ids are never reused, not even after undo
    redo_.push_back({undo_.back().name, std::move(current_)});
    current_ = std::move(undo_.back().project);
    current_.nextId = std::max(current_.nextId, next);
    undo_.pop_back();
    mergeKey_.clear();
    return true;
}

bool History::redo() {
    if (redo_.empty()) return false;
    undo_.push_back({redo_.back().name, std::move(current_)});
    current_ = std::move(redo_.back().project);
    redo_.pop_back();
    mergeKey_.clear();
    return true;
}

} // namespace jointer
