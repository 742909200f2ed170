// SPDX-License-Identifier: GPL-3.0-or-later
// Models beside each other below the plot: what stands there, what a click does; curves without a formula by
// Find.
#include "desk.h"

#include "analyses/neighbours.h"
#include "app/panes/doubt_row.h"
#include "app/panes/model_row.h"
#include "app/panes/pair_row.h"
#include "app/stages/work_stage.h"

#include <QTableWidget>
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
        for (Dataset& d : datasetsFromTable(p.tables[0], "level", 0))
            p = *edits::addDataset(std::move(d)).apply(p);
        const QString path = folder.filePath("p.jointer");
        EXPECT_TRUE(saveProject(p, {}, path.toStdString()).has_value());
        window.openPath(path);
        settle();
        stage("Analyse");
    }
    QList<QToolButton*> tiles() {
        return window.findChild<ModelRow*>()->findChildren<QToolButton*>("markChoice");
    }
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

TEST(Models, ALocalRegressionStandsBesideThem) {
    Models d;
    d.find("Fit Polynomial of degree 5");
    d.click(&d.window, "Below: models");
    const auto loess = [&]() -> QToolButton* {
        for (QToolButton* tile : d.tiles())
            if (tile->accessibleName().startsWith("LOESS")) return tile;
        return nullptr;
    };
    ASSERT_TRUE(loess());
    EXPECT_TRUE(loess()->text().contains("ΔAICc")) << "judged as the fits are";
    QTest::mouseClick(loess(), Qt::LeftButton);
    d.settle();
    ASSERT_EQ(d.project().analyses.size(), 2U) << "it joins the fit, it does not take its place";
    EXPECT_EQ(d.project().analyses[1].kind, "free-curve");
    ASSERT_TRUE(loess()) << "and stands in the row, now as what is open";
    EXPECT_TRUE(loess()->isChecked());
    int many = 0;
    for (QToolButton* tile : d.tiles()) many += tile->accessibleName().startsWith("LOESS");
    EXPECT_EQ(many, 1);
}

// Over moments the neighbours count as the open fit does: a higher degree never has a larger residual sum.
TEST(Models, NeighboursOverTimesCountAsTheFitDoes) {
    Models d;
    d.window.document().apply(
        edits::onTable(d.project().tables[0].id, "times", [](Project&, Table& t) -> Result<void> {
            std::vector<double> moments;
            for (double hour : t.columns[0].numbers()) moments.push_back(1.9e9 + 86400 * 7 * hour);
            Column when = numberColumn("when", "", moments);
            when.kind = ColumnKind::DateTime;
            when.id = t.columns[0].id;
            when.role = Role::X;
            t.columns[0] = when;
            return {};
        }));
    d.settle();
    d.find("Fit Polynomial of degree 7");
    d.click(&d.window, "Below: models");
    const auto differenceOf = [&](const char* name) {
        for (QToolButton* tile : d.tiles())
            if (tile->accessibleName().startsWith(name))
                return tile->accessibleName().section("ΔAICc ", 1).replace(QChar(0x2212), '-').toDouble();
        ADD_FAILURE() << name;
        return 0.0;
    };
    const double seven = differenceOf("Polynomial of degree 7"),
                 eight = differenceOf("Polynomial of degree 8");
    EXPECT_LT(eight, seven + 4) << "one more parameter costs no more than that, whatever it brings";
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
    const auto outcome =
        d.window.document().session().evaluator().analysis(d.project(), d.project().analyses[0]);
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
    EXPECT_THAT(keys("polynomial-9", 4),
                testing::ElementsAre("polynomial-8", "polynomial-7", "polynomial-6"));
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
    EXPECT_EQ(row->findChild<QComboBox*>("doubtOf")->currentText(), "intercept")
        << "what is chosen is what is shown";
    d.choose(row, "doubtOf", "slope");
    EXPECT_EQ(row->shown().quantity, "slope");
    const QString said = d.window.findChild<QLabel*>("doubtSentence")->text();
    EXPECT_TRUE(said.startsWith("slope ") && said.contains(" most with the ")) << said.toStdString();
    const std::size_t tables = d.project().tables.size();
    d.click(row, "Keep as table");
    EXPECT_EQ(d.project().tables.size(), tables + 1);
}

TEST(DoubtView, AClickOnAVariationTakesIt) {
    Models d;
    d.find("Fit Straight line");
    d.click(&d.window, "Below: doubt");
    auto* row = d.window.findChild<DoubtRow*>();
    d.choose(row, "doubtOf", "slope");
    const evaluate::DoubtSeries end = row->shown().series.front();
    ASSERT_EQ(end.choice, "end of the span");
    ASSERT_GE(end.points.size(), 7U);
    const auto at = row->findChildren<QWidget*>();
    const auto plot =
        std::ranges::find_if(at, [](QWidget* w) { return w->accessibleName() == "end of the span"; });
    ASSERT_NE(plot, at.end());
    for (int x = 0; d.project().analyses[0].inputs[0].span.isAll() && x < (*plot)->width();
         ++x) // where it stands
        for (int y = 0; d.project().analyses[0].inputs[0].span.isAll() && y < (*plot)->height(); y += 4) {
            QMouseEvent move(QEvent::MouseMove, QPointF(x, y), (*plot)->mapToGlobal(QPointF(x, y)),
                             Qt::NoButton, Qt::NoButton, {});
            QApplication::sendEvent(*plot, &move);
            if ((*plot)->cursor().shape() == Qt::PointingHandCursor)
                QTest::mouseClick(*plot, Qt::LeftButton, {}, QPoint(x, y));
        }
    d.settle();
    ASSERT_FALSE(d.project().analyses[0].inputs[0].span.isAll());
    const double high = d.project().analyses[0].inputs[0].span.high();
    const auto taken = std::ranges::find(end.points, high, &evaluate::DoubtPoint::place);
    ASSERT_NE(taken, end.points.end());
    const auto fit = d.window.document().session().evaluator().analysis(d.project(), d.project().analyses[0]);
    EXPECT_NEAR(fit->find("slope")->value, taken->value, 1e-12) << "what was shown is what one gets";
}

TEST(DoubtView, WithoutAFitItSaysWhatToDo) {
    Models d;
    d.click(&d.window, "Below: doubt");
    EXPECT_TRUE(d.window.findChild<QLabel*>("doubtSentence")->text().startsWith("Open a fit first"));
}

TEST(Pairs, ShowHowParametersGoTogetherAndTheirRegion) {
    Models d;
    d.find("Fit Polynomial of degree 2");
    d.click(&d.window, "Below: pairs");
    auto* row = d.window.findChild<PairRow*>();
    ASSERT_TRUE(row);
    const std::string first = row->shown().first, second = row->shown().second;
    EXPECT_FALSE(first.empty());
    EXPECT_NE(first, second);
    EXPECT_EQ(row->shown().edge.size(), 48U) << "followed";
    EXPECT_LT(row->shown().bend(), 1e-3) << "a polynomial is linear in its parameters";
    auto* picture = d.window.findChild<QWidget*>("correlations");
    ASSERT_TRUE(picture);
    picture->setFocus();
    QTest::keyClick(picture, Qt::Key_Up);
    d.settle();
    EXPECT_NE(row->shown().second, second) << "the row above in the picture";
    EXPECT_TRUE(d.window.findChild<QLabel*>("pairSentence")->text().contains("correlation"));
    d.find("Fit Constant");
    EXPECT_TRUE(
        d.window.findChild<QLabel*>("pairSentence")->text().startsWith("There is a single free parameter"));
}

TEST(Pairs, WithoutAFitTheySayWhatToDo) {
    Models d;
    d.click(&d.window, "Below: pairs");
    EXPECT_TRUE(d.window.findChild<QLabel*>("pairSentence")->text().startsWith("Open a fit first"));
    d.find("Summary"); // has no parameters: its tables stand there, and nothing else is offered
    for (QPushButton* segment : d.window.analyse()->findChildren<QPushButton*>("segment")) {
        const QString name = segment->text();
        const bool kept = name == "tables" || name == "side by side" || name == "doubt";
        EXPECT_EQ(segment->isVisible(), kept) << name.toStdString();
        EXPECT_EQ(segment->isChecked(), name == "tables") << name.toStdString();
    }
}

// A click on a residual draws the fit without its point, another one takes that away; the project does not
// change.
TEST(Residuals, AClickShowsTheFitWithoutThePoint) {
    Models d;
    d.find("Fit Straight line");
    d.click(&d.window, "Below: residuals");
    WorkStage* stage = d.window.analyse();
    PlotCanvas* strip = stage->strip();
    ASSERT_TRUE(strip);
    ASSERT_TRUE(strip->content().probedPoints);
    const Curve points = *strip->content().probedPoints;
    ASSERT_EQ(points.rowIds.size(), 60U);
    const std::size_t entries = d.entries();
    const auto clickLast = [&] {
        QTest::mouseClick(strip, Qt::LeftButton, {},
                          strip->toPixels(points.x.back(), points.y.back()).toPoint());
        d.settle();
    };
    clickLast();
    const PlotContent& shown = stage->canvas()->content();
    EXPECT_TRUE(QString::fromStdString(shown.caption).startsWith("without the point at 59 h: "))
        << shown.caption;
    // By really leaving it out.
    Project without =
        *edits::excludeRows(d.project().datasets[0].id, {points.rowIds.back()}, true).apply(d.project());
    evaluate::Evaluator fresh;
    const double slope = fresh.analysis(without, without.analyses[0])->find("slope")->value;
    const auto drawn =
        shown.evaluator->analysis(shown.project, shown.project.analyses[shown.project.analyses.size() - 1]);
    EXPECT_NEAR(drawn->find("slope")->value, slope, 1e-12);
    EXPECT_EQ(d.entries(), entries);
    EXPECT_EQ(d.project().datasets.size(), 1U);
    clickLast();
    EXPECT_TRUE(stage->canvas()->content().caption.empty());
    EXPECT_EQ(stage->canvas()->content().project.datasets.size(), 1U);
}

TEST(Residuals, EachLookSaysWhatItTells) {
    Models d;
    d.find("Fit Straight line"); // through what is bent
    d.click(&d.window, "Below: residuals");
    WorkStage* stage = d.window.analyse();
    const auto caption = [&] { return QString::fromStdString(stage->strip()->content().caption); };
    EXPECT_TRUE(caption().contains("follow a pattern")) << caption().toStdString();
    auto* which = d.window.findChild<QComboBox*>("stripChoice");
    const std::pair<const char*, const char*> looks[] = {{"fitted value", "scatter"},
                                                         {"fitted value, as sizes", "scatter"},
                                                         {"order", "pattern"},
                                                         {"normal quantile", "Shapiro"},
                                                         {"leverage", "weighs most"}};
    for (const auto& [look, says] : looks) {
        d.choose(stage, "stripChoice", look);
        EXPECT_TRUE(caption().contains(says)) << look << ": " << caption().toStdString();
    }
    EXPECT_EQ(which->count(), 6);
}

// Two datasets with a fit each, compared in one go, their numbers beside each other.
TEST(Differences, OfTwoSelectedDatasetsAreOneAnalysis) {
    Models d;
    Dataset copy = d.project().datasets[0];
    copy.id = {};
    copy.name = "other";
    d.window.document().apply(edits::addDataset(std::move(copy)));
    d.settle();
    d.window.document().selectDatasets({d.project().datasets[0].id, d.project().datasets[1].id});
    d.find("Fit Straight line");
    ASSERT_EQ(d.project().analyses.size(), 2U);
    d.find("Compare datasets");
    ASSERT_EQ(d.project().analyses.size(), 3U) << "one for both";
    EXPECT_EQ(d.project().analyses[2].analyses.size(), 2U);
    d.click(&d.window, "Below: side by side");
    auto* grid = d.window.analyse()->findChild<QTableWidget*>("numbers");
    ASSERT_EQ(grid->columnCount(), 2) << "of each dataset its fit";
    EXPECT_TRUE(grid->horizontalHeaderItem(0)->text().startsWith("level: Straight line"));
    EXPECT_TRUE(grid->horizontalHeaderItem(1)->text().startsWith("other: Straight line"));
}

// Between two points there is no span: both ends would come to one of them, and the project would not open as it was saved.
TEST(Spans, OfNoWidthAreNotTaken) {
    Models d;
    d.find("Fit Straight line");
    PlotCanvas* plot = d.window.analyse()->canvas();
    Q_EMIT plot->spanChosen(20.1, 20.3, std::nullopt, false);
    d.settle();
    EXPECT_TRUE(d.project().analyses[0].inputs[0].span.isAll());
    EXPECT_TRUE(d.said().contains("one point to another")) << d.said().toStdString();
    Q_EMIT plot->spanChosen(20.1, 30.3, std::nullopt, false);
    d.settle();
    EXPECT_EQ(d.project().analyses[0].inputs[0].span, Span(20, 30));
}
