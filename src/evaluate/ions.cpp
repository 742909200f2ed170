// SPDX-License-Identifier: GPL-3.0-or-later
#include "evaluate/ions.h"

#include "base/text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <limits>

namespace jointer::evaluate {

namespace {

constexpr std::array<Ion, 9> kIons = {{{"Ca", "Ca^{2+}", 2, 40.078, "calcium"},
                                       {"Mg", "Mg^{2+}", 2, 24.305, "magnesium"},
                                       {"Na", "Na^{+}", 1, 22.990, "sodium"},
                                       {"K", "K^{+}", 1, 39.098, "potassium"},
                                       {"Cl", "Cl^{-}", -1, 35.45, "chloride"},
                                       {"SO4", "SO_{4}^{2-}", -2, 96.06, "sulfate"},
                                       {"HCO3", "HCO_{3}^{-}", -1, 61.017, "bicarbonate"},
                                       {"CO3", "CO_{3}^{2-}", -2, 60.009, "carbonate"},
                                       {"NO3", "NO_{3}^{-}", -1, 62.004, "nitrate"}}};

// The first word of a heading without markup: "Ca^{2+}" → "ca", "SO4--" → "so4", "Ca2+" → "ca2".
std::string ionWord(std::string_view heading) {
    std::string word;
    for (char c : trimmed(heading)) {
        if (c == '_' || c == '{' || c == '}') continue;
        if (!std::isalnum(static_cast<unsigned char>(c))) break;
        word += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    }
    return word;
}

} // namespace

std::span<const Ion> mainIons() {
    return kIons;
}

const Ion* findIon(std::string_view key) {
    const auto at = std::ranges::find(kIons, key, &Ion::key);
    return at == kIons.end() ? nullptr : &*at;
}

const Ion* ionNamed(std::string_view heading) {
    std::string word = ionWord(heading);
    if (word == "sulphate") word = "sulfate";
    if (word == "hydrogencarbonate") word = "bicarbonate";
    auto find = [&] {
        return std::ranges::find_if(
            kIons, [&](const Ion& i) { return lowerAscii(i.key) == word || i.word == word; });
    };
    auto at = find();
    if (at == kIons.end() && !word.empty() && std::isdigit(static_cast<unsigned char>(word.back()))) {
        word.pop_back(); // the figure of a charge: "ca2"
        at = find();
    }
    return at == kIons.end() ? nullptr : &*at;
}

std::optional<double> toMilliequivalents(const Ion& ion, std::string_view unit) {
    std::string u;
    for (std::string_view rest = unit; !rest.empty(); rest.remove_prefix(1))
        if (rest.starts_with("µ") || rest.starts_with("μ")) {
            u += 'u';
            rest.remove_prefix(1);
        } else if (std::string_view(" ^{}*·").find(rest[0]) == std::string_view::npos)
            u += static_cast<char>(std::tolower(static_cast<unsigned char>(rest[0])));
    const double charge = std::abs(ion.charge), mass = ion.molarMass;
    struct Known {
        std::string_view unit;
        double factor;
    };
    for (const Known& k : {Known{"mg", charge / mass},
                           {"ppm", charge / mass},
                           {"g", 1000 * charge / mass},
                           {"ug", charge / mass / 1000},
                           {"mmol", charge},
                           {"mol", 1000 * charge},
                           {"umol", charge / 1000},
                           {"meq", 1.0},
                           {"ueq", 0.001},
                           {"mm", charge}})
        for (std::string_view per : {"/l", "l-1", "/dm3", "dm-3", ""})
            if (u == std::string(k.unit) + std::string(per) &&
                (!per.empty() || k.unit == "ppm" || k.unit == "mm"))
                return k.factor;
    return std::nullopt;
}

double chargeBalance(double cations, double anions) {
    const double sum = cations + anions;
    return sum > 0 ? 100 * (cations - anions) / sum : std::numeric_limits<double>::quiet_NaN();
}

} // namespace jointer::evaluate
