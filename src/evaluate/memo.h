// SPDX-License-Identifier: GPL-3.0-or-later
// Remembered results under the digest of everything they were made from. Least recently used ones go first,
// counted in bytes. Thread-safe.
#pragma once

#include "base/hash.h"
#include "base/issue.h"

#include <list>
#include <memory>
#include <mutex>
#include <optional>
#include <unordered_map>
#include <vector>

namespace jointer::evaluate {

// A result as the graph keeps it: a value whose type its sort of node knows, the issues that were found in
// making it, and a digest for what is made of it (empty: the key of the node, where that says as much).
struct Stored {
    std::shared_ptr<const void> value; // none: it could not be made, and the first issue says why
    std::vector<Issue> issues{};
    Digest digest{};
    std::size_t bytes = 0;
    bool whole = true; // false: stopped or provisional

    template <class T> std::shared_ptr<const T> as() const {
        return std::static_pointer_cast<const T>(value);
    }
};

class Memo {
public:
    explicit Memo(std::size_t byteLimit) : byteLimit_(byteLimit) {}

    std::optional<Stored> find(const Digest& key) {
        const std::lock_guard lock(mutex_);
        const auto at = entries_.find(key);
        if (at == entries_.end()) return std::nullopt;
        order_.splice(order_.begin(), order_, at->second.place);
        return at->second.stored;
    }
    void put(const Digest& key, const Stored& stored) {
        const std::lock_guard lock(mutex_);
        if (entries_.contains(key)) return;
        order_.push_front(key);
        entries_.emplace(key, Entry{stored, order_.begin()});
        bytes_ += stored.bytes + kEntryBytes;
        while (bytes_ > byteLimit_ && order_.size() > 1) dropOldest();
    }

    std::size_t bytes() const {
        const std::lock_guard lock(mutex_);
        return bytes_;
    }

private:
    static constexpr std::size_t kEntryBytes = 256;
    struct Entry {
        Stored stored;
        std::list<Digest>::iterator place;
    };
    void dropOldest() {
        const auto at = entries_.find(order_.back());
        bytes_ -= at->second.stored.bytes + kEntryBytes;
        entries_.erase(at);
        order_.pop_back();
    }
    mutable std::mutex mutex_;
    std::size_t byteLimit_, bytes_ = 0;
    std::list<Digest> order_;
    std::unordered_map<Digest, Entry> entries_;
};

} // namespace jointer::evaluate
