// SPDX-License-Identifier: GPL-3.0-or-later
// What the whole window does: Find, menus, selection kept, view found again, autosave and recovery, drags.
#include "app/panes/find_field.h"
#include "app/panes/recovery_bar.h"
#include "app/theme/theme.h"
#include "driver.h"

#include <QClipboard>
#include <QCloseEvent>
#include <QListWidget>
#include <QMenuBar>
#include <QRegularExpression>
#include <QTableView>
#include <QTableWidget>
#include <nlohmann/json.hpp>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;
using testing::HasSubstr;

namespace {

QStringList offered(Driver& d, const QString& letters) {
    auto* field = d.window.findChild<FindField*>("find");
    field->begin();
    QTest::keyClicks(field, letters);
    QStringList all;
    auto* found = field->findChild<QListWidget*>("found");
    for (int i = 0; found->isVisible() && i < found->count(); ++i) all << found->item(i)->text();
    QTest::keyClick(field, Qt::Key_Escape);
    return all;
}

} // namespace

TEST(Find, KnowsActionsStepsModelsDatasetsTablesAndFigures) {
    Driver d;
    d.window.openPath("demo:");
    for (const auto& [letters, wanted] : {std::pair("smoo", "Step › Smooth"),
                                          {"gauss", "Fit › Gaussian"},
                                          {"90 d", "Dataset › 90 d"},
                                          {"oxygen tab", "Table › oxygen_sensor"},
                                          {"growth", "Figure › Growth bands"},
                                          {"undo", "Edit › Undo   Ctrl+Z"},
                                          {"res vie", "View › Results   Ctrl+5"}}) {
        const QStringList all = offered(d, letters);
        EXPECT_TRUE(all.contains(wanted)) << letters << " offers " << all.join(", ").toStdString();
    }
    EXPECT_EQ(offered(d, "qqxz").filter("›").size(), 0);
    EXPECT_TRUE(offered(d, "   ").isEmpty());
}

TEST(Find, PutsBeginningsOfWordsFirst) {
    Driver d;
    QStringList all = offered(d, "line");
    const auto beginsWord = [](const QString& path) { return path.toLower().contains(" line"); };
    EXPECT_TRUE(beginsWord(all.value(0))) << all.value(0).toStdString();
    EXPECT_TRUE(all.contains("Step › Baseline"));
    const auto byName = [](const QString& row) { return !row.contains(" · "); }; // others serve for lines
    EXPECT_TRUE(std::is_partitioned(all.begin(), all.end(), byName)) << all.join(", ").toStdString();
    all = all.filter(QRegularExpression("^[^·]*$"));
    EXPECT_TRUE(std::is_partitioned(all.begin(), all.end(), beginsWord)) << all.join(", ").toStdString();
}

TEST(Find, RunsTheChosenEntryByKeyboard) {
    Driver d;
    d.window.openPath("demo:");
    auto* field = d.window.findChild<FindField*>("find");
    QTest::keyClick(&d.window, Qt::Key_K, Qt::ControlModifier);
    EXPECT_TRUE(field->hasFocus());
    QTest::keyClicks(field, "dataset 7");
    QTest::keyClick(field, Qt::Key_Down);
    QTest::keyClick(field, Qt::Key_Up);
    QTest::keyClick(field, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.window.document().currentDataset()->name, "7 d");
    EXPECT_TRUE(field->text().isEmpty());
}

TEST(Find, LeadsToASettingAndItsEditor) {
    Driver d;
    d.window.openPath("demo:");
    d.find("setting smooth window");
    EXPECT_TRUE(d.window.clean()->isVisible());
    EXPECT_EQ(QApplication::focusWidget()->objectName(), "window");
    d.find("setting left axis name");
    EXPECT_TRUE(d.window.figure()->isVisible());
    EXPECT_EQ(QApplication::focusWidget()->objectName(), "name");
    QTest::keyClicks(QApplication::focusWidget(), "!");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    d.settle();
    EXPECT_THAT(d.project().figures[0].find(d.window.document().element())->settings.text("name"),
                HasSubstr("!"));
}

TEST(Menus, EveryEntryHasANameAndShortcutsAreUnique) {
    Driver d;
    std::map<QString, QString> owner;
    int entries = 0;
    for (QAction* menu : d.window.menuBar()->actions())
        for (QAction* a : menu->menu()->actions()) {
            ++entries;
            EXPECT_FALSE(a->text().isEmpty());
            if (a->shortcut().isEmpty()) continue;
            EXPECT_TRUE(owner.emplace(a->shortcut().toString(), a->text()).second)
                << a->text().toStdString() << " and " << owner[a->shortcut().toString()].toStdString();
        }
    EXPECT_GT(entries, 30);
}

TEST(Stages, KeysLeadThereAndTheSelectionStays) {
    Driver d;
    d.window.openPath("demo:");
    const DatasetId chosen = d.project().datasets[2].id;
    d.window.document().selectDataset(chosen);
    for (int key = Qt::Key_1; key <= Qt::Key_5; ++key) {
        QTest::keyClick(&d.window, static_cast<Qt::Key>(key), Qt::ControlModifier);
        d.settle();
        EXPECT_EQ(d.window.document().dataset(), chosen);
    }
    EXPECT_TRUE(d.window.results()->isVisible());
}

TEST(View, IsFoundAgainWithTheProject) {
    QTemporaryDir folder;
    const QString path = folder.filePath("p.jointer");
    Driver d;
    d.window.openPath("demo:");
    d.window.document().selectDataset(d.project().datasets[0].id);
    d.window.document().selectFigure(d.project().figures[1].id);
    d.window.document().orderBy("site");
    d.window.document().xRange = {660, 720};
    d.stage("Analyse");
    ASSERT_TRUE(d.window.saveTo(path));
    Driver again;
    again.window.openPath(path);
    again.settle();
    EXPECT_TRUE(again.window.analyse()->isVisible());
    EXPECT_EQ(again.window.document().currentDataset()->name, "7 d");
    EXPECT_EQ(again.window.document().figure(), again.project().figures[1].id);
    EXPECT_EQ(again.window.document().order(), "site");
    ASSERT_TRUE(again.window.document().xRange);
    EXPECT_EQ(again.window.document().xRange->first, 660);
    EXPECT_FALSE(again.window.document().session().isChanged()) << "the view is no edit";
    for (const char* odd : {"", "no json", "[1]", R"({"stage": "x", "dataset": 7, "xRange": [3, 1]})"})
        EXPECT_EQ(again.window.document().restoreView(odd), -1) << odd;
    EXPECT_TRUE(again.window.document().currentDataset()) << "something valid stays selected";
}

TEST(Recovery, OffersWhatAnEndedSessionLeft) {
    QTemporaryDir folder;
    const std::string state = folder.path().toStdString();
    {
        Project p = demo::ternSands();
        p.title = "Left behind";
        ASSERT_TRUE(saveProject(p, {{}, R"({"stage":2})"}, state + "/1-1.jointer"));
        // No process has this number.
        ASSERT_TRUE(
            replaceFile(state + "/1-1.jointer.json", R"({"title":"Left behind","path":"","pid":99999999})"));
    }
    Driver d(state);
    QTest::qWait(0);
    auto* bar = d.window.findChild<RecoveryBar*>();
    ASSERT_TRUE(bar && bar->isVisible());
    d.click(bar, "Recover");
    EXPECT_EQ(d.project().title, "Left behind");
    EXPECT_TRUE(d.window.document().session().isChanged()) << "it is not saved yet";
    EXPECT_TRUE(QTest::qWaitFor([&] { return Session::recoverable(state).empty(); }))
        << "safe in an autosave";
}

TEST(Recovery, DiscardForgets) {
    QTemporaryDir folder;
    const std::string state = folder.path().toStdString();
    ASSERT_TRUE(saveProject(demo::ternSands(), {}, state + "/1-1.jointer"));
    ASSERT_TRUE(replaceFile(state + "/1-1.jointer.json", R"({"title":"T","path":"","pid":99999999})"));
    Driver d(state);
    QTest::qWait(0);
    auto* bar = d.window.findChild<RecoveryBar*>();
    ASSERT_TRUE(bar);
    d.click(bar, "Discard");
    EXPECT_TRUE(Session::recoverable(state).empty());
    EXPECT_TRUE(d.project().datasets.empty());
}

// While a handle is dragged fits are provisional; letting go computes them fully, as one edit.
TEST(Drag, OfASpanEndIsProvisionalUntilItEnds) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Analyse");
    PlotCanvas* plot = d.window.analyse()->canvas();
    const AnalysisId id = d.window.document().analysis();
    const double low = d.project().analyses.find(id)->inputs[0].span.low();
    const QRect area(plot->rect());
    const auto at = [&](double x) { return QPoint(plot->toPixels(x, 0).toPoint().x(), area.center().y()); };
    QTest::mousePress(plot, Qt::LeftButton, {}, at(low));
    EXPECT_TRUE(d.window.document().isDragging());
    for (double x : {652.0, 655.0, 660.0}) QTest::mouseMove(plot, at(x));
    d.settle();
    EXPECT_NEAR(d.project().analyses.find(id)->inputs[0].span.low(), 660, 1);
    auto known = [&] {
        return d.window.document()
            .session()
            .evaluator()
            .analysis(d.project(), *d.project().analyses.find(id), {.effort = evaluate::Effort::Remembered})
            .exists();
    };
    EXPECT_FALSE(known()) << "nothing provisional is remembered";
    QTest::mouseRelease(plot, Qt::LeftButton, {}, at(660));
    EXPECT_FALSE(d.window.document().isDragging());
    EXPECT_TRUE(QTest::qWaitFor(known, 10000));
    EXPECT_EQ(d.entries(), 1U);
    d.settle();
    EXPECT_EQ(d.said().toStdString().find("rror"), std::string::npos);
}

// A half-typed field is no reason to crash.
TEST(Closing, WithAFieldBeingTypedIn) {
    for (const char* field : {"columnName", "equation", "find", "columnFormula"}) {
        Driver d;
        d.window.openPath("demo:");
        d.stage(field == std::string("equation") ? "Analyse" : "Data");
        auto* line = d.window.findChild<QWidget*>(field);
        ASSERT_TRUE(line) << field;
        line->setFocus();
        QTest::keyClicks(line, "xyz");
    }
}

TEST(Theme, ChangesEverywhereAndBack) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Analyse");
    const QColor light = d.window.grab().toImage().pixelColor(300, 400);
    d.window.setDark(true);
    d.settle();
    EXPECT_TRUE(theme().dark);
    const QColor dark = d.window.grab().toImage().pixelColor(300, 400);
    EXPECT_GT(light.lightness(), 200);
    EXPECT_LT(dark.lightness(), 80);
    d.window.setDark(false);
    EXPECT_FALSE(theme().dark);
}

TEST(Parameters, AreFixedLimitedAndTiedByTheirRow) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Analyse");
    const AnalysisId id = d.window.document().analysis();
    auto choice = [&](const std::string& name) {
        const auto a = d.project().analyses.find(id);
        const auto at = std::ranges::find(a->parameters, name, &ParameterChoice::name);
        return at == a->parameters.end() ? ParameterChoice{} : *at;
    };
    auto* rows = d.window.analyse()->findChild<QTableWidget*>("parameters");
    const int row = 2; // w1
    ASSERT_EQ(rows->item(row, 0)->text(), "w1");
    const double fitted =
        test::fitOf(d.window.document().session().evaluator(), d.project(), *d.project().analyses.find(id))
            .one()
            .parameters[2]
            .value;
    QTest::mouseClick(rows->viewport(), Qt::LeftButton, {},
                      rows->visualItemRect(rows->item(row, 0)).center());
    d.choose(d.window.analyse(), "treatment", "fixed");
    EXPECT_EQ(choice("w1").treatment, Treatment::Fixed);
    ASSERT_TRUE(choice("w1").start);
    EXPECT_NEAR(*choice("w1").start, fitted, 0.01 * fitted) << "fixed where it stands";
    d.type(d.window.analyse(), "startValue", "12.5");
    EXPECT_EQ(choice("w1").start, 12.5);
    d.choose(d.window.analyse(), "treatment", "free");
    d.type(d.window.analyse(), "limitHigh", "13");
    EXPECT_EQ(choice("w1").upper, 13);
    const auto limited =
        test::fitOf(d.window.document().session().evaluator(), d.project(), *d.project().analyses.find(id));
    EXPECT_LE(limited.one().parameters[2].value, 13 * (1 + 1e-12));
    d.choose(d.window.analyse(), "treatment", "tied");
    d.type(d.window.analyse(), "tie", "2*w2");
    const auto tied =
        test::fitOf(d.window.document().session().evaluator(), d.project(), *d.project().analyses.find(id));
    ASSERT_TRUE(tied.good());
    EXPECT_NEAR(tied.one().parameters[2].value, 2 * tied.one().parameters[5].value,
                1e-9 * tied.one().parameters[2].value);
}

TEST(Figure, ElementsAreChosenChangedAndRemovedOnThePage) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Figure");
    PageView* page = d.window.figure()->page();
    const Figure before = d.project().figures[0];
    const auto axis = std::ranges::find_if(before.elements[0].children, [](const Element& e) {
        return e.kind == "axis" && e.settings.text("side") == "left";
    });
    ASSERT_NE(axis, before.elements[0].children.end());
    const QPoint on = page->regionOf(axis->id).center().toPoint();
    QTest::mouseClick(page, Qt::LeftButton, {}, on);
    d.settle();
    EXPECT_EQ(d.window.document().element(), axis->id);
    QTest::mouseDClick(page, Qt::LeftButton, {}, on);
    auto* editor = page->findChild<QLineEdit*>();
    ASSERT_TRUE(editor && editor->isVisible());
    editor->selectAll();
    QTest::keyClicks(editor, "Counts per second");
    QTest::keyClick(editor, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.project().figures[0].find(axis->id)->settings.text("name"), "Counts per second");
    QTest::keyClick(page, Qt::Key_F2);
    editor->selectAll();
    QTest::keyClicks(editor, "Counts\\\\at \\nu"); // \\ begins a line, \nu stays a letter
    QTest::keyClick(editor, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.project().figures[0].find(axis->id)->settings.text("name"), "Counts\nat \\nu");
    QTest::keyClick(page, Qt::Key_F2);
    EXPECT_EQ(editor->text(), "Counts\\\\at \\nu");
    QTest::keyClick(editor, Qt::Key_Return);
    const auto legend = std::ranges::find(before.elements[0].children, "legend", &Element::kind);
    ASSERT_NE(legend, before.elements[0].children.end());
    QTest::mouseClick(page, Qt::LeftButton, {}, page->regionOf(legend->id).center().toPoint());
    QTest::keyClick(page, Qt::Key_Delete);
    d.settle();
    EXPECT_FALSE(d.project().figures[0].find(legend->id));
    d.click(&d.window, "Undo");
    EXPECT_TRUE(d.project().figures[0].find(legend->id));
    QTest::keyClick(page, Qt::Key_Escape);
    EXPECT_FALSE(d.window.document().element());
}

TEST(Figure, ANoteIsDraggedAsOneEdit) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Figure");
    PageView* page = d.window.figure()->page();
    const auto note = std::ranges::find(d.project().figures[0].elements[0].children, "note", &Element::kind);
    const ElementId id = note->id;
    const double x = note->settings.number("x");
    const QPoint from = page->regionOf(id).center().toPoint();
    QTest::mousePress(page, Qt::LeftButton, {}, from);
    for (int k = 1; k <= 5; ++k) QTest::mouseMove(page, from + QPoint(6 * k, 4 * k));
    QTest::mouseRelease(page, Qt::LeftButton, {}, from + QPoint(30, 20));
    d.settle();
    EXPECT_GT(d.project().figures[0].find(id)->settings.number("x"), x + 0.01);
    EXPECT_EQ(d.entries(), 1U);
}

TEST(Results, SelectingANumberTellsWhereItComesFrom) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Results");
    auto* grid = d.window.results()->findChild<QTableView*>("results");
    ASSERT_TRUE(QTest::qWaitFor([&] { return grid->model()->rowCount() > 10; }, 20000));
    QTest::mouseClick(grid->viewport(), Qt::LeftButton, {},
                      grid->visualRect(grid->model()->index(3, 2)).center());
    d.settle();
    QString all;
    for (QLabel* label : d.window.results()->findChildren<QLabel*>()) all += label->text() + "\n";
    EXPECT_TRUE(all.contains("shell_7d.csv")) << all.toStdString();
    d.click(d.window.results(), "Copy");
    const QString copied = QApplication::clipboard()->text();
    EXPECT_TRUE(copied.startsWith("dataset\tanalysis\tquantity\tvalue\terror\tunit\tstate\tsubject\n"))
        << copied.toStdString();
    EXPECT_EQ(copied.count('\n'), grid->model()->rowCount() + 1);
    d.click(d.window.results(), "Open the fit");
    EXPECT_TRUE(d.window.analyse()->isVisible());
    EXPECT_EQ(d.window.document().currentDataset()->name, "7 d");
}
