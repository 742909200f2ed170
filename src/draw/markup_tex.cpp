// SPDX-License-Identifier: GPL-3.0-or-later
// Markup as LaTeX.
#include "base/text.h"
#include "draw/markup_tree.h"
#include "draw/signs.h"

#include <algorithm>
#include <fmt/format.h>
#include <utility>

namespace jointer::draw {

namespace {

std::string characterText(char32_t c) {
    std::string out;
    appendUtf8(out, c);
    return out;
}

// What the text fonts of TeX compose or have; Icelandic and Croatian letters they lack.
bool isLatin(char32_t c) {
    static constexpr std::u32string_view lacking = U"ÐðÞþĐđĦħıĸŊŋŦŧŉĿŀĲĳſ×÷ªº¤¦¨¯´¸¹²³¼½¾";
    return c >= 0xA1 && c <= 0x17F && lacking.find(c) == lacking.npos;
}

struct Spelling {
    char32_t character;
    std::string_view tex;
};

constexpr Spelling kSpellings[] = {{U'#', "\\#"},
                                   {U'$', "\\$"},
                                   {U'%', "\\%"},
                                   {U'&', "\\&"},
                                   {U'_', "\\_"},
                                   {U'{', "\\{"},
                                   {U'}', "\\}"},
                                   {U'~', "\\textasciitilde{}"},
                                   {U'^', "\\textasciicircum{}"},
                                   {U'\\', "\\textbackslash{}"},
                                   {U'<', "\\ensuremath{<}"},
                                   {U'>', "\\ensuremath{>}"},
                                   {U'|', "\\ensuremath{|}"},
                                   {U'"', "''"},
                                   {U'\u2212', "\\ensuremath{-}"},
                                   {U'\u2009', "\\,"},
                                   {U'\u202F', "\\,"},
                                   {U'\u00A0', "~"},
                                   {U'\u2013', "--"},
                                   {U'\u2014', "---"},
                                   {U'\u2018', "`"},
                                   {U'\u2019', "'"},
                                   {U'\u201C', "``"},
                                   {U'\u201D', "''"},
                                   {U'\u2026', "\\dots{}"},
                                   {U'¹', "\\ensuremath{^1}"},
                                   {U'²', "\\ensuremath{^2}"},
                                   {U'³', "\\ensuremath{^3}"},
                                   {U'\u2070', "\\ensuremath{^0}"},
                                   {U'\u207B', "\\ensuremath{^{-}}"},
                                   {U'\u2126', "\\ensuremath{\\Omega}"},
                                   {U'\u2003', "\\quad{}"},
                                   {U'\u2002', "\\enspace{}"},
                                   {U'\u2192', "\\ensuremath{\\rightarrow}"},
                                   {U'°', "\\ensuremath{^\\circ}"}};

std::optional<std::string> spelled(char32_t c) {
    if (const auto at = std::ranges::find(kSpellings, c, &Spelling::character); at != std::end(kSpellings))
        return std::string(at->tex);
    if (c < 0x20) return std::string(" ");
    if (c < 0x7F || isLatin(c)) {
        if (c == U'µ' || c == U'·' || c == U'±')
            return "\\ensuremath{" + std::string(c == U'µ' ? "\\mu" : c == U'·' ? "\\cdot" : "\\pm") + "}";
        return characterText(c);
    }
    if (c >= 0x2074 && c <= 0x2079)
        return "\\ensuremath{^" + std::string(1, static_cast<char>('4' + c - 0x2074)) + "}";
    if (c >= 0x2080 && c <= 0x2089)
        return "\\ensuremath{_" + std::string(1, static_cast<char>('0' + c - 0x2080)) + "}";
    if (c == U'Ω') return std::string("\\ensuremath{\\Omega}");
    const Sign* sign = signOf(characterText(c));
    if (!sign) return {};
    if (sign->tex.starts_with('!')) return std::string(sign->tex.substr(1));
    if (sign->tex.empty()) return "\\ensuremath{\\" + std::string(sign->name) + "}";
    const bool literal = sign->tex.starts_with('{') || sign->tex.size() == 1;
    return "\\ensuremath{" + std::string(literal ? "" : "\\") + std::string(sign->tex) + "}";
}

// Everything is text, in the font around it; only what text lacks is mathematics.
class TexWriter {
public:
    explicit TexWriter(double sizePt) : sizePt_(sizePt) {}

    std::optional<std::string> run(const MarkupNode& node) {
        std::string out = written(node);
        if (!known_) return {};
        return out;
    }

private:
    static constexpr double kInFraction = 0.75, kLimits = 0.7;

    std::string written(const MarkupNode& node) {
        switch (node.part) {
        case Part::Text:
            return characters(node.text);
        case Part::Row:
            return rowText(node);
        case Part::Scripts:
            return scriptsText(node);
        case Part::Fraction:
            return mathematics("\\frac{" + boxed(node.children[0], kInFraction) + "}{" +
                               boxed(node.children[1], kInFraction) + "}");
        case Part::Root:
            return mathematics(
                "\\sqrt" +
                (node.children[1].children.empty() ? "" : "[" + boxed(node.children[1], 0.55) + "]") + "{" +
                boxed(node.children[0], 1) + "}");
        case Part::Accent:
            return mathematics("\\" + node.text + "{" + boxed(node.children[0], 1) + "}");
        case Part::Operator:
            return mathematics(operatorName(node.text));
        case Part::Fence:
            return mathematics("\\left" + fenceMark(node.text) + boxed(node.children[0], 1) + "\\right" +
                               fenceMark(node.end));
        }
        return {};
    }

    static std::string mathematics(const std::string& inner) { return "\\ensuremath{" + inner + "}"; }
    static std::string operatorName(const std::string& sign) {
        return std::string("\\") + (sign == "∑"   ? "sum"
                                    : sign == "∏" ? "prod"
                                    : sign == "∮" ? "oint"
                                                  : "int");
    }
    static std::string fenceMark(const std::string& mark) {
        return mark.empty() ? "." : mark == "{" || mark == "}" ? "\\" + mark : mark;
    }

    // Text within mathematics, at a part of the size around it.
    std::string boxed(const MarkupNode& row, double part) {
        const double around = std::exchange(sizePt_, sizePt_ * part);
        const std::string inner = written(row);
        const std::string size =
            part == 1 ? "" : fmt::format("\\fontsize{{{0:.2f}}}{{{0:.2f}}}\\selectfont ", sizePt_);
        sizePt_ = around;
        return inner.empty() ? "{}" : "\\mbox{" + size + inner + "}";
    }

    // The longer one of two that stand above each other gives the width.
    std::string scriptsText(const MarkupNode& node) {
        const MarkupNode &up = node.children[0], &down = node.children[1];
        const double around = std::exchange(sizePt_, sizePt_ * kLimits);
        std::string above = up.children.empty() ? "" : "\\textsuperscript{" + written(up) + "}",
                    below = down.children.empty() ? "" : "\\textsubscript{" + written(down) + "}";
        sizePt_ = around;
        if (above.empty() || below.empty()) return above + below;
        const bool widerAbove = lengthOf(up) > lengthOf(down);
        return widerAbove ? "\\makebox[0pt][l]{" + below + "}" + above
                          : "\\makebox[0pt][l]{" + above + "}" + below;
    }
    static std::size_t lengthOf(const MarkupNode& node) {
        std::size_t n = decodeUtf8(node.text).size();
        for (const MarkupNode& child : node.children) n += lengthOf(child);
        return n;
    }

    std::string rowText(const MarkupNode& row) {
        std::string out;
        for (std::size_t k = 0; k < row.children.size(); ++k) {
            const MarkupNode& node = row.children[k];
            const bool limits = node.part == Part::Operator && k + 1 < row.children.size() &&
                                row.children[k + 1].part == Part::Scripts;
            out += limits ? withLimits(node, row.children[++k]) : written(node);
        }
        switch (row.style) {
        case Style::Same:
            return out;
        case Style::Bold:
            return "\\textbf{" + out + "}";
        case Style::Italic:
            return "\\textit{" + out + "}";
        case Style::Upright:
            return "\\textup{\\textmd{" + out + "}}";
        }
        return out;
    }

    std::string withLimits(const MarkupNode& sign, const MarkupNode& scripts) {
        const bool beside = sign.text == "∫" || sign.text == "∮";
        std::string out = operatorName(sign.text) + (beside ? "" : "\\limits");
        if (!scripts.children[0].children.empty()) out += "^{" + boxed(scripts.children[0], kLimits) + "}";
        if (!scripts.children[1].children.empty()) out += "_{" + boxed(scripts.children[1], kLimits) + "}";
        return mathematics(out);
    }

    std::string characters(const std::string& text) {
        std::string out;
        for (const char32_t c : decodeUtf8(withMinus(text))) {
            const auto tex = spelled(c);
            if (!tex) known_ = false;
            out += tex.value_or("?");
        }
        return out;
    }

    bool known_ = true;
    double sizePt_;
};

} // namespace

std::optional<std::string> texOf(const MarkupNode& node, double sizePt) {
    return TexWriter(sizePt).run(node);
}

} // namespace jointer::draw
