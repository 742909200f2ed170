// SPDX-License-Identifier: GPL-3.0-or-later
// Clean by real events: a spectrum with spikes on a curved background, a dose–response, what is looked at,
// several datasets at once.
#include "driver.h"

#include "app/panes/dataset_list.h"
#include "app/panes/sentence_row.h"
#include "app/theme/theme.h"

#include <QClipboard>
#include <QListWidget>
#include <QMenu>
#include <QStyleOptionComboBox>
#include <fmt/format.h>
#include <random>

using namespace jointer;
using namespace jointer::test;

namespace {

// Six spikes on three bands over a curved background.
std::string spectrumFile(unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> noise(0, 8);
    std::string text = "shift,counts\n";
    for (int i = 0; i < 400; ++i) {
        const double x = 500 + 0.5 * i;
        double y = 900 + 300 * std::sin((x - 480) / 90);
        for (const auto& [at, height, width] :
             {std::tuple(545.0, 700.0, 6.0), {600.0, 1100.0, 9.0}, {655.0, 500.0, 7.0}})
            y += height / (1 + std::pow(2 * (x - at) / width, 2));
        for (int spike : {40, 91, 150, 202, 290, 361})
            if (i == spike) y += 900;
        text += fmt::format("{:.1f},{:.1f}\n", x, y + noise(random));
    }
    return text;
}

class Station : public Driver {
public:
    using Files = std::vector<std::pair<std::string, std::string>>;
    explicit Station(const Files& files) {
        for (const auto& [name, text] : files) {
            const std::string path = folder_.filePath(QString::fromStdString(name)).toStdString();
            std::ofstream(path) << text;
            drop({QString::fromStdString(path)});
            if (QWidget* preview = window.data()->import(); preview && preview->isVisible())
                click(preview, "Import");
        }
        stage("Clean");
    }
    PlotCanvas* plot() { return window.clean()->canvas(); }
    const Dataset& current() { return *window.document().currentDataset(); }
    const Step& last() { return current().protocol.back(); }
    evaluate::ProtocolResult result() {
        return window.document().session().evaluator().protocol(project(), current().id);
    }
    const std::vector<steps::Handle>& handles() { return plot()->content().handles; }
    void clickHandle(const steps::Handle& h) { clickPlot(plot(), h.x, h.y); }
    void dragHandle(steps::Handle h, double toX, double toY) {
        QTest::mousePress(plot(), Qt::LeftButton, {}, plot()->toPixels(h.x, h.y).toPoint());
        for (double share : {0.3, 0.7, 1.0})
            QTest::mouseMove(
                plot(), plot()->toPixels(std::lerp(h.x, toX, share), std::lerp(h.y, toY, share)).toPoint());
        QTest::mouseRelease(plot(), Qt::LeftButton, {}, plot()->toPixels(toX, toY).toPoint());
        settle();
    }
    SentenceRow* row(std::size_t i) {
        for (auto* r : window.clean()->findChildren<SentenceRow*>())
            if (r->property("step").toULongLong() == current().protocol[i].id.value) return r;
        return nullptr;
    }
    QPushButton* eye(std::size_t i) { return row(i)->findChild<QPushButton*>("look"); }

private:
    QTemporaryDir folder_;
};

} // namespace

TEST(Clean, ASpectrumBecomesClean) {
    Station d(
        Station::Files{{"a.csv", spectrumFile(1)}, {"b.csv", spectrumFile(2)}, {"c.csv", spectrumFile(3)}});
    ASSERT_EQ(d.project().datasets.size(), 3U);
    const Project before = d.project();
    const std::size_t entries = d.entries();

    d.find("take off spikes");
    ASSERT_EQ(d.last().kind, "despike");
    ASSERT_EQ(d.handles().size(), 6U);
    for (const auto& h : d.handles()) EXPECT_EQ(h.state, steps::HandleState::Proposed);
    d.clickHandle(d.handles()[2]);
    EXPECT_EQ(d.last().settings.numbers("refused"), (Numbers{151}));
    EXPECT_EQ(d.handles()[2].state, steps::HandleState::Refused);
    EXPECT_EQ(std::ranges::count(d.result().end().curve().made, 1), 5);

    d.find("baseline");
    d.choose(d.window.clean(), "method", "arpls");
    ASSERT_TRUE(d.plot()->content().handledOutput->draft);
    ASSERT_GE(d.handles().size(), 3U);
    // Dragging a proposed anchor takes the draft over; then it is one among anchors.
    const std::size_t proposed = d.handles().size();
    d.dragHandle(d.handles()[1], d.handles()[1].x + 1, d.handles()[1].y + 40);
    EXPECT_EQ(d.last().settings.text("method"), "anchors");
    EXPECT_EQ(d.last().settings.numbers("anchors").size(), 2 * proposed);
    EXPECT_EQ(d.handles()[1].state, steps::HandleState::Accepted);
    const double moved = d.handles()[2].x + 4;
    d.dragHandle(d.handles()[2], moved, d.handles()[2].y);
    EXPECT_NEAR(d.last().settings.numbers("anchors")[4], moved, 0.6);
    QTest::mouseMove(d.plot(), d.plot()->toPixels(d.handles()[1].x, d.handles()[1].y).toPoint());

    d.find("smooth");
    d.find("normalise");
    ASSERT_EQ(d.current().protocol.size(), 4U);
    EXPECT_NEAR(numbersOfSpan(d.result().end().curve(), -1e9, 1e9).maximum, 1, 1e-12);

    // To the two others, by the menu of the protocol.
    std::vector<DatasetId> all;
    for (const auto& set : d.project().datasets) all.push_back(set->id);
    std::ranges::rotate(all, std::ranges::find(all, d.current().id));
    d.window.document().selectDatasets(all);
    d.settle();
    d.click(d.window.clean(), "Protocol menu");
    d.choose("Give this protocol to the other selected datasets");
    for (const auto& set : d.project().datasets) {
        ASSERT_EQ(set->protocol.size(), 4U);
        EXPECT_EQ(set->protocol[0].settings.has("refused"), set->id == d.current().id)
            << "by hand: of its own table";
    }
    const Project done = d.project();
    const std::size_t made = d.entries() - entries;
    for (std::size_t i = 0; i < made; ++i) d.click(&d.window, "Undo");
    EXPECT_TRUE(d.project().datasets == before.datasets);
    for (std::size_t i = 0; i < made; ++i) d.click(&d.window, "Redo");
    EXPECT_TRUE(d.project().datasets == done.datasets);
}

TEST(Clean, ADoseResponseKeepsItsZeroDoseAndReplicates) {
    Station d(Station::Files{
        {"plate.csv",
         "Dose (µM),a,b,c\n0,100,104,96\n1,98,95,99\n10,70,66,71\n100,25,22,27\n1000,8,10,9\n"}});
    d.window.document().apply(edits::changeDataset(d.current().id, "Roles", [&](Dataset& x) {
        const Table& t = d.project().tables[0];
        x.source.roles = {{Role::X, t.columns[0].id}};
        for (std::size_t k = 1; k < 4; ++k) x.source.roles.push_back({Role::Y, t.columns[k].id});
    }));
    d.window.document().apply(edits::changeTable(d.project().tables[0].id, "Controls",
                                                 [](Table& t) { t.rowKinds[1] = RowKind::Control; }));
    d.settle();
    d.find("normalise");
    d.choose(d.window.clean(), "to", "references");
    d.find("transform");
    d.choose(d.window.clean(), "x-by", "log10");
    EXPECT_EQ(d.result().end().curve().size(), 4U) << "a dose of zero has no logarithm";
    d.choose(d.window.clean(), "outside", "control");
    const Curve c = d.result().end().curve();
    ASSERT_EQ(c.size(), 5U);
    EXPECT_NEAR(c.x[0], -1, 1e-12);
    ASSERT_EQ(d.plot()->content().axisNotes.size(), 1U) << "what stands there is said on the axis";
    EXPECT_NEAR(d.plot()->content().axisNotes[0].at, -1, 1e-12);
    EXPECT_EQ(d.plot()->content().axisNotes[0].says, "stands for 0");
    EXPECT_TRUE(c.isMade(0));
    ASSERT_EQ(c.replicates.size(), 3U);
    EXPECT_NEAR((c.replicates[0][0] + c.replicates[1][0] + c.replicates[2][0]) / 3, 100, 1e-9)
        << "controls read 100 %";
    EXPECT_EQ(c.yMeaning.unit, "%");
    ASSERT_EQ(c.common.size(), 1U) << "the error of the controls is common to all";
}

TEST(Clean, EachPlaceOfTheProtocolCanBeLookedAt) {
    Station d(Station::Files{{"a.csv", spectrumFile(4)}});
    d.find("take off spikes");
    d.find("normalise");
    const StepId first = d.current().protocol[0].id, second = d.current().protocol[1].id;
    auto shown = [&] { return d.plot()->content().probedPoint; };
    d.window.document().openStep({});
    d.settle();
    EXPECT_EQ(shown().step, second) << "nothing is open: the end";
    QTest::mouseClick(d.eye(0), Qt::LeftButton);
    d.settle();
    EXPECT_EQ(shown().step, first);
    QTest::mouseClick(d.eye(0), Qt::LeftButton);
    d.settle();
    EXPECT_EQ(shown().place, CurvePoint::Place::Measured) << "before the first step";
    QTest::mouseClick(d.eye(0), Qt::LeftButton);
    d.settle();
    EXPECT_EQ(shown().step, second);
    d.plot()->setFocus();
    QTest::keyPress(d.plot(), Qt::Key_M);
    d.settle();
    EXPECT_EQ(shown().place, CurvePoint::Place::Measured) << "while M is held";
    QTest::keyRelease(d.plot(), Qt::Key_M);
    d.settle();
    EXPECT_EQ(shown().step, second);
    d.window.document().openStep(first);
    d.settle();
    EXPECT_EQ(shown().step, first) << "what is open is seen";
    EXPECT_EQ(d.handles().size(), 6U);
}

TEST(Clean, ZoomsHaveAHistory) {
    Station d(Station::Files{{"a.csv", spectrumFile(5)}});
    d.click(d.window.clean(), "Zoom");
    const auto whole = d.plot()->geometryShown()->x;
    d.dragPlot(d.plot(), 540, 620, 1500);
    const auto near = d.plot()->geometryShown()->x;
    EXPECT_LT(near.high() - near.low(), 0.6 * (whole.high() - whole.low()));
    QTest::keyClick(d.plot(), Qt::Key_Left, Qt::AltModifier);
    d.settle();
    EXPECT_NEAR(d.plot()->geometryShown()->x.low(), whole.low(), 1e-9);
    QTest::keyClick(d.plot(), Qt::Key_Right, Qt::AltModifier);
    d.settle();
    EXPECT_NEAR(d.plot()->geometryShown()->x.low(), near.low(), 1e-9);
}

TEST(Clean, ALassoLeavesOutWhatItHolds) {
    Station d(Station::Files{{"few.csv", "x,y\n0,0\n1,0\n2,5\n3,5\n4,0\n5,0\n"}});
    d.click(d.window.clean(), "Leave out");
    QPointF at[] = {d.plot()->toPixels(1.5, 5.2), d.plot()->toPixels(2.5, 5.2), d.plot()->toPixels(2.5, 4),
                    d.plot()->toPixels(1.5, 4)};
    QTest::mousePress(d.plot(), Qt::LeftButton, Qt::AltModifier, at[0].toPoint());
    for (const QPointF& p : at) QTest::mouseMove(d.plot(), p.toPoint());
    QTest::mouseRelease(d.plot(), Qt::LeftButton, Qt::AltModifier, at[3].toPoint());
    d.settle();
    ASSERT_EQ(d.current().protocol.size(), 1U);
    EXPECT_EQ(d.last().settings.numbers("rows"), (Numbers{3}));
}

TEST(Clean, TheNumbersOfASpanAreCopied) {
    Station d(Station::Files{{"line.csv", "x,y\n0,1\n1,2\n2,3\n3,4\n4,5\n5,6\n"}});
    d.click(d.window.clean(), "Span");
    d.dragPlot(d.plot(), 1, 4, 3);
    QTest::keyClick(d.plot(), Qt::Key_C, Qt::ControlModifier);
    const QStringList lines = QGuiApplication::clipboard()->text().split('\n');
    ASSERT_GE(lines.size(), 2);
    const QStringList names = lines[0].split('\t'), values = lines[1].split('\t');
    ASSERT_EQ(names.size(), values.size());
    EXPECT_EQ(values[names.indexOf("points")], "4");
    EXPECT_EQ(values[names.indexOf("mean")], "3.5");
    EXPECT_EQ(values[names.indexOf("area")], "10.5");
    EXPECT_EQ(values[names.indexOf("maximum")], "5");
}

TEST(Clean, TheStripShowsFrequenciesAndItsTabMovesTheCutOff) {
    Station d(Station::Files{{"a.csv", spectrumFile(6)}});
    d.find("smooth");
    d.choose(d.window.clean(), "method", "low-pass");
    d.click(d.window.clean(), "frequencies");
    PlotCanvas* strip = d.window.clean()->strip();
    ASSERT_TRUE(strip->content().cutoff);
    EXPECT_NEAR(*strip->content().cutoff, 1 / 11.0 / 0.5, 1e-9) << "eleven points of half a unit";
    const double from = *strip->content().cutoff,
                 y = std::sqrt(strip->geometryShown()->y.low() * strip->geometryShown()->y.high());
    d.dragPlot(strip, from, from / 2, y);
    EXPECT_NEAR(d.last().settings.number("window"), 22, 2);
    EXPECT_FALSE(d.window.document().xRange) << "no zoom of the curve";
}

TEST(Clean, SelectedDatasetsAreMadeAlike) {
    Station d(Station::Files{{"a.csv", spectrumFile(7)}, {"b.csv", spectrumFile(8)}});
    const DatasetId a = d.project().datasets[0].id, b = d.project().datasets[1].id;
    d.window.document().selectDatasets({a, b});
    d.settle();
    d.find("smooth");
    EXPECT_EQ(d.project().datasets[1].protocol.size(), 1U) << "the step goes to both";
    Settings other;
    d.window.document().apply(
        edits::setStep(b, d.project().datasets[1].protocol[0].id, "window", Value(25.0)));
    d.settle();
    d.click(d.window.clean(), "Differs in 1 of 2");
    EXPECT_EQ(d.project().datasets[0].protocol[0].settings, d.project().datasets[1].protocol[0].settings);
    d.window.document().apply(edits::removeStep(b, d.project().datasets[1].protocol[0].id));
    d.settle();
    d.click(d.window.clean(), "Not in 1 of 2");
    ASSERT_EQ(d.project().datasets[1].protocol.size(), 1U);
    // Up and down go from curve to curve.
    d.plot()->setFocus();
    QTest::keyClick(d.plot(), Qt::Key_Down);
    d.settle();
    EXPECT_EQ(d.current().id, b);
    EXPECT_EQ(d.window.document().selection().size(), 2U);
}

TEST(Clean, StepsAreDraggedToAnotherPlaceAndOntoDatasets) {
    Station d(Station::Files{{"a.csv", spectrumFile(9)}, {"b.csv", spectrumFile(10)}});
    d.find("smooth");
    d.find("crop");
    d.find("normalise");
    d.window.document().openStep({});
    d.settle();
    QMimeData steps;
    steps.setData(kStepsMime,
                  QByteArray::fromStdString(d.window.document().copySteps({d.current().protocol[2].id})));
    ProtocolPane* pane = d.window.clean()->protocol();
    const QPointF top = d.row(0)->mapTo(pane->viewport(), QPoint(20, 2));
    const auto dropOn = [&](QWidget* viewport,
                            QPointF at) { // entering chooses the target, as the toolkit wants it
        QDragEnterEvent enter(at.toPoint(), Qt::MoveAction, &steps, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(viewport, &enter);
        EXPECT_TRUE(enter.isAccepted());
        QDragMoveEvent move(at.toPoint(), Qt::MoveAction, &steps, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(viewport, &move);
        if (viewport == pane->viewport()) {
            EXPECT_TRUE(pane->findChild<QFrame*>("dropLine")->isVisible()) << "where it will go";
        }
        QDropEvent drop(at, Qt::MoveAction, &steps, Qt::LeftButton, Qt::NoModifier);
        QApplication::sendEvent(viewport, &drop);
    };
    dropOn(pane->viewport(), top);
    d.settle();
    EXPECT_EQ(d.current().protocol[0].kind, "normalise");
    EXPECT_FALSE(pane->findChild<QFrame*>("dropLine")->isVisible());
    auto* list = d.window.findChild<DatasetList*>()->list();
    const int other = d.current().id == d.project().datasets[0].id ? 1 : 0;
    dropOn(list->viewport(), QPointF(list->visualItemRect(list->item(other)).center()));
    d.settle();
    const Dataset& target = d.project().datasets[static_cast<std::size_t>(other)];
    ASSERT_EQ(target.protocol.size(), 1U);
    EXPECT_EQ(target.protocol[0].kind, "normalise");
    // Copied and pasted by keys.
    d.window.document().openStep(d.current().protocol[1].id);
    d.settle();
    QTest::keyClick(pane, Qt::Key_C, Qt::ControlModifier);
    QTest::keyClick(pane, Qt::Key_V, Qt::ControlModifier);
    d.settle();
    EXPECT_EQ(d.current().protocol.size(), 4U);
    EXPECT_EQ(d.last().kind, d.current().protocol[1].kind);
}

TEST(Clean, AShiftIsDraggedByItsGrip) {
    Station d(Station::Files{{"a.csv", spectrumFile(11)}});
    d.find("shift");
    ASSERT_EQ(d.handles().size(), 1U);
    const steps::Handle grip = d.handles()[0];
    d.dragHandle(grip, grip.x + 20, grip.y - 200);
    EXPECT_NEAR(d.last().settings.number("x"), 20, 1);
    EXPECT_NEAR(d.last().settings.number("y"), -200, 20);
}

TEST(Clean, EscapeGivesUpADragOfAHandle) {
    Station d(Station::Files{{"a.csv", spectrumFile(11)}});
    d.find("shift");
    ASSERT_EQ(d.handles().size(), 1U);
    const QPoint grip = d.plot()->toPixels(d.handles()[0].x, d.handles()[0].y).toPoint();
    const std::size_t entries = d.entries();
    QTest::mousePress(d.plot(), Qt::LeftButton, {}, grip);
    QTest::mouseMove(d.plot(), grip + QPoint(20, 10));
    QTest::mouseMove(d.plot(), grip + QPoint(60, 30));
    EXPECT_GT(d.last().settings.number("x"), 1);
    QTest::keyClick(d.plot(), Qt::Key_Escape);
    QTest::mouseRelease(d.plot(), Qt::LeftButton, {}, grip + QPoint(60, 30));
    d.settle();
    EXPECT_EQ(d.last().settings.number("x"), 0) << "as it was";
    EXPECT_EQ(d.entries(), entries);
}

TEST(Clean, AMenuOfDatasetsOpensAgain) {
    Station d(Station::Files{{"a.csv", spectrumFile(1)}, {"b.csv", spectrumFile(2)}});
    d.find("average");
    const auto open = [&] {
        auto* choose = d.window.clean()->findChild<QPushButton*>("with");
        choose->click();
        return choose->findChild<QMenu*>();
    };
    QMenu* menu = open();
    ASSERT_TRUE(menu && menu->isVisible());
    menu->close();
    d.settle();
    menu = open();
    ASSERT_TRUE(menu && menu->isVisible());
    menu->actions().front()->trigger();
    d.settle();
    EXPECT_EQ(d.last().settings.references("with").size(), 1U);
}

// Whatever became of x, each stage shows the whole curve as it is there.
TEST(Clean, EachStageShowsTheCurveThatThereIs) {
    const std::vector<std::pair<const char*, std::vector<std::pair<const char*, Value>>>> cases = {
        {"scale", {{"x", Value(-1.0)}}},
        {"convert", {{"from", Value(std::string("nm"))}, {"to", Value(std::string("wavenumber"))}}},
        {"crop", {{"range", Value(Numbers{560, 610})}}},
        {"calibrate", {{"lines", Value(Numbers{510, 100, 690, 800})}}}};
    for (const auto& [kind, given] : cases) {
        SCOPED_TRACE(kind);
        Station d(Station::Files{{"a.csv", spectrumFile(1)}});
        Settings settings;
        for (const auto& [key, value] : given) settings.set(key, value);
        ASSERT_TRUE(d.window.document().apply(edits::addStep(d.current().id, kind, settings, kind)));
        ASSERT_TRUE(d.window.document().addAnalysis([](DatasetId id) { return newFit(id, "line"); }));
        for (const char* stage : {"Clean", "Analyse"}) {
            SCOPED_TRACE(stage);
            d.stage(stage);
            d.settle();
            const bool clean = stage == std::string_view("Clean");
            const figure::AxisMap& x = (clean ? d.plot() : d.window.analyse()->canvas())->geometryShown()->x;
            const Curve& now = d.result().end().curve();
            EXPECT_LE(x.low(), now.x.front());
            EXPECT_GE(x.high(), now.x.back());
            EXPECT_LT(x.high() - x.low(), (clean ? 5 : 1.2) * (now.x.back() - now.x.front()))
                << "not far more";
        }
    }
}

// On an axis that is drawn from high to low too.
TEST(Clean, WhatDoesNotCountIsVeiled) {
    Station d(Station::Files{{"a.csv", spectrumFile(1)}});
    for (const double factor : {1.0, -1.0}) {
        if (factor < 0) {
            Settings turned;
            turned.set("x", Value(factor));
            d.window.document().apply(edits::addStep(d.current().id, "scale", turned, "Scale"));
        }
        Analysis fit = newFit(d.current().id, "line");
        fit.inputs[0].span.pieces = {std::minmax(factor * 510, factor * 530),
                                     std::minmax(factor * 560, factor * 580)};
        d.window.document().addAnalysis([&](DatasetId) { return fit; });
        d.stage("Analyse");
        d.settle();
        PlotCanvas* plot = d.window.analyse()->canvas();
        const QImage seen = plot->grab().toImage();
        const auto& area = plot->geometryShown()->area;
        const auto groundAt = [&](double x) { // near the upper edge, away from the curve
            return seen.pixel(static_cast<int>(plot->toPixels(factor * x, 0).x()),
                              static_cast<int>(area.y / kMmPerPixel) + 7);
        };
        for (const double inside : {517.0, 524.0, 567.0, 574.0})
            EXPECT_EQ(groundAt(inside), theme().plot.rgb()) << inside << " × " << factor;
        for (const double outside : {505.0, 541.0, 549.0, 586.0, 633.0})
            EXPECT_NE(groundAt(outside), theme().plot.rgb()) << outside << " × " << factor;
    }
}

// Levels for 0 and 100 % stand on the curve that the step takes; the strip shows what becomes of it.
TEST(Clean, ReferencesAreDraggedOnTheCurveThatIsNormalised) {
    Station d(Station::Files{{"a.csv", spectrumFile(12)}});
    d.find("normalise");
    d.choose(d.window.clean(), "to", "references");
    EXPECT_EQ(d.plot()->content().probedPoint.place, CurvePoint::Place::Measured);
    ASSERT_EQ(d.handles().size(), 2U);
    const steps::Handle zero = d.handles()[0];
    EXPECT_EQ(zero.form, steps::HandleForm::Level);
    EXPECT_EQ(zero.state, steps::HandleState::Proposed);
    const auto grip = [&](double y) {
        const double left = d.plot()->geometryShown()->area.x / kMmPerPixel + 9;
        return QPoint(static_cast<int>(left), static_cast<int>(d.plot()->toPixels(0, y).y()));
    };
    const double wanted = zero.y + 150;
    QTest::mousePress(d.plot(), Qt::LeftButton, {}, grip(zero.y));
    QTest::mouseMove(d.plot(), grip(zero.y + 60));
    QTest::mouseMove(d.plot(), grip(wanted));
    QTest::mouseRelease(d.plot(), Qt::LeftButton, {}, grip(wanted));
    d.settle();
    EXPECT_EQ(d.last().settings.text("zero-from"), "number");
    EXPECT_NEAR(d.last().settings.number("zero"), wanted, 12);
    EXPECT_EQ(d.handles()[0].state, steps::HandleState::Accepted);
    const PlotContent& strip = d.window.clean()->strip()->content();
    ASSERT_EQ(strip.marks.size(), 1U);
    EXPECT_EQ(strip.caption, "after this step");
    // Two spans: the tool Span fills the one that is open; their ends are dragged.
    d.choose(d.window.clean(), "zero-from", "span");
    d.choose(d.window.clean(), "hundred-from", "span");
    d.click(d.window.clean(), "Span");
    d.dragPlot(d.plot(), 510, 530, 1500);
    d.dragPlot(d.plot(), 596, 604, 1500);
    const Numbers first = d.last().settings.numbers("zero-span"),
                  second = d.last().settings.numbers("hundred-span");
    ASSERT_EQ(first.size(), 2U);
    ASSERT_EQ(second.size(), 2U);
    EXPECT_NEAR(first[1], 530, 1);
    EXPECT_NEAR(second[0], 596, 1);
    ASSERT_EQ(d.handles().size(), 4U);
    d.dragHandle(d.handles()[1], 540, d.handles()[1].y);
    EXPECT_NEAR(d.last().settings.numbers("zero-span")[1], 540, 1);
    EXPECT_EQ(d.last().settings.numbers("zero-span")[0], first[0]);
}

TEST(Clean, LinesOfACalibrationAreTypedInATable) {
    Station d(Station::Files{{"a.csv", spectrumFile(13)}});
    d.find("calibrate");
    auto fields = [&] { return d.window.clean()->findChild<QWidget*>("lines")->findChildren<QLineEdit*>(); };
    ASSERT_EQ(fields().size(), 2) << "one row to begin with";
    auto typeInto = [&](int at, const QString& number) {
        QLineEdit* field = fields()[at];
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, number);
        QTest::keyClick(field, Qt::Key_Tab);
        d.settle();
    };
    typeInto(0, "545");
    EXPECT_FALSE(d.last().settings.has("lines")) << "half a row is not taken";
    typeInto(1, "546.5");
    EXPECT_EQ(d.last().settings.numbers("lines"), (Numbers{545, 546.5}));
    ASSERT_EQ(fields().size(), 4) << "and another empty row";
    typeInto(2, "655");
    typeInto(3, "x");
    EXPECT_TRUE(fields()[3]->property("bad").toBool());
    typeInto(3, "656.5");
    EXPECT_EQ(d.last().settings.numbers("lines"), (Numbers{545, 546.5, 655, 656.5}));
    EXPECT_NEAR(d.result().end().curve().x.front(), 501.5, 1.0);
    ASSERT_EQ(d.handles().size(), 2U);
    // A row that is emptied is gone.
    for (int at : {0, 1}) {
        QLineEdit* field = fields()[at];
        field->setFocus();
        field->selectAll();
        QTest::keyClick(field, Qt::Key_Backspace);
        QTest::keyClick(field, Qt::Key_Tab);
        d.settle();
    }
    EXPECT_EQ(d.last().settings.numbers("lines"), (Numbers{655, 656.5}));
}

TEST(Clean, SelectedDatasetsAreDrawnTogether) {
    Station d(Station::Files{{"a.csv", spectrumFile(14)}, {"b.csv", spectrumFile(15)}});
    const DatasetId a = d.project().datasets[0].id, b = d.project().datasets[1].id;
    auto lines = [&] {
        std::vector<std::string> sources;
        for (const Element& m : d.plot()->content().marks)
            if (m.kind != "points") sources.push_back(m.source);
        return sources;
    };
    EXPECT_THAT(lines(), testing::Not(testing::Contains(a.text())));
    d.window.document().selectDatasets({b, a});
    d.settle();
    EXPECT_THAT(lines(), testing::IsSupersetOf({a.text(), b.text()}));
    // One that another step led to elsewhere has no place beside an open step.
    d.find("smooth");
    EXPECT_THAT(lines(), testing::Contains(a.text()));
    d.window.document().apply(edits::removeStep(a, d.project().datasets[0].protocol[0].id));
    d.settle();
    d.window.document().openStep({});
    d.settle();
    EXPECT_THAT(lines(), testing::Contains(a.text())) << "at the end all go together";
}

// What a choice offers is read in full, whatever the step and the place in its form.
TEST(Clean, NoEntryOfAChoiceIsCut) {
    Station d(Station::Files{{"a.csv", spectrumFile(16)}, {"b.csv", spectrumFile(17)}});
    for (const steps::StepKind& kind : steps::catalogue()) {
        d.window.document().apply(edits::addStep(d.current().id, kind.info.key, {}, "Add step"));
        d.window.document().openStep(d.current().protocol.back().id);
        d.settle();
        for (const Setting& s : kind.info.settings) {
            if (s.kind != SettingKind::Choice) continue;
            // Each value of it shows other fields; the widest entries are measured wherever they appear.
            for (const Choice& c : s.choices) {
                d.window.document().apply(
                    edits::setStep(d.current().id, d.current().protocol.back().id, s.key, Value(c.key)));
                QApplication::processEvents();
                for (const QComboBox* box :
                     d.row(d.current().protocol.size() - 1)->findChildren<QComboBox*>()) {
                    if (!box->isVisible()) continue;
                    QStyleOptionComboBox option;
                    option.initFrom(box);
                    const int room =
                        box->style()
                            ->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, box)
                            .width();
                    for (int i = 0; i < box->count(); ++i)
                        EXPECT_LE(box->fontMetrics().horizontalAdvance(box->itemText(i)), room + 2)
                            << kind.info.key << ": " << box->itemText(i).toStdString();
                }
            }
        }
        d.window.document().apply(edits::removeStep(d.current().id, d.current().protocol.back().id));
    }
}
