// SPDX-License-Identifier: GPL-3.0-or-later
// Source of the factors: the SI brochure (9th edition, 2019) and its tables of non-SI units; US customary
// units by their definitions in the inch (0.0254 m), the pound (0.453 592 37 kg) and the gallon (231 in³).
#include "base/known_units.h"

#include <numbers>

namespace jointer {

namespace {

const Dimension kNone{}, kLength{{"m", 1}}, kArea{{"m", 2}}, kVolume{{"m", 3}}, kMass{{"kg", 1}},
    kTime{{"s", 1}}, kRate{{"s", -1}}, kCurrent{{"A", 1}}, kTemperature{{"K", 1}}, kAmount{{"mol", 1}},
    kSpeed{{"m", 1}, {"s", -1}}, kForce{{"kg", 1}, {"m", 1}, {"s", -2}},
    kEnergy{{"kg", 1}, {"m", 2}, {"s", -2}}, kPower{{"kg", 1}, {"m", 2}, {"s", -3}},
    kPressure{{"kg", 1}, {"m", -1}, {"s", -2}}, kCharge{{"A", 1}, {"s", 1}},
    kVoltage{{"kg", 1}, {"m", 2}, {"s", -3}, {"A", -1}},
    kResistance{{"kg", 1}, {"m", 2}, {"s", -3}, {"A", -2}},
    kConductance{{"kg", -1}, {"m", -2}, {"s", 3}, {"A", 2}},
    kCapacitance{{"kg", -1}, {"m", -2}, {"s", 4}, {"A", 2}}, kFlux{{"kg", 1}, {"m", 2}, {"s", -2}, {"A", -1}},
    kField{{"kg", 1}, {"s", -2}, {"A", -1}}, kInductance{{"kg", 1}, {"m", 2}, {"s", -2}, {"A", -2}},
    kConcentration{{"mol", 1}, {"m", -3}}, kViscosity{{"kg", 1}, {"m", -1}, {"s", -1}},
    kDose{{"m", 2}, {"s", -2}}, kCatalysis{{"mol", 1}, {"s", -1}};

constexpr double kMinute = 60, kHour = 3600, kDay = 86400, kYear = 365.25 * kDay, kInch = 0.0254,
                 kFoot = 12 * kInch, kPound = 0.45359237, kGallon = 231 * kInch * kInch * kInch,
                 kCalorie = 4.184, kAtmosphere = 101325, kElectronvolt = 1.602176634e-19,
                 kDalton = 1.66053906660e-27;

const std::map<std::string, KnownUnit, std::less<>>& knownUnits() {
    static const std::map<std::string, KnownUnit, std::less<>> all = [] {
        std::map<std::string, KnownUnit, std::less<>> out;
        const auto add = [&](std::initializer_list<const char*> spellings, double inBase,
                             const Dimension& dimension, bool prefixes = false) {
            for (const char* s : spellings)
                out[s] = {inBase, dimension, prefixes, 0,
                          std::string_view(s).size() > 3 ? *spellings.begin() : nullptr};
        };
        add({"m", "metre", "metres", "meter", "meters"}, 1, kLength, true);
        add({"g", "gram", "grams", "gramme", "grammes"}, 1e-3, kMass, true);
        add({"s", "sec", "secs", "second", "seconds"}, 1, kTime, true);
        add({"A", "amp", "amps", "ampere", "amperes"}, 1, kCurrent, true);
        add({"K", "kelvin", "kelvins"}, 1, kTemperature, true);
        add({"mol", "mole", "moles", "mols"}, 1, kAmount, true);
        add({"cd", "candela"}, 1, {{"cd", 1}}, true);
        add({"lm", "lumen"}, 1, {{"cd", 1}}, true);
        add({"lx", "lux"}, 1, {{"cd", 1}, {"m", -2}}, true);
        add({"Hz", "hertz"}, 1, kRate, true);
        add({"Bq", "becquerel"}, 1, kRate, true);
        add({"N", "newton", "newtons"}, 1, kForce, true);
        add({"Pa", "pascal", "pascals"}, 1, kPressure, true);
        add({"J", "joule", "joules"}, 1, kEnergy, true);
        add({"W", "watt", "watts"}, 1, kPower, true);
        add({"C", "coulomb", "coulombs"}, 1, kCharge, true);
        add({"V", "volt", "volts"}, 1, kVoltage, true);
        add({"F", "farad"}, 1, kCapacitance, true);
        add({"Ω", "\u2126", "ohm", "Ohm", "ohms"}, 1, kResistance, true);
        add({"S", "siemens", "Siemens"}, 1, kConductance, true);
        add({"Wb", "weber"}, 1, kFlux, true);
        add({"T", "tesla"}, 1, kField, true);
        add({"H", "henry"}, 1, kInductance, true);
        add({"Gy", "gray", "Sv", "sievert"}, 1, kDose, true);
        add({"kat", "katal"}, 1, kCatalysis, true);
        add({"L", "l", "ℓ", "litre", "litres", "liter", "liters"}, 1e-3, kVolume, true);
        add({"M", "molar"}, 1e3, kConcentration, true);
        add({"bar", "bars"}, 1e5, kPressure, true);
        add({"eV"}, kElectronvolt, kEnergy, true);
        add({"cal"}, kCalorie, kEnergy, true);
        add({"Da", "dalton"}, kDalton, kMass, true);
        add({"G", "gauss"}, 1e-4, kField, true);
        add({"Wh"}, kHour, kEnergy, true);
        add({"P", "poise"}, 0.1, kViscosity, true);
        add({"St", "stokes"}, 1e-4, {{"m", 2}, {"s", -1}}, true);
        add({"t", "tonne", "tonnes"}, 1e3, kMass, true);
        add({"eq", "Eq"}, 1, {{"eq", 1}}, true);
        add({"Ci", "curie"}, 3.7e10, kRate, true);
        add({"min", "mins", "minute", "minutes"}, kMinute, kTime);
        add({"h", "hr", "hrs", "hour", "hours"}, kHour, kTime);
        add({"d", "day", "days"}, kDay, kTime);
        add({"wk", "week", "weeks"}, 7 * kDay, kTime);
        add({"month", "months"}, kYear / 12, kTime);
        add({"a", "yr", "yrs", "year", "years"}, kYear, kTime);
        add({"ka", "kyr"}, 1e3 * kYear, kTime);
        add({"Ma", "Myr"}, 1e6 * kYear, kTime);
        add({"Å", "\u212B", "angstrom", "Angstrom", "angstroms"}, 1e-10, kLength);
        add({"micron", "microns"}, 1e-6, kLength);
        add({"in", "inch", "inches"}, kInch, kLength);
        add({"ft", "foot", "feet"}, kFoot, kLength);
        add({"yd", "yard", "yards"}, 3 * kFoot, kLength);
        add({"mi", "mile", "miles"}, 5280 * kFoot, kLength);
        add({"nmi"}, 1852, kLength);
        add({"ha", "hectare", "hectares"}, 1e4, kArea);
        add({"acre", "acres"}, 43560 * kFoot * kFoot, kArea);
        add({"cc", "ccm"}, 1e-6, kVolume);
        add({"gal", "gallon", "gallons"}, kGallon, kVolume);
        add({"cfs"}, kFoot * kFoot * kFoot, {{"m", 3}, {"s", -1}});
        add({"kn", "knot", "knots"}, 1852 / kHour, kSpeed);
        add({"kph"}, 1000 / kHour, kSpeed);
        add({"mph"}, 5280 * kFoot / kHour, kSpeed);
        add({"lb", "lbs", "pound", "pounds"}, kPound, kMass);
        add({"oz", "ounce", "ounces"}, kPound / 16, kMass);
        add({"amu"}, kDalton, kMass);
        add({"atm"}, kAtmosphere, kPressure);
        add({"Torr", "torr"}, kAtmosphere / 760, kPressure);
        add({"mmHg"}, 133.322387415, kPressure);
        add({"psi"}, kPound * 9.80665 / (kInch * kInch), kPressure);
        add({"dyn", "dyne"}, 1e-5, kForce);
        add({"erg", "ergs"}, 1e-7, kEnergy);
        add({"rpm"}, 1 / kMinute, kRate);
        add({"dpm"}, 1 / kMinute, {{"counts", 1}, {"s", -1}});
        add({"cpm"}, 1 / kMinute, {{"counts", 1}, {"s", -1}});
        add({"cps"}, 1, {{"counts", 1}, {"s", -1}});
        add({"counts", "count", "cts"}, 1, {{"counts", 1}});
        add({"U"}, 1e-6 / kMinute, kCatalysis);
        add({"mU"}, 1e-9 / kMinute, kCatalysis);
        add({"%", "percent", "wt%", "mol%", "vol%", "at%"}, 1e-2, kNone);
        add({"‰", "permil", "permille"}, 1e-3, kNone);
        add({"ppm"}, 1e-6, kNone);
        add({"ppb"}, 1e-9, kNone);
        add({"rad", "radian", "radians"}, 1, kNone);
        add({"mrad"}, 1e-3, kNone);
        add({"sr"}, 1, kNone);
        add({"°", "deg", "degree", "degrees", "°2θ"}, std::numbers::pi / 180, kNone);
        add({"arcmin"}, std::numbers::pi / 10800, kNone);
        add({"arcsec"}, std::numbers::pi / 648000, kNone);
        for (const char* s : {"pH", "pK"}) out[s] = {1, {{s, 1}}}; // no henry
        for (const char* s : {"°C", "℃", "degC", "celsius", "Celsius"})
            out[s] = {1, kTemperature, false, 273.15, "°C"};
        for (const char* s : {"°F", "degF", "fahrenheit"})
            out[s] = {5.0 / 9, kTemperature, false, 273.15 - 32 * 5.0 / 9, "°F"};
        return out;
    }();
    return all;
}

constexpr std::pair<std::string_view, double> kPrefixes[] = {
    {"da", 1e1},  {"µ", 1e-6},  {"\u03bc", 1e-6}, {"u", 1e-6}, {"Y", 1e24}, {"Z", 1e21},
    {"E", 1e18},  {"P", 1e15},  {"T", 1e12},      {"G", 1e9},  {"M", 1e6},  {"k", 1e3},
    {"h", 1e2},   {"d", 1e-1},  {"c", 1e-2},      {"m", 1e-3}, {"n", 1e-9}, {"p", 1e-12},
    {"f", 1e-15}, {"a", 1e-18}, {"z", 1e-21},     {"y", 1e-24}};

} // namespace

std::optional<KnownUnit> knownUnit(std::string_view word) {
    const auto& all = knownUnits();
    if (const auto at = all.find(word); at != all.end()) return at->second;
    for (const auto& [prefix, factor] : kPrefixes) {
        if (!word.starts_with(prefix) || word.size() == prefix.size()) continue;
        const auto at = all.find(word.substr(prefix.size()));
        if (at == all.end() || !at->second.prefixes || at->second.shown) continue; // "mmetre" is none
        KnownUnit out = at->second;
        out.inBase *= factor;
        return out;
    }
    return std::nullopt;
}

} // namespace jointer
