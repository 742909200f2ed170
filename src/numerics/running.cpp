// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/running.h"

#include "base/parallel.h"
#include "numerics/compensated_sum.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numeric>

namespace jointer::numerics {

namespace {

// The values of a window in order, kept up while it moves.
class SortedWindow {
public:
    explicit SortedWindow(std::size_t capacity) { sorted_.reserve(capacity); }
    void add(double v) { sorted_.insert(std::ranges::upper_bound(sorted_, v), v); }
    void remove(double v) { sorted_.erase(std::ranges::lower_bound(sorted_, v)); }
    // One value out and another in: only what lies between them moves.
    void replace(double out, double in) {
        const auto from = std::ranges::lower_bound(sorted_, out), to = std::ranges::lower_bound(sorted_, in);
        if (to > from) {
            std::move(from + 1, to, from);
            *(to - 1) = in;
        } else {
            std::move_backward(to, from, from + 1);
            *to = in;
        }
    }
    double median() const { return middle(sorted_.size()); }
    // The median of the distances from the median: two runs, outwards from the middle, merged.
    double scatter() const {
        const double m = median();
        auto above = std::ranges::upper_bound(sorted_, m);
        auto below = above; // first of the run downwards is below - 1
        double last = 0, before = 0;
        const std::size_t n = sorted_.size();
        for (std::size_t k = 0; k <= n / 2; ++k) {
            before = last;
            const bool up =
                below == sorted_.begin() || (above != sorted_.end() && *above - m < m - *(below - 1));
            last = up ? *above++ - m : m - *--below;
        }
        return n % 2 == 1 ? last : 0.5 * (before + last);
    }

private:
    double middle(std::size_t n) const {
        return n % 2 == 1 ? sorted_[n / 2] : 0.5 * (sorted_[n / 2 - 1] + sorted_[n / 2]);
    }
    std::vector<double> sorted_;
};

void medianPart(std::span<const double> v, std::size_t half, std::size_t begin, std::size_t end,
                RunningMedian& out) {
    const std::size_t n = v.size();
    auto reach = [&](std::size_t i) { return std::min({half, i, n - 1 - i}); };
    SortedWindow window(2 * half + 1);
    std::size_t from = begin - reach(begin), to = from; // the window is [from, to)
    for (std::size_t i = begin; i < end; ++i) {
        const std::size_t first = i - reach(i), last = i + reach(i) + 1;
        while (from < first && to < last) window.replace(v[from++], v[to++]);
        while (to < last) window.add(v[to++]);
        while (from < first) window.remove(v[from++]);
        out.median[i] = window.median();
        if (!out.scatter.empty()) out.scatter[i] = window.scatter();
    }
}

// The extreme of a window by a queue of those that may still become it.
template <class Better>
std::vector<double> runningExtreme(std::span<const double> v, std::size_t half, Better better) {
    const std::size_t n = v.size();
    std::vector<double> out(n);
    std::vector<std::size_t> queue(n);
    std::size_t head = 0, tail = 0, next = 0;
    for (std::size_t i = 0; i < n; ++i) {
        for (; next < n && next <= i + half; ++next) {
            while (tail > head && !better(v[queue[tail - 1]], v[next])) --tail;
            queue[tail++] = next;
        }
        while (queue[head] + half < i) ++head;
        out[i] = v[queue[head]];
    }
    return out;
}

} // namespace

RunningMedian runningMedian(std::span<const double> values, std::size_t window, bool withScatter) {
    RunningMedian out{std::vector<double>(values.size()),
                      std::vector<double>(withScatter ? values.size() : 0)};
    parallelRanges(values.size(), 50000, [&](std::size_t begin, std::size_t end) {
        medianPart(values, window / 2, begin, end, out);
    });
    return out;
}

namespace {

// Which of the values, by rank, are in the window: Fenwick's tree of counts.
class RankWindow {
public:
    explicit RankWindow(std::size_t ranks)
        : counts_(std::bit_ceil(std::max<std::size_t>(ranks, 1)) + 1, 0), top_(counts_.size() - 1) {}
    void add(std::size_t rank, int by) {
        for (std::size_t i = rank + 1; i < counts_.size(); i += i & (0 - i)) counts_[i] += by;
        size_ += by;
    }
    std::size_t size() const { return static_cast<std::size_t>(size_); }
    std::size_t at(std::size_t place) const { // the rank that has so many before it
        std::size_t rank = 0;
        auto left = static_cast<int>(place);
        for (std::size_t step = top_; step > 0; step /= 2)
            if (rank + step < counts_.size() && counts_[rank + step] <= left) {
                rank += step;
                left -= counts_[rank];
            }
        return rank;
    }

private:
    std::vector<int> counts_;
    std::size_t top_;
    int size_ = 0;
};

} // namespace

std::vector<double> runningMedianWithin(std::span<const double> x, std::span<const double> values,
                                        double width) {
    const std::size_t n = x.size();
    std::vector<std::size_t> order(n), rank(n);
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::ranges::stable_sort(order, {}, [&](std::size_t i) { return values[i]; });
    for (std::size_t r = 0; r < n; ++r) rank[order[r]] = r;
    RankWindow window(n);
    std::vector<double> out(n);
    std::size_t first = 0, end = 0;
    const double slack = 1e-9 * width; // a window of whole steps holds the points at its ends
    for (std::size_t i = 0; i < n; ++i) {
        const double reach = std::min({width / 2, x[i] - x[0], x[n - 1] - x[i]}) + slack;
        while (end < n && x[end] <= x[i] + reach) window.add(rank[end++], 1);
        while (end > i + 1 && x[end - 1] > x[i] + reach) window.add(rank[--end], -1);
        while (first > 0 && x[first - 1] >= x[i] - reach) window.add(rank[--first], 1);
        while (first < i && x[first] < x[i] - reach) window.add(rank[first++], -1);
        const std::size_t half = window.size() / 2;
        const double upper = values[order[window.at(half)]];
        out[i] = window.size() % 2 == 1 ? upper : std::midpoint(values[order[window.at(half - 1)]], upper);
    }
    return out;
}

std::vector<double> runningMinimum(std::span<const double> values, std::size_t half) {
    return runningExtreme(values, half, std::less<>());
}

std::vector<double> runningMaximum(std::span<const double> values, std::size_t half) {
    return runningExtreme(values, half, std::greater<>());
}

std::vector<double> runningMean(std::span<const double> values, std::size_t half) {
    const std::size_t n = values.size();
    std::vector<double> out(n);
    CompensatedSum sum;
    std::size_t from = 0, to = 0;
    for (std::size_t i = 0; i < n; ++i) {
        while (to < n && to <= i + half) sum.add(values[to++]);
        while (from + half < i) sum.add(-values[from++]);
        out[i] = sum.value() / static_cast<double>(to - from);
    }
    return out;
}

} // namespace jointer::numerics
