// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of a summary as `stats` and `groups` print them.
#pragma once

#include "cli/commands.h"
#include "stats/summary.h"

#include <nlohmann/json.hpp>

namespace jointer::cli {

using Json = nlohmann::ordered_json;

// All but how many there are, by the keys of the contract, in its order.
inline std::vector<std::pair<const char*, double>> namedNumbers(const stats::Summary& s) {
    return {{"mean", s.mean},
            {"sd", s.sd},
            {"sem", s.sem},
            {"min", s.min},
            {"q1", s.q1},
            {"median", s.median},
            {"q3", s.q3},
            {"max", s.max},
            {"sum", s.sum},
            {"sum_of_squares", s.sumOfSquares},
            {"skewness", s.skewness},
            {"kurtosis", s.kurtosis}};
}

inline Json toJson(const stats::Summary& s) {
    Json j = {{"n", s.n}, {"missing", s.missing}};
    for (const auto& [key, value] : namedNumbers(s)) j[key] = number(value);
    return j;
}

} // namespace jointer::cli
