// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/axis_map.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

namespace {

// The ranges that breaks leave; breaks that leave nothing at an end are passed over, and those that the scale
// cannot show.
std::vector<Range> parts(const Scale& scale, const Range& range, const std::vector<Range>& skipped) {
    std::vector<Range> out;
    double from = range.low;
    auto shown = [&](double v) { return std::isfinite(scale.forward(v)); };
    for (const Range& gap : skipped) {
        if (!(gap.low < gap.high) || gap.low <= from || gap.high >= range.high) continue;
        if (!shown(gap.low) || !shown(gap.high) || !shown(from) || !shown(range.high)) continue;
        if (!(std::abs(scale.forward(gap.low) - scale.forward(from)) > 0)) continue; // nothing left of it
        out.push_back({from, gap.low});
        from = gap.high;
    }
    out.push_back({from, range.high});
    return out;
}

} // namespace

AxisMap::AxisMap() : AxisMap(scaleCatalogue().front().make({{}, {}}), {0, 1}, 0, 1) {}

AxisMap::AxisMap(ScalePtr scale, const Range& range, double start, double end, const Breaks& breaks)
    : scale_(std::move(scale)), low_(range.low), high_(range.high), start_(start), end_(end),
      slope_((end - start) / (range.high - range.low)) {
    const auto ranges = parts(*scale_, range, breaks.skipped);
    even_ = scale_->isEven() && ranges.size() == 1;
    std::vector<double> shares;
    double sum = 0;
    for (std::size_t k = 0; k < ranges.size(); ++k) {
        const bool told = k < breaks.shares.size() && breaks.shares[k] > 0;
        const double own = scale_->forward(ranges[k].high) - scale_->forward(ranges[k].low);
        shares.push_back(breaks.shares.empty() ? own : told ? breaks.shares[k] : 1);
        sum += shares.back();
    }
    const double sign = end < start ? -1 : 1;
    const double gap = std::min(breaks.gapMm, 0.2 * length() / static_cast<double>(ranges.size()));
    const double room = length() - gap * static_cast<double>(ranges.size() - 1);
    double at = start;
    for (std::size_t k = 0; k < ranges.size(); ++k) {
        const double own = sign * room * shares[k] / sum;
        const bool last = k + 1 == ranges.size();
        pieces_.push_back({ranges[k].low, ranges[k].high, at, last ? end : at + own,
                           scale_->forward(ranges[k].low), scale_->forward(ranges[k].high)});
        at += own + sign * gap;
    }
}

AxisMap AxisMap::bound(const AxisMap& to, std::shared_ptr<const MonotoneFormula> formula) {
    AxisMap map;
    const double a = formula->forward(to.low()), b = formula->forward(to.high());
    const bool falls = b < a;
    map.low_ = falls ? b : a;
    map.high_ = falls ? a : b;
    map.start_ = falls ? to.end() : to.start();
    map.end_ = falls ? to.start() : to.end();
    map.even_ = false;
    map.formula_ = std::move(formula);
    map.to_ = std::make_shared<AxisMap>(to);
    map.pieces_.clear();
    for (const Piece& p : to.pieces()) {
        const double low = map.formula_->forward(p.low), high = map.formula_->forward(p.high);
        map.pieces_.push_back(falls ? Piece{high, low, p.end, p.start, 0, 1}
                                    : Piece{low, high, p.start, p.end, 0, 1});
    }
    if (falls) std::ranges::reverse(map.pieces_);
    return map;
}

double AxisMap::placed(double v) const {
    if (formula_) {
        if (std::abs(v - low_) <= 1e-12 * std::abs(low_)) return start_;
        if (std::abs(v - high_) <= 1e-12 * std::abs(high_)) return end_;
        return to_->place(formula_->back(v, to_->low(), to_->high()));
    }
    const double t = scale_->forward(v);
    if (!std::isfinite(t))
        return std::isnan(t) ? t : t < 0 ? -INFINITY * (end_ - start_) : INFINITY * (end_ - start_);
    std::size_t k = 0;
    while (k + 1 < pieces_.size() && v > pieces_[k].high) {
        if (v < pieces_[k + 1].low) { // within a break: somewhere in its gap
            const double share = (v - pieces_[k].high) / (pieces_[k + 1].low - pieces_[k].high);
            return std::lerp(pieces_[k].end, pieces_[k + 1].start, share);
        }
        ++k;
    }
    const Piece& p = pieces_[k];
    return p.start + (t - p.from) / (p.to - p.from) * (p.end - p.start);
}

const Piece& AxisMap::pieceAt(double place) const {
    const double sign = end_ < start_ ? -1 : 1;
    for (std::size_t k = 0; k + 1 < pieces_.size(); ++k)
        if (sign * place <= sign * (pieces_[k].end + pieces_[k + 1].start) / 2) return pieces_[k];
    return pieces_.back();
}

double AxisMap::value(double place) const {
    if (formula_) return formula_->forward(to_->value(place));
    if (even_) return low_ + (place - start_) / slope_;
    const Piece& p = pieceAt(place);
    return scale_->back(p.from + (place - p.start) / (p.end - p.start) * (p.to - p.from));
}

bool AxisMap::isSkipped(double v) const {
    for (std::size_t k = 0; k + 1 < pieces_.size(); ++k)
        if (v > pieces_[k].high && v < pieces_[k + 1].low) return true;
    return false;
}

std::size_t AxisMap::partOf(double v) const {
    std::size_t k = 0;
    while (k + 1 < pieces_.size() && v > pieces_[k].high) ++k;
    return k;
}

double AxisMap::base() const {
    const double base = formula_ ? NAN : scale_->base();
    return std::isfinite(base) ? base : low_;
}

std::vector<Tick> AxisMap::ticks(const TickWish& wish) const {
    if (!(high_ > low_) || !std::isfinite(high_ - low_)) return {};
    if (formula_) { // candidates are placed by a table: the inverse of a typed formula costs too much for
                    // each
        constexpr int samples = 512;
        std::vector<std::pair<double, double>> table; // value, share
        for (int k = 0; k <= samples; ++k) {
            const double share = static_cast<double>(k) / samples;
            table.emplace_back(value(std::lerp(start_, end_, share)), share);
        }
        return roundTicks({low_, high_}, wish, [&](double v) {
            const auto next = std::ranges::lower_bound(table, v, {}, [](const auto& t) { return t.first; });
            if (next == table.begin() || next == table.end()) return next == table.begin() ? 0.0 : 1.0;
            const auto before = std::prev(next);
            return std::lerp(before->second, next->second,
                             (v - before->first) / (next->first - before->first));
        });
    }
    if (!isBroken()) return scale_->ticks({low_, high_}, wish);
    // Each part has ticks of its own, as many as it has room for; one alone would not tell its distance.
    std::vector<Tick> all;
    for (const Piece& p : pieces_) {
        TickWish own = wish;
        own.about =
            std::max(2, static_cast<int>(std::lround(wish.about * std::abs(p.end - p.start) / length())));
        std::vector<Tick> ticks = scale_->ticks({p.low, p.high}, own);
        while (std::ranges::count(ticks, true, &Tick::major) < 2 && own.about < 2 * wish.about) {
            ++own.about;
            ticks = scale_->ticks({p.low, p.high}, own);
        }
        std::ranges::move(ticks, std::back_inserter(all));
    }
    return all;
}

Range AxisMap::zoomed(double about, double factor) const {
    const double at = scale_->forward(about), low = scale_->forward(low_), high = scale_->forward(high_);
    return {scale_->back(at + (low - at) * factor), scale_->back(at + (high - at) * factor)};
}

Range AxisMap::moved(double mm) const {
    const double low = scale_->forward(low_), high = scale_->forward(high_);
    const double by = mm / (end_ - start_) * (high - low);
    return {scale_->back(low + by), scale_->back(high + by)};
}

} // namespace jointer::figure
