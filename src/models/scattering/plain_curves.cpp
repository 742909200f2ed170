// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/plain_curves.h"

#include "models/scattering/amplitudes.h"
#include "models/scattering/starts.h"

#include <algorithm>
#include <fmt/format.h>
#include <numbers>

namespace jointer::models::scattering {

namespace {

const ParameterInfo kForward{"forward", "intensity at q = 0", "y"};
const ParameterInfo kGyration{"rg", "radius of gyration", "1/x", 0};

// A curve from a formula over any numbers; the first parameter is its amount.
template <class Kind> class PlainCurve final : public BareCurve {
    static constexpr std::size_t N = Kind::size;
    using Duals = std::array<Dual<N>, N>;

public:
    explicit PlainCurve(Kind kind = {}) : kind_(std::move(kind)), parameters_(kind_.parameters()) {}

    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return kind_.derived(); }
    std::string formula() const override { return kind_.formula(); }

    void evaluate(std::span<const double> q, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const std::size_t n = q.size();
        if (gradient.empty()) {
            std::array<double, N> plain;
            std::copy_n(p.begin(), N, plain.begin());
            for (std::size_t i = 0; i < n; ++i) values[i] = kind_.value(q[i], plain);
            return;
        }
        Duals duals;
        for (std::size_t k = 0; k < N; ++k) duals[k] = Dual<N>::variable(p[k], k);
        for (std::size_t i = 0; i < n; ++i) {
            const Dual<N> at = kind_.value(q[i], duals);
            values[i] = at.value;
            for (std::size_t k = 0; k < N; ++k) gradient[k * n + i] = at.slope[k];
        }
    }

    double reach(std::span<const double> p) const override { return kind_.reach(p); }
    std::optional<double> feature(std::span<const double> p) const override { return kind_.feature(p); }
    bool isSingularAtZero() const override { return kind_.isSingular(); }
    std::vector<double> breaks(std::span<const double> p) const override { return kind_.breaks(p); }

    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        const SeenPoints points = seenPoints(curve);
        if (points.size() == 0) return {};
        AmountFound found{};
        std::vector<double> p(N, 1.0);
        const auto best = scanned(
            points, kind_.scans(points),
            [&](std::span<const double> at, std::span<double> shape) {
                kind_.place(at, p);
                evaluate(points.q, p, shape, {});
                return true;
            },
            found);
        if (best.empty()) return {};
        kind_.place(best, p);
        p[kind_.amountAt()] = found.amount;
        p.push_back(found.background);
        return p;
    }

private:
    Kind kind_;
    std::vector<ParameterInfo> parameters_;
};

// What most of them have in common.
struct Plain {
    static const std::vector<DerivedInfo>& derived() {
        static const std::vector<DerivedInfo> none;
        return none;
    }
    static std::optional<double> feature(std::span<const double>) { return {}; }
    static bool isSingular() { return false; }
    static std::vector<double> breaks(std::span<const double>) { return {}; }
    static std::size_t amountAt() { return 0; }
    static void place(std::span<const double> at, std::vector<double>& p) {
        std::ranges::copy(at, p.begin() + 1);
    }
    // A length that the range of q can see.
    static Scan lengths(const SeenPoints& points) {
        return {0.3 / points.q.back(), 4 / points.q.front(), 40};
    }
};

struct Guinier : Plain {
    static constexpr std::size_t size = 2;
    static std::vector<ParameterInfo> parameters() { return {kForward, kGyration}; }
    static const std::vector<DerivedInfo>& derived() {
        static const std::vector<DerivedInfo> all = {{"sphere_radius", "sqrt(5/3)*rg", "1/x"}};
        return all;
    }
    static std::string formula() { return "forward*exp(-(q*rg)^2/3)"; }
    template <class T> static T value(double q, const std::array<T, size>& p) {
        return p[0] * exponential(-squared(T(q) * p[1]) / T(3.0));
    }
    static double reach(std::span<const double> p) { return p[1]; }
    static std::vector<Scan> scans(const SeenPoints& points) { return {lengths(points)}; }
};

struct Chain : Plain {
    static constexpr std::size_t size = 2;
    static std::vector<ParameterInfo> parameters() { return {kForward, kGyration}; }
    static std::string formula() { return "forward*2*(exp(-u) + u - 1)/u^2, u = (q*rg)^2"; }
    template <class T> static T value(double q, const std::array<T, size>& p) {
        const T u = squared(T(q) * p[1]);
        if (valueOf(u) > 0.3) return p[0] * T(2.0) * (exponential(-u) + u - T(1.0)) / (u * u);
        T sum(0.0), term(1.0); // 2·Σ (−u)ᵏ/(k + 2)!
        for (int k = 0; k < 14; ++k) {
            sum += term;
            term *= -u / T(k + 3.0);
        }
        return p[0] * sum;
    }
    static double reach(std::span<const double> p) { return p[1]; }
    static std::vector<Scan> scans(const SeenPoints& points) { return {lengths(points)}; }
};

struct PowerLaw : Plain {
    static constexpr std::size_t size = 2;
    static std::vector<ParameterInfo> parameters() {
        return {{"scale", "intensity at q = 1", "y", 0},
                {"exponent", "4: sharp surfaces; 1 … 3: fractal masses, 3 … 4: fractal surfaces", "", 0, 8}};
    }
    static std::string formula() { return "scale*q^(-exponent)"; }
    template <class T> static T value(double q, const std::array<T, size>& p) {
        return p[0] * exponential(-p[1] * T(std::log(q)));
    }
    static double reach(std::span<const double>) { return 0; }
    static bool isSingular() { return true; }
    static std::vector<Scan> scans(const SeenPoints&) { return {{0.5, 6, 30}}; }
};

struct Correlation : Plain {
    static constexpr std::size_t size = 3;
    static std::vector<ParameterInfo> parameters() {
        return {kForward,
                {"correlation_length", "over which the density is alike", "1/x", 0},
                {.name = "exponent",
                 .meaning = "of the fall at large q",
                 .unit = "",
                 .lowest = 0.5,
                 .highest = 8,
                 .tie = "2"}};
    }
    static std::string formula() { return "forward/(1 + (q*correlation_length)^exponent)"; }
    template <class T> static T value(double q, const std::array<T, size>& p) {
        if (q == 0) return p[0];
        return p[0] / (T(1.0) + power(T(q) * p[1], p[2]));
    }
    static double reach(std::span<const double>) { return 0; }
    static std::optional<double> feature(std::span<const double> p) { return p[1]; }
    static std::vector<Scan> scans(const SeenPoints& points) { return {lengths(points)}; }
    static void place(std::span<const double> at, std::vector<double>& p) { p[1] = at[0], p[2] = 2; }
};

struct GuinierPorod : Plain {
    static constexpr std::size_t size = 4;
    static std::vector<ParameterInfo> parameters() {
        return {{"scale", "Guinier's factor; at dimension 0 the intensity at q = 0", "y", 0},
                kGyration,
                {"exponent", "of the power law at large q", "", 1, 8},
                {.name = "dimension",
                 .meaning = "0: compact, 1: rods, 2: sheets",
                 .unit = "",
                 .lowest = 0,
                 .highest = 2.9,
                 .tie = "0"}};
    }
    static std::string formula() {
        return "scale/q^s*exp(-(q*rg)^2/(3 - s)) below q1, power law above; s = dimension";
    }
    template <class T> static T meeting(const std::array<T, size>& p) {
        return root((p[2] - p[3]) * (T(3.0) - p[3]) / T(2.0)) / p[1];
    }
    template <class T> static T value(double q, const std::array<T, size>& p) {
        const T& s = p[3];
        const T less = T(3.0) - s;
        const auto below = [&](const T& at) {
            const T fall = exponential(-squared(at * p[1]) / less);
            if (valueOf(at) == 0) return p[0] * fall;
            return p[0] * fall * power(at, -s);
        };
        if (!(valueOf(p[2]) > valueOf(s))) return T(std::nan(""));
        const T at = meeting(p);
        if (q <= valueOf(at)) return below(T(q));
        return below(at) * power(at / T(q), p[2]);
    }
    static double reach(std::span<const double> p) { return p[1]; }
    static bool isSingular() { return true; }
    static std::optional<double> feature(std::span<const double>) { return {}; }
    static std::vector<double> breaks(std::span<const double> p) {
        if (!(p[2] > p[3]) || !(p[1] > 0)) return {};
        std::array<double, size> all;
        std::copy_n(p.begin(), size, all.begin());
        return {meeting(all)};
    }
    static std::vector<Scan> scans(const SeenPoints& points) { return {lengths(points), {1.5, 5, 10}}; }
    static void place(std::span<const double> at, std::vector<double>& p) {
        p[1] = at[0], p[2] = at[1], p[3] = 0;
    }
};

struct Layer : Plain {
    static constexpr std::size_t size = 3;
    std::optional<double> contrast{};
    double units = 1;

    std::vector<ParameterInfo> parameters() const {
        ParameterInfo amount{"volume_fraction", "share of the volume that the layers take", "", 0, 1};
        ParameterInfo against{"contrast", "scattering length density less that of the medium", "=1/Å^2"};
        if (contrast)
            against.tie = fmt::format("{}", *contrast);
        else {
            amount = {"scale", "volume fraction times squared contrast, in units of I per volume", "", 0};
            against.unit = "";
            against.tie = "1";
        }
        return {amount, {"thickness", "of the layers", "1/x", 0}, against};
    }
    static std::string formula() {
        return "volume_fraction*contrast^2*2*pi*thickness*(sin(q*thickness/2)/(q*thickness/2))^2/q^2";
    }
    template <class T> T value(double q, const std::array<T, size>& p) const {
        return p[0] * squared(p[2]) * T(2 * std::numbers::pi * units / (q * q)) * p[1] *
               squared(sincOf(T(0.5 * q) * p[1]));
    }
    static double reach(std::span<const double> p) { return 0.5 * p[1]; }
    static bool isSingular() { return true; }
    static std::vector<Scan> scans(const SeenPoints& points) { return {lengths(points)}; }
    void place(std::span<const double> at, std::vector<double>& p) const {
        p[0] = 1, p[1] = at[0], p[2] = contrast.value_or(1);
    }
};

} // namespace

BarePtr guinierCurve() {
    return std::make_shared<PlainCurve<Guinier>>();
}
BarePtr guinierPorodCurve() {
    return std::make_shared<PlainCurve<GuinierPorod>>();
}
BarePtr powerLawCurve() {
    return std::make_shared<PlainCurve<PowerLaw>>();
}
BarePtr correlationCurve() {
    return std::make_shared<PlainCurve<Correlation>>();
}
BarePtr chainCurve() {
    return std::make_shared<PlainCurve<Chain>>();
}

BarePtr layerCurve(std::optional<double> contrast, double lengthUnit) {
    Layer layer;
    layer.contrast = contrast;
    layer.units = contrast ? 1e8 * lengthUnit * lengthUnit * lengthUnit : 1;
    return std::make_shared<PlainCurve<Layer>>(layer);
}

} // namespace jointer::models::scattering
