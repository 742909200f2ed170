// SPDX-License-Identifier: GPL-3.0-or-later
// What analyses of one dataset are called where they stand beside each other.
#pragma once

#include "project/project.h"

#include <string>

namespace jointer::app {

// Its name; where another of the dataset has the same, with its span.
std::string nameBeside(const Project& project, const Analysis& analysis, DatasetId dataset);

} // namespace jointer::app
