// SPDX-License-Identifier: GPL-3.0-or-later
// The page of the Figure stage by mouse and keys: what is selected, dragged, zoomed, edited in place.
#include "app/forms/text_completion.h"
#include "window/desk.h"

#include <QWheelEvent>

using namespace jointer;
using namespace jointer::test;

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
    k.d.window.document().selectElement(points[0]);
    k.d.window.document().toggleElement(points[1]);
    k.d.settle();
    k.type("size", "5.5");
    for (ElementId id : points) EXPECT_EQ(k.figure().find(id)->settings.number("size"), 5.5);
    k.d.window.document().selectElement(points[0]);
    k.type("size", "2.5");
    k.d.click(k.d.window.figure(), "Copy look");
    k.d.window.document().selectElement(points[1]);
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
    k.d.choose("Text");
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

// Signs are offered by their names and by what they mean, numbers by their beginning; Return takes the first.
TEST(FigurePage, TextIsCompletedWhileItIsTyped) {
    Desk k(material());
    k.datasets({"90 d"});
    k.newFigure();
    k.d.window.figure()->addNote("text");
    k.d.settle();
    const ElementId note = k.d.window.document().element();
    k.page()->editText(note);
    auto* editor = k.page()->findChild<QLineEdit*>();
    auto* completion = editor->findChild<TextCompletion*>();
    ASSERT_TRUE(completion);
    editor->selectAll();
    QTest::keyClicks(editor, "T (\\degr");
    EXPECT_TRUE(completion->isOpen());
    QTest::keyClick(QApplication::activePopupWidget() ? QApplication::activePopupWidget() : editor,
                    Qt::Key_Return);
    EXPECT_EQ(editor->text(), "T (\\degree");
    EXPECT_TRUE(editor->isVisible()) << "Return took the sign, and did not end the text";
    QTest::keyClicks(editor, " x \\wavel");
    QTest::keyClick(QApplication::activePopupWidget() ? QApplication::activePopupWidget() : editor,
                    Qt::Key_Return);
    EXPECT_EQ(editor->text(), "T (\\degree x \\lambda");
    QTest::keyClicks(editor, " {na");
    QTest::keyClick(QApplication::activePopupWidget() ? QApplication::activePopupWidget() : editor,
                    Qt::Key_Return);
    EXPECT_EQ(editor->text(), "T (\\degree x \\lambda {name}");
    k.d.settle();
    EXPECT_EQ(k.figure().find(note)->settings.text("text"), "T (\\degree x \\lambda {name}")
        << "and the figure has it";
    QTest::keyClicks(editor, " \\frac{a}{b}");
    EXPECT_FALSE(completion->isOpen()) << "braces of markup offer nothing";
}
