// SPDX-License-Identifier: GPL-3.0-or-later
// A figure on which a house style is seen: curves, symbols, bars, a legend, notes and letters.
#pragma once

#include "project/project.h"

namespace jointer {

// A project of its own with one figure, which has the style. A kind that is told is drawn in its second
// panel.
Project styleSample(HouseStyle style, const std::string& kind = {});

} // namespace jointer
