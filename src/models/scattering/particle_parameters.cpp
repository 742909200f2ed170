// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/particle_parameters.h"

#include <fmt/format.h>
#include <utility>

namespace jointer::models::scattering {

namespace {

class ParameterMaker {
public:
    explicit ParameterMaker(const Population& p) : p_(p) {}

    ParticleParameters made() {
        addForm();
        addAmount();
        if (p_.structure != Structure::None) addInteraction();
        out_.places.count = out_.infos.size();
        return std::move(out_);
    }

private:
    std::size_t add(ParameterInfo info) {
        out_.infos.push_back(std::move(info));
        return out_.infos.size() - 1;
    }

    void addForm() {
        bool firstContrast = true;
        for (const FormParameter& f : p_.form->parameters()) {
            const bool isRadius = f.quantity == FormQuantity::Radius;
            if (f.quantity == FormQuantity::Contrast) {
                const bool scaled = p_.known == Known::Scale, first = std::exchange(firstContrast, false);
                if (scaled && first) {
                    out_.places.form.push_back(std::nullopt);
                    continue;
                }
                ParameterInfo info{.name = f.name,
                                   .meaning = scaled ? f.meaning + ", over that of the first" : f.meaning,
                                   .unit = scaled ? "" : "=1/Å^2"};
                if (first && (p_.known == Known::Contrast)) info.tie = fmt::format("{}", p_.knownContrast);
                out_.places.form.push_back(add(std::move(info)));
                continue;
            }
            const bool ratio = f.quantity == FormQuantity::Ratio;
            const std::string mean =
                isRadius && p_.distribution != Distribution::None
                    ? "mean radius " + f.meaning + (p_.byVolume ? ", by volume" : ", by number")
                : isRadius ? "radius " + f.meaning
                           : f.meaning;
            out_.places.form.push_back(
                add({f.name, mean, ratio ? "" : "1/x", ratio ? 0.01 : 0, ratio ? 100 : INFINITY}));
            if (!isRadius || p_.distribution == Distribution::None) continue;
            out_.places.sd = add({"sd", "standard deviation of the radius", "1/x", 0});
        }
    }

    void addAmount() {
        if (p_.known == Known::Scale) {
            out_.places.amount =
                add({"scale", "volume fraction times squared contrast, in units of I per volume", "", 0});
            return;
        }
        ParameterInfo info{"volume_fraction", "share of the volume that the particles take", "", 0, 0.74};
        if (p_.known == Known::Fraction) info.tie = fmt::format("{}", p_.knownFraction);
        out_.places.amount = add(std::move(info));
    }

    void addInteraction() {
        if (p_.ownRadius)
            out_.places.interactionRadius =
                add({"interaction_radius", "half the distance at which two particles touch", "1/x", 0});
        if (p_.ownFraction || p_.known == Known::Scale)
            out_.places.interactionFraction =
                add({"interaction_fraction", "volume fraction of the spheres that hold each other apart", "",
                     0, 0.6});
        if (p_.structure == Structure::StickySphere)
            out_.places.stickiness =
                add({"stickiness", "parameter τ: the smaller, the stickier", "", 0.02, 1e6});
    }

    const Population& p_;
    ParticleParameters out_;
};

} // namespace

ParticleParameters parametersOf(const Population& population) {
    return ParameterMaker(population).made();
}

} // namespace jointer::models::scattering
