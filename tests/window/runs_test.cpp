// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes by real events: kept from a dataset, run on dropped files, the doubtful looked at and mended, the
// trend kept.
#include "driver.h"

#include "app/stages/run_bar.h"
#include "app/panes/trend_plot.h"
#include "app/stages/runs_view.h"
#include "project/recipe_json.h"
#include "session/shipped_recipes.h"
#include "session/trend.h"

#include <QComboBox>
#include <cmath>
#include <fmt/format.h>
#include <random>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

// Two bands on a slope; the second one drifts with the depth.
std::string band(const QTemporaryDir& folder, int depth, double noise = 6) {
    std::mt19937 random(static_cast<unsigned>(depth));
    std::normal_distribution<double> e(0, noise);
    std::string content = "shift (cm^-1),counts\n";
    for (int i = 0; i < 400; ++i) {
        const double x = 650 + 0.4 * i;
        double y = 90 + 0.1 * (x - 650) + e(random);
        for (const auto& [c, h, w] : {std::tuple(690.0, 700.0, 12.0), {745.0 + 0.1 * depth, 420.0, 15.0}})
            y += h * std::exp(-4 * std::log(2) * std::pow((x - c) / w, 2));
        content += fmt::format("{:.2f},{:.2f}\n", x, y);
    }
    const std::string path = folder.filePath(QString("core_%1.csv").arg(depth)).toStdString();
    std::ofstream(path) << content;
    return path;
}

class RunsDesk {
public:
    Driver d;
    QTemporaryDir folder;

    RunsDesk() {
        d.drop({QString::fromStdString(band(folder, 0))});
        d.click(d.window.data()->import(), "Import");
        d.find("peaks");
        d.stage("Analyse");
        d.click(d.window.analyse(), "Keep as a recipe");
    }
    RunsView* runs() { return d.window.runs(); }
    const Project& project() { return d.project(); }
    const Recipe& recipe() { return project().recipes[0]; }
    void dropFiles(const QStringList& files) {
        d.drop(files);
        EXPECT_TRUE(QTest::qWaitFor([&] { return runs()->isCurrent(); }, 30000));
        d.settle();
    }
    void dropSeries() {
        QStringList files;
        for (int depth = 10; depth <= 60; depth += 10) files << QString::fromStdString(band(folder, depth));
        std::ofstream(folder.filePath("core_99.csv").toStdString()) << "not a table\n";
        files << folder.filePath("core_99.csv");
        dropFiles(files);
    }
    QString words(const char* label) {
        QString all;
        for (auto* l : runs()->findChildren<QLabel*>())
            if (l->isVisible()) all += l->text() + "\n";
        return all.contains(label) ? all : QString();
    }
};

} // namespace

TEST(Runs, AreMadeFromADatasetAndDroppedFiles) {
    RunsDesk desk;
    ASSERT_EQ(desk.project().recipes.size(), 1U);
    EXPECT_TRUE(desk.runs()->isVisible()) << "the recipe is shown at once";
    EXPECT_FALSE(desk.words("Gaussian").isEmpty()) << "in sentences";
    EXPECT_EQ(desk.project().datasets[0].recipe, desk.recipe().id) << "what it was made of is one of them";
    desk.dropSeries();
    EXPECT_EQ(desk.project().datasets.size(), 7U);
    EXPECT_EQ(desk.runs()->gallery()->tiles().size(), 7U);
    EXPECT_FALSE(desk.words("core_99.csv").isEmpty()) << "what was not read is told";
    EXPECT_EQ(desk.project().analyses.size(), 7U);
    // The whole run is one entry of the history.
    desk.d.window.document().session().undo();
    desk.d.settle();
    EXPECT_EQ(desk.project().datasets.size(), 1U);
    desk.d.window.document().session().redo();
    desk.d.settle();
    desk.dropSeries();
    EXPECT_EQ(desk.project().datasets.size(), 7U) << "files are not run twice";
}

TEST(Runs, ShowATrendThatCanBeKept) {
    RunsDesk desk;
    desk.d.type(desk.runs(), "pattern", "core_{depth:d}");
    EXPECT_EQ(desk.recipe().settings.text("pattern"), "core_{depth:d}");
    desk.dropSeries();
    auto* quantity = desk.runs()->findChild<QComboBox*>("trendQuantity");
    quantity->setCurrentIndex(quantity->findText("centre of peak 2"));
    Q_EMIT quantity->activated(quantity->currentIndex());
    desk.d.settle();
    const Table& trend = desk.runs()->trend()->table();
    ASSERT_EQ(trend.rowCount(), 6U) << "the one without the attribute is left out";
    EXPECT_EQ(trend.columns[1].name, "depth");
    for (std::size_t row = 0; row < 6; ++row)
        EXPECT_NEAR(trend.columns[2].numbers()[row], 745 + 0.1 * trend.columns[1].numbers()[row], 0.5);
    EXPECT_FALSE(desk.runs()->trend()->placeOf(2).isNull());
    desk.d.click(desk.runs(), "Keep as a dataset");
    const auto& kept = desk.project().datasets[desk.project().datasets.size() - 1];
    EXPECT_EQ(kept.source.roles.size(), 4U) << "with its errors and names";
    QTest::mouseClick(desk.runs()->trend(), Qt::LeftButton, {}, desk.runs()->trend()->placeOf(3).toPoint());
    desk.d.settle();
    EXPECT_EQ(desk.d.window.document().currentDataset()->name, trend.columns[0].cells->texts[3]);
}

TEST(Runs, TheDoubtfulComeFirstAndAreMended) {
    RunsDesk desk;
    QStringList files;
    for (int depth = 1; depth <= 8; ++depth)
        files << QString::fromStdString(band(desk.folder, depth, depth == 5 ? 60 : 6));
    desk.dropFiles(files);
    RunGallery* gallery = desk.runs()->gallery();
    ASSERT_EQ(gallery->tiles().size(), 9U);
    EXPECT_EQ(gallery->tiles()[0].name, "core_5");
    EXPECT_TRUE(gallery->tiles()[0].isDoubtful());
    // Opened by a double-click: Analyse, with the reason above.
    const QPoint at = gallery->place(0).center();
    QTest::mouseClick(gallery->viewport(), Qt::LeftButton, {}, at);
    QTest::mouseDClick(gallery->viewport(), Qt::LeftButton, {}, at);
    desk.d.settle();
    EXPECT_TRUE(desk.d.window.analyse()->isVisible());
    EXPECT_EQ(desk.d.window.document().currentDataset()->name, "core_5");
    auto* bar = desk.d.window.findChild<RunBar*>();
    ASSERT_TRUE(bar && bar->isVisible());
    desk.d.click(bar, "It is good");
    const auto looked = std::ranges::find(gallery->tiles(), QString("core_5"), &RunTile::name);
    EXPECT_FALSE(looked->isDoubtful());
    desk.d.stage("Results");
    EXPECT_FALSE(bar->isVisible());
}

TEST(Runs, GoOnWithTheKeyboard) {
    RunsDesk desk;
    desk.dropSeries();
    RunGallery* gallery = desk.runs()->gallery();
    gallery->setFocus();
    QTest::keyClick(gallery, Qt::Key_Home);
    const DatasetId first = gallery->current();
    QTest::keyClick(gallery, Qt::Key_Right);
    EXPECT_NE(gallery->current(), first);
    QTest::keyClick(gallery, Qt::Key_End);
    EXPECT_EQ(gallery->current(), gallery->tiles().back().dataset);
    QTest::keyClick(gallery, Qt::Key_Return);
    desk.d.settle();
    EXPECT_TRUE(desk.d.window.analyse()->isVisible());
}

TEST(Runs, SelectedDatasetsGoTheWayToo) {
    RunsDesk desk;
    desk.d.stage("Data");
    desk.d.drop({QString::fromStdString(band(desk.folder, 70))});
    desk.d.click(desk.d.window.data()->import(), "Import");
    const DatasetId other = desk.project().datasets[1].id;
    desk.d.window.document().selectDataset(other);
    desk.d.find("Recipes and runs");
    desk.d.click(desk.runs(), "Run on selection");
    EXPECT_EQ(analysesOf(desk.project(), other).size(), 1U);
    EXPECT_TRUE(QTest::qWaitFor([&] { return desk.runs()->isCurrent(); }, 10000));
    EXPECT_EQ(desk.runs()->gallery()->tiles().size(), 2U);
}

TEST(Runs, SelectedDatasetsBeginWhereTheOneBeforeEnded) {
    RunsDesk desk;
    Recipe r = desk.recipe();
    r.settings.set("starts", "previous");
    ASSERT_TRUE(desk.d.window.document().apply(edits::keepRecipe(r)));
    desk.d.stage("Data");
    for (const int depth : {70, 80}) {
        desk.d.drop({QString::fromStdString(band(desk.folder, depth))});
        desk.d.click(desk.d.window.data()->import(), "Import");
    }
    const DatasetId one = desk.project().datasets[1].id, two = desk.project().datasets[2].id;
    desk.d.window.document().selectDatasets({one, two});
    desk.d.find("Recipes and runs");
    desk.d.click(desk.runs(), "Run on selection");
    EXPECT_TRUE(QTest::qWaitFor([&] { return analysesOf(desk.project(), two).size() == 1; }, 10000));
    desk.d.settle();
    ASSERT_EQ(analysesOf(desk.project(), one).size(), 1U);
    const auto first = analysesOf(desk.project(), one).front(), begun = analysesOf(desk.project(), two).front();
    EXPECT_FALSE(begun->settings == first->settings) << "its peaks stand where those of the first ended";
    desk.d.click(&desk.d.window, "Undo");
    EXPECT_TRUE(analysesOf(desk.project(), one).empty()) << "one entry of the history";
}

// What is changed in Analyse is looked at again at once, so that one sees whether it is mended.
TEST(Runs, TheBarFollowsWhatIsChanged) {
    RunsDesk desk;
    desk.dropSeries();
    const DatasetId last = desk.runs()->gallery()->tiles().back().dataset;
    desk.runs()->open(last);
    desk.d.settle();
    auto* bar = desk.d.window.findChild<RunBar*>();
    ASSERT_TRUE(bar && bar->isVisible());
    const auto says = [&](const QString& words) {
        const auto labels = bar->findChildren<QLabel*>();
        return std::ranges::any_of(labels, [&](const QLabel* l) { return l->text().contains(words); });
    };
    EXPECT_TRUE(says("nothing in doubt"));
    const AnalysisId a = analysesOf(desk.project(), last).front()->id;
    desk.d.window.document().apply(edits::changeAnalysis(
        a, "Elsewhere", [](Analysis& peaks) { peaks.inputs.front().span = Span(1e8, 1e9); }));
    EXPECT_TRUE(QTest::qWaitFor([&] { return !says("nothing in doubt"); }, 10000));
    desk.d.click(&desk.d.window, "Undo");
    EXPECT_TRUE(QTest::qWaitFor([&] { return says("nothing in doubt"); }, 10000));
}

TEST(Runs, ARecipeIsRenamedAndTold) {
    RunsDesk desk;
    desk.d.type(desk.runs(), "recipeName", "Bands of a core");
    ASSERT_EQ(desk.project().recipes.size(), 1U);
    EXPECT_EQ(desk.recipe().name, "Bands of a core");
    EXPECT_EQ(desk.project().datasets[0].recipe, desk.recipe().id) << "and stays the same recipe";
}

TEST(Runs, OfTheProgramAreOffered) {
    Driver d;
    d.find("Recipes and runs");
    d.click(d.window.runs(), "Chromatogram");
    ASSERT_EQ(d.project().recipes.size(), 1U);
    EXPECT_EQ(d.project().recipes[0].name, "Chromatogram");
}

TEST(Runs, BeginADatasetThatLooksLikeBands) {
    Driver d;
    QTemporaryDir folder;
    d.drop({QString::fromStdString(band(folder, 0))});
    d.click(d.window.data()->import(), "Import");
    d.stage("Analyse");
    d.click(d.window.analyse(), "Raman or infrared bands");
    EXPECT_EQ(d.project().datasets[0].protocol.size(), 1U);
    ASSERT_EQ(d.project().analyses.size(), 1U);
    EXPECT_EQ(d.project().analyses[0].kind, "peaks");
    EXPECT_EQ(d.window.document().analysis(), d.project().analyses[0].id) << "and it is open";
}

TEST(Runs, ADroppedRecipeIsTaken) {
    Driver d;
    QTemporaryDir folder;
    const QString path = folder.filePath("way.json");
    std::ofstream(path.toStdString()) << recipeText(recipeFor("chromatogram").value());
    d.drop({path});
    ASSERT_EQ(d.project().recipes.size(), 1U);
    EXPECT_TRUE(d.window.runs()->isVisible());
    // Any other JSON is data: here for the recipe that is shown.
    std::ofstream(folder.filePath("data.json").toStdString()) << R"([{"x": 1, "y": 2}, {"x": 2, "y": 3}])";
    d.drop({folder.filePath("data.json")});
    EXPECT_TRUE(QTest::qWaitFor([&] { return d.window.runs()->isCurrent(); }, 10000));
    EXPECT_EQ(d.project().recipes.size(), 1U);
}

// An instrument writes while the window watches: whole files come in, a broken one is told, none comes twice.
TEST(Runs, FollowAWatchedFolder) {
    RunsDesk desk;
    QTemporaryDir incoming;
    desk.runs()->watch(incoming.path().toStdString());
    std::ofstream(incoming.filePath("core_1.csv").toStdString())
        << std::ifstream(band(desk.folder, 11)).rdbuf();
    std::ofstream(incoming.filePath("broken.csv").toStdString()) << "scanner fault";
    std::ofstream(incoming.filePath("core_2.csv.part").toStdString()) << "shift (cm^-1),counts\n";
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return desk.project().datasets.size() == 2 && desk.runs()->isCurrent(); }, 15000));
    EXPECT_EQ(desk.runs()->watched().come(), 2U);
    EXPECT_FALSE(desk.words("broken.csv").isEmpty());
    EXPECT_EQ(desk.recipe().settings.text("watch"), incoming.path().toStdString()) << "to be resumed";
    EXPECT_THAT(recipeText(desk.recipe()), testing::Not(testing::HasSubstr("watch"))) << "and not given away";
    desk.d.click(desk.runs(), "End");
    EXPECT_FALSE(desk.runs()->watched().isWatching());
    // Taken up again: what was run is passed over.
    desk.runs()->watch(incoming.path().toStdString());
    std::filesystem::rename(incoming.filePath("core_2.csv.part").toStdString(),
                            incoming.filePath("core_3.csv").toStdString());
    std::ofstream(incoming.filePath("core_3.csv").toStdString())
        << std::ifstream(band(desk.folder, 12)).rdbuf();
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return desk.project().datasets.size() == 3 && desk.runs()->isCurrent(); }, 15000));
    EXPECT_EQ(desk.project().datasets.size(), 3U);
}
