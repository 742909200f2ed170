// SPDX-License-Identifier: GPL-3.0-or-later
// The small picture of a curve and its fits, as numbers: computed in the background, painted by the gallery.
#pragma once

#include "app/panes/run_gallery.h"
#include "evaluate/evaluator.h"

namespace jointer::app {

std::shared_ptr<const RunPicture> runPicture(const Project& project, DatasetId dataset,
                                             evaluate::Evaluator& evaluator);

} // namespace jointer::app
