// SPDX-License-Identifier: GPL-3.0-or-later
// Waters, parts of three, fields and vectors on a page: what stands where, against what the data say.
#include "fields/contours.h"
#include "figure/layout.h"
#include "figure/relief.h"
#include "session/figure_text.h"

#include <cmath>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <random>

using namespace jointer;
using namespace jointer::figure;
using Json = nlohmann::ordered_json;
using testing::Contains;
using testing::Field;
using testing::HasSubstr;

namespace {

struct Laid {
    FigureOfText figure;
    Layout layout;
    double dataMm = 0;
};

// A page with one panel of these data and elements.
Laid laid(const Json& data, const Json& panelSettings, Json children, double pixelsPerMm = 20) {
    const Json all = {
        {"format", "jointer-figure"},
        {"version", 1},
        {"name", "test"},
        {"style", "Single column"},
        {"settings", {{"width", 120}, {"height", 110}}},
        {"data", data},
        {"elements",
         Json::array({{{"kind", "panel"}, {"settings", panelSettings}, {"children", std::move(children)}}})}};
    auto read = figureFromText(all.dump());
    EXPECT_TRUE(read) << (read ? "" : read.error().text);
    Laid out{.figure = std::move(*read), .layout = {}};
    evaluate::Evaluator evaluator;
    out.layout = layOut(out.figure.project, *out.figure.project.figures.find(out.figure.figure), evaluator,
                        {.pixelsPerMm = pixelsPerMm});
    return out;
}

template <class What> std::vector<What> allOf(const std::vector<draw::Item>& items) {
    std::vector<What> out;
    for (const draw::Item& item : items) {
        if (const auto* what = std::get_if<What>(&item.what)) out.push_back(*what);
        if (const auto* group = std::get_if<draw::Group>(&item.what))
            for (What& inner : allOf<What>(group->items)) out.push_back(std::move(inner));
    }
    return out;
}

// What the marks of the panel draw: those in groups with the dataset.
template <class What> std::vector<What> drawnBy(const Laid& l, const char* kind) {
    const Element* mark = nullptr;
    for (const Element& e : l.figure.project.figures.find(l.figure.figure)->elements[0].children)
        if (e.kind == kind) mark = &e;
    std::vector<What> out;
    for (const draw::Item& item : l.layout.list.items)
        if (mark && item.element == mark->id) {
            std::vector<draw::Item> one{item};
            for (What& w : allOf<What>(one)) out.push_back(std::move(w));
        }
    return out;
}

Json column(const char* unit, std::vector<double> values) {
    return {{"unit", unit}, {"values", std::move(values)}};
}

Json axes(const char* x = "linear", const char* y = "linear") {
    return Json::array({{{"kind", "axis"}, {"settings", {{"side", "bottom"}, {"scale", x}}}},
                        {{"kind", "axis"}, {"settings", {{"side", "left"}, {"scale", y}}}}});
}

Json with(Json list, const Json& element) {
    list.push_back(element);
    return list;
}

std::vector<std::string> codesOf(const Laid& l) {
    std::vector<std::string> codes;
    for (const Issue& issue : l.layout.issues) codes.push_back(issue.code);
    return codes;
}

Json waters(std::vector<double> ca, std::vector<double> mg, std::vector<double> na, std::vector<double> cl,
            std::vector<double> so4, std::vector<double> hco3) {
    return {{"springs",
             {{"as", "ions"},
              {"columns",
               {{"Ca", column("meq/L", ca)},
                {"Mg", column("meq/L", mg)},
                {"Na", column("meq/L", na)},
                {"Cl", column("meq/L", cl)},
                {"SO4", column("meq/L", so4)},
                {"HCO3", column("meq/L", hco3)}}}}}};
}

} // namespace

// Each sample has its symbol in both triangles and the diamond, at the places of the projection; random
// samples.
TEST(Diagrams, WatersStandInAllThreeFields) {
    std::mt19937 random(4);
    std::exponential_distribution<double> amount;
    std::vector<double> ions[6];
    constexpr std::size_t n = 40;
    for (auto& ion : ions)
        for (std::size_t k = 0; k < n; ++k) ion.push_back(amount(random));
    const Laid l = laid(waters(ions[0], ions[1], ions[2], ions[3], ions[4], ions[5]),
                        {{"coordinates", "waters"}, {"gap", 30}},
                        Json::array({{{"kind", "points"}, {"source", "springs"}}}));
    std::vector<draw::Point> places;
    for (const draw::Symbols& s : drawnBy<draw::Symbols>(l, "points"))
        places.insert(places.end(), s.places.begin(), s.places.end());
    ASSERT_EQ(places.size(), 3 * n);
    const PanelGeometry& g = l.layout.panels.at(0);
    ASSERT_TRUE(g.projection);
    const WaterPlane plane(0.3);
    for (std::size_t k = 0; k < n; ++k) {
        const double cations = ions[0][k] + ions[1][k] + ions[2][k],
                     anions = ions[3][k] + ions[4][k] + ions[5][k];
        const draw::Point wanted[] = {
            plane.cation({ions[0][k] / cations, ions[1][k] / cations, ions[2][k] / cations}),
            plane.anion({ions[3][k] / anions, ions[4][k] / anions, ions[5][k] / anions}),
            plane.diamond(ions[2][k] / cations, (ions[3][k] + ions[4][k]) / anions)};
        for (std::size_t f = 0; f < 3; ++f) {
            EXPECT_NEAR(g.x.value(places[f * n + k].x), wanted[f].x, 1e-9);
            EXPECT_NEAR(g.y.value(places[f * n + k].y), wanted[f].y, 1e-9);
        }
    }
    // Proportions are kept: an edge is as long as the others on the page.
    EXPECT_NEAR(g.area.width / plane.width(), g.area.height / plane.height(), 1e-9);
}

TEST(Diagrams, WatersTellWhatIsUnderThePointerAndWhatIsWrong) {
    const Laid l = laid(waters({2, 1}, {1, 1}, {1, 1}, {1, 9}, {1, 1}, {2, 1}), {{"coordinates", "waters"}},
                        Json::array({{{"kind", "points"}, {"source", "springs"}}}));
    const PanelGeometry& g = l.layout.panels.at(0);
    const WaterPlane plane(0.32);
    EXPECT_THAT(g.projection->wordsAt(plane.cation({0.5, 0.25, 0.25})),
                HasSubstr("Ca 50.0 %, Mg 25.0 %, Na + K 25.0 %"));
    EXPECT_THAT(g.projection->wordsAt(plane.diamond(0.25, 0.5)), HasSubstr("Ca + Mg 75.0 %"));
    EXPECT_EQ(g.projection->wordsAt({1.16, 0.0}), "") << "between the triangles";
    // The second sample does not balance: a line crosses it in each field.
    std::size_t crossed = 0;
    for (const draw::Path& p : drawnBy<draw::Path>(l, "points")) crossed += p.lines.size();
    EXPECT_EQ(crossed, 3U);
    const Laid curve = laid({{"c", {{"x", {1, 2}}, {"y", {1, 2}}}}}, {{"coordinates", "waters"}},
                            Json::array({{{"kind", "points"}, {"source", "c"}}}));
    EXPECT_THAT(codesOf(curve), Contains("not-placed"));
}

// Ticks lie along the grid lines that they belong to.
TEST(Diagrams, TicksGoOnAsGridLines) {
    const Laid l =
        laid({{"s", {{"as", "composition"}, {"columns", {{"A", {1, 2}}, {"B", {2, 2}}, {"C", {3, 1}}}}}}},
             {{"coordinates", "ternary"}, {"edge-ticks", "both"}, {"edge-every", 20}},
             Json::array({{{"kind", "points"}, {"source", "s"}}}));
    std::vector<draw::Polyline> grid, ticks;
    for (const draw::Path& p : allOf<draw::Path>(l.layout.list.items)) {
        if (!p.stroke || p.lines.empty() || p.lines[0].points.size() != 2) continue;
        const auto& a = p.lines[0].points;
        const double length = std::hypot(a[1].x - a[0].x, a[1].y - a[0].y);
        (length > 5 ? grid : ticks).insert((length > 5 ? grid : ticks).end(), p.lines.begin(), p.lines.end());
    }
    EXPECT_EQ(grid.size(), 12U) << "four lines of each part";
    ASSERT_GE(ticks.size(), 12U);
    for (const draw::Polyline& g : grid) {
        const draw::Point a = g.points[0], b = g.points[1];
        const double length = std::hypot(b.x - a.x, b.y - a.y);
        bool goesOn = false;
        for (const draw::Polyline& t : ticks) {
            const auto off = [&](draw::Point p) {
                return std::abs((p.x - a.x) * (b.y - a.y) - (p.y - a.y) * (b.x - a.x)) / length;
            };
            const bool near = std::hypot(t.points[0].x - a.x, t.points[0].y - a.y) < 2;
            goesOn |= near && off(t.points[0]) < 1e-6 && off(t.points[1]) < 1e-6;
        }
        EXPECT_TRUE(goesOn);
    }
}

TEST(Diagrams, PartsOfThreeAreSharesAndEnlargedPartsLeaveOthersOut) {
    const Json data = {
        {"s",
         {{"as", "composition"}, {"columns", {{"A", {80, 8, 1}}, {"B", {10, 1, 8}}, {"C", {10, 1, 1}}}}}}};
    const Json marks = Json::array({{{"kind", "points"}, {"source", "s"}}});
    const auto places = [](const Laid& l) {
        std::vector<draw::Point> all;
        for (const draw::Symbols& s : drawnBy<draw::Symbols>(l, "points"))
            all.insert(all.end(), s.places.begin(), s.places.end());
        return all;
    };
    const Laid whole = laid(data, {{"coordinates", "ternary"}}, marks);
    ASSERT_EQ(places(whole).size(), 3U);
    EXPECT_NEAR(places(whole)[0].x, places(whole)[1].x, 1e-9) << "80, 10, 10 and 8, 1, 1 are the same place";
    const Laid part = laid(data, {{"coordinates", "ternary"}, {"least-a", 50}}, marks);
    ASSERT_EQ(places(part).size(), 2U);
    const PanelGeometry& g = part.layout.panels.at(0);
    const draw::Point wanted = Triangle({0.5, 0, 0}).place(0.8, 0.1, 0.1);
    EXPECT_NEAR(g.x.value(places(part)[0].x), wanted.x, 1e-9);
    EXPECT_NEAR(g.y.value(places(part)[0].y), wanted.y, 1e-9);
}

// Words are classes, numbers steps or a gradient; what is said by hand goes first, also from the house style.
TEST(Diagrams, ClassesTellSymbolsApart) {
    const Json data = {{"s",
                        {{"as", "composition"},
                         {"columns",
                          {{"Zone", {"a", "b", "a", "c"}},
                           {"A", {1, 2, 3, 4}},
                           {"B", {4, 3, 2, 1}},
                           {"C", {2, 2, 2, 2}}}}}}};
    const auto symbols = [&](Json settings) {
        return drawnBy<draw::Symbols>(
            laid(data, {{"coordinates", "ternary"}},
                 Json::array({{{"kind", "points"}, {"source", "s"}, {"settings", std::move(settings)}}})),
            "points");
    };
    EXPECT_EQ(symbols(Json::object()).size(), 1U);
    const auto byZone = symbols({{"colour-by", "Zone"}, {"symbol-by", "Zone"}});
    ASSERT_EQ(byZone.size(), 3U);
    EXPECT_EQ(byZone[0].places.size(), 2U);
    EXPECT_NE(byZone[0].shape, byZone[1].shape);
    EXPECT_NE(byZone[0].stroke->colour, byZone[1].stroke->colour);
    EXPECT_EQ(symbols({{"colour-by", "A"}}).size(), 4U) << "a gradient";
    EXPECT_EQ(symbols({{"colour-by", "A"}, {"colour-how", "steps"}, {"step-limits", {2.5}}}).size(), 2U);
    const auto bySize = symbols({{"size-by", "A"}});
    ASSERT_EQ(bySize.size(), 4U);
    EXPECT_NEAR(std::pow(bySize.back().sizeMm / bySize.front().sizeMm, 2), std::pow(9.0 / 2, 2), 1e-9);
    const Json rows = {
        {"rows", Json::array({{{"name", "a"}, {"hidden", true}}, {{"name", "c"}, {"colour", "#123456"}}})}};
    const auto hidden = symbols({{"colour-by", "Zone"}, {"classes", rows}});
    ASSERT_EQ(hidden.size(), 2U);
    EXPECT_EQ(hidden[0].stroke->colour, (draw::Colour{0x12, 0x34, 0x56, 255}))
        << "rows by hand are first in order";
}

namespace {

Json block(std::size_t n, std::size_t m, const auto& z) {
    Json columns = Json::object();
    std::vector<double> y;
    for (std::size_t j = 0; j < m; ++j) y.push_back(static_cast<double>(j));
    columns["row"] = y;
    for (std::size_t i = 0; i < n; ++i) {
        Json values = Json::array();
        for (std::size_t j = 0; j < m; ++j) {
            const double v = z(static_cast<double>(i), static_cast<double>(j));
            values.push_back(std::isfinite(v) ? Json(v) : Json());
        }
        columns[std::to_string(i)] = std::move(values);
    }
    return {{"f", {{"as", "grid"}, {"columns", std::move(columns)}}}};
}

} // namespace

TEST(Diagrams, AMapHasAPixelForEachCellAndNothingWhereOneIsMissing) {
    const Json data = block(5, 4, [](double x, double y) { return x == 2 && y == 1 ? NAN : x + 10 * y; });
    const Laid l =
        laid(data, Json::object(),
             with(axes(), {{"kind", "colour-map"}, {"source", "f"}, {"settings", {{"map", "ash"}}}}));
    const auto pictures = drawnBy<draw::Picture>(l, "colour-map");
    ASSERT_EQ(pictures.size(), 1U);
    const draw::Picture& p = pictures[0];
    EXPECT_EQ(p.columns, 5U);
    EXPECT_EQ(p.rows, 4U);
    const auto alpha = [&](std::size_t i, std::size_t j) { return (*p.pixels)[4 * ((3 - j) * 5 + i) + 3]; };
    const auto grey = [&](std::size_t i, std::size_t j) { return (*p.pixels)[4 * ((3 - j) * 5 + i)]; };
    EXPECT_EQ(alpha(2, 1), 0);
    EXPECT_EQ(alpha(2, 2), 255);
    EXPECT_LT(grey(0, 0), grey(4, 0));
    EXPECT_LT(grey(0, 0), grey(0, 3));
    const PanelGeometry& g = l.layout.panels.at(0);
    EXPECT_NEAR(p.bounds.x, g.x.place(-0.5), 1e-9);
    EXPECT_NEAR(p.bounds.right(), g.x.place(4.5), 1e-9);
    EXPECT_NEAR(p.bounds.bottom(), g.y.place(-0.5), 1e-9);
    EXPECT_EQ(g.x.low(), -0.5) << "the axis ends with the cells";
}

// On a logarithmic axis each pixel has the colour of the cell that it lies in.
TEST(Diagrams, MapsFollowAnyScale) {
    const Json data = block(6, 3, [](double x, double) { return x; });
    const Laid l = laid(
        data, Json::object(),
        with(axes(), {{"kind", "colour-map"}, {"source", "f"}, {"settings", {{"between", "smooth"}}}}), 4);
    const auto pictures = drawnBy<draw::Picture>(l, "colour-map");
    ASSERT_EQ(pictures.size(), 1U);
    EXPECT_GT(pictures[0].columns, 100U) << "blended at the resolution of the target";
    EXPECT_NEAR(pictures[0].bounds.width, l.layout.panels[0].area.width, 1e-6);
}

TEST(Diagrams, FilledContoursCoverEachOtherAndShowTheirSteps) {
    const Json data = block(21, 21, [](double x, double y) { return std::hypot(x - 10, y - 10); });
    const Laid l = laid(
        data, Json::object(),
        with(with(axes(),
                  {{"kind", "filled-contours"}, {"source", "f"}, {"settings", {{"level-list", {2, 4, 8}}}}}),
             {{"kind", "colour-bar"}}));
    const auto layers = drawnBy<draw::Path>(l, "filled-contours");
    ASSERT_EQ(layers.size(), 4U) << "all, above 2, above 4, above 8";
    const auto areaOf = [](const draw::Path& p) {
        double area = 0;
        for (const draw::Polyline& ring : p.lines)
            for (std::size_t k = 0; k < ring.points.size(); ++k) {
                const draw::Point a = ring.points[k], b = ring.points[(k + 1) % ring.points.size()];
                area += (a.x * b.y - b.x * a.y) / 2;
            }
        return std::abs(area);
    };
    const draw::Rect area = l.layout.panels[0].area;
    EXPECT_NEAR(areaOf(layers[0]), area.width * area.height, 1e-6);
    const double unit = area.width * area.height / 400;
    EXPECT_NEAR(areaOf(layers[2]) / unit, 400 - M_PI * 16, 1.0);
    for (std::size_t k = 1; k < 4; ++k) EXPECT_NE(layers[k].fill, layers[k - 1].fill);
}

TEST(Diagrams, ContourNumbersReadUprightInGaps) {
    const Json data = block(31, 31, [](double x, double y) { return std::hypot(x - 15, y - 15); });
    const Laid l = laid(
        data, Json::object(),
        with(axes(), {{"kind", "contour-lines"}, {"source", "f"}, {"settings", {{"level-list", {6, 12}}}}}));
    const auto texts = drawnBy<draw::TextRun>(l, "contour-lines");
    ASSERT_GE(texts.size(), 2U);
    for (const draw::TextRun& t : texts) {
        EXPECT_GT(t.angleDeg, -90.001);
        EXPECT_LE(t.angleDeg, 90.001);
        EXPECT_TRUE(t.text == "6" || t.text == "12" || t.text == "1" || t.text == "2") << t.text;
    }
    // No line runs through a number.
    for (const draw::Path& p : drawnBy<draw::Path>(l, "contour-lines"))
        for (const draw::Polyline& line : p.lines)
            for (const draw::Point& at : line.points)
                for (const draw::TextRun& t : texts)
                    EXPECT_GT(std::hypot(at.x - t.origin.x, at.y - t.origin.y), 0.2);
}

// Arrows begin where they shall, point as the vectors do and are as long.
TEST(Diagrams, ArrowsPointAsTheVectorsDo) {
    const Json data = {
        {"v",
         {{"as", "vectors"},
          {"columns", {{"x", {0, 1, 2}}, {"y", {0, 1, 0}}, {"u", {1, 0, -2}}, {"v", {0, 1, 2}}}}}}};
    const Laid l = laid(data, Json::object(),
                        with(axes(), {{"kind", "arrows"},
                                      {"source", "v"},
                                      {"settings", {{"at", "tail"}, {"per-unit", 5}, {"spacing", 0}}}}));
    const auto paths = drawnBy<draw::Path>(l, "arrows");
    const PanelGeometry& g = l.layout.panels[0];
    std::vector<draw::Polyline> shafts, heads;
    for (const draw::Path& p : paths)
        (p.fill ? heads : shafts).insert((p.fill ? heads : shafts).end(), p.lines.begin(), p.lines.end());
    ASSERT_EQ(heads.size(), 3U);
    const double x[] = {0, 1, 2}, y[] = {0, 1, 0}, u[] = {1, 0, -2}, v[] = {0, 1, 2};
    for (std::size_t k = 0; k < 3; ++k) {
        EXPECT_NEAR(shafts[k].points[0].x, g.x.place(x[k]), 1e-9);
        EXPECT_NEAR(shafts[k].points[0].y, g.y.place(y[k]), 1e-9);
        EXPECT_NEAR(heads[k].points[0].x - g.x.place(x[k]), 5 * u[k], 1e-9);
        EXPECT_NEAR(heads[k].points[0].y - g.y.place(y[k]), -5 * v[k], 1e-9);
    }
}

// Fields of data without much in them: a sentence or an empty panel, never an end.
TEST(Diagrams, FieldsOfLittleDataAreTold) {
    for (const char* kind : {"colour-map", "contour-lines", "filled-contours", "places", "arrows"})
        for (const Json& columns : {Json{{"x", Json::array()}, {"y", Json::array()}, {"z", Json::array()}},
                                    Json{{"x", {1}}, {"y", {1}}, {"z", {1}}},
                                    Json{{"x", {1, 2, 3}}, {"y", {1, 2, 3}}, {"z", {1, 1, 1}}},
                                    Json{{"x", {1, 2, 1, 2}}, {"y", {1, 1, 2, 2}}, {"z", {5, 5, 5, 5}}},
                                    Json{{"x", {1, 2, 1, 2, 1.5}},
                                         {"y", {1, 1, 2, 2, 1.4}},
                                         {"z", {nullptr, nullptr, nullptr, nullptr, 3}}}}) {
            const Json data = {{"f",
                                {{"as", "surface"},
                                 {"places", {{"x", "x"}, {"y", "y"}, {"z", "z"}}},
                                 {"columns", columns}}}};
            const Laid l = laid(data, Json::object(), with(axes(), {{"kind", kind}, {"source", "f"}}));
            EXPECT_FALSE(l.layout.panels.empty()) << kind << columns;
        }
}

// Corners of patterns lie as far from the middle as the charges of their ions; the first sample is at the
// top.
TEST(Diagrams, IonPatternsAreAsWideAsTheirIons) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> amount(0.2, 9);
    constexpr std::size_t n = 12;
    std::vector<double> ions[6];
    for (std::size_t k = 0; k < n; ++k) {
        for (auto& ion : ions) ion.push_back(amount(random));
        const double cations = ions[0][k] + ions[1][k] + ions[2][k]; // they balance
        const double anions = ions[3][k] + ions[4][k] + ions[5][k];
        for (std::size_t i = 3; i < 6; ++i) ions[i][k] *= cations / anions;
    }
    ions[5][4] *= 3; // but for one
    const Laid l = laid(waters(ions[0], ions[1], ions[2], ions[3], ions[4], ions[5]), Json::object(),
                        with(axes(), {{"kind", "ion-patterns"}, {"source", "springs"}}));
    EXPECT_TRUE(l.layout.issues.empty()) << l.layout.issues.front().text;
    const PanelGeometry& g = l.layout.panels.at(0);
    std::vector<draw::Path> patterns;
    for (const draw::Path& p : drawnBy<draw::Path>(l, "ion-patterns"))
        if (p.fill) patterns.push_back(p);
    ASSERT_EQ(patterns.size(), n);
    std::ranges::sort(patterns, {}, [](const draw::Path& p) { return p.lines[0].points[0].y; });
    for (std::size_t k = 0; k < n; ++k) {
        const auto& at = patterns[k].lines[0].points;
        ASSERT_EQ(at.size(), 6U);
        const std::size_t order[] = {2, 0, 1, 4, 5, 3}; // Na + K, Ca, Mg at the left; SO4, HCO3, Cl upwards
        for (std::size_t c = 0; c < 6; ++c)
            EXPECT_NEAR(g.x.value(at[c].x), (c < 3 ? -1 : 1) * ions[order[c]][k], 1e-9) << k << " " << c;
        EXPECT_NEAR(g.y.value(at[1].y), static_cast<double>(n - k), 1e-9);
        EXPECT_EQ(patterns[k].stroke->dashMm.empty(), k != 4) << "what does not balance is dashed";
    }
    for (const draw::TextRun& t : allOf<draw::TextRun>(l.layout.list.items))
        EXPECT_FALSE(t.text.starts_with("−") || t.text.starts_with("-"))
            << "amounts to both sides have no sign";
    EXPECT_TRUE(l.layout.marks.at(0).samples) << "they are told under the pointer";
    const Laid wrong = laid(waters({1}, {1}, {1}, {1}, {1}, {1}), {{"coordinates", "waters"}},
                            Json::array({{{"kind", "ion-patterns"}, {"source", "springs"}}}));
    EXPECT_THAT(codesOf(wrong), Contains("not-placed"));
}

TEST(Diagrams, IonPatternsStandOnAMap) {
    Json data = waters({1, 2}, {1, 1}, {1, 1}, {1, 2}, {1, 1}, {1, 1});
    data["springs"]["columns"]["East"] = {10, 30};
    data["springs"]["columns"]["North"] = {5, 25};
    const Laid l = laid(data, Json::object(),
                        with(axes(), {{"kind", "ion-patterns"},
                                      {"source", "springs"},
                                      {"settings",
                                       {{"stand", "map"},
                                        {"map-x", "East"},
                                        {"map-y", "North"},
                                        {"per-unit", 3},
                                        {"pattern-height", 5}}}}));
    const PanelGeometry& g = l.layout.panels.at(0);
    std::size_t found = 0;
    for (const draw::Path& p : drawnBy<draw::Path>(l, "ion-patterns")) {
        if (!p.fill) continue;
        const auto& at = p.lines[0].points;
        const bool first = std::abs(at[1].y - g.y.place(5)) < 1e-9;
        EXPECT_NEAR(at[1].x, g.x.place(first ? 10 : 30) - 3 * (first ? 1 : 2), 1e-9);
        EXPECT_NEAR(at[2].y - at[0].y, 5, 1e-9);
        ++found;
    }
    EXPECT_EQ(found, 2U);
}

namespace {

// The parts of all places that the contour lines of a ternary panel go through.
std::vector<std::array<double, 3>> partsOfLines(const Laid& l, const Triangle& triangle) {
    const PanelGeometry& g = l.layout.panels.at(0);
    std::vector<std::array<double, 3>> out;
    for (const draw::Path& p : drawnBy<draw::Path>(l, "contour-lines"))
        for (const draw::Polyline& line : p.lines)
            for (const draw::Point& at : line.points)
                out.push_back(triangle.parts({g.x.value(at.x), g.y.value(at.y)}));
    return out;
}

} // namespace

// A value that is linear in the parts has straight contours where the parts say so; also where enlarged.
TEST(Diagrams, ContoursInATriangleLieWhereThePartsSay) {
    std::mt19937 random(11);
    std::exponential_distribution<double> amount;
    Json a = Json::array({1, 0, 0}), b = Json::array({0, 1, 0}), c = Json::array({0, 0, 1}),
         z = Json::array({2, 7, 3});
    for (int k = 0; k < 120; ++k) {
        const double p[] = {amount(random), amount(random), amount(random)}, sum = p[0] + p[1] + p[2];
        a.push_back(p[0]);
        b.push_back(p[1]);
        c.push_back(p[2]);
        z.push_back((2 * p[0] + 7 * p[1] + 3 * p[2]) / sum);
    }
    const Json data = {{"mixtures",
                        {{"as", "composition"},
                         {"places", {{"A", "A"}, {"B", "B"}, {"C", "C"}, {"value", "z"}}},
                         {"columns", {{"A", a}, {"B", b}, {"C", c}, {"z", z}}}}}};
    const Json mark = {{"kind", "contour-lines"},
                       {"source", "mixtures"},
                       {"settings", {{"level-list", {4}}, {"labels", false}}}};
    for (const double least : {0.0, 30.0}) {
        const Laid l = laid(data, {{"coordinates", "ternary"}, {"least-a", least}}, Json::array({mark}));
        const auto parts = partsOfLines(l, Triangle({least / 100, 0, 0}));
        ASSERT_GE(parts.size(), 2U);
        for (const auto& p : parts) EXPECT_NEAR(2 * p[0] + 7 * p[1] + 3 * p[2], 4, 1e-6);
        for (const char* kind : {"filled-contours", "colour-map"})
            EXPECT_TRUE(laid(data, {{"coordinates", "ternary"}, {"least-a", least}},
                             Json::array({{{"kind", kind}, {"source", "mixtures"}}}))
                            .layout.issues.empty());
    }
    const Laid elsewhere = laid(data, Json::object(), with(axes(), mark));
    EXPECT_THAT(codesOf(elsewhere), Contains("not-placed"));
    Json bare = data;
    bare["mixtures"]["places"].erase("value");
    EXPECT_THAT(codesOf(laid(bare, {{"coordinates", "ternary"}}, Json::array({mark}))), Contains("no-field"));
}

// A function in a triangle takes the per cent of the first and of the second part.
TEST(Diagrams, FunctionsStandInATriangle) {
    const Json data = {
        {"f",
         {{"as", "plane"},
          {"settings", {{"expression", "x+2*y"}, {"x-range", {0, 100}}, {"y-range", {0, 100}}}}}}};
    const Json mark = {
        {"kind", "contour-lines"}, {"source", "f"}, {"settings", {{"level-list", {60}}, {"labels", false}}}};
    const Laid l = laid(data, {{"coordinates", "ternary"}}, Json::array({mark}));
    const auto parts = partsOfLines(l, Triangle());
    ASSERT_GE(parts.size(), 2U);
    double lowest = 1, highest = 0;
    for (const auto& p : parts) {
        EXPECT_NEAR(100 * p[0] + 200 * p[1], 60, 1e-6);
        lowest = std::min(lowest, p[1]);
        highest = std::max(highest, p[1]);
    }
    EXPECT_NEAR(lowest, 0, 5e-3) << "from edge to edge";
    EXPECT_NEAR(highest, 0.3, 5e-3);
    EXPECT_THAT(codesOf(laid(data, {{"coordinates", "waters"}}, Json::array({mark}))),
                Contains("not-placed"));
}

// Lines lead from points to the surface of the panel; what lies behind it is faint or hidden.
TEST(Diagrams, PointsInSpaceHaveTheirResiduals) {
    const Json data = {
        {"f", {{"as", "plane"}, {"settings", {{"expression", "0.5*x"}}}}},
        {"p",
         {{"as", "surface"},
          {"places", {{"x", "x"}, {"y", "y"}, {"z", "z"}}},
          {"columns", {{"x", {-0.5, 0.3, 0.7}}, {"y", {0.2, 0.4, 0.1}}, {"z", {0.4, -0.1, 0.6}}}}}}};
    const auto shown = [&](const char* behind) {
        return laid(data, {{"coordinates", "relief"}, {"elevation", 50}},
                    Json::array({{{"kind", "relief-surface"}, {"source", "f"}},
                                 {{"kind", "relief-points"},
                                  {"source", "p"},
                                  {"settings", {{"behind", behind}, {"fill", "filled"}}}}}));
    };
    const Laid l = shown("faint");
    EXPECT_TRUE(l.layout.issues.empty()) << l.layout.issues.front().text;
    const PanelGeometry& g = l.layout.panels.at(0);
    const auto* relief = dynamic_cast<const Relief*>(g.projection.get());
    ASSERT_TRUE(relief);
    const double x[] = {-0.5, 0.3, 0.7}, y[] = {0.2, 0.4, 0.1};
    std::size_t lines = 0, faint = 0;
    for (const draw::Path& p : drawnBy<draw::Path>(l, "relief-points"))
        for (const draw::Polyline& line : p.lines) {
            ++lines;
            faint += p.stroke->colour.a < 255;
            bool leads = false;
            for (std::size_t k = 0; k < 3; ++k) {
                const draw::Point foot = relief->place(x[k], y[k], 0.5 * x[k]);
                leads |= std::hypot(g.x.place(foot.x) - line.points[1].x,
                                    g.y.place(foot.y) - line.points[1].y) < 1e-6;
            }
            EXPECT_TRUE(leads);
        }
    EXPECT_EQ(lines, 3U);
    EXPECT_EQ(faint, 1U) << "the one below the surface";
    std::size_t hidden = 0;
    for (const draw::Symbols& s : drawnBy<draw::Symbols>(shown("hidden"), "relief-points"))
        hidden += s.places.size();
    EXPECT_EQ(hidden, 2U);
}

// Whether a place is behind a surface, against a walk in steps a thousand times as fine; random surfaces.
TEST(Diagrams, WhatASurfaceHidesIsHidden) {
    std::mt19937 random(19);
    std::uniform_real_distribution<double> share(0, 1);
    std::size_t compared = 0, differing = 0;
    for (int surface = 0; surface < 40; ++surface) {
        fields::Field f;
        for (int k = 0; k <= 12; ++k) f.x.push_back(k), f.y.push_back(0.5 * k);
        for (std::size_t k = 0; k < 169; ++k) f.z.push_back(share(random));
        const Relief relief(
            {0, 12}, {0, 6}, {-0.2, 1.2},
            {.azimuthDeg = 360 * share(random) - 180, .elevationDeg = 5 + 80 * share(random)});
        for (int k = 0; k < 25; ++k) {
            const double x = 12 * share(random), y = 6 * share(random), z = 1.4 * share(random) - 0.2;
            // Towards the reader all places have one place in the picture: found from that alone.
            const double dx = 0.01, dy = 0.005;
            const draw::Point at = relief.place(x, y, z);
            const draw::Point alongX = relief.place(x + dx, y, z), alongY = relief.place(x, y + dy, z),
                              alongZ = relief.place(x, y, z + 0.001);
            const double ax = (alongX.x - at.x) / dx, ay = (alongY.x - at.x) / dy;
            const double bx = (alongX.y - at.y) / dx, by = (alongY.y - at.y) / dy,
                         bz = (alongZ.y - at.y) / 0.001;
            // ax·tx + ay·ty = 0, bx·tx + by·ty + bz·tz = 0, tz > 0 (one looks down)
            double tx = ay, ty = -ax, tz = -(bx * tx + by * ty) / bz;
            if (tz < 0) tx = -tx, ty = -ty, tz = -tz;
            int side = 0;
            bool behind = false;
            for (double t = 0; !behind; t += 2e-4) {
                const double there = fields::valueAt(f, x + t * tx, y + t * ty);
                if (!std::isfinite(there)) break;
                const int now = z + t * tz > there ? 1 : -1;
                behind = side != 0 && now != side;
                side = now;
            }
            ++compared;
            differing += behind != relief.isBehind(f, x, y, z);
        }
    }
    EXPECT_EQ(compared, 1000U);
    EXPECT_LE(differing, 5U) << "only where a ray grazes the surface";
}
