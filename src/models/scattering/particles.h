// SPDX-License-Identifier: GPL-3.0-or-later
// Particles in solution: a form, a distribution of its radius, and what holds them apart.
//   I(q) = φ/⟨V⟩·(⟨F²⟩ + (S − 1)·⟨F⟩²)  decoupled, with averages over orientations and sizes by number;
//   I(q) = φ/⟨V⟩·⟨F²·S(R)⟩              local, each size among its like.
// NaN: the standard deviation of the radius is larger than its mean, or q × reach beyond what can be seen.
// Source: M. Kotlarchyk, S.-H. Chen, J. Chem. Phys. 79 (1983) 2461; J. S. Pedersen, J. Appl. Cryst. 27 (1994)
// 595. With contrasts in Å⁻² I is in cm⁻¹.
#pragma once

#include "models/scattering/bare_curve.h"
#include "models/scattering/forms.h"
#include "models/scattering/sizes.h"

#include <cmath>

namespace jointer::models::scattering {

enum class Structure { None, HardSphere, StickySphere };
enum class Known { Contrast, Fraction, Neither, Scale }; // Scale: only fraction × contrast² is asked for

struct Population {
    FormPtr form;
    Distribution distribution = Distribution::None;
    bool byVolume = false; // the distribution tells volumes, not numbers
    Structure structure = Structure::None;
    bool local = false;
    bool ownRadius = false, ownFraction = false; // of the interaction
    Known known = Known::Contrast;
    double knownContrast = 1e-6, knownFraction = 0.01; // Å⁻²
    double lengthUnit = 1;                             // of q's reciprocal, in Å
    double longest = INFINITY; // mean radius beyond which the points that are fitted tell nothing
};

BarePtr particles(Population population);

// Of a curve of particles: what it is made of, and the radius and its standard deviation among parameters.
struct ParticleSizes {
    Distribution distribution;
    bool byVolume;
    double mean, sd;
    double lengthUnit;
};
std::optional<ParticleSizes> particleSizes(const BareCurve& curve, std::span<const double> parameters);
const Population* populationOf(const BareCurve& curve);

// The structure factor at q, by the radius and fraction of interaction that hold (decoupled).
std::vector<double> structureAt(const BareCurve& curve, std::span<const double> q,
                                std::span<const double> parameters);

// The density of numbers (or of volumes) over the radius at some radii, normalised.
std::vector<double> radiusDensity(const ParticleSizes& sizes, std::span<const double> radii, bool ofVolumes);

} // namespace jointer::models::scattering
