// SPDX-License-Identifier: GPL-3.0-or-later
#include "analyses/areas/measured_peak.h"

#include <Eigen/Dense>
#include <algorithm>
#include <map>

namespace jointer::analyses {

namespace {

constexpr double kTop = 0.25;      // of the width at half height, on each side: the top
constexpr std::size_t kFewTop = 5; // points
constexpr double kFoot = 2.2;      // widths from the top within which the foot is sought
constexpr double kTouching = 1e-9; // of the span: limits that are one

// A weighted sum of readings, by the places of the points.
class Sum {
public:
    void add(std::size_t point, double weight) { weights_[point] += weight; }
    void add(const Sum& other, double factor) {
        for (const auto& [i, w] : other.weights_) weights_[i] += factor * w;
    }
    Measured over(const PeakPoints& p) const {
        double value = 0, variance = 0;
        for (const auto& [i, w] : weights_) {
            value += w * p.y[i];
            variance += w * w * p.sigma[i] * p.sigma[i];
        }
        return {value, std::sqrt(variance)};
    }
    double value(const PeakPoints& p) const { return over(p).value; }

private:
    std::map<std::size_t, double> weights_;
};

class Measurer {
public:
    Measurer(const PeakPoints& points, std::span<const PeakLimits> limits) : p_(points), limits_(limits) {}

    std::vector<MeasuredPeak> all() {
        for (const PeakLimits& l : limits_) peaks_.push_back({.low = l.low, .high = l.high});
        for (std::size_t k = 0; k < limits_.size(); ++k)
            if (limits_[k].ground == Ground::Tangent) skim(k);
        for (std::size_t k = 0; k < limits_.size(); ++k) {
            if (p_.x.size() < 3 || !(peaks_[k].high > peaks_[k].low)) continue;
            const Line ground = groundOf(k);
            take(k, ground);
        }
        return std::move(peaks_);
    }

private:
    // A line through two sums of readings.
    struct Line {
        double x0 = 0, x1 = 1;
        Sum y0, y1;
        double share(double x) const { return x1 > x0 ? (x - x0) / (x1 - x0) : 0; }
        double at(const PeakPoints& p, double x) const {
            return std::lerp(y0.value(p), y1.value(p), share(x));
        }
    };

    std::size_t nearest(double x) const {
        const auto at = static_cast<std::size_t>(std::ranges::lower_bound(p_.x, x) - p_.x.begin());
        if (at == 0) return 0;
        if (at == p_.x.size()) return at - 1;
        return x - p_.x[at - 1] < p_.x[at] - x ? at - 1 : at;
    }
    // The curve at x: the mean of the points around.
    Sum curveAt(double x) const {
        Sum out;
        const std::size_t middle = nearest(x), half = p_.ends / 2;
        const std::size_t from = middle > half ? middle - half : 0,
                          to = std::min(p_.x.size(), middle + half + 1);
        for (std::size_t i = from; i < to; ++i) out.add(i, 1.0 / static_cast<double>(to - from));
        return out;
    }
    Line chord(double low, double high) const { return {low, high, curveAt(low), curveAt(high)}; }

    // A skimmed peak stands on the straight line that touches the curve from below on both sides of its top:
    // the edge over the top of what bounds the curve from below. Noise is averaged as at limits.
    void skim(std::size_t k) {
        MeasuredPeak& m = peaks_[k];
        const std::size_t low = nearest(limits_[k].low), high = nearest(limits_[k].high);
        if (high < low + 2) return;
        std::vector<double> y;
        for (std::size_t i = low; i <= high; ++i) y.push_back(curveAt(p_.x[i]).value(p_));
        const double slope = (y.back() - y.front()) / (p_.x[high] - p_.x[low]);
        std::size_t top = low;
        for (std::size_t i = low; i <= high; ++i)
            if (y[i - low] - slope * p_.x[i] > y[top - low] - slope * p_.x[top]) top = i;
        std::vector<std::size_t> bound; // corners of what bounds it from below
        for (std::size_t i = low; i <= high; ++i) {
            const auto isAbove = [&](std::size_t a, std::size_t b) { // b over the line from a to i
                return (y[b - low] - y[a - low]) * (p_.x[i] - p_.x[a]) >=
                       (y[i - low] - y[a - low]) * (p_.x[b] - p_.x[a]);
            };
            while (bound.size() > 1 && isAbove(bound[bound.size() - 2], bound.back())) bound.pop_back();
            bound.push_back(i);
        }
        for (std::size_t i = 0; i + 1 < bound.size(); ++i)
            if (bound[i] <= top && bound[i + 1] >= top) {
                m.low = p_.x[bound[i]];
                m.high = p_.x[bound[i + 1]];
            }
    }

    bool touches(std::size_t a, std::size_t b) const {
        const double span = p_.x.back() - p_.x.front();
        return std::abs(limits_[a].high - limits_[b].low) <= kTouching * span;
    }
    Line groundOf(std::size_t k) const {
        if (limits_[k].ground == Ground::Zero) return {peaks_[k].low, peaks_[k].high, {}, {}};
        if (limits_[k].ground != Ground::Drop) return chord(peaks_[k].low, peaks_[k].high);
        std::size_t first = k, last = k;
        while (first > 0 && touches(first - 1, first)) --first;
        while (last + 1 < limits_.size() && touches(last, last + 1)) ++last;
        return chord(limits_[first].low, limits_[last].high);
    }

    // ∫ of the curve, and of the ground, from low to high: trapezoids, cut at the limits.
    Sum areaOver(const Line& ground, double low, double high) const {
        Sum out;
        for (std::size_t i = nearest(low) > 0 ? nearest(low) - 1 : 0; i + 1 < p_.x.size() && p_.x[i] < high;
             ++i) {
            const double a = std::max(low, p_.x[i]), b = std::min(high, p_.x[i + 1]),
                         wide = p_.x[i + 1] - p_.x[i];
            if (!(b > a) || !(wide > 0)) continue;
            const double middle = 0.5 * ((a - p_.x[i]) + (b - p_.x[i])) / wide;
            out.add(i, (b - a) * (1 - middle));
            out.add(i + 1, (b - a) * middle);
        }
        const double middle = ground.share(0.5 * (low + high));
        out.add(ground.y0, -(high - low) * (1 - middle));
        out.add(ground.y1, -(high - low) * middle);
        return out;
    }

    void take(std::size_t k, const Line& ground) {
        MeasuredPeak& m = peaks_[k];
        m.groundLow = ground.at(p_, m.low);
        m.groundHigh = ground.at(p_, m.high);
        const auto from = static_cast<std::size_t>(std::ranges::lower_bound(p_.x, m.low) - p_.x.begin());
        const auto to = static_cast<std::size_t>(std::ranges::upper_bound(p_.x, m.high) - p_.x.begin());
        if (to < from + 2) return;
        Sum area = areaOver(ground, m.low, m.high);
        // What a rider takes is not its neighbour's.
        if (limits_[k].ground != Ground::Tangent)
            for (std::size_t other : {k - 1, k + 1})
                if (other < limits_.size() && limits_[other].ground == Ground::Tangent)
                    addBelow(k, other, ground, area);
        m.area = area.over(p_);
        m.downwards = m.area.value < 0;
        std::vector<double> net;
        for (std::size_t i = from; i < to; ++i)
            net.push_back((m.downwards ? -1 : 1) * (p_.y[i] - m.groundAt(p_.x[i])));
        const auto top = static_cast<std::size_t>(std::ranges::max_element(net) - net.begin());
        takeTop(m, from, net, top, ground);
        takeWidths(m, from, net, top);
        takeCentroid(m, from, net);
    }

    // Between the limits of a rider all that is not its own is its larger neighbour's.
    void addBelow(std::size_t k, std::size_t rider, const Line& ground, Sum& area) const {
        const MeasuredPeak& r = peaks_[rider];
        if (!(rider > k ? touches(k, rider) : touches(rider, k)) || !(r.high > r.low)) return;
        if (!(heightOver(ground, limits_[k]) > heightOver(ground, limits_[rider]))) return;
        const bool alsoOther =
            rider > k ? rider + 1 < limits_.size() && touches(rider, rider + 1) &&
                            heightOver(ground, limits_[rider + 1]) > heightOver(ground, limits_[k])
                      : rider > 0 && touches(rider - 1, rider) &&
                            heightOver(ground, limits_[rider - 1]) >= heightOver(ground, limits_[k]);
        if (alsoOther) return; // it rides on the larger of the two
        area.add(areaOver(ground, limits_[rider].low, limits_[rider].high), 1);
        area.add(areaOver(chord(r.low, r.high), r.low, r.high), -1);
    }
    double heightOver(const Line& ground, const PeakLimits& l) const {
        double height = 0;
        for (std::size_t i = nearest(l.low); i <= nearest(l.high); ++i)
            height = std::max(height, std::abs(p_.y[i] - ground.at(p_, p_.x[i])));
        return height;
    }

    // A parabola by least squares through the logarithms of the points near the top: exact for a Gaussian.
    void takeTop(MeasuredPeak& m, std::size_t from, const std::vector<double>& net, std::size_t top,
                 const Line& ground) const {
        const double sign = m.downwards ? -1 : 1;
        const auto groundError = [&](double x) { // of the ground line there
            Sum g;
            g.add(ground.y0, 1 - ground.share(x));
            g.add(ground.y1, ground.share(x));
            return g.over(p_).se;
        };
        const double at = p_.x[from + top], sigma = p_.sigma[from + top];
        m.place = {at, NAN};
        m.height = {sign * net[top], std::hypot(sigma, groundError(at))};
        double left = sideOf(m, from, net, top, 0.5, -1), right = sideOf(m, from, net, top, 0.5, 1);
        if (std::isnan(left)) left = 2 * at - right; // cut at a valley: as the other side
        if (std::isnan(right)) right = 2 * at - left;
        if (!(right > left)) return;
        const double middle = 0.5 * (left + right), reach = kTop * (right - left);
        std::vector<std::size_t> near;
        for (std::size_t i = 0; i < net.size(); ++i)
            if (std::abs(p_.x[from + i] - middle) <= reach && net[i] > 0.3 * net[top]) near.push_back(i);
        if (near.size() < kFewTop) return;
        const auto n = static_cast<Eigen::Index>(near.size());
        Eigen::MatrixXd a(n, 3);
        Eigen::VectorXd b(n);
        for (Eigen::Index row = 0; row < n; ++row) {
            const std::size_t i = near[static_cast<std::size_t>(row)];
            const double u = (p_.x[from + i] - middle) / reach, s = p_.sigma[from + i];
            const double w =
                net[top] * (s > 0 ? 1 / s : 1); // the same for all: their noise would choose them
            a.row(row) << w, w * u, w * u * u;
            b[row] = w * std::log(net[i]);
        }
        const Eigen::ColPivHouseholderQR<Eigen::MatrixXd> qr(a);
        const Eigen::Vector3d c = qr.solve(b);
        if (qr.rank() < 3 || !(c[2] < 0)) return;
        const double u = -c[1] / (2 * c[2]);
        if (!(std::abs(u) < 1.5)) return;
        const Eigen::Matrix3d covariance = (a.transpose() * a).inverse();
        const bool known = sigma > 0;
        const Eigen::RowVector3d place(0, -1 / (2 * c[2]), c[1] / (2 * c[2] * c[2])), height(1, u, u * u);
        const auto error = [&](const Eigen::RowVector3d& row) {
            return known ? std::sqrt((row * covariance * row.transpose()).value()) : 0.0;
        };
        m.place = {middle + reach * u, reach * error(place)};
        const double h = std::exp(c[0] + c[1] * u + c[2] * u * u);
        m.height = {sign * h, std::hypot(h * error(height), groundError(m.place.value))};
    }

    // Where the net curve first falls to a share of the height, going out from the top; NaN: it does not.
    double sideOf(const MeasuredPeak& m, std::size_t from, const std::vector<double>& net, std::size_t top,
                  double share, int direction, double* slope = nullptr) const {
        const double level = share * std::abs(m.height.value);
        for (auto i = static_cast<std::ptrdiff_t>(top);; i += direction) {
            const std::ptrdiff_t next = i + direction;
            if (next < 0 || next >= std::ssize(net)) return NAN;
            const double a = net[static_cast<std::size_t>(i)], b = net[static_cast<std::size_t>(next)];
            if (!(a >= level && b < level)) continue;
            const double xa = p_.x[from + static_cast<std::size_t>(i)],
                         xb = p_.x[from + static_cast<std::size_t>(next)];
            if (slope) *slope = std::abs((a - b) / (xb - xa));
            return std::lerp(xa, xb, (a - level) / (a - b));
        }
    }
    void takeWidths(MeasuredPeak& m, std::size_t from, const std::vector<double>& net,
                    std::size_t top) const {
        double sl = 0, sr = 0;
        const double left = sideOf(m, from, net, top, 0.5, -1, &sl),
                     right = sideOf(m, from, net, top, 0.5, 1, &sr);
        // Each crossing moves with its point, both with the height.
        const double s = p_.sigma[from + top], h = 0.5 * m.height.se;
        m.width = {right - left, std::sqrt(s * s / (sl * sl) + s * s / (sr * sr) +
                                           h * h * (1 / sl + 1 / sr) * (1 / sl + 1 / sr))};
        const double front = sideOf(m, from, net, top, 0.05, -1), tail = sideOf(m, from, net, top, 0.05, 1);
        m.front = m.place.value - front;
        m.widthAtTwentieth = tail - front;
        const double a = m.place.value - sideOf(m, from, net, top, 0.1, -1),
                     b = sideOf(m, from, net, top, 0.1, 1) - m.place.value;
        m.asymmetry = b / a;
    }
    void takeCentroid(MeasuredPeak& m, std::size_t from, const std::vector<double>& net) const {
        double moment = 0, mass = 0;
        for (std::size_t i = 0; i + 1 < net.size(); ++i) {
            const double wide = p_.x[from + i + 1] - p_.x[from + i];
            mass += 0.5 * wide * (net[i] + net[i + 1]);
            moment += 0.5 * wide * (net[i] * p_.x[from + i] + net[i + 1] * p_.x[from + i + 1]);
        }
        m.centroid.value = moment / mass;
        double variance = 0;
        for (std::size_t i = 0; i < net.size(); ++i) {
            const double before = i > 0 ? p_.x[from + i] - p_.x[from + i - 1] : 0;
            const double after = i + 1 < net.size() ? p_.x[from + i + 1] - p_.x[from + i] : 0;
            const double w = 0.5 * (before + after) * (p_.x[from + i] - m.centroid.value) / mass;
            variance += w * w * p_.sigma[from + i] * p_.sigma[from + i];
        }
        m.centroid.se = std::sqrt(variance);
    }

    const PeakPoints& p_;
    std::span<const PeakLimits> limits_;
    std::vector<MeasuredPeak> peaks_;
};

} // namespace

std::vector<MeasuredPeak> measure(const PeakPoints& points, std::span<const PeakLimits> limits) {
    return Measurer(points, limits).all();
}

std::vector<PeakLimits> limitsAround(const PeakPoints& points,
                                     std::span<const std::pair<double, double>> peaks, Ground ground) {
    const std::vector<double>& x = points.x;
    // The lowest place of a smoothed curve between two x: noise makes no valley.
    const auto lowest = [&](double from, double to, double width) {
        const double half = 0.15 * width;
        double at = from, least = INFINITY;
        const auto begin = static_cast<std::size_t>(std::ranges::lower_bound(x, from) - x.begin());
        for (std::size_t i = begin; i < x.size() && x[i] <= to; ++i) {
            double sum = 0, n = 0;
            for (std::size_t k = i; k < x.size() && x[k] <= x[i] + half; ++k) sum += points.y[k], ++n;
            for (std::size_t k = i; k-- > 0 && x[k] >= x[i] - half;) sum += points.y[k], ++n;
            if (sum / n < least) {
                least = sum / n;
                at = x[i];
            }
        }
        return at;
    };
    std::vector<PeakLimits> out;
    for (std::size_t k = 0; k < peaks.size(); ++k) {
        const auto& [place, width] = peaks[k];
        const double first = x.empty() ? place : x.front(), last = x.empty() ? place : x.back();
        PeakLimits l{std::max(first, place - kFoot * width), std::min(last, place + kFoot * width), ground};
        if (k > 0 && out.back().high > l.low) {
            const double valley = lowest(peaks[k - 1].first, place, std::min(width, peaks[k - 1].second));
            out.back().high = l.low = valley;
        }
        out.push_back(l);
    }
    return out;
}

} // namespace jointer::analyses
