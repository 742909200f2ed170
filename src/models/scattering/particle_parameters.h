// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of models of particles: what their parameters are, and where each stands.
#pragma once

#include "models/scattering/particles.h"

namespace jointer::models::scattering {

// Where everything stands among the parameters.
struct Places {
    std::size_t radius = 0;
    std::optional<std::size_t> sd;
    std::vector<std::optional<std::size_t>> form; // parameters of the form; none: one
    std::optional<std::size_t> amount, interactionRadius, interactionFraction, stickiness;
    std::size_t count = 0;
};

struct ParticleParameters {
    std::vector<ParameterInfo> infos;
    Places places;
};

ParticleParameters parametersOf(const Population& population);

} // namespace jointer::models::scattering
