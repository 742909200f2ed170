// SPDX-License-Identifier: GPL-3.0-or-later
// Twelve pages as they go to a journal, a slide or a wall: notes, formulae, artwork, tables, figures within
// figures, each in a house style.
#pragma once

#include "project/project.h"

namespace jointer::demo {

Project pagesDemo();
inline constexpr std::size_t kDemoPages = 12;

} // namespace jointer::demo
