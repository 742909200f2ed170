// SPDX-License-Identifier: GPL-3.0-or-later
// Distributions of sizes: densities with exact derivatives, quadrature nodes, and what one says of them.
#pragma once

#include <optional>
#include <span>
#include <string_view>
#include <vector>

namespace jointer::models::scattering {

// Of mean m and standard deviation s. Gaussian: cut at m ± 6s and at zero; m and s are those before the cut.
// Log-normal, Schulz–Zimm (a gamma distribution) and Weibull: of the whole distribution. Uniform: m ± √3·s,
// cut at zero. None: all alike.
enum class Distribution { None, Gaussian, LogNormal, Schulz, Weibull, Uniform };
std::string_view distributionKey(Distribution d);
Distribution distributionFromKey(std::string_view key); // anything else is none

// Sums over the nodes stand for integrals over the density; not normalised to more than the quadrature.
struct SizeNodes {
    std::vector<double> sizes, weights;
    std::vector<double> byMean, bySd; // derivatives of the weights at fixed sizes
};

// `turning`: how fast the integrand may oscillate, in radians per length. Log-normal, Schulz and Weibull are
// taken until what is left weighs less than 10⁻⁹ in density·r⁶. Requires: mean > 0, sd > 0 unless none.
SizeNodes sizeNodes(Distribution d, double mean, double sd, double turning);
// The longest size whose oscillations are seen at large q.
double longestSize(Distribution d, double mean, double sd);

// The density at sizes, normalised; zero outside of the distribution.
std::vector<double> sizeDensity(Distribution d, double mean, double sd, std::span<const double> sizes);

struct SizeNumbers {
    double mean, sd, median, mode; // of the distribution as cut
};
SizeNumbers sizeNumbers(Distribution d, double mean, double sd);
// Mean of sizeⁿ⁺¹ over that of sizeⁿ; n = 3: the mean weighted by volume.
double weightedMean(Distribution d, double mean, double sd, int power);

} // namespace jointer::models::scattering
