// SPDX-License-Identifier: GPL-3.0-or-later
// Waters as patterns: a polygon for each sample whose corners lie as far from its middle line as its ions
// have charges, cations to the left and anions to the right; in rows, or at places of a map. Source: H. A.
// Stiff Jr, J. Petroleum Technol. 3 (10) (1951) 15.
#include "draw/markup.h"
#include "evaluate/water_samples.h"
#include "figure/marks/classes.h"

#include <array>
#include <cmath>
#include <set>

namespace jointer::figure {

using namespace draw;
using namespace describe;
using waters::Part;

namespace {

constexpr std::size_t kRows = 3;
constexpr std::array<Part, kRows> kCations = {Part::NaK, Part::Ca, Part::Mg},
                                  kAnions = {Part::Cl, Part::Carbonate, Part::SO4};
constexpr std::array<const char*, kRows> kCationSigns = {"Na + K", "Ca", "Mg"},
                                         kAnionSigns = {"Cl", "HCO_{3}", "SO_{4}"};

class IonPatterns final : public Mark {
public:
    struct Pattern {
        double x = 0, y = 0; // of its middle: places of a map, or the row in which it stands
        std::string name;
        std::array<double, kRows> cations{}, anions{}; // meq/L, from the top
        Colour colour;
        bool doubtful = false;
        std::uint32_t row = 0;
    };
    std::vector<Pattern> patterns;
    std::shared_ptr<const Classes> classes;
    bool onMap = false;
    double share = 0.7, perUnitMm = 2, heightMm = 6; // of the distance of rows; on maps
    double lineMm = 0.25, opacity = 0.35;
    std::string ionNames;
    std::vector<double> places; // of each pattern along y, in rows

    std::optional<Range> extentX(const Scale& x) const override {
        std::optional<Range> range;
        const double text = onMap || ionNames == "none" ? 1.08 : 1.3; // room for the names of ions
        for (const Pattern& p : patterns) {
            widen(range, onMap ? p.x : -text * most(p.cations), x);
            widen(range, onMap ? p.x : text * most(p.anions), x);
        }
        return range;
    }
    std::optional<Range> extentY(const Scale& y, const Range&) const override {
        std::optional<Range> range;
        for (std::size_t k = 0; k < patterns.size(); ++k) {
            if (onMap) {
                widen(range, patterns[k].y, y);
                continue;
            }
            widen(range, places[k] - 0.5, y);
            widen(range, places[k] + (ionNames == "none" ? 0.5 : 0.75), y); // its ions are named there
        }
        return range;
    }
    bool isEmpty() const override { return patterns.empty(); }
    bool keepsDistance() const override { return onMap; }
    const ColourScale* colourScale() const override {
        return classes && classes->gradient() ? &*classes->gradient() : nullptr;
    }

    void useCategories(const std::vector<std::string>& names) override {
        if (onMap) return;
        for (std::size_t k = 0; k < patterns.size(); ++k)
            places[k] = static_cast<double>(std::ranges::find(names, patterns[k].name) - names.begin()) + 1;
    }

    void draw(const Frame& frame, Group& into) const override {
        bool named = ionNames == "none";
        for (std::size_t k = patterns.size(); k-- > 0;) { // the last stands at the bottom
            const Corners at = cornersOf(frame, k);
            if (!std::isfinite(at.middle.x + at.middle.y)) continue;
            drawOne(patterns[k], at, into);
            if (named || (ionNames == "first" && k != topmost())) continue;
            nameIons(frame, at, into);
        }
    }

    void key(Rect box, Group& into) const override { drawKey(box, colour, into); }
    std::vector<std::string> classLabels() const override {
        return classes ? classes->labels() : std::vector<std::string>();
    }
    void classKey(std::size_t k, Rect box, Group& into) const override {
        drawKey(box, classes->legend()[k].colour.value_or(colour), into);
    }

    std::function<SamplePlaces()> samplePlaces(const Frame& frame) const override {
        SamplePlaces out;
        for (std::size_t k = 0; k < patterns.size(); ++k) {
            out.places.push_back(cornersOf(frame, k).middle);
            out.rows.push_back(patterns[k].row);
        }
        return [out = std::move(out)] { return out; };
    }
    std::vector<SymbolClass> namedClasses() const override {
        return classes ? classes->named() : std::vector<SymbolClass>();
    }

private:
    struct Corners {
        Point middle;
        std::array<Point, kRows> left, right;
    };

    static double most(const std::array<double, kRows>& of) { return *std::ranges::max_element(of); }
    std::size_t topmost() const {
        std::size_t top = 0;
        for (std::size_t k = 1; k < patterns.size(); ++k)
            if (onMap ? patterns[k].y > patterns[top].y : places[k] > places[top]) top = k;
        return top;
    }

    Corners cornersOf(const Frame& frame, std::size_t k) const {
        const Pattern& p = patterns[k];
        Corners c;
        c.middle = onMap ? frame.at(p.x, p.y) : frame.at(0, places[k]);
        const double half =
            onMap ? heightMm / 2 : share * std::abs(frame.y.place(places[k] + 0.5) - c.middle.y);
        for (std::size_t row = 0; row < kRows; ++row) {
            const double y = c.middle.y + half * (static_cast<double>(row) - 1);
            const auto across = [&](double v) {
                return onMap ? c.middle.x + perUnitMm * v : frame.x.place(v);
            };
            c.left[row] = {across(-p.cations[row]), y};
            c.right[row] = {across(p.anions[row]), y};
        }
        return c;
    }

    void drawOne(const Pattern& p, const Corners& at, Group& into) const {
        Polyline edge{.points = {at.left.begin(), at.left.end()}, .closed = true};
        edge.points.insert(edge.points.end(), at.right.rbegin(), at.right.rend());
        for (Point& corner : edge.points) corner.x = cut(corner.x);
        Stroke stroke{.widthMm = lineMm, .colour = p.colour};
        if (p.doubtful) stroke.dashMm = {4 * lineMm, 3 * lineMm};
        Path path{.lines = {std::move(edge)}, .stroke = {}, .fill = {}};
        if (opacity > 0) path.fill = p.colour.withAlpha(opacity);
        if (lineMm > 0) path.stroke = std::move(stroke);
        add(into, std::move(path));
        if (lineMm > 0)
            add(into, Path{.lines = {{{{at.middle.x, at.left.front().y}, {at.middle.x, at.left.back().y}}}},
                           .stroke = Stroke{.widthMm = 0.6 * lineMm, .colour = p.colour},
                           .fill = {}});
    }

    void nameIons(const Frame& frame, const Corners& at, Group& into) const {
        TextStyle style = frame.text;
        style.sizePt *= 0.8;
        const auto across = [](const Point& a, const Point& b) { return a.x < b.x; };
        // One below the other, where no edge runs through them.
        const double left = std::ranges::min_element(at.left, across)->x - 0.7,
                     right = std::ranges::max_element(at.right, across)->x + 0.7;
        const double step = std::max(at.left[1].y - at.left[0].y, 1.05 * style.sizePt * kMmPerPt);
        for (std::size_t row = 0; row < kRows; ++row) {
            const double y = at.middle.y + step * (static_cast<double>(row) - 1);
            addText(into,
                    placed(setText(kCationSigns[row], style), {left, y}, HAlign::Right, VAlign::Middle));
            addText(into, placed(setText(kAnionSigns[row], style), {right, y}, HAlign::Left, VAlign::Middle));
        }
    }

    void drawKey(Rect box, Colour c, Group& into) const {
        const double x = box.x + box.width / 2, h = box.height;
        const auto across = [&](double share) { return x + share * box.width / 2; };
        const std::vector<Point> corners = {{across(-0.7), box.y},        {across(-0.35), box.y + h / 2},
                                            {across(-0.5), box.y + h},    {across(0.3), box.y + h},
                                            {across(0.6), box.y + h / 2}, {across(0.8), box.y}};
        add(into, Path{.lines = {{corners, true}},
                       .stroke = Stroke{.widthMm = lineMm, .colour = c},
                       .fill = c.withAlpha(opacity)});
    }
};

// Names of samples, each once.
std::vector<std::string> namesOnce(std::vector<std::string> names) {
    std::set<std::string> taken;
    for (std::string& name : names) {
        const std::string first = name;
        for (int n = 2; !taken.insert(name).second; ++n) name = first + " (" + std::to_string(n) + ")";
    }
    return names;
}

void takePatterns(const MarkTask& task, const FoundCurve& found, IonPatterns& mark) {
    const Curve& c = *found.curve;
    const auto names = namesOnce(labelsBeside(task, *found.dataset, c));
    const auto xs = columnBeside(task, *found.dataset, c, task.look.reference("map-x")),
               ys = columnBeside(task, *found.dataset, c, task.look.reference("map-y"));
    const double limit = evaluate::waterRules(found.dataset->source.settings).balanceLimit;
    const auto amount = [&](Part part, std::size_t i) { return c.more[static_cast<std::size_t>(part)][i]; };
    for (std::size_t i = 0; i < c.size(); ++i) {
        if (c.isExcluded(i)) continue;
        IonPatterns::Pattern p{.name = names[i], .colour = mark.colour};
        if (mark.classes) {
            const auto key = mark.classes->keyOf(i);
            if (!key) continue;
            p.colour = mark.classes->colourOf(*key, mark.colour);
        }
        if (mark.onMap) p.x = xs[i], p.y = ys[i];
        if (!std::isfinite(p.x + p.y)) continue;
        for (std::size_t row = 0; row < kRows; ++row) {
            p.cations[row] = amount(kCations[row], i);
            p.anions[row] = amount(kAnions[row], i);
        }
        p.doubtful = std::abs(c.y[i]) > limit;
        p.row = i < c.rowIds.size() ? c.rowIds[i] : 0;
        mark.patterns.push_back(std::move(p));
    }
    // The first row stands at the top.
    for (std::size_t k = mark.patterns.size(); k-- > 0;) {
        mark.places.push_back(static_cast<double>(k + 1));
        if (!mark.onMap) mark.yMeaning.categories.push_back(literal(mark.patterns[k].name));
    }
    if (!mark.onMap)
        for (auto& p : mark.patterns) p.name = literal(p.name);
}

MarkPtr prepare(const MarkTask& task) {
    auto mark = std::make_unique<IonPatterns>();
    const Look& look = task.look;
    const auto refuse = [&](std::string why) {
        mark->issues.push_back({"not-placed", std::move(why), {}});
        return std::move(mark);
    };
    if (task.projection)
        return refuse(
            "Ion patterns stand in a panel at right angles: choose these coordinates for the panel.");
    const FoundCurve found = foundCurve(task, mark->issues);
    if (!found.dataset || !found.curve) return mark;
    takeFrom(found, task, *mark);
    mark->xMeaning = mark->yMeaning = {};
    if (found.dataset->source.kind != "ions" || found.curve->more.size() < waters::kParts)
        return refuse("“" + found.dataset->name +
                      "” holds no ions of waters: choose what its columns are in Data.");
    mark->onMap = look.text("stand") == "map";
    if (mark->onMap && (look.reference("map-x").empty() || look.reference("map-y").empty()))
        return refuse("Choose the columns that tell where each pattern stands on the map.");
    mark->share = look.number("share") / 100;
    mark->perUnitMm = look.number("per-unit");
    mark->heightMm = look.number("pattern-height");
    mark->lineMm = look.millimetres("width");
    mark->opacity = look.number("opacity");
    mark->ionNames = look.text("ion-names");
    mark->classes = Classes::of(task, *found.dataset, *found.curve, mark->issues);
    takePatterns(task, found, *mark);
    if (mark->onMap) {
        mark->xMeaning = columnMeaning(task, *found.dataset, look.reference("map-x"));
        mark->yMeaning = columnMeaning(task, *found.dataset, look.reference("map-y"));
    } else {
        mark->xMeaning = {.name = "cations, anions", .unit = "meq/L", .twoSided = true};
    }
    return mark;
}

std::vector<Setting> colourClasses() {
    std::vector<Setting> all = classSettings();
    for (const char* key : {"symbol-by", "size-by", "size-from", "size-to"})
        all = without(std::move(all), key);
    return all;
}

} // namespace

MarkKind ionPatternsMark() {
    return {
        .info = {.key = "ion-patterns",
                 .name = "Ion patterns",
                 .purpose = "A polygon for each water (Stiff), cations to the left and anions to the right",
                 .group = "Marks",
                 .settings = together(
                     {commonSettings(),
                      {choice("stand", "Stand", {{"rows", "in rows"}, {"map", "on a map"}},
                              "Each sample in a row of its own, or at its place on a map."),
                       reference("map-x", "x of the map", "column", "The column of each sample's x.",
                                 {.shownIf = "stand=map", .whenEmpty = "none"}),
                       reference("map-y", "y of the map", "column", "The column of each sample's y.",
                                 {.shownIf = "stand=map", .whenEmpty = "none"}),
                       number("share", "Height", 70, "Of the distance between rows.",
                              {.unit = "%", .lowest = 5, .highest = 100, .shownIf = "stand=rows"}),
                       number("pattern-height", "Height", 6, "Of a pattern on the map.",
                              {.unit = "mm", .lowest = 0.5, .highest = 100, .shownIf = "stand=map"}),
                       number("per-unit", "For 1 meq/L", 2, "How wide one milliequivalent is on the map.",
                              {.unit = "mm", .lowest = 1e-4, .highest = 1000, .shownIf = "stand=map"}),
                       choice("ion-names", "Name ions",
                              {{"first", "of the first"}, {"all", "of all"}, {"none", "of none"}},
                              "Beside which patterns the ions are named."),
                       number("width", "Outline", 0.7, "Line width; 0: none.",
                              {.unit = "pt", .lowest = 0, .highest = 20}),
                       opacitySetting(0.35)},
                      colourClasses(),
                      datasetSettings()})},
        .prepare = prepare,
        .of = {"ions"},
        .coordinates = "cartesian"};
}

} // namespace jointer::figure
