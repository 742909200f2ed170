// SPDX-License-Identifier: GPL-3.0-or-later
#include "waters/ions.h"

#include "base/text.h"

#include <algorithm>
#include <array>
#include <cctype>

namespace jointer::waters {

namespace {

constexpr auto kIons = std::to_array<Ion>({
    {"Ca", "Ca^{2+}", 2, 40.078, "calcium", true},
    {"Mg", "Mg^{2+}", 2, 24.305, "magnesium", true},
    {"Na", "Na^{+}", 1, 22.990, "sodium", true},
    {"K", "K^{+}", 1, 39.098, "potassium"},
    {"NH4", "NH_{4}^{+}", 1, 18.039, "ammonium"},
    {"Sr", "Sr^{2+}", 2, 87.62, "strontium"},
    {"Cl", "Cl^{-}", -1, 35.45, "chloride", true},
    {"SO4", "SO_{4}^{2-}", -2, 96.06, "sulfate", true},
    {"HCO3", "HCO_{3}^{-}", -1, 61.017, "bicarbonate", true},
    {"CO3", "CO_{3}^{2-}", -2, 60.009, "carbonate"},
    {"NO3", "NO_{3}^{-}", -1, 62.004, "nitrate"},
    {"F", "F^{-}", -1, 18.998, "fluoride"},
    {"Br", "Br^{-}", -1, 79.904, "bromide"},
    {"SiO2", "SiO_{2}", 0, 60.083, "silica"},
});

constexpr auto kWritten = std::to_array<WrittenAs>({{"N", 14.007, 0},
                                                    {"S", 32.06, 0},
                                                    {"Si", 28.085, 0},
                                                    {"SiO2", 60.083, 0},
                                                    {"CaCO3", 100.086, 2}});

struct Alias {
    std::string_view alias, key;
};
constexpr auto kAliases = std::to_array<Alias>({{"sulphate", "SO4"},
                                                {"hydrogencarbonate", "HCO3"},
                                                {"bicarb", "HCO3"},
                                                {"alkalinity", "HCO3"},
                                                {"alk", "HCO3"},
                                                {"totalalkalinity", "HCO3"},
                                                {"si", "SiO2"},
                                                {"silicon", "SiO2"},
                                                {"ammonia", "NH4"},
                                                {"natrium", "Na"},
                                                {"kalium", "K"}});

struct Replaced {
    std::string_view from, to;
};

// Small figures and signs as plain ones; markup goes.
std::string plainHeading(std::string_view text) {
    static constexpr auto signs = std::to_array<Replaced>(
        {{"⁰", "0"}, {"¹", "1"}, {"²", "2"}, {"³", "3"}, {"⁴", "4"}, {"⁺", "+"}, {"⁻", "-"}, {"₂", "2"},
         {"₃", "3"}, {"₄", "4"}, {"−", "-"}, {"–", "-"}, {"µ", "u"}, {"μ", "u"}, {"{", ""},  {"}", ""},
         {"_", ""},  {"^", ""}});
    std::string out(trimmed(text));
    for (const auto& [from, to] : signs)
        for (std::size_t at = 0; (at = out.find(from, at)) != out.npos; at += to.size())
            out.replace(at, from.size(), to);
    return lowerAscii(out);
}

bool isWord(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) != 0;
}

std::vector<std::string> wordsOf(std::string_view text) {
    std::vector<std::string> words;
    for (bool open = false; const char c : text) {
        if (isWord(c) && !open) words.emplace_back();
        open = isWord(c);
        if (open) words.back() += c;
    }
    return words;
}

const Ion* ionOfWord(const std::string& word) {
    for (const Alias& a : kAliases)
        if (a.alias == word) return findIon(a.key);
    const auto at = std::ranges::find_if(
        kIons, [&](const Ion& i) { return lowerAscii(i.key) == word || i.word == word; });
    return at == kIons.end() ? nullptr : &*at;
}

const WrittenAs* writtenAs(std::string_view lower) {
    const auto at =
        std::ranges::find_if(kWritten, [&](const WrittenAs& w) { return lowerAscii(w.key) == lower; });
    return at == kWritten.end() ? nullptr : &*at;
}

} // namespace

std::span<const Ion> knownIons() {
    return kIons;
}

const Ion* findIon(std::string_view key) {
    const auto at = std::ranges::find(kIons, key, &Ion::key);
    return at == kIons.end() ? nullptr : &*at;
}

const WrittenAs* findWrittenAs(std::string_view key) {
    return writtenAs(lowerAscii(key));
}

std::optional<IonName> ionNamed(std::string_view heading) {
    const std::string plain = plainHeading(heading);
    if (plain.empty() || !isWord(plain[0])) return {};
    const auto words = wordsOf(plain);
    std::string word = words[0];
    IonName named{.ion = ionOfWord(word)};
    std::size_t next = 1;
    if (!named.ion && words.size() > 1 && (named.ion = ionOfWord(word + words[1]))) {
        word += words[1];
        next = 2;
    }
    if (!named.ion && word.size() > 1 && std::isdigit(static_cast<unsigned char>(word.back())))
        named.ion = ionOfWord(word.substr(0, word.size() - 1)); // the figure of a charge: "ca2"
    if (!named.ion) return {};
    for (; next < words.size() && !named.as; ++next)
        named.as = writtenAs(words[next]);
    if (!named.as && word == "si") named.as = writtenAs("si");
    if (!named.as && (word.starts_with("alk") || word == "totalalkalinity")) {
        named.as = writtenAs("caco3");
        named.byConvention = true;
    }
    return named;
}

AmountUnit amountUnit(std::string_view unit) {
    AmountUnit out;
    const std::string plain = plainHeading(unit);
    for (std::size_t i = 0; i < plain.size();) {
        std::size_t end = i;
        while (end < plain.size() && isWord(plain[end])) ++end;
        if (end == i) {
            if (!std::isspace(static_cast<unsigned char>(plain[i])) && plain[i] != '*' && plain[i] != '(' &&
                plain[i] != ')')
                out.unit += plain[i];
            ++i;
            continue;
        }
        std::string word = plain.substr(i, end - i);
        i = end;
        const WrittenAs* as = writtenAs(word);
        for (const std::string_view mass : {"mg", "ug", "g"}) // "mgN"
            if (const auto rest = std::string_view(word).substr(std::min(mass.size(), word.size()));
                !as && word.starts_with(mass) && writtenAs(rest)) {
                out.as = writtenAs(rest);
                word = mass;
                break;
            }
        if (as)
            out.as = as;
        else if (word != "as")
            out.unit += word;
    }
    while (out.unit.ends_with('-')) out.unit.pop_back(); // "mg/L-N"
    for (const std::string_view between : {"-/", "·/"}) // "mg-N/L"
        if (const auto at = out.unit.find(between); at != out.unit.npos)
            out.unit.erase(at, between.size() - 1);
    return out;
}

std::optional<double> toMillimoles(const Ion& ion, std::string_view text, const WrittenAs* as) {
    const AmountUnit given = amountUnit(text);
    if (given.as) as = given.as;
    const double charge = equivalentsOf(ion);
    const double molesOfIon = as && as->equivalents > 0 ? (charge > 0 ? as->equivalents / charge : 1) : 1;
    const double mass = as ? as->molarMass / molesOfIon : ion.molarMass; // g for one mole of the ion
    struct Known {
        std::string_view unit;
        double factor;
    };
    for (const Known& k :
         {Known{"mg", 1 / mass}, Known{"ppm", 1 / mass}, Known{"g", 1000 / mass}, Known{"ug", 0.001 / mass},
          Known{"ppb", 0.001 / mass}, Known{"mmol", 1.0}, Known{"mol", 1000.0}, Known{"umol", 0.001},
          Known{"mm", 1.0}, Known{"um", 0.001}, Known{"meq", charge > 0 ? 1 / charge : 0},
          Known{"ueq", charge > 0 ? 0.001 / charge : 0}, Known{"mval", charge > 0 ? 1 / charge : 0}})
        for (const std::string_view per : {"/l", "l-1", "/dm3", "dm-3", "/litre", "/liter", ""}) {
            if (given.unit != std::string(k.unit) + std::string(per)) continue;
            const bool aloneMeans = k.unit == "ppm" || k.unit == "ppb" || k.unit == "mm" || k.unit == "um";
            if ((per.empty() && !aloneMeans) || !(k.factor > 0)) continue;
            return k.factor;
        }
    return std::nullopt;
}

} // namespace jointer::waters
