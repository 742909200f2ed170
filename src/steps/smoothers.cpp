// SPDX-License-Identifier: GPL-3.0-or-later
#include "steps/smoothers.h"

#include "numerics/fourier.h"
#include "numerics/local_polynomial.h"
#include "numerics/penalised.h"
#include "numerics/savitzky_golay.h"

#include <algorithm>
#include <cmath>

namespace jointer::steps {

namespace {

List shared(Values v) {
    return {v.begin(), v.end()};
}

// The weights of one result: they begin at point `first`.
struct Row {
    std::size_t first = 0;
    List weights;
};

// An operation whose rows are made as they are needed.
template <class MakeRow>
Linear byRows(std::size_t n, std::size_t grain, MakeRow make, Cancellation stop = {}) {
    auto run = [n, grain, make, stop](Values v, bool squares) {
        List out(n);
        parallelRanges(n, grain, [&](std::size_t begin, std::size_t end) {
            Row row;
            for (std::size_t i = begin; i < end; ++i) {
                if (i % 256 == 0 && stop.stop_requested()) return;
                make(i, row);
                double sum = 0;
                for (std::size_t k = 0; k < row.weights.size(); ++k) {
                    const double w = row.weights[k];
                    sum += (squares ? w * w : w) * v[row.first + k];
                }
                out[i] = sum;
            }
        });
        return out;
    };
    return {[run](Values v) { return run(v, false); }, [run](Values v) { return run(v, true); }};
}

// Windows of the same number of points within each piece: the same weights everywhere but near the ends.
struct CountedWindows {
    std::size_t window;
    std::vector<List> at; // by the place in the window
};

// Σ w[k]·v[k + i] for many i, by blocks that stay in the cache.
void convolve(Values v, const List& w, std::span<double> out) {
    constexpr std::size_t kBlock = 2048;
    for (std::size_t from = 0; from < out.size(); from += kBlock) {
        const std::size_t to = std::min(out.size(), from + kBlock);
        double* o = out.data();
        std::fill(o + from, o + to, 0.0);
        std::size_t k = 0;
        for (; k + 4 <= w.size(); k += 4) {
            const double a = w[k], b = w[k + 1], c = w[k + 2], d = w[k + 3];
            const double* p = v.data() + k;
            for (std::size_t i = from; i < to; ++i)
                o[i] += (a * p[i] + b * p[i + 1]) + (c * p[i + 2] + d * p[i + 3]);
        }
        for (; k < w.size(); ++k) {
            const double a = w[k];
            const double* p = v.data() + k;
            for (std::size_t i = from; i < to; ++i) o[i] += a * p[i];
        }
    }
}

List filtered(Values v, const CountedWindows& w, bool squares) {
    List out(v.size());
    std::vector<List> at = w.at;
    if (squares)
        for (List& list : at)
            for (double& x : list) x *= x;
    const std::size_t half = w.window / 2, inner = v.size() - w.window + 1;
    parallelRanges(inner, 20000, [&](std::size_t begin, std::size_t end) {
        convolve(v.subspan(begin, end - begin + w.window - 1), at[half],
                 std::span(out).subspan(half + begin, end - begin));
    });
    auto atEnd = [&](std::size_t i, std::size_t first, std::size_t place) {
        double sum = 0;
        for (std::size_t k = 0; k < w.window; ++k) sum += at[place][k] * v[first + k];
        out[i] = sum;
    };
    for (std::size_t i = 0; i < half; ++i) {
        atEnd(i, 0, i);
        atEnd(v.size() - 1 - i, v.size() - w.window, w.window - 1 - i);
    }
    return out;
}

// Runs f over each piece and puts the results together.
template <class F> List overPieces(Values v, const std::vector<Piece>& pieces, F f) {
    if (pieces.size() == 1) return f(v, pieces[0]);
    List out;
    out.reserve(v.size());
    for (const Piece& p : pieces) {
        const List part = f(v.subspan(p.begin, p.end - p.begin), p);
        out.insert(out.end(), part.begin(), part.end());
    }
    return out;
}

CountedWindows meanWindows(std::size_t window) {
    CountedWindows w{window, {}};
    for (std::size_t place = 0; place < window; ++place) {
        const std::size_t reach = std::min(place, window - 1 - place);
        List weights(window, 0.0);
        for (std::size_t i = place - reach; i <= place + reach; ++i)
            weights[i] = 1.0 / static_cast<double>(2 * reach + 1);
        w.at.push_back(std::move(weights));
    }
    return w;
}

CountedWindows polynomialWindows(std::size_t window, int degree, int derivative, double step) {
    CountedWindows w{window, {}};
    const auto points = static_cast<int>(window);
    for (int place = 0; place < points; ++place) {
        List weights =
            numerics::savitzkyGolayWeights(points, std::min(degree, points - 1), place, derivative);
        for (double& v : weights) v *= std::pow(step, -derivative);
        w.at.push_back(std::move(weights));
    }
    return w;
}

// The longest odd window that fits.
std::size_t fitting(std::size_t window, std::size_t points) {
    return std::min(window, points % 2 == 1 ? points : std::max<std::size_t>(points, 1) - 1);
}

// One kind of window for pieces of full length; shorter pieces get their own.
template <class Make> Linear countedPieces(std::size_t window, const std::vector<Piece>& pieces, Make make) {
    auto full = std::make_shared<const CountedWindows>(make(window));
    auto run = [=](Values all, bool squares) {
        return overPieces(all, pieces, [&](Values v, const Piece&) {
            const std::size_t own = fitting(window, v.size());
            return own == window ? filtered(v, *full, squares) : filtered(v, make(own), squares);
        });
    };
    return {[=](Values v) { return run(v, false); }, [=](Values v) { return run(v, true); }};
}

// The window around a point within its piece; at the ends shifted, so that it keeps its size, or cut evenly.
struct Reach {
    std::size_t first, end;
};
Reach shiftedReach(const List& x, const Piece& p, std::size_t i, const Window& w) {
    if (w.points > 0) {
        const std::size_t own = fitting(w.points, p.end - p.begin), half = own / 2;
        const std::size_t first = std::clamp(i, p.begin + half, p.end - own + half) - half;
        return {first, first + own};
    }
    const double half = w.width / 2;
    const double low = std::max(x[p.begin], std::min(x[i] - half, x[p.end - 1] - w.width)),
                 high = std::min(x[p.end - 1], std::max(x[i] + half, x[p.begin] + w.width));
    const auto begin = x.begin() + static_cast<std::ptrdiff_t>(p.begin),
               end = x.begin() + static_cast<std::ptrdiff_t>(p.end);
    const auto slack = 1e-9 * w.width; // a window of whole steps holds the points at its ends
    return {static_cast<std::size_t>(std::lower_bound(begin, end, low - slack) - x.begin()),
            static_cast<std::size_t>(std::upper_bound(begin, end, high + slack) - x.begin())};
}

const Piece& pieceAround(const std::vector<Piece>& pieces, std::size_t i) {
    return *std::ranges::upper_bound(pieces, i, {}, [](const Piece& p) { return p.end; });
}

} // namespace

Linear movingAverage(Values x, Window window, const std::vector<Piece>& pieces) {
    if (window.points > 0) return countedPieces(window.points, pieces, meanWindows);
    return byRows(x.size(), 2000, [x = shared(x), window, pieces](std::size_t i, Row& row) {
        const Piece& p = pieceAround(pieces, i);
        const double reach = std::min({window.width / 2, x[i] - x[p.begin], x[p.end - 1] - x[i]});
        const double slack = 1e-9 * window.width;
        const auto first = std::ranges::lower_bound(x, x[i] - reach - slack),
                   end = std::ranges::upper_bound(x, x[i] + reach + slack);
        row.first = static_cast<std::size_t>(first - x.begin());
        row.weights.assign(static_cast<std::size_t>(end - first), 1.0 / static_cast<double>(end - first));
    });
}

Linear localPolynomial(Values x, Window window, const std::vector<Piece>& pieces, int degree,
                       int derivative) {
    const Spacing spacing = spacingOf(x);
    const bool alike = spacing.even && pieces.size() * 50 <= x.size() &&
                       (x.back() - x.front()) < 1.0001 * spacing.usual * static_cast<double>(x.size() - 1);
    if (window.points > 0 && alike)
        return countedPieces(window.points, pieces, [=, step = spacing.usual](std::size_t points) {
            return polynomialWindows(points, degree, derivative, step);
        });
    // Where no point is missing within the window, even points have the same weights.
    std::shared_ptr<const CountedWindows> usual;
    if (window.points > 0 && spacing.even)
        usual = std::make_shared<const CountedWindows>(
            polynomialWindows(window.points, degree, derivative, spacing.usual));
    return byRows(x.size(), 500, [=, x = shared(x)](std::size_t i, Row& row) {
        const auto [first, end] = shiftedReach(x, pieceAround(pieces, i), i, window);
        row.first = first;
        const double steps = (x[end - 1] - x[first]) / spacing.usual;
        if (usual && end - first == window.points && steps < static_cast<double>(window.points) - 0.99) {
            row.weights = usual->at[i - first];
            return;
        }
        row.weights.resize(end - first);
        numerics::localPolynomialWeights(Values(x).subspan(first, end - first), {}, x[i], degree, derivative,
                                         row.weights);
    });
}

double lowPassGain(double frequency, double cutoff) {
    const double ratio = frequency / cutoff, two = ratio * ratio, four = two * two;
    return 1 / (1 + four * four);
}

namespace {

// Variances under the filter of a mirrored list: its kernel k reaches a point from each point and from that
// point's image, Σ (k(i−j) + k(i+j+1))²·v[j].
List lowPassVariances(Values v, double cutoff) {
    const std::size_t n = v.size();
    std::vector<std::complex<double>> gains(n + 1);
    for (std::size_t k = 0; k <= n; ++k)
        gains[k] = lowPassGain(static_cast<double>(k) / static_cast<double>(2 * n), cutoff);
    const List kernel = numerics::inverseFourier(gains, 2 * n);
    List squares = kernel;
    for (double& k : squares) k *= k;
    const auto gainOfSquares = numerics::fourier(squares);
    List out = numerics::filteredByFrequency(v, [&](double f) {
        return gainOfSquares[static_cast<std::size_t>(std::lround(f * static_cast<double>(2 * n)))].real();
    });
    std::size_t reach = 0;
    for (std::size_t d = 0; d <= n; ++d)
        if (std::abs(kernel[d]) > 1e-7 * kernel[0]) reach = d;
    reach = std::min<std::size_t>({reach, 4000, n - 1});
    auto cross = [&](auto at) { // the products of both ways, near one end
        for (std::size_t i = 0; i <= reach; ++i) {
            double sum = 0;
            for (std::size_t j = 0; j <= reach; ++j)
                sum +=
                    kernel[i > j ? i - j : j - i] * kernel[std::min(i + j + 1, 2 * n - i - j - 1)] * v[at(j)];
            out[at(i)] += 2 * sum;
        }
    };
    cross([](std::size_t i) { return i; });
    if (n > 2 * reach + 1) cross([n](std::size_t i) { return n - 1 - i; });
    for (double& o : out) o = std::max(o, 0.0);
    return out;
}

} // namespace

Linear lowPass(double cutoff, const std::vector<Piece>& pieces) {
    return {[=](Values all) {
                return overPieces(all, pieces, [&](Values v, const Piece&) {
                    return numerics::filteredByFrequency(v, [&](double f) { return lowPassGain(f, cutoff); });
                });
            },
            [=](Values all) {
                return overPieces(all, pieces,
                                  [&](Values v, const Piece&) { return lowPassVariances(v, cutoff); });
            }};
}

Linear loess(Values x, std::size_t nearest, int degree, const List& robustness, const Cancellation& stop) {
    const std::size_t n = x.size(), k = std::clamp<std::size_t>(nearest, 1, n);
    auto row = [=, x = shared(x)](std::size_t i, Row& out) {
        std::size_t first = i + 1 > k ? i + 1 - k : 0;
        while (first + k < n && first < i && x[first + k] - x[i] < x[i] - x[first]) ++first;
        out.first = first;
        out.weights.resize(k);
        const double farthest = std::max(x[i] - x[first], x[first + k - 1] - x[i]);
        thread_local List weights;
        weights.resize(k);
        for (std::size_t j = 0; j < k; ++j) {
            const double u = farthest > 0 ? std::abs(x[first + j] - x[i]) / farthest : 0;
            const double c = 1 - u * u * u;
            weights[j] = farthest > 0 ? c * c * c : 1;
            if (!robustness.empty()) weights[j] *= robustness[first + j];
        }
        numerics::localPolynomialWeights(Values(x).subspan(first, k), weights, x[i], degree, 0, out.weights);
    };
    return byRows(n, 200, row, stop);
}

namespace {

// The places of points on an even grid, from nought; empty: every place has its point, or there is no grid.
std::vector<std::size_t> gridPlaces(Values x, double step) {
    std::vector<std::size_t> places{0};
    for (std::size_t i = 1; i < x.size(); ++i) {
        const double steps = (x[i] - x[i - 1]) / step, whole = std::round(steps);
        if (!(whole >= 1) || std::abs(steps - whole) > 0.02 * whole) return {};
        places.push_back(places.back() + static_cast<std::size_t>(whole));
        if (places.back() > 8 * x.size()) return {};
    }
    return places.back() + 1 == x.size() ? std::vector<std::size_t>{} : places;
}

} // namespace

Linear penalised(Values x, double lambda, const std::vector<Piece>& pieces) {
    const double step = spacingOf(x).usual;
    std::vector<std::vector<std::size_t>> places;
    for (const Piece& p : pieces) places.push_back(gridPlaces(x.subspan(p.begin, p.end - p.begin), step));
    auto run = [=](Values all, auto what) {
        std::size_t piece = 0;
        return overPieces(all, pieces, [&](Values v, const Piece&) {
            const std::vector<std::size_t>& at = places[piece++];
            if (at.empty()) return what(v, List(v.size(), 1.0), lambda);
            List full(at.back() + 1, 0.0), weights(full.size(), 0.0), out(v.size());
            for (std::size_t i = 0; i < at.size(); ++i) full[at[i]] = v[i], weights[at[i]] = 1;
            const List smooth = what(Values(full), weights, lambda);
            for (std::size_t i = 0; i < at.size(); ++i) out[i] = smooth[at[i]];
            return out;
        });
    };
    return {[=](Values v) {
                return run(
                    v, [](Values a, const List& w, double l) { return numerics::penalisedSmooth(a, w, l); });
            },
            [=](Values v) {
                return run(v, [](Values a, const List& w, double l) {
                    return numerics::penalisedVariances(a, w, l);
                });
            }};
}

} // namespace jointer::steps
