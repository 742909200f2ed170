// SPDX-License-Identifier: GPL-3.0-or-later
#include "fit/inversion.h"

#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>

namespace jointer::fit {

namespace {

constexpr int kSteps = 512;    // of the net between the standards
constexpr int kDoublings = 10; // of the span beyond them
constexpr double kEdge = 1e-9; // of the span: what still counts as at the first or last standard

double root(const std::function<double(double)>& f, double a, double b, double fa, double fb) {
    std::uintmax_t most = 100;
    const auto ends = boost::math::tools::toms748_solve(f, a, b, fa, fb,
                                                        boost::math::tools::eps_tolerance<double>(50), most);
    return 0.5 * (ends.first + ends.second);
}

// Places where the curve is laid out: even, and in even ratios where the standards span decades.
std::vector<double> netOf(double low, double high) {
    std::vector<double> out;
    const double span = high - low;
    for (int k = 0; k <= kSteps; ++k) out.push_back(std::lerp(low, high, static_cast<double>(k) / kSteps));
    if (low >= 0)
        for (int k = 1; k < kSteps / 4; ++k) {
            const double x = high * std::pow(10, -12.0 * k / (kSteps / 4));
            if (x > low) out.push_back(x);
        }
    double reach = span / 16;
    for (double x = span / 16; reach < span * (1 << kDoublings); x += reach) {
        out.push_back(low - x);
        out.push_back(high + x);
        if (x >= 8 * reach) reach *= 2;
    }
    std::ranges::sort(out);
    const auto twice = std::ranges::unique(out);
    out.erase(twice.begin(), twice.end());
    return out;
}

} // namespace

std::string_view readStateKey(ReadState s) {
    static constexpr std::string_view keys[] = {"in-range", "below-range", "above-range", "ambiguous",
                                                "no-solution"};
    return keys[static_cast<std::size_t>(s)];
}

std::string_view readStateWords(ReadState s) {
    static constexpr std::string_view words[] = {"in range", "below the standards", "above the standards",
                                                 "two answers within the standards",
                                                 "the curve never gets there"};
    return words[static_cast<std::size_t>(s)];
}

Inversion::Inversion(std::function<double(double)> curve, double low, double high)
    : curve_(std::move(curve)), low_(low), high_(high), x_(netOf(low, high)) {
    for (double x : x_) y_.push_back(curve_(x));
}

std::vector<double> Inversion::solutions(double y) const {
    std::vector<double> out;
    for (std::size_t k = 0; k < x_.size(); ++k) {
        const double here = y_[k] - y;
        if (here == 0)
            out.push_back(x_[k]);
        else if (k + 1 < x_.size() && here * (y_[k + 1] - y) < 0)
            out.push_back(
                root([&](double x) { return curve_(x) - y; }, x_[k], x_[k + 1], here, y_[k + 1] - y));
    }
    return out;
}

// Whether y lies beyond what the curve is at its first standard, away from what it is at its last.
bool Inversion::isOnLowSide(double y) const {
    const double first = curve_(low_), last = curve_(high_);
    return last >= first ? y < first : y > first;
}

Reading Inversion::read(double y) const {
    Reading out;
    if (!std::isfinite(y)) return out;
    out.solutions = solutions(y);
    const double edge = kEdge * (high_ - low_);
    std::vector<double> inside;
    std::ranges::copy_if(out.solutions, std::back_inserter(inside),
                         [&](double x) { return x >= low_ - edge && x <= high_ + edge; });
    const bool below = !out.solutions.empty() && out.solutions.front() < low_,
               above = !out.solutions.empty() && out.solutions.back() > high_;
    if (inside.size() == 1)
        out.state = ReadState::InRange, out.x = inside[0];
    else if (inside.size() > 1)
        out.state = ReadState::Ambiguous;
    else if (isOnLowSide(y))
        out.state = ReadState::Below;
    else if (above)
        out.state = ReadState::Above;
    else if (below)
        out.state = ReadState::Below;
    return out;
}

std::optional<double> Inversion::nearest(double y, double x) const {
    const auto all = solutions(y);
    if (all.empty()) return {};
    return *std::ranges::min_element(all, {}, [&](double s) { return std::abs(s - x); });
}

// By differences at h and h/2, their error cancelled to the fourth order.
double Inversion::slope(double x) const {
    const double h = 1e-3 * std::max(std::abs(x), 1e-3 * (high_ - low_));
    const auto difference = [&](double step) { return (curve_(x + step) - curve_(x - step)) / (2 * step); };
    const double near = difference(h / 2), far = difference(h), both = (4 * near - far) / 3;
    if (std::isfinite(both)) return both;
    return (curve_(x + h) - curve_(x)) / h; // at an end of where it exists
}

double Inversion::crossing(double from, int side, const std::function<double(double)>& off) const {
    double last = from, before = off(from);
    auto at = std::ranges::upper_bound(x_, from) - x_.begin();
    if (side < 0) at = std::ranges::lower_bound(x_, from) - x_.begin() - 1;
    for (; at >= 0 && at < std::ssize(x_); at += side) {
        const double x = x_[static_cast<std::size_t>(at)], now = off(x);
        if (!std::isfinite(now)) break;
        if (now == 0) return x;
        if (before * now < 0)
            return side > 0 ? root(off, last, x, before, now) : root(off, x, last, now, before);
        last = x, before = now;
    }
    return side * INFINITY;
}

} // namespace jointer::fit
