// SPDX-License-Identifier: GPL-3.0-or-later
// The demo of a run: a recipe made of one shell, and forty shells of the simulated scanner that went its way.
#pragma once

#include "project/project.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::demo {

std::vector<std::pair<std::string, std::string>> fortyShellFiles();
Recipe shellRecipe(); // "Bands of a shell"
Project fortyShells();

} // namespace jointer::demo
