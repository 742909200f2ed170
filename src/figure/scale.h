// SPDX-License-Identifier: GPL-3.0-or-later
// An axis scale: from values to places on the page and back, its ticks and their labels.
#pragma once

#include <cmath>
#include <string>
#include <vector>

namespace jointer::figure {

struct Scale {
    bool log = false;
    double low = 0, high = 1;  // values at the ends, low < high (log: both positive)
    double start = 0, end = 1; // places in mm of low and high; may run backwards

    double place(double v) const { // NaN outside the domain; inline, since every point passes here
        const double t = log ? std::log(v / low) / std::log(high / low) : (v - low) / (high - low);
        return start + t * (end - start);
    }
    double value(double place) const;
};

struct Tick {
    double value;
    std::string label; // markup; empty for minor ones
    bool major;
    std::string below{}; // a second line: what is common to the labels from here on
};

struct TickWish {
    double every = 0;                 // distance of major ticks; 0: chosen
    int minor = -1;                   // minor ticks between two major ones; negative: chosen
    int about = 6;                    // number of major ticks wished for
    std::string format = "automatic"; // automatic, fixed, scientific
    int decimals = -1;                // negative: as many as the ticks need
    bool time = false;                // values are seconds since 1970-01-01
};

std::vector<Tick> ticksOf(const Scale& scale, const TickWish& wish);

// Range with a margin, ends at values the data do not touch. Requires: low ≤ high finite (log: positive).
struct Range {
    double low, high;
};
Range padded(Range data, bool log, double margin = 0.04);

} // namespace jointer::figure
