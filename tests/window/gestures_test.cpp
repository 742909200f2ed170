// SPDX-License-Identifier: GPL-3.0-or-later
// The gestures of the work plots, and forms made from descriptions.
#include "app/forms/number_text.h"
#include "app/forms/settings_form.h"
#include "driver.h"
#include "evaluate/mapping.h"
#include "evaluate/sources.h"
#include "evaluate/uncertainty.h"
#include "figure/kinds.h"
#include "io/reader.h"
#include "models/catalogue.h"
#include "steps/step.h"

#include <QCheckBox>
#include <QSlider>
#include <QWheelEvent>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

void wheel(Driver& d, QWidget* on, QPointF at, int delta) {
    QWheelEvent e(at, on->mapToGlobal(at), {}, {0, delta}, Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase,
                  false);
    QApplication::sendEvent(on, &e);
    d.settle();
}

struct Cleaning : Driver {
    Cleaning() {
        window.openPath("demo:");
        stage("Clean");
        plot = window.clean()->canvas();
    }
    const figure::PanelGeometry& shown() { return *plot->geometryShown(); }
    const Dataset& selected() { return *window.document().currentDataset(); }
    PlotCanvas* plot;
};

} // namespace

TEST(Gestures, TheWheelZoomsAboutThePointer) {
    Cleaning d;
    const auto before = d.shown();
    const QPointF at = d.plot->toPixels(700, 2000);
    wheel(d, d.plot, at, 240);
    EXPECT_LT(d.shown().x.high() - d.shown().x.low(), 0.8 * (before.x.high() - before.x.low()));
    EXPECT_LT(d.shown().y.high() - d.shown().y.low(), 0.8 * (before.y.high() - before.y.low()));
    EXPECT_NEAR(d.plot->toValues(at).x(), 700, 0.5) << "what is under the pointer stays there";
    EXPECT_NEAR(d.plot->toValues(at).y(), 2000, 20);
    QTest::mouseDClick(d.plot, Qt::LeftButton, {}, at.toPoint());
    d.settle();
    EXPECT_NEAR(d.shown().x.low(), before.x.low(), 1e-9);
    EXPECT_NEAR(d.shown().x.high(), before.x.high(), 1e-9);
}

TEST(Gestures, TheWheelOnAnAxisZoomsThatAxisOnly) {
    Cleaning d;
    const auto before = d.shown();
    wheel(d, d.plot, QPointF(d.plot->toPixels(700, 0).x(), d.plot->height() - 8), 240);
    EXPECT_LT(d.shown().x.high() - d.shown().x.low(), 0.8 * (before.x.high() - before.x.low()));
    const auto between = d.shown();
    wheel(d, d.plot, QPointF(8, d.plot->height() / 2.0), 240);
    EXPECT_NEAR(d.shown().x.low(), between.x.low(), 1e-6);
    EXPECT_LT(d.shown().y.high() - d.shown().y.low(), 0.8 * (between.y.high() - between.y.low()));
}

TEST(Gestures, TheMiddleButtonPans) {
    Cleaning d;
    wheel(d, d.plot, d.plot->toPixels(700, 2000), 480);
    const auto before = d.shown();
    const QPoint from = d.plot->rect().center();
    QTest::mousePress(d.plot, Qt::MiddleButton, {}, from);
    QTest::mouseMove(d.plot, from + QPoint(40, 0));
    QTest::mouseMove(d.plot, from + QPoint(80, 0));
    QTest::mouseRelease(d.plot, Qt::MiddleButton, {}, from + QPoint(80, 0));
    d.settle();
    EXPECT_LT(d.shown().x.low(), before.x.low());
    EXPECT_NEAR(d.shown().x.high() - d.shown().x.low(), before.x.high() - before.x.low(), 1e-6);
    EXPECT_EQ(d.entries(), 0U);
}

TEST(Gestures, ArrowsMoveTheProbeAndNameThePoint) {
    Cleaning d;
    d.plot->setFocus();
    QTest::keyClick(d.plot, Qt::Key_Home);
    EXPECT_TRUE(d.said().contains("point 1 ")) << d.said().toStdString();
    QTest::keyClick(d.plot, Qt::Key_Right);
    EXPECT_TRUE(d.said().contains("point 2 ")) << d.said().toStdString();
    QTest::keyClick(d.plot, Qt::Key_Right, Qt::ShiftModifier);
    EXPECT_TRUE(d.said().contains("point 12 ")) << d.said().toStdString();
    EXPECT_TRUE(d.said().contains("cm⁻¹"));
    QTest::keyClick(d.plot, Qt::Key_End);
    EXPECT_TRUE(d.said().contains("point 400 ")) << d.said().toStdString();
    QTest::keyClick(d.plot, Qt::Key_Left, Qt::ShiftModifier);
    EXPECT_TRUE(d.said().contains("point 390 ")) << d.said().toStdString();
}

TEST(Gestures, DeleteLeavesTheProbedPointOutAndTakesItBack) {
    Cleaning d;
    auto out = [&] {
        for (const Step& s : d.selected().protocol)
            if (s.kind == "exclude") return s.settings.numbers("rows").size();
        return std::size_t{0};
    };
    const std::size_t before = out();
    d.plot->setFocus();
    QTest::keyClick(d.plot, Qt::Key_Home);
    QTest::keyClick(d.plot, Qt::Key_Delete);
    d.settle();
    EXPECT_EQ(out(), before + 1);
    QTest::keyClick(d.plot, Qt::Key_Home);
    QTest::keyClick(d.plot, Qt::Key_Delete);
    d.settle();
    EXPECT_EQ(out(), before);
}

TEST(Gestures, ABoxLeavesOutAllPointsInItAsOneEdit) {
    Cleaning d;
    d.click(d.window.clean(), "Leave out");
    const QPoint a = d.plot->toPixels(745.0, 4000).toPoint(), b = d.plot->toPixels(750.2, -500).toPoint();
    QTest::mousePress(d.plot, Qt::LeftButton, {}, a);
    QTest::mouseMove(d.plot, (a + b) / 2);
    QTest::mouseMove(d.plot, b);
    QTest::mouseRelease(d.plot, Qt::LeftButton, {}, b);
    d.settle();
    EXPECT_EQ(d.entries(), 1U);
    EXPECT_TRUE(d.said().startsWith("Left out 13 points")) << d.said().toStdString();
    d.click(&d.window, "Undo");
    EXPECT_EQ(d.entries(), 0U);
}

TEST(Gestures, AnAnchorIsRemovedByTheMenuOfARightClick) {
    Cleaning d;
    auto step = [&] { return *std::ranges::find(d.selected().protocol, "baseline", &Step::kind); };
    const std::size_t before = step().settings.numbers("anchors").size();
    const auto& handles = d.plot->content().handles;
    ASSERT_GE(handles.size(), 4U);
    QTest::mouseClick(d.plot, Qt::RightButton, {}, d.plot->toPixels(handles[1].x, handles[1].y).toPoint());
    d.choose("Remove");
    d.settle();
    EXPECT_EQ(step().settings.numbers("anchors").size(), before - 2);
}

TEST(Gestures, ASpanInCleanShowsItsNumbersAndIsNoEdit) {
    Cleaning d;
    d.click(d.window.clean(), "Span");
    d.dragPlot(d.plot, 690, 715, 500);
    EXPECT_EQ(d.entries(), 0U);
    QString right;
    for (QLabel* label : d.window.findChildren<QLabel*>())
        if (label->text().startsWith("span 69")) right = label->text();
    EXPECT_TRUE(right.contains("maximum") && right.contains("area")) << right.toStdString();
    QTest::keyClick(d.plot, Qt::Key_Escape);
    QTest::keyClick(d.plot, Qt::Key_Escape);
    d.settle();
    EXPECT_TRUE(d.plot->content().spans.empty());
}

TEST(Protocol, StepsAreSwitchedMovedAndRemoved) {
    Cleaning d;
    const auto kinds = [&] {
        std::string all;
        for (const Step& s : d.selected().protocol) all += (s.on ? "+" : "-") + s.kind + " ";
        return all;
    };
    const std::string before = kinds();
    d.click(d.window.clean(), "Switch 2");
    EXPECT_NE(kinds(), before);
    d.click(d.window.clean(), "Switch 2");
    EXPECT_EQ(kinds(), before);
    d.window.document().openStep(d.selected().protocol[1].id);
    d.settle();
    QPushButton *up = nullptr, *remove = nullptr;
    for (QPushButton* b : d.window.clean()->findChildren<QPushButton*>()) {
        if (b->isVisible() && b->accessibleName().contains("up", Qt::CaseInsensitive)) up = b;
        if (b->isVisible() && b->accessibleName().contains("emove")) remove = b;
    }
    ASSERT_TRUE(up && remove);
    const StepId moved = d.selected().protocol[1].id;
    QTest::mouseClick(up, Qt::LeftButton);
    d.settle();
    EXPECT_EQ(d.selected().protocol[0].id, moved);
    remove = nullptr;
    for (QPushButton* b : d.window.clean()->findChildren<QPushButton*>())
        if (b->isVisible() && b->accessibleName().contains("emove")) remove = b;
    ASSERT_TRUE(remove);
    const std::size_t count = d.selected().protocol.size();
    QTest::mouseClick(remove, Qt::LeftButton);
    d.settle();
    EXPECT_EQ(d.selected().protocol.size(), count - 1);
}

namespace {

// An editor for each setting that matters, with a name, and none for the others.
template <class Kind> void expectForms(const Catalogue<Kind>& kinds) {
    for (const Kind& kind : kinds) {
        const KindInfo& info = infoOf(kind);
        SettingsForm form;
        Settings given;
        form.show(info, given);
        form.setVisible(true);
        for (const Setting& s : info.settings) {
            const QString key = QString::fromStdString(s.key);
            QWidget* editor = form.findChild<QWidget*>(key);
            if (!editor) editor = form.findChild<QWidget*>(key + "-low");
            if (s.kind == SettingKind::Colour) continue; // a row of swatches
            EXPECT_EQ(editor != nullptr, isShown(info, s, given)) << info.key << ": " << s.key;
            if (editor) form.focusOn(s.key);
            EXPECT_FALSE(s.help.empty()) << info.key << ": " << s.key;
        }
    }
}

} // namespace

// The window knows no kind by name: whatever a catalogue holds has its form.
TEST(Forms, AreMadeFromEveryDescription) {
    expectForms(steps::catalogue());
    expectForms(models::catalogue());
    expectForms(io::readerCatalogue());
    expectForms(figure::elementKinds());
    expectForms(evaluate::sourceCatalogue());
    expectForms(evaluate::mappingCatalogue());
    expectForms(evaluate::uncertaintyRules());
}

TEST(Forms, GiveTypedValuesAndKeepWhatCannotBeTaken) {
    SettingsForm form;
    KindInfo kind{.key = "k", .name = "K", .purpose = {}};
    kind.settings = {{.key = "size",
                      .label = "Size",
                      .kind = SettingKind::Number,
                      .fallback = 2.0,
                      .lowest = 0,
                      .highest = 10},
                     {.key = "on", .label = "On", .kind = SettingKind::Flag, .fallback = false},
                     {.key = "range", .label = "Range", .kind = SettingKind::Interval}};
    std::map<std::string, Value> got;
    int changes = 0;
    QObject::connect(&form, &SettingsForm::changed, [&](const QString& key, const Value& v) {
        got[key.toStdString()] = v;
        ++changes;
    });
    form.show(kind, {});
    form.setVisible(true);
    auto* size = form.findChild<QLineEdit*>("size");
    ASSERT_TRUE(size);
    EXPECT_EQ(size->text(), "2");
    auto type = [&](QLineEdit* field, const char* words) {
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, words);
        QTest::keyClick(field, Qt::Key_Return);
    };
    type(size, "7.5");
    EXPECT_EQ(std::get<double>(got["size"]), 7.5);
    type(size, "11");
    EXPECT_EQ(std::get<double>(got["size"]), 7.5) << "beyond its range";
    EXPECT_TRUE(size->property("bad").toBool());
    EXPECT_FALSE(size->toolTip().isEmpty()) << "says why";
    QTest::mouseClick(form.findChild<QCheckBox*>("on"), Qt::LeftButton);
    EXPECT_EQ(std::get<bool>(got["on"]), true);
    const int before = changes;
    auto *low = form.findChild<QLineEdit*>("range-low"), *high = form.findChild<QLineEdit*>("range-high");
    type(low, "3");
    EXPECT_EQ(changes, before) << "the other end is still to come";
    type(high, "5");
    EXPECT_EQ(std::get<Numbers>(got["range"]), (Numbers{3, 5}));
}

// Going through a form without typing changes nothing, also where numbers are shown with fewer digits.
TEST(Forms, LookingIsNoEdit) {
    SettingsForm form;
    KindInfo kind{.key = "k", .name = "K", .purpose = {}};
    kind.settings = {{.key = "range", .label = "Range", .kind = SettingKind::Interval},
                     {.key = "n", .label = "N", .kind = SettingKind::Number, .fallback = 1.0}};
    Settings given;
    given.set("range", Value(Numbers{651.1234567890123, 700.9876543210987}));
    given.set("n", Value(0.1 + 0.2));
    int changes = 0;
    QObject::connect(&form, &SettingsForm::changed, [&] { ++changes; });
    form.show(kind, given);
    form.setVisible(true);
    for (QLineEdit* field : form.findChildren<QLineEdit*>()) {
        field->setFocus();
        QTest::keyClick(field, Qt::Key_Return);
        field->clearFocus();
    }
    EXPECT_EQ(changes, 0);
}

TEST(Forms, NumbersInFields) {
    EXPECT_EQ(numberIn(" 12.5 "), 12.5);
    EXPECT_EQ(numberIn(QString("12\u2009500")), 12500);
    EXPECT_FALSE(numberIn("12,5"));
    EXPECT_FALSE(numberIn(""));
    EXPECT_EQ(endText(INFINITY), "");
    EXPECT_EQ(endText(-INFINITY), "");
    EXPECT_EQ(endText(-2.5), QString(QChar(0x2212)) + "2.5") << "with a minus sign, not a hyphen";
    EXPECT_EQ(numberIn(endText(-2.5)), -2.5) << "and read as it is shown";
}

TEST(Gestures, AKeyLooksIntoTheCrowdedEndAndBack) {
    Cleaning d;
    Table t{.name = "standards"};
    t.columns = {numberColumn("x", "", {0, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20}),
                 numberColumn("y", "", {0, 1, 2, 5, 10, 20, 50, 100, 200})};
    ASSERT_TRUE(d.window.document().apply(edits::addTable(t)));
    const Table& own = d.project().tables[d.project().tables.size() - 1];
    Dataset set{.name = "standards", .source = {.kind = "columns", .table = own.id}};
    set.source.roles = {{Role::X, own.columns[0].id}, {Role::Y, own.columns[1].id}};
    ASSERT_TRUE(d.window.document().apply(edits::addDataset(set)));
    d.window.document().selectDataset(d.project().datasets[d.project().datasets.size() - 1].id);
    d.settle();
    const double whole = d.shown().x.high();
    d.plot->setFocus();
    QTest::keyClick(d.plot, Qt::Key_C);
    d.settle();
    EXPECT_LT(d.shown().x.high(), 1.5);
    EXPECT_GT(d.shown().x.high(), 0.4);
    EXPECT_LT(d.shown().y.high(), 15);
    QTest::keyClick(d.plot, Qt::Key_C);
    d.settle();
    EXPECT_NEAR(d.shown().x.high(), whole, 1e-9);
}
