// SPDX-License-Identifier: GPL-3.0-or-later
// Models beside each other below the plot: what stands there, what a click does; curves without a formula by Find.
#include "desk.h"

#include "analyses/neighbours.h"
#include "app/panes/doubt_row.h"
#include "app/panes/model_row.h"
#include "app/stages/work_stage.h"

#include <QToolButton>
#include <random>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

struct Models : Driver {
    Models() {
        Project p = newProject("x");
        Table t;
        t.name = "level";
        std::vector<double> x, y;
        std::mt19937_64 random(3);
        std::normal_distribution<double> normal(0, 1);
        for (int i = 0; i < 60; ++i) {
            x.push_back(i);
            y.push_back(3 + 0.5 * i - 0.01 * i * i + 0.4 * normal(random));
        }
        t.columns = {numberColumn("hour", "h", x), numberColumn("level", "cm", y)};
        t.columns[0].role = Role::X;
        t.columns[1].role = Role::Y;
        p = *edits::addTable(std::move(t)).apply(p);
        for (Dataset& d : datasetsFromTable(p.tables[0], "level", 0)) p = *edits::addDataset(std::move(d)).apply(p);
        const QString path = folder.filePath("p.jointer");
        EXPECT_TRUE(saveProject(p, {}, path.toStdString()).has_value());
        window.openPath(path);
        settle();
        stage("Analyse");
    }
    QList<QToolButton*> tiles() { return window.findChild<ModelRow*>()->findChildren<QToolButton*>("markChoice"); }
    QString verdict() { return window.findChild<QLabel*>("modelVerdict")->text(); }
    QTemporaryDir folder;
};

} // namespace

TEST(Models, AHighPolynomialStandsBesideLowerOnes) {
    Models d;
    d.find("Fit Polynomial of degree 5");
    d.click(&d.window, "Below: models");
    ASSERT_GE(d.tiles().size(), 4);
    EXPECT_TRUE(d.tiles()[0]->isChecked()) << "the open one";
    EXPECT_TRUE(d.verdict().contains("Polynomial of degree 2")) << d.verdict().toStdString();
    const std::size_t entries = d.entries();
    for (QToolButton* tile : d.tiles())
        if (tile->accessibleName().startsWith("Polynomial of degree 2")) {
            QTest::mouseClick(tile, Qt::LeftButton);
            break;
        }
    d.settle();
    EXPECT_EQ(d.project().analyses[0].model.kind, "polynomial-2");
    EXPECT_EQ(d.entries(), entries + 1) << "one entry, which can be undone";
}

TEST(Models, OfSeveralFitsAClickOpensOne) {
    Models d;
    d.find("Fit Straight line");
    d.find("Fit Polynomial of degree 2");
    d.click(&d.window, "Below: models");
    const AnalysisId line = d.project().analyses[0].id;
    ASSERT_NE(d.window.document().analysis(), line);
    for (QToolButton* tile : d.tiles())
        if (tile->accessibleName().startsWith("Straight line")) QTest::mouseClick(tile, Qt::LeftButton);
    d.settle();
    EXPECT_EQ(d.window.document().analysis(), line);
}

TEST(Models, WithoutAFitItSaysWhatToDo) {
    Models d;
    d.click(&d.window, "Below: models");
    EXPECT_TRUE(d.verdict().startsWith("Fit a model first")) << d.verdict().toStdString();
    EXPECT_TRUE(d.tiles().isEmpty());
}

TEST(Models, ACurveWithoutAFormulaIsDrawnWithItsResiduals) {
    Models d;
    d.find("Curve without a formula");
    ASSERT_EQ(d.project().analyses.size(), 1U);
    EXPECT_EQ(d.project().analyses[0].kind, "free-curve");
    const auto outcome = d.window.document().session().evaluator().analysis(d.project(), d.project().analyses[0]);
    ASSERT_TRUE(outcome.exists());
    EXPECT_TRUE(outcome->curve("fit"));
    d.window.document().addAnalysis([&](DatasetId id) { return newAnalysis(id, "comparison"); });
    d.settle(); // without two fits: said in its card, nothing breaks
}

TEST(Models, NeighboursOfAModel) {
    const auto keys = [](const char* key, std::size_t most) {
        std::vector<std::string> out;
        for (const ModelNode& node : analyses::neighboursOf({.kind = key}, most)) out.push_back(node.kind);
        return out;
    };
    EXPECT_THAT(keys("line", 4), testing::ElementsAre("polynomial-2", "polynomial-3"));
    EXPECT_THAT(keys("polynomial-9", 4), testing::ElementsAre("polynomial-8", "polynomial-7", "polynomial-6"));
    EXPECT_LE(keys("gaussian", 3).size(), 3U);
    EXPECT_TRUE(keys("equation", 4).empty());
    EXPECT_TRUE(keys("no-such", 4).empty());
}

TEST(DoubtView, LooksAtANumberFromAllSides) {
    Models d;
    d.find("Fit Straight line");
    d.click(&d.window, "Below: doubt");
    auto* row = d.window.findChild<DoubtRow*>();
    ASSERT_TRUE(row);
    EXPECT_GE(row->shown().series.size(), 3U);
    EXPECT_EQ(row->shown().quantity, "intercept");
    EXPECT_EQ(row->findChild<QComboBox*>("doubtOf")->currentText(), "intercept") << "what is chosen is what is shown";
    d.choose(row, "doubtOf", "slope");
    EXPECT_EQ(row->shown().quantity, "slope");
    const QString said = d.window.findChild<QLabel*>("doubtSentence")->text();
    EXPECT_TRUE(said.contains("matters most")) << said.toStdString();
    const std::size_t tables = d.project().tables.size();
    d.click(row, "Keep as table");
    EXPECT_EQ(d.project().tables.size(), tables + 1);
}

TEST(DoubtView, WithoutAFitItSaysWhatToDo) {
    Models d;
    d.click(&d.window, "Below: doubt");
    EXPECT_TRUE(d.window.findChild<QLabel*>("doubtSentence")->text().startsWith("Open a fit first"));
}
