// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/tikz.h"

#include "base/text.h"
#include "draw/fonts.h"
#include "draw/markup_tree.h"
#include "draw/png.h"
#include "draw/revise.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>

namespace jointer::draw {

namespace {

constexpr double kFarMm = 4000;       // lengths of TeX end at 5.7 m
constexpr std::size_t kReadable = 40; // points up to which a path is written as people write it
constexpr const char* kMacros = "\\def\\jtm#1 #2 {\\pgfpathmoveto{\\pgfqpoint{#1mm}{-#2mm}}}%\n"
                                "\\def\\jtl#1 #2 {\\pgfpathlineto{\\pgfqpoint{#1mm}{-#2mm}}}%\n"
                                "\\providecommand\\jointerfont{}%\n";

// Characters of a run as they are, but for those that TeX acts upon.
std::string asTyped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        if (std::string_view("#$%&~_^\\{}").find(c) != std::string_view::npos)
            out += fmt::format("{{\\char{}}}", static_cast<int>(c));
        else
            out += c;
    }
    return out;
}

class TikzWriter {
public:
    TikzWriter(const DisplayList& list, const TikzOptions& options) : list_(list), options_(options) {}

    Tikz run() {
        std::vector<Item> items = list_.items;
        keepNear(items, kFarMm);
        draw(items, {});
        std::string head;
        for (const std::string& remark : options_.remarks) head += "% " + withoutBreaks(remark) + "\n";
        head += "% In the preamble: \\usepackage{tikz}\n";
        if (options_.shippedFonts)
            head += fmt::format(
                "% Its fonts: \\providecommand\\jointerfonts{{folder}} before it, if the folder {} moves.\n",
                folder());
        else
            head += "% \\renewcommand\\jointerfont{\\sffamily} before it sets its text in that font.\n";
        head += "\\begingroup%\n" + std::string(kMacros) + (options_.shippedFonts ? fontMacros() : "");
        for (const auto& [name, c] : colours_)
            head += fmt::format("\\definecolor{{{}}}{{RGB}}{{{},{},{}}}%\n", name, c.r, c.g, c.b);
        head += "\\begin{tikzpicture}[x=1mm,y=-1mm,line cap=butt,line join=miter,miter limit=4]\n";
        head += fmt::format("\\useasboundingbox (0,0) rectangle ({},{});\n", mmText(list_.widthMm),
                            mmText(list_.heightMm));
        if (!options_.transparent)
            head += fmt::format("\\fill[white] (0,0) rectangle ({},{});\n", mmText(list_.widthMm),
                                mmText(list_.heightMm));
        out_.text = head + body_ + "\\end{tikzpicture}%\n\\endgroup%\n";
        return std::move(out_);
    }

private:
    static std::string withoutBreaks(std::string text) {
        std::ranges::replace_if(
            text, [](char c) { return static_cast<unsigned char>(c) < 32; }, ' ');
        return text;
    }

    std::string colour(const Colour& c) {
        std::string name = "jc" + c.text().substr(1);
        colours_.emplace(name, c);
        return name;
    }

    // A part of the paint that is shared by a path and its symbols.
    std::string paint(const std::optional<Stroke>& stroke, const std::optional<Colour>& fill, double scale) {
        std::string out;
        const auto say = [&](const std::string& option) { out += (out.empty() ? "" : ",") + option; };
        if (fill) {
            say("fill=" + colour(*fill));
            if (fill->a != 255) say("fill opacity=" + mmText(fill->a / 255.0));
        }
        if (!stroke) return out;
        say("draw=" + colour(stroke->colour));
        if (stroke->colour.a != 255) say("draw opacity=" + mmText(stroke->colour.a / 255.0));
        say(fmt::format("line width={:.4f}mm", stroke->widthMm * scale));
        if (stroke->cap != Cap::Butt) say(stroke->cap == Cap::Round ? "line cap=round" : "line cap=rect");
        if (stroke->join == Join::Round) say("line join=round");
        if (!stroke->dashMm.empty()) {
            std::string pattern;
            for (std::size_t k = 0; k + 1 < stroke->dashMm.size(); k += 2)
                pattern +=
                    fmt::format("{}on {}mm off {}mm", k > 0 ? " " : "", mmText(stroke->dashMm[k] * scale),
                                mmText(stroke->dashMm[k + 1] * scale));
            if (!pattern.empty()) say("dash pattern=" + pattern);
        }
        return out;
    }

    std::string coordinates(const std::vector<Polyline>& lines, const Matrix& m) {
        const std::size_t points = pointCount(lines);
        const bool readable = points <= kReadable;
        std::string out;
        std::size_t written = 0;
        for (const Polyline& line : lines) {
            for (std::size_t k = 0; k < line.points.size(); ++k) {
                const Point p = m(line.points[k]);
                if (readable)
                    out += (k == 0 ? " (" : " -- (") + mmText(p.x) + "," + mmText(p.y) + ")";
                else
                    out += (k == 0 ? "\\jtm" : "\\jtl") + mmText(p.x) + " " + minusless(p.y);
                if (++written % 8 == 0) out += readable ? "\n " : "%\n";
            }
            if (line.closed && !line.points.empty()) out += readable ? " -- cycle" : "\\pgfpathclose";
        }
        return readable ? out : "{" + out + "}";
    }
    // The macro puts the minus sign.
    static std::string minusless(double y) {
        return y < 0 ? "-" + mmText(-y) + " " : mmText(y) + " "; // "--3mm" is 3 mm
    }

    void path(const std::vector<Polyline>& lines, const std::string& options, const Matrix& m) {
        const std::size_t points = pointCount(lines);
        if (points == 0 || options.empty()) return;
        if (points <= kReadable)
            body_ += "\\path[" + options + "]" + coordinates(lines, m) + ";\n";
        else
            body_ += "\\begin{scope}\\path[" + options + "] \\pgfextra" + coordinates(lines, m) +
                     ";\\end{scope}\n";
    }

    void draw(const std::vector<Item>& items, const Matrix& m) {
        const TextLine* last = nullptr;
        bool setByTex = false;
        for (const Item& item : items) {
            const bool asLine = item.line && !options_.shippedFonts && m == Matrix{};
            // The line is set as a whole where its first part stands.
            if (asLine && item.line.get() != last) setByTex = setLine(*item.line);
            last = asLine ? item.line.get() : nullptr;
            if (!asLine || !setByTex) std::visit([&](const auto& what) { draw(what, m); }, item.what);
        }
    }

    // Whether TeX has all its characters: else it is drawn part by part.
    bool setLine(const TextLine& line) {
        const auto known = texOf(parsedMarkup(line.markup), line.sizePt);
        if (!known) return false;
        std::string words = *known;
        if (line.bold) words = "\\bfseries " + words;
        if (line.italic) words = "\\itshape " + words;
        const char* side = line.aligned == 0 ? "left," : line.aligned == 1 ? "right," : "";
        pgfText(
            side, line.at, line.angleDeg,
            fmt::format("\\jointerfont\\fontsize{{{0:.2f}}}{{{1:.2f}}}\\selectfont\\textcolor{{{2}}}{{{3}}}",
                        line.sizePt, 1.2 * line.sizePt, colour(line.colour), words));
        return true;
    }

    void pgfText(const std::string& side, Point at, double angle, const std::string& words) {
        body_ += fmt::format("\\pgftext[{}base,x={}mm,y={}mm{}]{{{}}}%\n", side, mmText(at.x), mmText(-at.y),
                             angle == 0 ? "" : ",rotate=" + mmText(angle), words);
    }

    void draw(const Path& p, const Matrix& m) {
        path(p.lines, paint(p.stroke, p.fill, m.scale()) + (p.evenOdd && p.fill ? ",even odd rule" : ""), m);
    }

    void draw(const Symbols& s, const Matrix& m) {
        const auto outline = symbolOutline(s.shape, s.sizeMm);
        const double scale = m.scale();
        const bool isHalf = s.half != Half::None && s.fill.has_value();
        const std::string options = paint(s.stroke, isHalf ? std::nullopt : s.fill, scale);
        for (const Point& at : s.places) {
            const Matrix there = m * Matrix{1, 0, 0, 1, at.x, at.y};
            if (isHalf) path({symbolHalf(s.shape, s.sizeMm, s.half)}, paint({}, s.fill, scale), there);
            if (s.shape == SymbolShape::Circle && !options.empty()) {
                const Point middle = there({0, 0});
                body_ += fmt::format("\\path[{}] ({},{}) circle[radius={}mm];\n", options, mmText(middle.x),
                                     mmText(middle.y), mmText(s.sizeMm / 2 * scale));
            } else
                path(outline, options, there);
        }
    }

    void draw(const TextRun& run, const Matrix& m) {
        const auto words = texOf({.part = Part::Text, .text = run.text}, run.sizePt);
        const FontFile* font = fontFile(run.face);
        if (!(m == Matrix{}) || !words || !options_.shippedFonts || !font) return draw(outlineOf(run), m);
        if (inkOf(run.face, run.text).width <= 0) return;
        fonts_.insert(run.face);
        pgfText("left,", run.origin, run.angleDeg,
                fmt::format("\\jointerrun{{{}}}{{{:.3f}}}{{{}}}{{\\color{{{}}}}}{{{}}}{{{}}}", run.face,
                            run.sizePt, mmText(run.widthMm), colour(run.colour), asTyped(run.text), *words));
    }

    std::string folder() const { return options_.stem + "-fonts"; }

    // \jointerrun{face}{size}{width}{colour}{as typed}{for pdfTeX}; sizes are big points.
    std::string fontMacros() {
        for (const std::string& face : fonts_) {
            const FontFile* font = fontFile(face);
            out_.beside.emplace_back(
                folder() + "/" + face + ".otf",
                std::string(reinterpret_cast<const char*>(font->bytes.data()), font->bytes.size()));
        }
        return fmt::format(
            "\\providecommand\\jointerfonts{{{}}}%\n"
            "\\ifdefined\\directlua\\let\\jtopen=1\\else\\ifdefined\\XeTeXversion\\let\\jtopen=1\\fi\\fi\n"
            "\\ifdefined\\jtopen\n"
            "\\def\\jointerrun#1#2#3#4#5#6{{{{\\font\\jtfont=\"[\\jointerfonts/#1.otf]:kern;-liga\" at #2bp "
            "#4\\jtfont #5}}}}%\n"
            "\\else\n"
            "\\def\\jointerrun#1#2#3#4#5#6{{{{\\resizebox{{#3mm}}{{!}}{{\\jointerfont#4#6}}}}}}%\n"
            "\\fi\n",
            folder());
    }

    void draw(const Picture& p, const Matrix& m) {
        if (!p.pixels || p.columns == 0) return;
        const std::string name = fmt::format("{}-picture{}.png", options_.stem, ++pictures_);
        out_.beside.emplace_back(name, pngOf(p));
        const Point at = m({p.bounds.x, p.bounds.y});
        body_ += fmt::format(
            "\\pgftext[left,top,x={}mm,y={}mm]{{\\includegraphics[width={}mm,height={}mm]{{{}}}}}%\n",
            mmText(at.x), mmText(-at.y), mmText(p.bounds.width * m.scale()),
            mmText(p.bounds.height * m.scale()), name);
    }

    void draw(const Mesh& mesh, const Matrix& m) {
        eachTriangle(mesh, [&](const Polyline& corners, Colour c) { path({corners}, paint({}, c, 1), m); });
    }

    void clip(const std::vector<Polyline>& lines, const Matrix& m) {
        const std::size_t points = pointCount(lines);
        body_ += points <= kReadable ? "\\clip" + coordinates(lines, m) + ";\n"
                                     : "\\clip \\pgfextra" + coordinates(lines, m) + ";\n";
    }

    void draw(const Group& g, const Matrix& m) {
        const Matrix inner = g.matrix ? m * *g.matrix : m;
        const bool scoped = g.clip || !g.parts.empty() || !g.outline.empty() || g.opacity < 1;
        if (!scoped) return draw(g.items, inner);
        body_ += g.opacity < 1 ? "\\begin{scope}[opacity=" + mmText(g.opacity) + ",transparency group]\n"
                               : "\\begin{scope}\n";
        if (!g.parts.empty()) {
            std::vector<Polyline> parts;
            for (const Rect& part : g.parts) parts.push_back(rectangle(part));
            clip(parts, inner);
        } else if (g.clip)
            clip({rectangle(*g.clip)}, inner);
        if (!g.outline.empty()) {
            if (g.evenOdd) body_ += "\\tikzset{even odd rule}%\n";
            clip(g.outline, inner);
            if (g.evenOdd) body_ += "\\tikzset{nonzero rule}%\n";
        }
        draw(g.items, inner);
        body_ += "\\end{scope}\n";
    }

    const DisplayList& list_;
    const TikzOptions& options_;
    Tikz out_;
    std::string body_;
    std::map<std::string, Colour> colours_;
    std::set<std::string> fonts_;
    int pictures_ = 0;
};

} // namespace

Tikz toTikz(const DisplayList& list, const TikzOptions& options) {
    return TikzWriter(list, options).run();
}

} // namespace jointer::draw
