// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of datasets that are fields without a table, and cuts through fields.
#pragma once

#include "evaluate/sources.h"
#include "fields/field.h"

namespace jointer::evaluate {

SourceKind planeSource();
SourceKind flowSource(); // vectors by two expressions
SourceKind stackSource();
SourceKind changedFieldSource();
SourceKind cutSource();
SourceKind fittedSurfaceSource();

// z along a line through a field, as a cut's settings tell.
Curve cutCurve(const fields::Field& field, const Settings& settings, std::vector<Issue>& issues);

} // namespace jointer::evaluate
