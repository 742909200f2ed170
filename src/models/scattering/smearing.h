// SPDX-License-Identifier: GPL-3.0-or-later
// The resolution of an instrument: each point is a mean of the curve over the q that reach it. As means are
// linear, they are weights on values of the curve at nodes, the same for its derivatives.
#pragma once

#include "models/scattering/bare_curve.h"

#include <functional>
#include <memory>

namespace jointer::models::scattering {

struct Resolution {
    // Standard deviation of q at q, of a Gaussian cut at six of them and at q > 0, then normalised; none:
    // sharp.
    std::function<double(double q)> sigma{};
    // Half-length of a slit across the beam, in q: the mean of I(√(q² + u²)) over 0 ≤ u ≤ this.
    double slit = 0;

    bool isSharp() const { return !sigma && !(slit > 0); }
};

struct SmearingRow {
    std::size_t first = 0; // node
    std::vector<double> weights;
};

struct SmearingLayout {
    std::vector<double> nodes;
    std::vector<SmearingRow> rows; // of each target
};

// What the nodes must resolve.
struct CurveShape {
    double reach = 0;
    std::optional<double> feature{};
    bool singularAtZero = false;
    std::vector<double> breaks{};
    bool operator==(const CurveShape&) const = default;
};

// Targets may be in any order, not negative. Errors: of the interpolation relative 10⁻¹² of the largest value
// within π/reach, of the means 10⁻¹⁰.
SmearingLayout smearingLayout(std::span<const double> targets, const Resolution& resolution,
                              const CurveShape& shape);

// What a beam of two round apertures spreads: diameters and distances in one unit, wavelength spread as full
// width at half maximum over the wavelength. Gives the standard deviation of q at q. Source: J. S. Pedersen,
// D. Posselt, K. Mortensen, J. Appl. Cryst. 23 (1990) 321, with variances of discs d²/16 and of squares
// d²/12.
struct BeamGeometry {
    double source = 0, sample = 0, pixel = 0; // diameters of the apertures, width of a pixel
    double before = 1, behind = 1;            // distances: source to sample, sample to detector
    double wavelength = 1;                    // in the unit of 1/q
    double spread = 0;
};
double beamSigma(const BeamGeometry& beam, double q);

} // namespace jointer::models::scattering
