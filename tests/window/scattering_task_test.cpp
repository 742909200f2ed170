// SPDX-License-Identifier: GPL-3.0-or-later
// From a file of q and I to a distribution of sizes on a figure, by mouse and keys, with the actions counted.
#include "base/files.h"
#include "base/text.h"
#include "scattering.h"
#include "window/desk.h"

#include <QCheckBox>

using namespace jointer;
using namespace jointer::test;

namespace {

// The dense droplets without their uncertainties: q, I and the resolution.
QString dropletFile(const QTemporaryDir& folder) {
    const QString path = folder.filePath("droplets.csv");
    std::ofstream out(path.toStdString(), std::ios::binary);
    const std::string all = demo::scatteringFiles()[1].second;
    for (const std::string_view line : split(all, '\n')) {
        const auto cells = split(line, ',');
        if (cells.size() == 4) out << cells[0] << ',' << cells[1] << ',' << cells[3] << '\n';
    }
    return path;
}

// A switch by its label.
void flip(Desk& k, const QString& label) {
    for (QCheckBox* box : k.d.window.findChildren<QCheckBox*>())
        if (box->isVisible() && box->text() == label) return k.click(box, QPoint(8, box->height() / 2));
    ADD_FAILURE() << "no switch " << label.toStdString();
}

double scatteringValue(Desk& k, const char* name) {
    const auto outcome =
        k.d.window.document().session().evaluator().analysis(k.project(), k.project().analyses[0]);
    const analyses::Quantity* q = outcome.exists() ? outcome->find(name) : nullptr;
    EXPECT_TRUE(q) << name;
    return q ? q->value : NAN;
}

} // namespace

TEST(ScatteringTask, FromAFileToADistributionOnAFigure) {
    Desk k;
    k.d.drop({dropletFile(k.folder)});
    k.d.click(&k.d.window, "Import");
    k.d.choose(&k.d.window, "uncertainty", "fraction"); // 5 % unless another is typed
    k.d.stage("Analyse");
    k.d.find("spheres");
    k.actions += 5;
    ASSERT_EQ(k.project().analyses.size(), 1U);
    EXPECT_EQ(k.project().analyses[0].model.kind, "sphere");
    EXPECT_TRUE(k.d.window.document().logX && k.d.window.document().logY) << "it goes over decades";
    // The scale is found, whatever the decades: the curve meets the first points.
    const double first = scatteringValue(k, "radius");
    EXPECT_TRUE(first > 30 && first < 130) << first;
    k.d.click(&k.d.window, "Amount");
    k.d.type(&k.d.window, "contrast", "6.2e-6");
    flip(k, "distribution");
    flip(k, "interaction");
    flip(k, "resolution");
    EXPECT_EQ(k.project().analyses[0].model.settings.text("resolution"), "column") << "the file has one";
    k.d.choose(&k.d.window, "distribution", "schulz");
    k.d.click(&k.d.window, "details");
    k.d.type(&k.d.window, "schedule", "radius, volume_fraction, background; sd");
    k.actions += 5;
    EXPECT_EQ(k.project().analyses[0].settings.rows("schedule").size(), 2U);
    EXPECT_NEAR(scatteringValue(k, "radius"), 62, 1);
    EXPECT_NEAR(scatteringValue(k, "sd"), 8.5, 0.7);
    EXPECT_NEAR(scatteringValue(k, "volume_fraction"), 0.14, 0.01);
    k.d.click(&k.d.window, "distribution"); // below the plot
    ++k.actions;
    EXPECT_FALSE(k.d.window.analyse()->strip()->content().marks.empty());
    // What was said of the width goes with it, and comes back with undo.
    const Project before = k.project();
    flip(k, "distribution");
    EXPECT_EQ(k.project().analyses[0].settings.rows("schedule").size(), 1U);
    QTest::keyClick(&k.d.window, Qt::Key_Z, Qt::ControlModifier);
    k.d.settle();
    EXPECT_EQ(k.project().analyses[0], before.analyses[0]);
    k.actions -= 1; // not part of the task
    k.d.stage("Figure");
    ++k.actions;
    k.newFigure();
    k.arrange("Distribution of sizes");
    k.arrange("Table of results");
    EXPECT_EQ(std::ranges::count(k.figure().elements, "panel", &Element::kind), 2);
    const QString pdf = k.folder.filePath("sizes.pdf");
    ASSERT_TRUE(k.d.window.exportTo(pdf));
    k.actions += 3; // Export, the kind, the name
    EXPECT_TRUE(QTest::qWaitFor([&] { return readFile(pdf.toStdString()).value_or("").ends_with("%%EOF\n"); },
                                20000));
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 40);
}

// The window on the whole demo: no analysis is in the way of another.
TEST(ScatteringTask, LooksAtTheDemo) {
    Desk k(demo::scatteringDemo());
    k.d.stage("Analyse");
    for (const auto& d : k.project().datasets) {
        k.datasets({d->name});
        for (const auto& a : k.project().analyses) {
            if (!a->takes(d->id)) continue;
            k.d.window.document().openAnalysis(a->id);
            k.d.settle();
            for (const char* strip : {"distribution", "straight line", "residuals"})
                for (QPushButton* b : k.d.window.analyse()->findChildren<QPushButton*>())
                    if (b->isVisible() && b->text() == strip) {
                        QTest::mouseClick(b, Qt::LeftButton);
                        k.d.settle();
                    }
        }
    }
}
