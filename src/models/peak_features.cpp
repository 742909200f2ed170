// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/peak_features.h"

#include <algorithm>
#include <cmath>

namespace jointer::models {

namespace {

// The model at single places.
class Profile {
public:
    Profile(const Model& model, std::span<const double> p) : model_(model), p_(p) {}

    double at(double x) const {
        double y = 0;
        const std::span<const double> column(&x, 1);
        model_.evaluate({&column, 1}, p_, {&y, 1});
        return y;
    }
    std::vector<double> slopes(double x) const { // over the parameters
        double y = 0;
        std::vector<double> g(p_.size());
        const std::span<const double> column(&x, 1);
        model_.evaluate({&column, 1}, p_, {&y, 1}, g);
        return g;
    }

private:
    const Model& model_;
    std::span<const double> p_;
};

// Golden section on the peak turned upwards.
double highest(const Profile& f, double low, double high, double sign) {
    constexpr double kGolden = 0.6180339887498949;
    // A coarse look first: the section finds the only one of its interval.
    double best = low;
    constexpr int kLooks = 80;
    for (int i = 0; i <= kLooks; ++i)
        if (const double x = std::lerp(low, high, static_cast<double>(i) / kLooks);
            sign * f.at(x) > sign * f.at(best))
            best = x;
    const double step = (high - low) / kLooks;
    double a = std::max(low, best - step), b = std::min(high, best + step);
    double c = b - kGolden * (b - a), d = a + kGolden * (b - a);
    double fc = sign * f.at(c), fd = sign * f.at(d);
    for (int i = 0; i < 60 && b - a > 1e-7 * step; ++i) {
        if (fc > fd) {
            b = d, d = c, fd = fc;
            c = b - kGolden * (b - a), fc = sign * f.at(c);
        } else {
            a = c, c = d, fc = fd;
            d = a + kGolden * (b - a), fd = sign * f.at(d);
        }
    }
    return 0.5 * (a + b);
}

double slopeAt(const Profile& f, double x, double h) {
    return (f.at(x - 2 * h) - 8 * f.at(x - h) + 8 * f.at(x + h) - f.at(x + 2 * h)) / (12 * h);
}

double bendAt(const Profile& f, double x, double h) {
    return (-f.at(x - 2 * h) + 16 * f.at(x - h) - 30 * f.at(x) + 16 * f.at(x + h) - f.at(x + 2 * h)) /
           (12 * h * h);
}

// By the zero of the slope, which is sharper than the maximum itself.
double polished(const Profile& f, double x, double h) {
    for (int i = 0; i < 8; ++i) {
        const double step = slopeAt(f, x, h) / bendAt(f, x, h);
        if (!(std::abs(step) <= 4 * h)) break;
        x -= step;
        if (std::abs(step) < 1e-14 * std::abs(x)) break;
    }
    return x;
}

// Where the profile falls to `level` on one side of the maximum; NaN: nowhere.
double crossing(const Profile& f, double from, double step, double level, double sign) {
    double inner = from, outer = from + step;
    for (int i = 0; sign * f.at(outer) > sign * level; ++i) {
        if (i > 60) return std::nan("");
        inner = outer;
        step *= 1.5;
        outer += step;
    }
    for (int i = 0; i < 100 && std::abs(outer - inner) > 1e-15 * std::abs(outer); ++i) {
        const double middle = 0.5 * (inner + outer);
        (sign * f.at(middle) > sign * level ? inner : outer) = middle;
    }
    return 0.5 * (inner + outer);
}

} // namespace

double peakFeature(const Model& model, std::span<const double> p, Feature feature, double near, double reach,
                   std::span<double> gradient) {
    const Profile f(model, p);
    std::ranges::fill(gradient, 0);
    const double sign = f.at(near) < 0 ? -1 : 1, h = 2e-3 * reach;
    const double place = polished(f, highest(f, near - reach, near + reach, sign), h);
    const double height = f.at(place);
    const std::vector<double> atTop = f.slopes(place);
    if (feature == Feature::Height) {
        std::ranges::copy(atTop, gradient.begin()); // the place does not matter: the slope is zero there
        return height;
    }
    if (feature == Feature::Place) { // ∂f/∂x = 0 stays so: dx/dp = −f_xp/f_xx
        const std::vector<double> far[] = {f.slopes(place - 2 * h), f.slopes(place - h), f.slopes(place + h),
                                           f.slopes(place + 2 * h)};
        const double bend = bendAt(f, place, h);
        for (std::size_t k = 0; k < p.size(); ++k)
            gradient[k] = -(far[0][k] - 8 * far[1][k] + 8 * far[2][k] - far[3][k]) / (12 * h) / bend;
        return place;
    }
    double ends[2];
    for (int side = 0; side < 2; ++side) {
        const double direction = side == 0 ? -1 : 1;
        const double x = ends[side] = crossing(f, place, direction * 0.1 * reach, height / 2, sign);
        if (std::isnan(x)) return x;
        const std::vector<double> there = f.slopes(x);
        const double slope = slopeAt(f, x, h);
        for (std::size_t k = 0; k < p.size(); ++k) // f = f(top)/2 stays so
            gradient[k] += direction * (atTop[k] / 2 - there[k]) / slope;
    }
    return ends[1] - ends[0];
}

} // namespace jointer::models
