// SPDX-License-Identifier: GPL-3.0-or-later
// A curve without a formula as the command line shows it, in the words of a fit where they have a meaning.
#pragma once

#include "analyses/free_curve.h"

#include <nlohmann/json_fwd.hpp>

namespace jointer::cli {

struct FreeCurveOutput {
    std::string name; // of the method
    const analyses::AnalysisResult& result;
    std::vector<double> predictAt;
    std::vector<std::string> warnings;
};

nlohmann::ordered_json freeCurveJson(const FreeCurveOutput& output);
void printFreeCurve(const FreeCurveOutput& output);

} // namespace jointer::cli
