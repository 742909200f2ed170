// SPDX-License-Identifier: GPL-3.0-or-later
// Peaks by real mouse and key events: found, placed, dragged, widened, taken out, tied, fitted alone.
#include "driver.h"

#include "analyses/peaks/peaks.h"
#include "app/controls.h"
#include "app/panes/peak_rows.h"

#include <QComboBox>
#include <QSlider>
#include <QTableWidget>
#include <QWheelEvent>
#include <cmath>
#include <fmt/format.h>
#include <random>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

// Four Lorentzian bands of a shell, two of them under one hump.
std::string shell(const QTemporaryDir& folder) {
    std::mt19937 random(4);
    std::normal_distribution<double> noise(0, 12);
    std::string content = "shift (cm^-1),counts\n";
    for (int i = 0; i < 420; ++i) {
        const double x = 645 + 0.35 * i;
        double y = 80 + 0.2 * (x - 645) + noise(random);
        for (const auto& [c, h, w] : {std::tuple(676.0, 780.0, 14.0),
                                      {701.4, 2100.0, 9.0},
                                      {707.8, 1480.0, 10.0},
                                      {742.0, 580.0, 26.0}})
            y += h / (1 + 4 * std::pow((x - c) / w, 2));
        content += fmt::format("{:.2f},{:.2f}\n", x, y);
    }
    const std::string path = folder.filePath("shell.csv").toStdString();
    std::ofstream(path) << content;
    return path;
}

class PeaksDesk {
public:
    Driver d;
    QTemporaryDir folder;

    PeaksDesk() {
        d.drop({QString::fromStdString(shell(folder))});
        d.click(d.window.data()->import(), "Import");
        d.stage("Analyse");
    }
    PlotCanvas* plot() { return d.window.analyse()->canvas(); }
    const Analysis& analysis() { return *d.project().analyses.find(d.window.document().analysis()); }
    evaluate::AnalysisOutcome outcome() {
        return d.window.document().session().evaluator().analysis(d.project(), analysis());
    }
    const analyses::PeaksDetail& detail() {
        last_ = outcome();
        return *analyses::peaksDetail(*last_);
    }
    void wait() {
        d.settle();
        EXPECT_TRUE(QTest::qWaitFor(
            [&] { return plot()->isCurrent() && d.window.analyse()->protocol()->isCurrent(); }, 5000));
    }
    const steps::Handle* handle(steps::HandleForm form, double near) {
        const steps::Handle* best = nullptr;
        for (const steps::Handle& h : plot()->content().handles)
            if (h.form == form && (!best || std::abs(h.x - near) < std::abs(best->x - near))) best = &h;
        return best;
    }
    // Where a handle is painted: a triangle above its place.
    QPoint at(const steps::Handle& h) {
        const QPointF p = plot()->toPixels(h.x, h.y);
        return (h.form == steps::HandleForm::Peak ? p - QPointF(0, 7) : p).toPoint();
    }
    void click(QPoint where, Qt::KeyboardModifiers with = {}) {
        QTest::mouseClick(plot(), Qt::LeftButton, with, where);
        wait();
    }
    void drag(QPoint from, QPoint to) {
        QTest::mousePress(plot(), Qt::LeftButton, {}, from);
        for (int k = 1; k <= 4; ++k) {
            QTest::mouseMove(plot(), from + (to - from) * k / 4);
            d.settle();
        }
        QTest::mouseRelease(plot(), Qt::LeftButton, {}, to);
        wait();
    }
    void press(const QString& words) {
        d.click(d.window.analyse(), words);
        wait();
    }
    // By the field that finds everything.
    void add() {
        d.find("peaks");
        wait();
        ASSERT_EQ(d.project().analyses.size(), 1U);
        ASSERT_EQ(analysis().kind, "peaks");
    }
    template <class Widget> Widget* child(const char* name) {
        return d.window.analyse()->findChild<Widget*>(name);
    }
    QList<RowButton*> rows() { return child<QWidget>("peakRows")->findChildren<RowButton*>(); }
    QPushButton* link(const QString& words) {
        for (QPushButton* b : d.window.analyse()->findChildren<QPushButton*>())
            if (b->isVisible() && b->text() == words) return b;
        return nullptr;
    }

private:
    evaluate::AnalysisOutcome last_;
};

} // namespace

TEST(PeaksWindow, AreFoundPlacedAndFitted) {
    PeaksDesk k;
    QTest::keyClick(k.plot(), Qt::Key_P);
    k.wait();
    EXPECT_EQ(k.plot()->tool(), Tool::Peak);
    // The first click makes the set; it snaps to the maximum.
    k.click(k.plot()->toPixels(678, 900).toPoint());
    ASSERT_EQ(k.d.project().analyses.size(), 1U);
    EXPECT_EQ(k.analysis().kind, "peaks");
    ASSERT_EQ(k.detail().plan.peaks.size(), 1U);
    EXPECT_NEAR(k.detail().plan.peaks[0].place, 676, 2);
    // With Alt just there.
    k.click(k.plot()->toPixels(711.5, 2000).toPoint(), Qt::AltModifier);
    EXPECT_NEAR(k.detail().plan.peaks[1].place, 711.5, 0.5);
    QTest::keyClick(k.plot(), Qt::Key_Escape);
    k.wait();
    EXPECT_EQ(k.plot()->tool(), Tool::Pointer);
    // Found anew, all together: the two under one hump as one.
    k.press("Find");
    k.wait();
    EXPECT_TRUE(k.detail().plan.draft);
    ASSERT_GE(k.detail().plan.peaks.size(), 3U);
    EXPECT_EQ(k.rows().size(), k.detail().plan.peaks.size());
}

TEST(PeaksWindow, ADragTakesTheDraftOverAndIsOneStepBack) {
    PeaksDesk k;
    k.add();
    ASSERT_TRUE(k.detail().plan.draft);
    const Analysis before = k.analysis();
    const std::size_t found = k.detail().plan.peaks.size();
    const steps::Handle* top = k.handle(steps::HandleForm::Peak, 676);
    ASSERT_TRUE(top);
    const QPoint from = k.at(*top);
    QTest::mousePress(k.plot(), Qt::LeftButton, {}, from);
    QTest::mouseMove(k.plot(), from + QPoint(6, -8));
    QTest::mouseMove(k.plot(), from + QPoint(12, -20));
    k.d.settle();
    // While it is dragged the picture follows the hand.
    EXPECT_TRUE(QTest::qWaitFor(
        [&] {
            const auto* moved = k.handle(steps::HandleForm::Peak, 679);
            return moved && (k.at(*moved) - (from + QPoint(12, -20))).manhattanLength() < 6;
        },
        3000));
    QTest::mouseRelease(k.plot(), Qt::LeftButton, {}, from + QPoint(12, -20));
    k.wait();
    EXPECT_FALSE(k.detail().plan.draft);
    EXPECT_EQ(k.analysis().settings.rows("peaks").size(), found);
    EXPECT_NEAR(k.handle(steps::HandleForm::Peak, 676)->x, 676, 2) << "and is fitted when let go";
    k.d.click(&k.d.window, "Undo");
    k.wait();
    EXPECT_EQ(k.analysis(), before);
}

TEST(PeaksWindow, HandlesSelectWidenAndRemove) {
    PeaksDesk k;
    k.add();
    QTest::mouseClick(k.d.window.analyse()->findChild<QPushButton*>("tile"),
                      Qt::LeftButton); // Gaussian: as it is
    k.wait();
    const std::size_t found = k.detail().plan.peaks.size();
    EXPECT_FALSE(k.handle(steps::HandleForm::PeakWidth, 742));
    k.click(k.at(*k.handle(steps::HandleForm::Peak, 742)));
    const steps::Handle* end = k.handle(steps::HandleForm::PeakWidth, 760);
    ASSERT_TRUE(end) << "the selected one has a bar";
    const int number = k.d.window.document().peak();
    EXPECT_GT(number, 0);
    k.drag(k.at(*end), k.at(*end) + QPoint(30, 0));
    RowList rows = k.analysis().settings.rows("peaks");
    ASSERT_EQ(rows.size(), found);
    // The row of the selected one is open: its name and shape.
    auto* name = k.child<QLineEdit>("peakName");
    ASSERT_TRUE(name);
    name->setFocus();
    QTest::keyClicks(name, "broad");
    QTest::keyClick(name, Qt::Key_Return);
    k.wait();
    EXPECT_EQ(k.detail().plan.find(number)->name, "broad");
    EXPECT_EQ(k.handle(steps::HandleForm::Peak, 742)->label, "broad");
    // One alone, then all again.
    QTest::mouseClick(k.link("fit only this"), Qt::LeftButton);
    k.wait();
    EXPECT_EQ(k.analysis().settings.integer("only"), number);
    EXPECT_EQ(k.outcome()->find("centre_1")->state, number == 1 ? "free" : "fixed");
    k.press("Fit");
    k.wait();
    EXPECT_EQ(k.analysis().settings.integer("only"), 0);
    QTest::mouseClick(k.link("take it out"), Qt::LeftButton);
    k.wait();
    EXPECT_EQ(k.detail().plan.peaks.size(), found - 1);
    EXPECT_EQ(k.detail().plan.find(number), nullptr);
}

TEST(PeaksWindow, TheCardSetsShapeBaselineAndHowMany) {
    PeaksDesk k;
    k.add();
    EXPECT_EQ(k.detail().otherShape, "lorentzian") << "it says what would go better";
    const auto tiles = k.d.window.analyse()->findChildren<QPushButton*>("tile");
    ASSERT_GE(tiles.size(), 4);
    for (QPushButton* tile : tiles)
        if (tile->accessibleName() == "Lorentzian") QTest::mouseClick(tile, Qt::LeftButton);
    k.wait();
    EXPECT_EQ(k.analysis().model.kind, "lorentzian");
    auto* baseline = k.child<QComboBox>("peaksBaseline");
    baseline->setFocus();
    QTest::keyClicks(baseline, "constant");
    QTest::keyClick(baseline, Qt::Key_Return);
    k.wait();
    if (k.analysis().settings.text("baseline") != "constant")
        Q_EMIT baseline->activated(baseline->currentIndex());
    k.wait();
    EXPECT_EQ(k.detail().plan.baseline.key, "constant");
    auto* count = k.child<QSlider>("peakCount");
    ASSERT_TRUE(count->isVisible());
    count->setFocus();
    QTest::keyClick(count, Qt::Key_Home);
    k.wait();
    EXPECT_EQ(k.detail().plan.peaks.size(), 1U);
    EXPECT_NEAR(k.detail().plan.peaks[0].place, 703, 3) << "the strongest";
}

// Without a fit: limits at diamonds, what a peak stands on by the right button.
TEST(PeaksWindow, AreasAreMeasuredBetweenLimits) {
    PeaksDesk k;
    k.d.find("areas between");
    k.wait();
    ASSERT_EQ(k.analysis().kind, "areas");
    const auto detail = [&] { return analyses::areasDetail(**k.outcome().result); };
    const std::size_t found = detail()->peaks.size();
    ASSERT_GE(found, 3U);
    EXPECT_TRUE(k.analysis().settings.rows("limits").empty()) << "a draft";
    const steps::Handle first = *k.handle(steps::HandleForm::Anchor, 650);
    EXPECT_EQ(first.setting, "low");
    const double target = first.x + 6;
    k.drag(k.at(first), k.plot()->toPixels(target, first.y).toPoint());
    const RowList rows = k.analysis().settings.rows("limits");
    ASSERT_EQ(rows.size(), found) << "all are taken over";
    EXPECT_NEAR(rows[0].number("low"), target, 0.7);
    // Right button on its top.
    const steps::Handle top = *k.handle(steps::HandleForm::Peak, 676);
    QTest::mouseClick(k.plot(), Qt::RightButton, {}, k.at(top));
    k.wait();
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    ASSERT_TRUE(menu);
    for (QAction* a : menu->actions())
        if (a->text().contains("valley to valley")) a->trigger();
    menu->close();
    k.wait();
    EXPECT_EQ(k.analysis().settings.rows("limits")[0].text("ground"), "valley");
    // One more by the tool, and one taken out by the key.
    QTest::keyClick(k.plot(), Qt::Key_P);
    k.click(k.plot()->toPixels(770, 150).toPoint());
    EXPECT_EQ(k.analysis().settings.rows("limits").size(), found + 1);
    k.d.window.document().session().undo();
    k.wait();
    EXPECT_EQ(k.analysis().settings.rows("limits").size(), found);
}

// The pane scrolls under the wheel, wherever the pointer is; nothing is changed by it.
TEST(PeaksWindow, TheWheelChangesNoBox) {
    PeaksDesk k;
    k.add();
    const Analysis before = k.analysis();
    auto* box = k.child<QComboBox>("peaksBaseline");
    const QPointF at = box->rect().center();
    QWheelEvent wheel(at, box->mapToGlobal(at), {}, {0, -120}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(box, &wheel);
    k.wait();
    EXPECT_EQ(k.analysis(), before);
}
