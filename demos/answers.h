// SPDX-License-Identifier: GPL-3.0-or-later
// A demo of what the scientist came for: samples on a standard curve, sites compared.
#pragma once

#include "project/project.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::demo {

std::vector<std::pair<std::string, std::string>> answerFiles();
Project answersDemo();

} // namespace jointer::demo
