// SPDX-License-Identifier: GPL-3.0-or-later
// Tables by mouse and keyboard: kinds and formats, formulas with completion, finding, rows of a kind, columns
// moved, blocks pasted.
#include "pond.h"

#include "app/models/column_header.h"
#include "session/table_search.h"

#include <QAbstractItemView>
#include <QClipboard>
#include <QCompleter>
#include <QSpinBox>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;
using testing::HasSubstr;

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
    EXPECT_EQ(d.cell(1, 1), "11.500") << "as many decimals as its neighbours";
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
    EXPECT_EQ(evaluator.measured(d.project(), d.dataset().id).value->size(), 3U);
    d.act("Rows are plain measurements");
    EXPECT_EQ(evaluator.measured(d.project(), d.dataset().id).value->size(), 4U);
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
    EXPECT_EQ(d.cell(1, 2), "31.0");
    EXPECT_EQ(d.cell(3, 2), "–");
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
