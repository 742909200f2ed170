// SPDX-License-Identifier: GPL-3.0-or-later
#include "waters/samples.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace jointer::waters {

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
constexpr double kHardnessMass = 100.086 / 2; // g of CaCO3 for one mole of charge
constexpr double kTypeShare = 0.2;

std::optional<Part> partOf(std::string_view ion, bool othersWithChloride) {
    if (ion == "Ca" || ion == "Sr") return Part::Ca;
    if (ion == "Mg") return Part::Mg;
    if (ion == "Na" || ion == "K" || ion == "NH4") return Part::NaK;
    if (ion == "Cl") return Part::Cl;
    if (ion == "SO4") return Part::SO4;
    if (ion == "HCO3" || ion == "CO3") return Part::Carbonate;
    if (othersWithChloride && (ion == "NO3" || ion == "F" || ion == "Br")) return Part::Cl;
    return {};
}

double ofRule(double limit, BelowLimit rule) {
    switch (rule) {
    case BelowLimit::Half: return limit / 2;
    case BelowLimit::Limit: return limit;
    case BelowLimit::Zero: return 0;
    case BelowLimit::Missing: break;
    }
    return kNaN;
}

void take(Sample& s, const Amounts& a, std::size_t row, const Rules& rules) {
    double value = row < a.values.size() ? a.values[row] : kNaN;
    if (row < a.limits.size() && std::isfinite(a.limits[row])) {
        value = ofRule(a.limits[row], rules.below);
        s.limited.push_back(a.ion);
    }
    const double millimoles = value * a.toMillimoles;
    if (!std::isfinite(millimoles) || millimoles < 0) return void(s.missing.push_back(a.ion));
    const double charges = millimoles * equivalentsOf(*a.ion);
    if (a.ion->charge > 0) s.cations += charges;
    if (a.ion->charge < 0) s.anions += charges;
    if (a.ion->key == "Na") s.sodium += charges;
    if (a.ion->key == "Cl") s.chloride += charges;
    // On drying 2 HCO3⁻ leave CO3²⁻.
    const double mass = a.ion->key == "HCO3" ? findIon("CO3")->molarMass / 2 : a.ion->molarMass;
    s.milligrams += millimoles * mass;
    if (const auto part = partOf(a.ion->key, rules.othersWithChloride))
        s.parts[static_cast<std::size_t>(*part)] += charges;
}

std::array<double, 3> shares(double a, double b, double c) {
    const double sum = a + b + c;
    if (!(sum > 0)) return {kNaN, kNaN, kNaN};
    return {a / sum, b / sum, c / sum};
}

Dominant dominant(const std::array<double, 3>& of, std::array<Dominant, 3> names) {
    for (std::size_t k = 0; k < 3; ++k)
        if (of[k] > 0.5) return names[k];
    return Dominant::None;
}

} // namespace

BelowLimit belowLimitFrom(std::string_view key) {
    return key == "limit" ? BelowLimit::Limit : key == "zero" ? BelowLimit::Zero : key == "missing" ? BelowLimit::Missing : BelowLimit::Half;
}

bool Sample::isWhole() const {
    return std::ranges::none_of(missing, &Ion::needed);
}

double Sample::balance() const {
    return isWhole() ? chargeBalance(cations, anions) : kNaN;
}

bool Sample::canBePlaced() const {
    return isWhole() && of(Part::Ca) + of(Part::Mg) + of(Part::NaK) > 0 &&
           of(Part::Cl) + of(Part::SO4) + of(Part::Carbonate) > 0;
}

std::vector<Sample> samplesOf(std::span<const Amounts> amounts, const Rules& rules) {
    std::size_t rows = 0;
    for (const Amounts& a : amounts) rows = std::max(rows, a.values.size());
    std::vector<Sample> out(rows);
    for (std::size_t row = 0; row < rows; ++row)
        for (const Amounts& a : amounts) take(out[row], a, row, rules);
    return out;
}

double chargeBalance(double cations, double anions) {
    const double sum = cations + anions;
    return sum > 0 ? 100 * (cations - anions) / sum : kNaN;
}

std::array<double, 3> cationShares(const Sample& s) {
    return shares(s.of(Part::Ca), s.of(Part::Mg), s.of(Part::NaK));
}

std::array<double, 3> anionShares(const Sample& s) {
    return shares(s.of(Part::Cl), s.of(Part::SO4), s.of(Part::Carbonate));
}

Dominant dominantCation(const std::array<double, 3>& of) {
    return dominant(of, {Dominant::Calcium, Dominant::Magnesium, Dominant::Alkalis});
}

Dominant dominantAnion(const std::array<double, 3>& of) {
    return dominant(of, {Dominant::Chloride, Dominant::Sulfate, Dominant::Carbonate});
}

std::string_view wordOf(Dominant d) {
    switch (d) {
    case Dominant::Calcium: return "calcium";
    case Dominant::Magnesium: return "magnesium";
    case Dominant::Alkalis: return "sodium and potassium";
    case Dominant::Chloride: return "chloride";
    case Dominant::Sulfate: return "sulfate";
    case Dominant::Carbonate: return "bicarbonate";
    case Dominant::None: break;
    }
    return "none dominant";
}

Facies faciesOf(double e, double w) {
    if (e >= 0.5 && w >= 0.5) return Facies::EarthsWeak;
    if (e < 0.5 && w < 0.5) return Facies::AlkalisStrong;
    if (e >= 0.5) return e - w >= 0.5 ? Facies::EarthsStrong : Facies::MixedHard;
    return w - e >= 0.5 ? Facies::AlkalisWeak : Facies::MixedSoft;
}

std::string_view wordOf(Facies f) {
    switch (f) {
    case Facies::EarthsWeak: return "calcium–magnesium bicarbonate";
    case Facies::EarthsStrong: return "calcium–magnesium chloride and sulfate";
    case Facies::AlkalisStrong: return "sodium chloride and sulfate";
    case Facies::AlkalisWeak: return "sodium bicarbonate";
    case Facies::MixedHard: return "mixed, rather hard";
    case Facies::MixedSoft: break;
    }
    return "mixed, rather soft";
}

std::string typeOf(const Sample& s) {
    struct Named {
        std::string_view name;
        double share;
    };
    const auto c = cationShares(s), a = anionShares(s);
    std::array<Named, 3> cations{Named{"Ca", c[0]}, {"Mg", c[1]}, {"Na", c[2]}},
        anions{Named{"Cl", a[0]}, {"SO₄", a[1]}, {"HCO₃", a[2]}};
    std::string out;
    for (auto* side : {&cations, &anions}) {
        std::ranges::stable_sort(*side, std::greater{}, &Named::share);
        for (const Named& n : *side)
            if (n.share >= kTypeShare) out += (out.empty() ? "" : "–") + std::string(n.name);
    }
    return out;
}

Ratios ratiosOf(const Sample& s) {
    const double earths = s.of(Part::Ca) + s.of(Part::Mg), weak = s.of(Part::Carbonate);
    const double cations = earths + s.of(Part::NaK);
    return {.hardness = kHardnessMass * earths,
            .carbonateHardness = kHardnessMass * std::min(earths, weak),
            .sodiumAdsorption = earths > 0 ? s.sodium / std::sqrt(earths / 2) : kNaN,
            .residualCarbonate = weak - earths,
            .sodiumShare = cations > 0 ? 100 * s.of(Part::NaK) / cations : kNaN,
            .sodiumToChloride = s.chloride > 0 ? s.sodium / s.chloride : kNaN,
            .dissolvedSolids = s.milligrams};
}

} // namespace jointer::waters
