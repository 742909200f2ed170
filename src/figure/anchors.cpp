// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/anchors.h"

#include "describe/setting_makers.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

struct NoteKind {
    std::string_view kind;
    std::vector<std::string_view> points;
};

const std::vector<NoteKind>& noteKinds() {
    static const std::vector<NoteKind> all = {{"note", {""}},        {"arrow", {"", "-2"}},
                                              {"shape", {"", "-2"}}, {"brace", {"", "-2"}},
                                              {"scale-bar", {""}},   {"table", {""}}};
    return all;
}

std::string key(std::string_view name, std::string_view suffix) {
    return std::string(name) + std::string(suffix);
}

// The anchor of x, or of y where that has one of its own.
std::string anchorOf(const Look& look, std::string_view suffix, bool ofY) {
    const std::string own = ofY ? look.text(key("anchor-y", suffix)) : "";
    return own.empty() || own == "same" ? look.text(key("anchor", suffix)) : own;
}

struct Along {
    double place; // mm
    bool inside = true;
};

// A value in its anchor along one axis, and back.
class OneWay {
public:
    OneWay(const AnchorFrame& frame, const Look& look, std::string_view suffix, bool ofY)
        : frame_(frame), ofY_(ofY), anchor_(anchorOf(look, suffix, ofY)) {
        if (anchor_ == "element")
            element_ = boundsOfElement(ElementId::fromText(look.reference(key("of", suffix))));
        if (!frame.panel && (anchor_ == "panel" || anchor_ == "data")) anchor_ = "page";
    }
    explicit OneWay(const OneWay& other, std::string anchor)
        : frame_(other.frame_), ofY_(other.ofY_), anchor_(std::move(anchor)) {}

    std::optional<Along> place(double v) const {
        if (!std::isfinite(v)) return {};
        if (anchor_ == "page") return Along{v};
        if (anchor_ == "data") {
            const AxisMap& map = ofY_ ? frame_.panel->y : frame_.panel->x;
            const double at = map.place(v);
            if (!std::isfinite(at)) return {};
            return Along{at, map.contains(v) && !map.isSkipped(v)};
        }
        const auto in = bounds();
        if (!in) return {};
        return Along{ofY_ ? in->bottom() - v * in->height : in->x + v * in->width};
    }
    double value(double mm) const {
        if (anchor_ == "page") return mm;
        if (anchor_ == "data") return (ofY_ ? frame_.panel->y : frame_.panel->x).value(mm);
        const auto in = bounds();
        if (!in) return mm;
        const double size = std::max(1e-9, ofY_ ? in->height : in->width);
        return ofY_ ? (in->bottom() - mm) / size : (mm - in->x) / size;
    }

private:
    std::optional<Rect> bounds() const {
        if (anchor_ == "element") return element_;
        return frame_.panel ? std::optional(frame_.panel->area) : std::nullopt;
    }
    std::optional<Rect> boundsOfElement(ElementId id) const {
        if (const PanelGeometry* panel = frame_.layout.panel(id)) return panel->area;
        for (auto r = frame_.layout.list.regions.rbegin(); r != frame_.layout.list.regions.rend(); ++r)
            if (id && r->element == id) return r->bounds;
        return {};
    }

    const AnchorFrame& frame_;
    bool ofY_;
    std::string anchor_;
    std::optional<Rect> element_;
};

} // namespace

bool isNote(std::string_view kind) {
    return std::ranges::find(noteKinds(), kind, &NoteKind::kind) != noteKinds().end();
}

std::vector<std::string_view> pointsOf(std::string_view kind) {
    const auto at = std::ranges::find(noteKinds(), kind, &NoteKind::kind);
    return at == noteKinds().end() ? std::vector<std::string_view>{} : at->points;
}

std::vector<Setting> anchorSettings(std::string_view suffix, Point fallback) {
    const std::string group = "Where it stands", which = suffix.empty() ? "" : " of the end";
    const Extras place{.lowest = -1e300, .highest = 1e300, .group = group};
    const std::string help = "Part of the panel or the element, data value, or mm on the page.";
    const std::vector<Choice> anchors = {
        {"panel", "the panel"}, {"data", "the data"}, {"page", "the page"}, {"element", "an element"}};
    std::vector<Choice> ofY = anchors;
    ofY.insert(ofY.begin(), Choice{"same", "as x"});
    return {choice(key("anchor", suffix), suffix.empty() ? "Anchored to" : "End anchored to", anchors,
                   "What it stays with when the figure changes.", {.group = group}),
            number(key("x", suffix), "x" + which, fallback.x, help, place),
            choice(key("anchor-y", suffix), "y anchored to", std::move(ofY),
                   "In y it may stay with something else.", {.group = group}),
            number(key("y", suffix), "y" + which, fallback.y, help + " From below; on the page from the top.",
                   place),
            reference(key("of", suffix), "Element", "element", "With which element it goes.",
                      {.group = group,
                       .shownIf = key("anchor", suffix) + "=element;" + key("anchor-y", suffix) + "=element",
                       .whenEmpty = "none"})};
}

std::optional<AnchoredPoint> placeOf(const AnchorFrame& frame, const Look& look, std::string_view suffix) {
    const auto x = OneWay(frame, look, suffix, false).place(look.number(key("x", suffix))),
               y = OneWay(frame, look, suffix, true).place(look.number(key("y", suffix)));
    if (!x || !y) return {};
    return AnchoredPoint{{x->place, y->place}, x->inside && y->inside};
}

std::vector<std::pair<std::string, Value>> movedPoint(const AnchorFrame& frame, const Look& look,
                                                      std::string_view suffix, Point by) {
    const auto before = placeOf(frame, look, suffix);
    if (!before) return {};
    return {{key("x", suffix), Value(OneWay(frame, look, suffix, false).value(before->at.x + by.x))},
            {key("y", suffix), Value(OneWay(frame, look, suffix, true).value(before->at.y + by.y))}};
}

std::vector<std::pair<std::string, Value>> toldIn(const AnchorFrame& frame, const Look& look,
                                                  std::string_view suffix, const std::string& anchor) {
    const auto before = placeOf(frame, look, suffix);
    if (!before || (!frame.panel && anchor != "page")) return {};
    const OneWay x(OneWay(frame, look, suffix, false), anchor), y(OneWay(frame, look, suffix, true), anchor);
    return {{key("anchor", suffix), Value(anchor)},
            {key("anchor-y", suffix), Value()},
            {key("x", suffix), Value(x.value(before->at.x))},
            {key("y", suffix), Value(y.value(before->at.y))}};
}

} // namespace jointer::figure
