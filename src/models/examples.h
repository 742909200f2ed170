// SPDX-License-Identifier: GPL-3.0-or-later
// A typical curve of each library model: for pictures in lists and in the manual, and as the truth of tests.
#pragma once

#include <string_view>
#include <vector>

namespace jointer::models {

struct Example {
    std::string_view key;
    std::vector<double> parameters; // with the default settings
    double from, to;                // of the first predictor; a second one goes over 0, 2, 4, 6
    bool byRatio = false;           // its points are spread evenly over ln(x)
    bool overDecades = false;       // so are its values: it is drawn and weighted by ratios
};

const Example* exampleOf(std::string_view key); // nullptr: there is none

} // namespace jointer::models
