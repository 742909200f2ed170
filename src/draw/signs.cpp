// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/signs.h"

#include "base/text.h"

#include <algorithm>
#include <map>

namespace jointer::draw {

const std::vector<Sign>& signs() {
    static constexpr std::string_view greek = "Greek", capital = "Greek capitals", relation = "Relations",
                                      operation = "Operations", arrow = "Arrows", other = "Other signs";
    static const std::vector<Sign> all = {
        {"alpha", "α", greek},
        {"beta", "β", greek},
        {"gamma", "γ", greek},
        {"delta", "δ", greek},
        {"epsilon", "ε", greek, "", "varepsilon"},
        {"varepsilon", "ε", ""},
        {"zeta", "ζ", greek},
        {"eta", "η", greek},
        {"theta", "θ", greek},
        {"vartheta", "ϑ", greek, "theta"},
        {"iota", "ι", greek},
        {"kappa", "κ", greek},
        {"lambda", "λ", greek, "wavelength"},
        {"mu", "μ", greek},
        {"nu", "ν", greek, "frequency"},
        {"xi", "ξ", greek},
        {"omicron", "ο", greek, "", "o"},
        {"pi", "π", greek},
        {"rho", "ρ", greek, "density"},
        {"sigma", "σ", greek},
        {"varsigma", "ς", greek, "sigma"},
        {"tau", "τ", greek},
        {"upsilon", "υ", greek},
        {"phi", "φ", greek, "", "varphi"},
        {"varphi", "φ", ""},
        {"chi", "χ", greek},
        {"psi", "ψ", greek},
        {"omega", "ω", greek},
        {"Gamma", "Γ", capital},
        {"Delta", "Δ", capital, "difference"},
        {"Theta", "Θ", capital},
        {"Lambda", "Λ", capital},
        {"Xi", "Ξ", capital},
        {"Pi", "Π", capital},
        {"Sigma", "Σ", capital},
        {"Upsilon", "Υ", capital},
        {"Phi", "Φ", capital},
        {"Psi", "Ψ", capital},
        {"Omega", "Ω", capital},
        {"le", "≤", relation, "less or equal", "leq"},
        {"leq", "≤", ""},
        {"ge", "≥", relation, "greater or equal", "geq"},
        {"geq", "≥", ""},
        {"ne", "≠", relation, "not equal", "neq"},
        {"neq", "≠", ""},
        {"ll", "≪", relation, "much less"},
        {"gg", "≫", relation, "much greater"},
        {"approx", "≈", relation, "about"},
        {"sim", "∼", relation, "similar about"},
        {"simeq", "≃", relation},
        {"equiv", "≡", relation, "identical"},
        {"propto", "∝", relation, "proportional"},
        {"in", "∈", relation, "element"},
        {"perp", "⊥", relation, "perpendicular"},
        {"parallel", "∥", relation},
        {"times", "×", operation, "multiply"},
        {"cdot", "·", operation, "dot multiply"},
        {"div", "÷", operation, "divide"},
        {"pm", "±", operation, "plus minus error"},
        {"mp", "∓", operation, "minus plus"},
        {"minus", "−", operation, "", "-"},
        {"ast", "∗", operation, "star significant"},
        {"circ", "∘", operation, "circle"},
        {"bullet", "•", operation, "dot"},
        {"oplus", "⊕", operation},
        {"otimes", "⊗", operation},
        {"partial", "∂", operation, "derivative"},
        {"nabla", "∇", operation, "gradient"},
        {"to", "→", arrow, "right"},
        {"rightarrow", "→", ""},
        {"leftarrow", "←", arrow, "left"},
        {"uparrow", "↑", arrow, "up rises"},
        {"downarrow", "↓", arrow, "down falls"},
        {"leftrightarrow", "↔", arrow, "both"},
        {"Rightarrow", "⇒", arrow, "follows"},
        {"rightleftharpoons", "⇌", arrow, "equilibrium reversible"},
        {"infinity", "∞", other, "infty", "infty"},
        {"infty", "∞", ""},
        {"degree", "°", other, "angle temperature", "{}^\\circ"},
        {"celsius", "°C", other, "temperature degree", "{}^\\circ\\mathrm{C}"},
        {"angstrom", "Å", other, "length", "!\\AA{}"},
        {"AA", "Å", "", "", "!\\AA{}"},
        {"micro", "µ", other, "prefix", "!\\textmu{}"},
        {"permil", "‰", other, "per mille thousand salinity", "!\\textperthousand{}"},
        {"ohm", "Ω", other, "resistance", "Omega"},
        {"hbar", "ħ", other, "Planck"},
        {"ell", "ℓ", other, "litre length"},
        {"prime", "′", other, "minute feet", "{}'"},
        {"dots", "…", other, "ellipsis", "!\\dots{}"},
        {"ldots", "…", "", "", "!\\dots{}"},
        {"cdots", "⋯", other, "ellipsis"},
        {"dagger", "†", other, "", "!\\dag{}"},
        {"ddagger", "‡", other, "", "!\\ddag{}"},
        {"S", "§", other, "section", "!\\S{}"},
        {"angle", "∠", other},
        {"emptyset", "∅", other, "diameter empty"},
        {"forall", "∀", other},
        {"exists", "∃", other},
        {"sqrt", "√", "", "", "surd"},
        {"quad", "\u2003", "", "", "!\\quad{}"},
        {",", "\u2009", "", "", "!\\,"},
        {" ", " ", "", "", "!\\ "},
        {"\\", "\\", "", "", "!\\textbackslash{}"},
        {"{", "{", "", "", "!\\{"},
        {"}", "}", "", "", "!\\}"},
        {"^", "^", "", "", "!\\^{}"},
        {"_", "_", "", "", "!\\_"},
        {"%", "%", "", "", "!\\%"},
        {"&", "&", "", "", "!\\&"},
        {"#", "#", "", "", "!\\#"},
        {"$", "$", "", "", "!\\$"}};
    return all;
}

namespace {

using ByText = std::map<std::string_view, const Sign*>;

ByText by(std::string_view Sign::*key) {
    ByText out;
    for (const Sign& sign : signs()) out.emplace(sign.*key, &sign);
    return out;
}

const Sign* in(const ByText& all, std::string_view text) {
    const auto at = all.find(text);
    return at == all.end() ? nullptr : at->second;
}

} // namespace

const Sign* signNamed(std::string_view name) {
    static const ByText all = by(&Sign::name);
    return in(all, name);
}

const Sign* signOf(std::string_view character) {
    static const ByText all = by(&Sign::character);
    return in(all, character);
}

std::vector<const Sign*> signsLike(std::string_view text) {
    const std::string wanted = lowerAscii(text);
    std::vector<const Sign*> begins, holds;
    for (const Sign& sign : signs()) {
        if (sign.group.empty()) continue;
        const std::string name = lowerAscii(sign.name), words = " " + lowerAscii(sign.words);
        if (name.starts_with(wanted) || words.find(" " + wanted) != words.npos || sign.character == text)
            begins.push_back(&sign);
        else if (name.find(wanted) != name.npos)
            holds.push_back(&sign);
    }
    begins.insert(begins.end(), holds.begin(), holds.end());
    return begins;
}

} // namespace jointer::draw
