// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/layout.h"

#include "base/text.h"
#include "draw/markup.h"
#include "figure/kinds.h"
#include "figure/marks.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::figure {

using namespace draw;

namespace {

const KindInfo& kindOf(std::string_view key) {
    return *findKind(key);
}

// Everything that one figure's layout needs at hand.
struct Page {
    const Project& project;
    const Figure& figure;
    evaluate::Evaluator& evaluator;
    const Target& target;
    const HouseStyle* style;
    Look look;
    TextStyle text;
    Layout out{};
};

struct Axis {
    const Element* element;
    Look look;
    TextStyle text;
    Scale scale{};
    std::vector<Tick> ticks{};
    std::string title{};
    bool isTime = false;
};

class PanelLayout {
public:
    PanelLayout(Page& page, const Element& panel, Rect space)
        : page_(page), panel_(panel), look_(kindOf("panel"), panel.settings, page.style), space_(space),
          horizontal_(axisFor("bottom")), vertical_(axisFor("left")),
          lineWidth_(look_.number("frame-width") * kMmPerPt) {}

    void run() {
        for (const Element& e : panel_.children)
            if (isMark(e.kind)) marks_.push_back(prepareMark(page_.project, page_.evaluator, e, page_.style));
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

private:
    Axis axisFor(std::string_view side) const {
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
    void chooseRange(Axis& axis, bool isX) {
        const bool log = axis.scale.log;
        std::optional<Range> data;
        for (const PreparedMark& m : marks_) {
            const auto r = isX ? m.xRange(log) : m.yRange(log, horizontal_.scale.low, horizontal_.scale.high);
            if (r) data = data ? Range{std::min(data->low, r->low), std::max(data->high, r->high)} : *r;
            axis.isTime |= isX && m.xMeaning.isTime;
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

    // Pure lines may touch the frame; symbols keep their distance.
    double xMargin() const {
        return std::ranges::any_of(marks_, [](const PreparedMark& m) { return m.hasSymbols(); }) ? 0.04 : 0.0;
    }

    void sampleCurves() {
        for (PreparedMark& m : marks_) m.sample(horizontal_.scale, 600);
    }

    void chooseTitle(Axis& axis, bool isX) {
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

    int wishedTicks(const Axis& axis, double lengthMm, bool isX) const {
        const double em = axis.text.sizePt * kMmPerPt;
        return std::clamp(static_cast<int>(lengthMm / (em * (isX ? 4.2 : 2.6))), 2, isX ? 9 : 7);
    }

    void makeTicks(Axis& axis, double lengthMm, bool isX) const {
        TickWish wish{.every = axis.look.number("every"),
                      .minor = static_cast<int>(axis.look.number("minor")),
                      .about = wishedTicks(axis, lengthMm, isX),
                      .format = axis.look.text("format"),
                      .decimals = static_cast<int>(axis.look.number("decimals")),
                      .time = axis.isTime};
        axis.ticks = ticksOf(axis.scale, wish);
    }

    double labelGap(const Axis& axis) const { return 0.35 * axis.text.sizePt * kMmPerPt; }
    double tickOut(const Axis& axis) const {
        const std::string way = axis.look.text("ticks");
        return way == "out" || way == "both" ? axis.look.number("tick-length") : 0;
    }
    double largestLabel(const Axis& axis, bool width) const {
        double largest = 0;
        for (const Tick& t : axis.ticks) {
            const SetText set = setText(t.label, axis.text);
            largest = std::max(largest, width ? set.widthMm : set.heightMm());
        }
        return largest;
    }

    // The plotting area is what titles, numbers and margins leave; label widths depend on it, so twice.
    void placeArea() {
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
        const bool reversedX = horizontal_.look.flag("reversed"), reversedY = vertical_.look.flag("reversed");
        horizontal_.scale.start = reversedX ? area_.right() : area_.x;
        horizontal_.scale.end = reversedX ? area_.x : area_.right();
        vertical_.scale.start = reversedY ? area_.y : area_.bottom();
        vertical_.scale.end = reversedY ? area_.bottom() : area_.y;
    }

    double titleHeight(const Axis& axis) const {
        if (axis.title.empty()) return 0;
        return setText(axis.title, axis.text).heightMm() + 0.45 * axis.text.sizePt * kMmPerPt;
    }

    double overhang() const {
        const auto last = std::ranges::find_if(horizontal_.ticks.rbegin(), horizontal_.ticks.rend(),
                                               [](const Tick& t) { return !t.label.empty(); });
        if (last == horizontal_.ticks.rend()) return 0;
        const double part =
            (last->value - horizontal_.scale.low) / (horizontal_.scale.high - horizontal_.scale.low);
        const double beyond = setText(last->label, horizontal_.text).widthMm / 2 - (1 - part) * area_.width;
        return std::max(0.0, beyond) + 0.1;
    }

    // ---- drawing ------------------------------------------------------------------------------------------

    void add(ElementId id, std::variant<Path, Symbols, TextRun, Group> what) {
        page_.out.list.items.push_back({id, std::move(what)});
    }
    void addText(ElementId id, std::vector<TextRun> runs) {
        for (TextRun& r : runs) add(id, std::move(r));
    }
    void addRegion(ElementId id, Rect bounds) {
        if (id) page_.out.list.regions.push_back({id, bounds});
    }
    Stroke line(double widthMm) const { return {.widthMm = widthMm, .colour = page_.text.colour}; }

    void drawGrid(const Axis& axis, bool isX) {
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

    void drawMarks() {
        for (const PreparedMark& m : marks_) {
            Group group{.clip = area_.grown(lineWidth_ / 2), .opacity = 1, .items = {}};
            m.draw(horizontal_.scale, vertical_.scale, page_.target.pixelsPerMm, group);
            if (!group.items.empty()) add(m.element->id, std::move(group));
        }
    }

    void drawFrame() {
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

    void drawTicks(const Axis& axis, bool isX, bool opposite, Path& path) const {
        const std::string way = axis.look.text("ticks");
        if (way == "none") return;
        const double length = axis.look.number("tick-length");
        const double edge =
            isX ? (opposite ? area_.y : area_.bottom()) : (opposite ? area_.right() : area_.x);
        const double inward = (isX ? !opposite : opposite) ? -1 : 1; // sign of the direction into the panel
        for (const Tick& t : axis.ticks) {
            const double p = axis.scale.place(t.value), l = t.major ? length : length / 2;
            const double from = way == "in" ? edge : edge - inward * l,
                         to = way == "out" ? edge : edge + inward * l;
            path.lines.push_back(isX ? Polyline{{{p, from}, {p, to}}} : Polyline{{{from, p}, {to, p}}});
        }
    }

    void drawAxis(const Axis& axis, bool isX) {
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
            const bool reversed = axis.look.flag("reversed");
            const double along = reversed ? -at : at;
            if (along - half < lastEnd + gap) { // thinned rather than on top of each other
                ++crowded;
                continue;
            }
            lastEnd = along + half;
            addText(id, isX ? placed(set, {p, area_.bottom() + from}, HAlign::Centre, VAlign::Top)
                            : placed(set, {area_.x - from, p}, HAlign::Right, VAlign::Middle));
        }
        if (crowded > 0)
            page_.out.issues.push_back({"crowded-numbers",
                                        fmt::format("{} of an axis had no room and {} left out; a larger "
                                                    "distance of ticks or smaller text helps.",
                                                    counted(static_cast<long long>(crowded), "number"),
                                                    crowded == 1 ? "was" : "were"),
                                        {}});
        const double em = axis.text.sizePt * kMmPerPt;
        const SetText title = setText(axis.title, axis.text);
        if (isX) {
            const double y = area_.bottom() + from + largestLabel(axis, false) + 0.45 * em;
            addText(id, placed(title, {area_.x + area_.width / 2, y}, HAlign::Centre, VAlign::Top));
            addRegion(id,
                      {area_.x, area_.bottom() - 1, area_.width, y + title.heightMm() - area_.bottom() + 1});
        } else {
            const double x = area_.x - from - largestLabel(axis, true) - 0.45 * em;
            addText(id, placed(title, {x, area_.y + area_.height / 2}, HAlign::Centre, VAlign::Bottom, 90));
            addRegion(id, {x - title.heightMm(), area_.y, area_.x - x + title.heightMm() + 1, area_.height});
        }
    }

    std::string panelTitle() const { return look_.text("title"); }

    void drawTitle() {
        if (panelTitle().empty()) return;
        addText(panel_.id, placed(setText(panelTitle(), page_.text),
                                  {area_.x + area_.width / 2, area_.y - 0.5 * page_.text.sizePt * kMmPerPt},
                                  HAlign::Centre, VAlign::Bottom));
    }

    void drawLegend(const Element& e) {
        const Look look(kindOf("legend"), e.settings, page_.style);
        const std::string where = look.text("where");
        TextStyle text = page_.text;
        if (const double size = look.number("text-size"); size > 0) text.sizePt = size;
        std::vector<std::pair<const PreparedMark*, SetText>> rows;
        for (const PreparedMark& m : marks_)
            if (!m.label.empty() && m.label != "-" && m.label != "–")
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

    void drawNote(const Element& e) {
        const Look look(kindOf("note"), e.settings, page_.style);
        TextStyle text = page_.text;
        if (const double size = look.number("text-size"); size > 0) text.sizePt = size;
        text.colour = Colour::fromText(look.text("colour"), text.colour);
        std::string content = look.text("text");
        if (const auto analysis = page_.project.analyses.find(AnalysisId::fromText(e.source)))
            content = filledIn(content, page_.evaluator.fit(page_.project, *analysis));
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

    Page& page_;
    const Element& panel_;
    Look look_;
    Rect space_, area_{};
    Axis horizontal_, vertical_;
    double lineWidth_;
    std::vector<PreparedMark> marks_;
};

} // namespace

std::string filledIn(std::string_view text, const evaluate::FitResult& fit) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const std::size_t close = text[i] == '{' && (i == 0 || (text[i - 1] != '^' && text[i - 1] != '_'))
                                      ? text.find('}', i)
                                      : std::string_view::npos;
        if (close == std::string_view::npos) {
            out += text[i++];
            continue;
        }
        const std::string name(text.substr(i + 1, close - i - 1));
        std::string shown = "{" + name + "}";
        if (fit.good()) {
            const fit::FitReport& r = *fit.report;
            auto number = [&](double value, double error, const std::string& unit) {
                const ValueText t = readableWithError(value, error);
                shown = t.value + (t.error.empty() ? "" : " ± " + t.error) +
                        (unit.empty() ? "" : "\u2009" + draw::unitMarkup(unit));
                if (!t.error.empty() && !unit.empty())
                    shown = "(" + t.value + " ± " + t.error + ")\u2009" + draw::unitMarkup(unit);
            };
            for (std::size_t k = 0; k < r.parameters.size(); ++k)
                if (r.parameters[k].name == name)
                    number(r.parameters[k].value, r.parameters[k].se,
                           models::unitText(fit.model->parameters()[k].unit, fit.points->xMeaning.unit,
                                            fit.points->yMeaning.unit));
            for (const fit::DerivedResult& d : r.derived)
                if (d.name == name) number(d.value, d.se, d.unit);
            if (name == "r2") shown = fmt::format("{:.4f}", r.r2);
            if (name == "n") shown = std::to_string(r.n);
        } else
            shown = "–";
        out += shown;
        i = close + 1;
    }
    return out;
}

draw::Rect pageOf(const Project& project, const Figure& figure) {
    const auto style = project.styles.find(figure.style);
    const Look look(kindOf("figure"), figure.settings, style.get());
    return {0, 0, look.number("width"), look.number("height")};
}

Layout layOut(const Project& project, const Figure& figure, evaluate::Evaluator& evaluator,
              const Target& target) {
    const auto style = project.styles.find(figure.style);
    const Look look(kindOf("figure"), figure.settings, style.get());
    Page page{project, figure, evaluator, target, style.get(), look, {}};
    page.text = {.family = look.text("family"),
                 .sizePt = look.number("text-size"),
                 .colour = Colour::fromText(look.text("colour"))};
    page.out.list.widthMm = look.number("width");
    page.out.list.heightMm = look.number("height");
    const double margin = look.number("margin");
    const Rect space{margin, margin, std::max(5.0, page.out.list.widthMm - 2 * margin),
                     std::max(5.0, page.out.list.heightMm - 2 * margin)};
    for (const Element& e : figure.elements)
        if (e.kind == "panel") PanelLayout(page, e, space).run();
    return std::move(page.out);
}

} // namespace jointer::figure
