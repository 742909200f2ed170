// SPDX-License-Identifier: GPL-3.0-or-later
// Columns that follow a dataset of waters over their table: waters('d5', 'hardness') as a formula is a number
// of each sample, waters('d5', 'type') a word (waters/quantities.h).
#pragma once

#include "evaluate/nodes.h"
#include "waters/quantities.h"

namespace jointer::evaluate {

struct WaterCall {
    std::string dataset; // id or name
    const waters::SampleQuantity* quantity = nullptr;
};
std::optional<WaterCall> waterCall(std::string_view formula); // nothing: it is another formula
std::string waterFormula(const std::string& dataset, std::string_view quantity);

// Requires: the column's formula is a call.
Node planWaterColumn(const Ground& ground, const Table& table, const Column& column, const WaterCall& call);

// A column that follows, as it is added to the dataset's table.
Column waterColumn(const Dataset& dataset, const waters::SampleQuantity& quantity);

} // namespace jointer::evaluate
