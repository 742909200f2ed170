// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/forms.h"

#include "models/scattering/amplitudes.h"
#include "numerics/gauss_legendre.h"

#include <algorithm>
#include <map>
#include <mutex>
#include <numbers>

namespace jointer::models::scattering {

namespace {

constexpr double kPi = std::numbers::pi;
constexpr double kMostPhase = 2e4; // that orientations resolve

template <class T> struct Pair { T mean, square; };
template <class T> Pair<T> ofOneOrientation(const T& amplitude) {
    return {amplitude, amplitude * amplitude};
}

template <class T> T sphereVolume(const T& radius) {
    return T(4 * kPi / 3) * cubed(radius);
}
template <class T> T sphereAmplitude(double q, const T& radius) {
    return sphereVolume(radius) * sphereShapeOf(T(q) * radius);
}

// The angle between the axis and q, over a quarter of a turn; weights hold its sine.
struct Orientations {
    std::vector<double> sine, cosine, weight;
};

// As many nodes as an integrand needs that turns by `phase` over the quarter turn.
const Orientations& orientationsFor(double phase) {
    const double needed = 18 + 0.3 * (phase < kMostPhase ? phase : kMostPhase);
    std::size_t count = 20;
    while (static_cast<double>(count) < needed) count += count / 4;
    static std::mutex guard;
    static std::map<std::size_t, Orientations> kept;
    const std::scoped_lock lock(guard);
    Orientations& o = kept[count];
    if (!o.sine.empty()) return o;
    const numerics::QuadratureRule& rule = numerics::gaussLegendre(count);
    for (std::size_t k = 0; k < count; ++k) {
        const double angle = kPi / 4 * (1 + rule.nodes[k]);
        o.sine.push_back(std::sin(angle));
        o.cosine.push_back(std::cos(angle));
        o.weight.push_back(kPi / 4 * rule.weights[k] * std::sin(angle));
    }
    return o;
}

// Averages an amplitude over orientations. `reach`: as of the form.
template <class T, class Amplitude> Pair<T> averaged(double q, double reach, Amplitude amplitude) {
    const Orientations& o = orientationsFor(kPi * std::abs(q) * reach);
    Pair<T> sum{T(0.0), T(0.0)};
    for (std::size_t k = 0; k < o.sine.size(); ++k) {
        const T f = amplitude(o.sine[k], o.cosine[k]);
        const T weighted = T(o.weight[k]) * f;
        sum.mean += weighted;
        sum.square += weighted * f;
    }
    return sum;
}

struct Sphere {
    static constexpr std::size_t size = 2;
    static std::vector<FormParameter> parameters() {
        return {{"radius", "of the spheres", FormQuantity::Radius},
                {"contrast", "scattering length density less that of the medium", FormQuantity::Contrast}};
    }
    static std::string formula() { return "contrast*V*3*(sin(q*R) - q*R*cos(q*R))/(q*R)^3"; }
    template <class T> static Pair<T> moments(double q, const std::array<T, size>& p) {
        return ofOneOrientation(p[1] * sphereAmplitude(q, p[0]));
    }
    template <class T> static T volume(const std::array<T, size>& p) { return sphereVolume(p[0]); }
    template <class T> static T interactionRadius(const std::array<T, size>& p) { return p[0]; }
    template <class T> static double reach(const std::array<T, size>& p) { return valueOf(p[0]); }
};

// Radius of the core, thicknesses of the shells from within, contrasts of core and shells against the medium.
// Where `OnCore`, those of the shells are told against the core: the same whatever the medium is.
template <std::size_t Shells, bool OnCore> struct CoreShell {
    static constexpr std::size_t size = 2 * Shells + 2;
    static std::string numbered(const char* name, std::size_t k) {
        return Shells == 1 ? name : name + std::to_string(k + 1);
    }
    static std::vector<FormParameter> parameters() {
        std::vector<FormParameter> all = {{"radius", "of the core", FormQuantity::Radius}};
        for (std::size_t k = 0; k < Shells; ++k)
            all.push_back(
                {numbered("thickness", k),
                 Shells == 1 ? "of the shell" : "of shell " + std::to_string(k + 1) + " from within",
                 FormQuantity::Length, 0.2});
        all.push_back({"contrast", "of the core against the medium", FormQuantity::Contrast});
        for (std::size_t k = 0; k < Shells; ++k)
            all.push_back({numbered("contrast_shell", k),
                           OnCore ? "of the shell against the core" : "of the shell against the medium",
                           FormQuantity::Contrast, 0.5});
        return all;
    }
    static std::string formula() {
        return "sum over surfaces of (contrast step)*V*3*(sin(q*r) - q*r*cos(q*r))/(q*r)^3";
    }
    template <class T> static Pair<T> moments(double q, const std::array<T, size>& p) {
        T radius = p[0], amplitude(0.0);
        for (std::size_t k = 0; k <= Shells; ++k) {
            T step = contrastOf(p, k);
            if (k < Shells) step -= contrastOf(p, k + 1);
            amplitude += step * sphereAmplitude(q, radius);
            if (k < Shells) radius += p[1 + k];
        }
        return ofOneOrientation(amplitude);
    }
    // Of the core, then of the shells, against the medium.
    template <class T> static T contrastOf(const std::array<T, size>& p, std::size_t k) {
        const T& told = p[Shells + 1 + k];
        return OnCore && k > 0 ? p[Shells + 1] + told : told;
    }
    template <class T> static T outer(const std::array<T, size>& p) {
        T radius = p[0];
        for (std::size_t k = 0; k < Shells; ++k) radius += p[1 + k];
        return radius;
    }
    template <class T> static T volume(const std::array<T, size>& p) { return sphereVolume(outer(p)); }
    template <class T> static T interactionRadius(const std::array<T, size>& p) { return outer(p); }
    template <class T> static double reach(const std::array<T, size>& p) { return valueOf(outer(p)); }
};

// A shell filled with the medium.
struct Hollow {
    static constexpr std::size_t size = 3;
    static std::vector<FormParameter> parameters() {
        return {{"radius", "of the hollow within", FormQuantity::Radius},
                {"thickness", "of the wall", FormQuantity::Length, 0.2},
                {"contrast", "of the wall against the medium", FormQuantity::Contrast}};
    }
    static std::string formula() { return "contrast*(F(q, R + thickness) - F(q, R))"; }
    template <class T> static Pair<T> moments(double q, const std::array<T, size>& p) {
        return ofOneOrientation(p[2] * (sphereAmplitude(q, p[0] + p[1]) - sphereAmplitude(q, p[0])));
    }
    template <class T> static T volume(const std::array<T, size>& p) { return sphereVolume(p[0] + p[1]); }
    template <class T> static T interactionRadius(const std::array<T, size>& p) { return p[0] + p[1]; }
    template <class T> static double reach(const std::array<T, size>& p) { return valueOf(p[0] + p[1]); }
};

// Two semi-axes are the radius, the third one axis_ratio times it.
struct Ellipsoid {
    static constexpr std::size_t size = 3;
    static std::vector<FormParameter> parameters() {
        return {
            {"radius", "the two equal semi-axes", FormQuantity::Radius},
            {"axis_ratio", "third semi-axis over the two equal ones; 1: sphere", FormQuantity::Ratio, 1.5},
            {"contrast", "scattering length density less that of the medium", FormQuantity::Contrast}};
    }
    static std::string formula() {
        return "contrast*V*f(q*R*sqrt(sin(a)^2 + axis_ratio^2*cos(a)^2)), mean over a";
    }
    template <class T> static Pair<T> moments(double q, const std::array<T, size>& p) {
        const T scale = p[2] * volume(p), ratio2 = p[1] * p[1];
        return averaged<T>(q, reach(p), [&](double sine, double cosine) {
            const T along = root(T(sine * sine) + ratio2 * T(cosine * cosine));
            return scale * sphereShapeOf(T(q) * p[0] * along);
        });
    }
    template <class T> static T volume(const std::array<T, size>& p) { return sphereVolume(p[0]) * p[1]; }
    template <class T> static T interactionRadius(const std::array<T, size>& p) {
        return p[0] * power(p[1], T(1.0 / 3));
    }
    template <class T> static double reach(const std::array<T, size>& p) {
        return valueOf(p[0]) * std::max(1.0, valueOf(p[1]));
    }
};

template <bool Flat> struct Cylinder {
    static constexpr std::size_t size = 3;
    static std::vector<FormParameter> parameters() {
        return {{"radius", "of the circular cross-section", FormQuantity::Radius},
                {Flat ? "thickness" : "length", Flat ? "of the disc" : "of the cylinder",
                 FormQuantity::Length, Flat ? 0.2 : 6.0},
                {"contrast", "scattering length density less that of the medium", FormQuantity::Contrast}};
    }
    static std::string formula() {
        return "contrast*V*2*J1(q*R*sin(a))/(q*R*sin(a))*sin(q*L/2*cos(a))/(q*L/2*cos(a)), mean over a";
    }
    template <class T> static Pair<T> moments(double q, const std::array<T, size>& p) {
        const T scale = p[2] * volume(p), across = T(q) * p[0], along = T(0.5 * q) * p[1];
        return averaged<T>(q, reach(p), [&](double sine, double cosine) {
            return scale * discShapeOf(across * T(sine)) * sincOf(along * T(cosine));
        });
    }
    template <class T> static T volume(const std::array<T, size>& p) { return T(kPi) * p[0] * p[0] * p[1]; }
    template <class T> static T interactionRadius(const std::array<T, size>& p) {
        return power(T(0.75) * p[0] * p[0] * p[1], T(1.0 / 3));
    }
    template <class T> static double reach(const std::array<T, size>& p) {
        return valueOf(p[0]) + 0.5 * valueOf(p[1]);
    }
};

// A form from formulas written for any numbers.
template <class Kind> class FormOf final : public Form {
    static constexpr std::size_t N = Kind::size;
    using Plain = std::array<double, N>;
    using Duals = std::array<Dual<N>, N>;

public:
    const std::vector<FormParameter>& parameters() const override { return parameters_; }
    std::string formula() const override { return Kind::formula(); }
    bool isOriented() const override { return Kind::formula().find("mean over a") != std::string::npos; }

    void moments(std::span<const double> q, std::span<const double> p, bool derivatives,
                 Moments& out) const override {
        out.mean.resize(q.size());
        out.square.resize(q.size());
        if (!derivatives) {
            const Plain plain = plainOf(p);
            for (std::size_t i = 0; i < q.size(); ++i) {
                const auto [mean, square] = Kind::moments(q[i], plain);
                out.mean[i] = mean, out.square[i] = square;
            }
            return;
        }
        out.meanBy.resize(N);
        out.squareBy.resize(N);
        for (auto* list : {&out.meanBy, &out.squareBy})
            for (auto& column : *list) column.resize(q.size());
        const Duals duals = dualsOf(p);
        for (std::size_t i = 0; i < q.size(); ++i) {
            const auto [mean, square] = Kind::moments(q[i], duals);
            out.mean[i] = mean.value, out.square[i] = square.value;
            for (std::size_t k = 0; k < N; ++k)
                out.meanBy[k][i] = mean.slope[k], out.squareBy[k][i] = square.slope[k];
        }
    }
    Length volume(std::span<const double> p) const override { return lengthOf(Kind::volume(dualsOf(p))); }
    Length interactionRadius(std::span<const double> p) const override {
        return lengthOf(Kind::interactionRadius(dualsOf(p)));
    }
    double reach(std::span<const double> p) const override { return Kind::reach(plainOf(p)); }

private:
    static Plain plainOf(std::span<const double> p) {
        Plain out;
        std::copy_n(p.begin(), N, out.begin());
        return out;
    }
    static Duals dualsOf(std::span<const double> p) {
        Duals out;
        for (std::size_t k = 0; k < N; ++k) out[k] = Dual<N>::variable(p[k], k);
        return out;
    }
    static Length lengthOf(const Dual<N>& d) { return {d.value, {d.slope.begin(), d.slope.end()}}; }

    std::vector<FormParameter> parameters_ = Kind::parameters();
};

template <class Kind> FormPtr made() {
    return std::make_shared<const FormOf<Kind>>();
}

} // namespace

FormPtr sphereForm() {
    return made<Sphere>();
}
template <bool OnCore> static FormPtr shelled(int shells) {
    return shells <= 1   ? made<CoreShell<1, OnCore>>()
           : shells == 2 ? made<CoreShell<2, OnCore>>()
                         : made<CoreShell<3, OnCore>>();
}
FormPtr coreShellForm(int shells, bool onCore) {
    return onCore ? shelled<true>(shells) : shelled<false>(shells);
}
FormPtr hollowForm() {
    return made<Hollow>();
}
FormPtr ellipsoidForm() {
    return made<Ellipsoid>();
}
FormPtr cylinderForm() {
    return made<Cylinder<false>>();
}
FormPtr discForm() {
    return made<Cylinder<true>>();
}

} // namespace jointer::models::scattering
