// SPDX-License-Identifier: GPL-3.0-or-later
// What a new analysis begins with, where it needs others.
#pragma once

#include "project/project.h"

namespace jointer::analyses {

// Those that it needs and does not name yet: of its own dataset, the last of the kind that serves; of the others that are selected
// (of all where none is), the last of the same model.
void giveFirstInputs(Analysis& made, const Project& project, const std::vector<DatasetId>& selected = {});

} // namespace jointer::analyses
