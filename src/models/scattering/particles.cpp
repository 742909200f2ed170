// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/particles.h"

#include "models/scattering/particle_parameters.h"
#include "models/scattering/starts.h"
#include "models/scattering/structures.h"

#include <algorithm>
#include <cmath>

namespace jointer::models::scattering {

namespace {

constexpr double kPerCm = 1e8;      // Å⁻¹ in cm⁻¹
constexpr double kLocalTurning = 10; // structure factors have peaks that are sharper than those of F²
constexpr double kWidest = 1;        // standard deviation over mean: beyond it there is no size to speak of
constexpr double kMostWork = 6e7; // amplitudes: more would take many seconds
// q times reach beyond which no curve is given: it would turn more often than any instrument can see.
constexpr double kFurthest = 6000, kFurthestTurned = 1500;
constexpr std::size_t kBlock = 64; // neighbouring q that share their nodes of sizes

// The parameters of the form among all; one that is not there is one.
std::vector<double> formOf(const Places& places, std::span<const double> p) {
    std::vector<double> out;
    for (const auto& place : places.form) out.push_back(place ? p[*place] : 1.0);
    return out;
}

// One block of q: sums over the sizes with their derivatives by all parameters.
class Sums {
public:
    Sums(const Population& population, const Places& places, std::span<const double> q,
         std::span<const double> p, bool gradient)
        : pop_(population), places_(places), q_(q), p_(p), wants_(gradient), top_(q.size()), mean_(q.size()),
          topBy_(gradient ? places.count * q.size() : 0), meanBy_(topBy_.size()), form_(formOf(places, p)) {}

    void work(std::span<double> values, std::span<double> gradient, std::size_t stride) {
        interaction();
        const double sd = places_.sd ? p_[*places_.sd] : 0;
        const double turning = (isLocal() ? kLocalTurning : 2) * std::ranges::max(q_) * reachPerRadius();
        const SizeNodes nodes = sizeNodes(pop_.distribution, p_[places_.radius], sd, turning);
        isPlain_ = nodes.sizes.size() == 1;
        below_.by.assign(places_.count, 0.0);
        number_.by.assign(places_.count, 0.0);
        for (std::size_t j = 0; j < nodes.sizes.size(); ++j) addSize(nodes, j);
        finish(values, gradient, stride);
    }

private:
    // Whether each size has a structure factor of its own.
    bool isLocal() const { return pop_.structure != Structure::None && pop_.local && !pop_.ownRadius; }

    // Reach over the radius where that is the whole of it; else no slower.
    double reachPerRadius() {
        const double r = p_[places_.radius];
        std::vector<double> more = form_;
        more[0] = 2 * r;
        return std::max((pop_.form->reach(more) - pop_.form->reach(form_)) / r, 0.0);
    }

    using S = Dual<3>; // by radius, fraction, stickiness
    S structure(double q, double radius) const {
        if (fluid_) return fluid_->at(q, radius);
        if (!wants_) return stickySphereStructure(q, radius, fraction_, stickiness_);
        return stickySphereStructure(q, S::variable(radius, 0), S::variable(fraction_, 1),
                                     S::variable(stickiness_, 2));
    }

    void interaction() {
        if (pop_.structure == Structure::None) return;
        fractionPlace_ = places_.interactionFraction ? places_.interactionFraction : places_.amount;
        fraction_ = p_[*fractionPlace_];
        if (places_.stickiness)
            stickiness_ = p_[*places_.stickiness];
        else
            fluid_.emplace(fraction_);
    }

    // Derivative of a quantity of the form by parameter k, at a size that is fixed unless all are alike.
    double byForm(const std::vector<double>& slopes, std::size_t k) const {
        return k == 0 && !isPlain_ ? 0 : slopes[k];
    }

    void addSize(const SizeNodes& nodes, std::size_t j) {
        form_[0] = nodes.sizes[j];
        pop_.form->moments(q_, form_, wants_, moments_);
        const Length volume = pop_.form->volume(form_);
        if (pop_.byVolume && !(volume.value > 0)) return;
        const double share = pop_.byVolume ? 1 / volume.value : 1; // of numbers in the weight
        const double u = nodes.weights[j] * share;
        below_.value += u * volume.value;
        number_.value += u;
        const bool local = isLocal();
        const std::vector<S> s = local ? structures(pop_.form->interactionRadius(form_)) : std::vector<S>();
        const std::size_t n = q_.size();
        for (std::size_t i = 0; i < n; ++i) {
            top_[i] += u * moments_.square[i] * (local ? s[i].value : 1);
            mean_[i] += u * moments_.mean[i];
        }
        if (!wants_) return;
        std::vector<double> uBy(places_.count, 0.0);
        if (!isPlain_)
            uBy[places_.radius] = nodes.byMean[j] * share, uBy[*places_.sd] = nodes.bySd[j] * share;
        if (pop_.byVolume)
            for (std::size_t k = 0; k < form_.size(); ++k)
                if (places_.form[k]) uBy[*places_.form[k]] -= u * byForm(volume.by, k) / volume.value;
        for (std::size_t g = 0; g < places_.count; ++g) {
            if (uBy[g] == 0) continue;
            below_.by[g] += uBy[g] * volume.value;
            number_.by[g] += uBy[g];
            for (std::size_t i = 0; i < n; ++i) {
                topBy_[g * n + i] += uBy[g] * moments_.square[i] * (local ? s[i].value : 1);
                meanBy_[g * n + i] += uBy[g] * moments_.mean[i];
            }
        }
        if (u == 0) return;
        const Length touching = local ? pop_.form->interactionRadius(form_) : Length();
        for (std::size_t k = isPlain_ ? 0 : 1; k < form_.size(); ++k) {
            if (!places_.form[k]) continue;
            const std::size_t g = *places_.form[k];
            below_.by[g] += u * volume.by[k];
            for (std::size_t i = 0; i < n; ++i) {
                const double by = moments_.squareBy[k][i];
                topBy_[g * n + i] +=
                    u * (local ? by * s[i].value + moments_.square[i] * s[i].slope[0] * touching.by[k] : by);
                meanBy_[g * n + i] += u * moments_.meanBy[k][i];
            }
        }
        if (!local) return;
        for (std::size_t i = 0; i < n; ++i) {
            topBy_[*fractionPlace_ * n + i] += u * moments_.square[i] * s[i].slope[1];
            if (places_.stickiness)
                topBy_[*places_.stickiness * n + i] += u * moments_.square[i] * s[i].slope[2];
        }
    }

    std::vector<S> structures(const Length& radius) const {
        std::vector<S> out;
        out.reserve(q_.size());
        for (const double q : q_) out.push_back(structure(q, radius.value));
        return out;
    }

    // The radius of interaction of the mean particle, and its derivatives by all parameters.
    Length meanTouching() {
        Length out{0, std::vector<double>(places_.count, 0.0)};
        if (places_.interactionRadius) {
            out.value = p_[*places_.interactionRadius];
            out.by[*places_.interactionRadius] = 1;
            return out;
        }
        form_[0] = p_[places_.radius];
        const Length own = pop_.form->interactionRadius(form_);
        out.value = own.value;
        for (std::size_t k = 0; k < form_.size(); ++k)
            if (places_.form[k]) out.by[*places_.form[k]] += own.by[k];
        return out;
    }

    void finish(std::span<double> values, std::span<double> gradient, std::size_t stride) {
        const std::size_t n = q_.size();
        if (pop_.structure != Structure::None && !isLocal()) addStructure();
        const double amount = p_[*places_.amount];
        const double units = pop_.known == Known::Scale ? 1 : kPerCm * std::pow(pop_.lengthUnit, 3);
        const double factor = units * amount / below_.value;
        for (std::size_t i = 0; i < n; ++i) values[i] = factor * top_[i];
        for (std::size_t g = 0; wants_ && g < places_.count; ++g)
            for (std::size_t i = 0; i < n; ++i)
                gradient[g * stride + i] =
                    factor * (topBy_[g * n + i] - top_[i] * below_.by[g] / below_.value) +
                    (g == *places_.amount ? units / below_.value * top_[i] : 0);
    }

    // ⟨F²⟩ + (S − 1)⟨F⟩², or where every size has the same neighbours S·⟨F²⟩.
    void addStructure() {
        const std::size_t n = q_.size();
        const Length touching = meanTouching();
        std::vector<double> sBy(places_.count);
        for (std::size_t i = 0; i < n; ++i) {
            const S s = structure(q_[i], touching.value);
            for (std::size_t g = 0; wants_ && g < places_.count; ++g) {
                sBy[g] = s.slope[0] * touching.by[g];
                if (g == *fractionPlace_) sBy[g] += s.slope[1];
                if (places_.stickiness && g == *places_.stickiness) sBy[g] += s.slope[2];
            }
            const double coherent = pop_.local ? top_[i] : mean_[i] * mean_[i] / number_.value;
            for (std::size_t g = 0; wants_ && g < places_.count; ++g) {
                double& by = topBy_[g * n + i];
                const double coherentBy =
                    pop_.local
                        ? by
                        : (2 * mean_[i] * meanBy_[g * n + i] - coherent * number_.by[g]) / number_.value;
                by += coherentBy * (s.value - 1) + coherent * sBy[g];
            }
            top_[i] += coherent * (s.value - 1);
        }
    }

    const Population& pop_;
    const Places& places_;
    std::span<const double> q_, p_;
    bool wants_, isPlain_ = true;
    std::vector<double> top_, mean_, topBy_, meanBy_; // Σ u·F², Σ u·F, and by parameters
    std::vector<double> form_;
    Moments moments_;
    Length below_, number_;                           // Σ u·V, Σ u
    double fraction_ = 0, stickiness_ = 1;
    std::optional<HardSphereFluid> fluid_;
    std::optional<std::size_t> fractionPlace_;
};

class Particles final : public BareCurve {
public:
    explicit Particles(Population p) : pop_(std::move(p)) {
        ParticleParameters made = parametersOf(pop_);
        parameters_ = std::move(made.infos);
        places_ = std::move(made.places);
        addDerived();
    }

    const Population& population() const { return pop_; }
    const Places& places() const { return places_; }
    const std::vector<ParameterInfo>& parameters() const override { return parameters_; }
    const std::vector<DerivedInfo>& derived() const override { return derived_; }

    std::string formula() const override {
        const std::string amount = pop_.known == Known::Scale ? "scale" : "volume_fraction";
        const std::string mean = pop_.distribution == Distribution::None ? "F^2" : "<F^2>";
        const std::string s = pop_.structure == Structure::None ? ""
                              : pop_.local                      ? "*S(q, R)"
                                                                : "*(1 + <F>^2/<F^2>*(S(q) - 1))";
        return amount + "/<V>*" + mean + s + ", F = " + pop_.form->formula();
    }

    void evaluate(std::span<const double> q, std::span<const double> p, std::span<double> values,
                  std::span<double> gradient) const override {
        const double sd = places_.sd ? p[*places_.sd] : 0;
        const double furthest = q.empty() ? 0 : std::ranges::max(q) * reach(p);
        const double mean = p[places_.radius];
        if (!(mean > 0 && mean <= pop_.longest) || !(sd >= 0 && sd <= kWidest * mean) ||
            !(furthest < (pop_.form->isOriented() ? kFurthestTurned : kFurthest)) ||
            workOf(q.size(), furthest) > kMostWork) {
            std::ranges::fill(values, std::nan(""));
            std::ranges::fill(gradient, std::nan(""));
            return;
        }
        for (std::size_t from = 0; from < q.size(); from += kBlock) {
            const std::size_t count = std::min(kBlock, q.size() - from);
            Sums(pop_, places_, q.subspan(from, count), p, !gradient.empty())
                .work(values.subspan(from, count), gradient.empty() ? gradient : gradient.subspan(from),
                      q.size());
        }
    }

    double reach(std::span<const double> p) const override {
        std::vector<double> form = formOf(places_, p);
        form[0] = longestSize(pop_.distribution, form[0], places_.sd ? p[*places_.sd] : 0);
        return pop_.form->reach(form);
    }

    std::optional<std::vector<double>> guess(const Curve& curve) const override {
        return particleStart(*this, pop_, curve);
    }

    double derive(std::size_t which, std::span<const double> p) const override {
        const double sd = places_.sd ? p[*places_.sd] : 0, mean = p[places_.radius];
        const std::string& name = derived_[which].name;
        if (name == "radius_by_volume")
            return weightedMean(pop_.distribution, mean, sd, pop_.byVolume ? 0 : 3);
        if (name == "radius_by_number") // of volumes: density over r³
            return weightedMean(pop_.distribution, mean, sd, -3);
        if (name == "median_radius") return sizeNumbers(pop_.distribution, mean, sd).median;
        if (name == "mode_radius") return sizeNumbers(pop_.distribution, mean, sd).mode;
        if (name == "mean_volume") return meanVolume(p);
        // The density of numbers, per cm³.
        const double volume = meanVolume(p) * std::pow(pop_.lengthUnit, 3) * 1e-24;
        return p[*places_.amount] / volume;
    }

private:
    // Amplitudes that are to be evaluated.
    double workOf(std::size_t points, double furthest) const {
        const double sizes = pop_.distribution == Distribution::None ? 1 : 200 + 0.6 * furthest;
        return static_cast<double>(points) * sizes * (pop_.form->isOriented() ? 20 + furthest : 1);
    }

    // By number.
    double meanVolume(std::span<const double> p) const {
        std::vector<double> form = formOf(places_, p);
        const SizeNodes nodes = sizeNodes(pop_.distribution, form[0], places_.sd ? p[*places_.sd] : 0, 0);
        double above = 0, below = 0;
        for (std::size_t k = 0; k < nodes.sizes.size(); ++k) {
            form[0] = nodes.sizes[k];
            const double v = pop_.form->volume(form).value;
            const double u = pop_.byVolume ? nodes.weights[k] / v : nodes.weights[k];
            if (!std::isfinite(u)) continue;
            above += u * v, below += u;
        }
        return above / below;
    }

    void addDerived() {
        derived_.push_back({"diameter", "2*radius", "1/x"});
        if (pop_.distribution != Distribution::None) {
            derived_.push_back({"relative_sd", "sd/radius", ""});
            derived_.push_back({pop_.byVolume ? "radius_by_number" : "radius_by_volume", "", "1/x"});
            derived_.push_back({"median_radius", "", "1/x"});
            derived_.push_back({"mode_radius", "", "1/x"});
        }
        derived_.push_back({"mean_volume", "", "1/x^3"});
        if (pop_.known != Known::Scale) derived_.push_back({"number_density", "", "=1/cm^3"});
    }

    Population pop_;
    Places places_;
    std::vector<ParameterInfo> parameters_;
    std::vector<DerivedInfo> derived_;
};

} // namespace

BarePtr particles(Population population) {
    return std::make_shared<Particles>(std::move(population));
}

const Population* populationOf(const BareCurve& curve) {
    const auto* p = dynamic_cast<const Particles*>(&curve);
    return p ? &p->population() : nullptr;
}

std::optional<ParticleSizes> particleSizes(const BareCurve& curve, std::span<const double> p) {
    const auto* of = dynamic_cast<const Particles*>(&curve);
    if (!of || !of->places().sd) return {};
    const Population& pop = of->population();
    return ParticleSizes{pop.distribution, pop.byVolume, p[of->places().radius], p[*of->places().sd],
                         pop.lengthUnit};
}

std::vector<double> structureAt(const BareCurve& curve, std::span<const double> q,
                                std::span<const double> p) {
    std::vector<double> out(q.size(), 1.0);
    const auto* of = dynamic_cast<const Particles*>(&curve);
    if (!of || of->population().structure == Structure::None) return out;
    const Places& at = of->places();
    const Population& pop = of->population();
    const std::vector<double> form = formOf(at, p);
    const double radius =
        at.interactionRadius ? p[*at.interactionRadius] : pop.form->interactionRadius(form).value;
    const double fraction = p[at.interactionFraction ? *at.interactionFraction : *at.amount];
    for (std::size_t i = 0; i < q.size(); ++i)
        out[i] = pop.structure == Structure::HardSphere
                     ? hardSphereStructure(q[i], radius, fraction)
                     : stickySphereStructure(q[i], radius, fraction, p[*at.stickiness]);
    return out;
}

std::vector<double> radiusDensity(const ParticleSizes& s, std::span<const double> radii, bool ofVolumes) {
    std::vector<double> density = sizeDensity(s.distribution, s.mean, s.sd, radii);
    if (ofVolumes == s.byVolume) return density;
    const double power = ofVolumes ? 3 : -3;
    double area = 0;
    for (std::size_t i = 0; i < radii.size(); ++i)
        density[i] = radii[i] > 0 ? density[i] * std::pow(radii[i], power) : 0;
    for (std::size_t i = 1; i < radii.size(); ++i)
        area += 0.5 * (density[i] + density[i - 1]) * (radii[i] - radii[i - 1]);
    for (double& d : density) d /= area;
    return density;
}

} // namespace jointer::models::scattering
