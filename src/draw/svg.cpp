// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/svg.h"

#include "base/base64.h"
#include "draw/fonts.h"
#include "draw/png.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>

namespace jointer::draw {

namespace {

std::string escaped(std::string_view text) {
    std::string out;
    for (char c : text) {
        if (c == '&')
            out += "&amp;";
        else if (c == '<')
            out += "&lt;";
        else if (c == '>')
            out += "&gt;";
        else if (c == '"')
            out += "&quot;";
        else if (static_cast<unsigned char>(c) >= 32)
            out += c;
    }
    return out;
}

class SvgWriter {
public:
    SvgWriter(const DisplayList& list, const SvgOptions& options) : list_(list), options_(options) {}

    std::string run() {
        for (const Item& item : list_.items) add(item);
        closeElement();
        std::string head = fmt::format(
            "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" "
            "version=\"1.1\" width=\"{0}mm\" height=\"{1}mm\" viewBox=\"0 0 {0} {1}\">\n",
            mmText(list_.widthMm), mmText(list_.heightMm));
        head += credits();
        head += "<defs>\n" + fontDefinitions() + clips_ + "</defs>\n";
        if (!options_.transparent)
            head += fmt::format("<rect width=\"{}\" height=\"{}\" fill=\"#ffffff\"/>\n",
                                mmText(list_.widthMm), mmText(list_.heightMm));
        return head + body_ + "</svg>\n";
    }

private:
    // Title and description for everyone, the rest by the terms of Dublin Core.
    std::string credits() const {
        const Credits& c = options_.credits;
        if (c == Credits{}) return {};
        std::string out;
        if (!c.title.empty()) out += "<title>" + escaped(c.title) + "</title>\n";
        if (!c.remark().empty()) out += "<desc>" + escaped(c.remark()) + "</desc>\n";
        out += "<metadata><rdf:RDF xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\" "
               "xmlns:dc=\"http://purl.org/dc/elements/1.1/\"><rdf:Description rdf:about=\"\">";
        const auto add = [&](const char* term, const std::string& value) {
            if (!value.empty()) out += fmt::format("<dc:{0}>{1}</dc:{0}>", term, escaped(value));
        };
        add("title", c.title);
        add("creator", c.author);
        add("source", c.project);
        add("identifier", c.checksum.empty() ? "" : "data:" + c.checksum);
        add("publisher", "Jointer");
        return out + "</rdf:Description></rdf:RDF></metadata>\n";
    }

    // Where fonts within the file are not read, those of the same widths come next.
    static std::string familiesOf(const FontFile* font) {
        if (!font) return "sans-serif";
        const bool serif = font->face.starts_with("serif") || font->face == "math";
        return fmt::format("'{}', {}", font->family,
                           serif                            ? "'STIX Two Text', 'Times New Roman', serif"
                           : font->face.starts_with("sans") ? "'Nimbus Sans', Helvetica, Arial, sans-serif"
                                                            : "sans-serif");
    }
    static std::string weightAndStyle(const std::string& face) {
        std::string out = face.find("-bold") != face.npos ? " font-weight=\"bold\"" : "";
        return face.ends_with("-italic") ? out + " font-style=\"italic\"" : out;
    }

    std::string fontDefinitions() const {
        if (!options_.embedFonts || faces_.empty()) return {};
        std::string css = "<style>\n/* fonts under their own free licences */\n";
        for (const auto& [face, used] : faces_) {
            const FontFile* font = fontFile(face);
            if (!font) continue;
            css += fmt::format("@font-face {{ font-family: '{}'; font-weight: {}; font-style: {}; src: "
                               "url(data:font/otf;base64,{}); }}\n",
                               font->family, face.find("-bold") != face.npos ? "bold" : "normal",
                               face.ends_with("-italic") ? "italic" : "normal", base64(subsetOf(face, used)));
        }
        return css + "</style>\n";
    }

    void openElement(ElementId id) {
        if (open_ && current_ == id) return;
        closeElement();
        body_ += id ? fmt::format("<g id=\"{}{}\">\n", id.text(),
                                  seen_.insert(id.value).second ? "" : fmt::format("-{}", ++again_))
                    : "<g>\n";
        current_ = id;
        open_ = true;
    }
    void closeElement() {
        if (open_) body_ += "</g>\n";
        open_ = false;
    }

    void add(const Item& item) {
        openElement(item.element);
        std::visit([&](const auto& what) { draw(what); }, item.what);
    }

    static std::string paint(const std::optional<Stroke>& stroke, const std::optional<Colour>& fill) {
        std::string out = fill ? fmt::format(" fill=\"{}\"", fill->text()) : " fill=\"none\"";
        if (fill && fill->a != 255) out += fmt::format(" fill-opacity=\"{}\"", mmText(fill->a / 255.0));
        if (!stroke) return out;
        out +=
            fmt::format(" stroke=\"{}\" stroke-width=\"{}\"", stroke->colour.text(), mmText(stroke->widthMm));
        if (stroke->colour.a != 255)
            out += fmt::format(" stroke-opacity=\"{}\"", mmText(stroke->colour.a / 255.0));
        if (stroke->cap != Cap::Butt)
            out += stroke->cap == Cap::Round ? " stroke-linecap=\"round\"" : " stroke-linecap=\"square\"";
        if (stroke->join == Join::Round) out += " stroke-linejoin=\"round\"";
        if (!stroke->dashMm.empty()) {
            std::string dashes;
            for (double d : stroke->dashMm) dashes += (dashes.empty() ? "" : " ") + mmText(d);
            out += " stroke-dasharray=\"" + dashes + "\"";
        }
        return out;
    }

    static std::string data(const std::vector<Polyline>& lines, Point by = {}) {
        std::string d;
        for (const Polyline& line : lines) {
            for (std::size_t i = 0; i < line.points.size(); ++i)
                d += fmt::format("{}{} {}",
                                 i == 0   ? "M"
                                 : i == 1 ? "L"
                                          : " ",
                                 mmText(line.points[i].x + by.x), mmText(line.points[i].y + by.y));
            if (line.closed) d += "Z";
        }
        return d;
    }

    void draw(const Path& p) {
        body_ += fmt::format("<path d=\"{}\"{}{}/>\n", data(p.lines), paint(p.stroke, p.fill),
                             p.evenOdd && p.fill ? " fill-rule=\"evenodd\"" : "");
    }

    void draw(const Symbols& s) {
        const auto outline = symbolOutline(s.shape, s.sizeMm);
        if (s.half != Half::None && s.fill) {
            body_ += "<g" + paint({}, s.fill) + ">\n";
            const std::vector<Polyline> half = {symbolHalf(s.shape, s.sizeMm, s.half)};
            for (const Point& p : s.places) body_ += fmt::format("<path d=\"{}\"/>\n", data(half, p));
            body_ += "</g>\n";
        }
        body_ += "<g" + paint(s.stroke, s.half == Half::None ? s.fill : std::nullopt) + ">\n";
        for (const Point& p : s.places) {
            if (s.shape == SymbolShape::Circle)
                body_ += fmt::format("<circle cx=\"{}\" cy=\"{}\" r=\"{}\"/>\n", mmText(p.x), mmText(p.y),
                                     mmText(s.sizeMm / 2));
            else
                body_ += fmt::format("<path d=\"{}\"/>\n", data(outline, p));
        }
        body_ += "</g>\n";
    }

    void draw(const TextRun& t) {
        faces_[t.face] += t.text;
        const FontFile* font = fontFile(t.face);
        const std::string turn = t.angleDeg == 0
                                     ? ""
                                     : fmt::format(" transform=\"rotate({} {} {})\"", mmText(-t.angleDeg),
                                                   mmText(t.origin.x), mmText(t.origin.y));
        body_ += fmt::format("<text x=\"{}\" y=\"{}\" font-family=\"{}\"{} font-size=\"{}\" fill=\"{}\" "
                             "xml:space=\"preserve\" font-variant-ligatures=\"none\"{}>{}</text>\n",
                             mmText(t.origin.x), mmText(t.origin.y), familiesOf(font), weightAndStyle(t.face),
                             mmText(t.sizePt * kMmPerPt), t.colour.text(), turn, escaped(t.text));
    }

    // Viewers that blend pixels all the same shall do so within few hundredths of a bar of one column.
    static Picture enlarged(const Picture& p) {
        constexpr std::size_t kLeast = 48;
        const auto times = [&p](std::size_t count) { // of one pixel there is nothing to blend with
            return count < kLeast && (!p.smooth || count == 1) ? (kLeast + count - 1) / count : 1;
        };
        const std::size_t across = times(p.columns), down = times(p.rows);
        if (across == 1 && down == 1) return p;
        auto pixels = std::make_shared<std::vector<std::uint8_t>>();
        pixels->reserve(4 * p.columns * across * p.rows * down);
        for (std::size_t row = 0; row < p.rows * down; ++row)
            for (std::size_t column = 0; column < p.columns * across; ++column) {
                const auto from = p.pixels->begin() +
                                  static_cast<std::ptrdiff_t>(4 * (row / down * p.columns + column / across));
                pixels->insert(pixels->end(), from, from + 4);
            }
        return {p.bounds, p.columns * across, p.rows * down, std::move(pixels), p.smooth};
    }

    void draw(const Picture& p) {
        if (!p.pixels || p.columns == 0 || p.rows == 0) return;
        body_ += fmt::format("<image x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\" "
                             "preserveAspectRatio=\"none\"{} href=\"data:image/png;base64,{}\"/>\n",
                             mmText(p.bounds.x), mmText(p.bounds.y), mmText(p.bounds.width),
                             mmText(p.bounds.height), p.smooth ? "" : " style=\"image-rendering:pixelated\"",
                             base64(pngOf(enlarged(p))));
    }

    void draw(const Mesh& mesh) {
        eachTriangle(mesh, [this](const Polyline& corners, Colour c) {
            draw(Path{.lines = {corners}, .stroke = {}, .fill = c});
        });
    }

    static std::string rectangle(const Rect& r) {
        return fmt::format("<rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\"/>", mmText(r.x), mmText(r.y),
                           mmText(r.width), mmText(r.height));
    }

    void draw(const Group& g) {
        std::string attributes;
        if (g.matrix)
            attributes = fmt::format(" transform=\"matrix({} {} {} {} {} {})\"", g.matrix->a, g.matrix->b,
                                     g.matrix->c, g.matrix->d, mmText(g.matrix->e), mmText(g.matrix->f));
        if (g.clip || !g.parts.empty()) {
            const int id = ++clipCount_;
            clips_ += fmt::format("<clipPath id=\"clip{}\">", id);
            if (g.parts.empty()) clips_ += rectangle(*g.clip);
            for (const Rect& part : g.parts) clips_ += rectangle(part);
            clips_ += "</clipPath>\n";
            attributes += fmt::format(" clip-path=\"url(#clip{})\"", id);
        }
        if (!g.outline.empty()) {
            clips_ += fmt::format("<clipPath id=\"clip{}\"><path d=\"{}\"{}/></clipPath>\n", ++clipCount_,
                                  data(g.outline), g.evenOdd ? " clip-rule=\"evenodd\"" : "");
            body_ += fmt::format("<g{}><g clip-path=\"url(#clip{})\">\n", attributes, clipCount_);
            attributes.clear();
        }
        if (g.opacity < 1) attributes += fmt::format(" opacity=\"{}\"", mmText(g.opacity));
        body_ += "<g" + attributes + ">\n";
        for (const Item& item : g.items) std::visit([&](const auto& what) { draw(what); }, item.what);
        body_ += g.outline.empty() ? "</g>\n" : "</g></g></g>\n";
    }

    const DisplayList& list_;
    const SvgOptions& options_;
    std::string body_, clips_;
    std::map<std::string, std::string> faces_; // and the text that was set in each
    std::set<std::uint64_t> seen_;
    ElementId current_;
    bool open_ = false;
    int clipCount_ = 0, again_ = 0;
};

} // namespace

std::string toSvg(const DisplayList& list, const SvgOptions& options) {
    return SvgWriter(list, options).run();
}

} // namespace jointer::draw
