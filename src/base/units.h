// SPDX-License-Identifier: GPL-3.0-or-later
// Units of measurement: read in the many ways that people spell them, multiplied, and converted into each
// other. A word that is not known stands for a quantity of its own ("shells", "a.u."), so nothing is refused
// for its name. Values, thread-safe. Example: `*conversion(*Unit::parse("mg/L"), *Unit::parse("g m-3"))`
// is 1.
#pragma once

#include "base/issue.h"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace jointer {

// Powers of base quantities by their names: "m", "kg", "s", "A", "K", "mol", "cd", and words of their own.
using Dimension = std::map<std::string, double>;

class Unit {
public:
    Unit() = default; // of plain numbers
    // "mg/L", "mg L-1", "mg·L⁻¹", "W/(m2 K)", "kJ mol^{-1}", "µmol/g/h", "km2", "%". What follows a slash is
    // below it, up to the next one: "J/mol K" is J/(mol K).
    // Errors: "unit" with the sign where it cannot be read on.
    static Result<Unit> parse(std::string_view text);

    Unit times(const Unit& other, double power = 1) const; // what cancels is gone; spellings stay
    Unit raised(double power) const { return Unit().times(*this, power); }

    bool isNone() const { return factors_.empty(); }
    double inBase() const; // one of it in metres, kilograms, seconds …; Units: those of dimension()
    Dimension dimension() const;
    bool isRatio() const { return dimension().empty(); } // such as % or mm/m

    // As it is written where it stands beside numbers: "mg/L", "J/(mol K)", "1/h", "cm^{2}".
    std::string text() const;

    // The same with factors of one sort made one, as in "mL/L" (→ a number) or "h min"; `scale` times the
    // number is the number in the new unit.
    struct Gathered;
    Gathered gathered() const;

private:
    struct Factor {
        std::string symbol;
        double power = 1, inBase = 1;
        Dimension dimension{};
        double zeroAt = 0; // of °C and °F: where their zero lies in K
    };
    friend class UnitReader;
    friend std::optional<std::pair<double, double>> affineConversion(const Unit&, const Unit&);

    std::vector<Factor> factors_;
};

struct Unit::Gathered {
    Unit unit;
    double scale = 1;
};

// By what a number in `from` is multiplied to be one in `to`; none where they measure different things, or
// where their zeros differ (°C and K).
std::optional<double> conversion(const Unit& from, const Unit& to);
// Factor and summand, also between scales of temperature.
std::optional<std::pair<double, double>> affineConversion(const Unit& from, const Unit& to);

// "a mass per volume (mg/L)" is not told; the unit in quotes, or "a plain number".
std::string unitInWords(const Unit& unit);

} // namespace jointer
