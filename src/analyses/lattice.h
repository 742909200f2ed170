// SPDX-License-Identifier: GPL-3.0-or-later
// Lattice parameters from indexed diffraction lines, with the zero of the instrument or the displacement of
// the sample. Pure functions.
#pragma once

#include "base/issue.h"

#include <array>
#include <string>
#include <vector>

namespace jointer::analyses {

enum class CrystalSystem { Cubic, Tetragonal, Hexagonal, Orthorhombic };
enum class ZeroRule { None, Shift, Displacement };

struct IndexedLine {
    std::array<int, 3> hkl{};
    double place = 0; // 2θ in radians
    double error = 0; // of it; 0: not known
};

struct Lattice {
    double a = 0, b = 0, c = 0; // in the unit of the wavelength
    double volume = 0;
    double zero = 0; // of 2θ in radians; of a displacement s/R, by which 2θ is 2·(s/R)·cos θ lower
    std::array<double, 3> errors{};
    double volumeError = 0, zeroError = 0;
    std::vector<double> differences; // observed less computed 2θ, in radians
    double scatter = 0;              // their standard deviation, weighted by the errors of the lines
    std::size_t free = 0;            // degrees of freedom
};

// Least squares on 2θ. Errors are scaled by the scatter where lines are left over. Errors: "lines" where
// there are too few, or where they do not determine the lattice.
Result<Lattice> latticeFrom(const std::vector<IndexedLine>& lines, double wavelength, CrystalSystem system,
                            ZeroRule zero);

// "111", "1 1 1", "(1 0 -4)", "10-4".
Result<std::array<int, 3>> indicesFrom(const std::string& text);

} // namespace jointer::analyses
