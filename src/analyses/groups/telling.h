// SPDX-License-Identifier: GPL-3.0-or-later
// Inside of groups: what was found in words, numbers, a table and the picture of quantiles.
#pragma once

#include "analyses/groups/groups.h"

namespace jointer::analyses {

// `y`: of the values; `member`: the dataset of groups. Adds to the notes what limits leave open.
AnalysisResult toldOf(GroupsDetail& detail, const AxisMeaning& y, DatasetId member);

} // namespace jointer::analyses
