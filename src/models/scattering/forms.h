// SPDX-License-Identifier: GPL-3.0-or-later
// Form amplitudes of single particles: F(q) = ∫ Δρ·exp(iqr) dV, averaged over orientations. Lengths are in
// the reciprocal of the unit of q, contrasts Δρ in any unit, so that F is in contrast × length³. Immutable.
#pragma once

#include "models/model.h"

#include <memory>
#include <span>
#include <string>
#include <vector>

namespace jointer::models::scattering {

// For each q the averages over orientations of F and of F², and their derivatives by each parameter.
struct Moments {
    std::vector<double> mean, square;
    std::vector<std::vector<double>> meanBy, squareBy; // parameters × q; only where asked for
};

struct Length {
    double value = 0;
    std::vector<double> by; // derivatives by the parameters
};

enum class FormQuantity { Radius, Length, Ratio, Contrast };

struct FormParameter {
    std::string name, meaning;
    FormQuantity quantity;
    double start = 1; // of lengths in radii; of contrasts in those of the first
};

class Form {
public:
    virtual ~Form() = default;
    // The first is the radius, the one that is distributed; contrasts come last.
    virtual const std::vector<FormParameter>& parameters() const = 0;
    // Shape: `parameters` in their order. Errors: relative 10⁻⁹ of the value at q = 0.
    virtual void moments(std::span<const double> q, std::span<const double> parameters, bool derivatives,
                         Moments& out) const = 0;
    virtual Length volume(std::span<const double> parameters) const = 0; // of the whole particle
    // Of a sphere of equal volume; of spheres with shells their outer one.
    virtual Length interactionRadius(std::span<const double> parameters) const = 0;
    // F² oscillates no faster than cos(2·q·reach).
    virtual double reach(std::span<const double> parameters) const = 0;
    virtual std::string formula() const = 0;
    virtual bool isOriented() const = 0; // an average over orientations is taken
};

using FormPtr = std::shared_ptr<const Form>;

FormPtr sphereForm();
FormPtr coreShellForm(int shells, bool onCore = false); // 1 … 3; contrasts of shells against the core
FormPtr hollowForm();
FormPtr ellipsoidForm();
FormPtr cylinderForm();
FormPtr discForm();

} // namespace jointer::models::scattering
