// SPDX-License-Identifier: GPL-3.0-or-later
// All kinds of one sort (steps, models, readers, marks…) in the order in which lists show them, found by key.
// A kind is a KindInfo, or holds one as `info` beside its computation.
// Example: `if (const StepKind* k = steps::catalogue().find("crop")) …`
#pragma once

#include "describe/kind.h"

#include <algorithm>
#include <deque>

namespace jointer {

inline const KindInfo& infoOf(const KindInfo& kind) {
    return kind;
}
template <class Kind> const KindInfo& infoOf(const Kind& kind) {
    return kind.info;
}

template <class Kind> class Catalogue {
public:
    explicit Catalogue(std::vector<Kind> kinds)
        : kinds_(std::make_move_iterator(kinds.begin()), std::make_move_iterator(kinds.end())) {}

    // For programs that bring a kind of their own, before they do anything else.
    void add(Kind kind) { kinds_.push_back(std::move(kind)); }

    auto begin() const { return kinds_.begin(); }
    auto end() const { return kinds_.end(); }
    std::size_t size() const { return kinds_.size(); }
    const Kind& operator[](std::size_t i) const { return kinds_[i]; }
    const Kind& front() const { return kinds_.front(); }

    const Kind* find(std::string_view key) const {
        const auto at =
            std::ranges::find(kinds_, key, [](const Kind& k) -> std::string_view { return infoOf(k).key; });
        return at == kinds_.end() ? nullptr : &*at;
    }
    // The place of a kind of this catalogue.
    std::size_t indexOf(const Kind& kind) const {
        const auto at = std::ranges::find(kinds_, &kind, [](const Kind& k) { return &k; });
        return static_cast<std::size_t>(at - kinds_.begin());
    }
    std::vector<std::string> keys() const {
        std::vector<std::string> all;
        for (const Kind& k : kinds_) all.push_back(infoOf(k).key);
        return all;
    }

private:
    std::deque<Kind> kinds_; // a kind stays where it is when another is added
};

} // namespace jointer
