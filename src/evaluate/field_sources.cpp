// SPDX-License-Identifier: GPL-3.0-or-later
// Datasets that are fields without a table, and cuts through fields.
#include "evaluate/field_sources.h"
#include "describe/setting_makers.h"
#include "evaluate/fields.h"
#include "steps/step.h"

#include <cmath>

namespace jointer::evaluate {

using namespace describe;

namespace {

Setting called(const char* key, const char* label, const char* fallback, const char* help) {
    return made(SettingKind::Text, key, label, std::string(fallback), help, {.group = "Axes"});
}

} // namespace

SourceKind planeSource() {
    Setting x = interval("x-range", "x from … to", "Where it is computed."), y = x;
    x.fallback = Value(Numbers{-1, 1});
    x.openEnds = false;
    x.whenEmpty.clear();
    y = x;
    y.key = "y-range";
    y.label = "y from … to";
    return {
        .info = {.key = "plane",
                 .name = "Function of x and y",
                 .purpose = "A surface by an expression in x and y",
                 .settings = {{.key = "expression",
                               .label = "z =",
                               .kind = SettingKind::Formula,
                               .fallback = Value(std::string("exp(-x^2-y^2)")),
                               .help = "Plain mathematics in x and y, such as sin(x)*cos(y)."},
                              std::move(x),
                              std::move(y),
                              wholeNumber("x-nodes", "Nodes along x", 101, "At how many x it is computed.",
                                          {.lowest = 2, .highest = 4000}),
                              wholeNumber("y-nodes", "Nodes along y", 101, "At how many y it is computed.",
                                          {.lowest = 2, .highest = 4000}),
                              called("x-name", "Name of x", "x", "What x is."),
                              called("x-unit", "Unit of x", "", "The unit of x."),
                              called("y-name", "Name of y", "y", "What y is."),
                              called("y-unit", "Unit of y", "", "The unit of y."),
                              called("z-name", "Name of z", "z", "What z is."),
                              called("z-unit", "Unit of z", "", "The unit of z.")}},
        .field = true};
}

namespace {

// The vectors of two functions at the nodes of a grid, laid out as those of columns are.
Curve flowCurve(const Settings& settings, std::span<const Curve* const>, std::vector<Issue>& issues) {
    const KindInfo& info = sourceCatalogue().find("flow")->info;
    Settings one = settings;
    const auto part = [&](const char* key) {
        one.set("expression", Value(info.text(settings, key)));
        return planeOf(info, one, issues);
    };
    const fields::Field u = part("u-expression"), v = part("v-expression");
    Curve c;
    if (u.isEmpty() || v.isEmpty()) return c;
    c.more.resize(3);
    for (std::size_t i = 0; i < u.columns(); ++i)
        for (std::size_t j = 0; j < u.rows(); ++j) {
            if (!std::isfinite(u.at(i, j) + v.at(i, j))) continue;
            c.x.push_back(u.x[i]);
            c.y.push_back(std::hypot(u.at(i, j), v.at(i, j)));
            c.more[0].push_back(u.y[j]);
            c.more[1].push_back(u.at(i, j));
            c.more[2].push_back(v.at(i, j));
            c.rowIds.push_back(static_cast<std::uint32_t>(j * u.columns() + i + 1));
        }
    c.xMeaning = u.xMeaning;
    c.moreMeanings = {
        u.yMeaning, {.name = "u", .unit = u.zMeaning.unit}, {.name = "v", .unit = u.zMeaning.unit}};
    c.yMeaning = u.zMeaning;
    return c;
}

} // namespace

SourceKind flowSource() {
    SourceKind kind = planeSource();
    kind.field = false;
    kind.curve = flowCurve;
    kind.info.key = "flow";
    kind.info.name = "Vector field";
    kind.info.purpose = "Vectors by two expressions in x and y";
    kind.info.settings[0] = {.key = "u-expression",
                             .label = "u =",
                             .kind = SettingKind::Formula,
                             .fallback = Value(std::string("-y")),
                             .help = "The part along x, in x and y."};
    kind.info.settings.insert(kind.info.settings.begin() + 1, {.key = "v-expression",
                                                               .label = "v =",
                                                               .kind = SettingKind::Formula,
                                                               .fallback = Value(std::string("x")),
                                                               .help = "The part along y, in x and y."});
    for (Setting& s : kind.info.settings) {
        if (s.key == "x-nodes" || s.key == "y-nodes") s.fallback = Value(21.0);
        if (s.key == "z-name") s.fallback = Value(std::string("speed"));
    }
    return kind;
}

SourceKind stackSource() {
    return {.info = {.key = "stack",
                     .name = "Map of curves",
                     .purpose = "Several curves as the rows of a map, over an attribute such as age",
                     .settings = {word("attribute", "Over",
                                       "The attribute that gives each curve its place; empty: the first "
                                       "that is a number.",
                                       {.whenEmpty = "the first number"}),
                                  wholeNumber("nodes", "Nodes along x", 0,
                                              "0: as many as the longest curve has points.",
                                              {.lowest = 0, .highest = 20000})}},
            .inputs = 1,
            .field = true};
}

SourceKind fittedSurfaceSource() {
    const auto range = [](const char* key, const char* label) {
        return interval(key, label, "Where it is computed; empty: where the fit rests on points.",
                        {.whenEmpty = "as measured"});
    };
    const auto nodes = [](const char* key, const char* label) {
        return wholeNumber(key, label, 61, "At how many places it is computed.",
                           {.lowest = 2, .highest = 2000});
    };
    return {
        .info = {.key = "fitted-surface",
                 .name = "Surface of a fit",
                 .purpose = "What a fit over two predictors gives, over a grid; it follows the fit",
                 .settings = {reference("fit", "Fit", "analysis", "A fit of a model of two predictors.",
                                        {.whenEmpty = "none"}),
                              reference("member", "Dataset", "dataset",
                                        "Whose curve, where the fit is of several.", {.whenEmpty = "first"}),
                              choice("what", "Show",
                                     {{"fit", "the fit"},
                                      {"confidence", "its confidence"},
                                      {"prediction", "its prediction"}},
                                     "The surface, or the half width of a band about it."),
                              range("x-range", "x from … to"), range("y-range", "y from … to"),
                              nodes("x-nodes", "Nodes along x"), nodes("y-nodes", "Nodes along y")}},
        .field = true};
}

// How a baseline is found along lines: as the step of that name does without anchors and spans.
std::vector<Setting> baselineSettings() {
    const KindInfo& step = steps::catalogue().find("baseline")->info;
    std::vector<Setting> all = {choice("along", "Lines along", {{"x", "x"}, {"y", "y"}},
                                       "Each line of nodes has a baseline of its own.",
                                       {.shownIf = "change=baseline"})};
    for (const char* key : {"method", "smoothness", "asymmetry", "radius", "degree"}) {
        Setting s = *step.find(key);
        if (s.key == "degree") s.key = "baseline-degree"; // the trend has one too
        if (s.key == "method") {
            const std::vector<std::string> kept = {"als", "arpls", "rolling-ball", "polynomial", "snip"};
            std::erase_if(s.choices,
                          [&](const Choice& c) { return std::ranges::find(kept, c.key) == kept.end(); });
            s.fallback = Value(std::string("als"));
            s.shownIf = "change=baseline";
            s.help = "How the baseline of each line is found.";
        }
        all.push_back(std::move(s));
    }
    return all;
}

SourceKind changedFieldSource() {
    std::vector<Setting> baseline = baselineSettings();
    SourceKind kind = {
        .info = {.key = "changed-field",
                 .name = "Changed field",
                 .purpose = "A field smoothed, made finer, or without its trend",
                 .settings = {choice("change", "Change",
                                     {{"smooth", "smooth"},
                                      {"trend", "without trend"},
                                      {"baseline", "without baseline"},
                                      {"refine", "make finer"}},
                                     "What is done to the field."),
                              number(
                                  "width", "Width", 1.5, "Of the smoothing; larger is smoother.",
                                  {.unit = "nodes", .lowest = 0, .highest = 200, .shownIf = "change=smooth"}),
                              choice("degree", "Trend", {{"plane", "a plane"}, {"bent", "second degree"}},
                                     "What is fitted and taken away.", {.shownIf = "change=trend"}),
                              wholeNumber("times", "Finer", 4, "So many times as many nodes.",
                                          {.lowest = 2, .highest = 16, .shownIf = "change=refine"})}},
        .inputs = 1,
        .field = true};
    std::ranges::move(baseline, std::back_inserter(kind.info.settings));
    return kind;
}

SourceKind cutSource() {
    Setting from = list("from", "From", "Its beginning, x and y; empty: the lower left corner.",
                        {.whenEmpty = "a corner"}),
            to = list("to", "To", "Its end, x and y.", {.whenEmpty = "the other corner"});
    return {.info = {.key = "cut",
                     .name = "Cut through a field",
                     .purpose = "z along a straight line, at an x or at a y",
                     .settings = {choice("along", "Along",
                                         {{"y-at", "x, at a y"}, {"x-at", "y, at an x"}, {"line", "a line"}},
                                         "How the cut runs."),
                                  openNumber("at", "At", "The x or the y of the cut; empty: the middle.",
                                             {.shownIf = "along=y-at|x-at", .whenEmpty = "the middle"}),
                                  std::move(from), std::move(to),
                                  wholeNumber("points", "Points", 200, "How many points the curve has.",
                                              {.lowest = 2, .highest = 100000})}},
            .inputs = 1,
            .ofField = true};
}

Curve cutCurve(const fields::Field& f, const Settings& settings, std::vector<Issue>& issues) {
    Curve c;
    c.yMeaning = f.zMeaning;
    if (f.isEmpty()) return c;
    const KindInfo& info = sourceCatalogue().find("cut")->info;
    const std::string along = info.text(settings, "along");
    const double at = settings.number("at", NAN);
    const fields::Place low{f.x.front(), f.y.front()}, high{f.x.back(), f.y.back()};
    fields::Place from = low, to = high;
    if (along == "y-at")
        from.y = to.y = std::isfinite(at) ? at : (low.y + high.y) / 2;
    else if (along == "x-at")
        from.x = to.x = std::isfinite(at) ? at : (low.x + high.x) / 2;
    else
        for (const auto& [key, end] : {std::pair("from", &from), std::pair("to", &to)})
            if (const Numbers given = settings.numbers(key); given.size() == 2) *end = {given[0], given[1]};
    const auto cut =
        fields::cutThrough(f, from, to, static_cast<std::size_t>(info.integer(settings, "points")));
    for (std::size_t k = 0; k < cut.z.size(); ++k) {
        if (!std::isfinite(cut.z[k])) continue;
        c.x.push_back(cut.along[k]);
        c.y.push_back(cut.z[k]);
        c.rowIds.push_back(static_cast<std::uint32_t>(k + 1));
    }
    c.xMeaning = along == "y-at"   ? f.xMeaning
                 : along == "x-at" ? f.yMeaning
                                   : AxisMeaning{.name = "distance", .unit = f.xMeaning.unit};
    if (c.x.empty()) issues.push_back({"outside", "The cut lies outside of the field.", {}});
    sortByX(c);
    return c;
}

} // namespace jointer::evaluate
