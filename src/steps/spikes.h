// SPDX-License-Identifier: GPL-3.0-or-later
// Finding spikes: groups of few points that the points around them do not explain. Not part of the interface
// of the folder.
#pragma once

#include "steps/columns.h"

namespace jointer::steps {

struct Spike {
    std::size_t first, count; // places in the list
    std::size_t top;          // the point that is farthest off
    double strength;          // of the weakest point of the group, in standard deviations
    List filled;              // what the points around say, for each of the group
};

struct SpikeOrder {
    double threshold = 6;
    int narrowest = 4; // points at half height of the narrowest real line
    bool up = true, down = true;
};

// For each group of up to narrowest/2 points a cubic is fitted through the points on both sides; the group is
// a spike where each of its points is farther from it than the threshold, measured by the larger of the local
// noise and the scatter of those points about their cubic. The latter is what keeps real lines: the flanks of
// a line of `narrowest` points or more do not lie on a cubic. Strongest first, found again without those that
// were found, until there are no more. Shape: in order of place. Cost: linear.
std::vector<Spike> findSpikes(Values y, const SpikeOrder& order);

} // namespace jointer::steps
