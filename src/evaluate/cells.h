// SPDX-License-Identifier: GPL-3.0-or-later
// Small looks into columns, shared by what makes points of them.
#pragma once

#include "data/curve.h"
#include "data/table.h"

namespace jointer::evaluate {

// The number of a cell; `fallback` beyond the end of the column, or without one.
inline double cellAt(const Column* c, std::size_t row, double fallback = std::nan("")) {
    return c && row < c->numbers().size() ? c->numbers()[row] : fallback;
}

inline AxisMeaning meaningOf(const Column& c) {
    return {c.name, c.unit, c.kind == ColumnKind::DateTime || c.kind == ColumnKind::Date};
}

// The limit below which the value of a cell is known to lie: "<0.05", "≤ 0,05". NaN: it is no such cell, or
// its text tells no number.
double limitAt(const Column& c, std::size_t row);

} // namespace jointer::evaluate
