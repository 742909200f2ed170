// SPDX-License-Identifier: GPL-3.0-or-later
// The card of a fit by real events: whole tasks with their actions counted; parts, equations of several
// lines, start values by slider, spans of several pieces, profiles, predictions.
#include "driver.h"

#include "app/panes/following.h"
#include "app/panes/model_picker.h"
#include "session/own_models.h"

#include <QPlainTextEdit>
#include <QSlider>
#include <QTableWidget>
#include <cmath>
#include <fmt/format.h>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;
using testing::HasSubstr;

namespace {

std::string file(const QTemporaryDir& folder, const std::string& name, const std::string& content) {
    const std::string path = folder.filePath(QString::fromStdString(name)).toStdString();
    std::ofstream(path) << content;
    return path;
}

// y = 2·x^1.4 over three decades, bent over at the far end.
std::string bentPower(const QTemporaryDir& folder) {
    std::string content = "dose (mg/L),response\n";
    for (int i = 0; i <= 40; ++i) {
        const double x = 0.05 * std::pow(10.0, i * 0.075);
        content += fmt::format("{:.6g},{:.6g}\n", x,
                               2 * std::pow(x, 1.4) / (1 + 0.02 * x) * (1 + 0.01 * std::sin(7.3 * i)));
    }
    return file(folder, "bent.csv", content);
}

std::string decay(const QTemporaryDir& folder, const char* name = "decay.csv") {
    std::string content = "t (h),oxygen (mg/L)\n";
    for (int i = 0; i < 40; ++i) {
        const double t = 0.25 * i;
        content += fmt::format("{},{:.4f}\n", t, 4 * std::exp(-0.4 * t) + 1 + 0.02 * std::sin(9.7 * i));
    }
    return file(folder, name, content);
}

void import(Driver& d, const std::string& path) {
    d.drop({QString::fromStdString(path)});
    d.click(d.window.data()->import(), "Import");
}

const Analysis& only(Driver& d) {
    return *d.project().analyses.find(d.window.document().analysis());
}

test::Fitted fitted(Driver& d) {
    return test::fitOf(d.window.document().session().evaluator(), d.project(), only(d));
}

void openRow(Driver& d, const QString& name) {
    auto* rows = d.window.analyse()->findChild<QTableWidget*>("parameters");
    for (int r = 0; r < rows->rowCount(); ++r)
        if (rows->item(r, 0) && rows->item(r, 0)->text().startsWith(name)) {
            QTest::mouseClick(rows->viewport(), Qt::LeftButton, {},
                              rows->visualItemRect(rows->item(r, 0)).center());
            return d.settle();
        }
    ADD_FAILURE() << "no row " << name.toStdString();
}

void dropTable(Driver& d, PlotCanvas* plot, TableId table) {
    QMimeData mime;
    mime.setData(kTableMime, QByteArray::fromStdString(table.text()));
    const QPoint at(plot->width() / 2, plot->height() / 2);
    QDragEnterEvent enter(at, Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(plot, &enter);
    ASSERT_TRUE(enter.isAccepted());
    QDropEvent drop(QPointF(at), Qt::CopyAction, &mime, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(plot, &drop);
    d.settle();
}

} // namespace

// The whole task: a log plot fitted in part, whole and part side by side; under twelve actions from the
// dropped file on.
TEST(FitTask, ALogPlotFittedInPart) {
    Driver d;
    QTemporaryDir folder;
    int actions = 0;
    auto act = [&](auto&& what) {
        what();
        d.settle();
        ++actions;
    };
    d.drop({QString::fromStdString(bentPower(folder))});
    act([&] { d.click(d.window.data()->import(), "Import"); });
    act([&] { d.find("fit power law"); });
    act([&] { d.click(d.window.analyse(), "log x"); });
    act([&] { d.click(d.window.analyse(), "log y"); });
    act([&] { d.find("fit power law"); });
    act([&] { QTest::keyClick(d.window.analyse()->canvas(), Qt::Key_S); });
    PlotCanvas* plot = d.window.analyse()->canvas();
    act([&] { d.dragPlot(plot, 0.06, 2.0, 1.0); });
    act([&] { d.click(d.window.analyse(), "side by side"); });
    EXPECT_LT(actions, 12);
    RecordProperty("actions", actions);

    ASSERT_EQ(d.project().analyses.size(), 2U);
    auto& evaluator = d.window.document().session().evaluator();
    const auto whole = test::fitOf(evaluator, d.project(), d.project().analyses[0]),
               part = test::fitOf(evaluator, d.project(), d.project().analyses[1]);
    EXPECT_LT(part.report->n, whole.report->n);
    EXPECT_NEAR(part.outcome->find("exponent")->value, 1.4, 0.05);
    EXPECT_LT(whole.outcome->find("exponent")->value, 1.35);
    auto* grid = d.window.analyse()->findChild<QTableWidget*>("numbers");
    EXPECT_TRUE(grid->isVisible());
    EXPECT_EQ(grid->columnCount(), 2);
}

// The whole task: a calibration polynomial raised by slider, a column of predictions following; under twelve.
TEST(FitTask, APolynomialRaisedWithPredictionsFollowing) {
    Driver d;
    QTemporaryDir folder;
    std::string standards = "dose (mg/L),absorbance\n";
    for (int i = 0; i <= 12; ++i)
        standards += fmt::format("{},{:.5f}\n", i, 0.02 + 0.2 * i - 0.012 * i * i + 0.0004 * i * i * i);
    int actions = 0;
    auto act = [&](auto&& what) {
        what();
        d.settle();
        ++actions;
    };
    d.drop({QString::fromStdString(file(folder, "standards.csv", standards))});
    act([&] { d.click(d.window.data()->import(), "Import"); });
    act([&] { d.find("fit straight line"); });
    act([&] { d.click(d.window.analyse(), "details"); });
    act([&] { d.click(d.window.analyse(), "Column that follows the fit"); });
    act([&] { d.choose("dose"); });
    auto* series = d.window.analyse()->findChild<QSlider*>("series");
    ASSERT_TRUE(series && series->isVisible());
    act([&] {
        series->setFocus();
        QTest::keyClick(series, Qt::Key_Right);
    });
    EXPECT_EQ(only(d).model.kind, "polynomial-2");
    act([&] { QTest::keyClick(series, Qt::Key_Right); });
    EXPECT_LT(actions, 12);
    RecordProperty("actions", actions);
    EXPECT_EQ(only(d).model.kind, "polynomial-3");
    const auto table = d.window.document().session().evaluator().table(d.project(), d.project().tables[0].id);
    ASSERT_EQ(table.value.columns.size(), 3U);
    for (int i = 0; i <= 12; ++i)
        EXPECT_NEAR(table.value.columns[2].numbers()[static_cast<std::size_t>(i)],
                    0.02 + 0.2 * i - 0.012 * i * i + 0.0004 * i * i * i, 1e-4);
}

TEST(FitCard, PutsAModelTogetherOfParts) {
    Driver d;
    QTemporaryDir folder;
    std::string content = "shift (cm^{-1}),counts\n";
    for (int i = 0; i <= 100; ++i) {
        const double x = 0.2 * i;
        content += fmt::format("{},{:.4f}\n", x,
                               50 * std::exp(-std::pow((x - 9) / 1.5, 2)) + 3 + 0.8 * x + std::sin(9.1 * i));
    }
    import(d, file(folder, "peak.csv", content));
    d.find("fit gaussian");
    d.click(d.window.analyse(), "+ part");
    auto* picker = qobject_cast<ModelPicker*>(QApplication::activePopupWidget());
    ASSERT_TRUE(picker);
    auto* search = picker->findChild<QLineEdit*>("pickerSearch");
    QTest::keyClicks(search, "straight line");
    QTest::keyClick(search, Qt::Key_Return);
    d.settle();
    ASSERT_EQ(only(d).model.children.size(), 2U);
    auto f = fitted(d);
    EXPECT_EQ(f.report->state, fit::FitState::Converged);
    EXPECT_NEAR(f.outcome->find("centre_1")->value, 9, 0.1);
    EXPECT_NEAR(f.outcome->find("slope_2")->value, 0.8, 0.1);
    // Multiplied instead, and back; then a part goes.
    d.choose(d.window.analyse(), "combiner", "product");
    auto* how = d.window.analyse()->findChild<QComboBox*>("combiner");
    Q_EMIT how->activated(how->currentIndex());
    d.settle();
    EXPECT_EQ(only(d).model.kind, "product");
    d.click(&d.window, "Undo");
    EXPECT_EQ(only(d).model.kind, "sum");
    for (QPushButton* b : d.window.analyse()->findChildren<QPushButton*>())
        if (b->isVisible() && b->text() == "×" && b->toolTip().contains("part")) {
            QTest::mouseClick(b, Qt::LeftButton);
            break;
        }
    d.settle();
    EXPECT_EQ(only(d).model.kind, "line");
    undoAll(d);
}

// Lines with intermediates, the fault in the second one marked there, then kept and taken again elsewhere.
TEST(FitCard, TakesAnEquationOfSeveralLinesAndKeepsIt) {
    QTemporaryDir library;
    qputenv("JOINTER_MODELS", library.path().toUtf8());
    Driver d;
    QTemporaryDir folder;
    import(d, decay(folder));
    d.find("fit your own equation");
    auto* field = d.window.analyse()->findChild<QPlainTextEdit*>("equation");
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, "k = 2*b");
    QTest::keyClick(field, Qt::Key_Return, Qt::ShiftModifier);
    QTest::keyClicks(field, "a*exp(-k*x) + log(c)");
    QTest::keyClick(field, Qt::Key_Return);
    d.settle();
    ASSERT_EQ(field->extraSelections().size(), 1);
    EXPECT_EQ(field->extraSelections()[0].cursor.blockNumber(), 1);
    QTest::keyClick(field, Qt::Key_End, Qt::ControlModifier);
    for (int i = 0; i < 6; ++i) QTest::keyClick(field, Qt::Key_Backspace);
    QTest::keyClicks(field, "c");
    QTest::keyClick(field, Qt::Key_Return);
    d.settle();
    EXPECT_TRUE(field->extraSelections().empty());
    EXPECT_EQ(only(d).model.settings.text("equation"), "k = 2*b\na*exp(-k*x) + c");
    auto f = fitted(d);
    EXPECT_NEAR(f.outcome->find("b")->value, 0.2, 0.01);
    d.type(d.window.analyse(), "startRules", "a = max(y); c = min(y)");
    EXPECT_EQ(only(d).model.settings.text("starts"), "a = max(y); c = min(y)");
    d.click(d.window.analyse(), "keep");
    d.type(d.window.analyse(), "keepName", "Pond decay");
    EXPECT_EQ(d.project().models.size(), 1U);
    const auto kept = modelsIn(personalModels());
    ASSERT_EQ(kept.value.size(), 1U);
    EXPECT_EQ(kept.value[0].starts, "a = max(y); c = min(y)");

    Driver other; // another project, the same person
    import(other, decay(folder, "again.csv"));
    other.find("fit straight line");
    QTest::mouseClick(other.window.analyse()->findChild<QPushButton*>("model"), Qt::LeftButton);
    auto* picker = qobject_cast<ModelPicker*>(QApplication::activePopupWidget());
    ASSERT_TRUE(picker);
    EXPECT_TRUE(QTest::qWaitFor([&] { return picker->isCurrent(); }, 10000));
    QTest::qWait(50); // what came late is shown
    other.click(picker, "Pond decay");
    EXPECT_EQ(only(other).model.settings.text("equation"), "k = 2*b\na*exp(-k*x) + c");
    EXPECT_EQ(only(other).name, "Pond decay");
    qunsetenv("JOINTER_MODELS");
}

// The start curve follows the slider, and nothing is fitted until Fit.
TEST(FitCard, MovesStartValuesBySlider) {
    Driver d;
    QTemporaryDir folder;
    import(d, decay(folder));
    d.find("fit exponential decay");
    openRow(d, "rate");
    auto* slider = d.window.analyse()->findChild<QSlider*>("startSlider");
    ASSERT_TRUE(slider && slider->isVisible());
    slider->setFocus();
    for (int i = 0; i < 60; ++i) QTest::keyClick(slider, Qt::Key_Right);
    d.settle();
    EXPECT_TRUE(only(d).settings.flag("hold"));
    const auto held = fitted(d);
    EXPECT_GT(held.outcome->find("rate")->value, 0.42);
    d.click(d.window.analyse(), "Fit");
    EXPECT_FALSE(only(d).settings.flag("hold"));
    EXPECT_NEAR(fitted(d).outcome->find("rate")->value, 0.4, 0.02);
}

TEST(FitCard, TheMenuOfDatasetsStaysOpen) {
    Driver d;
    QTemporaryDir folder;
    for (const char* name : {"a.csv", "b.csv", "c.csv"}) import(d, decay(folder, name));
    d.find("fit exponential decay");
    QTest::mouseClick(d.window.analyse()->findChild<QPushButton*>("members"), Qt::LeftButton);
    d.settle();
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    ASSERT_TRUE(menu);
    for (QAction* action : menu->actions())
        if (!action->isChecked())
            QTest::mouseClick(menu, Qt::LeftButton, {}, menu->actionGeometry(action).center());
    d.settle();
    EXPECT_TRUE(menu->isVisible());
    menu->close();
    EXPECT_EQ(only(d).inputs.size(), 3U);
}

TEST(FitCard, TakesSpansOfSeveralPiecesAndWhatLiesOutside) {
    Driver d;
    QTemporaryDir folder;
    import(d, decay(folder));
    d.find("fit exponential decay");
    PlotCanvas* plot = d.window.analyse()->canvas();
    QTest::keyClick(plot, Qt::Key_S);
    d.dragPlot(plot, 0.5, 3, 2.5);
    QTest::mousePress(plot, Qt::LeftButton, Qt::ShiftModifier, plot->toPixels(5, 2.5).toPoint());
    QTest::mouseMove(plot, plot->toPixels(6, 2.5).toPoint());
    QTest::mouseMove(plot, plot->toPixels(8, 2.5).toPoint());
    QTest::mouseRelease(plot, Qt::LeftButton, Qt::ShiftModifier, plot->toPixels(8, 2.5).toPoint());
    d.settle();
    ASSERT_EQ(only(d).inputs[0].span.pieces.size(), 2U);
    EXPECT_NEAR(only(d).inputs[0].span.pieces[1].first, 5, 0.2);
    const std::size_t inside = fitted(d).report->n;
    auto* side = d.window.analyse()->findChild<QComboBox*>("spanSide");
    side->setFocus();
    QTest::keyClick(side, Qt::Key_Down);
    d.settle();
    EXPECT_TRUE(only(d).inputs[0].span.outside);
    EXPECT_EQ(fitted(d).report->n, 40 - inside);
    // An end of the second piece by its handle, and the piece gone by its cross.
    QTest::keyClick(plot, Qt::Key_Escape);
    d.dragPlot(plot, only(d).inputs[0].span.pieces[1].second, 9, 2.5);
    EXPECT_NEAR(only(d).inputs[0].span.pieces[1].second, 9, 0.2);
    d.type(d.window.analyse(), "spanLow2", "4");
    EXPECT_EQ(only(d).inputs[0].span.pieces[1].first, 4);
    for (QPushButton* b : d.window.analyse()->findChildren<QPushButton*>())
        if (b->isVisible() && b->toolTip().contains("this piece")) {
            QTest::mouseClick(b, Qt::LeftButton);
            break;
        }
    d.settle();
    EXPECT_EQ(only(d).inputs[0].span.pieces.size(), 1U);
    undoAll(d);
}

TEST(FitCard, ShowsTheProfileOfAParameter) {
    Driver d;
    QTemporaryDir folder;
    import(d, decay(folder));
    d.find("fit exponential decay");
    d.click(d.window.analyse(), "details");
    d.window.document().apply(edits::changeAnalysis(
        only(d).id, "Profile", [](Analysis& a) { a.settings.set("interval", "profile"); }));
    d.settle();
    d.click(d.window.analyse(), "profile");
    PlotCanvas* strip = d.window.analyse()->strip();
    ASSERT_EQ(strip->content().marks.size(), 2U);
    ASSERT_TRUE(strip->geometryShown());
    const auto amplitude = fitted(d).outcome->find("amplitude");
    EXPECT_LT(strip->geometryShown()->x.low(), amplitude->low);
    EXPECT_GT(strip->geometryShown()->x.high(), amplitude->high);
    auto* which = d.window.analyse()->findChild<QComboBox*>("stripChoice");
    ASSERT_TRUE(which->isVisible());
    which->setFocus();
    QTest::keyClick(which, Qt::Key_Down);
    d.settle();
    EXPECT_EQ(strip->content().marks[0].settings.text("named"), "rate");
    EXPECT_LT(strip->geometryShown()->x.high(), 1);
}

// Over two predictors: slices of the surface, and residuals over the second.
TEST(FitCard, ShowsASurfaceInSlices) {
    Driver d;
    QTemporaryDir folder;
    std::string content = "s,i,v\n";
    for (int i = 0; i < 10; ++i)
        for (double inhibitor : {0.0, 2.0, 5.0})
            content +=
                fmt::format("{},{},{:.5f}\n", 1 + i, inhibitor,
                            9.0 * (1 + i) / (3 * (1 + inhibitor / 2) + 1 + i) + 0.02 * std::sin(5.0 * i));
    const std::string path = file(folder, "rates.csv", content);
    d.drop({QString::fromStdString(path)});
    d.click(d.window.data()->import(), "Import");
    const Table& t = d.project().tables[0];
    d.window.document().apply(edits::changeDataset(d.window.document().dataset(), "Roles", [&](Dataset& x) {
        x.source.roles = {{Role::X, t.columns[0].id}, {Role::X, t.columns[1].id}, {Role::Y, t.columns[2].id}};
    }));
    d.find("fit your own equation");
    d.type(d.window.analyse(), "equation", "a*x1/(k*(1 + x2/c) + x1)");
    const auto f = fitted(d);
    ASSERT_TRUE(f.good()) << f.error().text;
    EXPECT_NEAR(f.outcome->find("a")->value, 9, 0.2);
    int slices = 0;
    for (const Element& m : d.window.analyse()->canvas()->content().marks)
        slices += m.settings.text("role") == "slice";
    EXPECT_EQ(slices, 3);
    d.window.resize(1200, 760); // drawn again: not twice as many
    d.settle();
    slices = 0;
    for (const Element& m : d.window.analyse()->canvas()->content().marks)
        slices += m.settings.text("role") == "slice";
    EXPECT_EQ(slices, 3);
    auto* which = d.window.analyse()->findChild<QComboBox*>("stripChoice");
    ASSERT_TRUE(which->isVisible());
    which->setFocus();
    QTest::keyClick(which, Qt::Key_Down);
    d.settle();
    EXPECT_EQ(d.window.analyse()->strip()->content().marks[0].settings.text("role"), "residuals-over");
    EXPECT_LT(d.window.analyse()->strip()->geometryShown()->x.high(), 6);
    // x1 and x2 are no parameters: neither when a start value slides nor when a step is recorded.
    openRow(d, "k");
    auto* slider = d.window.analyse()->findChild<QSlider*>("startSlider");
    slider->setFocus();
    for (int i = 0; i < 30; ++i) QTest::keyClick(slider, Qt::Key_Right);
    d.settle();
    EXPECT_TRUE(fitted(d).good()) << "held";
    d.click(d.window.analyse(), "details");
    d.click(d.window.analyse(), "record");
    d.click(d.window.analyse(), "Fit");
    const auto again = fitted(d);
    ASSERT_TRUE(again.good()) << again.error().text;
    EXPECT_EQ(only(d).settings.rows("schedule")[0].text("release"), "a, k, c");
    EXPECT_NEAR(again.outcome->find("a")->value, 9, 0.2);
}

// A wild point under a robust loss is ringed.
TEST(FitCard, MarksWhatARobustLossHardlyCounts) {
    Driver d;
    QTemporaryDir folder;
    std::string content = "x,y\n";
    for (int i = 0; i < 30; ++i)
        content += fmt::format("{},{}\n", i, 2 * i + (i == 12 ? 40 : 0.1 * std::sin(11.3 * i)));
    import(d, file(folder, "wild.csv", content));
    d.find("fit straight line");
    d.window.document().apply(
        edits::changeAnalysis(only(d).id, "Loss", [](Analysis& a) { a.settings.set("loss", "bisquare"); }));
    d.settle();
    int ringed = 0;
    for (const Element& m : d.window.analyse()->canvas()->content().marks)
        ringed += m.settings.text("role") == "disregarded";
    EXPECT_EQ(ringed, 1);
    const auto* curve = fitted(d).outcome->curve("disregarded");
    ASSERT_EQ(curve->points->size(), 1U);
    EXPECT_EQ(curve->points->x[0], 12);
}

// A table dropped on the plot gets a column that follows the fit.
TEST(FitCard, PredictsADroppedColumn) {
    Driver d;
    QTemporaryDir folder;
    import(d, decay(folder));
    import(d, file(folder, "times.csv", "when (h),note\n1,a\n2.5,b\n30,c\n"));
    d.window.document().selectDataset(d.project().datasets[0].id);
    d.find("fit exponential decay");
    const TableId times = d.project().tables[1].id;
    dropTable(d, d.window.analyse()->canvas(), times); // a single column can be meant
    auto table = d.window.document().session().evaluator().table(d.project(), times);
    ASSERT_EQ(table.value.columns.size(), 3U);
    EXPECT_NEAR(table.value.columns[2].numbers()[1], 4 * std::exp(-1.0) + 1, 0.05);
    EXPECT_EQ(table.issues[0].code, "extrapolated");
    EXPECT_TRUE(table.value.columns[2].cells->originals.contains(2)) << "marked where it is beyond";
    EXPECT_FALSE(table.value.columns[2].cells->originals.contains(1));
    EXPECT_EQ(table.value.columns[2].unit, "mg/L");
    EXPECT_THAT(d.said().toStdString(), HasSubstr("follows the fit"));
}

// Numbers of the curve from the menu; many starts with their ends; steps of release recorded.
TEST(FitCard, DerivesNumbersListsEndsAndRecordsSteps) {
    Driver d;
    QTemporaryDir folder;
    import(d, decay(folder));
    d.find("fit exponential decay");
    d.click(d.window.analyse(), "details");
    d.click(d.window.analyse(), "Numbers of the curve");
    d.choose("Area below the curve");
    EXPECT_NEAR(fitted(d).outcome->find("area")->value, 10 * (1 - std::exp(-0.4 * 9.75)) + 9.75, 0.3);
    EXPECT_EQ(fitted(d).outcome->find("area")->unit, "(mg/L)·h");
    d.window.document().apply(
        edits::changeAnalysis(only(d).id, "Starts", [](Analysis& a) { a.settings.set("starts", 12); }));
    d.settle();
    EXPECT_THAT(d.window.analyse()->findChild<QLabel*>("ends")->text().toStdString(), HasSubstr("start"));
    d.click(d.window.analyse(), "record");
    d.window.document().apply(edits::changeAnalysis(only(d).id, "Fix", [](Analysis& a) {
        a.parameters = {{.name = "rate", .treatment = Treatment::Fixed, .start = 0.5}};
    }));
    d.click(d.window.analyse(), "Fit");
    ASSERT_EQ(only(d).settings.rows("schedule").size(), 1U);
    EXPECT_EQ(only(d).settings.rows("schedule")[0].text("release"), "amplitude, plateau");
    d.window.document().apply(
        edits::changeAnalysis(only(d).id, "Free", [](Analysis& a) { a.parameters.clear(); }));
    d.click(d.window.analyse(), "Fit");
    EXPECT_EQ(only(d).settings.rows("schedule").size(), 2U);
    const auto f = fitted(d);
    ASSERT_TRUE(f.good()) << f.error().text;
    EXPECT_EQ(f.report->stages.size(), 2U);
    undoAll(d);
}

TEST(FitCard, SaysWhatAModelIsFor) {
    Driver d;
    QTemporaryDir folder;
    import(d, decay(folder));
    d.find("fit exponential decay");
    d.click(d.window.analyse(), "about it");
    auto* popup = QApplication::activePopupWidget();
    ASSERT_TRUE(popup);
    const auto* help = popup->findChild<QLabel*>("modelHelp");
    ASSERT_TRUE(help);
    EXPECT_THAT(help->text().toStdString(), HasSubstr("plateau"));
    popup->close();
}
