// SPDX-License-Identifier: GPL-3.0-or-later
// The demo of doubt: two agents compared in their midpoints, a level over years by polynomials and without a formula, read at
// a list of surveys, and a rate that depends on where its span ends.
#pragma once

#include "project/project.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::demo {

std::vector<std::pair<std::string, std::string>> doubtFiles();
Project doubtDemo();

} // namespace jointer::demo
