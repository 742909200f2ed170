// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/peak_features.h"

#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <cstdint>

namespace jointer::models {

namespace {

// The model at some places.
class Profile {
public:
    Profile(const Model& model, std::span<const double> p) : model_(model), p_(p) {}

    void at(std::span<const double> x, std::span<double> y) const { model_.evaluate({&x, 1}, p_, y); }
    double at(double x) const {
        double y = 0;
        at({&x, 1}, {&y, 1});
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

// The place of the largest of many, and again between its neighbours, of the peak turned upwards.
double highest(const Profile& f, double low, double high, double sign) {
    constexpr int kLooks = 80;
    double best = low;
    for (int round = 0; round < 3; ++round) {
        double x[kLooks + 1], y[kLooks + 1];
        for (int i = 0; i <= kLooks; ++i) x[i] = std::lerp(low, high, static_cast<double>(i) / kLooks);
        f.at(x, y);
        int top = 0;
        for (int i = 1; i <= kLooks; ++i)
            if (sign * y[i] > sign * y[top]) top = i;
        best = x[top];
        low = x[std::max(top - 1, 0)];
        high = x[std::min(top + 1, kLooks)];
    }
    return best;
}

// Slope and bend by x, from five places.
struct Shape {
    double slope, bend;
};
Shape shapeAt(const Profile& f, double x, double h) {
    const double places[5] = {x - 2 * h, x - h, x, x + h, x + 2 * h};
    double y[5];
    f.at(places, y);
    return {(y[0] - 8 * y[1] + 8 * y[3] - y[4]) / (12 * h),
            (-y[0] + 16 * y[1] - 30 * y[2] + 16 * y[3] - y[4]) / (12 * h * h)};
}

// By the zero of the slope, which is sharper than the maximum itself.
double polished(const Profile& f, double x, double h) {
    for (int i = 0; i < 8; ++i) {
        const Shape shape = shapeAt(f, x, h);
        const double step = shape.slope / shape.bend;
        if (!(std::abs(step) <= 4 * h)) break;
        x -= step;
        if (std::abs(step) < 1e-14 * std::abs(x)) break;
    }
    return x;
}

// Where the profile falls to `level` on one side of the maximum; NaN: nowhere.
double crossing(const Profile& f, double from, double step, double level, double sign) {
    auto above = [&](double x) { return sign * (f.at(x) - level); };
    double inner = from, outer = from + step, a = above(inner), b = above(outer);
    for (int i = 0; b > 0; ++i) {
        if (i > 60) return std::nan("");
        inner = outer, a = b;
        step *= 1.5;
        outer += step;
        b = above(outer);
    }
    if (!(a > 0) || !std::isfinite(b)) return std::nan("");
    if (b == 0) return outer;
    std::uintmax_t most = 100;
    const bool turned = outer < inner;
    const auto [low, high] = boost::math::tools::toms748_solve(
        above, turned ? outer : inner, turned ? inner : outer, turned ? b : a, turned ? a : b,
        boost::math::tools::eps_tolerance<double>(50), most);
    return 0.5 * (low + high);
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
        const double bend = shapeAt(f, place, h).bend;
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
        const double slope = shapeAt(f, x, h).slope;
        for (std::size_t k = 0; k < p.size(); ++k) // f = f(top)/2 stays so
            gradient[k] += direction * (atTop[k] / 2 - there[k]) / slope;
    }
    return ends[1] - ends[0];
}

} // namespace jointer::models
