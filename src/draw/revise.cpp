// SPDX-License-Identifier: GPL-3.0-or-later
#include "draw/revise.h"

#include "draw/bounds.h"
#include "draw/fonts.h"

#include <cmath>
#include <numbers>

namespace jointer::draw {

namespace {

// From em about the start of a baseline to the page.
struct Placing {
    explicit Placing(const TextRun& t)
        : em(t.sizePt * kMmPerPt), c(std::cos(t.angleDeg * std::numbers::pi / 180)),
          s(std::sin(t.angleDeg * std::numbers::pi / 180)), origin(t.origin) {}
    Point operator()(Point p) const {
        return {origin.x + em * (c * p.x + s * p.y), origin.y + em * (c * p.y - s * p.x)};
    }
    double em, c, s;
    Point origin;
};

class Ink {
public:
    std::optional<Rect> all;

    void take(const std::vector<Item>& items, const Matrix& matrix, const std::optional<Rect>& clip) {
        for (const Item& item : items) {
            if (const auto* group = std::get_if<Group>(&item.what))
                enter(*group, matrix, clip);
            else if (const auto* text = std::get_if<TextRun>(&item.what))
                takeText(*text, matrix, clip);
            else if (const auto* path = std::get_if<Path>(&item.what))
                takePath(*path, matrix, clip);
            else
                add(boundsOf(item), matrix, clip);
        }
    }

private:
    void enter(const Group& group, const Matrix& matrix, std::optional<Rect> clip) {
        const Matrix inner = group.matrix ? matrix * *group.matrix : matrix;
        if (group.clip) {
            const Rect own = about(*group.clip, inner);
            clip = clip ? common(*clip, own) : own;
        }
        take(group.items, inner, clip);
    }
    void takeText(const TextRun& text, const Matrix& matrix, const std::optional<Rect>& clip) {
        const Rect ink = draw::inkOf(text.face, text.text);
        if (ink.width <= 0) return;
        const Placing at(text);
        for (const Point p : {Point{ink.x, ink.y}, Point{ink.right(), ink.y}, Point{ink.x, ink.bottom()},
                              Point{ink.right(), ink.bottom()}})
            add({at(p).x, at(p).y, 0, 0}, matrix, clip);
    }
    // Half a line's width about its points: corners are sharp only where lines are closed.
    void takePath(const Path& path, const Matrix& matrix, const std::optional<Rect>& clip) {
        const double half = path.stroke ? path.stroke->widthMm / 2 : 0;
        for (const Polyline& line : path.lines)
            for (const Point& p : line.points) add(Rect{p.x, p.y, 0, 0}.grown(half), matrix, clip);
    }
    static Rect about(const Rect& r, const Matrix& m) {
        const Point corners[] = {m({r.x, r.y}), m({r.right(), r.y}), m({r.x, r.bottom()}),
                                 m({r.right(), r.bottom()})};
        return boundsOf(corners);
    }
    static Rect common(const Rect& a, const Rect& b) {
        const double x = std::max(a.x, b.x), y = std::max(a.y, b.y);
        return {x, y, std::min(a.right(), b.right()) - x, std::min(a.bottom(), b.bottom()) - y};
    }
    void add(Rect r, const Matrix& matrix, const std::optional<Rect>& clip) {
        if (r.width < 0) return;
        r = about(r, matrix);
        if (clip) r = common(r, *clip);
        if (!(r.width >= 0 && r.height >= 0)) return;
        if (!all) {
            all = r;
            return;
        }
        const double x = std::min(all->x, r.x), y = std::min(all->y, r.y);
        all = Rect{x, y, std::max(all->right(), r.right()) - x, std::max(all->bottom(), r.bottom()) - y};
    }
};

void move(std::vector<Item>& items, Point by);

void move(Item& item, Point by) {
    const auto shift = [by](Point& p) { p = {p.x + by.x, p.y + by.y}; };
    const auto shiftRect = [by](Rect& r) { r = {r.x + by.x, r.y + by.y, r.width, r.height}; };
    if (item.line) {
        TextLine line = *item.line;
        shift(line.at);
        item.line = std::make_shared<const TextLine>(std::move(line));
    }
    if (auto* path = std::get_if<Path>(&item.what))
        for (Polyline& line : path->lines) std::ranges::for_each(line.points, shift);
    else if (auto* symbols = std::get_if<Symbols>(&item.what))
        std::ranges::for_each(symbols->places, shift);
    else if (auto* text = std::get_if<TextRun>(&item.what))
        shift(text->origin);
    else if (auto* picture = std::get_if<Picture>(&item.what))
        shiftRect(picture->bounds);
    else if (auto* mesh = std::get_if<Mesh>(&item.what))
        std::ranges::for_each(mesh->corners, shift);
    else if (auto* group = std::get_if<Group>(&item.what)) {
        if (group->matrix) { // what lies within is told in its own places
            group->matrix->e += by.x;
            group->matrix->f += by.y;
            return;
        }
        if (group->clip) shiftRect(*group->clip);
        std::ranges::for_each(group->parts, shiftRect);
        for (Polyline& line : group->outline) std::ranges::for_each(line.points, shift);
        move(group->items, by);
    }
}

// Lines of text stay shared by their parts.
void move(std::vector<Item>& items, Point by) {
    std::shared_ptr<const TextLine> from, to;
    for (Item& item : items) {
        const auto line = item.line;
        const bool same = line && line == from;
        if (same) item.line.reset();
        move(item, by);
        if (same) item.line = to;
        from = line;
        to = item.line;
    }
}

using Change = std::function<Colour(Colour)>;

void recolour(Item& item, const Change& change) {
    if (item.line) {
        TextLine line = *item.line;
        line.colour = change(line.colour);
        item.line = std::make_shared<const TextLine>(std::move(line));
    }
    const auto both = [&](std::optional<Stroke>& stroke, std::optional<Colour>& fill) {
        if (stroke) stroke->colour = change(stroke->colour);
        if (fill) fill = change(*fill);
    };
    if (auto* path = std::get_if<Path>(&item.what))
        both(path->stroke, path->fill);
    else if (auto* symbols = std::get_if<Symbols>(&item.what))
        both(symbols->stroke, symbols->fill);
    else if (auto* text = std::get_if<TextRun>(&item.what))
        text->colour = change(text->colour);
    else if (auto* mesh = std::get_if<Mesh>(&item.what))
        for (Colour& c : mesh->colours) c = change(c);
    else if (auto* picture = std::get_if<Picture>(&item.what); picture && picture->pixels) {
        auto pixels = std::make_shared<std::vector<std::uint8_t>>(*picture->pixels);
        for (std::size_t k = 0; k + 3 < pixels->size(); k += 4) {
            const Colour c = change({(*pixels)[k], (*pixels)[k + 1], (*pixels)[k + 2], (*pixels)[k + 3]});
            (*pixels)[k] = c.r, (*pixels)[k + 1] = c.g, (*pixels)[k + 2] = c.b;
        }
        picture->pixels = std::move(pixels);
    }
}

} // namespace

void eachItem(std::vector<Item>& items, const std::function<void(Item&)>& visit) {
    for (Item& item : items) {
        visit(item);
        if (auto* group = std::get_if<Group>(&item.what)) eachItem(group->items, visit);
    }
}

void eachItem(const std::vector<Item>& items, const std::function<void(const Item&)>& visit) {
    for (const Item& item : items) {
        visit(item);
        if (const auto* group = std::get_if<Group>(&item.what)) eachItem(group->items, visit);
    }
}

std::vector<Polyline> dashesOf(const std::vector<Polyline>& lines, const Stroke& stroke) {
    constexpr double kMost = 1e6;
    const std::vector<double>& pattern = stroke.dashMm;
    double period = 0, length = 0;
    for (const double d : pattern) period += d;
    for (const Polyline& l : lines)
        for (std::size_t k = 1; k < l.points.size(); ++k)
            length += std::hypot(l.points[k].x - l.points[k - 1].x, l.points[k].y - l.points[k - 1].y);
    if (!(period > 0) || !(length / period * static_cast<double>(pattern.size()) < kMost)) return lines;
    std::vector<Polyline> out;
    for (const Polyline& line : lines) {
        std::vector<Point> points = line.points;
        if (line.closed && !points.empty()) points.push_back(points.front());
        std::size_t which = 0;
        double left = pattern[0]; // of the dash or the gap
        if (!points.empty()) out.push_back({{points.front()}, false});
        for (std::size_t k = 1; k < points.size(); ++k) {
            const Point a = points[k - 1], b = points[k];
            const double whole = std::hypot(b.x - a.x, b.y - a.y);
            double done = 0;
            while (whole - done > left) {
                done += left;
                const Point at{std::lerp(a.x, b.x, done / whole), std::lerp(a.y, b.y, done / whole)};
                if (which % 2 == 0)
                    out.back().points.push_back(at);
                else
                    out.push_back({{at}, false});
                which = (which + 1) % (2 * pattern.size());
                left = pattern[which % pattern.size()];
            }
            left -= whole - done;
            if (which % 2 == 0) out.back().points.push_back(b);
        }
        if (!out.empty() && out.back().points.size() < 2) out.pop_back();
    }
    return out;
}

Rect inkOf(const DisplayList& list) {
    const Rect page{0, 0, list.widthMm, list.heightMm};
    Ink ink;
    ink.take(list.items, {}, page);
    return ink.all.value_or(page);
}

DisplayList withoutGround(DisplayList list) {
    if (list.items.empty() || list.items.front().element) return list;
    const auto* path = std::get_if<Path>(&list.items.front().what);
    const bool covers = path && path->fill && path->lines.size() == 1 &&
                        boundsOf(list.items.front()).width >= list.widthMm &&
                        boundsOf(list.items.front()).height >= list.heightMm;
    if (covers) list.items.erase(list.items.begin());
    return list;
}

DisplayList moved(const DisplayList& list, Point by) {
    DisplayList out = list;
    move(out.items, by);
    for (Region& r : out.regions)
        r.bounds = {r.bounds.x + by.x, r.bounds.y + by.y, r.bounds.width, r.bounds.height};
    return out;
}

DisplayList trimmed(const DisplayList& list, double margin) {
    const Rect ink = inkOf(list).grown(margin);
    const auto hundredth = [](double mm) { return std::max(0.01, std::ceil(100 * mm - 1e-6) / 100); };
    DisplayList out = moved(list, {-ink.x, -ink.y});
    out.widthMm = hundredth(ink.width);
    out.heightMm = hundredth(ink.height);
    return out;
}

Path outlineOf(const TextRun& text) {
    Path out{.lines = glyphOutlines(text.face, text.text), .stroke = {}, .fill = text.colour};
    const Placing at(text);
    for (Polyline& line : out.lines)
        for (Point& p : line.points) p = at(p);
    return out;
}

DisplayList outlined(const DisplayList& list) {
    DisplayList out = list;
    eachItem(out.items, [](Item& item) {
        item.line.reset();
        if (const auto* text = std::get_if<TextRun>(&item.what)) item.what = outlineOf(*text);
    });
    return out;
}

Colour greyOf(Colour c) {
    const std::uint8_t v = codeOf(0.2126 * lightOf(c.r) + 0.7152 * lightOf(c.g) + 0.0722 * lightOf(c.b));
    return {v, v, v, c.a};
}

DisplayList inGrey(const DisplayList& list) {
    return recoloured(list, greyOf);
}

DisplayList recoloured(const DisplayList& list, const std::function<Colour(Colour)>& change) {
    DisplayList out = list;
    eachItem(out.items, [&](Item& item) { recolour(item, change); });
    return out;
}

} // namespace jointer::draw
