// SPDX-License-Identifier: GPL-3.0-or-later
// The zooms of a plot, to go back and forward among them. Zooming is no edit: it has a history of its own.
// Turns of the wheel that follow each other count as one.
#pragma once

#include <chrono>
#include <optional>
#include <utility>
#include <vector>

namespace jointer::app {

struct View {
    std::optional<std::pair<double, double>> x, y; // none: all
    bool operator==(const View&) const = default;
};

class ViewHistory {
public:
    using Clock = std::chrono::steady_clock;

    // A change from one view, at some moment.
    void leave(const View& from, Clock::time_point now = Clock::now()) {
        const bool goesOn = !past_.empty() && now - last_ < std::chrono::milliseconds(600);
        last_ = now;
        future_.clear();
        if (goesOn || (!past_.empty() && past_.back() == from)) return;
        past_.push_back(from);
        if (past_.size() > 100) past_.erase(past_.begin());
    }
    std::optional<View> back(const View& from) { return step(past_, future_, from); }
    std::optional<View> forward(const View& from) { return step(future_, past_, from); }
    bool canGoBack() const { return !past_.empty(); }
    bool canGoForward() const { return !future_.empty(); }
    void clear() {
        past_.clear();
        future_.clear();
    }

private:
    std::optional<View> step(std::vector<View>& out, std::vector<View>& in, const View& from) {
        if (out.empty()) return std::nullopt;
        const View to = out.back();
        out.pop_back();
        in.push_back(from);
        last_ = {};
        return to;
    }
    std::vector<View> past_, future_;
    Clock::time_point last_{};
};

} // namespace jointer::app
