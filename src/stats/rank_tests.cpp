// SPDX-License-Identifier: GPL-3.0-or-later
// Tests by ranks: of two groups, of pairs, of several groups.
#include "stats/rank_distributions.h"
#include "stats/test_tools.h"

#include <algorithm>
#include <bit>
#include <fmt/format.h>
#include <numeric>

namespace jointer::stats {

Ranks ranksOf(std::span<const double> values) {
    const std::size_t n = values.size();
    std::vector<std::size_t> order(n);
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::ranges::sort(order, {}, [&](std::size_t i) { return values[i]; });
    Ranks out{std::vector<double>(n)};
    for (std::size_t from = 0, to; from < n; from = to) {
        for (to = from + 1; to < n && values[order[to]] == values[order[from]];) ++to;
        const auto t = static_cast<double>(to - from);
        out.ties += t * t * t - t;
        for (std::size_t k = from; k < to; ++k) out.ranks[order[k]] = static_cast<double>(from) + (t + 1) / 2;
    }
    return out;
}

namespace {

constexpr std::size_t kMostExact = 50;         // values of each group
constexpr std::size_t kMostListed = 4'000'000; // differences that are made one by one

std::vector<double> sorted(std::vector<double> values) {
    std::ranges::sort(values);
    return values;
}

// What stands at some place in the order of all differences a − b (or of all means of pairs).
class Ordered {
public:
    static Ordered differences(const std::vector<double>& a, const std::vector<double>& b) {
        Ordered o(sorted(a), sorted(b), a.size() * b.size());
        o.count_ = [](const Ordered& self, double d) { // of those at most d
            std::size_t n = 0, j = 0;
            for (double x : self.a_) { // x − b ≤ d: b ≥ x − d; the bound rises with x
                while (j < self.b_.size() && x - self.b_[j] > d) ++j;
                n += self.b_.size() - j;
            }
            return n;
        };
        if (o.size_ <= kMostListed)
            for (double x : a)
                for (double y : b) o.all_.push_back(x - y);
        return o;
    }

    static Ordered means(const std::vector<double>& d) { // of each with each and with itself
        Ordered o(sorted(d), {}, d.size() * (d.size() + 1) / 2);
        o.count_ = [](const Ordered& self, double at) {
            std::size_t n = 0, j = self.a_.size();
            for (std::size_t i = 0; i < self.a_.size(); ++i) {
                while (j > 0 && 0.5 * (self.a_[i] + self.a_[j - 1]) > at) --j;
                n += j > i ? j - i : 0;
            }
            return n;
        };
        if (o.size_ <= kMostListed)
            for (std::size_t i = 0; i < d.size(); ++i)
                for (std::size_t j = i; j < d.size(); ++j) o.all_.push_back(0.5 * (d[i] + d[j]));
        return o;
    }

    std::size_t size() const { return size_; }

    double at(std::size_t place) { // from 0
        if (!all_.empty()) {
            const auto to = all_.begin() + static_cast<std::ptrdiff_t>(place);
            std::ranges::nth_element(all_, to);
            return *to;
        }
        double low = count_ && b_.empty() ? a_.front() : a_.front() - b_.back(),
               high = b_.empty() ? a_.back() : a_.back() - b_.front();
        for (int round = 0; round < 200 && low < high; ++round) {
            const double middle = std::midpoint(low, high);
            if (middle == low || middle == high) return count_(*this, low) > place ? low : high;
            (count_(*this, middle) > place ? high : low) = middle;
        }
        return high;
    }

    double median() { return size_ % 2 == 1 ? at(size_ / 2) : 0.5 * (at(size_ / 2 - 1) + at(size_ / 2)); }

private:
    Ordered(std::vector<double> a, std::vector<double> b, std::size_t size)
        : a_(std::move(a)), b_(std::move(b)), size_(size) {}
    std::vector<double> a_, b_, all_;
    std::size_t size_;
    std::size_t (*count_)(const Ordered&, double) = nullptr;
};

// The interval of a shift: the differences that the test would not reject.
void takeInterval(Ordered& o, std::size_t below, TestResult& r) {
    const std::size_t k = std::clamp<std::size_t>(below, 1, (o.size() + 1) / 2);
    r.low = o.at(k - 1);
    r.high = o.at(o.size() - k);
}

double withContinuity(double off) { // half a step towards nought
    return std::copysign(std::max(0.0, std::abs(off) - 0.5), off);
}

std::size_t placesBelow(double mean, double sd, double level) {
    return static_cast<std::size_t>(std::max(0.0, std::floor(mean - quantileOfNormal(level) * sd)));
}

// The share of pairs in which a is above b, by where each value stands among the others.
EffectSize superiority(double u, const std::vector<double>& a, const std::vector<double>& b,
                       const Ranks& together, double level) {
    const auto m = static_cast<double>(a.size()), n = static_cast<double>(b.size());
    EffectSize e{.name = "probability that the first is larger", .value = u / (m * n)};
    const Ranks ownA = ranksOf(a), ownB = ranksOf(b);
    std::vector<double> placesA, placesB;
    for (std::size_t i = 0; i < a.size(); ++i) placesA.push_back((together.ranks[i] - ownA.ranks[i]) / n);
    for (std::size_t j = 0; j < b.size(); ++j)
        placesB.push_back((together.ranks[a.size() + j] - ownB.ranks[j]) / m);
    if (m < 2 || n < 2) return e;
    const double half = quantileOfNormal(level) *
                        std::sqrt(momentsOf(placesA).variance() / m + momentsOf(placesB).variance() / n);
    e.low = std::max(0.0, e.value - half), e.high = std::min(1.0, e.value + half);
    return e;
}

} // namespace

Result<TestResult> mannWhitneyTest(const Design& d) {
    const auto &a = d.groups[0].values, &b = d.groups[1].values;
    if (a.empty() || b.empty()) return cannotTest("Each of the two groups needs a value at least.");
    std::vector<double> all = a;
    all.insert(all.end(), b.begin(), b.end());
    const Ranks r = ranksOf(all);
    const auto m = static_cast<double>(a.size()), n = static_cast<double>(b.size()), whole = m + n;
    const double u = std::accumulate(r.ranks.begin(), r.ranks.begin() + std::ssize(a), 0.0) - m * (m + 1) / 2;
    TestResult out{.test = "mann-whitney", .statisticName = "U", .statistic = u};
    const double sd = std::sqrt(m * n / 12 * (whole + 1 - r.ties / (whole * (whole - 1))));
    std::size_t below = placesBelow(m * n / 2, sd, d.level);
    if (a.size() <= kMostExact && b.size() <= kMostExact && r.ties == 0) {
        const CountDistribution exact = rankSumDistribution(a.size(), b.size());
        out.p = exact.bothSides(static_cast<std::size_t>(std::lround(u)));
        below = exact.quantile((1 - d.level) / 2);
        out.notes.push_back("Exact.");
    } else {
        if (!(sd > 0)) return cannotTest("All values are equal.");
        out.p = tailOfNormal(withContinuity(u - m * n / 2) / sd);
        out.notes.push_back(r.ties > 0
                                ? "By the normal distribution, corrected for equal values and for continuity."
                                : "By the normal distribution, corrected for continuity.");
    }
    Ordered differences = Ordered::differences(a, b);
    out.differenceOf = "values, the median of all";
    out.difference = differences.median();
    takeInterval(differences, below, out);
    out.effect = superiority(u, a, b, r, d.level);
    return out;
}

Result<TestResult> wilcoxonTest(const Design& d) {
    std::vector<double> differences, sizes;
    std::size_t zeros = 0;
    for (const auto& s : d.subjects) {
        const double off = s.size() > 1 ? s[0] - s[1] : s[0] - d.against;
        if (off == 0)
            ++zeros;
        else
            differences.push_back(off), sizes.push_back(std::abs(off));
    }
    if (differences.empty()) return cannotTest("All pairs are equal.");
    const Ranks r = ranksOf(sizes);
    double v = 0;
    for (std::size_t i = 0; i < differences.size(); ++i)
        if (differences[i] > 0) v += r.ranks[i];
    const auto n = static_cast<double>(differences.size());
    TestResult out{.test = "wilcoxon", .statisticName = "V", .statistic = v};
    const double mean = n * (n + 1) / 4, sd = std::sqrt(n * (n + 1) * (2 * n + 1) / 24 - r.ties / 48);
    std::size_t below = placesBelow(mean, sd, d.level);
    if (differences.size() <= kMostExact && r.ties == 0 && zeros == 0) {
        const CountDistribution exact = signedRankDistribution(differences.size());
        out.p = exact.bothSides(static_cast<std::size_t>(std::lround(v)));
        below = exact.quantile((1 - d.level) / 2);
        out.notes.push_back("Exact.");
    } else {
        out.p = tailOfNormal(withContinuity(v - mean) / sd);
        std::string note = "By the normal distribution, corrected for continuity";
        if (r.ties > 0) note += " and for equal differences";
        if (zeros > 0) note += fmt::format("; {} without a difference left out", zeros);
        out.notes.push_back(note + ".");
    }
    Ordered means = Ordered::means(differences);
    out.differenceOf = "pairs, the median of their means";
    out.difference = means.median();
    takeInterval(means, below, out);
    out.effect = {.name = "rank-biserial correlation", .value = v / mean - 1};
    return out;
}

namespace {

// The ranks of all groups together, and their sums.
struct Ranked {
    Ranks ranks;
    std::vector<double> sums, counts;
    double n = 0;

    explicit Ranked(const std::vector<Group>& groups) {
        std::vector<double> all;
        for (const Group& g : groups) all.insert(all.end(), g.values.begin(), g.values.end());
        ranks = ranksOf(all);
        n = static_cast<double>(all.size());
        auto at = ranks.ranks.begin();
        for (const Group& g : groups) {
            sums.push_back(std::accumulate(at, at + std::ssize(g.values), 0.0));
            counts.push_back(static_cast<double>(g.values.size()));
            at += std::ssize(g.values);
        }
    }
};

std::string chiNote(double ties) {
    return ties > 0 ? "By the χ² distribution, corrected for equal values." : "By the χ² distribution.";
}

} // namespace

Result<TestResult> kruskalWallisTest(const Design& d) {
    const Ranked all(d.groups);
    double sum = 0, k = 0;
    for (std::size_t g = 0; g < all.sums.size(); ++g)
        if (all.counts[g] > 0) sum += all.sums[g] * all.sums[g] / all.counts[g], ++k;
    const double n = all.n, correction = 1 - all.ranks.ties / (n * n * n - n);
    if (k < 2) return cannotTest("Two groups with values are needed at least.");
    if (!(correction > 0)) return cannotTest("All values are equal.");
    TestResult r{.test = "kruskal-wallis", .statisticName = "H", .dof = {k - 1}};
    r.statistic = (12 / (n * (n + 1)) * sum - 3 * (n + 1)) / correction;
    r.p = tailOfChi(r.statistic, k - 1);
    r.effect = {.name = "epsilon squared", .value = r.statistic / (n - 1)};
    r.notes.push_back(chiNote(all.ranks.ties));
    return r;
}

Result<TestResult> dunnTest(const Design& d) {
    const Ranked all(d.groups);
    const double n = all.n, scatter = n * (n + 1) / 12 - all.ranks.ties / (12 * (n - 1));
    if (!(scatter > 0)) return cannotTest("All values are equal.");
    TestResult r{.test = "dunn", .statisticName = "z", .statistic = 0, .differenceOf = "mean ranks"};
    const double most = quantileOfNormal(d.level);
    for (std::size_t a = 0; a < all.sums.size(); ++a)
        for (std::size_t b = a + 1; b < all.sums.size(); ++b) {
            if (all.counts[a] == 0 || all.counts[b] == 0) continue;
            const double off = all.sums[a] / all.counts[a] - all.sums[b] / all.counts[b],
                         error = std::sqrt(scatter * (1 / all.counts[a] + 1 / all.counts[b])),
                         z = off / error;
            r.pairs.push_back({a, b, off, off - most * error, off + most * error, tailOfNormal(z)});
            r.statistic = std::max(r.statistic, std::abs(z));
        }
    adjustByHolm(r.pairs);
    for (const PairResult& p : r.pairs) r.p = std::fmin(r.p, p.p);
    r.notes.push_back("Differences are of mean ranks; p after Holm holds for all pairs together.");
    return r;
}

Result<TestResult> friedmanTest(const Design& d) {
    const auto n = static_cast<double>(d.subjects.size()), k = static_cast<double>(d.groups.size());
    if (n < 2) return cannotTest("Two subjects with a value in each group are needed at least.");
    std::vector<double> sums(d.groups.size());
    double ties = 0;
    for (const auto& s : d.subjects) {
        const Ranks r = ranksOf(s);
        ties += r.ties;
        for (std::size_t g = 0; g < sums.size(); ++g) sums[g] += r.ranks[g];
    }
    double squares = 0;
    for (double s : sums) squares += s * s;
    const double correction = 1 - ties / (n * (k * k * k - k));
    if (!(correction > 0)) return cannotTest("All values of each subject are equal.");
    TestResult r{.test = "friedman", .statisticName = "χ²", .dof = {k - 1}};
    r.statistic = (12 / (n * k * (k + 1)) * squares - 3 * n * (k + 1)) / correction;
    r.p = tailOfChi(r.statistic, k - 1);
    r.effect = {.name = "Kendall’s W", .value = r.statistic / (n * (k - 1))};
    r.notes.push_back(chiNote(ties));
    return r;
}

} // namespace jointer::stats
