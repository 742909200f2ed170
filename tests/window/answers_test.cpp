// SPDX-License-Identifier: GPL-3.0-or-later
// What the scientist came for, in the real window: a plate with standards and samples, sites compared.
#include "driver.h"

#include "analyses/groups/groups.h"
#include "analyses/unknowns/unknowns.h"
#include "app/panes/sentence_row.h"
#include "app/panes/tables_row.h"
#include "app/widgets.h"
#include "figure/kinds.h"

#include <QClipboard>
#include <QHeaderView>
#include <QTableView>
#include <QTableWidget>
#include <QTimer>
#include <random>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

// Standards and blanks in duplicate and forty samples with dilutions; what each sample holds.
std::vector<double> writePlate(const std::string& path) {
    std::mt19937_64 random(40);
    std::normal_distribution<double> noise(0, 0.002);
    const auto reading = [&](double x) { return 0.03 + 0.05 * x - 0.0006 * x * x + noise(random); };
    std::ofstream out(path);
    out << "name,phosphate (umol/L),OD 1,OD 2,dilution\n";
    for (double x : {0.0, 1.0, 2.0, 5.0, 10.0, 15.0, 20.0})
        out << "S," << x << "," << reading(x) << "," << reading(x) << ",1\n";
    std::vector<double> holds;
    for (int k = 0; k < 40; ++k) {
        const double x = 0.5 + 0.45 * k;
        const int dilution = k % 4 == 0 ? 10 : 1;
        out << "P" << k + 1 << ",," << reading(x) << "," << reading(x) << "," << dilution << "\n";
        holds.push_back(x * dilution);
    }
    return holds;
}

const QTableWidget& tables(Driver& d) {
    return *d.window.findChild<QTableWidget*>("tables");
}

} // namespace

TEST(Answers, APlateFromFileToSamplesInFiveActs) {
    QTemporaryDir folder;
    Driver d;
    const QString path = folder.filePath("plate.csv");
    const std::vector<double> holds = writePlate(path.toStdString());
    d.drop({path});                               // 1
    d.click(d.window.data()->import(), "Import"); // 2
    ASSERT_EQ(d.project().datasets.size(), 1U) << "the dilution is no dataset of its own";
    d.stage("Analyse");                   // 3
    d.find("fit polynomial of degree 2"); // 4
    d.find("fit unknowns");               // 5
    ASSERT_EQ(d.project().analyses.size(), 2U);
    EXPECT_EQ(d.project().analyses[1].analyses.at(0), d.project().analyses[0].id) << "the fit is taken";
    const auto outcome =
        d.window.document().session().evaluator().analysis(d.project(), d.project().analyses[1]);
    ASSERT_TRUE(outcome.exists());
    const auto& found = *analyses::unknownsDetail(*outcome);
    ASSERT_EQ(found.samples.size(), 40U);
    for (std::size_t k = 0; k < holds.size(); ++k) {
        EXPECT_EQ(found.samples[k].state, fit::ReadState::InRange) << found.samples[k].name;
        EXPECT_NEAR(found.samples[k].value, holds[k], 5 * found.samples[k].se) << found.samples[k].name;
    }
    // The table stands below, and a click stresses a sample.
    EXPECT_TRUE(tables(d).isVisible());
    EXPECT_EQ(tables(d).rowCount(), 40);
    EXPECT_EQ(tables(d).item(2, 0)->text(), "P3");
    QTest::mouseClick(tables(d).viewport(), Qt::LeftButton, {},
                      tables(d).visualItemRect(tables(d).item(2, 0)).center());
    d.settle();
    const auto& marks = d.window.analyse()->canvas()->content().marks;
    const auto readings = std::ranges::find(marks, "readings", &Element::kind);
    ASSERT_NE(readings, marks.end());
    EXPECT_EQ(readings->settings.text("stressed"), "P3");
    d.click(d.window.analyse()->tables(), "Copy");
    EXPECT_EQ(QGuiApplication::clipboard()->text().count('\n'), 41);
    d.choose(d.window.analyse()->tables(), "tableChoice", "standards");
    EXPECT_EQ(tables(d).rowCount(), 7);
    // On a figure and as a file.
    d.find("new figure");
    ASSERT_EQ(d.project().figures.size(), 1U);
    std::vector<std::string> kinds;
    for (const Element& e : d.project().figures[0].elements[0].children) kinds.push_back(e.kind);
    EXPECT_THAT(kinds, testing::IsSupersetOf({"points", "curve", "readings"}));
    d.stage("Results");
    d.type(&d.window, "resultsFilter", "phosphate > 100");
    const auto* grid = d.window.findChild<QTableView*>("results");
    EXPECT_EQ(grid->model()->rowCount(),
              std::ranges::count_if(found.samples, [](const auto& s) { return s.value > 100; }));
    d.type(&d.window, "resultsFilter", "");
    undoAll(d);
    EXPECT_TRUE(d.project().analyses.empty());
}

// A table alone on a figure is as high as its samples need.
TEST(Answers, ATableOfManySamplesHasRoomOnItsFigure) {
    QTemporaryDir folder;
    Driver d;
    const QString path = folder.filePath("plate.csv");
    writePlate(path.toStdString());
    d.drop({path});
    d.click(d.window.data()->import(), "Import");
    d.find("fit polynomial of degree 2");
    d.find("fit unknowns");
    d.stage("Results");
    d.type(&d.window, "resultsFilter", "phosphate");
    auto* grid = d.window.findChild<QTableView*>("results");
    ASSERT_TRUE(QTest::qWaitFor([&] { return grid->model()->rowCount() == 40; }, 10000));
    EXPECT_EQ(grid->model()->index(0, 6).data().toString(), "in range");
    d.click(d.window.results(), "On a figure");
    ASSERT_EQ(d.project().figures.size(), 1U);
    const double needed = 41 * figure::tableRowMm(8); // samples and a heading
    EXPECT_GT(d.project().figures[0].settings.number("height"), needed + 4);
    EXPECT_LT(d.project().figures[0].settings.number("height"), needed + 12);
}

// A trend over datasets in three acts: a number, what it is plotted over, a fit.
TEST(Answers, ANumberIsPlottedOverAnAttribute) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Results");
    auto* grid = d.window.findChild<QTableView*>("results");
    ASSERT_TRUE(QTest::qWaitFor([&] { return grid->model()->rowCount() > 10; }, 20000));
    d.type(&d.window, "resultsFilter", "c2");
    ASSERT_EQ(grid->model()->rowCount(), 3);
    const std::size_t before = d.project().datasets.size();
    QTimer::singleShot(200, [&] { d.choose("age"); });
    d.click(d.window.results(), "Plot over…");
    ASSERT_EQ(d.project().datasets.size(), before + 1);
    EXPECT_EQ(d.project().datasets[before].name, "c2 over age");
    EXPECT_EQ(d.window.document().dataset(), d.project().datasets[before].id);
    d.find("fit straight line");
    EXPECT_EQ(d.project().analyses[d.project().analyses.size() - 1].inputs[0].dataset,
              d.project().datasets[before].id);
    // Wide: a row for each dataset; its methods told once.
    d.stage("Results");
    d.type(&d.window, "resultsFilter", "site = A");
    auto* form = d.window.findChild<QComboBox*>("resultsForm");
    form->setFocus();
    QTest::keyClick(form, Qt::Key_Down);
    d.settle();
    EXPECT_EQ(grid->model()->rowCount(), 3);
    EXPECT_EQ(grid->model()->headerData(0, Qt::Horizontal).toString(), "dataset");
    EXPECT_TRUE(grid->isColumnHidden(0)) << "the name heads the rows";
    EXPECT_TRUE(grid->verticalHeader()->isVisible());
    EXPECT_EQ(grid->model()->headerData(0, Qt::Vertical).toString(),
              grid->model()->index(0, 0).data().toString());
    grid->sortByColumn(grid->model()->columnCount() - 1, Qt::DescendingOrder);
    QTest::mouseClick(grid->findChild<QAbstractButton*>(), Qt::LeftButton); // the order of the datasets again
    EXPECT_EQ(grid->model()->headerData(0, Qt::Vertical).toString().toStdString(),
              d.project().datasets[0].name);
    d.click(d.window.results(), "Copy methods text");
    ASSERT_TRUE(QTest::qWaitFor(
        [] { return QGuiApplication::clipboard()->text().contains("Evaluated with Jointer"); }, 5000));
    EXPECT_EQ(QGuiApplication::clipboard()->text().count("shell_7d.csv"), 1);
    d.type(&d.window, "resultsFilter", "centre >");
    bool said = false;
    for (QLabel* l : d.window.results()->findChildren<QLabel*>())
        said |= l->isVisible() && l->text().contains("lacks a side");
    EXPECT_TRUE(said);
}

TEST(Answers, SitesAreComparedWithBrackets) {
    QTemporaryDir folder;
    Driver d;
    const QString path = folder.filePath("sites.csv");
    {
        std::mt19937_64 random(3);
        std::normal_distribution<double> noise(0, 1);
        std::ofstream out(path.toStdString());
        out << "site,count\n";
        for (const auto& [site, mean] : {std::pair("north", 10.0), {"south", 14.0}, {"creek", 10.3}})
            for (int k = 0; k < 12; ++k) out << site << "," << mean + noise(random) << "\n";
    }
    d.drop({path});
    d.click(d.window.data()->import(), "Import");
    d.stage("Analyse");
    d.find("fit compare groups");
    const auto brackets = [&] {
        std::vector<std::string> words;
        for (const Element& m : d.window.analyse()->canvas()->content().marks)
            if (m.kind == "bracket") words.push_back(m.settings.text("label"));
        return words;
    };
    ASSERT_EQ(brackets().size(), 3U);
    EXPECT_THAT(brackets()[0], testing::EndsWith("p < 0.001"));
    EXPECT_EQ(tables(d).rowCount(), 3);
    // The quantiles of all about their means, then those of one site.
    auto* stage = d.window.analyse();
    d.click(stage, "quantiles");
    const auto& shown = stage->strip()->content();
    ASSERT_EQ(shown.marks.size(), 2U);
    EXPECT_EQ(shown.marks[1].settings.text("role"), "quantiles");
    EXPECT_EQ(shown.marks[1].settings.text("named"), "all, less their means");
    EXPECT_THAT(shown.caption, testing::HasSubstr("Shapiro–Wilk"));
    auto* which = stage->findChild<QComboBox*>("stripChoice");
    ASSERT_TRUE(which->isVisible());
    ASSERT_EQ(which->count(), 4);
    d.choose(stage, "stripChoice", "north");
    EXPECT_EQ(shown.marks[1].settings.text("named"), "north");
    d.click(stage, "tables");
    d.find("new figure");
    const auto& children = d.project().figures[0].elements[0].children;
    EXPECT_EQ(std::ranges::count(children, "bracket", &Element::kind), 3);
    EXPECT_EQ(std::ranges::count(children, "boxes", &Element::kind), 1);
    d.stage("Analyse");
    // Another test, and a control.
    d.choose(d.window.analyse()->protocol(), "test", "anova");
    d.choose(d.window.analyse()->protocol(), "pairs", "dunnett");
    d.type(d.window.analyse()->protocol(), "control", "north");
    EXPECT_EQ(brackets().size(), 2U);
    d.type(d.window.analyse()->protocol(), "control", "west"); // there is none
    EXPECT_EQ(brackets().size(), 0U);
    undoAll(d);
    EXPECT_TRUE(d.project().analyses.empty());
}

// A half-life over two fits: formulas typed, a name put in by the menu, in the results, taken back.
TEST(Answers, NumbersAreDerivedByFormulas) {
    QTemporaryDir folder;
    Driver d;
    const QString path = folder.filePath("decay.csv");
    {
        std::mt19937_64 random(5);
        std::normal_distribution<double> noise(0, 0.02);
        std::ofstream out(path.toStdString());
        out << "time (h),north (mg/L),south (mg/L)\n";
        for (int k = 0; k <= 24; ++k)
            out << k << "," << 5 * std::exp(-0.2 * k) + noise(random) << ","
                << 4 * std::exp(-0.1 * k) + noise(random) << "\n";
    }
    d.drop({path});
    d.click(d.window.data()->import(), "Import");
    ASSERT_EQ(d.project().datasets.size(), 2U);
    d.stage("Analyse");
    d.window.document().selectDataset(d.project().datasets[0].id);
    d.find("fit exponential decay");
    d.window.document().selectDataset(d.project().datasets[1].id);
    d.find("fit exponential decay");
    d.find("fit derived numbers");
    auto* pane = d.window.analyse()->protocol();
    ASSERT_EQ(d.project().analyses.size(), 3U);
    EXPECT_EQ(d.project().analyses[2].analyses.at(0), d.project().analyses[1].id)
        << "the fit of this dataset";
    d.choose(pane, "slot-analysis-2", text(d.project().analyses[0].id.text()));
    d.type(pane, "formulas", "half [min] = ln(2)/rate");
    bool said = false;
    for (QLabel* l : pane->findChildren<QLabel*>())
        said |= l->isVisible() && l->text().contains("rate_A or rate_B");
    EXPECT_TRUE(said) << "it stands in both";
    d.type(pane, "formulas", "half [min] = ln(2)/rate_A; ratio = rate_B/rate_A");
    const auto outcome =
        d.window.document().session().evaluator().analysis(d.project(), d.project().analyses[2]);
    ASSERT_TRUE(outcome.exists());
    EXPECT_NEAR(outcome->quantities[0].value, 60 * std::log(2) / 0.1, 12);
    EXPECT_EQ(outcome->quantities[0].unit, "min");
    EXPECT_NEAR(outcome->quantities[1].value, 2, 0.15);
    EXPECT_GT(outcome->quantities[1].se, 0);
    auto* field = pane->findChild<QPlainTextEdit*>("formulas");
    field->selectAll();
    d.click(pane, "names ▾");
    auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
    ASSERT_TRUE(menu);
    ASSERT_GT(menu->actions().size(), 4);
    menu->actions().front()->trigger();
    menu->close();
    EXPECT_FALSE(field->toPlainText().isEmpty());
    QTest::keyClick(field, Qt::Key_Escape);
    d.stage("Results");
    d.type(&d.window, "resultsFilter", "ratio");
    EXPECT_EQ(d.window.findChild<QTableView*>("results")->model()->rowCount(), 1);
    undoAll(d);
    EXPECT_TRUE(d.project().datasets.empty());
}

// From a number to its step, what it would be without, its table; columns chosen; a report.
TEST(Answers, ANumberTellsWhereItComesFromAndWhatAStepDoes) {
    QTemporaryDir folder;
    Driver d;
    d.window.openPath("demo:");
    const Dataset& first = *d.window.document().currentDataset();
    const DatasetId id = first.id;
    Settings by;
    by.set("y", Value(2.0));
    ASSERT_TRUE(d.window.document().apply(edits::addStep(id, "scale", by, "Scale")));
    ASSERT_TRUE(d.window.document().addAnalysis([](DatasetId of) { return newFit(of, "line"); }));
    d.stage("Results");
    auto* grid = d.window.findChild<QTableView*>("results");
    ASSERT_TRUE(QTest::qWaitFor([&] { return grid->model()->rowCount() > 3; }, 20000));
    d.type(&d.window, "resultsFilter", text("slope, " + d.window.document().currentDataset()->name));
    ASSERT_EQ(grid->model()->rowCount(), 1);
    std::vector<SentenceRow*> stations;
    const auto look = [&] {
        stations.clear();
        for (auto* r : d.window.results()->findChildren<SentenceRow*>())
            if (r->isVisible()) stations.push_back(r);
        return stations.size() >= 3;
    };
    ASSERT_TRUE(QTest::qWaitFor(look, 5000));
    SentenceRow* step = stations[stations.size() - 2];
    for (auto* b : step->findChildren<QPushButton*>())
        if (b->accessibleName().startsWith("What the number would be")) QTest::mouseClick(b, Qt::LeftButton);
    const auto told = [&] {
        for (QLabel* l : step->findChildren<QLabel*>())
            if (l->text().startsWith("Without it: ") && l->text().contains("with it")) return true;
        return false;
    };
    EXPECT_TRUE(QTest::qWaitFor(told, 10000));
    EXPECT_TRUE(d.window.document().currentDataset()->protocol.back().on) << "the project stays as it is";
    QTest::mouseClick(step, Qt::LeftButton, {}, QPoint(60, 8));
    d.settle();
    EXPECT_TRUE(d.window.clean()->isVisible());
    EXPECT_EQ(d.window.document().step(), d.window.document().currentDataset()->protocol.back().id);
    d.stage("Results");
    // Columns by a right-click on the heading.
    QTimer::singleShot(200, [&] { d.choose("State"); });
    Q_EMIT grid->horizontalHeader()->customContextMenuRequested(QPoint(40, 8));
    ASSERT_TRUE(QTest::qWaitFor([&] { return grid->isColumnHidden(6); }, 5000));
    EXPECT_FALSE(d.window.results()->table().findByName("state"));
    EXPECT_TRUE(d.window.results()->table().findByName("value"));
    // On a figure, as a table that follows.
    const std::size_t figures = d.project().figures.size();
    d.click(d.window.results(), "On a figure");
    EXPECT_TRUE(d.window.figure()->isVisible());
    EXPECT_EQ(d.project().figures.size(), figures);
    const auto figure = d.project().figures.find(d.window.document().figure());
    ASSERT_TRUE(figure);
    const auto& children = figure->elements[0].children;
    const auto table = std::ranges::find(children, "results-table", &Element::kind);
    ASSERT_NE(table, children.end());
    EXPECT_EQ(table->settings.text("quantities"), "slope");
    // The report.
    const QString report = folder.filePath("page.pdf");
    d.window.exportReportTo(report);
    ASSERT_TRUE(QTest::qWaitFor([&] { return d.said().startsWith("Wrote "); }, 10000))
        << d.said().toStdString();
    QFile file(report);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly));
    EXPECT_TRUE(file.readAll().startsWith("%PDF"));
}
