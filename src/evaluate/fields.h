// SPDX-License-Identifier: GPL-3.0-or-later
// Fields of a project: blocks and places of a table, functions of two variables, curves over an attribute,
// and what is made of other fields. They are nodes of the graph beside the curves of the same datasets.
// Thread-safe.
#pragma once

#include "evaluate/nodes.h"
#include "fields/field.h"

#include <span>

namespace jointer::evaluate {

// The kinds of datasets that have a field.
const std::vector<std::string>& fieldKinds();
bool hasField(const DatasetSource& source);

NodeId fieldNode(DatasetId dataset);
Node planField(const Ground& ground, const NodeId& id);

// The columns of a dataset as a field. Issues: what is missing or left out. Empty where there is none.
fields::Field gridOf(const Table& table, const DatasetSource& source, std::vector<Issue>& issues);
fields::Field surfaceOf(const Table& table, const DatasetSource& source, std::vector<Issue>& issues,
                        const Cancellation& stop = {});
std::vector<Setting> surfaceSettings();   // of places on a grid or scattered
std::vector<Setting> scatteredSettings(); // of scattered ones alone
// Whether rows at x and y stand anywhere, not at the crossings of a grid, as its settings say or as they do.
bool isScattered(std::span<const double> x, std::span<const double> y, const Settings& settings);
// A value over mixtures of three parts, in the plane of the triangle (fields::inTriangle).
fields::Field mixturesOf(const Table& table, const DatasetSource& source, std::vector<Issue>& issues,
                         const Cancellation& stop = {});

// So many values from one to the other, both ends exactly; none where the first is not the lower.
std::vector<double> evenNodes(double low, double high, std::size_t count);

// z by an expression in x and y over ranges.
fields::Field planeOf(const KindInfo& info, const Settings& settings, std::vector<Issue>& issues);

// The nodes as points of a curve over two predictors, thinned evenly where they are very many.
Curve curveOf(const fields::Field& field, std::vector<Issue>& issues);

} // namespace jointer::evaluate
