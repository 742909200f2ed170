// SPDX-License-Identifier: GPL-3.0-or-later
// Whole tasks in the Figure stage with their actions counted: a click, a drag, a typed field or a chosen
// entry each.
#include "base/text.h"
#include "support/drawn.h"
#include "window/desk.h"

#include <QCheckBox>
#include <QFile>
#include <cmath>

using namespace jointer;
using namespace jointer::test;

namespace {

double gauss(double x, double centre, double width) {
    return std::exp(-std::pow((x - centre) / width, 2));
}

// A spectrum as another program leaves it: what was measured, its fit and the two peaks of it.
QString writeSpectrum(const QTemporaryDir& folder, const QString& name, double height) {
    const QString path = folder.filePath(name);
    std::ofstream out(path.toStdString());
    out << "Shift (cm-1),Counts,Fit,Component 1,Component 2\n";
    for (int i = 0; i <= 120; ++i) {
        const double x = 650 + i, one = height * gauss(x, 700, 12), two = 0.6 * height * gauss(x, 725, 15);
        out << x << ',' << 10 + one + two + 0.02 * height * std::sin(7.0 * i) << ',' << 10 + one + two << ','
            << one << ',' << two << '\n';
    }
    return path;
}

bool says(const figure::Layout& l, std::string_view words) {
    std::string all;
    for (const draw::TextRun& run : itemsOf<draw::TextRun>(l.list.items)) all += run.text + " ";
    return all.find(words) != std::string::npos;
}

} // namespace

TEST(FigureTask, ThreeFilesOfFiveColumnsToAStaggeredPdf) {
    Desk k;
    QStringList paths;
    for (const auto& [name, height] : {std::pair("shell_7d.csv", 90.0), std::pair("shell_28d.csv", 140.0),
                                       std::pair("shell_90d.csv", 200.0)})
        paths << writeSpectrum(k.folder, name, height);
    k.d.drop(paths);
    k.d.click(k.d.window.data()->import(), "Import");
    ASSERT_EQ(k.project().datasets.size(), 3U);
    k.d.stage("Figure");
    k.actions = 3; // the files dropped, imported; to the figures
    std::vector<std::string> names;
    for (const auto& each : k.project().datasets) names.push_back(each->name);
    k.datasets(names);
    k.newFigure();
    k.drawAs("All of them"); // the fit and the components that came with the files
    k.arrange("Stagger the curves");
    k.arrange("Label the curves");
    const QString pdf = k.folder.filePath("figure.pdf");
    k.d.window.exportTo(pdf);
    k.actions += 2; // Ctrl+E, and Return in the dialog
    EXPECT_TRUE(QTest::qWaitFor([&] { return k.d.said().contains("Wrote"); }, 20000));
    EXPECT_LT(k.actions, 25) << k.actions;

    ASSERT_EQ(countOf(k.figure(), "group"), 1U);
    const Element* group = k.first("group");
    std::vector<std::string> kinds, companions;
    for (const Element& e : group->children) {
        kinds.push_back(e.kind);
        companions.push_back(e.settings.text("companion"));
    }
    EXPECT_THAT(kinds, testing::ElementsAre("points", "line", "area", "area"));
    EXPECT_THAT(companions, testing::ElementsAre("", "Fit", "Component 1", "Component 2"));
    const figure::Layout l = k.layout();
    EXPECT_TRUE(l.issues.empty()) << l.issues[0].text;
    EXPECT_EQ(l.marks.size(), 12U);
    for (const std::string& name : names) EXPECT_TRUE(says(l, name)) << name;
    // Each curve begins above the highest of the one before: what belongs to one dataset moves together.
    std::map<DatasetId, std::pair<double, double>> reach; // top, bottom on the page
    for (const draw::Item& item : l.list.items) {
        const auto* drawn = std::get_if<draw::Group>(&item.what);
        if (!item.of || !drawn) continue;
        for (const draw::Item& inner : drawn->items)
            if (const auto* symbols = std::get_if<draw::Symbols>(&inner.what))
                for (const draw::Point& at : symbols->places) {
                    auto& [top, bottom] = reach.try_emplace(item.of, 1e9, -1e9).first->second;
                    top = std::min(top, at.y);
                    bottom = std::max(bottom, at.y);
                }
    }
    ASSERT_EQ(reach.size(), 3U);
    const auto &lowest = reach[k.project().datasets[0].id], &highest = reach[k.project().datasets[2].id];
    EXPECT_LT(highest.first, lowest.first);
    QFile file(pdf);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().contains("240.94")) << "85 mm in points";
}

TEST(FigureTask, ASeriesWithTwoAxesThenInThreeLanesWithALegend) {
    Desk k(material());
    k.datasets({"Oxygen"});
    k.newFigure();
    const QRectF area = k.area();
    k.drop("Temperature", {area.right() - 4, area.center().y()});
    ASSERT_TRUE(k.axis("right"));
    EXPECT_EQ(k.layout().panels[0].axes.size(), 3U);
    EXPECT_LT(k.actions, 10);
    // Then as lanes.
    k.datasets({"Oxygen"});
    k.newFigure();
    for (const char* name : {"Temperature", "Level"}) {
        const QRectF now = k.area();
        k.drop(name, {now.center().x(), now.top() + 4});
    }
    EXPECT_TRUE(k.axis("left", 1) && k.axis("right", 2) && k.axis("left", 3));
    k.select(k.first("legend")->id);
    k.choose("where", "below");
    EXPECT_LT(k.actions, 25);
    const figure::Layout l = k.layout();
    EXPECT_TRUE(l.issues.empty()) << l.issues[0].text;
    EXPECT_TRUE(says(l, "Oxygen") && says(l, "Temperature") && says(l, "Level"));
}

TEST(FigureTask, TwoSeriesAsBoldLinesInAFullFrame) {
    Desk k(material());
    k.datasets({"0.5 m", "12 m"});
    k.drawAs("Line"); // there is no figure yet: it begins with them
    k.type("width", "2");
    k.arrange("Open frame");
    k.arrange("Full frame");
    EXPECT_LT(k.actions, 12) << k.actions;
    const figure::Layout l = k.layout();
    std::size_t bold = 0;
    for (const draw::Item& item : l.list.items)
        if (const auto* group = std::get_if<draw::Group>(&item.what); group && item.element == k.selected())
            for (const draw::Item& inner : group->items)
                if (const auto* path = std::get_if<draw::Path>(&inner.what); path && path->stroke)
                    bold += std::abs(path->stroke->widthMm - 2 * draw::kMmPerPt) < 1e-9;
    EXPECT_EQ(bold, 2U);
    for (const Element& e : k.panel().children) EXPECT_FALSE(e.kind == "axis" && e.settings.has("opposite"));
}

TEST(FigureTask, ASecondaryAxisByFormulaWithErrorBarsAndItsOwnTicks) {
    Desk k(material());
    k.datasets({"Growth rate"});
    k.newFigure();
    k.select(k.axis("bottom")->id);
    k.arrange("Second axis by formula");
    ASSERT_TRUE(k.axis("top"));
    k.select(k.axis("top")->id);
    k.type("name", "Temperature");
    k.type("unit", "°C");
    k.type("formula", "x - 273.15");
    k.type("count", "4");
    EXPECT_LT(k.actions, 15) << k.actions;
    const figure::Layout l = k.layout();
    const auto top = std::ranges::find(l.panels[0].axes, figure::Side::Top, &figure::AxisGeometry::side);
    ASSERT_NE(top, l.panels[0].axes.end());
    EXPECT_NEAR(top->map.low(), l.panels[0].x.low() - 273.15, 1e-9);
    EXPECT_TRUE(says(l, "Temperature"));
}

TEST(FigureTask, NamesWithBoxesWithAndWithoutOutliers) {
    Desk k(material());
    k.datasets({"Cells"});
    k.newFigure();
    EXPECT_EQ(countOf(k.figure(), "boxes"), 1U) << "the likeliest for lists in groups";
    k.d.click(k.d.window.figure(), "+ Panel");
    ++k.actions;
    EXPECT_EQ(countOf(k.figure(), "boxes"), 2U);
    const ElementId second = k.first("boxes", 1)->id;
    k.select(second);
    auto* box = k.field<QCheckBox>("outliers");
    ASSERT_TRUE(box);
    k.click(box, QPoint(8, box->height() / 2));
    EXPECT_FALSE(k.figure().find(second)->settings.flag("outliers", true));
    EXPECT_LT(k.actions, 12) << k.actions;
}

TEST(FigureTask, ABrokenAxisWithARangeOfDates) {
    Desk k(material());
    k.datasets({"Salinity"});
    k.newFigure();
    k.select(k.axis("bottom")->id);
    k.type("range-low", "2030-11-15");
    k.type("range-high", "2031-06-01");
    k.arrange("Break the axis");
    EXPECT_LT(k.actions, 10) << k.actions;
    const figure::AxisMap x = k.layout().panels[0].x;
    ASSERT_TRUE(x.isBroken()) << "the season without measurements is left out";
    EXPECT_TRUE(k.layout().issues.empty()) << k.layout().issues[0].text;
    EXPECT_EQ(x.low(), *parseIsoTime("2030-11-15"));
    EXPECT_EQ(x.high(), *parseIsoTime("2031-06-01"));
    // Its form tells the break as dates, and takes them.
    auto fieldOf = [&](const QString& name) -> QLineEdit* {
        for (QLineEdit* f : k.d.window.figure()->findChildren<QLineEdit*>())
            if (f->accessibleName() == name) return f;
        ADD_FAILURE() << name.toStdString();
        return nullptr;
    };
    (void)k.field<QWidget>("breaks");
    QLineEdit* from = fieldOf("Left out 1: from");
    ASSERT_TRUE(from);
    EXPECT_TRUE(from->text().startsWith("203")) << from->text().toStdString();
    from->setFocus();
    from->selectAll();
    QTest::keyClicks(from, "2030-12-10");
    QTest::keyClick(from, Qt::Key_Return);
    k.d.settle();
    EXPECT_EQ(k.layout().panels[0].x.pieces()[0].high, *parseIsoTime("2030-12-10"));
    // The gap is dragged: one part grows, the other gives.
    k.page()->setFocus();
    const auto lengthOf = [&](std::size_t part) {
        const figure::Piece& p = k.layout().panels[0].x.pieces()[part];
        return p.end - p.start;
    };
    const double first = lengthOf(0), second = lengthOf(1);
    const QPointF gap = k.grip(figure::Grip::Gap);
    k.drag(gap, gap + QPointF(30, 0));
    EXPECT_GT(lengthOf(0), first + 3);
    EXPECT_NEAR(lengthOf(0) + lengthOf(1), first + second, 1e-6);
    // So is its end: the value under the pointer is the last before it.
    const double before = k.layout().panels[0].x.pieces()[0].high;
    const QPointF end = k.grip(figure::Grip::BreakFrom);
    k.drag(end, end - QPointF(20, 0));
    EXPECT_LT(k.layout().panels[0].x.pieces()[0].high, before);
    ASSERT_TRUE(k.layout().panels[0].x.isBroken());
}
