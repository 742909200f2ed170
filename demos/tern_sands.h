// SPDX-License-Identifier: GPL-3.0-or-later
// The demo: made-up measurements of the imagined field station Tern Sands, from a fixed seed, and a project
// in which they are cleaned, fitted and drawn. Everything goes the way a user's files go: text, reader,
// edits.
#pragma once

#include "project/project.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::demo {

// File names and contents of the raw data.
std::vector<std::pair<std::string, std::string>> rawFiles();

Project ternSands();

} // namespace jointer::demo
