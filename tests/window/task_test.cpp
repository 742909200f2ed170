// SPDX-License-Identifier: GPL-3.0-or-later
// The whole task through the real window, by the events a person makes: drop a file, look, import, clean,
// fit, draw, export, undo, redo, save, reopen.
#include "driver.h"
#include "evaluate/results.h"

#include <QAbstractItemView>
#include <QFileInfo>
#include <QGroupBox>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QProcess>
#include <QScrollBar>
#include <QSlider>
#include <QSpinBox>
#include <QTabBar>
#include <QTextEdit>
#include <nlohmann/json.hpp>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

TEST(Task, FromAFileToAPrintedFigure) {
    QTemporaryDir folder;
    const std::string raw = writeRaw(folder, "shell_28d.csv");
    Driver d;
    const Project empty = d.project();

    d.drop({QString::fromStdString(raw)});
    QWidget* preview = d.window.data()->import();
    EXPECT_TRUE(d.button(preview, "Import")->isEnabled());
    EXPECT_EQ(preview->findChild<QListWidget*>("rawLines")->count(), 400);
    d.click(preview, "Import");
    ASSERT_EQ(d.project().datasets.size(), 1U);
    EXPECT_EQ(d.project().tables[0].rowCount(), 400U);

    d.stage("Clean");
    PlotCanvas* plot = d.window.clean()->canvas();
    const auto cells = [&](std::size_t row) {
        return std::pair(d.project().tables[0].columns[0].numbers()[row],
                         d.project().tables[0].columns[1].numbers()[row]);
    };
    d.click(d.window.clean(), "Leave out");
    for (std::size_t spike : {90U, 222U}) d.clickPlot(plot, cells(spike).first, cells(spike).second);
    ASSERT_EQ(d.dataset().protocol.size(), 1U);
    EXPECT_THAT(d.dataset().protocol[0].settings.numbers("rows"), testing::ElementsAre(91, 223));

    d.find("smooth");
    ASSERT_EQ(d.dataset().protocol.size(), 2U);
    EXPECT_EQ(d.dataset().protocol[1].kind, "smooth");
    // The window by slider: one entry in the history, however far it moves.
    const std::size_t entries = d.window.document().session().history().undoCount();
    auto* slider = d.window.clean()->findChild<QSlider*>();
    ASSERT_TRUE(slider);
    slider->setFocus();
    for (int i = 0; i < 6; ++i) QTest::keyClick(slider, Qt::Key_Right);
    d.settle();
    EXPECT_EQ(d.dataset().protocol[1].settings.integer("window"), 17);
    EXPECT_EQ(d.window.document().session().history().undoCount(), entries + 1);

    d.click(d.window.clean(), "Anchor");
    for (double x : {641.0, 655.0, 722.0, 770.0, 799.0}) d.clickPlot(plot, x, 1000);
    ASSERT_EQ(d.dataset().protocol.size(), 3U);
    EXPECT_EQ(d.dataset().protocol[2].settings.numbers("anchors").size(), 10U);
    // A handle is dragged as one edit.
    const std::size_t before = d.window.document().session().history().undoCount();
    const Numbers anchors = d.dataset().protocol[2].settings.numbers("anchors");
    const auto protocol = d.window.document().session().evaluator().protocol(d.project(), d.dataset().id);
    const auto& base = protocol.end();
    const double y = base.output->layer("baseline")->y[nearestPoint(base.curve().x, anchors[4])];
    d.dragPlot(plot, anchors[4], 726, y);
    EXPECT_NEAR(d.dataset().protocol[2].settings.numbers("anchors")[4], 726, 0.5);
    EXPECT_EQ(d.window.document().session().history().undoCount(), before + 1);

    d.stage("Analyse");
    d.find("fit gaussian");
    ASSERT_EQ(d.project().analyses.size(), 1U);
    EXPECT_EQ(d.project().analyses[0].model.kind, "gaussian");
    d.click(d.window.analyse(), "Span");
    d.dragPlot(d.window.analyse()->canvas(), 692, 714, 500);
    EXPECT_NEAR(d.project().analyses[0].inputs[0].span.low(), 692, 1);
    EXPECT_NEAR(d.project().analyses[0].inputs[0].span.high(), 714, 1);
    const auto fit = d.fit();
    ASSERT_TRUE(fit.good());
    EXPECT_EQ(fit.report->state, fit::FitState::Converged);
    EXPECT_NEAR(fit.one().parameters[0].value, 703.5, 1.0);

    d.stage("Figure");
    d.find("new figure");
    ASSERT_EQ(d.project().figures.size(), 1U);
    d.click(d.window.figure(), "+ Note");
    d.choose("Text");
    const auto layout =
        figure::layOut(d.project(), d.project().figures[0], d.window.document().session().evaluator());
    std::string words;
    for (const draw::Item& item : layout.list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) words += run->text + " ";
    EXPECT_THAT(words, testing::HasSubstr("centre = (703"));
    EXPECT_THAT(words, testing::HasSubstr("±"));
    for (const char* name : {"figure.pdf", "figure.svg", "figure.png"}) {
        const QString path = folder.filePath(name);
        ASSERT_TRUE(d.window.exportTo(path));
        EXPECT_TRUE(QTest::qWaitFor(
            [&] { return d.window.findChild<QLabel*>("readoutLeft")->text().startsWith("Wrote " + path); },
            20000))
            << name;
        EXPECT_GT(QFileInfo(path).size(), 1000);
    }

    const Project done = d.project();
    undoAll(d);
    EXPECT_TRUE(d.project() == empty);
    for (int i = 0; i < 100 && !d.window.document().session().history().redoName().empty(); ++i)
        d.click(&d.window, "Redo");
    EXPECT_TRUE(d.project() == done);

    const QString path = folder.filePath("task.jointer");
    ASSERT_TRUE(d.window.saveTo(path));
    Driver again;
    again.window.openPath(path);
    again.settle();
    EXPECT_TRUE(again.project() == done);
    EXPECT_EQ(again.fit().one().values(), fit.one().values());
}

// The window and the command line are two faces of one core.
TEST(Task, TheCommandLineGivesTheSameNumbers) {
    QTemporaryDir folder;
    const std::string raw = writeRaw(folder, "shell_90d.csv");
    Driver d;
    d.drop({QString::fromStdString(raw)});
    d.click(d.window.data()->import(), "Import");
    d.stage("Analyse");
    d.find("fit lorentzian");
    d.window.document().apply(edits::changeAnalysis(d.project().analyses[0].id, "", [](Analysis& a) {
        a.model.settings.set("base", "line");
        a.inputs[0].span = Span(690, 716);
        a.inputs[0].weights.set("weights", "absolute");
    }));
    const auto fit = d.fit();
    ASSERT_TRUE(fit.good());
    QProcess cli;
    cli.start(QString(JOINTER_BINARY_DIR) + "/bin/jointer-cli",
              {"fit", QString::fromStdString(raw), "--x", "shift", "--y", "counts", "--sigma", "sd",
               "--absolute", "--model", "lorentzian", "--set", "base=line", "--span", "690:716", "--json"});
    ASSERT_TRUE(cli.waitForFinished(20000));
    const auto json = nlohmann::json::parse(cli.readAllStandardOutput().toStdString());
    for (std::size_t k = 0; k < fit.one().parameters.size(); ++k) {
        EXPECT_EQ(json["parameters"][k]["value"].get<double>(), fit.one().parameters[k].value);
        EXPECT_EQ(json["parameters"][k]["se"].get<double>(), fit.one().parameters[k].se);
    }
    EXPECT_EQ(json["chi2"].get<double>(), *fit.report->chi2);
}

TEST(Window, EscapeAlwaysLeadsBackToThePointer) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Clean");
    PlotCanvas* plot = d.window.clean()->canvas();
    for (const char* tool : {"Zoom", "Span", "Leave out", "Anchor"}) {
        d.click(d.window.clean(), tool);
        EXPECT_NE(plot->tool(), Tool::Pointer) << tool;
        QTest::keyClick(plot, Qt::Key_Escape);
        EXPECT_EQ(plot->tool(), Tool::Pointer) << tool;
    }
}

TEST(Window, ZoomingIsNoEdit) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Clean");
    PlotCanvas* plot = d.window.clean()->canvas();
    d.click(d.window.clean(), "Zoom");
    QTest::mousePress(plot, Qt::LeftButton, {}, plot->toPixels(690, 1000).toPoint());
    QTest::mouseMove(plot, plot->toPixels(710, 3000).toPoint());
    QTest::mouseRelease(plot, Qt::LeftButton, {}, plot->toPixels(710, 3000).toPoint());
    d.settle();
    ASSERT_TRUE(plot->geometryShown());
    EXPECT_NEAR(plot->geometryShown()->x.low(), 690, 1);
    EXPECT_NEAR(plot->geometryShown()->x.high(), 710, 1);
    EXPECT_EQ(d.window.document().session().history().undoCount(), 0U);
    d.stage("Analyse"); // the range of x stays
    EXPECT_NEAR(d.window.analyse()->canvas()->geometryShown()->x.low(), 690, 1);
    d.click(d.window.analyse(), "Show all");
    EXPECT_LT(d.window.analyse()->canvas()->geometryShown()->x.low(), 645);
}

TEST(Window, BadInputIsSaidAndNothingIsLost) {
    QTemporaryDir folder;
    const QString bad = folder.filePath("bad.csv");
    std::ofstream(bad.toStdString()).put('\0');
    Driver d;
    d.window.openPath("demo:");
    const Project before = d.project();
    d.drop({bad});
    EXPECT_FALSE(d.button(d.window.data()->import(), "Import")->isEnabled());
    QTest::keyClick(d.window.data()->import(), Qt::Key_Escape);
    d.settle();
    EXPECT_TRUE(d.project() == before);
    d.window.openPath(folder.filePath("missing.jointer"));
    EXPECT_THAT(d.window.findChild<QLabel*>("readoutLeft")->text().toStdString(),
                testing::HasSubstr("missing.jointer"));
    EXPECT_TRUE(d.project() == before);
}

TEST(Window, StartValuesOneIterationAndFit) {
    Driver d;
    d.window.openPath("demo:");
    d.window.document().selectDataset(d.project().datasets[3].id);
    d.stage("Analyse");
    d.find("fit your own equation");
    const AnalysisId id = d.window.document().analysis();
    auto now = [&] { return d.project().analyses.find(id); };
    auto* equation = d.window.analyse()->findChild<QPlainTextEdit*>("equation");
    equation->setFocus();
    equation->selectAll();
    QTest::keyClicks(equation, "a + b*x^c");
    QTest::keyClick(equation, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(now()->model.settings.text("equation"), "a + b*x^c");
    d.click(d.window.analyse(), "start values");
    EXPECT_TRUE(now()->settings.flag("hold"));
    d.click(d.window.analyse(), "details");
    d.click(d.window.analyse(), "a single step");
    EXPECT_TRUE(QTest::qWaitFor([&] { return now()->parameters.size() == 3; }, 10000));
    d.click(d.window.analyse(), "Fit");
    EXPECT_FALSE(now()->settings.flag("hold"));
    const auto fit = test::fitOf(d.window.document().session().evaluator(), d.project(), *now());
    EXPECT_EQ(fit.report->state, fit::FitState::Converged);
    EXPECT_NEAR(fit.one().parameters[2].value, 1, 0.1);
    // A half-typed equation is shown as such and changes nothing else.
    equation->setFocus();
    equation->selectAll();
    QTest::keyClicks(equation, "a + log(x)");
    QTest::keyClick(equation, Qt::Key_Return);
    d.settle();
    bool said = false;
    for (QLabel* label : d.window.analyse()->findChildren<QLabel*>())
        said |= label->isVisible() && label->text().contains("log10");
    EXPECT_TRUE(said);
}

namespace {

// What a screen reader says of a control: its name, its own text, or the label that belongs to it.
bool hasName(const QWidget* control, const QWidget& window) {
    if (!control->accessibleName().isEmpty()) return true;
    if (const auto* button = qobject_cast<const QAbstractButton*>(control);
        button && !button->text().isEmpty())
        return true;
    if (const auto* words = qobject_cast<const QLabel*>(control)) return !words->text().isEmpty();
    if (const auto* box = qobject_cast<const QGroupBox*>(control); box && !box->title().isEmpty())
        return true;
    return std::ranges::any_of(window.findChildren<QLabel*>(),
                               [&](const QLabel* label) { return label->buddy() == control; });
}

// What can be operated: reached by the keyboard or clicked. Parts of other controls belong to those.
bool isControl(const QWidget* w) {
    const bool operated = qobject_cast<const QAbstractButton*>(w) || qobject_cast<const QLineEdit*>(w) ||
                          qobject_cast<const QComboBox*>(w) || qobject_cast<const QAbstractSpinBox*>(w) ||
                          qobject_cast<const QAbstractSlider*>(w) ||
                          qobject_cast<const QAbstractItemView*>(w) ||
                          qobject_cast<const QPlainTextEdit*>(w) || qobject_cast<const QTextEdit*>(w) ||
                          w->focusPolicy() != Qt::NoFocus;
    const QWidget* parent = w->parentWidget();
    const bool part = w->objectName().startsWith("qt_") || qobject_cast<const QScrollBar*>(w) ||
                      qobject_cast<const QComboBox*>(parent) ||
                      qobject_cast<const QAbstractSpinBox*>(parent) ||
                      qobject_cast<const QAbstractItemView*>(parent) || qobject_cast<const QTabBar*>(w) ||
                      w->inherits("QComboBoxPrivateContainer") || w->inherits("QTableCornerButton");
    return operated && !part && w->isVisible();
}

} // namespace

TEST(Window, EveryControlHasANameForScreenReaders) {
    Driver d;
    d.window.openPath("demo:");
    int seen = 0;
    for (const char* stage : {"Data", "Clean", "Analyse", "Figure", "Results"}) {
        d.stage(stage);
        for (const QWidget* w : d.window.findChildren<QWidget*>()) {
            if (!isControl(w)) continue;
            ++seen;
            EXPECT_TRUE(hasName(w, d.window)) << stage << ": a " << w->metaObject()->className()
                                              << " called “" << w->objectName().toStdString() << "” in “"
                                              << w->parentWidget()->objectName().toStdString() << "”";
        }
    }
    EXPECT_GT(seen, 100);
}

TEST(Window, AHouseStyleChangesTheWholeFigure) {
    Driver d;
    d.window.openPath("demo:");
    d.window.document().selectFigure(d.project().figures[1].id);
    d.stage("Figure");
    auto* style = d.window.figure()->findChild<QComboBox*>("houseStyle");
    ASSERT_TRUE(style && style->isVisible());
    style->setFocus();
    QTest::keyClick(style, Qt::Key_Down);
    d.settle();
    const draw::Rect page = figure::pageOf(d.project(), d.project().figures[1]);
    EXPECT_EQ(page.width, 240);
    EXPECT_EQ(d.window.figure()->findChild<QLineEdit*>("width")->text(), "240");
    d.click(&d.window, "Undo");
    EXPECT_EQ(figure::pageOf(d.project(), d.project().figures[1]).width, 85);
}
