// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/baselines.h"

#include "numerics/penalised.h"
#include "numerics/polynomial.h"
#include "numerics/running.h"
#include "numerics/spline.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

List alsBaseline(Values y, double lambda, double p, const Cancellation& stop) {
    List w(y.size(), 1.0), z(y.begin(), y.end());
    numerics::PenalisedSolver solver;
    for (int round = 0; round < 10 && !stop.stop_requested(); ++round) {
        solver.solve(y, w, lambda, z);
        for (std::size_t i = 0; i < y.size(); ++i) w[i] = y[i] > z[i] ? p : 1 - p;
    }
    return z;
}

List arplsBaseline(Values y, double lambda, const Cancellation& stop) {
    List w(y.size(), 1.0), z(y.begin(), y.end());
    numerics::PenalisedSolver solver;
    for (int round = 0; round < 50 && !stop.stop_requested(); ++round) {
        solver.solve(y, w, lambda, z);
        double n = 0, sum = 0, squares = 0;
        for (std::size_t i = 0; i < y.size(); ++i)
            if (const double d = y[i] - z[i]; d < 0) ++n, sum += d;
        const double mean = n > 0 ? sum / n : 0;
        for (std::size_t i = 0; i < y.size(); ++i)
            if (const double d = y[i] - z[i]; d < 0) squares += (d - mean) * (d - mean);
        const double sd = n > 1 ? std::sqrt(squares / (n - 1)) : 0;
        if (!(sd > 0)) break;
        double change = 0, size = 0;
        for (std::size_t i = 0; i < y.size(); ++i) {
            const double next = 1 / (1 + std::exp(2 * (y[i] - z[i] - (2 * sd - mean)) / sd));
            change += (next - w[i]) * (next - w[i]);
            size += w[i] * w[i];
            w[i] = next;
        }
        if (change < 1e-6 * size) break;
    }
    return z;
}

List rollingBallBaseline(Values y, std::size_t radius) {
    return numerics::runningMean(numerics::runningMaximum(numerics::runningMinimum(y, radius), radius),
                                 radius);
}

List polynomialBaseline(Values x, Values y, int degree) {
    List cut(y.begin(), y.end()), z(y.size()), fx(x.begin(), x.end());
    double before = 0;
    for (int round = 0; round < 200; ++round) {
        const numerics::PolynomialFit fit(fx, cut, degree);
        double sum = 0, squares = 0;
        for (std::size_t i = 0; i < fx.size(); ++i) {
            const double off = cut[i] - fit(fx[i]);
            sum += off;
            squares += off * off;
        }
        const auto n = static_cast<double>(fx.size());
        const double sd = std::sqrt(std::max(0.0, squares / n - sum / n * sum / n));
        for (std::size_t i = 0; i < y.size(); ++i) z[i] = fit(x[i]);
        if (sd == 0 || (round > 0 && std::abs(sd - before) < 1e-3 * sd)) break;
        before = sd;
        if (round == 0) { // the peaks themselves are left away once
            List keptX, keptY;
            for (std::size_t i = 0; i < y.size(); ++i)
                if (y[i] <= z[i] + sd) keptX.push_back(x[i]), keptY.push_back(y[i]);
            if (keptX.size() > static_cast<std::size_t>(degree) + 1)
                fx = std::move(keptX), cut = std::move(keptY);
        }
        for (std::size_t i = 0; i < fx.size(); ++i) cut[i] = std::min(cut[i], fit(fx[i]) + sd);
    }
    return z;
}

List clippedBaseline(Values y, std::size_t radius) {
    const std::size_t n = y.size();
    const double lowest = n > 0 ? std::min(0.0, *std::ranges::min_element(y)) : 0;
    List v(n), next(n);
    for (std::size_t i = 0; i < n; ++i) v[i] = std::log(std::log(std::sqrt(y[i] - lowest + 1) + 1) + 1);
    for (std::size_t r = 1; r <= std::min(radius, n / 2); ++r) {
        next = v;
        for (std::size_t i = r; i + r < n; ++i) next[i] = std::min(v[i], 0.5 * (v[i - r] + v[i + r]));
        std::swap(v, next);
    }
    for (double& z : v) {
        const double root = std::exp(std::exp(z) - 1) - 1;
        z = root * root - 1 + lowest;
    }
    return v;
}

namespace {

double meanOf(Values y, std::size_t from, std::size_t to) {
    double sum = 0;
    for (std::size_t i = from; i < to; ++i) sum += y[i];
    return sum / static_cast<double>(to - from);
}

} // namespace

StepBaseline shirleyBaseline(Values x, Values y, std::size_t ends) {
    const std::size_t n = y.size();
    StepBaseline out{List(y.begin(), y.end()), true};
    if (n < 3) return out;
    ends = std::clamp<std::size_t>(ends, 1, n / 3);
    const double left = meanOf(y, 0, ends), right = meanOf(y, n - ends, n);
    for (std::size_t i = 0; i < n; ++i) out.y[i] = std::lerp(left, right, (x[i] - x[0]) / (x[n - 1] - x[0]));
    out.settled = false;
    List area(n);
    for (int round = 0; round < 200 && !out.settled; ++round) {
        for (std::size_t i = 1; i < n; ++i)
            area[i] = area[i - 1] + 0.5 * (y[i] - out.y[i] + y[i - 1] - out.y[i - 1]) * (x[i] - x[i - 1]);
        if (!(std::abs(area[n - 1]) > 0)) break;
        double change = 0;
        for (std::size_t i = 0; i < n; ++i) {
            const double next = left + (right - left) * area[i] / area[n - 1];
            change = std::max(change, std::abs(next - out.y[i]));
            out.y[i] = next;
        }
        out.settled = change <= 1e-10 * (std::abs(left) + std::abs(right));
    }
    return out;
}

namespace {

LossBaseline lossByPairs(Values x, Values y, const LossOrder& order) {
    const std::size_t n = y.size();
    LossBaseline out{List(y.begin(), y.end()), order.b, 0};
    if (n < 3) return out;
    const std::size_t ends = std::clamp<std::size_t>(order.ends, 1, n / 3);
    // In order of energy lost: the loss-free end first.
    auto at = [&](std::size_t k) { return order.lossesUpwards ? k : n - 1 - k; };
    List e(n), j(n), loss(n);
    double level = 0, end = 0;
    for (std::size_t k = 0; k < ends; ++k) level += y[at(k)] / static_cast<double>(ends);
    for (std::size_t k = 0; k < ends; ++k) end += y[at(n - 1 - k)] / static_cast<double>(ends);
    for (std::size_t k = 0; k < n; ++k) {
        e[k] = std::abs(x[at(k)] - x[at(0)]);
        j[k] = y[at(k)] - level;
    }
    for (std::size_t k = 1; k < n; ++k) {
        double sum = 0; // trapezoids over what was lost from points nearer to the loss-free end
        for (std::size_t i = 0; i <= k; ++i) {
            const double width = 0.5 * ((i > 0 ? e[i] - e[i - 1] : 0) + (i < k ? e[i + 1] - e[i] : 0));
            const double t = e[k] - e[i], base = order.c + t * t;
            sum += width * t / (base * base) * j[i];
        }
        loss[k] = sum;
    }
    if (!(out.b > 0)) {
        const double reached = meanOf(loss, n - ends, n);
        out.b = reached != 0 ? (end - level) / reached : 0;
    }
    for (std::size_t k = 0; k < n; ++k) out.y[at(k)] = level + out.b * loss[k];
    const auto top = static_cast<std::size_t>(std::ranges::max_element(j) - j.begin());
    out.lossRange = e[n - 1] - e[top];
    return out;
}

constexpr std::size_t kMostPairs = 4000; // points of which every pair is looked at

} // namespace

// The cost grows with the square of the points: of long curves the means of neighbours are taken, between
// which the background is straight.
LossBaseline lossBaseline(Values x, Values y, const LossOrder& order) {
    const std::size_t n = y.size(), block = (n + kMostPairs - 1) / kMostPairs;
    if (block <= 1) return lossByPairs(x, y, order);
    List fewX, fewY;
    for (std::size_t from = 0; from < n; from += block) {
        const std::size_t to = std::min(n, from + block);
        fewX.push_back(meanOf(x, from, to));
        fewY.push_back(meanOf(y, from, to));
    }
    LossBaseline out = lossByPairs(fewX, fewY, order);
    List all(n);
    for (std::size_t i = 0; i < n; ++i) all[i] = numerics::interpolateLinear(fewX, out.y, x[i]);
    out.y = std::move(all);
    return out;
}

std::vector<std::pair<double, double>> anchorsThrough(Values x, Values baseline, double tolerance,
                                                      std::size_t most) {
    const std::size_t n = x.size();
    std::vector<std::size_t> at = {0, n - 1};
    while (at.size() < std::min(most, n)) {
        List ax, ay;
        for (std::size_t i : at) ax.push_back(x[i]), ay.push_back(baseline[i]);
        const numerics::ShapePreservingSpline through(ax, ay);
        double farthest = tolerance;
        std::size_t worst = n;
        for (std::size_t i = 0; i < n; ++i) {
            const double off = std::abs(baseline[i] - through(x[i]));
            if (off > farthest && !std::ranges::binary_search(at, i)) farthest = off, worst = i;
        }
        if (worst == n) break;
        at.insert(std::ranges::upper_bound(at, worst), worst);
    }
    std::vector<std::pair<double, double>> anchors;
    for (std::size_t i : at) anchors.emplace_back(x[i], baseline[i]);
    return anchors;
}

} // namespace jointer::steps
