// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/markup.h"

#include "base/text.h"
#include "base/unit_text.h"
#include "draw/fonts.h"
#include "draw/markup_tree.h"
#include "draw/text_box.h"

#include <cmath>
#include <numbers>
#include <utility>

namespace jointer::draw {

namespace {

// Proportions, in em of the text that things belong to.
constexpr double kScript = 0.70, kScriptOfScript = 0.55, kUp = 0.36, kDown = 0.21, kGap = 0.15;
constexpr double kAxis = 0.25;        // where fractions and large signs have their middle
constexpr double kRule = 0.046;       // thickness of strokes
constexpr double kInFraction = 0.75;  // size of what stands in a fraction
constexpr double kFractionGap = 0.14; // above and below its rule
constexpr double kDepth = 0.24;       // of a line, below its baseline
constexpr double kSlant = 0.2;        // of italics

class Setter {
public:
    explicit Setter(const TextStyle& style) : style_(style) {}

    SetText run(const MarkupNode& all) {
        Box box = row(all, {style_.bold, style_.italic, 1});
        return {.runs = std::move(box.runs),
                .strokes = std::move(box.strokes),
                .widthMm = box.width,
                .ascentMm = box.ascent,
                .descentMm = box.descent};
    }

private:
    struct State {
        bool bold, italic;
        double scale;
        State scaled(double by) const { return {bold, italic, scale * by}; }
        State script() const { return scaled(scale > 0.9 ? kScript : kScriptOfScript / kScript); }
    };

    double em(const State& s) const { return style_.sizePt * kMmPerPt * s.scale; }
    Stroke strokeOf(const State& s, double em0 = kRule) const {
        return {.widthMm = em0 * em(s), .colour = style_.colour};
    }

    Box row(const MarkupNode& node, State s) {
        if (node.style == Style::Bold) s.bold = true;
        if (node.style == Style::Italic) s.italic = true;
        if (node.style == Style::Upright) s.bold = s.italic = false;
        Box out, base;
        double from = 0; // where the last part begins
        const MarkupNode* before = nullptr;
        for (const MarkupNode& part : node.children) {
            if (part.part == Part::Scripts) {
                const double end = before && before->part == Part::Operator && hasLimits(before->text)
                                       ? limits(out, part, base, from, s)
                                       : scripts(out, part, base, s);
                base = {
                    .width = end - from, .ascent = out.ascent, .descent = out.descent, .plain = base.plain};
                out.width = end;
                before = &part;
                continue;
            }
            base = set(part, s);
            from = out.width;
            out.plain = out.plain && base.plain;
            out.take(base, from, 0);
            before = &part;
        }
        return out;
    }

    Box set(const MarkupNode& node, const State& s) {
        switch (node.part) {
        case Part::Text:
            return letters(node.text, s);
        case Part::Row:
        case Part::Scripts:
            return row(node, s);
        case Part::Fraction:
            return fraction(node, s);
        case Part::Root:
            return root(node, s);
        case Part::Accent:
            return accent(node, s);
        case Part::Operator:
            return large(node.text, s);
        case Part::Fence:
            return fence(node, s);
        }
        return {};
    }

    // Splits where the face lacks a glyph: those come from another one.
    Box letters(const std::string& text, const State& s) {
        Box out;
        const std::string face = faceOf(style_.family, s.bold, s.italic);
        std::string part, now = face;
        for (const char32_t c : decodeUtf8(withMinus(text))) {
            // A sign that several have stays with its neighbours.
            const bool stays = now != face && !hasGlyph(face, c) && hasGlyph(now, c);
            std::string needed = stays ? now : faceWith(face, c);
            if (needed != now) addRun(out, std::exchange(part, {}), now, s);
            now = std::move(needed);
            appendUtf8(part, c);
        }
        addRun(out, part, now, s);
        return out;
    }

    void addRun(Box& to, const std::string& text, const std::string& face, const State& s) {
        if (text.empty()) return;
        const double width = widthEm(face, text) * em(s);
        to.runs.push_back({text, face, style_.sizePt * s.scale, {to.width, 0}, 0, style_.colour, width});
        to.width += width;
        to.ascent = std::max(to.ascent, metricsOf(face).capHeight * em(s) * 1.05);
        to.descent = std::max(to.descent, kDepth * em(s));
    }

    // Behind all that is set; those of something tall stand at its corners. Gives where they end.
    double scripts(Box& out, const MarkupNode& node, const Box& base, const State& s) {
        const State small = s.script();
        Box up = row(node.children[0], small), down = row(node.children[1], small);
        const bool hasUp = !node.children[0].children.empty(), hasDown = !node.children[1].children.empty();
        double rise = kUp * em(s), fall = kDown * em(s);
        if (!base.plain) {
            rise = std::max(rise, base.ascent - 0.5 * em(small));
            fall = std::max(fall, base.descent - 0.05 * em(s));
        }
        if (!up.plain) rise = std::max(rise, up.descent + 0.1 * em(s));
        if (!down.plain) fall = std::max(fall, down.ascent - 0.4 * em(s));
        if (hasUp && hasDown) { // they keep a gap between them
            const double upBottom = rise - (up.plain ? 0 : up.descent),
                         downTop = -fall + (down.plain ? 0.5 * em(small) : down.ascent);
            const double overlap = downTop + kGap * em(s) * 0.5 - upBottom;
            if (overlap > 0) {
                rise += overlap / 2;
                fall += overlap / 2;
            }
        }
        const double start = out.width;
        // Over an italic base a superscript leans out of its way.
        const double upAt = start + (s.italic ? 0.06 : 0.02) * em(s), downAt = start + 0.02 * em(s);
        const double end = std::max(hasUp ? upAt + up.width : start, hasDown ? downAt + down.width : start);
        if (hasUp) out.take(std::move(up), upAt, rise);
        if (hasDown) out.take(std::move(down), downAt, -fall);
        return end;
    }

    static bool hasLimits(const std::string& sign) { return sign == "∑" || sign == "∏"; }

    // Above and below a large sign, which moves right where they are wider.
    double limits(Box& out, const MarkupNode& node, const Box& sign, double from, const State& s) {
        const State small = s.script();
        Box up = row(node.children[0], small), down = row(node.children[1], small);
        const double width = std::max({sign.width, up.width, down.width}), by = (width - sign.width) / 2;
        for (TextRun& run : out.runs)
            if (run.origin.x >= from) run.origin.x += by;
        const double gap = 0.1 * em(s), middle = from + width / 2;
        const double above = sign.ascent + gap + up.descent, below = sign.descent + gap + down.ascent;
        out.plain = false;
        if (!up.runs.empty()) out.take(std::move(up), middle - up.width / 2, above);
        if (!down.runs.empty()) out.take(std::move(down), middle - down.width / 2, -below);
        return from + width + 0.08 * em(s);
    }

    Box fraction(const MarkupNode& node, const State& s) {
        const State inner = s.scaled(kInFraction);
        Box top = row(node.children[0], inner), bottom = row(node.children[1], inner);
        const double side = 0.06 * em(s), rule = kRule * em(s), gap = kFractionGap * em(s);
        const double width = std::max(top.width, bottom.width) + 2 * side, axis = kAxis * em(s);
        const double topWidth = top.width, bottomWidth = bottom.width;
        const double up = axis + rule / 2 + gap + std::max(0.0, inkBelow(top)),
                     down = -axis + rule / 2 + gap + bottom.ascent;
        Box out{.width = width + 2 * side, .plain = false};
        out.take(std::move(top), side + (width - topWidth) / 2, up);
        out.take(std::move(bottom), side + (width - bottomWidth) / 2, -down);
        addLine(out, {{side, -axis}, {side + width, -axis}}, strokeOf(s));
        out.width = width + 2 * side;
        return out;
    }

    Box root(const MarkupNode& node, const State& s) {
        Box body = row(node.children[0], s), index = row(node.children[1], s.scaled(kScriptOfScript));
        const double e = em(s), rule = kRule * e, clear = 0.12 * e;
        const double top = std::max(inkAbove(body), 0.5 * e) + clear + rule / 2,
                     bottom = std::max(0.08 * e, inkBelow(body) + 0.04 * e);
        const double hook = 0.45 * (top + bottom) - bottom; // above the baseline
        Box out{.plain = false};
        double x = 0;
        if (!index.runs.empty()) {
            x = std::max(0.0, index.width - 0.14 * e);
            out.take(std::move(index), 0, hook + 0.12 * e);
        }
        const double foot = x + 0.26 * e, start = x + 0.5 * e, end = start + body.width + 0.06 * e;
        addLine(
            out,
            {{x, -hook + 0.06 * e}, {x + 0.1 * e, -hook}, {foot, bottom - rule}, {start, -top}, {end, -top}},
            strokeOf(s));
        addLine(out, {{x + 0.1 * e, -hook}, {foot, bottom - rule}}, strokeOf(s, 1.9 * kRule));
        const double above = body.ascent;
        out.take(std::move(body), start + 0.02 * e, 0);
        out.ascent = std::max({out.ascent, top + rule / 2, above});
        out.descent = std::max(out.descent, bottom);
        out.width = end + 0.04 * e;
        return out;
    }

    Box accent(const MarkupNode& node, const State& s) {
        Box body = row(node.children[0], s);
        const double e = em(s);
        const bool slanted = s.italic || (node.children[0].style == Style::Italic) ||
                             (!body.runs.empty() && body.runs.back().face.ends_with("-italic"));
        const double above = inkAbove(body), y = -(above + 0.1 * e), w = body.width;
        const double middle = w / 2 + (slanted ? kSlant * above * 0.8 : 0);
        const bool wide = node.text == "widehat" || node.text == "widetilde" || node.text == "overline";
        const double half = wide ? w / 2 : std::min(0.2 * e, std::max(0.12 * e, 0.42 * w));
        Box out = std::move(body);
        double high = 0.16 * e;
        const std::string& kind = node.text;
        if (kind == "hat" || kind == "widehat") {
            addLine(out, {{middle - half, y}, {middle, y - 0.15 * e}, {middle + half, y}}, strokeOf(s));
        } else if (kind == "tilde" || kind == "widetilde")
            addLine(out, wave(middle - half, middle + half, y - 0.05 * e, 0.05 * e), strokeOf(s));
        else if (kind == "vec") {
            addLine(out, {{middle - half, y - 0.06 * e}, {middle + half, y - 0.06 * e}}, strokeOf(s));
            addLine(out,
                    {{middle + half - 0.1 * e, y - 0.13 * e},
                     {middle + half, y - 0.06 * e},
                     {middle + half - 0.1 * e, y + 0.01 * e}},
                    strokeOf(s));
        } else if (kind == "dot" || kind == "ddot") {
            for (const double x :
                 kind == "dot" ? std::vector{middle} : std::vector{middle - 0.13 * e, middle + 0.13 * e})
                addDot(out, {x, y - 0.04 * e}, 0.06 * e, style_.colour);
        } else if (kind == "underline") {
            const double below = inkBelow(out) + 0.12 * e;
            addLine(out, {{0, below}, {w, below}}, strokeOf(s));
            out.descent = std::max(out.descent, below + kRule * e);
            high = 0;
        } else { // bar, overline
            const double reach = wide ? w / 2 : std::max(half, 0.4 * w);
            addLine(out, {{middle - reach, y}, {middle + reach, y}}, strokeOf(s));
            high = kRule * e;
        }
        if (high > 0) out.ascent = std::max(out.ascent, -y + high);
        return out;
    }

    // A sum, a product, an integral: larger than letters, its middle on the axis.
    Box large(const std::string& sign, const State& s) {
        const bool isIntegral = !hasLimits(sign);
        return centred(sign, "math", s.scaled(isIntegral ? 1.5 : 1.3), kAxis * em(s), 0.08 * em(s));
    }

    Box centred(const std::string& sign, const std::string& face, const State& s, double axis, double after) {
        const Rect ink = inkOf(face, sign);
        const double up = axis + (ink.y + ink.height / 2) * em(s);
        Box out{.plain = false};
        const double width = widthEm(face, sign) * em(s);
        out.runs.push_back({sign, face, style_.sizePt * s.scale, {0, -up}, 0, style_.colour, width});
        out.width = width + after;
        out.ascent = axis + ink.height / 2 * em(s);
        out.descent = -axis + ink.height / 2 * em(s);
        return out;
    }

    Box fence(const MarkupNode& node, const State& s) {
        Box body = row(node.children[0], s);
        const double axis = kAxis * em(s);
        const double reach = std::max(inkAbove(body) - axis, inkBelow(body) + axis);
        Box out{.plain = body.plain};
        const auto mark = [&](const std::string& sign) {
            if (sign.empty()) return;
            static const std::string face = "math"; // enlarged, those of the text would be too bold
            const double needed = 2 * reach / std::max(0.1, inkOf(face, sign).height * em(s));
            if (needed < 1.12)
                out.take(letters(sign, s), out.width, 0);
            else {
                out.plain = false;
                out.take(centred(sign, face, s.scaled(1.02 * needed), axis, 0), out.width, 0);
            }
        };
        mark(node.text);
        out.take(std::move(body), out.width, 0);
        mark(node.end);
        return out;
    }

    const TextStyle& style_;
};

void addPlain(const MarkupNode& node, std::string& out) {
    out += node.part == Part::Accent ? "" : withMinus(node.text);
    for (std::size_t k = 0; k < node.children.size(); ++k) {
        const bool both = node.part == Part::Fraction;
        const bool grouped = both && node.children[k].children.size() > 1;
        if (node.part == Part::Root && k == 0) out += "√";
        if (both && k == 1) out += "/";
        if (node.part == Part::Root && k == 1) break;
        if (grouped) out += "(";
        addPlain(node.children[k], out);
        if (grouped) out += ")";
    }
    if (node.part == Part::Fence) out += node.end;
}

} // namespace

SetText setText(std::string_view markup, const TextStyle& style) {
    SetText out = Setter(style).run(parsedMarkup(markup));
    out.markup = markup;
    out.style = style;
    return out;
}

std::vector<Item> placed(const SetText& t, Point at, HAlign h, VAlign v, double angleDeg) {
    const double dx = h == HAlign::Left ? 0 : h == HAlign::Centre ? -t.widthMm / 2 : -t.widthMm;
    const double dy = v == VAlign::Top      ? t.ascentMm
                      : v == VAlign::Middle ? (t.ascentMm - t.descentMm) / 2 + 0.12 * t.descentMm
                      : v == VAlign::Bottom ? -t.descentMm
                                            : 0;
    const double angle = angleDeg * std::numbers::pi / 180, c = std::cos(angle), s = std::sin(angle);
    const auto turned = [&](Point p) {
        const double x = p.x + dx, y = p.y + dy;
        return Point{at.x + c * x + s * y, at.y - s * x + c * y};
    };
    const double aligned = h == HAlign::Left ? 0 : h == HAlign::Centre ? 0.5 : 1;
    const auto line = std::make_shared<const TextLine>(TextLine{.markup = t.markup,
                                                                .family = t.style.family,
                                                                .bold = t.style.bold,
                                                                .italic = t.style.italic,
                                                                .sizePt = t.style.sizePt,
                                                                .colour = t.style.colour,
                                                                .at = turned({aligned * t.widthMm, 0}),
                                                                .aligned = aligned,
                                                                .angleDeg = angleDeg});
    std::vector<Item> items;
    for (TextRun r : t.runs) {
        r.origin = turned(r.origin);
        r.angleDeg = angleDeg;
        items.push_back({.element = {}, .what = std::move(r), .line = line});
    }
    for (Path path : t.strokes) {
        for (Polyline& l : path.lines)
            for (Point& p : l.points) p = turned(p);
        items.push_back({.element = {}, .what = std::move(path), .line = line});
    }
    return items;
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
    addPlain(parsedMarkup(markup), out);
    return out;
}

std::string unitPlain(std::string_view unit) {
    return plainText(readableUnit(unit));
}

} // namespace jointer::draw
