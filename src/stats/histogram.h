// SPDX-License-Identifier: GPL-3.0-or-later
// How numbers are spread over bins of equal width.
#pragma once

#include <cstddef>
#include <span>
#include <vector>

namespace jointer::stats {

struct Histogram {
    double low = 0, width = 1; // of the first bin
    std::vector<std::size_t> counts;

    double edge(std::size_t bin) const { return low + width * static_cast<double>(bin); }
};

// NaN and infinities are left out; no bins without numbers, one bin where all are equal. A number on an edge
// counts above it, the largest in the last bin. `bins` 0: as many as the rule of Freedman and Diaconis gives,
// or that of Sturges where the quartiles agree, but at most 60. Source: D. Freedman, P. Diaconis, Z.
// Wahrscheinlichkeitstheorie verw. Gebiete 57 (1981) 453. Cost: n·log n.
Histogram histogramOf(std::span<const double> values, std::size_t bins = 0);

} // namespace jointer::stats
