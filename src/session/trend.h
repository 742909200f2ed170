// SPDX-License-Identifier: GPL-3.0-or-later
// How a quantity goes with an attribute over the curves of a run.
#pragma once

#include "session/recipe_run.h"

#include <optional>

namespace jointer {

// A number that several curves have: "centre" of "1", of the analysis "Peaks".
struct TrendQuantity {
    std::string analysis, quantity, subject, unit;
    std::string name() const; // "centre of peak 1"
    bool operator==(const TrendQuantity&) const = default;
};

// The number of an attribute and its unit, also of a text such as "28 d".
std::optional<std::pair<double, std::string>> numberOf(const std::vector<Attribute>& attributes,
                                                       const std::string& name);

// Those that at least two curves have, in the order in which they are told.
std::vector<TrendQuantity> trendQuantities(const std::vector<const RunCurve*>& curves);

// The attributes of which at least two curves have a number, then the empty name for the order of the curves, then
// those that put the curves into some groups.
std::vector<std::string> trendAttributes(const std::vector<const RunCurve*>& curves);

// A row for each curve that has both: its name, the attribute (a number or the name of its group), the value and its
// error.
Table trendTable(const std::vector<const RunCurve*>& curves, const TrendQuantity& quantity,
                 const std::string& attribute);

// The table and a dataset over it join the project.
Edit keepTrend(Table trend);

} // namespace jointer
