// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/svg.h"

#include "draw/fonts.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <map>
#include <set>
#include <span>

namespace jointer::draw {

namespace {

// Three decimals of a millimetre are finer than any printer.
std::string mm(double v) {
    std::string s = fmt::format("{:.3f}", v);
    s.erase(s.find_last_not_of('0') + 1);
    if (s.ends_with('.')) s.pop_back();
    return s == "-0" ? "0" : s;
}

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

std::string base64(std::string_view text) {
    const std::span bytes(reinterpret_cast<const unsigned char*>(text.data()), text.size());
    static constexpr char letters[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    out.reserve(bytes.size() * 4 / 3 + 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        const unsigned n = static_cast<unsigned>(bytes[i]) << 16 |
                           (i + 1 < bytes.size() ? bytes[i + 1] << 8 : 0) |
                           (i + 2 < bytes.size() ? bytes[i + 2] : 0);
        out += letters[n >> 18];
        out += letters[n >> 12 & 63];
        out += i + 1 < bytes.size() ? letters[n >> 6 & 63] : '=';
        out += i + 2 < bytes.size() ? letters[n & 63] : '=';
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
            mm(list_.widthMm), mm(list_.heightMm));
        head += "<defs>\n" + fontDefinitions() + clips_ + "</defs>\n";
        if (!options_.transparent)
            head += fmt::format("<rect width=\"{}\" height=\"{}\" fill=\"#ffffff\"/>\n", mm(list_.widthMm),
                                mm(list_.heightMm));
        return head + body_ + "</svg>\n";
    }

private:
    static const FontFile* fontOf(const std::string& face) {
        const auto at = std::ranges::find(fontFiles(), std::string_view(face), &FontFile::face);
        return at == fontFiles().end() ? nullptr : &*at;
    }
    static std::string weightAndStyle(const std::string& face) {
        if (face.ends_with("-bold")) return " font-weight=\"bold\"";
        return face.ends_with("-italic") ? " font-style=\"italic\"" : "";
    }

    std::string fontDefinitions() const {
        if (!options_.embedFonts || faces_.empty()) return {};
        std::string css = "<style>\n";
        for (const auto& [face, used] : faces_) {
            const FontFile* font = fontOf(face);
            if (!font) continue;
            css += fmt::format("@font-face {{ font-family: '{}'; font-weight: {}; font-style: {}; src: "
                               "url(data:font/otf;base64,{}); }}\n",
                               font->family, face.ends_with("-bold") ? "bold" : "normal",
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
        if (fill && fill->a != 255) out += fmt::format(" fill-opacity=\"{}\"", mm(fill->a / 255.0));
        if (!stroke) return out;
        out += fmt::format(" stroke=\"{}\" stroke-width=\"{}\"", stroke->colour.text(), mm(stroke->widthMm));
        if (stroke->colour.a != 255)
            out += fmt::format(" stroke-opacity=\"{}\"", mm(stroke->colour.a / 255.0));
        if (stroke->cap != Cap::Butt)
            out += stroke->cap == Cap::Round ? " stroke-linecap=\"round\"" : " stroke-linecap=\"square\"";
        if (stroke->join == Join::Round) out += " stroke-linejoin=\"round\"";
        if (!stroke->dashMm.empty()) {
            std::string dashes;
            for (double d : stroke->dashMm) dashes += (dashes.empty() ? "" : " ") + mm(d);
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
                                 mm(line.points[i].x + by.x), mm(line.points[i].y + by.y));
            if (line.closed) d += "Z";
        }
        return d;
    }

    void draw(const Path& p) {
        body_ += fmt::format("<path d=\"{}\"{}/>\n", data(p.lines), paint(p.stroke, p.fill));
    }

    void draw(const Symbols& s) {
        body_ += "<g" + paint(s.stroke, s.fill) + ">\n";
        const auto outline = symbolOutline(s.shape, s.sizeMm);
        for (const Point& p : s.places) {
            if (s.shape == SymbolShape::Circle)
                body_ += fmt::format("<circle cx=\"{}\" cy=\"{}\" r=\"{}\"/>\n", mm(p.x), mm(p.y),
                                     mm(s.sizeMm / 2));
            else
                body_ += fmt::format("<path d=\"{}\"/>\n", data(outline, p));
        }
        body_ += "</g>\n";
    }

    void draw(const TextRun& t) {
        faces_[t.face] += t.text;
        const FontFile* font = fontOf(t.face);
        const std::string turn = t.angleDeg == 0
                                     ? ""
                                     : fmt::format(" transform=\"rotate({} {} {})\"", mm(-t.angleDeg),
                                                   mm(t.origin.x), mm(t.origin.y));
        body_ += fmt::format("<text x=\"{}\" y=\"{}\" font-family=\"'{}'\"{} font-size=\"{}\" fill=\"{}\" "
                             "xml:space=\"preserve\" font-variant-ligatures=\"none\"{}>{}</text>\n",
                             mm(t.origin.x), mm(t.origin.y), font ? font->family : "sans-serif",
                             weightAndStyle(t.face), mm(t.sizePt * kMmPerPt), t.colour.text(), turn,
                             escaped(t.text));
    }

    void draw(const Group& g) {
        std::string attributes;
        if (g.clip) {
            const int id = ++clipCount_;
            clips_ += fmt::format(
                "<clipPath id=\"clip{}\"><rect x=\"{}\" y=\"{}\" width=\"{}\" height=\"{}\"/></clipPath>\n",
                id, mm(g.clip->x), mm(g.clip->y), mm(g.clip->width), mm(g.clip->height));
            attributes += fmt::format(" clip-path=\"url(#clip{})\"", id);
        }
        if (g.opacity < 1) attributes += fmt::format(" opacity=\"{}\"", mm(g.opacity));
        body_ += "<g" + attributes + ">\n";
        for (const Item& item : g.items) std::visit([&](const auto& what) { draw(what); }, item.what);
        body_ += "</g>\n";
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
