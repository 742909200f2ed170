// SPDX-License-Identifier: GPL-3.0-or-later
// A second demo: what the figures can hold, in twelve of them, from more made-up measurements at Tern Sands.
#pragma once

#include "project/project.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::demo {

// File names and contents of the raw data beside those of tern_sands.h.
std::vector<std::pair<std::string, std::string>> figureFiles();

class Maker;
void addMeasurements(Maker& maker); // tables, datasets and fits of all figures

Project figureDemo();
inline constexpr std::size_t kDemoFigures = 12; // in it

} // namespace jointer::demo
