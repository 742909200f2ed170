// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/artwork_svg.h"

#include <cctype>
#include <charconv>
#include <cmath>
#include <numbers>

namespace jointer::draw::svg {

namespace {

bool isBlank(char c) {
    return c == ' ' || c == ',' || c == '\n' || c == '\t' || c == '\r';
}

// One number from `at` on, which goes behind it.
std::optional<double> numberAt(std::string_view text, std::size_t& at) {
    while (at < text.size() && isBlank(text[at])) ++at;
    if (at < text.size() && text[at] == '+') ++at;
    double v = 0;
    const auto [end, error] = std::from_chars(text.data() + at, text.data() + text.size(), v);
    if (error != std::errc() || !std::isfinite(v)) return {};
    at = static_cast<std::size_t>(end - text.data());
    return v;
}

std::string_view trimmed(std::string_view text) {
    while (!text.empty() && isBlank(text.front())) text.remove_prefix(1);
    while (!text.empty() && isBlank(text.back())) text.remove_suffix(1);
    return text;
}

// Lines for a cubic curve: the number of pieces from its second differences.
void curve(std::vector<Point>& out, Point a, Point b, Point c, Point d, double off) {
    const double bend = std::max(std::hypot(a.x - 2 * b.x + c.x, a.y - 2 * b.y + c.y),
                                 std::hypot(b.x - 2 * c.x + d.x, b.y - 2 * c.y + d.y));
    const int pieces = static_cast<int>(std::clamp(std::ceil(std::sqrt(0.75 * bend / off)), 1.0, 200.0));
    for (int k = 1; k <= pieces; ++k) {
        const double t = static_cast<double>(k) / pieces, s = 1 - t;
        const double w[] = {s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t};
        out.push_back({w[0] * a.x + w[1] * b.x + w[2] * c.x + w[3] * d.x,
                       w[0] * a.y + w[1] * b.y + w[2] * c.y + w[3] * d.y});
    }
}

// The pen that walks along the letters of a path.
class Walk {
public:
    Walk(std::string_view data, const Matrix& matrix, double off) : data_(data), matrix_(matrix), off_(off) {}

    std::optional<std::vector<Polyline>> run() {
        std::size_t at = 0;
        char letter = 0;
        while (at < data_.size()) {
            if (isBlank(data_[at])) {
                ++at;
                continue;
            }
            if (std::isalpha(static_cast<unsigned char>(data_[at]))) {
                letter = data_[at++];
                if (letter == 'Z' || letter == 'z') {
                    if (out_.empty()) return {};
                    out_.back().closed = true;
                    now_ = start_;
                    open_ = false;
                    continue;
                }
            } else if (letter == 0 || letter == 'Z' || letter == 'z')
                return {};
            if (!step(letter, at)) return {};
            if (letter == 'M') letter = 'L'; // further pairs
            if (letter == 'm') letter = 'l';
        }
        std::erase_if(out_, [](const Polyline& l) { return l.points.size() < 2 && !l.closed; });
        return std::move(out_);
    }

private:
    bool step(char letter, std::size_t& at) {
        const bool relative = std::islower(static_cast<unsigned char>(letter)) != 0;
        const Point from = relative ? now_ : Point{};
        const auto number = [&](double& to) {
            const auto v = numberAt(data_, at);
            if (v) to = *v;
            return v.has_value();
        };
        const auto point = [&](Point& to) {
            if (!number(to.x) || !number(to.y)) return false;
            to = {to.x + from.x, to.y + from.y};
            return true;
        };
        Point a = now_, b = now_, to = now_;
        switch (std::toupper(static_cast<unsigned char>(letter))) {
        case 'M':
            if (!point(to)) return false;
            open_ = false;
            now_ = start_ = to;
            begin();
            break;
        case 'L':
            if (!point(to)) return false;
            line(to);
            break;
        case 'H':
            if (!number(to.x)) return false;
            line({to.x + from.x, now_.y});
            break;
        case 'V':
            if (!number(to.y)) return false;
            line({now_.x, to.y + from.y});
            break;
        case 'C':
            if (!point(a) || !point(b) || !point(to)) return false;
            curveTo(a, b, to);
            break;
        case 'S':
            if (!point(b) || !point(to)) return false;
            curveTo(lastWas('C') ? mirrored() : now_, b, to);
            break;
        case 'Q':
            if (!point(a) || !point(to)) return false;
            bow(a, to);
            break;
        case 'T':
            if (!point(to)) return false;
            bow(lastWas('Q') ? mirrored() : now_, to);
            break;
        default:
            return false;
        }
        last_ = letter;
        return true;
    }
    bool lastWas(char cubicOrBow) const {
        const char l = static_cast<char>(std::toupper(static_cast<unsigned char>(last_)));
        return l == cubicOrBow || l == (cubicOrBow == 'C' ? 'S' : 'T');
    }
    Point mirrored() const { return {2 * now_.x - handle_.x, 2 * now_.y - handle_.y}; }

    void begin() {
        if (open_) return;
        out_.push_back({{matrix_(now_)}, false});
        open_ = true;
    }
    void line(Point to) {
        begin();
        now_ = to;
        out_.back().points.push_back(matrix_(to));
    }
    void curveTo(Point a, Point b, Point to) {
        begin();
        curve(out_.back().points, matrix_(now_), matrix_(a), matrix_(b), matrix_(to), off_);
        handle_ = b;
        now_ = to;
    }
    void bow(Point a, Point to) {
        const auto third = [](Point p, Point q) {
            return Point{p.x + 2 * (q.x - p.x) / 3, p.y + 2 * (q.y - p.y) / 3};
        };
        curveTo(third(now_, a), third(to, a), to);
        handle_ = a;
    }

    std::string_view data_;
    const Matrix& matrix_;
    double off_;
    std::vector<Polyline> out_;
    Point now_, start_, handle_;
    bool open_ = false; // the last of `out_` goes on
    char last_ = 0;
};

} // namespace

std::vector<double> numbersIn(std::string_view text) {
    std::vector<double> out;
    for (std::size_t at = 0; at < text.size();) {
        if (const auto v = numberAt(text, at))
            out.push_back(*v);
        else
            ++at;
    }
    return out;
}

std::optional<Matrix> inverse(const Matrix& m) {
    const double d = m.a * m.d - m.b * m.c;
    if (!(std::abs(d) > 1e-14) || !std::isfinite(d)) return {};
    return Matrix{
        m.d / d, -m.b / d, -m.c / d, m.a / d, (m.c * m.f - m.d * m.e) / d, (m.b * m.e - m.a * m.f) / d};
}

Matrix matrixIn(std::string_view text) {
    Matrix all;
    for (std::size_t open = text.find('('); open != text.npos; open = text.find('(')) {
        const std::size_t close = text.find(')', open);
        const std::string_view name = trimmed(text.substr(0, open));
        const auto n = numbersIn(text.substr(open + 1, close == text.npos ? close : close - open - 1));
        if (name == "matrix" && n.size() == 6)
            all = all * Matrix{n[0], n[1], n[2], n[3], n[4], n[5]};
        else if (name == "translate" && !n.empty())
            all = all * Matrix{1, 0, 0, 1, n[0], n.size() > 1 ? n[1] : 0};
        else if (name == "scale" && !n.empty())
            all = all * Matrix{n[0], 0, 0, n.size() > 1 ? n[1] : n[0], 0, 0};
        else if (name == "rotate" && n.size() == 1) {
            const double c = std::cos(n[0] * std::numbers::pi / 180),
                         s = std::sin(n[0] * std::numbers::pi / 180);
            all = all * Matrix{c, s, -s, c, 0, 0};
        }
        if (close == text.npos) break;
        text.remove_prefix(close + 1);
    }
    return all;
}

std::optional<Colour> colourIn(std::string_view text) {
    text = trimmed(text);
    if (text.starts_with("#") && text.size() >= 7) return Colour::fromText(text.substr(0, 7));
    if (!text.starts_with("rgb")) return {};
    const auto n = numbersIn(text);
    if (n.size() < 3) return {};
    const bool perCent = text.find('%') != text.npos;
    const auto code = [perCent](double v) {
        return static_cast<std::uint8_t>(std::lround(std::clamp(perCent ? v * 255 / 100 : v, 0.0, 255.0)));
    };
    return Colour{code(n[0]), code(n[1]), code(n[2]), 255};
}

std::string_view targetOf(std::string_view link) {
    link = trimmed(link);
    if (link.starts_with("url(")) {
        link.remove_prefix(4);
        link = link.substr(0, link.find(')'));
    }
    return link.starts_with("#") ? link.substr(1) : std::string_view{};
}

double millimetresIn(std::string_view text) {
    std::size_t at = 0;
    const auto v = numberAt(text, at);
    if (!v) return 0;
    const std::string_view unit = trimmed(text.substr(at));
    return *v * (unit == "mm"   ? 1
                 : unit == "cm" ? 10
                 : unit == "in" ? 25.4
                 : unit == "pt" ? kMmPerPt
                                : 25.4 / 96);
}

std::optional<std::vector<Polyline>> linesIn(std::string_view data, const Matrix& matrix, double off) {
    return Walk(data, matrix, off).run();
}

void Style::set(std::string_view name, std::string_view value) {
    value = trimmed(value);
    const auto number = [&](double& to, double lowest, double highest) {
        std::size_t at = 0;
        if (const auto v = numberAt(value, at)) to = std::clamp(*v, lowest, highest);
    };
    if (name == "fill") fill = value;
    if (name == "stroke") stroke = value;
    if (name == "fill-opacity") number(fillOpacity, 0, 1);
    if (name == "stroke-opacity") number(strokeOpacity, 0, 1);
    if (name == "opacity") number(opacity, 0, 1);
    if (name == "stroke-width") number(width, 0, 1e6);
    if (name == "fill-rule") evenOdd = value == "evenodd";
    if (name == "stroke-linecap")
        cap = value == "round" ? Cap::Round : value == "square" ? Cap::Square : Cap::Butt;
    if (name == "stroke-linejoin") join = value == "round" ? Join::Round : Join::Miter;
    if (name == "stroke-dasharray") {
        dashes = value == "none" ? std::vector<double>{} : numbersIn(value);
        double sum = 0;
        for (const double d : dashes) sum += d;
        if (!(sum > 0) || std::ranges::any_of(dashes, [](double d) { return d < 0; })) dashes.clear();
        if (dashes.size() % 2 == 1) { // they go on with the parts changed
            const std::vector<double> once = dashes;
            dashes.insert(dashes.end(), once.begin(), once.end());
        }
    }
}

void Style::setAll(std::string_view declarations) {
    while (!declarations.empty()) {
        const std::size_t end = declarations.find(';');
        const std::string_view one = declarations.substr(0, end);
        if (const std::size_t colon = one.find(':'); colon != one.npos)
            set(trimmed(one.substr(0, colon)), one.substr(colon + 1));
        if (end == declarations.npos) break;
        declarations.remove_prefix(end + 1);
    }
}

} // namespace jointer::draw::svg
