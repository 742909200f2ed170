// SPDX-License-Identifier: GPL-3.0-or-later
// Whether two columns go together, outcomes hang on groups, rates differ, or values have a trend in time.
#include "stats/rank_distributions.h"
#include "stats/test_tools.h"

#include <algorithm>
#include <boost/math/distributions/binomial.hpp>
#include <boost/math/tools/toms748_solve.hpp>
#include <fmt/format.h>
#include <functional>
#include <numeric>

namespace jointer::stats {

namespace {

constexpr std::size_t kMostConcordance = 60, kMostPermuted = 10;

// The two columns, row by row.
struct Columns {
    std::vector<double> x, y;
    double n() const { return static_cast<double>(x.size()); }
};

Result<Columns> columnsOf(const Design& d) {
    Columns c;
    for (const auto& s : d.subjects) c.x.push_back(s[0]), c.y.push_back(s[1]);
    const auto differ = [](const std::vector<double>& v) {
        return std::ranges::adjacent_find(v, std::not_equal_to()) != v.end();
    };
    if (c.x.size() < 3) return cannotTest("Three rows with both values are needed at least.");
    if (!differ(c.x) || !differ(c.y)) return cannotTest("The values of a column are all alike.");
    return c;
}

double pearson(const std::vector<double>& x, const std::vector<double>& y) {
    const Moments mx = momentsOf(x), my = momentsOf(y);
    double sum = 0;
    for (std::size_t i = 0; i < x.size(); ++i) sum += (x[i] - mx.mean) * (y[i] - my.mean);
    return std::clamp(sum / std::sqrt(mx.squares * my.squares), -1.0, 1.0);
}

// By the transformation of Fisher, whose standard error is given.
void takeInterval(EffectSize& e, double error, double level) {
    if (!(error < INFINITY) || std::abs(e.value) >= 1) return;
    const double z = std::atanh(e.value), half = quantileOfNormal(level) * error;
    e.low = std::tanh(z - half), e.high = std::tanh(z + half);
}

double tOf(double r, double n) {
    return std::abs(r) < 1 ? r * std::sqrt((n - 2) / (1 - r * r)) : std::copysign(INFINITY, r);
}

} // namespace

Result<TestResult> pearsonTest(const Design& d) {
    const auto c = columnsOf(d);
    if (!c) return std::unexpected(c.error());
    const double n = c->n(), r = pearson(c->x, c->y);
    TestResult out{.test = "pearson", .statisticName = "t", .statistic = tOf(r, n), .dof = {n - 2}};
    out.p = tailOfT(out.statistic, n - 2);
    out.effect = {.name = "r", .value = r};
    if (n > 3) takeInterval(out.effect, 1 / std::sqrt(n - 3), d.level);
    return out;
}

Result<TestResult> spearmanTest(const Design& d) {
    const auto c = columnsOf(d);
    if (!c) return std::unexpected(c.error());
    const double n = c->n();
    const Ranks x = ranksOf(c->x), y = ranksOf(c->y);
    const double rho = pearson(x.ranks, y.ranks);
    TestResult out{.test = "spearman", .statisticName = "t", .statistic = tOf(rho, n), .dof = {n - 2}};
    if (x.ties == 0 && y.ties == 0 && c->x.size() <= kMostPermuted) {
        double squares = 0;
        for (std::size_t i = 0; i < c->x.size(); ++i)
            squares += (x.ranks[i] - y.ranks[i]) * (x.ranks[i] - y.ranks[i]);
        const SpearmanTails tails = spearmanTails(c->x.size(), squares);
        out.p = std::min(1.0, 2 * std::min(tails.atMost, tails.atLeast));
        out.notes.push_back("Exact.");
    } else {
        out.p = tailOfT(out.statistic, n - 2);
        out.notes.push_back("By Student’s t.");
    }
    out.effect = {.name = "ρ", .value = rho};
    // Source: D. G. Bonett, T. A. Wright, Psychometrika 65 (2000) 23.
    if (n > 3) takeInterval(out.effect, std::sqrt((1 + rho * rho / 2) / (n - 3)), d.level);
    return out;
}

namespace {

// Inversions of a list; it is sorted by that.
double inversions(std::vector<double>& v, std::vector<double>& room, std::size_t from, std::size_t to) {
    if (to - from < 2) return 0;
    const std::size_t middle = std::midpoint(from, to);
    double n = inversions(v, room, from, middle) + inversions(v, room, middle, to);
    std::size_t i = from, j = middle, k = from;
    while (i < middle || j < to)
        if (j == to || (i < middle && v[i] <= v[j]))
            room[k++] = v[i++];
        else
            n += static_cast<double>(middle - i), room[k++] = v[j++];
    std::copy(room.begin() + static_cast<std::ptrdiff_t>(from),
              room.begin() + static_cast<std::ptrdiff_t>(to), v.begin() + static_cast<std::ptrdiff_t>(from));
    return n;
}

// Sums over the groups of equal values, as the variance of Kendall's S takes them.
struct Ties {
    double pairs = 0, triples = 0, weighted = 0; // Σ t(t−1), Σ t(t−1)(t−2), Σ t(t−1)(2t+5)
};

template <class Same> Ties tiesOf(std::size_t n, Same same) {
    Ties out;
    for (std::size_t from = 0, to; from < n; from = to) {
        for (to = from + 1; to < n && same(from, to);) ++to;
        const auto t = static_cast<double>(to - from);
        out.pairs += t * (t - 1);
        out.triples += t * (t - 1) * (t - 2);
        out.weighted += t * (t - 1) * (2 * t + 5);
    }
    return out;
}

// Kendall's S with what is needed of it. Source: W. R. Knight, J. Am. Stat. Assoc. 61 (1966) 436.
struct Concordance {
    double s = 0, tau = NAN, variance = NAN;
    bool tied = false;

    explicit Concordance(const Columns& c) {
        const std::size_t size = c.x.size();
        std::vector<std::size_t> order(size);
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::ranges::sort(order, {}, [&](std::size_t i) { return std::pair(c.x[i], c.y[i]); });
        std::vector<double> y, room(size);
        for (std::size_t i : order) y.push_back(c.y[i]);
        const Ties ofX =
            tiesOf(size, [&](std::size_t a, std::size_t b) { return c.x[order[a]] == c.x[order[b]]; });
        const Ties both = tiesOf(size, [&](std::size_t a, std::size_t b) {
            return c.x[order[a]] == c.x[order[b]] && c.y[order[a]] == c.y[order[b]];
        });
        const double discordant = inversions(y, room, 0, size);
        const Ties ofY = tiesOf(size, [&](std::size_t a, std::size_t b) { return y[a] == y[b]; });
        const double n = static_cast<double>(size), pairs = n * (n - 1) / 2;
        s = pairs - ofX.pairs / 2 - ofY.pairs / 2 + both.pairs / 2 - 2 * discordant;
        tau = s / std::sqrt((pairs - ofX.pairs / 2) * (pairs - ofY.pairs / 2));
        tied = ofX.pairs > 0 || ofY.pairs > 0;
        variance = (n * (n - 1) * (2 * n + 5) - ofX.weighted - ofY.weighted) / 18 +
                   ofX.pairs * ofY.pairs / (2 * n * (n - 1));
        if (n > 2) variance += ofX.triples * ofY.triples / (9 * n * (n - 1) * (n - 2));
    }
};

} // namespace

Result<TestResult> kendallTest(const Design& d) {
    const auto c = columnsOf(d);
    if (!c) return std::unexpected(c.error());
    const Concordance k(*c);
    const double n = c->n();
    TestResult out{.test = "kendall", .statisticName = "S", .statistic = k.s};
    if (!k.tied && c->x.size() <= kMostConcordance) {
        const double inOrder = (k.s + n * (n - 1) / 2) / 2;
        out.p =
            concordanceDistribution(c->x.size()).bothSides(static_cast<std::size_t>(std::lround(inOrder)));
        out.notes.push_back("Exact.");
    } else {
        out.p = tailOfNormal(k.s / std::sqrt(k.variance));
        out.notes.push_back(k.tied ? "By the normal distribution, corrected for equal values."
                                   : "By the normal distribution.");
    }
    out.effect = {.name = "τ", .value = k.tau};
    // Source: E. C. Fieller, H. O. Hartley, E. S. Pearson, Biometrika 44 (1957) 470.
    if (n > 4) takeInterval(out.effect, std::sqrt(0.437 / (n - 4)), d.level);
    return out;
}

Trend trendOf(std::span<const double> time, std::span<const double> values, double level) {
    Columns c;
    for (std::size_t i = 0; i < std::min(time.size(), values.size()); ++i)
        if (std::isfinite(time[i]) && std::isfinite(values[i]))
            c.x.push_back(time[i]), c.y.push_back(values[i]);
    Trend t;
    if (c.x.size() < 4) return t;
    const Concordance k(c);
    t.s = k.s;
    t.tau = k.tau;
    t.z = k.variance > 0 ? (k.s - (k.s > 0 ? 1 : k.s < 0 ? -1 : 0)) / std::sqrt(k.variance) : 0;
    t.p = tailOfNormal(t.z);
    constexpr std::size_t kMost = 3000; // of more points every so many are taken for the slopes
    const std::size_t stride = (c.x.size() + kMost - 1) / kMost;
    std::vector<double> slopes;
    for (std::size_t i = 0; i < c.x.size(); i += stride)
        for (std::size_t j = i + stride; j < c.x.size(); j += stride)
            if (c.x[j] != c.x[i]) slopes.push_back((c.y[j] - c.y[i]) / (c.x[j] - c.x[i]));
    if (slopes.empty()) return t;
    std::ranges::sort(slopes);
    const auto n = static_cast<double>(slopes.size());
    const auto at = [&](double place) {
        return slopes[static_cast<std::size_t>(std::clamp(place, 0.0, n - 1))];
    };
    t.slope = slopes.size() % 2 == 1 ? at((n - 1) / 2) : 0.5 * (at(n / 2 - 1) + at(n / 2));
    const double half =
        quantileOfNormal(level) * std::sqrt(k.variance) / static_cast<double>(stride * stride);
    t.low = at(std::floor((n - half) / 2 - 1));
    t.high = at(std::ceil((n + half) / 2));
    return t;
}

Result<TestResult> trendTest(const Design& d) {
    const auto c = columnsOf(d);
    if (!c) return std::unexpected(c.error());
    const Trend t = trendOf(c->x, c->y, d.level);
    if (std::isnan(t.p)) return cannotTest("A trend needs four values at least.");
    TestResult out{.test = "mann-kendall", .statisticName = "z", .statistic = t.z, .p = t.p};
    out.differenceOf = "slope";
    out.difference = t.slope, out.low = t.low, out.high = t.high;
    out.effect = {.name = "τ", .value = t.tau};
    out.notes.push_back("The slope is the median of those between all pairs.");
    return out;
}

namespace {

// A two-by-two table with given sums: how its first count is distributed where the odds ratio is ω.
class Hypergeometric {
public:
    Hypergeometric(double a, double b, double c, double d) {
        const double row = a + b, column = a + c, all = a + b + c + d;
        low_ = std::max(0.0, column - (all - row));
        const double high = std::min(row, column);
        const auto choose = [](double n, double k) {
            return std::lgamma(n + 1) - std::lgamma(k + 1) - std::lgamma(n - k + 1);
        };
        for (double k = low_; k <= high; ++k) logs_.push_back(choose(row, k) + choose(all - row, column - k));
        seen_ = static_cast<std::size_t>(a - low_);
    }
    std::vector<double> probabilities(double logOdds) const {
        std::vector<double> p(logs_.size());
        double most = -INFINITY;
        for (std::size_t k = 0; k < p.size(); ++k)
            most = std::max(most, p[k] = logs_[k] + logOdds * static_cast<double>(k));
        double sum = 0;
        for (double& v : p) sum += v = std::exp(v - most);
        for (double& v : p) v /= sum;
        return p;
    }
    double bothSides() const {
        const auto p = probabilities(0);
        double sum = 0;
        for (double v : p)
            if (v <= p[seen_] * (1 + 1e-7)) sum += v;
        return std::min(1.0, sum);
    }
    double mean(double logOdds) const {
        const auto p = probabilities(logOdds);
        double sum = low_;
        for (std::size_t k = 0; k < p.size(); ++k) sum += static_cast<double>(k) * p[k];
        return sum;
    }
    double tail(double logOdds, bool upper) const { // what was seen, or further
        const auto p = probabilities(logOdds);
        const auto at = p.begin() + static_cast<std::ptrdiff_t>(seen_);
        return upper ? std::accumulate(at, p.end(), 0.0) : std::accumulate(p.begin(), at + 1, 0.0);
    }
    bool isLeast() const { return seen_ == 0; }
    bool isMost() const { return seen_ + 1 == logs_.size(); }
    double seen() const { return low_ + static_cast<double>(seen_); }

private:
    std::vector<double> logs_;
    double low_ = 0;
    std::size_t seen_ = 0;
};

double solvedLog(const std::function<double(double)>& f) { // f rises
    std::uintmax_t most = 100;
    const auto ends = boost::math::tools::toms748_solve(f, -60.0, 60.0,
                                                        boost::math::tools::eps_tolerance<double>(44), most);
    return std::exp(0.5 * (ends.first + ends.second));
}

} // namespace

Result<TestResult> fisherTest(const Design& d) {
    const auto& t = d.counts->counts;
    if (t.size() != 2 || t[0].size() != 2)
        return cannotTest(
            "Fisher’s exact test takes two groups with two outcomes; take chi-squared for more.");
    const Hypergeometric h(t[0][0], t[0][1], t[1][0], t[1][1]);
    TestResult out{.test = "fisher", .statisticName = "odds ratio", .p = h.bothSides()};
    const double alpha = (1 - d.level) / 2;
    EffectSize& e = out.effect;
    e.name = "odds ratio";
    e.value = h.isLeast()  ? 0
              : h.isMost() ? INFINITY
                           : solvedLog([&](double l) { return h.mean(l) - h.seen(); });
    e.low = h.isLeast() ? 0 : solvedLog([&](double l) { return h.tail(l, true) - alpha; });
    e.high = h.isMost() ? INFINITY : solvedLog([&](double l) { return alpha - h.tail(l, false); });
    out.statistic = e.value;
    const double rowA = t[0][0] + t[0][1], rowB = t[1][0] + t[1][1];
    out.differenceOf = "shares";
    out.difference = t[0][0] / rowA - t[1][0] / rowB;
    // By Newcombe's hybrid of Wilson intervals. Source: R. G. Newcombe, Stat. Med. 17 (1998) 873.
    const double z = quantileOfNormal(d.level);
    const auto wilson = [&](double k, double n) {
        const double p = k / n, middle = (p + z * z / (2 * n)) / (1 + z * z / n),
                     half = z / (1 + z * z / n) * std::sqrt(p * (1 - p) / n + z * z / (4 * n * n));
        return std::pair(middle - half, middle + half);
    };
    const auto [lowA, highA] = wilson(t[0][0], rowA);
    const auto [lowB, highB] = wilson(t[1][0], rowB);
    const double pA = t[0][0] / rowA, pB = t[1][0] / rowB;
    out.low = out.difference - std::hypot(pA - lowA, highB - pB);
    out.high = out.difference + std::hypot(highA - pA, pB - lowB);
    out.notes.push_back("Exact; the odds ratio is the conditional estimate.");
    return out;
}

Result<TestResult> chiSquaredTest(const Design& d) {
    const auto& t = d.counts->counts;
    std::vector<double> rows(t.size()), columns(t.empty() ? 0 : t[0].size());
    double n = 0;
    for (std::size_t i = 0; i < t.size(); ++i)
        for (std::size_t j = 0; j < columns.size(); ++j)
            rows[i] += t[i][j], columns[j] += t[i][j], n += t[i][j];
    TestResult out{.test = "chi-squared", .statisticName = "χ²", .statistic = 0};
    double least = INFINITY;
    for (std::size_t i = 0; i < rows.size(); ++i)
        for (std::size_t j = 0; j < columns.size(); ++j) {
            const double expected = rows[i] * columns[j] / n;
            if (!(expected > 0)) return cannotTest("A group or an outcome has no counts at all.");
            out.statistic += (t[i][j] - expected) * (t[i][j] - expected) / expected;
            least = std::min(least, expected);
        }
    const auto freedom = static_cast<double>((rows.size() - 1) * (columns.size() - 1));
    if (!(freedom > 0)) return cannotTest("Two groups and two outcomes are needed at least.");
    out.dof = {freedom};
    out.p = tailOfChi(out.statistic, freedom);
    out.effect = {.name = "Cramér’s V",
                  .value = std::sqrt(out.statistic / n /
                                     static_cast<double>(std::min(rows.size(), columns.size()) - 1))};
    out.notes.push_back("Without a correction for continuity.");
    if (least < 5)
        out.notes.push_back(
            fmt::format("An expected count is only {:.2g}: the χ² distribution holds poorly.", least));
    return out;
}

TestResult rateRatio(double countA, double exposureA, double countB, double exposureB, double level) {
    const double n = countA + countB, share = exposureA / (exposureA + exposureB);
    TestResult out{
        .test = "rates", .statisticName = "ratio", .statistic = countA / exposureA / (countB / exposureB)};
    const boost::math::binomial b(n, share);
    const double seen = boost::math::pdf(b, countA);
    double p = 0;
    for (double k = 0; k <= n; ++k)
        if (const double at = boost::math::pdf(b, k); at <= seen * (1 + 1e-7)) p += at;
    out.p = std::min(1.0, p);
    const double alpha = (1 - level) / 2;
    const auto ratio = [&](double s) { return s / (1 - s) * exposureB / exposureA; };
    EffectSize& e = out.effect;
    e = {.name = "ratio of rates", .value = out.statistic};
    e.low = countA == 0 ? 0 : ratio(boost::math::binomial::find_lower_bound_on_p(n, countA, alpha));
    e.high = countB == 0 ? INFINITY : ratio(boost::math::binomial::find_upper_bound_on_p(n, countA, alpha));
    out.differenceOf = "rates";
    out.difference = countA / exposureA - countB / exposureB;
    out.notes.push_back("Exact, given the sum of both counts.");
    return out;
}

// Each value is the number of events in one unit of what was looked at.
Result<TestResult> ratesTest(const Design& d) {
    double counts[2] = {0, 0};
    for (std::size_t g = 0; g < 2; ++g)
        for (double v : d.groups[g].values) {
            if (v < 0 || v != std::round(v))
                return cannotTest("Rates are of counts: whole numbers that are not negative.");
            counts[g] += v;
        }
    const double a = static_cast<double>(d.groups[0].values.size()),
                 b = static_cast<double>(d.groups[1].values.size());
    if (a == 0 || b == 0 || counts[0] + counts[1] == 0)
        return cannotTest("Rates need events: there are none.");
    TestResult out = rateRatio(counts[0], a, counts[1], b, d.level);
    // Of the difference by the scores of both counts.
    const double z = quantileOfNormal(d.level),
                 half = z * std::sqrt(counts[0] / (a * a) + counts[1] / (b * b));
    out.low = out.difference - half;
    out.high = out.difference + half;
    return out;
}

} // namespace jointer::stats
