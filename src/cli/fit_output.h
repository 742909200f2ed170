// SPDX-License-Identifier: GPL-3.0-or-later
// A fit as the command line shows it: one JSON document, or text for people.
#pragma once

#include "analyses/fit_analysis.h"
#include "evaluate/doubt.h"
#include "fit/region.h"

#include <nlohmann/json_fwd.hpp>

namespace jointer::cli {

struct FitOutput {
    std::string name; // of the model, as it was asked for
    const analyses::AnalysisResult& result;
    const analyses::FitDetail& detail;
    std::vector<double> predictAt;
    bool correlation = false; // also of many parameters
    bool influence = false;   // of each point
    std::vector<evaluate::Doubt> doubts{};
    std::vector<fit::Region> regions{};
    std::vector<std::string> warnings;
};

nlohmann::ordered_json fitJson(const FitOutput& output);
void printFit(const FitOutput& output);

} // namespace jointer::cli
