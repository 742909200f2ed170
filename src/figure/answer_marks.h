// SPDX-License-Identifier: GPL-3.0-or-later
// Marks that show what an analysis has answered: brackets over groups, samples on their standard curve.
#pragma once

#include "evaluate/evaluator.h"
#include "project/project.h"

namespace jointer::figure {

// A bracket over each pair of groups that an analysis has compared, the likeliest difference first, six at
// most: the difference with its interval where there are few groups, and p. None where it has compared none.
std::vector<Element> bracketsOf(const Project& project, const Analysis& analysis, DatasetId dataset,
                                evaluate::Evaluator& evaluator,
                                evaluate::Effort effort = evaluate::Effort::Full);

// Of an analysis of samples: the standard curve with its band, and the readings. None for others.
std::vector<Element> readingsOf(const Analysis& analysis, DatasetId dataset);

} // namespace jointer::figure
