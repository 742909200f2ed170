// SPDX-License-Identifier: GPL-3.0-or-later
// The drawing of a panel once its geometry is known.
#include "figure/panel_layout.h"

#include "base/text.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

void PanelLayout::drawGrid(const Axis& axis, bool isX) {
    if (!axis.look.flag("grid")) return;
    Path grid{.lines = {},
              .stroke = Stroke{.widthMm = 0.5 * lineWidth_, .colour = page_.text.colour.withAlpha(0.13)},
              .fill = {}};
    for (const Tick& t : axis.ticks) {
        const double p = axis.scale.place(t.value);
        if (t.major)
            grid.lines.push_back(isX ? Polyline{{{p, area_.y}, {p, area_.bottom()}}}
                                     : Polyline{{{area_.x, p}, {area_.right(), p}}});
    }
    add(axis.element->id, std::move(grid));
}

void PanelLayout::drawMarks() {
    for (const PreparedMark& m : marks_) {
        Group group{.clip = area_.grown(lineWidth_ / 2), .opacity = 1, .items = {}};
        m.draw(horizontal_.scale, vertical_.scale, page_.target.pixelsPerMm, group);
        if (!group.items.empty()) add(m.element->id, std::move(group));
    }
}

void PanelLayout::drawFrame() {
    const bool top = horizontal_.look.text("opposite") != "none",
               right = vertical_.look.text("opposite") != "none";
    const Point tl{area_.x, area_.y}, tr{area_.right(), area_.y}, br{area_.right(), area_.bottom()},
        bl{area_.x, area_.bottom()};
    Path frame{.lines = {}, .stroke = line(lineWidth_), .fill = {}};
    frame.stroke->cap = Cap::Square;
    if (top && right)
        frame.lines = {{{tl, tr, br, bl}, true}};
    else {
        frame.lines = {{{tl, bl, br}}};
        if (top) frame.lines.push_back({{tl, tr}});
        if (right) frame.lines.push_back({{tr, br}});
    }
    if (lineWidth_ > 0) add(panel_.id, std::move(frame));
}

void PanelLayout::drawTicks(const Axis& axis, bool isX, bool opposite, Path& path) const {
    const std::string way = axis.look.text("ticks");
    if (way == "none") return;
    const double length = axis.look.number("tick-length");
    const double edge = isX ? (opposite ? area_.y : area_.bottom()) : (opposite ? area_.right() : area_.x);
    const double inward = (isX ? !opposite : opposite) ? -1 : 1; // sign of the direction into the panel
    for (const Tick& t : axis.ticks) {
        const double p = axis.scale.place(t.value), l = t.major ? length : length / 2;
        const double from = way == "in" ? edge : edge - inward * l,
                     to = way == "out" ? edge : edge + inward * l;
        path.lines.push_back(isX ? Polyline{{{p, from}, {p, to}}} : Polyline{{{from, p}, {to, p}}});
    }
}

void PanelLayout::drawAxis(const Axis& axis, bool isX) {
    const ElementId id = axis.element->id;
    Path ticks{.lines = {}, .stroke = line(axis.look.number("tick-width") * kMmPerPt), .fill = {}};
    drawTicks(axis, isX, false, ticks);
    if (axis.look.text("opposite") == "with-ticks") drawTicks(axis, isX, true, ticks);
    if (!ticks.lines.empty()) add(id, std::move(ticks));
    if (!axis.look.flag("show")) return;

    const double from = tickOut(axis) + labelGap(axis);
    double lastEnd = -1e9;
    std::size_t crowded = 0;
    for (const Tick& t : axis.ticks) {
        if (t.label.empty()) continue;
        const SetText set = setText(t.label, axis.text);
        const double p = axis.scale.place(t.value);
        const double half = (isX ? set.widthMm : set.heightMm()) / 2, at = isX ? p : -p;
        const double gap = (isX ? 0.35 : 0.05) * axis.text.sizePt * kMmPerPt;
        const bool reversed = axis.isReversed();
        const double along = reversed ? -at : at;
        if (along - half < lastEnd + gap) { // thinned rather than on top of each other
            ++crowded;
            continue;
        }
        lastEnd = along + half;
        addText(id, isX ? placed(set, {p, area_.bottom() + from}, HAlign::Centre, VAlign::Top)
                        : placed(set, {area_.x - from, p}, HAlign::Right, VAlign::Middle));
    }
    if (isX) drawCommon(axis, from + secondLine(axis));
    if (crowded > 0)
        page_.out.issues.push_back(
            {"crowded-numbers",
             fmt::format("{} of an axis had no room and {} left out; a larger "
                         "distance of ticks or smaller text helps.",
                         counted(static_cast<long long>(crowded), "number"), crowded == 1 ? "was" : "were"),
             {}});
    const double em = axis.text.sizePt * kMmPerPt;
    const SetText title = setText(axis.title, axis.text);
    if (isX) {
        const double y = area_.bottom() + from + largestLabel(axis, false) + 0.45 * em;
        addText(id, placed(title, {area_.x + area_.width / 2, y}, HAlign::Centre, VAlign::Top));
        addRegion(id, {area_.x, area_.bottom() - 1, area_.width, y + title.heightMm() - area_.bottom() + 1});
    } else {
        const double x = area_.x - from - largestLabel(axis, true) - 0.45 * em;
        addText(id, placed(title, {x, area_.y + area_.height / 2}, HAlign::Centre, VAlign::Bottom, 90));
        addRegion(id, {x - title.heightMm(), area_.y, area_.x - x + title.heightMm() + 1, area_.height});
    }
}

// Of two that would touch, the later one stays: the first tick often lies just before a change.
void PanelLayout::drawCommon(const Axis& axis, double from) {
    double next = axis.isReversed() ? -1e9 : 1e9; // where the one drawn before, to the right, begins
    std::vector<const Tick*> ticks;
    for (const Tick& t : axis.ticks)
        if (!t.below.empty()) ticks.push_back(&t);
    const double gap = 0.5 * axis.text.sizePt * kMmPerPt;
    for (auto t = ticks.rbegin(); t != ticks.rend(); ++t) {
        const SetText set = setText((*t)->below, axis.text);
        const double p = axis.scale.place((*t)->value), half = set.widthMm / 2;
        const bool fits = axis.isReversed() ? p - half > next + gap : p + half < next - gap;
        if (!fits) continue;
        next = axis.isReversed() ? p + half : p - half;
        addText(axis.element->id, placed(set, {p, area_.bottom() + from}, HAlign::Centre, VAlign::Top));
    }
}

void PanelLayout::drawTitle() {
    if (panelTitle().empty()) return;
    const bool left = look_.text("title-align") == "left";
    addText(panel_.id,
            placed(setText(panelTitle(), page_.text),
                   {left ? area_.x : area_.x + area_.width / 2, area_.y - 0.5 * page_.text.sizePt * kMmPerPt},
                   left ? HAlign::Left : HAlign::Centre, VAlign::Bottom));
}

void PanelLayout::drawLegend(const Element& e) {
    const Look look(kindOf("legend"), e.settings, page_.style);
    const std::string where = look.text("where");
    TextStyle text = page_.text;
    if (const double size = look.number("text-size"); size > 0) text.sizePt = size;
    std::vector<std::pair<const PreparedMark*, SetText>> rows;
    for (const PreparedMark& m : marks_)
        if (!m.isEmpty() && !m.label.empty() && m.label != "-" && m.label != "–")
            rows.emplace_back(&m, setText(m.label, text));
    // One curve needs no legend.
    if (where == "none" || rows.size() < 2) return;
    const double em = text.sizePt * kMmPerPt, rowHeight = 1.35 * em, keyWidth = 2.2 * em, gap = 0.5 * em,
                 inset = 0.8 * em;
    double widest = 0;
    for (const auto& row : rows) widest = std::max(widest, row.second.widthMm);
    const Rect box{
        where.ends_with("left") ? area_.x + inset : area_.right() - inset - keyWidth - gap - widest,
        where.starts_with("top") ? area_.y + inset
                                 : area_.bottom() - inset - rowHeight * static_cast<double>(rows.size()),
        keyWidth + gap + widest, rowHeight * static_cast<double>(rows.size())};
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const double y = box.y + (static_cast<double>(i) + 0.5) * rowHeight;
        Group key;
        rows[i].first->drawKey({box.x, y - 0.3 * em, keyWidth, 0.6 * em}, key);
        add(e.id, std::move(key));
        addText(e.id, placed(rows[i].second, {box.x + keyWidth + gap, y}, HAlign::Left, VAlign::Middle));
    }
    addRegion(e.id, box);
}

void PanelLayout::drawNote(const Element& e) {
    const Look look(kindOf("note"), e.settings, page_.style);
    TextStyle text = page_.text;
    if (const double size = look.number("text-size"); size > 0) text.sizePt = size;
    text.colour = Colour::fromText(look.text("colour"), text.colour);
    std::string content = look.text("text");
    if (const auto analysis = page_.project.analyses.find(AnalysisId::fromText(e.source)))
        content = filledIn(
            content, page_.evaluator.analysis(page_.project, *analysis, {.effort = page_.target.effort}));
    const double x = look.number("x"), y = look.number("y");
    Point at{area_.x + x * area_.width, area_.bottom() - y * area_.height};
    if (look.text("anchor") == "data") at = {horizontal_.scale.place(x), vertical_.scale.place(y)};
    if (look.text("anchor") == "page") at = {x, y};
    if (!std::isfinite(at.x) || !std::isfinite(at.y)) return;
    const std::string align = look.text("align");
    const HAlign h = align == "right" ? HAlign::Right : align == "centre" ? HAlign::Centre : HAlign::Left;
    const double lineHeight = 1.35 * text.sizePt * kMmPerPt;
    double widest = 0;
    const auto lines = split(content, '\n');
    for (std::size_t i = 0; i < lines.size(); ++i) {
        const SetText set = setText(lines[i], text);
        widest = std::max(widest, set.widthMm);
        addText(e.id, placed(set, {at.x, at.y + static_cast<double>(i) * lineHeight}, h, VAlign::Top));
    }
    const double left = h == HAlign::Left ? at.x : h == HAlign::Right ? at.x - widest : at.x - widest / 2;
    addRegion(e.id, {left, at.y, widest, lineHeight * static_cast<double>(lines.size())});
}

} // namespace jointer::figure
