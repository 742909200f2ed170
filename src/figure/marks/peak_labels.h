// SPDX-License-Identifier: GPL-3.0-or-later
// Names or places above the tops of peaks.
#pragma once

#include "figure/marks/mark.h"

namespace jointer::figure {

struct PeakLabel {
    double x, top; // values; the top of all that is drawn there
    std::string words;
};

// Sets them from left to right, each above its top and above those that it would touch.
std::vector<draw::Item> peakLabelTexts(std::vector<PeakLabel> labels, const Frame& frame);

} // namespace jointer::figure
