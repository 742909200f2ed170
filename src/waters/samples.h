// SPDX-License-Identifier: GPL-3.0-or-later
// Water samples from columns of amounts: charges, their balance, what the diagrams show, types and ratios.
// Thread-safe.
#pragma once

#include "waters/ions.h"

#include <array>

namespace jointer::waters {

// Amounts of one ion in all samples.
struct Amounts {
    const Ion* ion = nullptr;
    double toMillimoles = 1;      // from the values
    std::vector<double> values;   // NaN: not known
    std::vector<double> limits{}; // a limit below which the value lies; NaN: none; empty: none at all
};

enum class BelowLimit { Half, Limit, Zero, Missing };
BelowLimit belowLimitFrom(std::string_view key); // "half" | "limit" | "zero" | "missing"; anything else is half

struct Rules {
    BelowLimit below = BelowLimit::Half;
    bool othersWithChloride = true; // nitrate, fluoride and bromide share the corner of chloride; else only balance
    double balanceLimit = 5;        // per cent
};

// What the corners of the diagrams stand for, in meq/L.
enum class Part { Ca, Mg, NaK, Cl, SO4, Carbonate };
inline constexpr std::size_t kParts = 6;

struct Sample {
    std::array<double, kParts> parts{}; // meq/L
    double cations = 0, anions = 0;     // meq/L, of all ions
    double milligrams = 0;              // Σ of all, mg/L, bicarbonate as the carbonate that drying leaves
    double sodium = 0, chloride = 0;    // meq/L, alone
    std::vector<const Ion*> missing{};  // measured elsewhere, but not here
    std::vector<const Ion*> limited{};  // below a limit

    double of(Part p) const { return parts[static_cast<std::size_t>(p)]; }
    bool isWhole() const;   // none of the needed ions is missing; others count as zero where they are
    double balance() const; // 100 (Σc − Σa)/(Σc + Σa); NaN where both are zero, or it is not whole
    bool canBePlaced() const; // whole, and both triangles have something to share
};

// A sample for each row. Cost: linear.
std::vector<Sample> samplesOf(std::span<const Amounts> amounts, const Rules& rules);

// 100 (Σ cations − Σ anions)/(Σ cations + Σ anions), sums in meq/L; NaN where both are zero.
double chargeBalance(double cations, double anions);

// Parts of one, of cations (Ca, Mg, Na + K) and of anions (Cl, SO4, carbonate). NaN without any.
std::array<double, 3> cationShares(const Sample& s);
std::array<double, 3> anionShares(const Sample& s);

// The fields of the triangles: the ion that makes up more than half, or none.
enum class Dominant { Calcium, Magnesium, Alkalis, Chloride, Sulfate, Carbonate, None };
Dominant dominantCation(const std::array<double, 3>& shares);
Dominant dominantAnion(const std::array<double, 3>& shares);
std::string_view wordOf(Dominant d); // "calcium", "sodium and potassium", "none dominant"

// The fields of the diamond, by the alkaline earths' share e of cations and the weak acids' share w of anions.
// Source: A. M. Piper, A graphic procedure in the geochemical interpretation of water analyses, Trans. AGU 25
// (1944) 914: pairs that exceed one half, and what is between.
enum class Facies {
    EarthsWeak,    // e ≥ ½, w ≥ ½: carbonate hardness exceeds one half
    EarthsStrong,  // e − w ≥ ½: other hardness does
    AlkalisStrong, // e < ½, w < ½: salts of alkalis with strong acids do
    AlkalisWeak,   // w − e ≥ ½: carbonate of alkalis does
    MixedHard,     // between, e ≥ ½
    MixedSoft      // between, e < ½
};
Facies faciesOf(double earths, double weakAcids);
std::string_view wordOf(Facies f);

// "Ca–Mg–HCO₃": ions with at least a fifth of their side's charges, most first, cations before anions. Plain text.
std::string typeOf(const Sample& s);

// The usual ratios. NaN where what they need is not there.
struct Ratios {
    double hardness;          // mg/L as CaCO3, of calcium, magnesium
    double carbonateHardness; // mg/L as CaCO3
    double sodiumAdsorption;  // Na/√((Ca + Mg)/2), (meq/L)^½
    double residualCarbonate; // (HCO3 + CO3) − (Ca + Mg), meq/L
    double sodiumShare;       // % of cations, with potassium
    double sodiumToChloride;  // of charges
    double dissolvedSolids;   // mg/L
};
Ratios ratiosOf(const Sample& s);

} // namespace jointer::waters
