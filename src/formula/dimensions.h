// SPDX-License-Identifier: GPL-3.0-or-later
// The unit that a formula has, from those of its names: products and powers multiply units, terms of a sum
// are told in the unit of the first, and what does not go together is named. Thread-safe. Example:
// `measured(*Expression::parse("d/t"), {{"d", *Unit::parse("km")}, {"t", *Unit::parse("h")}})` is in km/h.
#pragma once

#include "base/units.h"
#include "formula/expression.h"

#include <map>
#include <string>
#include <vector>

namespace jointer::formula {

struct Measured {
    Expression expression; // with the factors of conversion put in
    Unit unit;
    std::vector<std::string> clashes; // sentences; the number is then computed as if units were not there
    std::vector<std::string> taken;   // conversions that were made: "b (cm) is taken in mm"
};

// Plain numbers in a sum have the unit of the others; °C + 273.15 is K. Names without a unit are plain
// numbers.
Measured measured(const Expression& expression, const std::map<std::string, Unit>& units);

// The same, told in a unit that is wished for. A clash where it measures something else.
Measured measuredIn(Measured what, const Unit& wished);

// Physical constants by name, for formulas of derived numbers. Source: CODATA 2018.
struct PhysicalConstant {
    std::string_view name;
    double value;
    std::string_view unit, meaning;
    double relativeError = 0; // of those that are measured
};
const std::vector<PhysicalConstant>& physicalConstants();
const PhysicalConstant* findConstant(std::string_view name);

} // namespace jointer::formula
