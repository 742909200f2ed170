// SPDX-License-Identifier: GPL-3.0-or-later
// Chromatograms in NetCDF by the open scheme ASTM E1947: the signal is an array, its times follow from a
// delay and an interval.
#pragma once

#include "io/formats/variables.h"

namespace jointer::io {

// Where the variables hold a chromatogram, gives it its retention times, its names and its units. Others
// stay as they are.
void completeChromatogram(std::vector<Variable>& variables, const Metadata& facts);

} // namespace jointer::io
