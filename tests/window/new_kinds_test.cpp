// SPDX-License-Identifier: GPL-3.0-or-later
// A mark and a scale that no part of the program knows by name are found wherever kinds are: in "+", in the
// form, in the check of files, in SVG, in the manual. They are added before anything else, as a program
// would.
#include "app/panes/mark_picker.h"
#include "describe/setting_makers.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/marks/mark.h"
#include "figure/marks/parts.h"
#include "figure/marks/sources.h"
#include "paint/painter.h"
#include "session/reference.h"
#include "session/validation.h"
#include "window/driver.h"

#include <QToolButton>

using namespace jointer;
using namespace jointer::test;

namespace {

// A hexagon at the middle of the data.
class Centre final : public figure::Mark {
public:
    std::shared_ptr<const Curve> curve;
    double size = 1;
    std::optional<figure::Range> extentX(const figure::Scale& x) const override {
        std::optional<figure::Range> range;
        for (double v : curve ? curve->x : std::vector<double>()) figure::widen(range, v, x);
        return range;
    }
    std::optional<figure::Range> extentY(const figure::Scale& y, const figure::Range&) const override {
        std::optional<figure::Range> range;
        for (double v : curve ? curve->y : std::vector<double>()) figure::widen(range, v, y);
        return range;
    }
    void draw(const figure::Frame& frame, draw::Group& into) const override {
        if (!curve || curve->size() == 0) return;
        const std::size_t middle = curve->size() / 2;
        into.items.push_back({element,
                              draw::Symbols{.shape = draw::SymbolShape::Hexagon,
                                            .sizeMm = size,
                                            .places = {frame.at(curve->x[middle], curve->y[middle])},
                                            .stroke = strokeOf(0.2),
                                            .fill = {}},
                              of});
    }
};

// Even in the cube root.
class CubeRoot final : public figure::Scale {
public:
    double forward(double v) const override { return std::cbrt(v); }
    double back(double place) const override { return place * place * place; }
    std::vector<figure::Tick> ticks(const figure::Range& range, const figure::TickWish& wish) const override {
        const double from = forward(range.low), length = forward(range.high) - from;
        return figure::roundTicks(range, wish, [&](double v) { return (forward(v) - from) / length; });
    }
};

const bool added = [] {
    figure::addMarkKind(
        {.info = {.key = "dummy-centre",
                  .name = "Dummy centre",
                  .purpose = "A hexagon at the middle of the data",
                  .settings = {describe::number("dummy-size", "Dummy size", 4, "Size of the hexagon.",
                                                {.unit = "mm", .lowest = 0, .highest = 50})}},
         .prepare = [](const figure::MarkTask& task) -> figure::MarkPtr {
             auto mark = std::make_unique<Centre>();
             const auto found = figure::foundCurve(task, mark->issues);
             figure::takeFrom(found, task, *mark);
             mark->curve = found.curve;
             mark->size = task.look.number("dummy-size");
             return mark;
         }});
    figure::addScaleKind(
        {.info = {.key = "dummy-root",
                  .name = "dummy root",
                  .purpose = "Even in the cube root",
                  .settings = {describe::flag("dummy-flag", "Dummy flag", false, "Does nothing.")}},
         .make = [](const figure::ScaleTask&) -> figure::ScalePtr { return std::make_shared<CubeRoot>(); }});
    return true;
}();

} // namespace

TEST(NewKinds, AreFoundWhereverKindsAre) {
    ASSERT_TRUE(added);
    Driver d;
    d.window.openPath("demo:");
    d.stage("Figure");
    // In "+": a click draws it, and its form is shown.
    d.click(d.window.figure(), "+ Draw");
    auto* picker = d.window.findChild<MarkPicker*>();
    ASSERT_TRUE(picker);
    QToolButton* offered = nullptr;
    for (QToolButton* b : picker->findChildren<QToolButton*>())
        if (b->text() == "Dummy centre") offered = b;
    ASSERT_TRUE(offered);
    QTest::mouseClick(offered, Qt::LeftButton);
    d.settle();
    const ElementId mark = d.window.document().element();
    const Figure f = *d.project().figures.find(d.window.document().figure());
    ASSERT_TRUE(f.find(mark));
    EXPECT_EQ(f.find(mark)->kind, "dummy-centre");
    d.type(d.window.figure(), "dummy-size", "7");
    EXPECT_EQ(d.project().figures.find(f.id)->find(mark)->settings.number("dummy-size"), 7);
    // The scale is offered on the axis, with its setting.
    const Element& axis = f.elements[0].children[0];
    d.window.figure()->focusSetting(axis.id, "scale");
    d.choose(d.window.figure(), "scale", "dummy-root");
    d.settle();
    EXPECT_EQ(d.project().figures.find(f.id)->find(axis.id)->settings.text("scale"), "dummy-root");
    EXPECT_TRUE(d.window.figure()->findChild<QWidget*>("dummy-flag"));
    // In files, SVG and the manual.
    Project p = d.project();
    p = *edits::setElement(f.id, mark, "dummy-size", Value(-3.0)).apply(p);
    const auto issues = dropUnfitSettings(p);
    EXPECT_TRUE(
        std::ranges::any_of(issues, [](const Issue& i) { return i.text.find("Dummy size") != i.text.npos; }));
    evaluate::Evaluator e;
    const auto layout = figure::layOut(p, *p.figures.find(f.id), e);
    EXPECT_TRUE(
        std::ranges::any_of(layout.list.items, [&](const draw::Item& i) { return i.element == mark; }));
    paint::QtFigureWriter writer;
    const auto svg = writer.bytes(layout.list, "svg", {}, "f");
    ASSERT_TRUE(svg);
    EXPECT_NE(svg->bytes.find("id=\"" + mark.text() + "\""), std::string::npos);
    const std::string manual = referenceText(writer.formats());
    EXPECT_NE(manual.find("`dummy-centre`"), manual.npos);
    EXPECT_NE(manual.find("`dummy-root`"), manual.npos);
    EXPECT_NE(manual.find("`dummy-flag`"), manual.npos);
}
