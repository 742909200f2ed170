// SPDX-License-Identifier: GPL-3.0-or-later
// What stays open in a text that was read: other readings of it that would be as good.
#pragma once

#include "io/assess.h"
#include "io/dialect.h"

namespace jointer::io {

// A reading in words, and what leads to it.
Alternative alternative(const Reading& reading);

// Whether every number with a comma could as well be grouped digits.
bool isDecimalOpen(const std::vector<std::string_view>& lines, const Dialect& dialect);

// Whether two columns of whole numbers without headings could as well be one with decimal commas.
bool isCommaOpen(const std::vector<std::string_view>& lines, const Dialect& dialect);

} // namespace jointer::io
