// SPDX-License-Identifier: GPL-3.0-or-later
// From the columns of a table to the points of a dataset.
#pragma once

#include "data/curve.h"
#include "project/project.h"

namespace jointer::evaluate {

// For a curve the rows with a finite x in ascending order of x (as they stand where equal), y as the mean of
// its replicate columns, uncertainties by the rule that the dataset states. Without an x column, x is the row
// number from 1. Rows marked as blanks or unknowns are no points of a curve. Other kinds: mappings/. An issue
// and an empty curve where there is no column of numbers as y.
Curve curveFromColumns(const Table& table, const Dataset& dataset, std::vector<Issue>& issues);

} // namespace jointer::evaluate
