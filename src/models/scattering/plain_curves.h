// SPDX-License-Identifier: GPL-3.0-or-later
// Curves of scattering that need no integral: laws, chains, layers.
#pragma once

#include "models/scattering/bare_curve.h"

namespace jointer::models::scattering {

// I(0)·exp(−q²Rg²/3). Source: A. Guinier, Ann. Phys. 12 (1939) 161.
BarePtr guinierCurve();
// Guinier's law of a dimension s and a power law −d, meeting smoothly. Source: B. Hammouda, J. Appl. Cryst.
// 43 (2010) 716.
BarePtr guinierPorodCurve();
BarePtr powerLawCurve(); // scale·q^(−exponent); scale is I at q = 1
// I(0)/(1 + (qξ)^m); m = 2: after L. S. Ornstein, F. Zernike.
BarePtr correlationCurve();
// Flexible chains, I(0)·2(exp(−u) + u − 1)/u², u = (q·Rg)². Source: P. Debye, J. Phys. Colloid Chem. 51
// (1947) 18.
BarePtr chainCurve();

// Flat layers in all orientations, much wider than 1/q: 2π·φ·Δρ²·t·(sin(qt/2)/(qt/2))²/q². A contrast that is
// known is held; none: one scale φ·Δρ². `lengthUnit`: as of particles.
BarePtr layerCurve(std::optional<double> contrast, double lengthUnit);

} // namespace jointer::models::scattering
