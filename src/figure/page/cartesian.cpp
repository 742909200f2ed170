// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/page/cartesian.h"

#include "base/parallel.h"
#include "base/text.h"
#include "figure/marks/parts.h"

#include <cmath>
#include <fmt/format.h>
#include <map>
#include <mutex>
#include <tuple>

namespace jointer::figure {

using namespace draw;

namespace {

constexpr double kSymbolMargin = 0.04, kValueMargin = 0.06; // of the range, beyond the data
constexpr double kNotPlaced = 100;                          // mm, of axes whose length is not known yet

} // namespace

Side sideOf(std::string_view key) {
    return key == "left"    ? Side::Left
           : key == "right" ? Side::Right
           : key == "top"   ? Side::Top
                            : Side::Bottom;
}

Cartesian::Cartesian(Page& page, const Element& element)
    : Panel(page, element), lineWidth_(look_.number("frame-width") * kMmPerPt),
      isInset_(look_.text("place") == "inset") {}

void Cartesian::prepare() {
    makeAxes();
    makeLanes();
    makeMarks();
    shortenLabels();
    for (Drawn& d : marks_)
        for (Issue& issue : d.mark->issues) page_.out.issues.push_back(std::move(issue));
    for (auto& axis : axes_) axis->chooseScale();
    useCategories();
    sayWhatHasNoPlace();
    arrange();
}

void Cartesian::makeAxes() {
    static const Element missing{.kind = "axis"};
    for (const Element& e : element_.children)
        if (e.kind == "axis")
            axes_.push_back(std::make_unique<PanelAxis>(page_, e, sideOf(e.settings.text("side", "bottom"))));
    auto first = [&](bool alongX) -> PanelAxis* {
        for (auto& axis : axes_)
            if (axis->isX() == alongX && axis->look.reference("linked-to").empty()) return axis.get();
        axes_.push_back(std::make_unique<PanelAxis>(page_, missing, alongX ? Side::Bottom : Side::Left));
        return axes_.back().get();
    };
    x_ = first(true);
    y_ = first(false);
}

// Of a plane that has edges of its own.
void Cartesian::addHiddenAxes() {
    static const Element across = [] {
        Element e{.kind = "axis"};
        e.settings.set("show", Value(false));
        e.settings.set("ticks", "none");
        e.settings.set("opposite", "none");
        return e;
    }();
    for (const Side side : {Side::Bottom, Side::Left})
        axes_.push_back(std::make_unique<PanelAxis>(page_, across, side));
    x_ = axes_[0].get();
    y_ = axes_[1].get();
}

void Cartesian::makeLanes() {
    for (const auto& axis : axes_) {
        const int number = axis->isX() ? 0 : axis->lane();
        if (number <= 0) continue;
        auto at = std::ranges::find(lanes_, number, &Lane::number);
        if (at == lanes_.end()) at = lanes_.insert(lanes_.end(), {number});
        if (axis->look.isOwn("share")) at->share = axis->look.number("share");
        if (axis->look.isOwn("gap")) at->gap = axis->look.number("gap");
    }
    std::ranges::sort(lanes_, {}, &Lane::number);
    if (!lanes_.empty()) lanes_.front().gap = 0;
}

// Points that a logarithm or the like leaves out would be missed by nobody who does not know of them.
void Cartesian::sayWhatHasNoPlace() const {
    for (const auto& axis : axes_) {
        if (!axis->scale || axis->scale->domain().empty()) continue;
        std::map<DatasetId, std::size_t> of; // several marks show the same points
        for (const Drawn& d : marks_)
            if ((axis->isX() ? d.x : d.y) == axis.get())
                of[d.mark->of] = std::max(of[d.mark->of], d.mark->withoutPlace(*axis->scale, axis->isX()));
        std::size_t all = 0;
        for (const auto& [id, n] : of) all = n == kSome || all == kSome ? kSome : all + n;
        if (all == 0) continue;
        page_.say("no-place", fmt::format("{} not {}: “{}” has no place for {}. {}",
                                          all == kSome ? "Some points are"
                                          : all == 1   ? "1 point is"
                                                       : fmt::format("{} points are", all),
                                          axis->scale->domain(), axis->meaning.name, all == 1 ? "it" : "them",
                                          axis->scale->remedy()));
    }
}

PanelAxis* Cartesian::axisFor(const std::string& reference, bool alongX) {
    const auto id = ElementId::fromText(reference);
    if (id)
        for (auto& axis : axes_)
            if (axis->element->id == id && axis->isX() == alongX) return axis.get();
    return alongX ? x_ : y_;
}

std::optional<Range> Cartesian::reachOf(const PanelAxis& axis) const {
    std::vector<std::optional<Range>> reaches(marks_.size());
    parallelRanges(marks_.size(), kFewMarks, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k) {
            const Drawn& d = marks_[k];
            if ((axis.isX() ? d.x : d.y) != &axis) continue;
            reaches[k] = axis.isX() ? d.mark->extentX(*axis.scale)
                                    : d.mark->extentY(*axis.scale, {d.x->map.low(), d.x->map.high()});
        }
    });
    std::optional<Range> all;
    for (const auto& reach : reaches) all = united(all, reach);
    return all;
}

std::optional<Range> Cartesian::reach(bool alongX) {
    return reachOf(alongX ? *x_ : *y_);
}

void Cartesian::chooseRange(PanelAxis& axis, const std::optional<Range>& common) {
    const auto own = reachOf(axis);
    double margin = axis.isX() ? 0 : kValueMargin;
    std::vector<double> flush;
    for (const Drawn& d : marks_) {
        if ((axis.isX() ? d.x : d.y) != &axis) continue;
        if (axis.isX() && d.mark->keepsDistance()) margin = std::max(margin, kSymbolMargin);
        if (axis.isX() && !d.mark->isVertical()) margin = std::max(margin, kValueMargin);
        if (d.mark->isVertical() != axis.isX())
            std::ranges::copy(d.mark->flushValues(), std::back_inserter(flush));
    }
    axis.chooseRange(united(own, common), margin, flush);
    const bool wanted = std::ranges::any_of(marks_, [](const Drawn& d) { return d.mark->hasExtent(); });
    if (!own && !common && wanted && axis.look.numbers("range").empty() && !axis.isX() && &axis == y_)
        page_.say("nothing-to-show", "Nothing can be shown in this range.");
}

void Cartesian::settle(bool alongX, const std::optional<Range>& common) {
    for (auto& axis : axes_) {
        if (axis->isX() != alongX || !axis->look.reference("linked-to").empty()) continue;
        chooseRange(*axis, axis.get() == (alongX ? x_ : y_) ? common : std::nullopt);
        axis->map = AxisMap(axis->scale, axis->range, 0, kNotPlaced);
    }
    if (!alongX) return;
    for (Drawn& d : marks_) d.mark->settle(d.x->map);
    for (GroupMembers& g : groups_) {
        const auto first = std::ranges::find_if(marks_, [&](const Drawn& d) {
            return std::ranges::any_of(g.members, [&](const GroupMember& m) {
                return std::ranges::find(m.marks, d.mark.get()) != m.marks.end();
            });
        });
        if (first != marks_.end()) figure::stagger(g, first->x->map, *first->y->scale);
    }
}

void Cartesian::hideNumbers(Side side) {
    for (auto& axis : axes_)
        if (axis->side == side) axis->hideNumbers();
}

void Cartesian::bindLinked() {
    for (auto& axis : axes_) {
        const auto id = ElementId::fromText(axis->look.reference("linked-to"));
        if (axis->look.reference("linked-to").empty()) continue;
        const PanelAxis* to = axis->isX() ? x_ : y_;
        for (const auto& other : axes_)
            if (other->element->id == id && other->isX() == axis->isX() && other.get() != axis.get() &&
                other->look.reference("linked-to").empty())
                to = other.get();
        axis->bind(*to);
    }
}

const Rect& Cartesian::laneOf(const PanelAxis& axis) const {
    if (!axis.isX())
        for (const Lane& lane : lanes_)
            if (lane.number == axis.lane()) return lane.area;
    return area_;
}

void Cartesian::placeAxes(const Rect& area) {
    area_ = area;
    double shares = 0, gaps = 0;
    for (const Lane& lane : lanes_) {
        shares += lane.share;
        gaps += lane.gap;
    }
    const double shrunk =
        gaps > 0.5 * area.height ? 0.5 * area.height / gaps : 1; // lanes keep half of the room
    gaps *= shrunk;
    double bottom = area.bottom();
    for (Lane& lane : lanes_) {
        const double height = (area.height - gaps) * lane.share / shares;
        bottom -= shrunk * lane.gap;
        lane.area = {area.x, bottom - height, area.width, height};
        bottom -= height;
    }
    for (const bool linked : {false, true}) {
        if (linked) bindLinked();
        for (auto& axis : axes_) {
            if (axis->look.reference("linked-to").empty() == linked) continue;
            const Rect& own = laneOf(*axis);
            if (axis->isX())
                axis->place(own.x, own.right());
            else
                axis->place(own.bottom(), own.y);
        }
    }
    for (auto& axis : axes_) {
        axis->cross.reset();
        if (axis->look.text("stands") != "zero") continue;
        const AxisMap& other = (axis->isX() ? y_ : x_)->map;
        const double zero = other.place(std::clamp(0.0, other.low(), other.high()));
        if (std::isfinite(zero)) axis->cross = zero;
    }
}

// Axes at one side stand outside of each other, unless each has a lane of its own.
double Cartesian::roomAt(Side side) const {
    double most = 0;
    std::vector<std::pair<int, double>> stacked; // lane, room
    for (const auto& axis : axes_) {
        if (axis->side != side) continue;
        const int lane = axis->isX() ? 0 : axis->lane();
        auto at = std::ranges::find(stacked, lane, &std::pair<int, double>::first);
        if (at == stacked.end()) at = stacked.insert(stacked.end(), {lane, 0.0});
        const double own = axis->look.text("stands") == "off" ? axis->look.number("off") : 0;
        axis->distance = at->second > 0 ? at->second + 0.8 * page_.em() + own : own;
        at->second = axis->thickness();
        most = std::max(most, at->second);
    }
    return most;
}

Room Cartesian::room(double width, double height) {
    placeAxes({0, 0, width, height});
    const double em = page_.em();
    Room room;
    auto has = [&](Side side) {
        return std::ranges::any_of(axes_, [&](const auto& a) { return a->side == side; });
    };
    room.left = has(Side::Left) ? roomAt(Side::Left) : lineWidth_;
    room.bottom = has(Side::Bottom) ? roomAt(Side::Bottom) : lineWidth_;
    const double above = has(Side::Top) ? roomAt(Side::Top) : 0;
    room.top = above + headRoom();
    if (room.top == 0) room.top = std::max(0.3 * em, lineWidth_);
    room.right = has(Side::Right) ? roomAt(Side::Right) : std::max(lineWidth_, look_.number("room-right"));
    for (const auto& axis : axes_) {
        if (!axis->showsNumbers() || axis->ticks.empty()) continue;
        const auto [before, after] = axis->overhang();
        const double margin = page_.look.number("margin");
        if (axis->isX()) { // half of the last number may stand over the end
            room.right = std::max(room.right, std::max(0.0, after) + 0.1);
            room.left = std::max(room.left, before - (isInset_ ? 0 : margin));
        } else {
            room.top = std::max(room.top, before - margin);
            room.bottom = std::max(room.bottom, after - margin);
        }
    }
    room.right += labelRoom() + colourBarRoom() + legendRoom(Side::Right);
    room.top += legendRoom(Side::Top);
    room.bottom += legendRoom(Side::Bottom);
    return room;
}

void Cartesian::place(const Rect& area, const Rect& outer) {
    if (area.width < 4 || area.height < 4)
        page_.say("no-room",
                  "The axes leave a panel no room: a larger page, smaller text or shorter numbers help.");
    outer_ = outer;
    placeAxes(area);
    for (const Side side : {Side::Left, Side::Right, Side::Top, Side::Bottom}) (void)roomAt(side);
}

static std::function<const SamplePlaces&()> onceAsked(std::function<SamplePlaces()> find) {
    struct Found {
        std::once_flag once;
        SamplePlaces places;
    };
    return [found = std::make_shared<Found>(), find = std::move(find)]() -> const SamplePlaces& {
        std::call_once(found->once, [&] { found->places = find(); });
        return found->places;
    };
}

void Cartesian::tellGeometry() {
    PanelGeometry g{.panel = element_.id, .area = area_, .x = x_->map, .y = y_->map};
    for (const auto& axis : axes_)
        g.axes.push_back({axis->element->id, axis->side, axis->lane(), axis->bounds, laneOf(*axis), axis->map,
                          axis->meaning});
    for (const Drawn& d : marks_) {
        MarkGeometry m{d.mark->element, d.mark->of, page_.out.panels.size(), plainText(d.mark->label)};
        if (auto places = d.mark->samplePlaces(frameOf(d)))
            m.samples = onceAsked(std::move(places)),
            m.placesOfEach = projection() ? projection()->placesOfEach() : 1;
        m.classes = d.mark->namedClasses();
        page_.out.marks.push_back(std::move(m));
    }
    page_.out.panels.push_back(std::move(g));
}

CoordinateKind cartesianCoordinates() {
    return {
        .info = {.key = "cartesian", .name = "right angles", .purpose = "x to the right, y upwards"},
        .make = [](Page& page, const Element& panel) -> std::unique_ptr<Panel> {
            return std::make_unique<Cartesian>(page, panel);
        }};
}

} // namespace jointer::figure
