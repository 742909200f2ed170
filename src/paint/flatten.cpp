// SPDX-License-Identifier: GPL-3.0-or-later
#include "paint/flatten.h"

#include "draw/bounds.h"
#include "draw/revise.h"
#include "paint/painter.h"
#include "paint/paths.h"

#include <QPainterPath>
#include <QPainterPathStroker>
#include <cmath>
#include <numbers>

namespace jointer::paint {

using namespace draw;

namespace {

constexpr std::size_t kMost = 300000;     // points that are drawn again for one item
constexpr std::size_t kMostSymbols = 400; // translucent ones in one item
constexpr double kPictureDpi = 1200;

Colour mixed(Colour under, Colour over) {
    const double a = over.a / 255.0;
    const auto mix = [a](std::uint8_t u, std::uint8_t o) {
        return static_cast<std::uint8_t>(std::lround(std::lerp(u, o, a)));
    };
    return {mix(under.r, over.r), mix(under.g, over.g), mix(under.b, over.b), 255};
}

// Where an item is seen: of a group what it draws within its clip, not all of the clip.
Rect seenBounds(const Item& item) {
    const auto* group = std::get_if<Group>(&item.what);
    if (!group || !group->clip || group->matrix) return boundsOf(item);
    Rect inner{0, 0, -1, -1};
    for (const Item& each : group->items) {
        const Rect r = seenBounds(each);
        if (r.width < 0) continue;
        if (inner.width < 0) {
            inner = r;
            continue;
        }
        const double x = std::min(inner.x, r.x), y = std::min(inner.y, r.y);
        inner = {x, y, std::max(inner.right(), r.right()) - x, std::max(inner.bottom(), r.bottom()) - y};
    }
    const double x = std::max(inner.x, group->clip->x), y = std::max(inner.y, group->clip->y),
                 right = std::min(inner.right(), group->clip->right()),
                 bottom = std::min(inner.bottom(), group->clip->bottom());
    if (inner.width < 0 || right < x || bottom < y) return {0, 0, -1, -1};
    return {x, y, right - x, bottom - y};
}

std::size_t weightOf(const Item& item) {
    std::size_t n = 1;
    const auto count = [&n](const Item& each) {
        if (const auto* path = std::get_if<Path>(&each.what)) n += pointCount(path->lines);
        if (const auto* symbols = std::get_if<Symbols>(&each.what)) n += 8 * symbols->places.size();
        if (const auto* picture = std::get_if<Picture>(&each.what)) n += picture->columns * picture->rows / 8;
    };
    count(item);
    if (const auto* group = std::get_if<Group>(&item.what)) eachItem(group->items, count);
    return n;
}

Colour faded(Colour c, double opacity) {
    return c.withAlpha(opacity * c.a / 255.0);
}

bool isOpaque(const std::optional<Stroke>& stroke, const std::optional<Colour>& fill, double opacity) {
    return opacity >= 1 && (!stroke || stroke->colour.a == 255) && (!fill || fill->a == 255);
}

std::vector<Polyline> polygonsOf(const QPainterPath& path) {
    std::vector<Polyline> out;
    for (const QPolygonF& polygon : path.toSubpathPolygons()) {
        out.push_back({{}, true});
        for (const QPointF& p : polygon) out.back().points.push_back({p.x(), p.y()});
    }
    return out;
}

std::vector<Polyline> outlineOfStroke(const std::vector<Polyline>& lines, const Stroke& stroke) {
    QPainterPathStroker stroker(penOf(stroke));
    stroker.setCurveThreshold(0.01);
    return polygonsOf(stroker.createStroke(pathOf(lines)));
}

Polyline circleOf(double radius) {
    Polyline out{{}, true};
    for (int k = 0; k < 64; ++k) {
        const double angle = 2 * std::numbers::pi * k / 64;
        out.points.push_back({radius * std::cos(angle), radius * std::sin(angle)});
    }
    return out;
}

class Flattener {
public:
    explicit Flattener(const DisplayList& list) {
        out_.list = {
            .widthMm = list.widthMm, .heightMm = list.heightMm, .items = {}, .regions = list.regions};
        take(list.items, {}, 1);
    }
    Flattened out_;

private:
    using Clips = std::vector<Group>; // empty groups, from the outermost

    void take(const std::vector<Item>& items, const Clips& clips, double opacity) {
        for (const Item& item : items) take(item, clips, opacity);
    }

    void take(const Item& item, const Clips& clips, double opacity) {
        if (const auto* group = std::get_if<Group>(&item.what)) {
            Clips inner = clips;
            inner.push_back({.clip = group->clip,
                             .items = {},
                             .parts = group->parts,
                             .matrix = group->matrix,
                             .outline = group->outline,
                             .evenOdd = group->evenOdd});
            return take(group->items, inner, opacity * group->opacity);
        }
        if (const auto* path = std::get_if<Path>(&item.what)) {
            if (isOpaque(path->stroke, path->fill, opacity)) return put(item, clips);
            if (path->fill)
                cover(item.element, path->lines, faded(*path->fill, opacity), clips, path->evenOdd);
            if (path->stroke)
                cover(item.element, outlineOfStroke(path->lines, *path->stroke),
                      faded(path->stroke->colour, opacity), clips);
        } else if (const auto* symbols = std::get_if<Symbols>(&item.what)) {
            if (isOpaque(symbols->stroke, symbols->fill, opacity)) return put(item, clips);
            takeSymbols(item, *symbols, clips, opacity);
        } else if (const auto* text = std::get_if<TextRun>(&item.what)) {
            if (opacity >= 1 && text->colour.a == 255) return put(item, clips);
            cover(item.element, draw::outlineOf(*text).lines, faded(text->colour, opacity), clips);
        } else {
            Item whole = item;
            if (isOpaqueItem(item) && opacity >= 1) return put(item, clips);
            if (opacity < 1) whole = {item.element, Group{.clip = {}, .opacity = opacity, .items = {item}}};
            becomePicture(wrapped(std::move(whole), clips));
        }
    }

    static bool isOpaqueItem(const Item& item) {
        if (const auto* mesh = std::get_if<Mesh>(&item.what))
            return std::ranges::all_of(mesh->colours, [](const Colour& c) { return c.a == 255; });
        const auto* picture = std::get_if<Picture>(&item.what);
        if (!picture || !picture->pixels) return true;
        for (std::size_t k = 3; k < picture->pixels->size(); k += 4)
            if ((*picture->pixels)[k] != 255) return false;
        return true;
    }

    void takeSymbols(const Item& item, const Symbols& s, const Clips& clips, double opacity) {
        if (s.places.size() > kMostSymbols) {
            Item faint = item;
            if (opacity < 1) faint = {item.element, Group{.clip = {}, .opacity = opacity, .items = {item}}};
            return becomePicture(wrapped(std::move(faint), clips));
        }
        std::vector<Polyline> outline = symbolOutline(s.shape, s.sizeMm);
        if (s.shape == SymbolShape::Circle) outline = {circleOf(s.sizeMm / 2)};
        for (const Point& at : s.places) {
            const auto there = [&at](std::vector<Polyline> lines) {
                for (Polyline& line : lines)
                    for (Point& p : line.points) p = {p.x + at.x, p.y + at.y};
                return lines;
            };
            if (s.fill && !isOfStrokes(s.shape))
                cover(item.element,
                      there(s.half == Half::None ? outline
                                                 : std::vector{symbolHalf(s.shape, s.sizeMm, s.half)}),
                      faded(*s.fill, opacity), clips);
            if (s.stroke)
                cover(item.element, outlineOfStroke(there(outline), *s.stroke),
                      faded(s.stroke->colour, opacity), clips);
        }
    }

    static Item wrapped(Item item, const Clips& clips) {
        for (auto clip = clips.rbegin(); clip != clips.rend(); ++clip) {
            Group group = *clip;
            const ElementId element = item.element;
            group.items.push_back(std::move(item));
            item = {element, std::move(group)};
        }
        return item;
    }
    void put(Item item, const Clips& clips) { out_.list.items.push_back(wrapped(std::move(item), clips)); }

    // An area in a colour: on white, and over what lies behind it.
    void cover(ElementId element, const std::vector<Polyline>& lines, Colour colour, const Clips& clips,
               bool evenOdd = false) {
        if (lines.empty() || colour.a == 0) return;
        const Path area{.lines = lines, .stroke = {}, .fill = colour, .evenOdd = evenOdd};
        if (colour.a == 255) return put({element, area}, clips);
        const Item whole = wrapped({element, area}, clips);
        const Rect reach = seenBounds(whole);
        std::vector<Item> behind;
        std::size_t weight = 0;
        for (const Item& item : out_.list.items)
            if (meet(seenBounds(item), reach)) {
                weight += weightOf(item);
                if (weight > kMost) return becomePicture(whole);
                behind.push_back(item);
            }
        const Colour onWhite = mixed({255, 255, 255, 255}, colour);
        put({element, Path{.lines = lines, .stroke = {}, .fill = onWhite, .evenOdd = evenOdd}}, clips);
        if (behind.empty()) return;
        behind = recoloured({.items = std::move(behind), .regions = {}}, [&](Colour under) {
                     return mixed(under, colour);
                 }).items;
        // What lies behind is told in places of the page: so are the clips then.
        Group again{.clip = {}, .items = std::move(behind), .outline = onPage(lines, clips)};
        again.evenOdd = evenOdd;
        put({element, std::move(again)}, withoutMatrices(clips));
    }

    static Matrix matrixOf(const Clips& clips, std::size_t count) {
        Matrix all;
        for (std::size_t k = 0; k < count; ++k)
            if (clips[k].matrix) all = all * *clips[k].matrix;
        return all;
    }
    static std::vector<Polyline> onPage(std::vector<Polyline> lines, const Clips& clips) {
        const Matrix m = matrixOf(clips, clips.size());
        for (Polyline& line : lines)
            for (Point& p : line.points) p = m(p);
        return lines;
    }
    static Clips withoutMatrices(const Clips& clips) {
        Clips out;
        for (std::size_t k = 0; k < clips.size(); ++k) {
            Group clip{.clip = {}, .items = {}};
            const Matrix m = matrixOf(clips, k + 1);
            std::vector<Rect> parts = clips[k].parts;
            if (clips[k].clip && parts.empty()) parts = {*clips[k].clip};
            std::vector<Polyline> areas;
            for (const Rect& r : parts)
                areas.push_back(
                    {{m({r.x, r.y}), m({r.right(), r.y}), m({r.right(), r.bottom()}), m({r.x, r.bottom()})},
                     true});
            clip.outline = std::move(areas);
            if (!clip.outline.empty()) out.push_back(clip);
            if (!clips[k].outline.empty()) {
                clip.outline = clips[k].outline;
                clip.evenOdd = clips[k].evenOdd;
                for (Polyline& line : clip.outline)
                    for (Point& p : line.points) p = m(p);
                out.push_back(std::move(clip));
            }
        }
        return out;
    }

    // The item and all that lies behind it, as one sees them.
    void becomePicture(const Item& item) {
        const Rect page{0, 0, out_.list.widthMm, out_.list.heightMm};
        const Rect reach = boundsOf(item);
        const double x = std::max(0.0, reach.x), y = std::max(0.0, reach.y);
        const Rect part{x, y, std::min(page.width, reach.right()) - x,
                        std::min(page.height, reach.bottom()) - y};
        if (!(part.width > 0) || !(part.height > 0)) return;
        DisplayList seen = out_.list;
        seen.items.push_back(item);
        const double dpi = std::min(kPictureDpi, 25.4 * std::sqrt(1e8 / (part.width * part.height)));
        const QImage image = toImage(seen, dpi, false, part).convertToFormat(QImage::Format_RGBA8888);
        auto pixels = std::make_shared<std::vector<std::uint8_t>>();
        pixels->reserve(static_cast<std::size_t>(4 * image.width()) *
                        static_cast<std::size_t>(image.height()));
        for (int row = 0; row < image.height(); ++row)
            pixels->insert(pixels->end(), image.constScanLine(row),
                           image.constScanLine(row) + 4 * image.width());
        std::erase_if(out_.list.items, [&](const Item& behind) { // nothing of these is seen any more
            const Rect r = boundsOf(behind);
            return r.x >= part.x && r.y >= part.y && r.right() <= part.right() && r.bottom() <= part.bottom();
        });
        out_.list.items.push_back({item.element, Picture{.bounds = part,
                                                         .columns = static_cast<std::size_t>(image.width()),
                                                         .rows = static_cast<std::size_t>(image.height()),
                                                         .pixels = std::move(pixels)}});
        ++out_.pictures;
    }
};

} // namespace

Flattened flattened(const DisplayList& list) {
    return std::move(Flattener(list).out_);
}

} // namespace jointer::paint
