// SPDX-License-Identifier: GPL-3.0-or-later
// Faults that use and reading have shown, each with the test that it did not pass before it was mended.
#include "app/background.h"
#include "app/faults.h"
#include "app/forms/settings_form.h"
#include "app/models/table_model.h"
#include "evaluate/mapping.h"
#include "pond.h"

#include <QDir>
#include <QHeaderView>
#include <QPointer>
#include <QSplitter>
#include <QTableWidget>
#include <QTimer>
#include <QWheelEvent>
#include <fmt/format.h>
#include <stdexcept>

using namespace jointer;
using namespace jointer::test;

// A handler that throws ends nothing, in the window's thread or in a worker; the fault is reported.
TEST(Barrier, ExceptionsInHandlersAndWorkersBecomeReports) {
    QStringList reported;
    onFault([&](const std::string& what) { reported << QString::fromStdString(what); });
    QObject receiver;
    QTimer::singleShot(0, &receiver, [] { throw std::runtime_error("from a handler"); });
    JobQueue jobs(&receiver);
    jobs.add([](const Cancellation&) -> std::function<void()> { throw std::runtime_error("from a worker"); });
    bool after = false;
    jobs.add([&](const Cancellation&) -> std::function<void()> { return [&] { after = true; }; });
    EXPECT_TRUE(QTest::qWaitFor([&] { return after && reported.size() == 2; }, 5000));
    EXPECT_TRUE(reported.contains("from a handler"));
    EXPECT_TRUE(reported.contains("from a worker"));
    onFault({});
}

TEST(Barrier, AFaultIsSaidAndTheWorkPutAway) {
    QTemporaryDir folder;
    Driver d(folder.path().toStdString());
    d.window.openPath("demo:");
    d.settle();
    ASSERT_TRUE(d.window.document().apply(edits::rename("Kept")));
    reportFault("a test");
    EXPECT_TRUE(d.said().contains("a test")) << d.said().toStdString();
    auto autosaves = [&] { return QDir(folder.path()).entryList({"*.jointer"}).size(); };
    EXPECT_TRUE(QTest::qWaitFor([&] { return autosaves() == 1; }, 5000));
}

// Leaving waits for files that are being written.
TEST(Closing, WhileAnExportRuns) {
    QTemporaryDir folder;
    const QString path = folder.filePath("late.pdf");
    {
        Driver d;
        d.window.openPath("demo:");
        d.settle();
        ASSERT_TRUE(d.window.exportTo(path));
    }
    EXPECT_TRUE(QFile::exists(path));
}

// The toolkit's views also ask for what is gone, or never was: Ctrl+C without a current cell.
TEST(TableModel, AnswersForCellsThatAreNotThere) {
    TableModel model(nullptr);
    for (int role = 0; role < 20; ++role) EXPECT_FALSE(model.data({}, role).isValid());
    EXPECT_FALSE(model.headerData(7, Qt::Horizontal, Qt::DisplayRole).isValid());
    EXPECT_FALSE(model.headerData(7, Qt::Vertical, Qt::DisplayRole).isValid());
    EXPECT_FALSE(model.setData(QModelIndex(), "1", Qt::EditRole));
    Pond d(kLevels);
    d.grid()->setCurrentIndex({});
    QTest::keyClick(d.grid(), Qt::Key_C, Qt::ControlModifier);
    QTest::keyClick(d.grid(), Qt::Key_F2);
}

// A change of values keeps the view's place; only another shape resets it.
TEST(TableModel, AnEditKeepsTheCurrentCell) {
    Pond d(kLevels);
    d.goTo(2, 1);
    int resets = 0;
    QObject::connect(d.grid()->model(), &QAbstractItemModel::modelReset, [&] { ++resets; });
    d.grid()->model()->setData(d.grid()->model()->index(2, 1), "99");
    d.settle();
    EXPECT_EQ(d.cell(2, 1), "99");
    EXPECT_EQ(resets, 0);
    EXPECT_EQ(d.grid()->currentIndex().row(), 2);
}

// A field that gives its value on losing the focus is not taken away while it does.
TEST(Forms, AreBuiltAnewOnlyAfterTheEvent) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Clean");
    d.find("smooth");
    auto* form = d.window.clean()->findChild<SettingsForm*>("stepForm");
    ASSERT_TRUE(form);
    QPointer<QLineEdit> field = form->findChild<QLineEdit*>("window");
    ASSERT_TRUE(field);
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, "9");
    field->clearFocus(); // gives the value
    EXPECT_TRUE(field) << "still there within its own event";
    d.settle();
    const auto protocol = d.window.document().currentDataset()->protocol;
    EXPECT_EQ(protocol.back().settings.number("window"), 9);
}

// A box is a box, however narrow; what is out by rule is not taken back by a click.
TEST(Exclude, ANarrowBoxTakesAllPointsInIt) {
    std::string text = "x,y\n";
    for (int i = 0; i < 1000; ++i) text += fmt::format("{},{}\n", i, 5 + i % 3);
    Pond d(text, "dense.csv");
    d.stage("Clean");
    d.click(d.window.clean(), "Leave out");
    PlotCanvas* plot = d.window.clean()->canvas();
    const QPoint a = plot->toPixels(500, 7.05).toPoint(), b = a + QPoint(10, plot->height());
    QTest::mousePress(plot, Qt::LeftButton, {}, a);
    QTest::mouseMove(plot, (a + b) / 2);
    QTest::mouseRelease(plot, Qt::LeftButton, {}, b);
    d.settle();
    ASSERT_EQ(d.dataset().protocol.size(), 1U);
    EXPECT_GT(d.dataset().protocol[0].settings.numbers("rows").size(), 2U);
}

TEST(Exclude, WhatIsOutByRuleIsNotTakenBackByAClick) {
    Pond d("x,y\n0,1\n1,2\n2,9\n3,2\n4,1\n", "few.csv");
    Settings rule;
    rule.set("outside-y", Value(Numbers{0, 5}));
    d.window.document().apply(edits::addStep(d.dataset().id, "exclude", rule, "Leave out"));
    d.settle();
    d.stage("Clean");
    d.click(d.window.clean(), "Leave out");
    const std::size_t before = d.entries();
    const Project project = d.project();
    d.clickPlot(d.window.clean()->canvas(), 2, 9);
    EXPECT_EQ(d.entries(), before);
    EXPECT_TRUE(d.project() == project);
    EXPECT_TRUE(d.said().contains("rule")) << d.said().toStdString();
}

// Points that are left out stay where they were measured, and are hit there.
TEST(Exclude, LeftOutPointsStayWhereTheyWereMeasured) {
    Pond d("x,y\n0,10\n1,12\n2,30\n3,16\n4,18\n", "slope.csv");
    d.stage("Clean");
    Settings line;
    line.set("anchors", Value(Numbers{0, 10, 4, 18}));
    d.window.document().apply(edits::addStep(d.dataset().id, "baseline", line, "Baseline"));
    d.window.document().apply(edits::excludeRows(d.dataset().id, {3}, true));
    d.settle();
    const auto chain = d.window.document().session().evaluator().protocol(d.project(), d.dataset().id);
    ASSERT_TRUE(chain.end().curve().isExcluded(2));
    EXPECT_NEAR(chain.end().curve().y[2], 16, 1e-9);
    EXPECT_EQ(chain.leftOutAsMeasured(chain.end())->y[2], 30);
    EXPECT_EQ(chain.leftOutAsMeasured(chain.end())->y[3], chain.end().curve().y[3]);
    d.click(d.window.clean(), "Leave out");
    d.clickPlot(d.window.clean()->canvas(), 2, 30);
    EXPECT_TRUE(d.said().startsWith("Took back 1 point")) << d.said().toStdString();
}

// A zoom belongs to its dataset.
TEST(Zoom, IsForgottenWithAnotherDataset) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Clean");
    Document& document = d.window.document();
    document.selectDataset(d.project().datasets[0].id);
    d.settle();
    PlotCanvas* plot = d.window.clean()->canvas();
    const double whole = plot->geometryShown()->y.high() - plot->geometryShown()->y.low();
    const QPointF middle(plot->width() / 2.0, plot->height() / 2.0);
    for (int k = 0; k < 3; ++k) {
        QWheelEvent turn(middle, plot->mapToGlobal(middle), {}, {0, 360}, Qt::NoButton, Qt::NoModifier,
                         Qt::NoScrollPhase, false);
        QApplication::sendEvent(plot, &turn);
    }
    d.settle();
    EXPECT_LT(plot->geometryShown()->y.high() - plot->geometryShown()->y.low(), 0.8 * whole);
    // Removing it opens another one without anybody choosing it.
    document.apply(edits::removeDataset(d.project().datasets[0].id));
    d.settle();
    EXPECT_FALSE(document.xRange);
    document.session().undo();
    document.selectDataset(d.project().datasets[0].id);
    d.settle();
    EXPECT_NEAR(plot->geometryShown()->y.high() - plot->geometryShown()->y.low(), whole, 1e-9 * whole);
}

// Of a large page at high zoom only what is visible is drawn.
TEST(Page, AMetreAtHighZoomTakesLittleMemory) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Figure");
    Document& document = d.window.document();
    document.apply(edits::setElement(document.figure(), {}, "width", Value(1000.0)));
    document.apply(edits::setElement(document.figure(), {}, "height", Value(1000.0)));
    d.settle();
    PageView* page = d.window.figure()->page();
    const QPointF middle(page->width() / 2.0, page->height() / 2.0);
    for (int k = 0; k < 40; ++k) {
        QWheelEvent turn(middle, page->mapToGlobal(middle), {}, {0, 360}, Qt::NoButton, Qt::NoModifier,
                         Qt::NoScrollPhase, false);
        QApplication::sendEvent(page, &turn);
    }
    d.settle();
    EXPECT_GT(page->zoom(), 8);
    EXPECT_LT(page->picture().width(), 2000);
    EXPECT_LT(page->picture().height(), 2000);
    EXPECT_GT(page->picture().width(), 500);
}

// Of a value and its error nothing is cut at 1280×800, whatever they are.
void expectNothingCut(const QTableWidget& table, const std::string& what) {
    EXPECT_LE(table.horizontalHeader()->length(), table.viewport()->width()) << what;
    for (int row = 0; row < table.rowCount(); ++row)
        for (int column = 0; column < 4; ++column) {
            const QTableWidgetItem* item = table.item(row, column);
            const QFont font = column >= 2 ? item->font() : table.font();
            int room = 0;
            for (int k = 0; k < table.columnSpan(row, column); ++k) room += table.columnWidth(column + k);
            const QStringList lines = item->text().split('\n');
            for (const QString& line : lines)
                EXPECT_LE(QFontMetrics(font).horizontalAdvance(line) + (line.isEmpty() ? 0 : 4), room)
                    << what << ": " << line.toStdString();
            EXPECT_LE(lines.size() * QFontMetrics(font).height(), table.rowHeight(row));
        }
}

// Of every row, in every model: the columns share the room, so that each row alone tells nothing.
TEST(Parameters, LongNumbersAreNeverCut) {
    const std::pair<double, const char*> cases[] = {{-0.0084771234, "fit straight line"},
                                                    {1.602176634e-19, "fit straight line"},
                                                    {123456.789012, "fit polynomial of degree 3"},
                                                    {-3.0e8, "fit power law"},
                                                    {1180.3, "fit exponential decay"},
                                                    {3.1e-7, "fit exponential decay"},
                                                    {118.0, "fit gaussian"},
                                                    {7.77e5, "fit logistic"}};
    for (const auto& [size, model] : cases) {
        std::string text = "Time (h),Chloride (mg/L)\n";
        for (int i = 1; i < 31; ++i)
            text += fmt::format("{},{}\n", i,
                                size * (std::exp(-0.07 * i) + 0.01 * ((i * 7) % 5 - 2) + 1e-3 * i * i));
        Pond d(text, "long.csv");
        d.find(model);
        auto* table = d.window.analyse()->findChild<QTableWidget*>("parameters");
        ASSERT_TRUE(table && table->rowCount() >= 2) << model;
        expectNothingCut(*table, model);
        auto* split = d.window.analyse()->findChild<QSplitter*>("stageSplit");
        for (const int width : {520, 280}) { // by turns side by side and below each other
            split->setSizes({split->width() - width, width});
            d.settle();
            expectNothingCut(*table, model);
        }
    }
}

// Names of middling length without a word beside them, at every width of the side.
TEST(Numbers, OfDerivedNumbersAreNotCut) {
    Driver d;
    d.window.openPath(JOINTER_SOURCE_DIR "/demos/answers.jointer");
    d.stage("Analyse");
    d.find("dataset dye in the pool");
    auto* table = d.window.analyse()->findChild<QTableWidget*>("quantities");
    ASSERT_TRUE(table && table->isVisible());
    auto* split = d.window.analyse()->findChild<QSplitter*>("stageSplit");
    for (int side = 280; side <= 520; side += 7) {
        split->setSizes({1000 - side, side});
        d.settle();
        expectNothingCut(*table, "side of " + std::to_string(side));
    }
}

// The side pane is drawn wider by its edge, in all stages, and the width is found again with the project.
TEST(Pane, IsDrawnWiderAndRemembersIt) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Analyse");
    auto* split = d.window.analyse()->findChild<QSplitter*>("stageSplit");
    ASSERT_TRUE(split);
    const int before = split->sizes().value(1);
    QSplitterHandle* edge = split->handle(1);
    const QPoint at(1, edge->height() / 2);
    QTest::mousePress(edge, Qt::LeftButton, {}, at);
    QTest::mouseMove(edge, at - QPoint(120, 0));
    QTest::mouseRelease(edge, Qt::LeftButton, {}, at - QPoint(120, 0));
    d.settle();
    const int wider = split->sizes().value(1);
    EXPECT_NEAR(wider, before + 120, 4);
    d.stage("Figure");
    d.settle();
    EXPECT_NEAR(d.window.figure()->findChild<QSplitter*>("stageSplit")->sizes().value(1), wider, 4);
    EXPECT_EQ(d.window.document().sideWidth, wider);
    const std::string view = d.window.document().viewText(3);
    d.window.document().sideWidth = 300;
    d.window.document().restoreView(view);
    EXPECT_EQ(d.window.document().sideWidth, wider);
}

TEST(Parameters, UnitsStandBesideTheNumbers) {
    std::string text = "time (s),oxygen (mg/L)\n";
    for (int i = 0; i < 30; ++i) text += fmt::format("{},{}\n", i, 2 + 0.3 * i + 0.01 * ((i * 7) % 5 - 2));
    Pond d(text, "units.csv");
    d.find("fit straight line");
    auto* table = d.window.analyse()->findChild<QTableWidget*>("parameters");
    ASSERT_TRUE(table && table->rowCount() >= 2);
    QString all;
    for (int row = 0; row < 2; ++row)
        for (int column = 0; column < 4; ++column) all += table->item(row, column)->text() + " ";
    EXPECT_EQ(all.count("mg/L"), 2) << all.toStdString();
    EXPECT_TRUE(all.contains("mg/L s⁻¹") || all.contains("mg/L/s") || all.contains("mg L"))
        << all.toStdString();
}

// A role that nothing reads is not offered.
TEST(Roles, OfferedOnesAreThoseThatAreRead) {
    Pond d(kLevels);
    for (const char* never : {"weight", "companion", "label"})
        for (const QComboBox* box : d.window.data()->findChildren<QComboBox*>())
            EXPECT_TRUE(!box->objectName().startsWith("is:") || box->findText(never) < 0) << never;
    const auto roles = evaluate::offeredRoles();
    EXPECT_EQ(std::ranges::count(roles, Role::Weight), 0);
    EXPECT_EQ(std::ranges::count(roles, Role::Resolution), 1);
    EXPECT_EQ(std::ranges::count(roles, Role::YError), 1);
}
