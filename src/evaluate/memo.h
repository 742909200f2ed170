// SPDX-License-Identifier: GPL-3.0-or-later
// Remembered results under the digest of everything they were made from. Least recently used ones go first,
// counted in bytes. Thread-safe.
#pragma once

#include "base/hash.h"

#include <any>
#include <list>
#include <memory>
#include <mutex>
#include <unordered_map>

namespace jointer::evaluate {

class Memo {
public:
    explicit Memo(std::size_t byteLimit) : byteLimit_(byteLimit) {}

    template <class T> std::shared_ptr<const T> find(const Digest& key) {
        const std::lock_guard lock(mutex_);
        const auto at = entries_.find(key);
        if (at == entries_.end()) return nullptr;
        order_.splice(order_.begin(), order_, at->second.place);
        return std::static_pointer_cast<const T>(at->second.value);
    }
    template <class T> void put(const Digest& key, std::shared_ptr<const T> value, std::size_t bytes) {
        const std::lock_guard lock(mutex_);
        if (entries_.contains(key)) return;
        order_.push_front(key);
        entries_.emplace(key, Entry{std::move(value), bytes + 128, order_.begin()});
        bytes_ += bytes + 128;
        while (bytes_ > byteLimit_ && order_.size() > 1) dropOldest();
    }
    std::size_t bytes() const {
        const std::lock_guard lock(mutex_);
        return bytes_;
    }

private:
    struct Entry {
        std::shared_ptr<const void> value;
        std::size_t bytes;
        std::list<Digest>::iterator place;
    };
    void dropOldest() {
        const auto at = entries_.find(order_.back());
        bytes_ -= at->second.bytes;
        entries_.erase(at);
        order_.pop_back();
    }
    mutable std::mutex mutex_;
    std::size_t byteLimit_, bytes_ = 0;
    std::list<Digest> order_;
    std::unordered_map<Digest, Entry> entries_;
};

} // namespace jointer::evaluate
