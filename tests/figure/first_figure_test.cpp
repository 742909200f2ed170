// SPDX-License-Identifier: GPL-3.0-or-later
// What a new figure begins with: points or lines, one axis for what is of one unit, lanes for what is not; and what the
// titles of axes say of several curves.
#include "figure/first_figure.h"

#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/log_axis.h"
#include "project/edit.h"
#include "session/import.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::figure;

namespace {

struct Quantity {
    const char *name, *unit;
};

// A table with these columns over x, a dataset for each.
struct Logged {
    Project p = newProject("x");
    evaluate::Evaluator evaluator;

    Logged(const std::vector<Quantity>& quantities, std::size_t rows) {
        Table t;
        t.id = p.newId<TableId>();
        t.name = "logger";
        std::vector<double> x(rows), y(rows);
        for (std::size_t i = 0; i < rows; ++i) x[i] = static_cast<double>(i), y[i] = std::sin(0.1 * x[i]);
        t.columns.push_back(numberColumn("hour", "h", x));
        t.columns.back().role = Role::X;
        for (const Quantity& q : quantities) {
            t.columns.push_back(numberColumn(q.name, q.unit, y));
            t.columns.back().role = Role::Y;
        }
        for (Column& c : t.columns) c.id = p.newId<ColumnId>();
        for (Dataset& d : datasetsFromTable(t, t.name, 0)) {
            d.id = p.newId<DatasetId>();
            p.datasets = p.datasets.with(std::move(d));
        }
        p.tables = p.tables.with(std::move(t));
    }
    std::vector<DatasetId> all() const {
        std::vector<DatasetId> ids;
        for (const auto& d : p.datasets) ids.push_back(d->id);
        return ids;
    }
    const Figure& make(const std::vector<DatasetId>& datasets) {
        auto after = addFigureOf(p, datasets, {}, evaluator).apply(p);
        EXPECT_TRUE(after) << after.error().text;
        p = std::move(*after);
        return p.figures[p.figures.size() - 1];
    }
    std::vector<std::string> titles(const Figure& f) {
        std::vector<std::string> out;
        const Layout l = layOut(p, f, evaluator);
        for (const AxisGeometry& a : l.panels[0].axes) {
            std::string words;
            for (const draw::Item& item : l.list.items)
                if (const auto* run = std::get_if<draw::TextRun>(&item.what);
                    run && item.element == a.axis && run->text.find_first_not_of("0123456789.\xE2\x88\x92-") != run->text.npos)
                    words += run->text;
            out.push_back(words);
        }
        return out;
    }
};

std::size_t count(const Figure& f, std::string_view kind) {
    std::size_t n = 0;
    for (const Element& e : f.elements[0].children) n += e.kind == kind;
    return n;
}

} // namespace

TEST(FirstFigure, OfOneUnitIsOneGroupOnOneAxis) {
    Logged l({{"North", "mg/L"}, {"South", "mg/L"}}, 40);
    const Figure& f = l.make(l.all());
    EXPECT_EQ(count(f, "group"), 1U);
    EXPECT_EQ(count(f, "axis"), 2U);
    EXPECT_THAT(l.titles(f)[1], testing::StrEq("North, South (mg/L)"));
}

TEST(FirstFigure, QuantitiesStandInLanes) {
    Logged l({{"Level", "cm"}, {"Temperature", "°C"}, {"Air", "°C"}, {"Salinity", "‰"}}, 40);
    const Figure& f = l.make(l.all());
    EXPECT_EQ(count(f, "axis"), 4U) << "x and three lanes";
    EXPECT_EQ(count(f, "points"), 2U);
    EXPECT_EQ(count(f, "group"), 1U) << "both temperatures share a lane";
    EXPECT_GE(pageOf(l.p, f).height, 90);
    const auto titles = l.titles(f);
    EXPECT_THAT(titles, testing::IsSupersetOf({std::string("Level (cm)"), std::string("Temperature, Air (°C)"),
                                               std::string("Salinity (‰)")}));
    EXPECT_TRUE(layOut(l.p, f, l.evaluator).issues.empty());
}

TEST(FirstFigure, MoreQuantitiesThanLanesShareAnAxis) {
    Logged l({{"a", "m"}, {"b", "s"}, {"c", "kg"}, {"d", "A"}, {"e", "K"}}, 40);
    const Figure& f = l.make(l.all());
    EXPECT_EQ(count(f, "group"), 1U);
    EXPECT_EQ(count(f, "axis"), 2U);
}

TEST(FirstFigure, TwoUnitsOnOneAxisAreBothTold) {
    Logged l({{"Level", "cm"}, {"Flow", "L/s"}}, 40);
    Figure f = newFigure("F", l.p.styles[0].id, {groupOf(l.all(), {newMark("points", "")})});
    l.p = *edits::addFigure(f).apply(l.p);
    EXPECT_THAT(l.titles(l.p.figures[0])[1], testing::StrEq("Level (cm), Flow (L/s)"));
}

TEST(FirstFigure, DenseCurvesAreLines) {
    Logged few({{"Level", "cm"}}, 300), many({{"Level", "cm"}}, 3000);
    EXPECT_EQ(count(few.make(few.all()), "points"), 1U);
    EXPECT_EQ(count(many.make(many.all()), "line"), 1U);
}

TEST(FirstFigure, NothingSelectedIsAnEmptyPanelAndNoStyleIsSaid) {
    Logged l({{"Level", "cm"}}, 10);
    EXPECT_EQ(count(l.make({}), "points"), 0U);
    l.p.styles = {};
    const auto refused = addFigureOf(l.p, l.all(), {}, l.evaluator).apply(l.p);
    ASSERT_FALSE(refused);
    EXPECT_EQ(refused.error().code, "no-style");
}

// What was seen on logarithmic axes in Analyse is drawn on them.
TEST(FirstFigure, TakesTheScalesOfThePlot) {
    Logged log({{"level", "m"}, {"salinity", "psu"}}, 40);
    for (const auto& [x, y] : {std::pair(false, false), {true, false}, {false, true}, {true, true}}) {
        const auto after = addFigureOf(log.p, log.all(), {}, log.evaluator, {.x = x, .y = y}).apply(log.p);
        ASSERT_TRUE(after.has_value());
        for (const Element& e : after->figures[0].elements[0].children) {
            const std::string side = e.settings.text("side", "bottom"), scale = e.settings.text("scale");
            if (e.kind != "axis") continue;
            if (side == "bottom") {
                EXPECT_EQ(scale == "log", x);
            } else if (side == "left") {
                EXPECT_EQ(scale == "log", y);
            }
        }
    }
}

// A dose of zero keeps its place: the axis is linear as far as a quarter of the smallest dose.
TEST(FirstFigure, AZeroHasAPlaceOnTheLogarithmicAxis) {
    Logged log({{"level", "m"}}, 40); // hours from zero on
    const auto after = addFigureOf(log.p, log.all(), {}, log.evaluator, {.x = true}).apply(log.p);
    ASSERT_TRUE(after.has_value());
    const Figure& f = after->figures[0];
    for (const Element& e : f.elements[0].children)
        if (e.kind == "axis" && e.settings.text("side", "bottom") == "bottom") {
            EXPECT_DOUBLE_EQ(e.settings.number("linear-to"), 0.25);
        }
    const Layout l = layOut(*after, f, log.evaluator);
    EXPECT_TRUE(l.panels[0].x.contains(0));
    for (const Issue& issue : l.issues) EXPECT_NE(issue.code, "no-place") << issue.text;
}

TEST(FirstFigure, AxesWithoutAZeroAreWhollyLogarithmic) {
    EXPECT_TRUE(std::isnan(linearPart({})));
    EXPECT_TRUE(std::isnan(linearPart(std::vector{0.1, 1.0})));
    EXPECT_TRUE(std::isnan(linearPart(std::vector{-1.0, 0.0, 1.0})));
    EXPECT_TRUE(std::isnan(linearPart(std::vector{0.0, 0.0})));
    EXPECT_DOUBLE_EQ(linearPart(std::vector{0.0, 0.0, 0.2, 5.0}), 0.05);
}

// A line in the colour of a crowd of points could not be seen.
TEST(FirstFigure, ACurveOverACrowdIsBlack) {
    for (const auto& [rows, black] : {std::pair(40, false), {400, true}}) {
        Logged log({{"level", "m"}}, static_cast<std::size_t>(rows));
        Analysis line{.kind = "fit", .inputs = {{.dataset = log.all()[0]}}, .model = {.kind = "straight-line"}};
        log.p = *edits::addAnalysis(std::move(line)).apply(log.p);
        const auto after = addFigureOf(log.p, log.all(), log.p.analyses[0].id, log.evaluator).apply(log.p);
        ASSERT_TRUE(after.has_value());
        for (const Element& e : after->figures[0].elements[0].children)
            if (e.kind == "curve") {
                EXPECT_EQ(e.settings.text("colour") == "#000000", black) << rows;
            }
    }
}
