// SPDX-License-Identifier: GPL-3.0-or-later
// A file that ends within its last cell: "2031-05-1" below dates of ten signs reads as another date. Told by
// the form of the cells above it.
#pragma once

#include "io/dialect.h"

#include <optional>

namespace jointer::io {

struct CutCell {
    std::size_t column = 0;
    std::string text; // what is left of it
};

// Requires: `body` is the text to its end, without a line end there.
std::optional<CutCell> cutCell(std::string_view body, const Dialect& dialect);

} // namespace jointer::io
