// SPDX-License-Identifier: GPL-3.0-or-later
// Analyse: several datasets in one fit, numbers side by side, other kinds of analyses and other models.
#include "driver.h"

#include "analyses/fit_analysis.h"
#include "app/panes/model_picker.h"
#include "app/panes/numbers_grid.h"
#include "models/catalogue.h"

#include <QTableView>
#include <QTableWidget>
#include <cmath>
#include <fmt/format.h>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

QString cell(Driver& d, const QString& row, int column) {
    auto* grid = d.window.analyse()->findChild<QTableWidget*>("numbers");
    for (int r = 0; r < grid->rowCount(); ++r)
        if (grid->verticalHeaderItem(r)->text() == row)
            return grid->item(r, column) ? grid->item(r, column)->text() : QString();
    return "no such row";
}

void clickRow(Driver& d, const QString& name) {
    auto* grid = d.window.analyse()->findChild<QTableWidget*>("numbers");
    for (int r = 0; r < grid->rowCount(); ++r)
        if (grid->verticalHeaderItem(r)->text() == name) {
            const int y = grid->verticalHeader()->sectionViewportPosition(r) + 8;
            QTest::mouseClick(grid->verticalHeader()->viewport(), Qt::LeftButton, {}, QPoint(20, y));
            return;
        }
    ADD_FAILURE() << "no row " << name.toStdString();
}

// Two decays with one rate: pond A and pond B.
std::string twoDecays(const QTemporaryDir& folder, const char* name, double amplitude) {
    std::string content = "t (h),oxygen (mg/L)\n";
    for (int i = 0; i < 20; ++i) {
        const double t = 0.5 * i;
        content +=
            fmt::format("{},{:.4f}\n", t, amplitude * std::exp(-0.4 * t) + 1 + 0.02 * std::sin(9.7 * i));
    }
    const std::string path = folder.filePath(name).toStdString();
    std::ofstream(path) << content;
    return path;
}

} // namespace

// The whole task: an equation of one's own with limits, over two datasets, one parameter shared. Each line is
// an action: under twenty of them from the dropped files on.
TEST(Analyse, AnOwnEquationOverTwoDatasetsWithOneParameterShared) {
    Driver d;
    QTemporaryDir folder;
    int actions = 0;
    auto act = [&](auto&& what) {
        what();
        d.settle();
        ++actions;
    };
    const QString a = QString::fromStdString(twoDecays(folder, "pond_a.csv", 3)),
                  b = QString::fromStdString(twoDecays(folder, "pond_b.csv", 5));
    d.drop({a, b});
    act([&] { d.click(d.window.data()->import(), "Import"); });
    if (d.project().datasets.size() < 2) act([&] { d.click(d.window.data()->import(), "Import"); });
    ASSERT_EQ(d.project().datasets.size(), 2U);
    act([&] { d.find("your own equation"); }); // typed and taken
    const AnalysisId id = d.window.document().analysis();
    auto now = [&] { return d.project().analyses.find(id); };
    act([&] { d.type(d.window.analyse(), "equation", "a*exp(-k*x) + c"); });
    act([&] { QTest::mouseClick(d.window.analyse()->findChild<QPushButton*>("members"), Qt::LeftButton); });
    const auto other =
        d.project().datasets[d.window.document().dataset() == d.project().datasets[0].id ? 1 : 0];
    act([&] { d.choose(QString::fromStdString(other.name)); });
    ASSERT_EQ(now()->inputs.size(), 2U);
    act([&] { d.click(d.window.analyse(), "side by side"); });
    EXPECT_NE(cell(d, "k", 1), "");
    act([&] { clickRow(d, "k"); });
    act([&] { d.choose("One value for all datasets"); });
    auto* rows = d.window.analyse()->findChild<QTableWidget*>("parameters");
    int row = 0;
    while (rows->item(row, 0) && !rows->item(row, 0)->text().startsWith("c")) ++row;
    act([&] {
        QTest::mouseClick(rows->viewport(), Qt::LeftButton, {},
                          rows->visualItemRect(rows->item(row, 0)).center());
    });
    act([&] { d.type(d.window.analyse(), "limitLow", "0"); });
    act([&] { d.type(d.window.analyse(), "limitHigh", "2"); });
    EXPECT_LT(actions, 20);
    RecordProperty("actions", actions);

    const auto f = test::fitOf(d.window.document().session().evaluator(), d.project(), *now());
    ASSERT_TRUE(f.good());
    EXPECT_EQ(f.report->state, fit::FitState::Converged);
    EXPECT_EQ(f.outcome->find("k")->state, "shared");
    EXPECT_NEAR(f.outcome->find("k")->value, 0.4, 0.02);
    EXPECT_NEAR(f.outcome->find("a of " + other.id.text())->value, other.name == "pond_b" ? 5 : 3, 0.1);
    EXPECT_EQ(cell(d, "k", 1), "") << "one wide cell";
    ASSERT_TRUE(f.report->comparison);
    // In one step back, and the sharing is gone.
    act([&] { clickRow(d, "k"); });
    act([&] { d.choose("A value for each dataset"); });
    EXPECT_NE(cell(d, "k", 1), "");
}

// Whole and part of one curve beside each other, with what may be compared.
TEST(Analyse, FitsOfOneDatasetStandSideBySide) {
    Driver d;
    QTemporaryDir folder;
    d.drop({QString::fromStdString(twoDecays(folder, "pond.csv", 3))});
    d.click(d.window.data()->import(), "Import");
    d.find("fit straight line");
    d.find("fit straight line");
    d.type(d.window.analyse(), "spanLow", "4");
    d.find("numbers side by side");
    auto* grid = d.window.analyse()->findChild<QTableWidget*>("numbers");
    ASSERT_EQ(grid->columnCount(), 2);
    EXPECT_EQ(cell(d, "n", 0), "20");
    EXPECT_EQ(cell(d, "n", 1), "12");
    EXPECT_NE(cell(d, "slope", 0), cell(d, "slope", 1));
    auto words = [&] {
        QStringList all;
        for (QLabel* l : d.window.analyse()->numbers()->findChildren<QLabel*>()) all << l->text();
        return all.join(" ");
    };
    EXPECT_TRUE(words().contains("different points")) << words().toStdString();
    d.find("residuals");
    EXPECT_FALSE(grid->isVisible());
}

// A calibration: numbers derived by typing, the curve at typed places, with what lies beyond the points said.
TEST(Analyse, NumbersAreDerivedAndPredictedByTyping) {
    Driver d;
    QTemporaryDir folder;
    d.drop({QString::fromStdString(twoDecays(folder, "pond.csv", 3))});
    d.click(d.window.data()->import(), "Import");
    d.find("fit exponential decay to a plateau");
    d.click(d.window.analyse(), "details");
    d.type(d.window.analyse(), "derive", "tau = 1/rate; sum = amplitude + plateau");
    const auto f = d.fit();
    ASSERT_TRUE(f.good());
    EXPECT_NEAR(f.outcome->find("tau")->value, 2.5, 0.1);
    EXPECT_NEAR(f.outcome->find("sum")->value, 4, 0.1);
    EXPECT_GT(f.outcome->find("sum")->se, 0);
    auto* predicted = d.window.analyse()->findChild<QLabel*>("predicted");
    EXPECT_FALSE(predicted->isVisible());
    d.type(d.window.analyse(), "predictAt", "2; 30");
    ASSERT_TRUE(predicted->isVisible());
    EXPECT_TRUE(predicted->text().contains("2.3")) << predicted->text().toStdString();
    EXPECT_EQ(predicted->text().count("a new point"), 2);
    EXPECT_EQ(predicted->text().count("beyond the points"), 1);
    d.type(d.window.analyse(), "derive", "tau = 1/nothing");
    bool said = false;
    for (QLabel* label : d.window.analyse()->findChildren<QLabel*>())
        said |= label->isVisible() && label->text().contains("nothing");
    EXPECT_TRUE(said);
}

// The picker: pictures, a search, those that would serve; a click makes it the fit.
TEST(Analyse, TheModelIsChosenFromPictures) {
    Driver d;
    QTemporaryDir folder;
    d.drop({QString::fromStdString(twoDecays(folder, "pond.csv", 3))});
    d.click(d.window.data()->import(), "Import");
    d.find("fit straight line");
    QTest::mouseClick(d.window.analyse()->findChild<QPushButton*>("model"), Qt::LeftButton);
    auto* picker = d.window.findChild<ModelPicker*>();
    ASSERT_TRUE(picker);
    EXPECT_TRUE(QTest::qWaitFor([&] { return picker->isCurrent(); }, 20000));
    auto tiles = [&] {
        QTest::qWait(50); // what was built is shown
        QStringList names;
        for (QPushButton* b : picker->findChildren<QPushButton*>("tile"))
            if (b->isVisibleTo(picker)) names << b->accessibleName();
        return names;
    };
    EXPECT_GT(tiles().size(), 70);
    EXPECT_TRUE(tiles().front().contains("xponential"))
        << "the best of those that would serve: " << tiles().front().toStdString();
    auto* search = picker->findChild<QLineEdit*>("pickerSearch");
    QTest::keyClicks(search, "decay plateau");
    EXPECT_GE(tiles().size(), 1);
    EXPECT_LT(tiles().size(), 8);
    for (QPushButton* b : picker->findChildren<QPushButton*>("tile"))
        if (b->isVisibleTo(picker) && b->accessibleName() == "Exponential decay to a plateau" &&
            !b->visibleRegion().isEmpty()) {
            QTest::mouseClick(b, Qt::LeftButton);
            break;
        }
    d.settle();
    EXPECT_EQ(d.project().analyses[0].model.kind, "exponential-decay");
    EXPECT_EQ(d.fit().report->state, fit::FitState::Converged);
}

TEST(Analyse, ASummaryOfASpanIsKept) {
    Driver d;
    QTemporaryDir folder;
    d.drop({QString::fromStdString(twoDecays(folder, "pond.csv", 3))});
    d.click(d.window.data()->import(), "Import");
    d.find("summary of a span");
    auto* rows = d.window.analyse()->findChild<QTableWidget*>("quantities");
    ASSERT_TRUE(rows);
    const QString all = rows->item(0, 1) ? rows->item(0, 1)->text() : QString();
    EXPECT_GE(rows->rowCount(), 9);
    d.type(d.window.analyse(), "spanHigh", "3");
    EXPECT_EQ(d.project().analyses[0].inputs[0].span.high(), 3);
    d.stage("Results");
    const auto* grid = d.window.findChild<QTableView*>("results");
    ASSERT_TRUE(grid);
    bool found = false;
    for (int r = 0; r < grid->model()->rowCount(); ++r)
        found |= grid->model()->index(r, 2).data().toString() == "area above chord";
    EXPECT_TRUE(found);
}

namespace {

struct None final : analyses::Detail {};

analyses::AnalysisKind middleKind() {
    return {.info = {.key = "test-middle",
                     .name = "Middle of all",
                     .purpose = "The middle of x",
                     .settings =
                         {{.key = "factor", .label = "Enlarged by", .fallback = 1.0, .help = "Times this."}}},
            .slots = {{.key = "datasets", .label = "Datasets", .of = "dataset"}},
            .compute = [](const analyses::Task& task,
                          const analyses::Taken&) -> Result<analyses::AnalysisResult> {
                analyses::AnalysisResult out{.state = "done"};
                const Curve& c = *task.inputs.at(0).curve;
                out.quantities.push_back(
                    {.key = "middle",
                     .label = "middle",
                     .value = (c.x.front() + c.x.back()) / 2 *
                              analyses::kindOf(task.spec)->info.number(task.spec.settings, "factor"),
                     .state = "summary"});
                out.sentence = "Found the middle.";
                return out;
            },
            .costly = false};
}

} // namespace

// Another kind of analysis and another model are found in menus, cards and lists without being named there.
TEST(Analyse, AnotherKindAndAnotherModelAreFoundEverywhere) {
    if (!analyses::catalogue().find("test-middle")) analyses::addKind(middleKind());
    if (!models::catalogue().find("test-model"))
        models::addKind(
            {{.key = "test-model", .name = "Quarter wave", .purpose = "For a test", .group = "Tests"},
             [](const Settings&) { return *models::equationModel("p*sin(x/q)"); }});
    Driver d;
    QTemporaryDir folder;
    d.drop({QString::fromStdString(twoDecays(folder, "pond.csv", 3))});
    d.click(d.window.data()->import(), "Import");
    d.find("middle of all");
    auto* rows = d.window.analyse()->findChild<QTableWidget*>("quantities");
    ASSERT_TRUE(rows);
    ASSERT_EQ(rows->rowCount(), 1);
    EXPECT_TRUE(rows->item(0, 0)->text().startsWith("middle"));
    d.stage("Results");
    const auto* grid = d.window.findChild<QTableView*>("results");
    ASSERT_EQ(grid->model()->rowCount(), 1);
    EXPECT_EQ(grid->model()->index(0, 2).data().toString(), "middle");
    d.find("quarter wave");
    EXPECT_EQ(d.project().analyses[1].model.kind, "test-model");
    QStringList words;
    for (QLabel* l : d.window.analyse()->findChild<QPushButton*>("model")->findChildren<QLabel*>())
        words << l->text();
    EXPECT_TRUE(words.contains("Quarter wave"));
}
