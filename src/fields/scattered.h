// SPDX-License-Identifier: GPL-3.0-or-later
// From heights measured at scattered places to a field: by natural neighbours, on flat triangles, or as a
// thin plate. The triangulation is CGAL's. Thread-safe.
#pragma once

#include "base/issue.h"
#include "base/parallel.h"
#include "fields/field.h"

#include <string_view>

namespace jointer::fields {

// Sibson's natural neighbours: through all places, smooth between them. Flat: on the triangles. Thin plate:
// the surface that bends least through all places or, smoothed, near them.
enum class Interpolation { NaturalNeighbour, Flat, ThinPlate };
Interpolation
interpolationFrom(std::string_view key); // "natural" | "flat" | "plate"; anything else is natural

struct Gridding {
    Interpolation by = Interpolation::NaturalNeighbour;
    std::size_t columns = 120, rows = 120;
    double smoothing = 0; // of the plate: ≥ 0; how much bending weighs against missing the values
    bool beyondHull =
        false; // else nothing is shown outside the hull of the places (it is the field's outline)
};

struct Scatter {
    std::vector<double> x, y, z; // NaN in any: the place is left out
};

// Places at the same x and y are averaged, which is said. Errors: fewer than three places, or all on one
// line; then the field is empty. Cost: n log n for the triangulation; the plate takes at most 1200 places and
// means of neighbours where there are more, which is said.
Outcome<Field> gridded(const Scatter& scatter, const Gridding& how, const Cancellation& stop = {});

// Values at single places, as the field has them; NaN outside the outline (but for the plate).
Outcome<std::vector<double>> interpolated(const Scatter& scatter, const Gridding& how,
                                          const std::vector<Place>& at);

} // namespace jointer::fields
