// SPDX-License-Identifier: GPL-3.0-or-later
// What tells the marks of a panel: names at the curves, legends and where they hide least, bars of colours.
#include "figure/crowd.h"
#include "figure/marks/parts.h"
#include "figure/page/cartesian.h"

#include <cmath>
#include <functional>

namespace jointer::figure {

using namespace draw;

// Of the marks of a dataset the one by which it is named: in its own colour, else the first.
const Cartesian::Drawn* Cartesian::labelled(const GroupMember& m) const {
    const Drawn* best = nullptr;
    for (const Drawn& each : marks_) {
        if (std::ranges::find(m.marks, each.mark.get()) == m.marks.end() ||
            !each.mark->labelPlace(frameOf(each)))
            continue;
        const bool own =
            each.mark->colour == Colour::fromText(inPalette(m.dataset->colour, page_.look.text("palette")));
        if (!best || own) best = &each;
    }
    return best;
}

// The top of all that is drawn of the curve between two places along x.
double Cartesian::topAlong(const GroupMember& m, const Frame& frame, double from, double to) const {
    constexpr std::size_t kParts = 200;
    const double start = frame.x.start(), part = (frame.x.end() - start) / kParts;
    double top = INFINITY;
    for (const Mark* mark : m.marks) {
        const Envelope e = mark->envelope(frame.x, kParts);
        for (std::size_t i = 0; i < kParts; ++i) {
            const double at = start + (static_cast<double>(i) + 0.5) * part;
            if (at < from || at > to || !std::isfinite(e.high[i])) continue;
            const double place = frame.y.place(mark->shifted(frame.y.scale(), e.high[i]));
            if (std::isfinite(place)) top = std::min(top, place);
        }
    }
    return top;
}

namespace {

// Upwards out of the way of those before.
Rect movedOut(Rect box, const std::vector<Rect>& taken, double em) {
    for (bool moved = true; moved;) {
        moved = false;
        for (const Rect& other : taken) {
            const bool meets = box.x < other.right() && other.x < box.right() &&
                               box.y < other.bottom() + 0.1 * em && other.y < box.bottom() + 0.1 * em;
            if (meets) box.y = other.y - box.height - 0.15 * em;
            moved |= meets;
        }
    }
    return box;
}

} // namespace

// Each curve of a group named at its end, in its colour, above the curve or beside the panel.
void Cartesian::drawCurveLabels() {
    for (const GroupMembers& g : groups_) {
        const std::string where = g.look.text("labels");
        if (where != "ends" && where != "beside") continue;
        const bool beside = where == "beside";
        std::vector<CurveLabel> labels;
        for (const GroupMember& m : g.members)
            if (auto label = curveLabel(m, beside)) labels.push_back(std::move(*label));
        // The lowest first: the others give way upwards, so that they stand in the order of their curves.
        std::ranges::stable_sort(labels, std::greater{}, [](const CurveLabel& l) { return l.box.y; });
        std::vector<Rect> taken;
        for (const CurveLabel& l : labels) {
            const Rect box = movedOut(l.box, taken, page_.em());
            taken.push_back(box);
            page_.addText(g.element->id,
                          placed(l.set, {beside ? box.x : box.right(), box.y + box.height / 2},
                                 beside ? HAlign::Left : HAlign::Right, VAlign::Middle),
                          l.member->dataset->id);
            page_.out.list.regions.push_back({g.element->id, box, l.member->dataset->id});
        }
    }
}

std::optional<Cartesian::CurveLabel> Cartesian::curveLabel(const GroupMember& m, bool beside) const {
    const Drawn* d = labelled(m);
    if (!d) return {};
    const double em = page_.em();
    TextStyle style = page_.text;
    style.colour = d->mark->colour;
    SetText set = setText(m.label, style);
    const Frame frame = frameOf(*d);
    double y = frame.y.place(d->mark->labelPlace(frame)->second);
    if (!std::isfinite(y)) return {};
    const double x = frame.area.right() + (beside ? 0.6 : -0.6) * em;
    if (!beside) {
        const double top = topAlong(m, frame, x - set.widthMm - 0.3 * em, x + 0.5 * em);
        y = (std::isfinite(top) ? top : y) - 0.35 * em - set.heightMm() / 2;
    }
    const Rect box{beside ? x : x - set.widthMm, y - set.heightMm() / 2, set.widthMm, set.heightMm()};
    return CurveLabel{&m, std::move(set), box};
}

double Cartesian::labelRoom() const {
    double widest = 0;
    for (const GroupMembers& g : groups_)
        if (g.look.text("labels") == "beside")
            for (const GroupMember& m : g.members)
                widest = std::max(widest, setText(m.label, page_.text).widthMm);
    return widest > 0 ? widest + 0.8 * page_.em() : 0;
}

double Cartesian::legendRoom(Side side) const {
    double room = 0;
    for (const Element& e : element_.children) {
        if (e.kind != "legend") continue;
        const std::string where = page_.lookOf(e).text("where");
        const bool at = (side == Side::Right && where == "right") ||
                        (side == Side::Top && where == "above") || (side == Side::Bottom && where == "below");
        if (!at) continue;
        const LegendBox box(page_, e, legendRows(), side == Side::Right ? 0 : area_.width);
        if (!box.isEmpty()) room += (side == Side::Right ? box.width() : box.height()) + 0.8 * page_.em();
    }
    return room;
}

// Where a box hides the fewest points: the corners first, then along the edges.
Point Cartesian::emptiest(double width, double height, double inset) const {
    Crowd crowd(area_);
    for (std::size_t k = firstItem_; k < page_.out.list.items.size(); ++k) {
        const auto* drawn = std::get_if<Group>(&page_.out.list.items[k].what);
        if (!drawn || (!drawn->clip && drawn->parts.empty())) continue; // no mark
        crowd.add(*drawn);
    }
    constexpr int kAsImportantAs = 4; // points
    const Group others = furniture();
    for (int k = 0; k < kAsImportantAs; ++k) crowd.add(others);
    crowd.sum();
    const double left = area_.x + inset, right = area_.right() - inset - width, top = area_.y + inset,
                 bottom = area_.bottom() - inset - height;
    std::vector<Point> candidates = {{right, top}, {left, top}, {right, bottom}, {left, bottom}};
    for (int k = 1; k < 8; ++k) {
        const double t = k / 8.0;
        candidates.push_back({left + t * (right - left), top});
        candidates.push_back({right, top + t * (bottom - top)});
        candidates.push_back({left, top + t * (bottom - top)});
        candidates.push_back({left + t * (right - left), bottom});
    }
    return *std::ranges::min_element(candidates, {}, [&](const Point& c) {
        return crowd.within(Rect{c.x, c.y, width, height}.grown(0.3 * page_.em()));
    });
}

void Cartesian::drawLegend(const Element& e) {
    const Look look = page_.lookOf(e);
    const std::string where = look.text("where");
    if (where == "none") return;
    const bool across = where == "above" || where == "below";
    std::optional<LegendBox> made;
    made.emplace(page_, e, legendRows(), across ? area_.width : 0);
    if (made->isEmpty()) return;
    const double inset = 0.8 * made->em();
    const bool beside = standsBeside(where), inside = !beside && where != "hand";
    auto fits = [&] { return made->width() <= area_.width && made->height() <= area_.height; };
    if (inside && !fits()) made.emplace(page_, e, legendRows(), area_.width - 2 * inset); // in columns
    if (inside && !fits())
        return page_.say("legend", "The legend is larger than its panel; label the curves instead, or place "
                                   "it beside the panel.");
    LegendBox& box = *made;
    const double left = area_.x + inset, right = area_.right() - inset - box.width(), top = area_.y + inset,
                 bottom = area_.bottom() - inset - box.height();
    Point at{where.ends_with("left") ? left : right, where.starts_with("bottom") ? bottom : top};
    if (where == "best") at = emptiest(box.width(), box.height(), inset);
    if (where == "hand")
        at = {area_.x + look.number("x") * area_.width, area_.bottom() - look.number("y") * area_.height};
    if (where == "right") at = {outer_.right() - box.width(), area_.y};
    if (where == "above") at = {area_.x + (area_.width - box.width()) / 2, outer_.y};
    if (where == "below") at = {area_.x + (area_.width - box.width()) / 2, outer_.bottom() - box.height()};
    if (beside) at = box.shifted(at);
    box.draw(at);
}

// The first scale of colours that something in the panel has.
std::optional<ColourScale> Cartesian::colourScale() const {
    for (const GroupMembers& g : groups_)
        if (g.scale && g.scale->low < g.scale->high)
            return ColourScale{.map = g.look.text("map"), .range = *g.scale, .name = g.attribute, .unit = g.unit};
    for (const Drawn& d : marks_)
        if (const ColourScale* scale = d.mark->colourScale()) return *scale;
    return {};
}

double Cartesian::colourBarRoom() const {
    double room = 0;
    for (const Element& e : element_.children) {
        const Look look = page_.lookOf(e);
        if (e.kind == "colour-bar" && look.text("where") == "right" && colourScale())
            room += look.number("thickness") + 6.5 * page_.em();
    }
    return room;
}

void Cartesian::drawColourBar(const Element& e) {
    const auto colours = colourScale();
    if (!colours) return;
    const Look look = page_.lookOf(e);
    const double em = page_.em(), thickness = look.number("thickness"), height = look.number("share") * area_.height;
    const bool inside = look.text("where") == "inside";
    const double beside = projection() ? outer_.right() - colourBarRoom() + em : area_.right() + em + labelRoom();
    const double x = inside ? area_.right() - thickness - 5.5 * em : beside;
    const double y = inside ? area_.y + 1.2 * em : area_.y + (area_.height - height) / 2;
    const Rect bar{x, y, thickness, height};
    Element axis{.id = e.id, .kind = "axis"};
    std::string name = look.text("name").empty() ? literal(colours->name) : look.text("name");
    axis.settings.set("name", Value(std::move(name)));
    axis.settings.set("unit", Value(colours->unit.empty() ? std::string("-") : colours->unit));
    axis.settings.set("range", Value(Numbers{colours->range.low, colours->range.high}));
    if (colours->logarithmic) axis.settings.set("scale", "log");
    PanelAxis scale(page_, axis, Side::Right);
    scale.chooseScale();
    scale.chooseRange(colours->range, 0);
    scale.place(bar.bottom(), bar.y);
    fillColourBar(e, *colours, scale.map, bar);
    page_.add(e.id, Path{.lines = {rectangle(bar)},
                         .stroke = Stroke{.widthMm = lineWidth_, .colour = page_.text.colour},
                         .fill = {}});
    scale.draw(bar, 0);
    page_.addRegion(e.id, {bar.x, bar.y, scale.bounds.right() - bar.x, bar.height});
}

// Steps are filled areas, all else a fine picture.
void Cartesian::fillColourBar(const Element& e, const ColourScale& colours, const AxisMap& map, const Rect& bar) {
    for (std::size_t k = 0; k + 1 < colours.limits.size(); ++k) {
        const double from = std::clamp(map.place(std::max(colours.limits[k], map.low())), bar.y, bar.bottom()),
                     to = std::clamp(map.place(std::min(colours.limits[k + 1], map.high())), bar.y, bar.bottom());
        if (!(from > to)) continue;
        page_.add(e.id, Path{.lines = {rectangle({bar.x, to, bar.width, from - to})},
                             .stroke = {},
                             .fill = colours.at((colours.limits[k] + colours.limits[k + 1]) / 2)});
    }
    if (colours.limits.size() > 1) return;
    auto pixels = std::make_shared<std::vector<std::uint8_t>>();
    constexpr std::size_t rows = 256;
    const auto table = colours.table(rows);
    for (std::size_t k = rows; k-- > 0;) pixels->insert(pixels->end(), {table[k].r, table[k].g, table[k].b, 255});
    page_.add(e.id, Picture{.bounds = bar, .columns = 1, .rows = rows, .pixels = pixels, .smooth = true});
}

} // namespace jointer::figure
