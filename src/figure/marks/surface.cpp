// SPDX-License-Identifier: GPL-3.0-or-later
// A field as a surface seen from a side, and its rows as curves one behind the other; what lies behind is
// hidden.
#include "base/text.h"
#include "draw/markup.h"
#include "figure/marks/field_mark.h"
#include "figure/relief.h"

#include <cmath>

namespace jointer::figure {

using namespace draw;
using namespace describe;

namespace {

// Evenly chosen nodes, both ends among them.
std::vector<std::size_t> chosen(std::size_t n, int most) {
    const std::size_t count = std::clamp<std::size_t>(static_cast<std::size_t>(most), 2, n);
    std::vector<std::size_t> out;
    for (std::size_t k = 0; k < count; ++k) out.push_back(k * (n - 1) / (count - 1));
    return out;
}

class Surface final : public FieldMark {
public:
    const Relief* relief = nullptr;
    LineLook line;
    std::string fill;
    Colour ground;
    int lines = 60;

    std::optional<Range> extentX(const Scale&) const override { return {}; }
    std::optional<Range> extentY(const Scale&, const Range&) const override { return {}; }
    bool hasExtent() const override { return false; }
    bool staysInside() const override { return false; }
    const ColourScale* colourScale() const override {
        return fill == "map" ? FieldMark::colourScale() : nullptr;
    }

    // From the farthest cell to the nearest: for heights over a plane, seen by parallel rays, each then
    // covers exactly what lies behind it.
    void draw(const Frame& frame, Group& into) const override {
        if (isEmpty() || !relief) return;
        auto columns = chosen(field->columns(), lines), rows = chosen(field->rows(), lines);
        if (relief->depthOf(0, 0.5) < relief->depthOf(1, 0.5)) std::ranges::reverse(columns);
        if (relief->depthOf(0.5, 0) < relief->depthOf(0.5, 1)) std::ranges::reverse(rows);
        const Stroke stroke = line.stroke(colour);
        for (std::size_t j = 0; j + 1 < rows.size(); ++j)
            for (std::size_t i = 0; i + 1 < columns.size(); ++i)
                cell(frame, {columns[i], columns[i + 1]}, {rows[j], rows[j + 1]}, stroke, into);
    }

private:
    using Two = std::pair<std::size_t, std::size_t>;

    void cell(const Frame& frame, const Two& x, const Two& y, const Stroke& stroke, Group& into) const {
        Polyline edge{.points = {}, .closed = true};
        double sum = 0;
        for (const auto& [i, j] : {Two{x.first, y.first}, Two{x.second, y.first}, Two{x.second, y.second},
                                   Two{x.first, y.second}}) {
            const double z = field->at(i, j);
            if (!std::isfinite(z) || !relief->holds(field->x[i], field->y[j])) return;
            sum += z;
            const Point p = relief->place(field->x[i], field->y[j], z);
            edge.points.push_back(frame.at(p.x, p.y));
        }
        Path path{.lines = {std::move(edge)}, .stroke = {}, .fill = {}};
        if (fill == "map" && colours) path.fill = colours->at(sum / 4);
        if (fill == "ground") path.fill = ground;
        if (stroke.widthMm > 0)
            path.stroke = stroke;
        else if (path.fill)
            path.stroke = Stroke{.widthMm = 0.05, .colour = *path.fill}; // no seams between cells
        path.stroke->join = Join::Round;
        add(into, std::move(path));
    }
};

// Along x to the right; each further row is drawn a little higher and farther to the right, behind those
// before it.
class Rows final : public FieldMark {
public:
    LineLook line;
    std::string fill;
    Colour ground;
    int lines = 40;
    double rise = 60, lean = 15; // per cent of the panel, of all rows together
    int namedEvery = 0;

    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        if (isEmpty()) return range;
        const auto extent = field->extent();
        if (!extent) return range;
        const double share = std::clamp(rise / 100, 0.0, 0.95);
        widen(range, extent->first, y);
        widen(range, extent->first + (extent->second - extent->first) / (1 - share),
              y); // the room of the rise
        return range;
    }
    std::optional<Range> extentX(const Scale& x) const override {
        auto range = FieldMark::extentX(x);
        if (range)
            range->high = range->low + (range->high - range->low) / (1 - std::clamp(lean / 100, 0.0, 0.9));
        return range;
    }
    std::vector<double> flushValues() const override { return {}; }

    void draw(const Frame& frame, Group& into) const override {
        if (isEmpty()) return;
        const auto rows = chosen(field->rows(), lines);
        const double base = frame.y.place(frame.y.low());
        for (std::size_t k = rows.size(); k-- > 0;) {
            const double t =
                rows.size() > 1 ? static_cast<double>(k) / static_cast<double>(rows.size() - 1) : 0;
            const double dx = t * lean / 100 * frame.area.width, dy = -t * rise / 100 * frame.area.height;
            Colour own = colour;
            if (colours) own = colours->at(field->y[rows[k]]);
            for (Polyline& piece : piecesOf(frame, rows[k], dx, dy)) {
                if (fill != "none") {
                    Polyline below = piece;
                    below.points.push_back({piece.points.back().x, base + dy});
                    below.points.push_back({piece.points.front().x, base + dy});
                    below.closed = true;
                    add(into, Path{.lines = {std::move(below)},
                                   .stroke = {},
                                   .fill = fill == "tint" ? tint(own) : ground});
                }
                add(into, Path{.lines = {std::move(piece)}, .stroke = line.stroke(own), .fill = {}});
            }
            if (namedEvery > 0 && k % static_cast<std::size_t>(namedEvery) == 0)
                name(frame, rows[k], dx, dy, into);
        }
    }

private:
    static Colour tint(Colour c) {
        const auto lighter = [](std::uint8_t v) { return static_cast<std::uint8_t>(255 - (255 - v) / 4); };
        return {lighter(c.r), lighter(c.g), lighter(c.b), 255};
    }

    std::vector<Polyline> piecesOf(const Frame& frame, std::size_t row, double dx, double dy) const {
        std::vector<Polyline> pieces;
        Polyline now;
        for (std::size_t i = 0; i <= field->columns(); ++i) {
            const Point p = i < field->columns() ? frame.at(field->x[i], field->at(i, row)) : Point{NAN, NAN};
            if (std::isfinite(p.x) && std::isfinite(p.y)) {
                now.points.push_back({cut(p.x + dx), cut(p.y + dy)});
                continue;
            }
            if (now.points.size() > 1) pieces.push_back(std::move(now));
            now = {};
        }
        return pieces;
    }

    void name(const Frame& frame, std::size_t row, double dx, double dy, Group& into) const {
        const Point end = frame.at(field->x.back(), frame.y.low());
        const SetText set = setText(readableNumber(field->y[row], 4), frame.text);
        addText(into, placed(set, {end.x + dx + 0.8, end.y + dy}, HAlign::Left, VAlign::Middle));
    }
};

MarkPtr prepareSurface(const MarkTask& task) {
    auto mark = std::make_unique<Surface>();
    mark->line = LineLook(task.look);
    mark->fill = task.look.text("filled");
    mark->ground = Colour::fromText(task.look.text("ground"), Colour{255, 255, 255, 255});
    mark->lines = task.look.integer("lines");
    mark->relief = dynamic_cast<const Relief*>(task.projection);
    prepareField(task, *mark, FieldPlaces::Own);
    giveColours(task, *mark);
    mark->named = false;
    if (!mark->relief)
        mark->issues.push_back(
            {"not-placed",
             "A surface stands in a panel seen from a side: choose that as the panel's coordinates.",
             {}});
    return mark;
}

MarkPtr prepareRows(const MarkTask& task) {
    auto mark = std::make_unique<Rows>();
    mark->line = LineLook(task.look);
    mark->fill = task.look.text("filled");
    mark->ground = Colour::fromText(task.look.text("ground"), Colour{255, 255, 255, 255});
    mark->lines = task.look.integer("lines");
    mark->rise = task.look.number("rise");
    mark->lean = task.look.number("lean");
    mark->namedEvery = task.look.integer("named-every");
    prepareField(task, *mark);
    mark->named = false;
    if (mark->isEmpty()) return mark;
    mark->yMeaning = mark->field->zMeaning;
    if (task.look.flag("by-colour")) {
        mark->colours = colourScaleFor(task.look, mark->field->y);
        if (mark->colours)
            mark->colours->name = mark->field->yMeaning.name,
            mark->colours->unit = mark->field->yMeaning.unit;
    }
    return mark;
}

std::vector<Setting> thinLines(double widthPt) {
    std::vector<Setting> line = lineSettings();
    for (Setting& s : line)
        if (s.key == "width") s.fallback = Value(widthPt), s.lowest = 0;
    return line;
}

Setting hidingGround() {
    return made(SettingKind::Colour, "ground", "Filled with", std::string(),
                "Colour of what hides; empty: white.", {.shownIf = "filled=ground", .whenEmpty = "white"});
}

} // namespace

MarkKind surfaceMark() {
    return {.info = {.key = "relief-surface",
                     .name = "Surface",
                     .purpose = "A field as a surface, in a panel seen from a side",
                     .group = "Marks",
                     .settings = together(
                         {commonSettings(),
                          thinLines(0.4),
                          {choice("filled", "Filled",
                                  {{"map", "in colours"}, {"ground", "plain"}, {"none", "not at all"}},
                                  "What lies behind is hidden unless it is not filled."),
                           hidingGround(),
                           wholeNumber("lines", "Lines", 60, "At most so many along each direction.",
                                       {.lowest = 2, .highest = 500})},
                          colourScaleSettings("Colours", "filled=map")})},
            .prepare = prepareSurface,
            .of = evaluate::fieldKinds(),
            .coordinates = "relief"};
}

MarkKind rowsMark() {
    return {
        .info = {.key = "rows-behind",
                 .name = "Rows behind each other",
                 .purpose = "The rows of a field as curves, each hiding what lies behind it",
                 .group = "Marks",
                 .settings = together(
                     {commonSettings(),
                      thinLines(0.6),
                      {choice("filled", "Filled",
                              {{"ground", "plain"}, {"tint", "with a tint"}, {"none", "not at all"}},
                              "What lies behind is hidden unless it is not filled."),
                       hidingGround(),
                       wholeNumber("lines", "Rows", 40, "At most so many.", {.lowest = 2, .highest = 1000}),
                       number("rise", "Rise", 60, "Of the last row, in per cent of the panel's height.",
                              {.unit = "%", .lowest = 0, .highest = 95}),
                       number("lean", "To the right", 15,
                              "Of the last row, in per cent of the panel's width.",
                              {.unit = "%", .lowest = 0, .highest = 90}),
                       wholeNumber("named-every", "Named", 0,
                                   "Every so manieth row has its value at its end; 0: none.",
                                   {.lowest = 0, .highest = 1000}),
                       flag("by-colour", "In colours", false, "Each row in the colour of its value.",
                            {.group = "Colours"})},
                      colourScaleSettings("Colours", "by-colour=yes")})},
        .prepare = prepareRows,
        .of = evaluate::fieldKinds()};
}

} // namespace jointer::figure
