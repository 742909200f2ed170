// SPDX-License-Identifier: GPL-3.0-or-later
// Models over dates and times. Moments are seconds since 1970: a slope per second and an intercept sixty years before the
// points are of no use to anybody, and powers of such numbers have no digits left. A timed model counts its x from an origin near
// the points, in a unit that people would choose.
#pragma once

#include "models/model.h"

namespace jointer::models {

struct TimeScale {
    double origin = 0;       // the moment that counts as zero, in seconds
    double unit = 1;         // seconds
    std::string symbol{};    // "d"
    bool operator==(const TimeScale&) const = default;

    double fromMoment(double seconds) const { return (seconds - origin) / unit; }
};

// From whole days, hours, minutes… before the first moment. `symbol`: "s", "min", "h", "d", "a" (365.25 days); empty: by how
// long it takes.
TimeScale timeScaleOf(double firstMoment, double lastMoment, std::string symbol = {});

// "days since 2031-01-06".
std::string words(const TimeScale& scale);

// The model over moments; its first predictor is counted by the scale. Its parameters are those of the model.
ModelPtr timedModel(ModelPtr model, const TimeScale& scale);

} // namespace jointer::models
