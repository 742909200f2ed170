// SPDX-License-Identifier: GPL-3.0-or-later
// Models that grow step by step, such as polynomials by their degree: so that one can go up and down.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace jointer::models {

struct Series {
    std::string label; // what grows: "Degree"
    std::vector<std::string> keys;
    int first = 1; // the number of the first
};

const Series* seriesOf(std::string_view key); // nullptr: it stands alone

} // namespace jointer::models
