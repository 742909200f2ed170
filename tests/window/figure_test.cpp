// SPDX-License-Identifier: GPL-3.0-or-later
// The Figure stage by mouse and keys: what is selected, dragged, dropped, arranged; and whole tasks with
// their actions counted, a click, a drag, a typed field or a chosen entry each.
#include "app/panes/dataset_list.h"
#include "app/panes/mark_picker.h"
#include "figure/actions.h"
#include "figure/layout.h"
#include "figures.h"
#include "paint/painter.h"
#include "project/project_file.h"
#include "session/export.h"
#include "window/driver.h"

#include <QCheckBox>
#include <QListWidget>
#include <QToolButton>
#include <QWheelEvent>

using namespace jointer;
using namespace jointer::test;

namespace {

// The window with a project, in its Figure stage; counts what a person does.
class Desk {
public:
    Driver d;
    int actions = 0;

    explicit Desk(const Project& project) {
        folder_.isValid();
        path_ = folder_.filePath("p.jointer");
        EXPECT_TRUE(saveProject(project, {}, path_.toStdString()).has_value());
        d.window.openPath(path_);
        d.settle();
        d.stage("Figure");
        actions = 0;
    }
    PageView* page() { return d.window.figure()->page(); }
    const Project& project() { return d.project(); }
    const Figure& figure() { return *project().figures.find(d.window.document().figure()); }
    figure::Layout layout() {
        return figure::layOut(project(), figure(), d.window.document().session().evaluator());
    }

    void newFigure() {
        d.find("new figure");
        ++actions;
    }
    void datasets(const std::vector<std::string>& names) { // one click each, with Ctrl after the first
        auto* list = d.window.findChild<DatasetList*>()->list();
        bool first = true;
        for (const std::string& name : names)
            for (int i = 0; i < list->count(); ++i) {
                if (list->item(i)->text().toStdString() != name) continue;
                list->scrollToItem(list->item(i));
                QTest::mouseClick(list->viewport(), Qt::LeftButton,
                                  first ? Qt::NoModifier : Qt::ControlModifier,
                                  list->visualItemRect(list->item(i)).center());
                first = false;
                ++actions;
            }
        d.settle();
    }
    void drawAs(const char* kind) { // open the pictures, click one
        d.click(d.window.figure(), "+ Draw");
        QToolButton* choice = nullptr;
        for (MarkPicker* picker : d.window.findChildren<MarkPicker*>())
            for (QToolButton* b : picker->findChildren<QToolButton*>())
                if (b->text() == kind && !choice) choice = b;
        ASSERT_TRUE(choice) << kind;
        QTest::mouseClick(choice, Qt::LeftButton);
        d.settle();
        actions += 2;
    }
    void act(const char* key) { // Arrange, then the entry
        d.window.figure()->act(key);
        d.settle();
        actions += 2;
    }
    void select(ElementId id) {
        d.window.document().selectElement(id);
        d.settle();
        ++actions;
    }
    const Element* axis(const char* side, int lane = 0) {
        for (const Element& e : figure().elements[0].children)
            if (e.kind == "axis" && e.settings.text("side", "bottom") == side &&
                e.settings.integer("lane") == lane)
                return &e;
        return nullptr;
    }
    void type(const char* field, const char* words) {
        d.window.figure()->focusSetting(d.window.document().element(), field);
        d.type(d.window.figure(), field, words);
        ++actions;
    }
    void choose(const char* field, const char* key) {
        d.window.figure()->focusSetting(d.window.document().element(), field);
        d.choose(d.window.figure(), field, key);
        ++actions;
    }
    void drop(const std::string& dataset, QPointF at) { // one drag
        QMimeData mime;
        for (const auto& each : project().datasets)
            if (each->name == dataset) mime.setData(kDatasetMime, QByteArray::fromStdString(each->id.text()));
        QDragEnterEvent enter(at.toPoint(), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(page(), &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDragMoveEvent move(at.toPoint(), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(page(), &move);
        QDropEvent dropped(at, Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(page(), &dropped);
        d.settle();
        ++actions;
    }
    QRectF area(std::size_t panel = 0) {
        const draw::Rect a = page()->layoutShown().panels[panel].area;
        return {page()->toPixels({a.x, a.y}), page()->toPixels({a.right(), a.bottom()})};
    }
    void drag(QPointF from, QPointF to) {
        QTest::mousePress(page(), Qt::LeftButton, {}, from.toPoint());
        for (int k = 1; k <= 4; ++k) QTest::mouseMove(page(), (from + (to - from) * k / 4).toPoint());
        QTest::mouseRelease(page(), Qt::LeftButton, {}, to.toPoint());
        d.settle();
        ++actions;
    }

private:
    QTemporaryDir folder_;
    QString path_;
};

// The second demo without its figures.
Project material() {
    static const Project all = [] {
        Project p = demo::figureDemo();
        p.figures = {};
        return p;
    }();
    return all;
}

std::size_t countOf(const Figure& f, const char* kind) {
    std::size_t n = 0;
    std::function<void(const std::vector<Element>&)> walk = [&](const std::vector<Element>& elements) {
        for (const Element& e : elements) {
            n += e.kind == kind;
            walk(e.children);
        }
    };
    walk(f.elements);
    return n;
}

} // namespace

TEST(FigureTask, ThreeSamplesStaggeredWithFitsComponentsAndLabels) {
    Desk k(material());
    k.datasets({"7 d", "28 d", "90 d"});
    k.newFigure();
    k.act("group");
    k.datasets({"7 d", "28 d", "90 d"});
    k.drawAs("Components");
    k.act("stagger");
    k.act("label");
    EXPECT_LT(k.actions, 25);
    EXPECT_GE(countOf(k.figure(), "group"), 1U);
    EXPECT_TRUE(k.layout().issues.empty()) << k.layout().issues[0].text;
    const auto pdf = [&] {
        paint::QtFigureWriter writer;
        return writer.bytes(k.layout().list, "pdf", {});
    }();
    ASSERT_TRUE(pdf);
    EXPECT_EQ(k.layout().list.widthMm, 85);
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
    for (const Element& e : k.figure().elements[0].children)
        if (e.kind == "legend") k.select(e.id);
    k.choose("where", "below");
    EXPECT_LT(k.actions, 25);
    EXPECT_GT(countOf(k.figure(), "legend"), 0U);
}

TEST(FigureTask, TwoSeriesAsBoldLinesInAFullFrame) {
    Desk k(material());
    k.datasets({"0.5 m"});
    k.newFigure();
    const Element mark = k.figure().elements[0].children[2];
    k.select(mark.id);
    QTest::keyClick(k.page(), Qt::Key_Delete);
    ++k.actions;
    for (const char* name : {"0.5 m", "12 m"}) {
        k.datasets({name});
        k.drawAs("Line");
        k.type("width", "2");
    }
    k.act("full-frame");
    EXPECT_LT(k.actions, 15);
    EXPECT_EQ(countOf(k.figure(), "line"), 2U);
}

TEST(FigureTask, ASecondaryAxisByFormulaWithErrorBarsAndItsOwnTicks) {
    Desk k(material());
    k.datasets({"Growth rate"});
    k.newFigure();
    k.select(k.axis("bottom")->id);
    k.act("second-axis");
    ASSERT_TRUE(k.axis("top"));
    k.select(k.axis("top")->id);
    k.type("name", "Temperature");
    k.type("unit", "°C");
    k.type("formula", "x - 273.15");
    k.type("count", "4");
    EXPECT_LT(k.actions, 15);
    const figure::Layout l = k.layout();
    const auto top = std::ranges::find(l.panels[0].axes, figure::Side::Top, &figure::AxisGeometry::side);
    ASSERT_NE(top, l.panels[0].axes.end());
    EXPECT_NEAR(top->map.low(), l.panels[0].x.low() - 273.15, 1e-9);
}

TEST(FigureTask, NamesWithBoxesWithAndWithoutOutliers) {
    Desk k(material());
    k.datasets({"Cells"});
    k.newFigure();
    EXPECT_EQ(countOf(k.figure(), "boxes"), 1U) << "the likeliest for lists in groups";
    k.act("panel");
    EXPECT_EQ(countOf(k.figure(), "boxes"), 2U);
    const Element second = k.figure().elements[1].children[2];
    k.select(second.id);
    k.d.window.figure()->focusSetting(second.id, "outliers");
    auto* box = k.d.window.figure()->findChild<QCheckBox*>("outliers");
    ASSERT_TRUE(box);
    QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
    k.d.settle();
    ++k.actions;
    EXPECT_FALSE(k.figure().find(second.id)->settings.flag("outliers", true));
    EXPECT_LT(k.actions, 12);
}

TEST(FigureTask, ABrokenAxisWithARangeOfDates) {
    Desk k(material());
    k.datasets({"Salinity"});
    k.newFigure();
    k.select(k.axis("bottom")->id);
    k.d.window.document().apply(
        figure::breakAxis(k.figure().id, k.axis("bottom")->id, 1921795200, 1935619200));
    k.d.settle();
    k.actions += 3; // "+", from, to
    EXPECT_TRUE(k.layout().panels[0].x.isBroken());
    EXPECT_LT(k.actions, 10);
}

TEST(FigurePage, AClickGoesDeeperAndADragMovesWithOneEntry) {
    Desk k(material());
    k.datasets({"90 d"});
    k.newFigure();
    const QPointF middle = k.area().center();
    const std::size_t before = k.d.entries();
    QTest::mouseClick(k.page(), Qt::LeftButton, {}, middle.toPoint());
    const ElementId first = k.d.window.document().element();
    EXPECT_TRUE(first);
    // The axis: its range goes along.
    const Element bottom = *k.axis("bottom");
    const QRectF region = k.page()->regionOf(bottom.id);
    QTest::mouseClick(k.page(), Qt::LeftButton, {}, region.center().toPoint());
    EXPECT_EQ(k.d.window.document().element(), bottom.id);
    const double low = k.layout().panels[0].x.low();
    k.drag(region.center(), region.center() + QPointF(40, 0));
    EXPECT_LT(k.layout().panels[0].x.low(), low);
    EXPECT_EQ(k.d.entries(), before + 1);
    k.d.click(&k.d.window, "Undo");
    EXPECT_NEAR(k.layout().panels[0].x.low(), low, 1e-9);
}

TEST(FigurePage, TheWheelOverAnAxisZoomsItAndThePageElsewhere) {
    Desk k(material());
    k.datasets({"90 d"});
    k.newFigure();
    const figure::Layout before = k.layout();
    const QPointF on = k.page()->regionOf(k.axis("bottom")->id).center();
    auto turn = [&](QPointF at) {
        QWheelEvent e(at, k.page()->mapToGlobal(at), {}, QPoint(0, 120), Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
        QApplication::sendEvent(k.page(), &e);
        k.d.settle();
    };
    turn(on);
    const figure::AxisMap &now = k.layout().panels[0].x, &was = before.panels[0].x;
    EXPECT_LT(now.high() - now.low(), was.high() - was.low());
    turn(k.area().center());
    EXPECT_GT(k.page()->zoom(), 0);
}

TEST(FigurePage, SeveralChangeTogetherAndLooksAreCopied) {
    Desk k(material());
    k.datasets({"7 d"});
    k.newFigure();
    k.datasets({"28 d"});
    k.drawAs("Points");
    std::vector<ElementId> points;
    for (const Element& e : k.figure().elements[0].children)
        if (e.kind == "points") points.push_back(e.id);
    ASSERT_EQ(points.size(), 2U);
    k.select(points[0]);
    k.d.window.document().toggleElement(points[1]);
    k.d.settle();
    k.type("size", "5.5");
    for (ElementId id : points) EXPECT_EQ(k.figure().find(id)->settings.number("size"), 5.5);
    k.select(points[0]);
    k.type("size", "2.5");
    k.d.click(k.d.window.figure(), "Copy look");
    k.select(points[1]);
    k.d.click(k.d.window.figure(), "Paste look");
    EXPECT_EQ(k.figure().find(points[1])->settings.number("size"), 2.5);
    // The dot gives it back.
    k.d.click(k.d.window.figure(), "Give back Size");
    EXPECT_FALSE(k.figure().find(points[1])->settings.has("size"));
}

TEST(FigurePage, ArrowsMoveByATenthAndTheEditorShowsItsMarkup) {
    Desk k(material());
    k.datasets({"90 d"});
    k.newFigure();
    k.d.click(k.d.window.figure(), "+ Note");
    const ElementId note = k.d.window.document().element();
    const double x = k.figure().find(note)->settings.number("x"), width = k.layout().panels[0].area.width;
    k.page()->setFocus();
    QTest::keyClick(k.page(), Qt::Key_Right, Qt::ShiftModifier);
    k.d.settle();
    EXPECT_NEAR(k.figure().find(note)->settings.number("x"), x + 1 / width, 1e-6);
    QTest::mouseDClick(k.page(), Qt::LeftButton, {}, k.page()->regionOf(note).center().toPoint());
    auto* editor = k.page()->findChild<QLineEdit*>();
    ASSERT_TRUE(editor->isVisible());
    editor->selectAll();
    QTest::keyClicks(editor, "x^{2}");
    k.d.settle();
    EXPECT_EQ(k.figure().find(note)->settings.text("text"), "x^{2}") << "shown while it is typed";
    QTest::keyClick(editor, Qt::Key_Return);
    EXPECT_FALSE(editor->isVisible());
}
