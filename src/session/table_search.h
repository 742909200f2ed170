// SPDX-License-Identifier: GPL-3.0-or-later
// Finding cells of a table: by a part of what they show, by comparison (“> 100”, “<= 0”, “= 2.5”), or what is
// missing.
#pragma once

#include "base/parallel.h"
#include "data/table.h"

#include <optional>

namespace jointer {

struct CellPlace {
    std::size_t row = 0, column = 0;
    bool operator==(const CellPlace&) const = default;
};

// The next cell that fits after `from` (before it, if not forward), row by row; begins again at the other end
// and ends at `from` itself. Nothing where no cell fits, or when stopped. Letters of either case are the
// same.
std::optional<CellPlace> findCell(const Table& table, std::string_view wanted, CellPlace from, bool forward,
                                  const Cancellation& stop = {});

} // namespace jointer
