// SPDX-License-Identifier: GPL-3.0-or-later
#include "numerics/loess.h"

#include "numerics/local_polynomial.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <mutex>
#include <numeric>
#include <tuple>
#include <utility>

namespace jointer::numerics {

namespace {

constexpr double kRobustReach = 6; // medians of the residuals, beyond which a point does not count
constexpr std::size_t kPlacesTogether = 16, kRowsLookedAt = 400;

double tricube(double u) {
    const double c = 1 - u * u * u;
    return u < 1 ? c * c * c : 0;
}

double medianOf(std::vector<double> values) {
    const auto middle = values.begin() + std::ssize(values) / 2;
    std::ranges::nth_element(values, middle);
    return *middle;
}

} // namespace

Loess::Loess(std::vector<double> x, std::vector<double> y, std::vector<double> weights, const LoessWish& wish)
    : x_(std::move(x)), y_(std::move(y)), w_(std::move(weights)), degree_(wish.degree) {
    const auto asked = static_cast<std::size_t>(std::floor(static_cast<double>(x_.size()) * wish.fraction + 1e-5));
    near_ = std::clamp(asked, std::min<std::size_t>(x_.size(), static_cast<std::size_t>(degree_) + 1), x_.size());
    makeRobust(wish.robustSteps);
}

// Source: W. S. Cleveland (1979): bisquare weights of the residuals over six times their median size.
void Loess::makeRobust(int steps) {
    for (int k = 0; k < steps; ++k) {
        std::vector<double> sizes = values(x_);
        for (std::size_t i = 0; i < sizes.size(); ++i)
            sizes[i] = std::abs(y_[i] - sizes[i]) * (w_.empty() ? 1 : std::sqrt(w_[i]));
        const double reach = kRobustReach * medianOf(sizes);
        robust_.assign(sizes.size(), 1);
        if (!(reach > 0)) return;
        for (std::size_t i = 0; i < sizes.size(); ++i) {
            const double u = sizes[i] / reach;
            robust_[i] = u < 1 ? (1 - u * u) * (1 - u * u) : 0;
        }
    }
}

// The nearest ones stand together, since places ascend.
Loess::Window Loess::windowAt(double x) const {
    std::size_t low = 0, high = x_.size() - near_;
    while (low < high) {
        const std::size_t middle = (low + high) / 2;
        if (x - x_[middle] > x_[middle + near_] - x)
            low = middle + 1;
        else
            high = middle;
    }
    Window w{low, low + near_, std::max(x - x_[low], x_[low + near_ - 1] - x)};
    if (w.reach > 0) return w;
    while (w.first > 0 && x_[w.first - 1] == x) --w.first; // all that stand there
    while (w.end < x_.size() && x_[w.end] == x) ++w.end;
    return w;
}

void Loess::localWeights(const Window& w, double x, int derivative, std::vector<double>& kernel,
                         std::vector<double>& out) const {
    const std::size_t n = w.end - w.first;
    kernel.resize(n);
    out.resize(n);
    for (std::size_t k = 0; k < n; ++k) {
        const std::size_t i = w.first + k;
        kernel[k] = w.reach > 0 ? tricube(std::abs(x_[i] - x) / w.reach) : 1;
        if (!w_.empty()) kernel[k] *= w_[i];
        if (!robust_.empty()) kernel[k] *= robust_[i];
    }
    // Where all are as far as the farthest, they count alike.
    if (std::ranges::none_of(kernel, [](double k) { return k > 0; })) std::ranges::fill(kernel, 1.0);
    localPolynomialWeights(std::span(x_).subspan(w.first, n), kernel, x, degree_, derivative, out);
}

// Of l over a window: Σ l·y and √Σ l²/w.
std::pair<double, double> Loess::over(const Window& w, const std::vector<double>& l) const {
    double sum = 0, squares = 0;
    for (std::size_t k = 0; k < l.size(); ++k) {
        sum += l[k] * y_[w.first + k];
        squares += l[k] * l[k] / weightOf(w.first + k);
    }
    return {sum, std::sqrt(squares)};
}

Loess::At Loess::at(double x) const {
    thread_local std::vector<double> kernel, l;
    const Window w = windowAt(x);
    At out{0, 0, 0, 0};
    localWeights(w, x, 0, kernel, l);
    std::tie(out.y, out.norm) = over(w, l);
    localWeights(w, x, 1, kernel, l);
    std::tie(out.slope, out.slopeNorm) = over(w, l);
    return out;
}

std::vector<double> Loess::values(std::span<const double> xs, std::span<double> norms) const {
    std::vector<double> out(xs.size());
    parallelRanges(xs.size(), kPlacesTogether, [&](std::size_t begin, std::size_t end) {
        std::vector<double> kernel, l;
        for (std::size_t i = begin; i < end; ++i) {
            const Window w = windowAt(xs[i]);
            localWeights(w, xs[i], 0, kernel, l);
            const auto [y, norm] = over(w, l);
            out[i] = y;
            if (!norms.empty()) norms[i] = norm;
        }
    });
    return out;
}

void Loess::weightsAt(double x, std::span<double> out) const {
    thread_local std::vector<double> kernel, l;
    const Window w = windowAt(x);
    localWeights(w, x, 0, kernel, l);
    std::ranges::fill(out, 0.0);
    std::ranges::copy(l, out.begin() + static_cast<std::ptrdiff_t>(w.first));
}

namespace {

using RowMatrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;

double frobeniusOfSquare(const RowMatrix& m, const Cancellation& stop) {
    double sum = 0;
    std::mutex adding;
    parallelRanges(static_cast<std::size_t>(m.rows()), 64, [&](std::size_t begin, std::size_t end) {
        for (std::size_t b = begin; b < end && !stop.stop_requested(); b += 64) {
            const auto rows = static_cast<Eigen::Index>(std::min<std::size_t>(64, end - b));
            const double part = (m.middleRows(static_cast<Eigen::Index>(b), rows) * m.transpose()).squaredNorm();
            const std::scoped_lock lock(adding);
            sum += part;
        }
    });
    return sum;
}

} // namespace

SmootherStatistics statisticsOf(const Loess& loess, std::span<const double> x, const Cancellation& stop) {
    const std::size_t n = x.size();
    SmootherStatistics s{.exact = n <= kMostExact};
    const std::size_t stride = s.exact ? 1 : n / kRowsLookedAt;
    RowMatrix m;
    if (s.exact) m.resize(static_cast<Eigen::Index>(n), static_cast<Eigen::Index>(n));
    std::vector<double> diagonal((n + stride - 1) / stride), squares(diagonal.size());
    parallelRanges(diagonal.size(), 8, [&](std::size_t begin, std::size_t end) {
        std::vector<double> row(n);
        for (std::size_t k = begin; k < end && !stop.stop_requested(); ++k) {
            const std::size_t i = k * stride;
            loess.weightsAt(x[i], row);
            diagonal[k] = row[i];
            // As if all had the weight one: W^½ L W^−½.
            const double own = loess.weightOf(i);
            double sum = 0;
            for (std::size_t j = 0; j < n; ++j) {
                const double l = row[j] * std::sqrt(own / loess.weightOf(j));
                sum += l * l;
                if (s.exact) m(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(j)) = (i == j) - l;
            }
            squares[k] = sum;
        }
    });
    const double share = static_cast<double>(n) / static_cast<double>(diagonal.size());
    s.dof = share * std::accumulate(diagonal.begin(), diagonal.end(), 0.0);
    s.left = static_cast<double>(n) - 2 * s.dof + share * std::accumulate(squares.begin(), squares.end(), 0.0);
    s.leftSquared = s.exact ? frobeniusOfSquare(m, stop) : s.left;
    if (s.exact) s.leverage = std::move(diagonal);
    return s;
}

} // namespace jointer::numerics
