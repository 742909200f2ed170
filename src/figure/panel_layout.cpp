// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/panel_layout.h"

#include "base/text.h"

#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace jointer::figure {

using namespace draw;

void PanelLayout::run() {
    for (const Element& e : panel_.children)
        if (isMark(e.kind))
            marks_.push_back(
                prepareMark(page_.project, page_.evaluator, e, page_.style, page_.target.effort));
    for (PreparedMark& m : marks_)
        for (Issue& issue : m.issues) page_.out.issues.push_back(std::move(issue));
    chooseRange(horizontal_, true);
    sampleCurves();
    chooseRange(vertical_, false);
    chooseTitle(horizontal_, true);
    chooseTitle(vertical_, false);
    placeArea();
    page_.out.panels.push_back({panel_.id, area_, horizontal_.scale, vertical_.scale});
    addRegion(panel_.id, space_);
    drawGrid(horizontal_, true);
    drawGrid(vertical_, false);
    drawMarks();
    drawFrame();
    drawAxis(horizontal_, true);
    drawAxis(vertical_, false);
    drawTitle();
    for (const Element& e : panel_.children) {
        if (e.kind == "legend") drawLegend(e);
        if (e.kind == "note") drawNote(e);
    }
}

Axis PanelLayout::axisFor(std::string_view side) const {
    static const Element missing{.kind = "axis"};
    const Element* found = &missing;
    for (const Element& e : panel_.children)
        if (e.kind == "axis" && e.settings.text("side", "bottom") == side) found = &e;
    Axis axis{
        .element = found, .look = Look(kindOf("axis"), found->settings, page_.style), .text = page_.text};
    if (const double size = axis.look.number("text-size"); size > 0) axis.text.sizePt = size;
    axis.scale.log = axis.look.text("scale") == "log";
    return axis;
}

// The typed range, or that of the data: for y only what lies within the range of x.
void PanelLayout::chooseRange(Axis& axis, bool isX) {
    const bool log = axis.scale.log;
    std::optional<Range> data;
    for (const PreparedMark& m : marks_) {
        const auto r = isX ? m.xRange(log) : m.yRange(log, horizontal_.scale.low, horizontal_.scale.high);
        if (r) data = data ? Range{std::min(data->low, r->low), std::max(data->high, r->high)} : *r;
        axis.isTime |= isX && m.xMeaning.isTime;
        axis.descending |= isX && m.xMeaning.descending;
    }
    Range range = data ? padded(*data, log, isX ? xMargin() : 0.06) : log ? Range{0.1, 10} : Range{0, 1};
    const Numbers typed = axis.look.numbers("range");
    if (typed.size() == 2 && typed[0] < typed[1] && (!log || typed[0] > 0)) range = {typed[0], typed[1]};
    if (typed.size() == 2 && log && typed[0] <= 0)
        page_.out.issues.push_back(
            {"log-range",
             "A logarithmic axis cannot begin at zero or below; its range was taken from the data.",
             {}});
    if (!data && !marks_.empty() && typed.empty() && !isX)
        page_.out.issues.push_back({"nothing-to-show", "Nothing can be shown in this range.", {}});
    axis.scale.low = range.low;
    axis.scale.high = range.high;
}

void PanelLayout::chooseTitle(Axis& axis, bool isX) {
    std::string name = axis.look.text("name"), unit = axis.look.text("unit");
    for (const PreparedMark& m : marks_) {
        const AxisMeaning& meaning = isX ? m.xMeaning : m.yMeaning;
        if (name.empty()) name = literal(meaning.name);
        if (unit.empty()) unit = meaning.unit;
    }
    if (name == "-" || name == "–") {
        axis.title.clear();
        return;
    }
    axis.title = unit.empty() || unit == "-" || unit == "–" || axis.isTime
                     ? name
                     : name + " (" + unitMarkup(unit) + ")";
}

void PanelLayout::makeTicks(Axis& axis, double lengthMm, bool isX) const {
    TickWish wish{.every = axis.look.number("every"),
                  .minor = static_cast<int>(axis.look.number("minor")),
                  .about = wishedTicks(axis, lengthMm, isX),
                  .format = axis.look.text("format"),
                  .decimals = static_cast<int>(axis.look.number("decimals")),
                  .time = axis.isTime};
    axis.ticks = ticksOf(axis.scale, wish);
    for (Tick& t : axis.ticks)
        if (!isX && !t.below.empty()) t.label = std::exchange(t.below, {}) + ", " + t.label;
}

double PanelLayout::largestLabel(const Axis& axis, bool width) const {
    double largest = 0;
    for (const Tick& t : axis.ticks) {
        const SetText set = setText(t.label, axis.text);
        largest = std::max(largest, width ? set.widthMm : set.heightMm());
    }
    const bool second = std::ranges::any_of(axis.ticks, [](const Tick& t) { return !t.below.empty(); });
    return width || !second ? largest : largest + secondLine(axis);
}

// The plotting area is what titles, numbers and margins leave; label widths depend on it, so twice.
void PanelLayout::placeArea() {
    area_ = space_;
    const double em = page_.text.sizePt * kMmPerPt;
    for (int round = 0; round < 2; ++round) {
        makeTicks(horizontal_, area_.width, true);
        makeTicks(vertical_, area_.height, false);
        double left = 0.3 * em, bottom = 0.3 * em;
        const bool showX = horizontal_.look.flag("show"), showY = vertical_.look.flag("show");
        if (showY)
            left = tickOut(vertical_) + labelGap(vertical_) + largestLabel(vertical_, true) +
                   titleHeight(vertical_);
        if (showX)
            bottom = tickOut(horizontal_) + labelGap(horizontal_) + largestLabel(horizontal_, false) +
                     titleHeight(horizontal_);
        left = std::max(left, vertical_.look.number("room"));
        bottom = std::max(bottom, horizontal_.look.number("room"));
        const double top = panelTitle().empty() ? std::max(0.3 * em, lineWidth_) : 1.6 * em;
        // Half of the last number may stand over the right end.
        const double right = showX && !horizontal_.ticks.empty()
                                 ? std::max({lineWidth_, overhang(), look_.number("room-right")})
                                 : std::max(lineWidth_, look_.number("room-right"));
        area_ = {space_.x + left, space_.y + top, std::max(1.0, space_.width - left - right),
                 std::max(1.0, space_.height - top - bottom)};
    }
    const bool reversedX = horizontal_.isReversed(), reversedY = vertical_.isReversed();
    horizontal_.scale.start = reversedX ? area_.right() : area_.x;
    horizontal_.scale.end = reversedX ? area_.x : area_.right();
    vertical_.scale.start = reversedY ? area_.y : area_.bottom();
    vertical_.scale.end = reversedY ? area_.bottom() : area_.y;
}

double PanelLayout::overhang() const {
    const auto last = std::ranges::find_if(horizontal_.ticks.rbegin(), horizontal_.ticks.rend(),
                                           [](const Tick& t) { return !t.label.empty(); });
    if (last == horizontal_.ticks.rend()) return 0;
    const double part =
        (last->value - horizontal_.scale.low) / (horizontal_.scale.high - horizontal_.scale.low);
    const double beyond = setText(last->label, horizontal_.text).widthMm / 2 - (1 - part) * area_.width;
    return std::max(0.0, beyond) + 0.1;
}

} // namespace jointer::figure
