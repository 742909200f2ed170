// SPDX-License-Identifier: GPL-3.0-or-later
// Spectra of shells as the simulated scanner of Tern Sands writes them: four bands, two of which overlap, on
// a slope with a bow; with age the mineral changes and a band moves. From a seed.
#pragma once

#include <cstdint>
#include <string>
#include <utility>

namespace jointer::demo {

// Name and content of the file of a shell, from 1. A share of them is broken: cut off, empty, or no text.
std::pair<std::string, std::string> scannedShell(int shell, std::uint64_t seed, double broken = 0);

} // namespace jointer::demo
