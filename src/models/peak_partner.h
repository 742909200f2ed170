// SPDX-License-Identifier: GPL-3.0-or-later
// A peak with its partner: the second line of a doublet, of the same shape, at a place that follows from the
// peak's by a rule, with a given ratio of the areas.
#pragma once

#include "models/peak_features.h"

namespace jointer::models {

struct PartnerRule {
    enum class By { Distance, Factor, Wavelengths };
    By by = By::Distance;
    // Of Wavelengths: x is 2θ in degrees, and the lattice planes are the same (W. L. Bragg, Proc. Camb. Phil.
    // Soc. 17 (1913) 43).
    double first = 1, second = 1;
};

// Where the partner of a peak at `place` stands; `by` is the distance or the factor. NaN: beyond what the
// second wavelength reaches.
double partnerPlace(const PartnerRule& rule, double place, double by);

// Parameters: those of the shape, "ratio" of the areas, "distance" or "factor" by the rule, and
// "partner_width" over that of the peak. The partner at x is ratio/w · shape(centre + (x − place)/w).
ModelPtr partneredPeak(const PeakShape& shape, const PartnerRule& rule);

// Of a model that partneredPeak() has made; its parameters as above.
struct PartnerReading {
    PeakNumber place, height, area; // gradients over the parameters of the whole
    std::vector<double> curve(std::span<const double> x) const;

    const Model* shape = nullptr;
    std::vector<double> parameters; // of the whole
    double centre = 0, scale = 0, width = 1;
};
PartnerReading partnerOf(const Model& partnered, std::span<const double> parameters);

} // namespace jointer::models
