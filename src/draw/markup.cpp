// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/markup.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "draw/fonts.h"

#include <cctype>
#include <cmath>
#include <map>
#include <numbers>

namespace jointer::draw {

namespace {

// Proportions of scripts, in em of the text they belong to.
constexpr double kScript = 0.70, kScriptOfScript = 0.55, kUp = 0.36, kDown = 0.21, kGap = 0.15;

const std::map<std::string, std::string, std::less<>>& symbols() {
    static const std::map<std::string, std::string, std::less<>> all = {
        {"alpha", "α"},    {"beta", "β"},    {"gamma", "γ"},    {"delta", "δ"},    {"epsilon", "ε"},
        {"zeta", "ζ"},     {"eta", "η"},     {"theta", "θ"},    {"iota", "ι"},     {"kappa", "κ"},
        {"lambda", "λ"},   {"mu", "μ"},      {"nu", "ν"},       {"xi", "ξ"},       {"pi", "π"},
        {"rho", "ρ"},      {"sigma", "σ"},   {"tau", "τ"},      {"upsilon", "υ"},  {"phi", "φ"},
        {"chi", "χ"},      {"psi", "ψ"},     {"omega", "ω"},    {"Gamma", "Γ"},    {"Delta", "Δ"},
        {"Theta", "Θ"},    {"Lambda", "Λ"},  {"Xi", "Ξ"},       {"Pi", "Π"},       {"Sigma", "Σ"},
        {"Phi", "Φ"},      {"Psi", "Ψ"},     {"Omega", "Ω"},    {"times", "×"},    {"cdot", "·"},
        {"pm", "±"},       {"degree", "°"},  {"angstrom", "Å"}, {"infinity", "∞"}, {"approx", "≈"},
        {"le", "≤"},       {"ge", "≥"},      {"ne", "≠"},       {"to", "→"},       {"sqrt", "√"},
        {"integral", "∫"}, {"partial", "∂"}, {"propto", "∝"},   {"permil", "‰"},   {"micro", "µ"},
        {"dots", "…"},     {",", "\u2009"},  {"\\", "\\"},      {"{", "{"},        {"}", "}"},
        {"^", "^"},        {"_", "_"}};
    return all;
}

class Setter {
public:
    Setter(std::string_view markup, const TextStyle& style) : text_(markup), style_(style) {}

    SetText run() {
        while (at_ < text_.size()) sequence({style_.bold, style_.italic, 1, 0, 0});
        out_.widthMm = x_;
        return std::move(out_);
    }

private:
    struct State {
        bool bold, italic;
        double scale, rise; // of the text size; rise in mm, upwards
        int depth;
    };

    double emMm(const State& s) const { return style_.sizePt * kMmPerPt * s.scale; }

    // Up to the end or an unmatched closing brace, which is taken.
    void sequence(const State& s) {
        std::string plain;
        auto flush = [&] {
            emit(plain, s);
            plain.clear();
        };
        while (at_ < text_.size()) {
            const char c = text_[at_];
            if (c == '}') {
                ++at_;
                if (s.depth > 0) break;
                plain += c;
            } else if (c == '{') {
                ++at_;
                flush();
                sequence({s.bold, s.italic, s.scale, s.rise, s.depth + 1});
            } else if ((c == '^' || c == '_') && at_ + 1 < text_.size()) {
                flush();
                scripts(s);
            } else if (c == '\\') {
                command(s, plain, flush);
            } else {
                plain += c;
                ++at_;
            }
        }
        flush();
    }

    void command(const State& s, std::string& plain, const auto& flush) {
        std::size_t end = at_ + 1;
        while (end < text_.size() && std::isalpha(static_cast<unsigned char>(text_[end]))) ++end;
        if (end == at_ + 1 && end < text_.size()) ++end;
        const std::string_view name = text_.substr(at_ + 1, end - at_ - 1);
        const bool hasArgument = end < text_.size() && text_[end] == '{';
        const bool bold = name == "textbf", italic = name == "textit";
        if ((italic || bold) && hasArgument) {
            flush();
            at_ = end + 1;
            sequence({s.bold || bold, s.italic || italic, s.scale, s.rise, s.depth + 1});
            return;
        }
        const auto symbol = symbols().find(name);
        if (symbol == symbols().end()) {
            plain += '\\'; // unknown: stands for itself
            ++at_;
            return;
        }
        plain += symbol->second;
        at_ = end;
    }

    // One script, or a superscript and a subscript above each other.
    void scripts(const State& s) {
        const double start = x_;
        double furthest = start;
        const std::size_t firstRun = out_.runs.size();
        double upperBottom = 1e9, lowerTop = -1e9;
        for (char previous = 0;
             at_ < text_.size() && (text_[at_] == '^' || text_[at_] == '_') && text_[at_] != previous;) {
            const bool up = text_[at_] == '^';
            previous = text_[at_++];
            const double scale = s.scale * (s.scale > 0.9 ? kScript : kScriptOfScript / kScript);
            State script{s.bold, s.italic, scale, s.rise + emMm(s) * (up ? kUp : -kDown), s.depth + 1};
            // Over an italic base a superscript leans out of its way.
            x_ = start + (up && s.italic ? 0.06 * emMm(s) : 0.02 * emMm(s));
            if (at_ < text_.size() && text_[at_] == '{')
                ++at_, sequence(script);
            else
                single(script);
            furthest = std::max(furthest, x_);
            if (up)
                upperBottom = script.rise;
            else
                lowerTop = script.rise + 0.5 * emMm(script);
        }
        x_ = furthest;
        // Stacked scripts keep a gap between them.
        const double overlap = lowerTop + kGap * emMm(s) * 0.5 - upperBottom;
        if (upperBottom < 1e8 && lowerTop > -1e8 && overlap > 0)
            for (std::size_t i = firstRun; i < out_.runs.size(); ++i)
                out_.runs[i].origin.y += (-out_.runs[i].origin.y > s.rise ? -overlap / 2 : overlap / 2);
    }

    void single(const State& s) {
        std::size_t end = at_ + 1;
        while (end < text_.size() && (static_cast<unsigned char>(text_[end]) & 0xC0) == 0x80) ++end;
        emit(std::string(text_.substr(at_, end - at_)), s);
        at_ = end;
    }

    // Splits where the face lacks a glyph: those come from another one.
    void emit(const std::string& plain, const State& s) {
        if (plain.empty()) return;
        const std::string face = faceOf(style_.family, s.bold, s.italic);
        std::string part, now = face;
        for (char32_t c : decodeUtf8(plain)) {
            if (c == U'-' && s.depth >= 0 && isMinus(plain)) c = U'\u2212';
            // A sign that several have stays with its neighbours.
            const bool stays = now != face && !hasGlyph(face, c) && hasGlyph(now, c);
            std::string needed = stays ? now : faceWith(face, c);
            if (needed != now && !part.empty()) {
                addRun(part, now, s);
                part.clear();
            }
            now = std::move(needed);
            appendUtf8(part, c);
        }
        addRun(part, now, s);
    }

    // A hyphen before a digit at the start of a script or label is a minus sign.
    static bool isMinus(const std::string& t) {
        return t.size() > 1 && t[0] == '-' && std::isdigit(static_cast<unsigned char>(t[1]));
    }

    void addRun(const std::string& text, const std::string& face, const State& s) {
        if (text.empty()) return;
        const double width = widthEm(face, text) * emMm(s);
        out_.runs.push_back({text, face, style_.sizePt * s.scale, {x_, -s.rise}, 0, style_.colour, width});
        x_ += width;
        const FaceMetrics m = metricsOf(face);
        out_.ascentMm = std::max(out_.ascentMm, s.rise + m.capHeight * emMm(s) * 1.05);
        out_.descentMm = std::max(out_.descentMm, 0.24 * emMm(s) - s.rise);
    }

    std::string_view text_;
    const TextStyle& style_;
    std::size_t at_ = 0;
    double x_ = 0;
    SetText out_;
};

} // namespace

SetText setText(std::string_view markup, const TextStyle& style) {
    return Setter(markup, style).run();
}

std::vector<TextRun> placed(const SetText& t, Point at, HAlign h, VAlign v, double angleDeg) {
    const double dx = h == HAlign::Left ? 0 : h == HAlign::Centre ? -t.widthMm / 2 : -t.widthMm;
    const double dy = v == VAlign::Top      ? t.ascentMm
                      : v == VAlign::Middle ? (t.ascentMm - t.descentMm) / 2 + 0.12 * t.descentMm
                      : v == VAlign::Bottom ? -t.descentMm
                                            : 0;
    const double angle = angleDeg * std::numbers::pi / 180, c = std::cos(angle), s = std::sin(angle);
    std::vector<TextRun> runs = t.runs;
    for (TextRun& r : runs) {
        const double x = r.origin.x + dx, y = r.origin.y + dy;
        r.origin = {at.x + c * x + s * y, at.y - s * x + c * y};
        r.angleDeg = angleDeg;
    }
    return runs;
}

std::string literal(std::string_view text) {
    std::string out;
    for (char c : text) {
        if (std::string_view("\\{}^_").find(c) != std::string_view::npos) out += '\\';
        out += c;
    }
    return out;
}

std::string plainText(std::string_view markup) {
    std::string out;
    for (const TextRun& r : setText(markup, {}).runs) out += r.text;
    return out;
}

std::string unitPlain(std::string_view unit) {
    return plainText(readableUnit(unit));
}

} // namespace jointer::draw
