// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/peak_features.h"

#include "formula/program.h"
#include "numerics/quadrature.h"

#include <algorithm>
#include <boost/math/tools/toms748_solve.hpp>
#include <cmath>
#include <cstdint>

namespace jointer::models {

namespace {

// Differences over seven places at −3h … 3h, times 60h: the first derivative to h⁶.
constexpr double kFirst[] = {-1, 9, -45, 0, 45, -9, 1};

} // namespace

// The shape at some places: values, and the gradient, place after place within each parameter.
struct PeakReading::Places {
    Places(const PeakReading& of, std::span<const double> x, bool slopes) : n(x.size()), y(n) {
        if (slopes) g.resize(n * of.p_.size());
        of.shape_.evaluate({&x, 1}, of.p_, y, g);
    }
    double slopeBy(std::size_t parameter, std::size_t place) const { return g[parameter * n + place]; }

    std::size_t n;
    std::vector<double> y, g;
};

PeakReading::PeakReading(const Model& shape, const PeakTraits& traits, std::span<const double> p)
    : shape_(shape), traits_(traits), p_(p) {
    for (std::size_t k : traits.widths) reach_ += std::abs(p[k]);
    reach_ *= 2;
    const double centre = p[traits.centre];
    sign_ = Places(*this, {&centre, 1}, false).y[0] < 0 ? -1 : 1;
    place_ = !(reach_ > 0) ? std::nan("") : traits.topAtCentre ? centre : highest();
}

// By x: exactly where the shape moves with its centre.
double PeakReading::slope(double x) const {
    if (traits_.moves) return -Places(*this, {&x, 1}, true).slopeBy(traits_.centre, 0);
    const double h = slopeStep();
    double at[7], sum = 0;
    for (int k = 0; k < 7; ++k) at[k] = x + (k - 3) * h;
    const Places f(*this, at, false);
    for (std::size_t k = 0; k < 7; ++k) sum += kFirst[k] * f.y[k];
    return sum / (60 * h);
}

// The place of the largest of many, and again between its neighbours; then by the zero of the slope, which is
// sharper than the maximum itself.
double PeakReading::highest() const {
    constexpr int kLooks = 80;
    const double centre = p_[traits_.centre];
    double low = centre - reach_, high = centre + reach_, best = centre;
    for (int round = 0; round < 3; ++round) {
        double x[kLooks + 1];
        for (int i = 0; i <= kLooks; ++i) x[i] = std::lerp(low, high, static_cast<double>(i) / kLooks);
        const Places f(*this, x, false);
        int top = 0;
        for (int i = 1; i <= kLooks; ++i)
            if (sign_ * f.y[static_cast<std::size_t>(i)] > sign_ * f.y[static_cast<std::size_t>(top)])
                top = i;
        best = x[top];
        low = x[std::max(top - 1, 0)];
        high = x[std::min(top + 1, kLooks)];
    }
    const double h = slopeStep();
    for (int i = 0; i < 12; ++i) {
        const double bend = (slope(best + h) - slope(best - h)) / (2 * h);
        const double step = slope(best) / bend;
        if (!(std::abs(step) <= 4 * h)) break;
        best -= step;
        if (std::abs(step) < 1e-15 * (std::abs(best) + reach_)) break;
    }
    return best;
}

PeakNumber PeakReading::parameter(std::size_t which) const {
    PeakNumber out{p_[which], std::vector<double>(p_.size(), 0.0)};
    out.gradient[which] = 1;
    return out;
}

PeakNumber PeakReading::maximum() const {
    if (traits_.topAtCentre) return parameter(traits_.centre);
    PeakNumber out{place_, std::vector<double>(p_.size(), 0.0)};
    if (std::isnan(place_)) return out;
    // ∂f/∂x = 0 stays so: dx/dp = −f_xp/f_xx
    const double h = slopeStep();
    double at[7];
    for (int k = 0; k < 7; ++k) at[k] = place_ + (k - 3) * h;
    const Places f(*this, at, true);
    const auto along = [&](const auto& values) {
        double sum = 0;
        for (std::size_t k = 0; k < 7; ++k) sum += kFirst[k] * values(k);
        return sum / (60 * h);
    };
    const double bend = along([&](std::size_t k) { return slope(at[k]); });
    for (std::size_t q = 0; q < p_.size(); ++q)
        out.gradient[q] = -along([&](std::size_t k) { return f.slopeBy(q, k); }) / bend;
    return out;
}

std::optional<std::size_t> PeakReading::called(std::string_view name) const {
    const auto& all = shape_.parameters();
    const auto at = std::ranges::find(all, name, &ParameterInfo::name);
    return at == all.end() ? std::nullopt : std::optional(static_cast<std::size_t>(at - all.begin()));
}

PeakNumber PeakReading::height() const {
    if (const auto own = called("height"); own && traits_.topAtCentre) return parameter(*own);
    const Places f(*this, {&place_, 1}, true);
    return {f.y[0], f.g}; // the place does not matter: the slope is zero there
}

PeakNumber PeakReading::side(double share, int direction) const {
    PeakNumber out{std::nan(""), std::vector<double>(p_.size(), std::nan(""))};
    const PeakNumber top = height();
    if (!(std::abs(top.value) > 0)) return out;
    const double level = share * top.value;
    const auto above = [&](double x) { return sign_ * (Places(*this, {&x, 1}, false).y[0] - level); };
    double step = direction * 0.05 * reach_, inner = place_, outer = place_ + step, a = above(inner),
           b = above(outer);
    for (int i = 0; b > 0; ++i) {
        if (i > 60) return out;
        inner = outer, a = b;
        step *= 1.5;
        outer += step;
        b = above(outer);
    }
    if (!(a > 0) || !std::isfinite(b)) return out;
    double x = outer;
    if (b != 0) {
        std::uintmax_t most = 100;
        const bool turned = outer < inner;
        const auto [low, high] = boost::math::tools::toms748_solve(
            above, turned ? outer : inner, turned ? inner : outer, turned ? b : a, turned ? a : b,
            boost::math::tools::eps_tolerance<double>(50), most);
        x = 0.5 * (low + high);
    }
    out.value = x;
    const Places f(*this, {&x, 1}, true);
    const double falls = slope(x);
    for (std::size_t q = 0; q < p_.size(); ++q) // f = share·f(top) stays so
        out.gradient[q] = (share * top.gradient[q] - f.slopeBy(q, 0)) / falls;
    return out;
}

PeakNumber PeakReading::width(double share) const {
    if (const auto own = called("fwhm"); own && traits_.topAtCentre && share == 0.5) return parameter(*own);
    PeakNumber right = side(share, 1);
    const PeakNumber left = side(share, -1);
    right.value -= left.value;
    for (std::size_t q = 0; q < p_.size(); ++q) right.gradient[q] -= left.gradient[q];
    return right;
}

PeakNumber PeakReading::asymmetry(double share) const {
    const PeakNumber right = side(share, 1), left = side(share, -1), top = maximum();
    const double a = top.value - left.value, b = right.value - top.value;
    PeakNumber out{b / a, std::vector<double>(p_.size(), 0.0)};
    for (std::size_t q = 0; q < p_.size(); ++q)
        out.gradient[q] =
            ((right.gradient[q] - top.gradient[q]) - out.value * (top.gradient[q] - left.gradient[q])) / a;
    return out;
}

PeakNumber PeakReading::area() const {
    if (const auto own = called("area"); own && traits_.hasArea) return parameter(*own);
    PeakNumber out{std::nan(""), std::vector<double>(p_.size(), std::nan(""))};
    const auto derived = std::ranges::find(shape_.derived(), "area", &DerivedInfo::name);
    if (!traits_.hasArea || derived == shape_.derived().end()) return out;
    std::vector<std::string> names;
    for (const ParameterInfo& p : shape_.parameters()) names.push_back(p.name);
    const auto tree = formula::Expression::parse(derived->formula);
    const auto program = tree ? formula::Program::compile(*tree, {}, names)
                              : Result<formula::Program>(std::unexpected(tree.error()));
    if (!program) return out;
    program->evaluate({}, p_, {&out.value, 1}, out.gradient);
    return out;
}

// ∫ factor(x)·shape over a range: the integrand varies within a width or so about the centre, and slowly
// elsewhere.
PeakNumber PeakReading::integrated(double low, double high,
                                   const std::function<double(double)>& factor) const {
    PeakNumber out{0, std::vector<double>(p_.size(), 0.0)};
    const auto f = [&](std::span<const double> x, std::span<double> y, std::span<double> g) {
        shape_.evaluate({&x, 1}, p_, y, g);
        for (std::size_t i = 0; i < x.size(); ++i) {
            const double by = factor(x[i]);
            y[i] *= by;
            for (std::size_t k = i; k < g.size(); k += x.size()) g[k] *= by;
        }
    };
    double from = low;
    for (const double to : {place_ - reach_, place_ + reach_, high}) {
        const double end = std::clamp(to, low, high);
        if (end > from) out.value += numerics::integral(f, from, end, out.gradient, 8);
        from = std::max(from, end);
    }
    return out;
}

PeakNumber PeakReading::areaWithin(double low, double high) const {
    return integrated(low, high, [](double) { return 1.0; });
}

PeakNumber PeakReading::centroidWithin(double low, double high) const {
    const PeakNumber moment = integrated(low, high, [&](double x) { return x - place_; }),
                     area = areaWithin(low, high);
    PeakNumber out{place_ + moment.value / area.value, std::vector<double>(p_.size())};
    for (std::size_t q = 0; q < p_.size(); ++q) // the place that is subtracted stays as it is
        out.gradient[q] = (moment.gradient[q] - moment.value / area.value * area.gradient[q]) / area.value;
    return out;
}

} // namespace jointer::models
