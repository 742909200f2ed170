// SPDX-License-Identifier: GPL-3.0-or-later
// A figure on paper, in its true size.
#pragma once

#include "draw/display_list.h"

class QPrinter;

namespace jointer::app {

// Upright or across, as it fits better; in the middle of the sheet. What is larger than the sheet is made to
// fit it.
void preparePrinter(QPrinter& printer, const draw::DisplayList& list);
void printOn(QPrinter& printer, const draw::DisplayList& list);
double printedScale(const QPrinter& printer, const draw::DisplayList& list); // 1: true size

} // namespace jointer::app
