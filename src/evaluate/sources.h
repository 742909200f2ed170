// SPDX-License-Identifier: GPL-3.0-or-later
// Datasets that are not columns of a table: functions, and two datasets joined by x.
#pragma once

#include "base/issue.h"
#include "data/curve.h"
#include "describe/catalogue.h"

#include <span>

namespace jointer::evaluate {

struct SourceKind {
    KindInfo info;
    std::size_t inputs = 0; // datasets that it takes
    // Never fails: what cannot be computed is an empty curve with an issue.
    Curve (*curve)(const Settings& settings, std::span<const Curve* const> inputs,
                   std::vector<Issue>& issues) = nullptr;
    bool field = false;   // it is a field (evaluate/fields.h), whose nodes are its curve
    bool ofField = false; // its curve is made of the field of its input
};

const Catalogue<SourceKind>& sourceCatalogue(); // without the sources over columns (mapping.h)

} // namespace jointer::evaluate
