// SPDX-License-Identifier: GPL-3.0-or-later
// Data: import with its settings, tables, columns, datasets.
#include "driver.h"

#include <QClipboard>
#include <QListWidget>
#include <QScrollArea>
#include <QTableView>
#include <QTest>

#include "app/panes/histogram_strip.h"
#include "app/stages/raw_lines.h"

#include <QTextDocument>
#include <fmt/format.h>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;
using testing::HasSubstr;

namespace {

QString writeFile(const QTemporaryDir& folder, const QString& name, const std::string& text) {
    const QString path = folder.filePath(name);
    std::ofstream(path.toStdString(), std::ios::binary) << text;
    return path;
}

QTableView* grid(Driver& d) {
    return d.window.data()->findChild<QTableView*>("tableGrid");
}

const Table& table(Driver& d) {
    return d.project().tables[0];
}

} // namespace

TEST(Import, SettingsReadTheFileAgainAtOnce) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "pond.csv", "a;b\n1,5;2\n2,5;3\n")});
    ImportView* import = d.window.data()->import();
    auto* preview = import->findChild<QTableView*>("previewGrid");
    EXPECT_EQ(preview->model()->columnCount(), 2);
    EXPECT_EQ(preview->model()->index(0, 0).data().toString(), "1.5");
    d.choose(import, "separator", ",");
    EXPECT_EQ(preview->model()->index(0, 0).data().toString(), "1");
    EXPECT_EQ(preview->model()->headerData(0, Qt::Horizontal).toString().left(1), "a");
    d.choose(import, "separator", ";");
    d.type(import, "heading", "0");
    EXPECT_EQ(preview->model()->rowCount(), 2) << "the first line is preamble, not data";
    d.click(import, "Import");
    EXPECT_EQ(d.project().tables.size(), 1U);
    EXPECT_THAT(table(d).origin.reading, HasSubstr("heading")) << "how it was read is kept with the table";
}

TEST(Import, SeveralFilesComeInAsOneEdit) {
    QTemporaryDir folder;
    Driver d;
    QStringList paths;
    for (const char* name : {"shell_7d.csv", "shell_28d.csv", "shell_90d.csv"})
        paths << QString::fromStdString(writeRaw(folder, name));
    d.drop(paths);
    ASSERT_TRUE(d.button(d.window.data()->import(), "Import 3 files"));
    QTest::keyClick(d.window.data()->import(), Qt::Key_Return, Qt::ControlModifier);
    EXPECT_TRUE(QTest::qWaitFor([&] { return d.project().datasets.size() == 3; }, 5000));
    d.settle();
    EXPECT_EQ(d.project().datasets.size(), 3U);
    EXPECT_EQ(d.entries(), 1U);
    d.click(&d.window, "Undo");
    EXPECT_TRUE(d.project().tables.empty());
}

TEST(Import, FilesOfAnotherShapeAreLookedAtOnTheirOwn) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "one.csv", "x,y\n1,2\n3,4\n"), writeFile(folder, "two.csv", "x,y\n1,2\n5,4\n"),
            writeFile(folder, "three.csv", "site;a;b\nnorth;1;2\n")});
    d.click(d.window.data()->import(), "Import 3 files");
    EXPECT_EQ(d.project().tables.size(), 2U);
    ASSERT_TRUE(d.window.data()->import()->hasWaiting());
    EXPECT_THAT(d.said().toStdString(),
                testing::AnyOf(HasSubstr("another shape"), HasSubstr("1 row, 3 columns")));
    d.click(d.window.data()->import(), "Import");
    EXPECT_EQ(d.project().tables.size(), 3U);
}

TEST(Import, APastedBlockIsReadLikeAFile) {
    Driver d;
    QApplication::clipboard()->setText("time\tvoltage\ns\tV\n0\t1.5\n1\t2.5\n");
    QTest::keyClick(&d.window, Qt::Key_V, Qt::ControlModifier);
    d.settle();
    d.click(d.window.data()->import(), "Import");
    ASSERT_EQ(d.project().tables.size(), 1U);
    EXPECT_EQ(table(d).columns[1].unit, "V");
    EXPECT_EQ(table(d).columns[1].numbers()[1], 2.5);
}

TEST(Import, EscapeLeavesOneFileOutAndGoesOnToTheNext) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "one.csv", "a,b\n1,2\n3,4\n")});
    d.drop({writeFile(folder, "two.csv", "c,d\n1,2\n3,4\n")});
    QTest::keyClick(d.window.data()->import(), Qt::Key_Escape);
    d.settle();
    ASSERT_TRUE(d.window.data()->import()->hasWaiting());
    d.click(d.window.data()->import(), "Import");
    ASSERT_EQ(d.project().tables.size(), 1U);
    EXPECT_EQ(table(d).name, "two");
}

TEST(Tables, CellsAreTypedAndUndone) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "t.csv", "x,y\n1,10\n2,20\n3,30\n")});
    d.click(d.window.data()->import(), "Import");
    QTableView* view = grid(d);
    view->setFocus();
    view->setCurrentIndex(view->model()->index(1, 1));
    QTest::keyClicks(view, "7"); // begins to edit with what is typed
    auto* editor = view->findChild<QLineEdit*>();
    ASSERT_TRUE(editor);
    QTest::keyClicks(editor, ".5");
    QTest::keyClick(editor, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(table(d).columns[1].numbers()[1], 7.5);
    d.click(&d.window, "Undo");
    EXPECT_EQ(table(d).columns[1].numbers()[1], 20);
    EXPECT_EQ(view->model()->index(1, 1).data().toString(), "20");
}

TEST(Tables, ColumnsAreNamedAndComputed) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "t.csv", "x,y\n1,10\n2,20\n3,30\n")});
    d.click(d.window.data()->import(), "Import");
    grid(d)->setCurrentIndex(grid(d)->model()->index(0, 1));
    d.type(d.window.data(), "columnName", "mass of water");
    EXPECT_EQ(table(d).columns[1].name, "mass of water");
    d.click(d.window.data(), "+ Computed column");
    ASSERT_EQ(table(d).columns.size(), 3U);
    auto* formula = d.window.data()->findChild<QLineEdit*>("columnFormula");
    EXPECT_TRUE(formula->hasFocus()) << "the formula waits to be typed";
    d.type(d.window.data(), "columnFormula", "'mass of water'/x + row");
    EXPECT_EQ(grid(d)->model()->index(2, 2).data().toString(), "13");
    d.type(d.window.data(), "columnFormula", "ln(nothing)");
    bool said = false;
    for (QLabel* label : d.window.data()->findChildren<QLabel*>())
        said |= label->isVisible() && label->text().contains("nothing");
    EXPECT_TRUE(said) << "the missing name is said";
    d.click(&d.window, "Undo");
    EXPECT_EQ(grid(d)->model()->index(2, 2).data().toString(), "13");
}

TEST(Tables, ASummaryStandsBesideTheColumn) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "t.csv", "x,y\n1,10\n2,\n3,30\n")});
    d.click(d.window.data()->import(), "Import");
    grid(d)->setCurrentIndex(grid(d)->model()->index(0, 1));
    d.settle();
    QTextDocument summary;
    summary.setHtml(d.window.data()->findChild<QLabel*>("columnSummary")->text());
    const std::string words = summary.toPlainText().simplified().toStdString();
    EXPECT_THAT(words, HasSubstr("n 2 missing 1"));
    EXPECT_THAT(words, HasSubstr("mean 20"));
    EXPECT_THAT(words, HasSubstr("squares 1000"));
    auto* bars = d.window.data()->findChild<HistogramStrip*>();
    ASSERT_TRUE(bars->isVisible());
    std::size_t counted = 0;
    for (std::size_t n : bars->histogram().counts) counted += n;
    EXPECT_EQ(counted, 2U);
}

// Whatever the column holds, and with the scroll bar beside: no number of the summary is cut.
TEST(Tables, TheNumbersOfASummaryAreNeverCut) {
    for (const char* cells :
         {"-1.602176634e-19 -1.602176635e-19 1.0545718176e-34", "-123456.789012 987654.321098 -555555.55555",
          "2031-05-02T06:00:00 2031-05-03T18:30:30 2031-12-04T23:59:59", "-3e8 1e300 -1e300",
          "an_uncommonly_long_word_of_a_diatom Nitzschia Gyrosigma"}) {
        QTemporaryDir folder;
        Driver d;
        std::string lines = "x,value of the column\n";
        int row = 0;
        for (const QString& cell : QString(cells).split(' '))
            lines += fmt::format("{},{}\n", ++row, cell.toStdString());
        d.drop({writeFile(folder, "long.csv", lines)});
        d.click(d.window.data()->import(), "Import");
        grid(d)->setCurrentIndex(grid(d)->model()->index(0, 1));
        d.window.resize(1280, 560); // a scroll bar shows
        d.settle();
        auto* label = d.window.data()->findChild<QLabel*>("columnSummary");
        QScrollArea* area = nullptr;
        for (QWidget* w = label; w && !area; w = w->parentWidget()) area = qobject_cast<QScrollArea*>(w);
        ASSERT_TRUE(area);
        QTextDocument summary;
        summary.setDefaultFont(label->font());
        summary.setHtml(label->text());
        summary.setTextWidth(label->contentsRect().width()); // what cannot wrap makes it wider
        EXPECT_LE(summary.size().width(), label->contentsRect().width() + 1) << cells;
        const int right = label->mapTo(area->viewport(), QPoint(label->width(), 0)).x();
        EXPECT_LE(right, area->viewport()->width()) << cells;
    }
}

TEST(Datasets, WithSeveralColumnsXAreFittedOverAllOfThem) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "t.csv", "u,v,z\n1,1,6\n1,2,8\n2,1,9\n2,3,13\n3,1,12\n3,2,14.1\n")});
    d.click(d.window.data()->import(), "Import");
    grid(d)->setCurrentIndex(grid(d)->model()->index(0, 1));
    d.settle();
    d.choose(d.window.data(), "columnRole", QString::number(static_cast<int>(Role::X)));
    EXPECT_EQ(table(d).columns[1].role, Role::X);
    d.click(d.window.data(), "Make dataset");
    d.click(d.window.data()->mapping(), "Make dataset");
    d.find("fit your own equation");
    d.type(d.window.analyse(), "equation", "a + b*x1 + c*x2");
    const auto fit = test::fitOf(d.window.document().session().evaluator(), d.project(),
                                 *d.project().analyses.find(d.window.document().analysis()));
    ASSERT_TRUE(fit.good()) << fit.error().text;
    EXPECT_EQ(fit.one().parameters.size(), 3U);
    EXPECT_NEAR(fit.one().parameters[1].value, 3, 0.1);
    EXPECT_FALSE(d.window.analyse()->canvas()->geometryShown() == std::nullopt) << "it is drawn";
}

TEST(Datasets, TakeTheirUncertaintyFromAChosenRule) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "t.csv", "x,y\n1,100\n2,400\n")});
    d.click(d.window.data()->import(), "Import");
    d.choose(d.window.data(), "uncertainty", "fraction");
    d.type(d.window.data(), "amount", "0.1");
    const auto curve = d.window.document().session().evaluator().measured(d.project(), d.dataset().id);
    EXPECT_THAT(curve.value->sigma, testing::ElementsAre(10, 40));
    d.type(d.window.data(), "datasetName", "pond A");
    EXPECT_EQ(d.dataset().name, "pond A");
}

TEST(Datasets, AreGroupedByAnAttribute) {
    Driver d;
    d.window.openPath("demo:");
    d.settle();
    auto* list = d.window.findChildren<QListWidget*>().front();
    const auto names = [&] {
        QStringList all;
        for (QListWidget* l : d.window.findChildren<QListWidget*>())
            if (l->accessibleName() == "Datasets") list = l;
        for (int i = 0; i < list->count(); ++i) all << list->item(i)->text();
        return all.join("|").toStdString();
    };
    EXPECT_EQ(
        names(),
        "7 d|28 d|90 d|Oxygen sensor|Marsh springs|North pan|Tank 1|Tank 2|Tank 3|Copper|Zinc|Creek level");
    d.window.document().orderBy("site");
    d.settle();
    EXPECT_EQ(names(), "site A|7 d|28 d|90 d|site not given|Oxygen sensor|Marsh springs|North pan|Tank "
                       "1|Tank 2|Tank 3|Copper|Zinc|Creek level");
    EXPECT_FALSE(list->item(0)->flags() & Qt::ItemIsSelectable) << "headings cannot be chosen";
    EXPECT_EQ(list->currentItem()->text(), "28 d") << "the selection stays";
    d.window.document().orderBy("");
    d.settle();
    EXPECT_EQ(
        names(),
        "7 d|28 d|90 d|Oxygen sensor|Marsh springs|North pan|Tank 1|Tank 2|Tank 3|Copper|Zinc|Creek level");
}

// Rows and cells by the keyboard: typed, copied, pasted, filled, inserted, deleted, undone.
TEST(Table, RowsAndCellsAreEditedByTheKeyboard) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "pond.csv", "depth,site\n1,a\n2,b\n3,c\n")});
    d.click(d.window.data()->import(), "Import");
    const Project before = d.project();
    QTableView* view = grid(d);
    view->setFocus();
    auto cell = [&](int row, int column) { return view->model()->index(row, column).data().toString(); };
    auto go = [&](int row, int column) {
        view->selectionModel()->setCurrentIndex(view->model()->index(row, column),
                                                QItemSelectionModel::ClearAndSelect);
    };
    auto press = [&](QKeySequence keys) {
        QTest::keySequence(view, keys);
        d.settle();
    };
    go(0, 0);
    press(QKeySequence("Ins"));
    EXPECT_EQ(table(d).rowCount(), 4U);
    EXPECT_EQ(cell(1, 0), "1");
    go(1, 0);
    press(QKeySequence("Ctrl+C"));
    EXPECT_EQ(QApplication::clipboard()->text(), "1\n");
    QApplication::clipboard()->setText("7\tx\n8\ty\n");
    go(3, 0);
    view->setFocus();
    d.window.data()->paste();
    d.settle();
    EXPECT_EQ(table(d).rowCount(), 5U) << "the table grows";
    EXPECT_EQ(cell(4, 1), "y");
    view->selectionModel()->select(QItemSelection(view->model()->index(3, 0), view->model()->index(4, 0)),
                                   QItemSelectionModel::ClearAndSelect);
    press(QKeySequence("Ctrl+D"));
    EXPECT_EQ(cell(4, 0), "7");
    go(0, 0);
    press(QKeySequence("Ctrl+Del"));
    EXPECT_EQ(d.project().tables[0].columns[1].cells->texts, (std::vector<std::string>{"a", "b", "x", "y"}));
    EXPECT_EQ(table(d).rowCount(), 4U);
    for (int k = 0; k < 4; ++k) {
        d.window.document().session().undo();
        d.settle();
    }
    EXPECT_TRUE(d.project() == before) << "four edits, each undone";
}

// A click on a raw line says what it is; a file with several tables shows them to choose from.
TEST(Import, PointingAtLinesAndChoosingTables) {
    QTemporaryDir folder;
    Driver d;
    d.drop({writeFile(folder, "shell_28_A.csv", "a,b\n1,2\n3,4\n5,6\n\nc,d,e\n1,2,3\n2,3,4\n3,4,5\n")});
    ImportView* import = d.window.data()->import();
    auto* tables = import->findChild<QListWidget*>("importTables");
    ASSERT_EQ(tables->count(), 2);
    tables->item(0)->setCheckState(Qt::Unchecked);
    auto* raw = import->findChild<RawLines*>("rawLines");
    EXPECT_EQ(raw->item(0)->toolTip(), "headings");
    Q_EMIT raw->told("heading", 0);
    d.settle();
    EXPECT_NE(raw->item(0)->toolTip(), "headings");
    Q_EMIT raw->told("heading", 1);
    d.settle();
    import->findChild<QLineEdit*>("pattern")->setText("shell_{age:d}_{site}");
    import->findChild<QLineEdit*>("called")->setText("{age} d");
    tables->item(0)->setCheckState(Qt::Unchecked);
    d.click(import, "Import");
    ASSERT_EQ(d.project().tables.size(), 1U);
    EXPECT_EQ(table(d).columns.size(), 3U);
    EXPECT_TRUE(table(d).name.starts_with("28 d"));
    ASSERT_FALSE(d.project().datasets.empty());
    EXPECT_THAT(d.project().datasets[0].attributes, testing::Contains(Attribute{"age", "28", ""}));
}
