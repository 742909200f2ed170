// SPDX-License-Identifier: GPL-3.0-or-later
// Notes: text, lines and arrows, shapes, brackets and bars of a length, drawn when all else has its place.
#include "base/text.h"
#include "base/unit_text.h"
#include "draw/reading_angle.h"
#include "figure/anchors.h"
#include "figure/marks/parts.h"
#include "figure/page/live_text.h"
#include "figure/page/note_parts.h"
#include "figure/page/panel.h"
#include "figure/page/table_note.h"
#include "figure/wavelength.h"

#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::figure {

using namespace draw;

namespace {

const Numbers kBow = {0, 0, 0.35, 0.15, 0.65, 0.85, 1, 1}; // what a new curve goes through

class Drawing {
public:
    Drawing(Page& page, const Element& e, const PanelGeometry* panel)
        : page_(page), e_(e), panel_(panel), look_(page.lookOf(e)), frame_{page.out, panel},
          text_(page.textOf(look_)) {
        text_.colour = look_.colour("colour", text_.colour);
        if (look_.kind().find("wavelength"))
            if (const double nm = look_.number("wavelength"); std::isfinite(nm))
                text_.colour = colourOfLight(nm);
        em_ = text_.sizePt * kMmPerPt;
        content_ = liveText(page, e, look_.text("text"));
    }

    void run() {
        std::vector<Point> at;
        bool onAxes = true;
        for (const std::string_view suffix : pointsOf(e_.kind)) {
            const auto p = placeOf(frame_, look_, suffix);
            if (!p)
                return page_.say("note-lost", name() + " has no place: what it is anchored to is not there.");
            onAxes = onAxes && p->onAxes;
            at.push_back(p->at);
        }
        if (!onAxes) {
            page_.say("note-outside", name() + " stands at values that the axes do not show.");
            if (at.size() == 1) return;
        }
        if (e_.kind == "note") drawText(at[0]);
        if (e_.kind == "arrow") drawArrow(at[0], at[1]);
        if (e_.kind == "shape") drawShape(at[0], at[1]);
        if (e_.kind == "brace") drawBrace(at[0], at[1]);
        if (e_.kind == "scale-bar") drawScaleBar(at[0]);
        if (e_.kind == "table") drawTable(page_, e_, look_, text_, content_, at[0]);
    }

private:
    std::string name() const {
        const std::string words = plainText(content_);
        return words.empty() ? "A " + lowerAscii(look_.kind().name)
                             : fmt::format("The note “{}”", words.substr(0, words.find('\n')));
    }
    Stroke stroke() const {
        Stroke s = LineLook(look_).stroke(text_.colour);
        s.widthMm = look_.millimetres("width");
        return s;
    }
    void add(std::vector<Polyline> lines, std::optional<Stroke> stroke, std::optional<Colour> fill) {
        if ((stroke && stroke->widthMm > 0) || fill)
            page_.add(e_.id, Path{.lines = std::move(lines),
                                  .stroke = stroke && stroke->widthMm > 0 ? stroke : std::nullopt,
                                  .fill = fill});
    }
    std::optional<Colour> ground() const {
        const std::string colour = look_.text("ground");
        if (colour.empty()) return {};
        return Colour::fromText(colour).withAlpha(look_.number("opacity"));
    }

    // --- Text ---

    void drawText(Point at) {
        if (content_.empty()) return;
        const TextBlock block(content_, text_);
        const std::string align = look_.text("align"), alignY = look_.text("align-y");
        const HAlign h = align == "right" ? HAlign::Right : align == "centre" ? HAlign::Centre : HAlign::Left;
        const double angle = look_.number("angle"), turn = angle * std::numbers::pi / 180;
        const double up = alignY == "middle" ? block.height / 2 : alignY == "bottom" ? block.height : 0;
        const auto turned = [&](double dx, double dy) {
            return Point{at.x + dx * std::cos(turn) + dy * std::sin(turn),
                         at.y - dx * std::sin(turn) + dy * std::cos(turn)};
        };
        const double left = h == HAlign::Left ? 0 : h == HAlign::Right ? -block.width : -block.width / 2;
        const std::string box = look_.text("box");
        const double pad = box == "none" && !ground() ? 0 : 0.4 * em_;
        const Rect own{left - pad, -up - pad, block.width + 2 * pad, block.height - 0.2 * em_ + 2 * pad};
        const std::vector<Point> corners = {turned(own.x, own.y), turned(own.right(), own.y),
                                            turned(own.right(), own.bottom()), turned(own.x, own.bottom())};
        const Rect bounds = draw::boundsOf(corners);
        drawLeader(bounds, box != "none" || ground() ? 0 : 0.3 * em_);
        if (box != "none" || ground()) {
            Polyline frame{corners, true};
            if (box == "round") frame = roundedBox(own, 0.5 * em_, turned);
            std::optional<Stroke> line;
            if (box != "none") line = Stroke{.widthMm = look_.millimetres("width"), .colour = text_.colour};
            add({std::move(frame)}, line, ground());
        }
        for (std::size_t k = 0; k < block.lines.size(); ++k)
            page_.addText(e_.id,
                          placed(block.lines[k], turned(0, block.tops[k] - up), h, VAlign::Top, angle));
        page_.addRegion(
            e_.id, pad > 0 || angle != 0 ? bounds : Rect{at.x + left, at.y - up, block.width, block.height});
    }

    std::optional<Point> leaderEnd() {
        if (!panel_) return {};
        double x = look_.number("leader-x"), y = look_.number("leader-y");
        if (const int peak = look_.integer("leader-peak"); peak > 0) {
            const auto top = topOfPeak(static_cast<std::size_t>(peak));
            if (!top) {
                page_.say("note-lost",
                          name() + fmt::format(" leads to peak {}, which its fit does not have.", peak));
                return {};
            }
            x = top->x;
            y = top->y;
        }
        if (!panel_->x.contains(x) || !panel_->y.contains(y)) {
            page_.say("note-outside", name() + " leads to values that the axes do not show.");
            return {};
        }
        const Point end{panel_->x.place(x), panel_->y.place(y)};
        if (!std::isfinite(end.x) || !std::isfinite(end.y)) return {};
        return end;
    }
    // In values, on the curve of the whole fit.
    std::optional<Point> topOfPeak(std::size_t number) {
        const auto analysis = page_.project.analyses.find(AnalysisId::fromText(e_.source));
        if (!analysis) return {};
        const auto outcome =
            page_.evaluator.analysis(page_.project, *analysis, {.effort = page_.target.effort});
        if (!outcome.exists()) return {};
        std::vector<double> centres;
        for (const analyses::Quantity& q : outcome->quantities)
            if (q.label == "centre" || q.key == "centre" || q.key.starts_with("centre_"))
                centres.push_back(q.value);
        std::ranges::sort(centres);
        const analyses::NamedCurve* fit = outcome->curve("fit");
        if (number > centres.size() || !fit || !fit->sample) return {};
        const double x = centres[number - 1];
        return Point{x, fit->sample({x}).y.front()};
    }

    void drawLeader(const Rect& box, double gap) {
        const std::string kind = look_.text("leader");
        if (kind == "none") return;
        const auto end = leaderEnd();
        if (!end || box.grown(gap).contains(*end)) return;
        // From the nearest side, towards what it speaks of.
        const Rect from = box.grown(gap);
        Point start{std::clamp(end->x, from.x, from.right()), std::clamp(end->y, from.y, from.bottom())};
        const Stroke line{.widthMm = look_.millimetres("width"), .colour = text_.colour};
        const double size = 1.5;
        const Point tip = *end;
        Vector v = between(start, tip);
        if (!(v.length() > 0)) return;
        v = {v.x / v.length(), v.y / v.length()};
        const Point stop = kind == "arrow" ? along(tip, v, -0.8 * size) : tip;
        add({{{start, stop}}}, line, {});
        if (kind == "arrow") drawHead(tip, v, "filled", size, line);
        if (kind == "dot") drawHead(tip, v, "dot", size, line);
    }

    // --- Lines ---

    // The tip of a head lies at `tip`; v points there, of length 1.
    void drawHead(Point tip, Vector v, const std::string& kind, double size, Stroke line) {
        line.dashMm.clear();
        const Vector aside{-v.y, v.x};
        const double half = 0.36 * size;
        const Point back = along(tip, v, -size), left = along(back, aside, half),
                    right = along(back, aside, -half);
        if (kind == "filled") add({{{tip, left, right}, true}}, {}, line.colour);
        if (kind == "barbed") add({{{tip, left, along(tip, v, -0.7 * size), right}, true}}, {}, line.colour);
        if (kind == "open") add({{{left, tip, right}}}, line, {});
        if (kind == "bar") add({{{along(tip, aside, 0.5 * size), along(tip, aside, -0.5 * size)}}}, line, {});
        if (kind == "dot" || kind == "ring") {
            Symbols dot{.shape = SymbolShape::Circle,
                        .sizeMm = 0.6 * size,
                        .places = {tip},
                        .stroke = {},
                        .fill = line.colour};
            if (kind == "ring") {
                dot.fill = page_.groundColour();
                dot.stroke = line;
            }
            page_.add(e_.id, std::move(dot));
        }
    }
    // How much of the line a head takes the place of.
    static double taken(const std::string& head, double size) {
        return head == "filled"   ? 0.9 * size
               : head == "barbed" ? 0.65 * size
               : head == "ring"   ? 0.3 * size
                                  : 0;
    }

    void drawArrow(Point a, Point b) {
        const Vector whole = between(a, b);
        const double length = whole.length();
        page_.addRegion(e_.id, draw::boundsOf({a, b}).grown(0.8));
        if (!(length > 1e-6)) return;
        const double bend = look_.number("bend"), size = look_.number("head-size");
        const Stroke line = stroke();
        const Vector aside{whole.y / length, -whole.x / length};
        const Point control{(a.x + b.x) / 2 + 2 * bend * length * aside.x,
                            (a.y + b.y) / 2 + 2 * bend * length * aside.y};
        const auto at = [&](double t) {
            const double u = 1 - t;
            return Point{u * u * a.x + 2 * u * t * control.x + t * t * b.x,
                         u * u * a.y + 2 * u * t * control.y + t * t * b.y};
        };
        const auto unit = [](Vector v) { return Vector{v.x / v.length(), v.y / v.length()}; };
        const Vector out = unit(bend == 0 ? whole : between(control, b)),
                     in = unit(bend == 0 ? between(b, a) : between(control, a));
        const std::string head = look_.text("head"), tail = look_.text("tail");
        std::vector<Point> points;
        const int pieces = bend == 0 ? 1 : 48;
        for (int k = 0; k <= pieces; ++k) points.push_back(at(static_cast<double>(k) / pieces));
        shorten(points, taken(tail, size), taken(head, size));
        Stroke round = line;
        if (bend != 0) round.join = Join::Round;
        add({{points}}, round, {});
        drawHead(b, out, head, size, line);
        drawHead(a, in, tail, size, line);
        if (content_.empty()) return;
        const Point middle = at(0.5);
        const double angle = readingAngle({0, 0}, {whole.x, whole.y});
        const double turn = angle * std::numbers::pi / 180, up = 0.35 * em_ + line.widthMm / 2;
        page_.addText(e_.id, placed(setText(content_, text_),
                                    {middle.x - up * std::sin(turn), middle.y - up * std::cos(turn)},
                                    HAlign::Centre, VAlign::Bottom, angle));
    }
    // --- Shapes ---

    void drawShape(Point a, Point b) {
        const Rect r = draw::boundsOf({a, b});
        page_.addRegion(e_.id, r);
        const std::string form = look_.text("form");
        Polyline line{{}, true};
        if (form == "ellipse")
            for (int k = 0; k < 96; ++k) {
                const double angle = 2 * std::numbers::pi * k / 96;
                line.points.push_back(
                    {r.x + r.width / 2 * (1 + std::cos(angle)), r.y + r.height / 2 * (1 + std::sin(angle))});
            }
        else if (form == "polygon")
            line.points = polygon(r);
        else if (form == "curve")
            line = {smoothThrough(told(r, 2, kBow)), false};
        else if (form == "rounded")
            line = roundedBox(r, 1.2 * em_ / 2, [](double x, double y) { return Point{x, y}; });
        else
            line = rectangle(r);
        const bool area = line.closed;
        add({std::move(line)}, stroke(), area ? ground() : std::nullopt);
        if (content_.empty()) return;
        const TextBlock block(content_, text_);
        for (std::size_t k = 0; k < block.lines.size(); ++k)
            page_.addText(e_.id, placed(block.lines[k],
                                        {r.x + r.width / 2,
                                         r.y + (r.height - block.height + 0.3 * em_) / 2 + block.tops[k]},
                                        HAlign::Centre, VAlign::Top));
    }
    // The outline as it is told, or another one where it has too few points.
    std::vector<Point> told(const Rect& r, std::size_t least, const Numbers& other) const {
        Numbers own = look_.numbers("outline");
        if (own.size() < 2 * least) own = other;
        std::vector<Point> out;
        for (std::size_t k = 0; k + 1 < own.size(); k += 2)
            out.push_back({r.x + own[k] * r.width, r.bottom() - own[k + 1] * r.height});
        return out;
    }
    std::vector<Point> polygon(const Rect& r) const {
        std::vector<Point> out = told(r, 3, {});
        return out.empty() ? regularPolygon(r, std::clamp(look_.integer("corners"), 3, 24)) : out;
    }
    // --- Brackets and bars ---

    void drawBrace(Point a, Point b) {
        const Vector whole = between(a, b);
        const double length = whole.length(), depth = look_.number("depth");
        if (!(length > 1e-6)) return;
        const Vector v{whole.x / length, whole.y / length};
        const double side = depth < 0 ? -1 : 1, deep = std::abs(depth);
        const Vector out{side * v.y, -side * v.x}; // away from what it spans
        const auto at = [&](double t, double h) { return along(along(a, v, t * length), out, h); };
        const std::string form = look_.text("form");
        double top = deep;
        std::vector<Polyline> lines;
        if (form == "line")
            lines = {{{at(0, deep / 2), at(0, -deep / 2)}},
                     {{at(0, 0), at(1, 0)}},
                     {{at(1, deep / 2), at(1, -deep / 2)}}},
            top = deep / 2;
        else if (form == "square")
            lines = {{{at(0, 0), at(0, deep), at(1, deep), at(1, 0)}}};
        else if (form == "round") {
            lines.emplace_back();
            for (int k = 0; k <= 48; ++k)
                lines[0].points.push_back(at(k / 48.0, deep * std::sin(std::numbers::pi * k / 48)));
        } else {
            lines = {{curlyBracket(length, deep, at)}};
            top = 2 * deep;
        }
        Stroke line = stroke();
        line.join = form == "square" ? Join::Miter : Join::Round;
        add(std::move(lines), line, {});
        page_.addRegion(e_.id, draw::boundsOf({a, b, at(0, top), at(1, top)}).grown(0.5));
        if (content_.empty()) return;
        const Point middle = at(0.5, top + 0.35 * em_);
        const TextBlock block(content_, text_);
        const double across = std::abs(out.x) * block.width / 2 + std::abs(out.y) * block.height / 2;
        const Point centre = along(middle, out, across);
        for (std::size_t k = 0; k < block.lines.size(); ++k)
            page_.addText(e_.id,
                          placed(block.lines[k], {centre.x, centre.y - block.height / 2 + block.tops[k]},
                                 HAlign::Centre, VAlign::Top));
        page_.addRegion(e_.id,
                        {centre.x - block.width / 2, centre.y - block.height / 2, block.width, block.height});
    }
    void drawScaleBar(Point at) {
        if (!panel_) return page_.say("note-lost", "A scale bar needs a panel, whose axis it measures.");
        const bool ofY = look_.text("along") == "y";
        const AxisMap& map = ofY ? panel_->y : panel_->x;
        const double start = map.value(ofY ? at.y : at.x), length = look_.number("length");
        const double end = map.place(start + length);
        if (!std::isfinite(end) || !map.contains(start + length))
            return page_.say("note-outside", "A scale bar reaches over the end of its axis.");
        const Point stop = ofY ? Point{at.x, end} : Point{end, at.y};
        const Stroke line = stroke();
        std::vector<Polyline> lines = {{{at, stop}}};
        if (look_.text("ends") == "bar")
            for (const Point& p : {at, stop})
                lines.push_back(ofY ? Polyline{{{p.x - 0.8, p.y}, {p.x + 0.8, p.y}}}
                                    : Polyline{{{p.x, p.y - 0.8}, {p.x, p.y + 0.8}}});
        add(std::move(lines), line, {});
        page_.addRegion(e_.id, draw::boundsOf({at, stop}).grown(0.8));
        if (content_ == "-" || content_ == "–") return;
        std::string words = content_;
        if (words.empty()) {
            words = readableNumber(length);
            for (const AxisGeometry& axis : panel_->axes)
                if (isAlongX(axis.side) != ofY && !axis.meaning.unit.empty()) {
                    words += "\u2009" + unitMarkup(axis.meaning.unit);
                    break;
                }
            if (!panel_->unit.empty()) words += "\u2009" + unitMarkup(panel_->unit);
        }
        const double gap = 0.35 * em_ + line.widthMm / 2;
        const Point middle{(at.x + stop.x) / 2, (at.y + stop.y) / 2};
        if (ofY)
            page_.addText(e_.id, placed(setText(words, text_), {middle.x + gap, middle.y}, HAlign::Left,
                                        VAlign::Middle));
        else
            page_.addText(e_.id, placed(setText(words, text_), {middle.x, middle.y - gap}, HAlign::Centre,
                                        VAlign::Bottom));
    }

    Page& page_;
    const Element& e_;
    const PanelGeometry* panel_;
    Look look_;
    AnchorFrame frame_;
    TextStyle text_;
    double em_ = 1;
    std::string content_;
};

struct Waiting {
    const Element* element;
    ElementId panel;
};

void collect(const std::vector<Element>& elements, ElementId panel, std::vector<Waiting>& out) {
    for (const Element& e : elements) {
        if (isNote(e.kind)) out.push_back({&e, panel});
        if (isPanel(e.kind)) collect(e.children, e.id, out);
    }
}

bool goesWithElement(const Element& e) {
    return std::ranges::any_of(e.settings.entries(), [](const auto& entry) {
        const auto* text = std::get_if<std::string>(&entry.second);
        return entry.first.starts_with("anchor") && text && *text == "element";
    });
}

} // namespace

void drawNotes(Page& page) {
    std::vector<Waiting> all;
    collect(page.figure.elements, {}, all);
    std::ranges::stable_partition(all, [](const Waiting& w) { return !goesWithElement(*w.element); });
    for (const Waiting& w : all) Drawing(page, *w.element, page.out.panel(w.panel)).run();
}

} // namespace jointer::figure
