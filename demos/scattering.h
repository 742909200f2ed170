// SPDX-License-Identifier: GPL-3.0-or-later
// The demo of scattering: droplets of the marsh oil, simulated with their interaction and an instrument.
#pragma once

#include "project/project.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::demo {

std::vector<std::pair<std::string, std::string>> scatteringFiles(); // name, text
Project scatteringDemo();

} // namespace jointer::demo
