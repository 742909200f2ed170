// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/measured_curve.h"

#include "evaluate/mapping.h"

#include <algorithm>

namespace jointer::evaluate {

Curve curveFromColumns(const Table& table, const Dataset& d, std::vector<Issue>& issues) {
    const MappingKind* kind = mappingCatalogue().find(d.source.kind);
    if (!kind) {
        issues.push_back({"unknown-kind",
                          "The dataset “" + d.name + "” is of the kind “" + d.source.kind +
                              "”, which this version of Jointer does not know.",
                          {}});
        return {};
    }
    if (!kind->saysWhatItLacks) {
        auto check = checkedSource(*kind, table, d.source);
        std::ranges::move(check.issues, std::back_inserter(issues));
    }
    return kind->curve(table, d, issues);
}

} // namespace jointer::evaluate
