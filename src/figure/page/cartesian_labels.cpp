// SPDX-License-Identifier: GPL-3.0-or-later
// What tells the marks of a panel: names at the curves, legends and where they hide least, bars of colours.
#include "figure/marks/parts.h"
#include "figure/page/cartesian.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;

// Of the marks of a dataset the one by which it is named: in its own colour, else the first.
const Cartesian::Drawn* Cartesian::labelled(const GroupMember& m) const {
    const Drawn* best = nullptr;
    for (const Drawn& each : marks_) {
        if (std::ranges::find(m.marks, each.mark.get()) == m.marks.end() ||
            !each.mark->labelPlace(frameOf(each)))
            continue;
        const bool own = each.mark->colour == Colour::fromText(m.dataset->colour);
        if (!best || own) best = &each;
    }
    return best;
}

// Each curve of a group named at its end, in its colour, above the curve or beside the panel.
void Cartesian::drawCurveLabels() {
    const double em = page_.em();
    for (const GroupMembers& g : groups_) {
        const std::string where = g.look.text("labels");
        if (where != "ends" && where != "beside") continue;
        std::vector<Rect> taken;
        for (const GroupMember& m : g.members) {
            const Drawn* d = labelled(m);
            if (!d) continue;
            TextStyle style = page_.text;
            style.colour = d->mark->colour;
            const SetText set = setText(m.label, style);
            const Frame frame = frameOf(*d);
            const auto end = d->mark->labelPlace(frame);
            double y = frame.y.place(end->second);
            if (!std::isfinite(y)) continue;
            double x = frame.area.right() - 0.6 * em;
            HAlign align = HAlign::Right;
            if (where == "beside") {
                x = frame.area.right() + 0.6 * em;
                align = HAlign::Left;
            } else { // above all that is drawn of it along the label
                const double from = x - set.widthMm - 0.3 * em;
                double top = INFINITY;
                for (const Mark* mark : m.marks) {
                    const Envelope e = mark->envelope(frame.x, 200);
                    for (std::size_t i = 0; i < 200; ++i) {
                        const double at = frame.x.start() + (static_cast<double>(i) + 0.5) / 200 *
                                                                (frame.x.end() - frame.x.start());
                        if (at < from || at > x + 0.5 * em || !std::isfinite(e.high[i])) continue;
                        const double place = frame.y.place(mark->shifted(frame.y.scale(), e.high[i]));
                        if (std::isfinite(place)) top = std::min(top, place);
                    }
                }
                y = (std::isfinite(top) ? top : y) - 0.35 * em - set.heightMm() / 2;
            }
            Rect box{align == HAlign::Right ? x - set.widthMm : x, y - set.heightMm() / 2, set.widthMm,
                     set.heightMm()};
            for (bool moved = true; moved;) { // upwards out of the way of those before
                moved = false;
                for (const Rect& other : taken)
                    if (box.x < other.right() && other.x < box.right() && box.y < other.bottom() + 0.1 * em &&
                        other.y < box.bottom() + 0.1 * em) {
                        box.y = other.y - box.height - 0.15 * em;
                        moved = true;
                    }
            }
            taken.push_back(box);
            page_.addText(g.element->id, placed(set, {x, box.y + box.height / 2}, align, VAlign::Middle),
                          m.dataset->id);
            page_.out.list.regions.push_back({g.element->id, box, m.dataset->id});
        }
    }
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

namespace {

// How much is drawn where, in cells of half a millimetre; sums over rectangles cost nothing.
class Crowd {
public:
    explicit Crowd(const Rect& area)
        : area_(area), columns_(cell(area.width, kMost) + 1), rows_(cell(area.height, kMost) + 1),
          sums_((columns_ + 1) * (rows_ + 1), 0) {}

    void add(const Point& p) {
        if (area_.contains(p)) ++sums_[place(column(p.x) + 1, row(p.y) + 1)];
    }
    void add(const Polyline& line) {
        for (std::size_t i = 0; i < line.points.size(); ++i) {
            add(line.points[i]);
            if (i == 0) continue;
            const Point a = line.points[i - 1], b = line.points[i];
            const double length = std::abs(b.x - a.x) + std::abs(b.y - a.y);
            const int steps = length < 500 ? static_cast<int>(length) : 0; // about a millimetre apart
            for (int k = 1; k < steps; ++k) {
                const double t = static_cast<double>(k) / steps;
                add(Point{a.x + t * (b.x - a.x), a.y + t * (b.y - a.y)});
            }
        }
    }
    void sum() {
        for (std::size_t r = 1; r <= rows_; ++r)
            for (std::size_t c = 1; c <= columns_; ++c)
                sums_[place(c, r)] +=
                    sums_[place(c - 1, r)] + sums_[place(c, r - 1)] - sums_[place(c - 1, r - 1)];
    }
    long within(const Rect& r) const {
        const std::size_t left = column(r.x), right = column(r.right()) + 1, top = row(r.y),
                          bottom = row(r.bottom()) + 1;
        return sums_[place(right, bottom)] - sums_[place(left, bottom)] - sums_[place(right, top)] +
               sums_[place(left, top)];
    }

private:
    static constexpr double kCell = 0.5;
    static constexpr std::size_t kMost = 4000; // in each direction: two metres
    static std::size_t cell(double mm, std::size_t count) {
        return mm > 0 ? static_cast<std::size_t>(std::min(mm / kCell, static_cast<double>(count - 1))) : 0;
    }
    std::size_t column(double x) const { return cell(x - area_.x, columns_); }
    std::size_t row(double y) const { return cell(y - area_.y, rows_); }
    std::size_t place(std::size_t c, std::size_t r) const { return r * (columns_ + 1) + c; }

    Rect area_;
    std::size_t columns_, rows_;
    std::vector<long> sums_;
};

} // namespace

// Where a box hides the fewest points: the corners first, then along the edges.
Point Cartesian::emptiest(double width, double height, double inset) const {
    Crowd crowd(area_);
    for (std::size_t k = firstItem_; k < page_.out.list.items.size(); ++k) {
        const auto* drawn = std::get_if<Group>(&page_.out.list.items[k].what);
        if (!drawn || (!drawn->clip && drawn->parts.empty())) continue; // no mark
        for (const Item& item : drawn->items) {
            if (const auto* symbols = std::get_if<Symbols>(&item.what))
                for (const Point& at : symbols->places) crowd.add(at);
            if (const auto* path = std::get_if<Path>(&item.what))
                for (const Polyline& l : path->lines) crowd.add(l);
        }
    }
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

double Cartesian::colourBarRoom() const {
    double room = 0;
    for (const Element& e : element_.children) {
        const Look look = page_.lookOf(e);
        if (e.kind == "colour-bar" && look.text("where") == "right" &&
            std::ranges::any_of(groups_, [](const GroupMembers& g) { return g.scale.has_value(); }))
            room += look.number("thickness") + 6.5 * page_.em();
    }
    return room;
}

void Cartesian::drawColourBar(const Element& e) {
    const auto g = std::ranges::find_if(
        groups_, [](const GroupMembers& each) { return each.scale && each.scale->low < each.scale->high; });
    if (g == groups_.end()) return;
    const Look look = page_.lookOf(e);
    const double em = page_.em(), thickness = look.number("thickness"),
                 height = look.number("share") * area_.height;
    const bool inside = look.text("where") == "inside";
    const double x = inside ? area_.right() - thickness - 5.5 * em : area_.right() + em + labelRoom();
    const double y = inside ? area_.y + 1.2 * em : area_.y + (area_.height - height) / 2;
    const Rect bar{x, y, thickness, height};
    auto pixels = std::make_shared<std::vector<std::uint8_t>>();
    constexpr std::size_t rows = 256;
    for (std::size_t k = 0; k < rows; ++k) {
        const Colour c = mapped(g->look.text("map"), 1 - static_cast<double>(k) / (rows - 1));
        pixels->insert(pixels->end(), {c.r, c.g, c.b, 255});
    }
    page_.add(e.id, Picture{.bounds = bar, .columns = 1, .rows = rows, .pixels = pixels, .smooth = true});
    page_.add(e.id, Path{.lines = {rectangle(bar)},
                         .stroke = Stroke{.widthMm = lineWidth_, .colour = page_.text.colour},
                         .fill = {}});
    Element axis{.id = e.id, .kind = "axis"};
    std::string name = look.text("name").empty() ? literal(g->attribute) : look.text("name");
    axis.settings.set("name", Value(std::move(name)));
    axis.settings.set("unit", Value(g->unit.empty() ? std::string("-") : g->unit));
    axis.settings.set("range", Value(Numbers{g->scale->low, g->scale->high}));
    PanelAxis scale(page_, axis, Side::Right);
    scale.chooseScale();
    scale.chooseRange(g->scale, 0);
    scale.place(bar.bottom(), bar.y);
    scale.draw(bar, 0);
    page_.addRegion(e.id, {bar.x, bar.y, scale.bounds.right() - bar.x, bar.height});
}

} // namespace jointer::figure
