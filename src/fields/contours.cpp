// SPDX-License-Identifier: GPL-3.0-or-later
#include "fields/contours.h"

#include "base/parallel.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

namespace jointer::fields {

namespace {

using Key = std::uint32_t; // of a place on a side of the grid, or of a node
constexpr Key kNone = 0xffffffff;
constexpr std::size_t kBlock = 32; // cells in a row of which the lowest and highest are known

// What all levels need of a field, made once: which cells are whole, and how far blocks of them reach.
class Ground {
public:
    explicit Ground(const Field& f)
        : f(f), n(f.columns()), m(f.rows()), blocks((n - 1 + kBlock - 1) / kBlock) {
        low.assign(blocks * (m - 1), INFINITY);
        high.assign(blocks * (m - 1), -INFINITY);
        parallelRanges(m - 1, 32, [&](std::size_t begin, std::size_t end) {
            for (std::size_t j = begin; j < end; ++j) measure(j);
        });
    }

    bool isWhole(std::size_t i, std::size_t j) const {
        const double* row = &f.z[j * n + i];
        return std::isfinite(row[0] + row[1] + row[n] + row[n + 1]);
    }

    const Field& f;
    std::size_t n, m, blocks;
    std::vector<double> low, high; // of blocks

private:
    void measure(std::size_t j) {
        const double *a = &f.z[j * n], *b = a + n;
        for (std::size_t i = 0; i + 1 < n; ++i) {
            double& lowest = low[j * blocks + i / kBlock];
            double& highest = high[j * blocks + i / kBlock];
            for (const double v : {a[i], a[i + 1], b[i], b[i + 1]}) {
                lowest = v < lowest ? v : lowest; // NaN is neither
                highest = v > highest ? v : highest;
            }
        }
    }
};

// The pieces of one level, each from one key to another, linked to lines.
class Tracer {
public:
    Tracer(const Ground& ground, double level) : g_(ground), level_(level) {}

    std::vector<ContourLine> lines() {
        eachCell(false);
        return linked();
    }
    std::vector<ContourLine> regions() {
        eachCell(true);
        return linked();
    }

private:
    struct Piece {
        Key from, to;
    };

    bool above(std::size_t i, std::size_t j) const { return g_.f.z[j * g_.n + i] >= level_; }

    Key sideAlongX(std::size_t i, std::size_t j) const { return static_cast<Key>(2 * (j * g_.n + i)); }
    Key sideAlongY(std::size_t i, std::size_t j) const { return static_cast<Key>(2 * (j * g_.n + i) + 1); }
    Key node(std::size_t i, std::size_t j) const { return static_cast<Key>(2 * g_.n * g_.m + j * g_.n + i); }

    void eachCell(bool borders) {
        for (std::size_t j = 0; j + 1 < g_.m; ++j)
            for (std::size_t block = 0; block < g_.blocks; ++block) {
                const double low = g_.low[j * g_.blocks + block], high = g_.high[j * g_.blocks + block];
                const bool passes = low < level_ && high >= level_;
                if (!passes && !(borders && high >= level_)) continue;
                const std::size_t end = std::min(g_.n - 1, (block + 1) * kBlock);
                for (std::size_t i = block * kBlock; i < end; ++i) {
                    if (!g_.isWhole(i, j)) continue;
                    if (passes) crossCell(i, j);
                    if (borders) borderCell(i, j);
                }
            }
    }

    // Higher ground at the left of each piece.
    void crossCell(std::size_t i, std::size_t j) {
        const unsigned corners =
            static_cast<unsigned>(above(i, j)) | static_cast<unsigned>(above(i + 1, j)) << 1 |
            static_cast<unsigned>(above(i + 1, j + 1)) << 2 | static_cast<unsigned>(above(i, j + 1)) << 3;
        if (corners == 0 || corners == 15) return;
        const Key bottom = sideAlongX(i, j), right = sideAlongY(i + 1, j), top = sideAlongX(i, j + 1),
                  left = sideAlongY(i, j);
        const auto piece = [this](Key from, Key to) { pieces_.push_back({from, to}); };
        switch (corners) {
        case 1:
            return piece(bottom, left);
        case 2:
            return piece(right, bottom);
        case 3:
            return piece(right, left);
        case 4:
            return piece(top, right);
        case 6:
            return piece(top, bottom);
        case 7:
            return piece(top, left);
        case 8:
            return piece(left, top);
        case 9:
            return piece(bottom, top);
        case 11:
            return piece(right, top);
        case 12:
            return piece(left, right);
        case 13:
            return piece(bottom, right);
        case 14:
            return piece(left, bottom);
        default:
            break;
        }
        const double* z = &g_.f.z[j * g_.n + i];
        const bool joined = (z[0] + z[1] + z[g_.n] + z[g_.n + 1]) / 4 >= level_; // the two high corners
        if (corners == 5) {
            piece(bottom, joined ? right : left);
            piece(top, joined ? left : right);
        } else {
            piece(right, joined ? top : bottom);
            piece(left, joined ? bottom : top);
        }
    }

    bool isCell(std::ptrdiff_t i, std::ptrdiff_t j) const {
        return i >= 0 && j >= 0 && i + 1 < static_cast<std::ptrdiff_t>(g_.n) &&
               j + 1 < static_cast<std::ptrdiff_t>(g_.m) &&
               g_.isWhole(static_cast<std::size_t>(i), static_cast<std::size_t>(j));
    }

    // Sides beyond which there is nothing, as far as they are high; the cell lies at their left.
    void borderCell(std::size_t i, std::size_t j) {
        const auto a = static_cast<std::ptrdiff_t>(i), b = static_cast<std::ptrdiff_t>(j);
        if (!isCell(a, b - 1)) side(i, j, i + 1, j, sideAlongX(i, j));
        if (!isCell(a + 1, b)) side(i + 1, j, i + 1, j + 1, sideAlongY(i + 1, j));
        if (!isCell(a, b + 1)) side(i + 1, j + 1, i, j + 1, sideAlongX(i, j + 1));
        if (!isCell(a - 1, b)) side(i, j + 1, i, j, sideAlongY(i, j));
    }

    void side(std::size_t i0, std::size_t j0, std::size_t i1, std::size_t j1, Key between) {
        const bool from = above(i0, j0), to = above(i1, j1);
        if (from && to) pieces_.push_back({node(i0, j0), node(i1, j1)});
        if (from && !to) pieces_.push_back({node(i0, j0), between});
        if (!from && to) pieces_.push_back({between, node(i1, j1)});
    }

    Place placeOf(Key key) const {
        const std::size_t sides = 2 * g_.n * g_.m;
        const std::size_t at = key >= sides ? key - sides : key / 2;
        const std::size_t i = at % g_.n, j = at / g_.n;
        if (key >= sides) return {g_.f.x[i], g_.f.y[j]};
        const bool alongY = key % 2 == 1;
        const double z0 = g_.f.z[at], z1 = g_.f.z[at + (alongY ? g_.n : 1)];
        const double t = std::clamp((level_ - z0) / (z1 - z0), 0.0, 1.0);
        if (alongY) return {g_.f.x[i], g_.f.y[j] + t * (g_.f.y[j + 1] - g_.f.y[j])};
        return {g_.f.x[i] + t * (g_.f.x[i + 1] - g_.f.x[i]), g_.f.y[j]};
    }

    // Pieces in order of where they begin; of several at one node any goes on.
    std::vector<ContourLine> linked() {
        std::ranges::sort(pieces_, {}, &Piece::from);
        const std::size_t count = pieces_.size();
        std::vector<std::uint8_t> used(count, 0), isEntered(count, 0);
        const auto beginning = [&](Key key) {
            return static_cast<std::size_t>(std::ranges::lower_bound(pieces_, key, {}, &Piece::from) -
                                            pieces_.begin());
        };
        std::vector<std::uint32_t> next(count);
        for (std::size_t k = 0; k < count; ++k) {
            next[k] = static_cast<std::uint32_t>(beginning(pieces_[k].to));
            for (std::size_t b = next[k]; b < count && pieces_[b].from == pieces_[k].to; ++b)
                isEntered[b] = 1;
        }
        std::vector<ContourLine> lines;
        for (const bool open : {true, false}) // open lines from their beginnings, then rings
            for (std::size_t k = 0; k < count; ++k)
                if (!used[k] && (!open || !isEntered[k])) lines.push_back(follow(k, used, next));
        return lines;
    }

    ContourLine follow(std::size_t k, std::vector<std::uint8_t>& used,
                       const std::vector<std::uint32_t>& next) const {
        ContourLine line;
        const Key start = pieces_[k].from;
        line.points.push_back(placeOf(start));
        for (;;) {
            used[k] = 1;
            const Key to = pieces_[k].to;
            if (to == start) {
                line.closed = true;
                break;
            }
            const Place p = placeOf(to);
            if (!(p == line.points.back())) line.points.push_back(p);
            std::size_t b = next[k];
            while (b < pieces_.size() && pieces_[b].from == to && used[b]) ++b;
            if (b >= pieces_.size() || pieces_[b].from != to) break;
            k = b;
        }
        return line;
    }

    const Ground& g_;
    double level_;
    std::vector<Piece> pieces_;
};

template <std::vector<ContourLine> (Tracer::*trace)()>
std::vector<std::vector<ContourLine>> forEach(const Field& field, const std::vector<double>& levels) {
    std::vector<std::vector<ContourLine>> out(levels.size());
    if (field.isEmpty() || 3 * field.z.size() >= kNone) return out;
    const Ground ground(field);
    parallelRanges(levels.size(), 1, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) out[k] = (Tracer(ground, levels[k]).*trace)();
    });
    return out;
}

} // namespace

std::vector<std::vector<ContourLine>> contourLines(const Field& field, const std::vector<double>& levels) {
    return forEach<&Tracer::lines>(field, levels);
}

std::vector<std::vector<ContourLine>> regionsAbove(const Field& field, const std::vector<double>& levels) {
    auto out = forEach<&Tracer::regions>(field, levels);
    for (auto& regions : out)
        std::erase_if(regions, [](const ContourLine& l) { return l.points.size() < 3; });
    return out;
}

std::vector<double> levelsFor(double low, double high, int count, double distance,
                              const std::vector<double>& listed) {
    std::vector<double> levels;
    if (!listed.empty()) {
        levels = listed;
        std::erase_if(levels, [](double v) { return !std::isfinite(v); });
        std::ranges::sort(levels);
        levels.erase(std::ranges::unique(levels).begin(), levels.end());
        return levels;
    }
    if (!(low < high) || !std::isfinite(high - low)) return levels;
    double step = distance;
    if (!(step > 0)) {
        const double rough = (high - low) / std::max(1, count),
                     power = std::pow(10.0, std::floor(std::log10(rough)));
        for (const double round : {1.0, 2.0, 2.5, 5.0, 10.0}) {
            step = round * power;
            if (step >= rough * (1 - 1e-9)) break;
        }
    }
    constexpr double kMost = 1000;
    if ((high - low) / step > kMost) step = (high - low) / kMost;
    // Levels that numbers of this size cannot tell apart would never end.
    if (!(step > 1e-12 * std::max(std::abs(low), std::abs(high)))) return levels;
    for (double k = std::ceil(low / step - 1e-9); k * step <= high + 1e-9 * step; ++k)
        levels.push_back(k * step);
    return levels;
}

} // namespace jointer::fields
