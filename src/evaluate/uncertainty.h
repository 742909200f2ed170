// SPDX-License-Identifier: GPL-3.0-or-later
// Rules by which the points of a dataset get their standard uncertainties.
#pragma once

#include "data/curve.h"
#include "describe/catalogue.h"

#include <span>

namespace jointer::evaluate {

struct UncertaintyRule {
    KindInfo info; // its settings stand beside "uncertainty", the key of the rule, in those of the dataset
    // One for each point, NaN where it is not known; empty: none. `column` holds the uncertainties that were
    // measured, or is empty.
    std::vector<double> (*sigma)(const Curve& curve, std::span<const double> column, const Settings& given);
    std::string (*said)(const Settings& given); // where they come from, in words
};

const Catalogue<UncertaintyRule>& uncertaintyRules();

// The rule that is given; else the column where there is one.
const UncertaintyRule& ruleOf(const Settings& given, bool haveColumn);

void addUncertainty(Curve& curve, std::span<const double> column, const Settings& given);

} // namespace jointer::evaluate
