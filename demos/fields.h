// SPDX-License-Identifier: GPL-3.0-or-later
// The demo of diagrams and fields: springs, sediments, soundings, spectra over age, currents, a growth
// surface.
#pragma once

#include "project/project.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::demo {

std::vector<std::pair<std::string, std::string>> fieldFiles(); // name, text
Project fieldsDemo();

} // namespace jointer::demo
