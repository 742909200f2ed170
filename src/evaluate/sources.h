// SPDX-License-Identifier: GPL-3.0-or-later
// Datasets that are not columns of a table: functions, and two datasets joined by x.
#pragma once

#include "base/issue.h"
#include "data/curve.h"
#include "describe/kind.h"

#include <span>

namespace jointer::evaluate {

struct SourceKind {
    KindInfo info;
    std::size_t inputs = 0; // datasets that it takes
    // Never fails: what cannot be computed is an empty curve with an issue.
    Curve (*curve)(const Settings& settings, std::span<const Curve* const> inputs,
                   std::vector<Issue>& issues);
};

const std::vector<SourceKind>& sourceCatalogue();
const SourceKind* findSource(std::string_view key); // none for sources over columns

} // namespace jointer::evaluate
