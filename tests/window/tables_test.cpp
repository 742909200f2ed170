// SPDX-License-Identifier: GPL-3.0-or-later
// Tables by mouse and keyboard: kinds and formats, formulas with completion, finding, rows of a kind, columns
// moved, datasets made by mapping, functions, joins, files read again.
#include "driver.h"

#include "app/forms/formula_field.h"
#include "app/models/column_header.h"
#include "app/panes/dataset_pane.h"
#include "app/stages/raw_lines.h"
#include "app/stages/sheet_view.h"
#include "session/table_search.h"

#include <QAbstractItemView>
#include <QAction>
#include <QClipboard>
#include <QCompleter>
#include <QListWidget>
#include <QSpinBox>
#include <QTableView>
#include <QTableWidget>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;
using testing::HasSubstr;

namespace {

struct Pond : Driver {
    QTemporaryDir folder;
    QString path;

    explicit Pond(const std::string& text, const char* name = "pond.csv") {
        path = write(name, text);
        drop({path});
        click(window.data()->import(), "Import");
        grid()->setFocus();
    }
    QString write(const char* name, const std::string& text) {
        const QString file = folder.filePath(name);
        std::ofstream(file.toStdString(), std::ios::binary) << text;
        return file;
    }
    QTableView* grid() { return window.data()->findChild<QTableView*>("tableGrid"); }
    const Table& table() { return project().tables[0]; }
    void goTo(int row, int column) {
        grid()->setCurrentIndex(grid()->model()->index(row, column));
        settle();
    }
    QString cell(int row, int column) { return grid()->model()->index(row, column).data().toString(); }
    void act(const QString& label) {
        for (QAction* a : grid()->actions())
            if (a->text() == label) {
                a->trigger();
                return settle();
            }
        ADD_FAILURE() << "no action " << label.toStdString();
    }
    FormulaField* formula() { return window.data()->findChild<FormulaField*>("columnFormula"); }
    void chooseKind(ColumnKind kind) {
        choose(window.data(), "columnKind", QString::number(static_cast<int>(kind)));
    }
    QComboBox* is(const char* column) {
        return window.data()->mapping()->findChild<QComboBox*>(QString("is:") + column);
    }
};

constexpr const char* kLevels = "time,level\n0,10.125\n1,11.5\n2,12\n3,13\n";

} // namespace

TEST(ColumnSettings, NumbersAreShownAsChosenWithAllDigitsKept) {
    Pond d(kLevels);
    d.goTo(0, 1);
    auto* style = d.window.data()->findChild<QComboBox*>("columnStyle");
    style->setFocus();
    QTest::keyClick(style, Qt::Key_Down); // fixed
    d.settle();
    auto* digits = d.window.data()->findChild<QSpinBox*>("columnDigits");
    digits->setFocus();
    digits->selectAll();
    QTest::keyClicks(digits, "2");
    QTest::keyClick(digits, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.cell(1, 1), "11.50");
    EXPECT_EQ(d.table().columns[1].numbers()[0], 10.125);
    d.click(&d.window, "Undo");
    d.click(&d.window, "Undo");
    EXPECT_EQ(d.cell(1, 1), "11.5");
}

TEST(ColumnSettings, ATextBecomesATimeInAPatternOfOnesOwn) {
    Pond d("n,when\n1,a\n2,2031-05-02\n");
    d.goTo(0, 1);
    ASSERT_EQ(d.table().columns[1].kind, ColumnKind::Text);
    d.chooseKind(ColumnKind::Date);
    EXPECT_EQ(d.table().columns[1].kind, ColumnKind::Date);
    EXPECT_THAT(d.said().toStdString(), HasSubstr("“a” in row 1"));
    auto* pattern = d.window.data()->findChild<QComboBox*>("columnPattern");
    ASSERT_TRUE(pattern->isVisible());
    pattern->lineEdit()->setFocus();
    pattern->lineEdit()->selectAll();
    QTest::keyClicks(pattern->lineEdit(), "DD.MM.YYYY");
    QTest::keyClick(pattern->lineEdit(), Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.cell(1, 1), "02.05.2031");
    d.grid()->model()->setData(d.grid()->model()->index(0, 1), "24.12.2031"); // as the cell's editor does
    d.settle();
    EXPECT_EQ(plainCellText(d.table().columns[1], 0), "2031-12-24") << "typed in the same pattern";
}

TEST(Formulas, AreCompletedWhileTheyAreTyped) {
    Pond d(kLevels);
    d.click(d.window.data(), "+ Computed column");
    ASSERT_TRUE(d.formula()->hasFocus());
    d.formula()->selectAll();
    QTest::keyClicks(d.formula(), "2*cumul");
    auto* popup = d.formula()->findChild<QCompleter*>()->popup();
    ASSERT_TRUE(popup->isVisible());
    QTest::keyClick(popup, Qt::Key_Down);
    QTest::keyClick(popup, Qt::Key_Return);
    EXPECT_EQ(d.formula()->text(), "2*cumulative()");
    QTest::keyClicks(d.formula(), "level");
    QTest::keyClick(d.formula(), Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.cell(1, 2), "43.25") << "2·(10.125 + 11.5)";
    EXPECT_EQ(d.table().columns[2].formula, "2*cumulative('" + d.table().columns[1].id.text() + "')");
}

TEST(Formulas, ShowTheirFirstValueOrTheirFaultAtOnce) {
    Pond d(kLevels);
    d.click(d.window.data(), "+ Computed column");
    d.formula()->selectAll();
    QTest::keyClicks(d.formula(), "level/4");
    d.settle();
    QStringList said;
    auto notes = [&] {
        said.clear();
        for (QLabel* label : d.window.data()->findChildren<QLabel*>())
            if (label->isVisible()) said << label->text();
        return said.join("\n").toStdString();
    };
    EXPECT_THAT(notes(), HasSubstr("first value: 2.53125"));
    QTest::keyClicks(d.formula(), " + ");
    d.settle();
    EXPECT_THAT(notes(), HasSubstr("is expected here"));
    EXPECT_EQ(d.entries(), 2U) << "nothing is taken before Return: the import and the column";
    d.formula()->selectAll();
    QTest::keyClicks(d.formula(), "'computed 3'");
    QTest::keyClick(d.formula(), Qt::Key_Return);
    d.settle();
    EXPECT_THAT(notes(), HasSubstr("in a circle"));
}

TEST(TableGrid, CellsAreFoundWithControlF) {
    Pond d(kLevels);
    d.goTo(0, 0);
    QTest::keyClick(&d.window, Qt::Key_F, Qt::ControlModifier);
    auto* field = d.window.data()->findChild<QLineEdit*>("tableFind");
    ASSERT_TRUE(field->isVisible());
    QTest::keyClicks(field, "> 11");
    d.settle();
    EXPECT_EQ(d.grid()->currentIndex().row(), 1);
    EXPECT_EQ(d.grid()->currentIndex().column(), 1);
    QTest::keyClick(field, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.grid()->currentIndex().row(), 2);
    QTest::keyClick(field, Qt::Key_Return, Qt::ShiftModifier);
    d.settle();
    EXPECT_EQ(d.grid()->currentIndex().row(), 1);
    QTest::keyClick(field, Qt::Key_Escape);
    EXPECT_FALSE(field->isVisible());
    EXPECT_TRUE(d.grid()->hasFocus());
}

TEST(TableGrid, FindLeadsToAColumn) {
    Driver d;
    d.window.openPath("demo:");
    d.settle();
    d.find("column above the blank");
    EXPECT_EQ(d.window.data()->findChild<QLineEdit*>("columnName")->text(), "above the blank");
    EXPECT_THAT(d.window.data()->findChild<FormulaField*>("columnFormula")->text().toStdString(),
                HasSubstr("smallest('Signal 1')"));
}

TEST(TableGrid, RowsAreMarkedAndLeaveTheCurve) {
    Pond d(kLevels);
    d.goTo(0, 0);
    d.act("Rows are blanks");
    EXPECT_EQ(d.table().rowKind(0), RowKind::Blank);
    EXPECT_EQ(d.grid()->model()->headerData(0, Qt::Vertical).toString(), "1  blank");
    auto& evaluator = d.window.document().session().evaluator();
    EXPECT_EQ(evaluator.measured(d.project(), d.dataset()).value->size(), 3U);
    d.act("Rows are plain measurements");
    EXPECT_EQ(evaluator.measured(d.project(), d.dataset()).value->size(), 4U);
}

TEST(TableGrid, ColumnsAreDraggedByTheirHeadings) {
    Pond d("a,b,c\n1,2,3\n4,5,6\n");
    auto* header = qobject_cast<QHeaderView*>(d.grid()->horizontalHeader());
    header->moveSection(0, 2); // what a drag of the heading ends in
    d.settle();
    EXPECT_EQ(d.table().columns[2].name, "a");
    EXPECT_EQ(header->visualIndex(2), 2) << "the model moved, not the view";
    EXPECT_EQ(d.cell(0, 2), "1");
    d.click(&d.window, "Undo");
    EXPECT_EQ(d.table().columns[0].name, "a");
}

TEST(TableGrid, APastedBlockGrowsTheTableToTheRight) {
    Pond d(kLevels);
    d.goTo(0, 1);
    d.grid()->setFocus();
    QApplication::clipboard()->setText("level\tsalt\n1\t30.5\n2\t31\n");
    QTest::keyClick(&d.window, Qt::Key_V, Qt::ControlModifier);
    d.settle();
    ASSERT_EQ(d.table().columns.size(), 3U);
    EXPECT_EQ(d.table().columns[2].name, "salt");
    EXPECT_EQ(d.cell(0, 1), "1");
    EXPECT_EQ(d.cell(1, 2), "31");
    EXPECT_EQ(d.cell(3, 2), "–");
}

TEST(Mapping, SeveralColumnsBecomeDatasetsOrReplicates) {
    Pond d("time,north,south,sd\n0,1,5,0.1\n1,2,6,0.1\n");
    const std::size_t before = d.project().datasets.size();
    d.click(d.window.data(), "Make dataset");
    MappingView* view = d.window.data()->mapping();
    ASSERT_TRUE(view->isVisible());
    EXPECT_EQ(d.is("time")->currentText(), "x");
    EXPECT_EQ(d.is("sd")->currentText(), QString::fromUtf8("± y"));
    d.choose(view, "severalY", "replicates");
    EXPECT_THAT(view->findChild<QLabel*>("mappingFacts")->text().toStdString(), HasSubstr("2 replicates"));
    d.choose(view, "severalY", "each");
    d.click(view, "Make 2 datasets");
    ASSERT_EQ(d.project().datasets.size(), before + 2);
    EXPECT_EQ(d.project().datasets[before].name, "pond · north");
    EXPECT_FALSE(view->isVisible());
    d.click(&d.window, "Undo");
    EXPECT_EQ(d.project().datasets.size(), before) << "one entry of the history";
}

TEST(Mapping, WaterIonsAreFoundAndChecked) {
    Pond d("spring,Ca (mg/L),Mg (mg/L),Na (mg/L),K (mg/L),HCO3 (mg/L),Cl (mg/L),SO4 (mg/L)\n"
           "east,80.156,24.305,22.99,3.9098,305.085,35.45,48.03\nwest,40,12,10,2,150,200,20\n");
    d.click(d.window.data(), "Make dataset");
    MappingView* view = d.window.data()->mapping();
    d.click(view, "Water ions");
    EXPECT_EQ(d.is("Ca")->currentText(), "Ca");
    EXPECT_EQ(view->roles().size(), 8U) << "seven ions and the label";
    EXPECT_EQ(d.is("spring")->currentText(), "label");
    QStringList said;
    for (QLabel* label : view->findChildren<QLabel*>())
        if (label->isVisible()) said << label->text();
    EXPECT_THAT(said.join("\n").toStdString(), HasSubstr("In 1 sample the charges do not balance"));
    d.click(view, "Make dataset");
    EXPECT_EQ(d.project().datasets[d.project().datasets.size() - 1].source.kind, "ions");
}

TEST(Mapping, TheColumnsOfADatasetAreChangedAndEscapeLeavesThem) {
    Pond d("time,north,south\n0,1,5\n1,2,6\n");
    d.click(d.window.data(), "Choose columns");
    MappingView* view = d.window.data()->mapping();
    QComboBox* south = d.is("south");
    south->setFocus();
    for (int i = 0; i < 20 && south->currentText() != "x"; ++i)
        QTest::keyClick(south, Qt::Key_Down), d.settle();
    for (int i = 0; i < 20 && south->currentText() != "x"; ++i)
        QTest::keyClick(south, Qt::Key_Up), d.settle();
    ASSERT_EQ(south->currentText(), "x");
    QTest::keyClick(view, Qt::Key_Escape);
    d.settle();
    EXPECT_FALSE(view->isVisible());
    EXPECT_EQ(d.dataset().source.roles.front().role, Role::X);
    EXPECT_EQ(d.entries(), 1U) << "only the import";
}

TEST(MadeDatasets, AFunctionIsTypedAndFittedLikeAnyOther) {
    Driver d;
    d.find("add function");
    ASSERT_EQ(d.project().datasets.size(), 1U);
    d.type(d.window.data(), "expression", "3*x + 1");
    EXPECT_EQ(d.dataset().source.settings.text("expression"), "3*x + 1");
    d.find("fit straight line");
    const auto fit = d.fit();
    ASSERT_TRUE(fit.good());
    EXPECT_NEAR(fit.report->parameters[0].value + fit.report->parameters[1].value, 4, 1e-9);
}

TEST(MadeDatasets, AJoinDrawsOneAgainstTheOther) {
    Pond d(kLevels);
    d.drop({d.write("salt.csv", "time,salt\n0.5,30\n1.5,31\n2.5,33\n")});
    d.click(d.window.data()->import(), "Import");
    d.find("join two datasets");
    ASSERT_EQ(d.project().datasets.size(), 3U);
    const DatasetId join = d.project().datasets[2].id;
    auto& e = d.window.document().session().evaluator();
    EXPECT_EQ(e.protocol(d.project(), join).end().curve().xMeaning.name, "salt") << "the selected one is x";
    d.choose(d.window.data(), "joinFirst", QString::fromStdString(d.project().datasets[0].id.text()));
    d.choose(d.window.data(), "joinSecond", QString::fromStdString(d.project().datasets[1].id.text()));
    const Curve c = e.protocol(d.project(), join).end().curve();
    EXPECT_EQ(c.x, (std::vector{11.5, 12.0}));
    EXPECT_EQ(c.y, (std::vector{30.5, 32.0}));
}

TEST(Attributes, AreTypedAndRemoved) {
    Pond d(kLevels);
    d.type(d.window.data(), "attribute0.0", "site");
    d.type(d.window.data(), "attribute0.1", "North pan");
    ASSERT_EQ(d.dataset().attributes.size(), 1U);
    EXPECT_EQ(d.dataset().attributes[0].value, "North pan");
    auto* name = d.window.data()->findChild<QLineEdit*>("attribute0.0");
    name->setFocus();
    name->selectAll();
    QTest::keyClick(name, Qt::Key_Delete);
    QTest::keyClick(name, Qt::Key_Return);
    d.settle();
    EXPECT_TRUE(d.dataset().attributes.empty());
}

TEST(ReadAgain, AGrownFileIsTakenWithWhatWasBuiltOnIt) {
    Pond d(kLevels);
    const auto rows = d.table().rows->id(1);
    d.window.document().apply(edits::excludeRows(d.dataset().id, {rows}, true));
    d.settle();
    d.write("pond.csv", std::string(kLevels) + "4,14\n5,15\n");
    d.click(d.window.data(), "Read the file again");
    ImportView* import = d.window.data()->import();
    ASSERT_TRUE(import->isVisible());
    EXPECT_EQ(import->findChild<QLabel*>("importChanges")->text(), "2 rows are new.");
    d.click(import, "Read again");
    EXPECT_EQ(d.table().rowCount(), 6U);
    EXPECT_EQ(d.project().tables.size(), 1U);
    EXPECT_EQ(d.dataset().protocol[0].settings.numbers("rows"), Numbers{static_cast<double>(rows)});
    d.click(&d.window, "Undo");
    EXPECT_EQ(d.table().rowCount(), 4U);
}

TEST(ReadAgain, AFileThatIsGoneIsSaidAndNothingIsLost) {
    Pond d(kLevels);
    QFile::remove(d.path);
    d.click(d.window.data(), "Read the file again");
    ImportView* import = d.window.data()->import();
    EXPECT_FALSE(d.button(import, "Read again")->isEnabled());
    QTest::keyClick(import, Qt::Key_Escape);
    d.settle();
    EXPECT_EQ(d.table().rowCount(), 4U);
}

TEST(ImportByMouse, BordersOfFixedColumnsAreDragged) {
    Driver d;
    QTemporaryDir folder;
    const QString path = folder.filePath("touching.txt");
    std::ofstream(path.toStdString()) << "1112.5\n2223.5\n3334.5\n";
    d.drop({path});
    ImportView* import = d.window.data()->import();
    d.choose(import, "separator", "fixed");
    d.type(import, "widths", "2,4");
    auto* raw = import->findChild<RawLines*>("rawLines");
    auto* preview = import->findChild<QTableView*>("previewGrid");
    EXPECT_EQ(preview->model()->index(0, 0).data().toString(), "11");
    const int from = raw->borderPixel(0), letter = raw->borderPixel(1) - from;
    QTest::mousePress(raw->viewport(), Qt::LeftButton, {}, QPoint(from, 30));
    QTest::mouseMove(raw->viewport(), QPoint(from + letter / 8, 30));
    QTest::mouseMove(raw->viewport(), QPoint(from + letter / 4, 30)); // one of the four characters
    QTest::mouseRelease(raw->viewport(), Qt::LeftButton, {}, QPoint(from + letter / 4, 30));
    d.settle();
    EXPECT_EQ(preview->model()->index(0, 0).data().toString(), "111");
    EXPECT_EQ(preview->model()->index(2, 1).data().toString(), "4.5");
}

TEST(ImportByMouse, CellsOfASheetAreChosenByDragging) {
    Driver d;
    d.drop({JOINTER_SOURCE_DIR "/tests/data_files/corpus/side_by_side.xlsx"});
    ImportView* import = d.window.data()->import();
    EXPECT_EQ(import->findChild<QListWidget*>("importTables")->count(), 4);
    auto* sheet = import->findChild<SheetView*>("sheetView");
    ASSERT_TRUE(sheet->isVisible());
    auto centre = [&](int row, int column) {
        return sheet->visualRect(sheet->model()->index(row, column)).center();
    };
    QTest::mousePress(sheet->viewport(), Qt::LeftButton, {}, centre(2, 0));
    QTest::mouseMove(sheet->viewport(), centre(3, 1));
    QTest::mouseMove(sheet->viewport(), centre(5, 1));
    QTest::mouseRelease(sheet->viewport(), Qt::LeftButton, {}, centre(5, 1));
    d.settle();
    EXPECT_EQ(import->findChild<QLineEdit*>("range")->text(), "A3:B6");
    EXPECT_EQ(import->findChild<QTableView*>("previewGrid")->model()->rowCount(), 3);
    d.click(import, "Import");
    EXPECT_EQ(d.project().tables.size(), 1U);
}

TEST(TableGrid, SeriesGoOnAndSelectionsAreCopiedAsTheyStand) {
    Pond d("a,b,c\n1,2,3\n3,5,6\n7,8,9\n8,8,8\n");
    auto* chosen = d.grid()->selectionModel();
    auto select = [&](std::initializer_list<std::pair<int, int>> cells) {
        chosen->clear();
        for (const auto& [row, column] : cells)
            chosen->setCurrentIndex(d.grid()->model()->index(row, column), QItemSelectionModel::Select);
    };
    select({{0, 0}, {1, 0}, {2, 0}, {3, 0}});
    d.act("Continue series");
    EXPECT_EQ(d.cell(2, 0), "5");
    EXPECT_EQ(d.cell(3, 0), "7");
    select({{0, 0}, {0, 2}, {3, 0}, {3, 2}});
    d.act("Copy");
    EXPECT_EQ(QApplication::clipboard()->text(), "1\t3\n7\t8\n") << "the column between them is left out";
}

TEST(TableGrid, TablesAreExported) {
    Pond d(kLevels);
    d.click(d.window.data(), "+ Computed column");
    d.formula()->selectAll();
    QTest::keyClicks(d.formula(), "level*2");
    QTest::keyClick(d.formula(), Qt::Key_Return);
    d.settle();
    const QString out = d.folder.filePath("out.csv");
    d.window.exportTableTo(out);
    EXPECT_TRUE(QTest::qWaitFor([&] { return d.said().startsWith("Wrote"); }, 5000))
        << d.said().toStdString();
    std::ifstream in(out.toStdString());
    std::string heading, first;
    std::getline(in, heading);
    std::getline(in, first);
    EXPECT_EQ(first, "0,10.125,20.25\r");
    d.window.exportTableTo(d.folder.filePath("out.doc"));
    EXPECT_TRUE(QTest::qWaitFor([&] { return d.said().contains("choose one of"); }, 5000));
}
