// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/parts.h"

#include "figure/shown_part.h"
#include "figure/thin.h"

#include <cmath>

namespace jointer::figure {

using namespace describe;
using namespace draw;

namespace {

constexpr double kFar = 1e12; // mm; the layout cuts lines where they leave the surroundings of the page

struct NamedShape {
    std::string_view key;
    const char* label;
    SymbolShape shape;
};

// In the order in which looks by order take them: told apart at a glance first.
constexpr NamedShape kShapes[] = {{"circle", "circle", SymbolShape::Circle},
                                  {"square", "square", SymbolShape::Square},
                                  {"triangle-up", "triangle", SymbolShape::TriangleUp},
                                  {"diamond", "diamond", SymbolShape::Diamond},
                                  {"triangle-down", "triangle, down", SymbolShape::TriangleDown},
                                  {"cross", "cross", SymbolShape::Cross},
                                  {"plus", "plus", SymbolShape::Plus},
                                  {"pentagon", "pentagon", SymbolShape::Pentagon},
                                  {"star", "star", SymbolShape::Star},
                                  {"triangle-left", "triangle, left", SymbolShape::TriangleLeft},
                                  {"triangle-right", "triangle, right", SymbolShape::TriangleRight},
                                  {"hexagon", "hexagon", SymbolShape::Hexagon},
                                  {"asterisk", "asterisk", SymbolShape::Asterisk},
                                  {"dash", "dash", SymbolShape::Dash},
                                  {"tick", "upright dash", SymbolShape::Tick}};

constexpr const char* kDashes[] = {"solid", "dashed", "dotted", "dash-dot", "long", "dash-dot-dot"};

Half halfOf(std::string_view fill) {
    if (fill == "half-left") return Half::Left;
    if (fill == "half-right") return Half::Right;
    if (fill == "half-upper") return Half::Upper;
    return fill == "half-lower" ? Half::Lower : Half::None;
}

std::vector<double> dashes(const std::string& key, double width) {
    const double w = std::max(width, 0.15);
    if (key == "dashed") return {5 * w, 3 * w};
    if (key == "dotted") return {1.2 * w, 2 * w};
    if (key == "dash-dot") return {6 * w, 2.4 * w, 1.2 * w, 2.4 * w};
    if (key == "long") return {10 * w, 4 * w};
    if (key == "dash-dot-dot") return {6 * w, 2.4 * w, 1.2 * w, 2.4 * w, 1.2 * w, 2.4 * w};
    return {};
}

} // namespace

std::vector<double> evenly(double low, double high, int count) {
    std::vector<double> values;
    for (int k = 0; k <= count; ++k) values.push_back(std::lerp(low, high, static_cast<double>(k) / count));
    return values;
}

std::vector<double> evenlyOn(const Scale& scale, double low, double high, int count) {
    if (scale.isEven()) return evenly(low, high, count);
    std::vector<double> values = evenly(scale.forward(low), scale.forward(high), count);
    for (double& v : values) v = scale.back(v);
    values.front() = low;
    values.back() = high;
    return values;
}

std::vector<Setting> together(std::initializer_list<std::vector<Setting>> lists) {
    std::vector<Setting> all;
    for (const auto& list : lists) std::ranges::copy(list, std::back_inserter(all));
    return all;
}

std::vector<Setting> without(std::vector<Setting> settings, std::string_view key) {
    std::erase_if(settings, [key](const Setting& s) { return s.key == key; });
    return settings;
}

std::vector<Setting> commonSettings(const std::string& whoseName) {
    return {word("label", "Legend",
                 "Text in the legend; empty takes " + whoseName + ", a dash leaves it out.",
                 {.whenEmpty = "automatic"}),
            made(SettingKind::Colour, "colour", "Colour", std::string(),
                 "Colour; empty takes that of the dataset.", {}),
            reference("x-axis", "x axis", "axis", "Along which of several it is drawn.",
                      {.group = kPlaceGroup, .whenEmpty = "the first"}),
            reference("y-axis", "y axis", "axis", "Along which of several it is drawn.",
                      {.group = kPlaceGroup, .whenEmpty = "the first"})};
}

std::vector<Setting> datasetSettings() {
    Setting point = choice(
        "point", "State",
        {{"end", "after all steps"}, {"measured", "as measured"}, {"before-smoothing", "before smoothing"}},
        "Which state of the protocol is drawn; also the id of a step, after which it is.",
        {.group = kShownGroup});
    point.of = "step";
    point.others = 24;
    Setting companion = made(SettingKind::Choice, "companion", "Companion", std::string(),
                             "Which curve that came with the dataset is drawn instead of its y: the name "
                             "of a companion or component.",
                             {.group = kShownGroup, .whenEmpty = "y"});
    companion.of = "companion";
    companion.others = 200;
    return {std::move(point), std::move(companion),
            interval("part", "Part", "From where to where it is drawn; dates such as 2031-05-02 too.",
                     {.unit = "x", .group = kShownGroup, .whenEmpty = "all"}),
            wholeNumber("nth", "Every", 1, "Only every so manieth point.",
                        {.lowest = 1, .highest = 1e9, .group = kShownGroup}),
            number("offset", "Offset", 0,
                   "By how much the curve is moved up; a power of the base on a logarithmic axis.",
                   {.unit = "y", .lowest = -1e300, .highest = 1e300, .group = kPlaceGroup})};
}

std::vector<Setting> symbolSettings() {
    std::vector<Choice> shapes;
    for (const NamedShape& s : kShapes) shapes.push_back({std::string(s.key), s.label});
    return {choice("symbol", "Symbol", std::move(shapes), "Shape of the points."),
            number("size", "Size", 3.5, "Size of the symbols.", {.unit = "pt", .lowest = 0.2, .highest = 40}),
            choice("fill", "Fill",
                   {{"open", "open"},
                    {"filled", "filled"},
                    {"white", "white"},
                    {"half-left", "left half"},
                    {"half-right", "right half"},
                    {"half-upper", "upper half"},
                    {"half-lower", "lower half"}},
                   "Open symbols show what overlaps; white ones cover lines behind them."),
            openNumber(
                "outline", "Outline", "Width of the symbols' outline; empty goes with the size.",
                {.unit = "pt", .lowest = 0, .highest = 20, .group = kLooksGroup, .whenEmpty = "automatic"}),
            made(SettingKind::Colour, "fill-colour", "Filled with", std::string(),
                 "Colour of the filling; empty takes that of the outline.", {.group = kLooksGroup}),
            number("spacing", "Least distance", 0,
                   "Symbols closer to the one before are left away; the line keeps all points.",
                   {.unit = "mm", .lowest = 0, .highest = 100, .group = kShownGroup}),
            flag("excluded", "Left-out points", false, "Show points that were left out, faintly.",
                 {.group = kShownGroup}),
            choice("shown", "Points", {{"counting", "all"}, {"excluded", "left out"}, {"made", "made"}},
                   "Show all points, only those that were left out, or only those that a step put in.",
                   {.group = kShownGroup})};
}

std::vector<Setting> errorSettings() {
    const std::string group = "Error bars";
    return {
        flag("errors", "Error bars", true, "Bars of ± one standard uncertainty, where it is known.",
             {.group = group}),
        flag("errors-x", "of x too", true, "Bars along x, where the uncertainty of x is known.",
             {.group = group, .shownIf = "errors=yes"}),
        choice("error-sides", "Sides", {{"both", "both"}, {"up", "up"}, {"down", "down"}},
               "Which half of each bar is drawn.", {.group = group, .shownIf = "errors=yes"}),
        number("error-times", "Times", 1, "By what the uncertainties are multiplied: 1.96 for 95 %.",
               {.lowest = 0, .highest = 1000, .group = group, .shownIf = "errors=yes"}),
        flag("caps", "Caps", true, "Short strokes at the ends.", {.group = group, .shownIf = "errors=yes"}),
        openNumber("error-width", "Width", "Line width; empty goes with the symbols.",
                   {.unit = "pt",
                    .lowest = 0,
                    .highest = 20,
                    .group = group,
                    .shownIf = "errors=yes",
                    .whenEmpty = "automatic"}),
        choice("error-place", "Drawn", {{"behind", "behind the symbols"}, {"before", "before them"}},
               "Whether the bars cover the symbols.", {.group = group, .shownIf = "errors=yes"}),
        reference("error-up", "Upwards from", "column",
                  "A column of distances upwards, where bars are not alike at both sides.",
                  {.group = group, .shownIf = "errors=yes", .whenEmpty = "the uncertainty"}),
        reference("error-down", "Downwards from", "column", "A column of distances downwards.",
                  {.group = group, .shownIf = "errors=yes", .whenEmpty = "the uncertainty"})};
}

std::vector<Setting> lineSettings() {
    return {number("width", "Width", 1, "Line width.", {.unit = "pt", .lowest = 0.05, .highest = 20}),
            choice("dash", "Dash",
                   {{"solid", "solid"},
                    {"dashed", "dashed"},
                    {"dotted", "dotted"},
                    {"dash-dot", "dash-dot"},
                    {"long", "long dashes"},
                    {"dash-dot-dot", "dash-dot-dot"}},
                   "Pattern of the line."),
            choice("join", "Corners", {{"round", "round"}, {"sharp", "sharp"}}, "How the line turns.",
                   {.group = kLooksGroup})};
}

Setting opacitySetting(double fallback, const std::string& key, const std::string& label) {
    Setting s = number(key, label, fallback, "How much of what lies behind is covered.",
                       {.lowest = 0, .highest = 1, .slider = std::pair(0.0, 1.0)});
    return s;
}

LineLook::LineLook(const Look& look)
    : widthMm(look.millimetres("width")), dash(look.text("dash")),
      join(look.text("join") == "sharp" ? Join::Miter : Join::Round) {}

Stroke LineLook::stroke(Colour colour) const {
    return {.widthMm = widthMm,
            .colour = colour,
            .dashMm = dashes(dash, widthMm),
            .cap = Cap::Butt,
            .join = join};
}

SymbolLook::SymbolLook(const Look& look)
    : shape(shapeOf(look.text("symbol"))), sizeMm(look.millimetres("size")), fill(look.text("fill")),
      outlineMm(look.millimetres("outline")), spacingMm(look.number("spacing")) {
    if (const std::string own = look.text("fill-colour"); !own.empty()) fillColour = Colour::fromText(own);
}

double SymbolLook::lineMm() const {
    return std::isfinite(outlineMm) ? outlineMm : std::max(0.12, sizeMm * 0.16);
}

Symbols SymbolLook::symbols(Colour colour) const {
    const bool hair = fill == "filled" && isFilled() && !fillColour && !std::isfinite(outlineMm);
    Symbols s{.shape = shape,
              .sizeMm = sizeMm,
              .places = {},
              .stroke = Stroke{.widthMm = hair ? 0.05 : lineMm(), .colour = colour},
              .fill = {}};
    if (!isFilled()) return s;
    s.fill = fill == "white" ? Colour{255, 255, 255, 255} : fillColour.value_or(colour);
    s.half = halfOf(fill);
    return s;
}

SymbolShape shapeOf(std::string_view key) {
    const auto at = std::ranges::find(kShapes, key, &NamedShape::key);
    return at == std::end(kShapes) ? SymbolShape::Circle : at->shape;
}

std::string symbolAt(std::size_t k) {
    return std::string(kShapes[k % std::size(kShapes)].key);
}

std::string dashAt(std::size_t k) {
    return kDashes[k % std::size(kDashes)];
}

double cut(double mm) {
    return std::clamp(mm, -kFar, kFar);
}

void widen(std::optional<Range>& range, double v, const Scale& scale) {
    if (!scale.takes(v)) return;
    range = range ? Range{std::min(range->low, v), std::max(range->high, v)} : Range{v, v};
}

std::optional<Range> united(const std::optional<Range>& a, const std::optional<Range>& b) {
    if (!a || !b) return a ? a : b;
    return Range{std::min(a->low, b->low), std::max(a->high, b->high)};
}

std::pair<std::size_t, std::size_t> shownWithin(const std::vector<double>& xs, const AxisMap& x, double mm) {
    const double by = x.end() < x.start() ? -mm : mm;
    double low = x.value(x.start() - by), high = x.value(x.end() + by);
    if (!std::isfinite(low)) low = x.low();
    if (!std::isfinite(high)) high = x.high();
    return shownPart(xs, std::min(low, high), std::max(low, high));
}

Path linePath(std::vector<Polyline> lines, const LineLook& look, Colour colour) {
    return {.lines = std::move(lines), .stroke = look.stroke(colour), .fill = {}};
}

Polyline areaBetween(std::vector<Point> upper, std::vector<Point> lower) {
    std::ranges::reverse(lower);
    Polyline edge{std::move(upper), true};
    std::ranges::move(lower, std::back_inserter(edge.points));
    return edge;
}

std::shared_ptr<const Curve> recategorised(const std::shared_ptr<const Curve>& curve,
                                           const std::vector<std::string>& names) {
    if (!curve || curve->xMeaning.categories.empty() || curve->xMeaning.categories == names) return curve;
    const auto& own = curve->xMeaning.categories;
    auto out = std::make_shared<Curve>(*curve);
    for (double& x : out->x) {
        const auto k = static_cast<std::size_t>(std::max(0.0, std::round(x) - 1));
        const auto at = k < own.size() ? std::ranges::find(names, own[k]) : names.end();
        x = at == names.end() ? NAN : static_cast<double>(at - names.begin() + 1);
    }
    out->xMeaning.categories = names;
    sortByX(*out);
    return out;
}

} // namespace jointer::figure
