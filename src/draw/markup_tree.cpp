// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/markup_tree.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "draw/signs.h"

#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <utility>

namespace jointer::draw {

namespace {

constexpr int kDeepest = 60; // braces within braces: what lies deeper stands for itself

bool isAccent(std::string_view name) {
    static constexpr std::string_view all[] = {"hat", "widehat", "bar",  "overline", "tilde", "widetilde",
                                               "dot", "ddot",    "vec",  "underline"};
    return std::ranges::find(all, name) != std::end(all);
}

std::string_view operatorSign(std::string_view name) {
    return name == "sum" ? "∑" : name == "prod" ? "∏" : name == "int" || name == "integral" ? "∫" : name == "oint" ? "∮" : "";
}

Style styleOf(std::string_view name) {
    if (name == "textbf" || name == "mathbf") return Style::Bold;
    if (name == "textit" || name == "mathit") return Style::Italic;
    if (name == "textrm" || name == "mathrm" || name == "text") return Style::Upright;
    return Style::Same;
}

class Parser {
public:
    explicit Parser(std::string_view text) : text_(text) {}

    MarkupNode run() {
        MarkupNode all = row(0);
        while (at_ < text_.size()) { // a brace that closes nothing stands for itself
            add(all, text_[at_++]);
            for (MarkupNode& node : row(0).children) all.children.push_back(std::move(node));
        }
        return all;
    }

private:
    static void add(MarkupNode& row, std::string_view characters) {
        if (row.children.empty() || row.children.back().part != Part::Text) row.children.push_back({.part = Part::Text});
        row.children.back().text += characters;
    }
    static void add(MarkupNode& row, char c) { add(row, std::string_view(&c, 1)); }

    bool isAt(std::string_view what) const { return text_.substr(at_).starts_with(what); }

    // Up to a closing brace or a closing fence, which stay.
    MarkupNode row(int depth) {
        MarkupNode out;
        while (at_ < text_.size()) {
            const char c = text_[at_];
            if (c == '}' || (fences_ > 0 && isAt("\\right"))) break;
            if (c == '{' && depth < kDeepest)
                out.children.push_back(braced(depth));
            else if ((c == '^' || c == '_') && at_ + 1 < text_.size() && depth < kDeepest)
                out.children.push_back(scripts(depth));
            else if (c == '\\')
                command(out, depth);
            else {
                add(out, c);
                ++at_;
            }
        }
        return out;
    }

    MarkupNode braced(int depth) {
        ++at_;
        const int fences = std::exchange(fences_, 0);
        MarkupNode inner = row(depth + 1);
        fences_ = fences;
        if (at_ < text_.size()) ++at_;
        return inner;
    }

    // What a script or a command takes: braces, a command, or one character.
    MarkupNode argument(int depth) {
        if (at_ < text_.size() && text_[at_] == '{') return braced(depth);
        MarkupNode out;
        if (at_ < text_.size() && text_[at_] == '\\') {
            command(out, depth + 1);
            return out;
        }
        std::size_t end = at_ + 1;
        while (end < text_.size() && (static_cast<unsigned char>(text_[end]) & 0xC0) == 0x80) ++end;
        add(out, text_.substr(at_, end - at_));
        at_ = std::min(end, text_.size());
        return out;
    }

    MarkupNode scripts(int depth) {
        MarkupNode out{.part = Part::Scripts, .children = {MarkupNode{}, MarkupNode{}}};
        bool has[2] = {false, false};
        while (at_ + 1 < text_.size() && (text_[at_] == '^' || text_[at_] == '_')) {
            const std::size_t which = text_[at_] == '^' ? 0 : 1;
            if (has[which]) break;
            has[which] = true;
            ++at_;
            out.children[which] = argument(depth);
        }
        return out;
    }

    void command(MarkupNode& out, int depth) {
        std::size_t end = at_ + 1;
        while (end < text_.size() && std::isalpha(static_cast<unsigned char>(text_[end]))) ++end;
        if (end == at_ + 1 && end < text_.size()) ++end;
        const std::string_view name = text_.substr(at_ + 1, end - at_ - 1);
        const bool braces = end < text_.size() && text_[end] == '{' && depth < kDeepest;
        const std::size_t start = std::exchange(at_, end);
        if (braces && name == "frac") {
            MarkupNode top = braced(depth);
            if (at_ < text_.size() && text_[at_] == '{') {
                out.children.push_back({.part = Part::Fraction, .children = {std::move(top), braced(depth)}});
                return;
            }
        } else if (name == "sqrt" && root(out, depth))
            return;
        else if (braces && styleOf(name) != Style::Same) {
            MarkupNode inner = braced(depth);
            inner.style = styleOf(name);
            out.children.push_back(std::move(inner));
            return;
        } else if (braces && isAccent(name)) {
            out.children.push_back({.part = Part::Accent, .text = std::string(name), .children = {braced(depth)}});
            return;
        } else if (braces && name == "unit")
            return unit(out);
        else if (name == "left" && depth < kDeepest && fence(out, depth))
            return;
        else if (const std::string_view sign = operatorSign(name); !sign.empty()) {
            out.children.push_back({.part = Part::Operator, .text = std::string(sign)});
            return;
        } else if (const Sign* found = signNamed(name)) {
            add(out, found->character);
            return;
        }
        at_ = start + 1; // unknown: stands for itself
        add(out, '\\');
    }

    bool root(MarkupNode& out, int depth) {
        const std::size_t start = at_;
        MarkupNode index;
        if (at_ < text_.size() && text_[at_] == '[') {
            const std::size_t close = text_.find(']', at_);
            if (close == text_.npos) return false;
            index = parsedMarkup(text_.substr(at_ + 1, close - at_ - 1));
            at_ = close + 1;
        }
        if (at_ >= text_.size() || text_[at_] != '{' || depth >= kDeepest) {
            at_ = start;
            return false;
        }
        out.children.push_back({.part = Part::Root, .children = {braced(depth), std::move(index)}});
        return true;
    }

    void unit(MarkupNode& out) {
        const std::size_t close = std::min(text_.find('}', at_), text_.size());
        MarkupNode inner = parsedMarkup(unitMarkup(text_.substr(at_ + 1, close - at_ - 1)));
        inner.style = Style::Upright;
        at_ = std::min(close + 1, text_.size());
        out.children.push_back(std::move(inner));
    }

    // One mark of a fence: "(", "[", "|", "\{", "." for none.
    std::optional<std::string> mark() {
        if (at_ >= text_.size()) return {};
        if (text_[at_] == '\\' && at_ + 1 < text_.size() && (text_[at_ + 1] == '{' || text_[at_ + 1] == '}')) {
            at_ += 2;
            return std::string(1, text_[at_ - 1]);
        }
        if (std::string_view("()[]|/.").find(text_[at_]) == std::string_view::npos) return {};
        const char c = text_[at_++];
        return c == '.' ? std::string() : std::string(1, c);
    }

    bool fence(MarkupNode& out, int depth) {
        const std::size_t start = at_;
        const auto open = mark();
        if (!open) return false;
        ++fences_;
        MarkupNode inner = row(depth + 1);
        --fences_;
        if (isAt("\\right")) {
            at_ += 6;
            if (const auto close = mark()) {
                out.children.push_back(
                    {.part = Part::Fence, .text = *open, .end = *close, .children = {std::move(inner)}});
                return true;
            }
        }
        at_ = start;
        return false;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    int fences_ = 0;
};

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

constexpr Spelling kSpellings[] = {
    {U'#', "\\#"},       {U'$', "\\$"},        {U'%', "\\%"},        {U'&', "\\&"},
    {U'_', "\\_"},       {U'{', "\\{"},        {U'}', "\\}"},        {U'~', "\\textasciitilde{}"},
    {U'^', "\\textasciicircum{}"},             {U'\\', "\\textbackslash{}"},
    {U'<', "\\ensuremath{<}"},                 {U'>', "\\ensuremath{>}"},
    {U'|', "\\ensuremath{|}"},                 {U'"', "\\textquotedbl{}"},
    {U'\u2212', "\\ensuremath{-}"},            {U'\u2009', "\\,"},   {U'\u202F', "\\,"},
    {U'\u00A0', "~"},    {U'\u2013', "--"},    {U'\u2014', "---"},   {U'\u2018', "`"},
    {U'\u2019', "'"},    {U'\u201C', "``"},    {U'\u201D', "''"},    {U'\u2026', "\\dots{}"},
    {U'¹', "\\ensuremath{^1}"},                {U'²', "\\ensuremath{^2}"},
    {U'³', "\\ensuremath{^3}"},                {U'\u2070', "\\ensuremath{^0}"},
    {U'\u207B', "\\ensuremath{^{-}}"},         {U'\u2126', "\\ensuremath{\\Omega}"},
    {U'\u2003', "\\quad{}"},                   {U'\u2002', "\\enspace{}"},
    {U'\u2192', "\\ensuremath{\\rightarrow}"}, {U'°', "\\ensuremath{^\\circ}"}};

std::optional<std::string> spelled(char32_t c) {
    if (const auto at = std::ranges::find(kSpellings, c, &Spelling::character); at != std::end(kSpellings))
        return std::string(at->tex);
    if (c < 0x20) return std::string(" ");
    if (c < 0x7F || isLatin(c)) {
        if (c == U'µ' || c == U'·' || c == U'±') return "\\ensuremath{" + std::string(c == U'µ' ? "\\mu" : c == U'·' ? "\\cdot" : "\\pm") + "}";
        return characterText(c);
    }
    if (c >= 0x2074 && c <= 0x2079) return "\\ensuremath{^" + std::string(1, static_cast<char>('4' + c - 0x2074)) + "}";
    if (c >= 0x2080 && c <= 0x2089) return "\\ensuremath{_" + std::string(1, static_cast<char>('0' + c - 0x2080)) + "}";
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
        case Part::Text: return characters(node.text);
        case Part::Row: return rowText(node);
        case Part::Scripts: return scriptsText(node);
        case Part::Fraction:
            return mathematics("\\frac{" + boxed(node.children[0], kInFraction) + "}{" +
                               boxed(node.children[1], kInFraction) + "}");
        case Part::Root:
            return mathematics("\\sqrt" + (node.children[1].children.empty() ? "" : "[" + boxed(node.children[1], 0.55) + "]") +
                               "{" + boxed(node.children[0], 1) + "}");
        case Part::Accent: return mathematics("\\" + node.text + "{" + boxed(node.children[0], 1) + "}");
        case Part::Operator: return mathematics(operatorName(node.text));
        case Part::Fence:
            return mathematics("\\left" + fenceMark(node.text) + boxed(node.children[0], 1) + "\\right" + fenceMark(node.end));
        }
        return {};
    }

    static std::string mathematics(const std::string& inner) { return "\\ensuremath{" + inner + "}"; }
    static std::string operatorName(const std::string& sign) {
        return std::string("\\") + (sign == "∑" ? "sum" : sign == "∏" ? "prod" : sign == "∮" ? "oint" : "int");
    }
    static std::string fenceMark(const std::string& mark) {
        return mark.empty() ? "." : mark == "{" || mark == "}" ? "\\" + mark : mark;
    }

    // Text within mathematics, at a part of the size around it.
    std::string boxed(const MarkupNode& row, double part) {
        const double around = std::exchange(sizePt_, sizePt_ * part);
        const std::string inner = written(row);
        const std::string size = part == 1 ? "" : fmt::format("\\fontsize{{{0:.2f}}}{{{0:.2f}}}\\selectfont ", sizePt_);
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
        return widerAbove ? "\\makebox[0pt][l]{" + below + "}" + above : "\\makebox[0pt][l]{" + above + "}" + below;
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
        case Style::Same: return out;
        case Style::Bold: return "\\textbf{" + out + "}";
        case Style::Italic: return "\\textit{" + out + "}";
        case Style::Upright: return "\\textup{\\textmd{" + out + "}}";
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

std::string withMinus(const std::string& t) {
    if (t.size() < 2 || t[0] != '-' || !std::isdigit(static_cast<unsigned char>(t[1]))) return t;
    return "\u2212" + t.substr(1);
}

MarkupNode parsedMarkup(std::string_view markup) {
    return Parser(markup).run();
}

std::optional<std::string> texOf(const MarkupNode& node, double sizePt) {
    return TexWriter(sizePt).run(node);
}

} // namespace jointer::draw
