// SPDX-License-Identifier: GPL-3.0-or-later
// Discrete Fourier transforms of real lists. Thread-safe.
#pragma once

#include <complex>
#include <functional>
#include <span>
#include <vector>

namespace jointer::numerics {

// The first n/2 + 1 coefficients Σ v[k]·exp(−2πi·jk/n), not scaled.
std::vector<std::complex<double>> fourier(std::span<const double> values);

// The list of length n that has these coefficients (scaled by 1/n).
std::vector<double> inverseFourier(std::span<const std::complex<double>> coefficients, std::size_t n);

// The list mirrored at both ends and filtered: each frequency, in cycles per point from 0 to 0.5, is
// multiplied by `gain`. Cost: n·log n.
std::vector<double> filteredByFrequency(std::span<const double> values,
                                        const std::function<double(double)>& gain);

// Amplitudes at the frequencies k/n cycles per point, k = 0 … n/2, of the list without its mean and slope
// under a Hann window, which keeps the ends from being seen as frequencies.
struct Spectrum {
    std::vector<double> frequency, amplitude;
};
Spectrum spectrumOf(std::span<const double> values);

} // namespace jointer::numerics
