// SPDX-License-Identifier: GPL-3.0-or-later
#include "fields/field.h"

#include "base/parallel.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace jointer::fields {

namespace {

constexpr std::size_t kFewRows = 16; // for one thread

// The cell that holds a value, and the share of the way through it; nothing outside.
std::optional<std::pair<std::size_t, double>> cellOf(const std::vector<double>& nodes, double v) {
    if (nodes.size() < 2 || !(v >= nodes.front() && v <= nodes.back())) return {};
    const auto above = std::upper_bound(nodes.begin() + 1, nodes.end() - 1, v);
    const auto k = static_cast<std::size_t>(above - nodes.begin() - 1);
    return std::pair(k, (v - nodes[k]) / (nodes[k + 1] - nodes[k]));
}

// a at 0 and b at 1 exactly, also where the other is missing.
double between(double a, double b, double t) {
    return t == 0 ? a : t == 1 ? b : a + t * (b - a);
}

bool even(const std::vector<double>& nodes) {
    if (nodes.size() < 3) return true;
    const double step = (nodes.back() - nodes.front()) / static_cast<double>(nodes.size() - 1);
    for (std::size_t k = 0; k < nodes.size(); ++k)
        if (std::abs(nodes[k] - nodes.front() - step * static_cast<double>(k)) > 1e-6 * std::abs(step))
            return false;
    return true;
}

std::vector<double> gaussian(double sd) {
    std::vector<double> w;
    for (int k = 0; k <= static_cast<int>(std::ceil(4 * sd)); ++k)
        w.push_back(std::exp(-0.5 * k * k / (sd * sd)));
    return w;
}

// Weighted means along one direction of a matrix with stride.
void smoothLine(const double* from, double* to, std::size_t n, std::size_t stride,
                const std::vector<double>& w) {
    for (std::size_t i = 0; i < n; ++i) {
        if (!std::isfinite(from[i * stride])) {
            to[i * stride] = from[i * stride];
            continue;
        }
        double sum = 0, weights = 0;
        const auto take = [&](std::size_t k, double weight) {
            const double v = from[k * stride];
            if (!std::isfinite(v)) return;
            sum += weight * v;
            weights += weight;
        };
        take(i, w[0]);
        for (std::size_t k = 1; k < w.size(); ++k) {
            if (i >= k) take(i - k, w[k]);
            if (i + k < n) take(i + k, w[k]);
        }
        to[i * stride] = sum / weights;
    }
}

std::vector<double> refinedNodes(const std::vector<double>& nodes, int times) {
    std::vector<double> out;
    for (std::size_t k = 0; k + 1 < nodes.size(); ++k)
        for (int s = 0; s < times; ++s) out.push_back(nodes[k] + (nodes[k + 1] - nodes[k]) * s / times);
    out.push_back(nodes.back());
    return out;
}

// Values between four neighbours; straight where an outer one is missing.
double cubic(double a, double b, double c, double d, double t) {
    if (!std::isfinite(b) || !std::isfinite(c)) return between(b, c, t);
    if (!std::isfinite(a)) a = 2 * b - c;
    if (!std::isfinite(d)) d = 2 * c - b;
    return b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
}

void refineLine(const double* from, std::size_t n, std::size_t fromStride, double* to, std::size_t toStride,
                int times) {
    const auto value = [&](std::ptrdiff_t k) {
        return k < 0 || k >= static_cast<std::ptrdiff_t>(n) ? NAN
                                                            : from[static_cast<std::size_t>(k) * fromStride];
    };
    std::size_t at = 0;
    for (std::size_t k = 0; k + 1 < n; ++k)
        for (int s = 0; s < times; ++s, ++at) {
            const auto i = static_cast<std::ptrdiff_t>(k);
            to[at * toStride] = s == 0 ? value(i)
                                       : cubic(value(i - 1), value(i), value(i + 1), value(i + 2),
                                               static_cast<double>(s) / times);
        }
    to[at * toStride] = value(static_cast<std::ptrdiff_t>(n) - 1);
}

} // namespace

std::optional<std::pair<double, double>> Field::extent() const {
    if (known) return known;
    double low = INFINITY, high = -INFINITY;
    for (const double v : z) {
        if (!std::isfinite(v)) continue;
        low = std::min(low, v);
        high = std::max(high, v);
    }
    if (!(low <= high)) return {};
    return std::pair(low, high);
}

bool Field::isEven() const {
    return even(x) && even(y);
}

Place inTriangle(double a, double b, double c) {
    const double sum = a + b + c;
    if (!(sum > 0)) return {NAN, NAN};
    return {(c + a / 2) / sum, a / sum * 0.86602540378443864676}; // √3/2
}

double valueAt(const Field& f, double x, double y) {
    const auto column = cellOf(f.x, x), row = cellOf(f.y, y);
    if (!column || !row || f.isEmpty()) return NAN;
    const auto [i, s] = *column;
    const auto [j, t] = *row;
    return between(between(f.at(i, j), f.at(i + 1, j), s), between(f.at(i, j + 1), f.at(i + 1, j + 1), s), t);
}

Cut cutThrough(const Field& f, Place from, Place to, std::size_t count) {
    Cut cut;
    const double dx = to.x - from.x, dy = to.y - from.y;
    for (std::size_t k = 0; k < count; ++k) {
        const double t = static_cast<double>(k) / static_cast<double>(count - 1);
        const double x = k + 1 == count ? to.x : from.x + t * dx, y = k + 1 == count ? to.y : from.y + t * dy;
        cut.along.push_back(dy == 0 ? x : dx == 0 ? y : t * std::hypot(dx, dy));
        cut.z.push_back(valueAt(f, x, y));
    }
    return cut;
}

Field smoothed(const Field& field, double nodes) {
    if (!(nodes > 0) || field.isEmpty()) return field;
    const auto w = gaussian(nodes);
    Field out = field;
    out.known.reset();
    const std::size_t n = field.columns(), m = field.rows();
    std::vector<double> half(field.z.size());
    parallelRanges(m, kFewRows, [&](std::size_t begin, std::size_t end) {
        for (std::size_t j = begin; j < end; ++j) smoothLine(&field.z[j * n], &half[j * n], n, 1, w);
    });
    parallelRanges(n, kFewRows, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end; ++i) smoothLine(&half[i], &out.z[i], m, n, w);
    });
    return out;
}

Field refined(const Field& field, int times) {
    if (times < 2 || field.isEmpty()) return field;
    Field out = field;
    out.known.reset();
    out.x = refinedNodes(field.x, times);
    out.y = refinedNodes(field.y, times);
    const std::size_t n = out.x.size(), m = field.rows();
    std::vector<double> wide(n * m);
    for (std::size_t j = 0; j < m; ++j)
        refineLine(&field.z[j * field.columns()], field.columns(), 1, &wide[j * n], 1, times);
    out.z.assign(n * out.y.size(), NAN);
    for (std::size_t i = 0; i < n; ++i) refineLine(&wide[i], m, n, &out.z[i], n, times);
    return out;
}

Field withoutTrend(const Field& field, int degree) {
    const auto extent = field.extent();
    if (field.isEmpty() || !extent) return field;
    const int terms = degree >= 2 ? 6 : degree == 1 ? 3 : 1;
    const auto basis = [&](std::size_t i, std::size_t j) {
        const auto scaled = [](const std::vector<double>& nodes, std::size_t k) {
            return 2 * (nodes[k] - nodes.front()) / (nodes.back() - nodes.front()) - 1;
        };
        const double x = scaled(field.x, i), y = scaled(field.y, j);
        Eigen::Matrix<double, 6, 1> b;
        b << 1, x, y, x * x, x * y, y * y;
        return b;
    };
    Eigen::Matrix<double, 6, 6> normal = Eigen::Matrix<double, 6, 6>::Zero();
    Eigen::Matrix<double, 6, 1> right = Eigen::Matrix<double, 6, 1>::Zero();
    for (std::size_t j = 0; j < field.rows(); ++j)
        for (std::size_t i = 0; i < field.columns(); ++i) {
            if (!std::isfinite(field.at(i, j))) continue;
            const auto b = basis(i, j);
            normal += b * b.transpose();
            right += field.at(i, j) * b;
        }
    const Eigen::VectorXd fitted =
        normal.topLeftCorner(terms, terms).ldlt().solve(Eigen::VectorXd(right.head(terms)));
    Field out = field;
    out.known.reset();
    for (std::size_t j = 0; j < field.rows(); ++j)
        for (std::size_t i = 0; i < field.columns(); ++i)
            out.z[j * field.columns() + i] -= basis(i, j).head(terms).dot(fitted);
    return out;
}

} // namespace jointer::fields
