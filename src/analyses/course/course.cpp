// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/course/course.h"

#include <algorithm>
#include <cmath>

namespace jointer::analyses {

namespace {

constexpr double kNearlyEqual = 1e-4; // of adjusted R²

// ln y over t by least squares.
Terminal lineThrough(std::span<const double> t, std::span<const double> y, std::size_t first,
                     std::size_t count) {
    Terminal out{.first = first, .count = count, .dof = static_cast<double>(count) - 2};
    const double n = static_cast<double>(count);
    double mt = 0, ml = 0;
    for (std::size_t i = first; i < first + count; ++i) mt += t[i] / n, ml += std::log(y[i]) / n;
    double stt = 0, stl = 0, sll = 0;
    for (std::size_t i = first; i < first + count; ++i) {
        const double dt = t[i] - mt, dl = std::log(y[i]) - ml;
        stt += dt * dt, stl += dt * dl, sll += dl * dl;
    }
    if (!(stt > 0)) return out;
    const double slope = stl / stt, rss = std::max(0.0, sll - slope * stl);
    out.rate = -slope;
    out.intercept = ml - slope * mt;
    if (count > 2) {
        out.rateError = std::sqrt(rss / (n - 2) / stt);
        out.adjustedR2 = sll > 0 ? 1 - rss / (n - 2) / (sll / (n - 1)) : NAN;
    }
    return out;
}

bool isLog(AreaRule rule, double before, double after) {
    return rule == AreaRule::LinearUpLogDown && after < before && after > 0 && before > 0 &&
           std::abs(before - after) > 1e-9 * before;
}

} // namespace

Result<Terminal> terminalOf(std::span<const double> t, std::span<const double> y, const TerminalWish& wish) {
    const std::size_t n = t.size();
    const auto good = [&](std::size_t from, std::size_t count) {
        return std::all_of(y.begin() + static_cast<std::ptrdiff_t>(from),
                           y.begin() + static_cast<std::ptrdiff_t>(from + count),
                           [](double v) { return v > 0; });
    };
    const auto few = [] {
        return failure("few-points",
                       "The slope at the end needs three points above zero behind the maximum.");
    };
    std::size_t end = n; // behind the last above zero
    while (end > 0 && !(y[end - 1] > 0)) --end;
    Terminal best;
    if (wish.span) {
        const auto from = static_cast<std::size_t>(std::ranges::lower_bound(t, wish.span->first) - t.begin());
        const auto to = static_cast<std::size_t>(std::ranges::upper_bound(t, wish.span->second) - t.begin());
        if (to < from + 2 || !good(from, to - from)) return few();
        best = lineThrough(t, y, from, to - from);
    } else if (wish.points > 0) {
        if (wish.points < 2 || wish.points > end || !good(end - wish.points, wish.points)) return few();
        best = lineThrough(t, y, end - wish.points, wish.points);
    } else {
        const auto top = static_cast<std::size_t>(std::ranges::max_element(y) - y.begin());
        bool any = false;
        for (std::size_t count = 3; count <= end && end - count > top; ++count) {
            if (!good(end - count, count)) break;
            const Terminal now = lineThrough(t, y, end - count, count);
            if (!(now.rate > 0) || std::isnan(now.adjustedR2)) continue;
            if (!any || now.adjustedR2 > best.adjustedR2 - kNearlyEqual) best = now;
            any = true;
        }
        if (!any)
            return end < 4 || end - 3 <= top
                       ? few()
                       : failure("no-fall", "It does not fall at its end: there is no area to infinity.");
    }
    if (!(best.rate > 0))
        return failure("no-fall", "It does not fall at its end: there is no area to infinity.");
    return best;
}

CourseArea areaOf(std::span<const double> t, std::span<const double> y, AreaRule rule) {
    CourseArea out{.areaBy = std::vector<double>(t.size(), 0.0)};
    for (std::size_t i = 1; i < t.size(); ++i) {
        const double h = t[i] - t[i - 1], a = y[i - 1], b = y[i];
        if (isLog(rule, a, b)) {
            const double l = std::log(a / b);
            out.area += h * (a - b) / l;
            out.moment += h * (a * t[i - 1] - b * t[i]) / l + h * h * (a - b) / (l * l);
            out.areaBy[i - 1] += h * (l - 1 + b / a) / (l * l);
            out.areaBy[i] += h * (a / b - 1 - l) / (l * l);
        } else {
            out.area += h * (a + b) / 2;
            out.moment +=
                h * (a * (2 * t[i - 1] + t[i]) + b * (t[i - 1] + 2 * t[i])) / 6; // of a straight line
            out.areaBy[i - 1] += h / 2;
            out.areaBy[i] += h / 2;
        }
    }
    return out;
}

Above timeAbove(std::span<const double> t, std::span<const double> y, double level) {
    Above out;
    bool above = false;
    for (std::size_t i = 0; i < t.size(); ++i) {
        if (i > 0) {
            const double a = y[i - 1] - level, b = y[i] - level, h = t[i] - t[i - 1];
            if (a > 0 && b > 0)
                out.time += h;
            else if ((a > 0) != (b > 0))
                out.time += h * std::max(a, b) / (std::max(a, b) - std::min(a, b));
        }
        const bool now = y[i] > level;
        if (now && !above) {
            ++out.episodes;
            if (std::isnan(out.first)) {
                const double a = i > 0 ? y[i - 1] - level : 0, b = y[i] - level;
                out.first = i > 0 ? std::lerp(t[i - 1], t[i], -a / (b - a)) : t[i];
            }
        }
        above = now;
    }
    return out;
}

} // namespace jointer::analyses
