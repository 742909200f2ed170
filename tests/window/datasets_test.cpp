// SPDX-License-Identifier: GPL-3.0-or-later
// Datasets by mouse and keyboard: made by mapping, functions, joins, attributes; files read again; columns
// and cells chosen by dragging while they are imported.
#include "pond.h"

#include "app/stages/raw_lines.h"
#include "app/stages/sheet_view.h"

#include <QListWidget>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;
using testing::HasSubstr;

TEST(Mapping, SeveralColumnsBecomeDatasetsOrReplicates) {
    Pond d("time,north,south,sd\n0,1,5,0.1\n1,2,6,0.1\n");
    const std::size_t before = d.project().datasets.size();
    d.click(d.window.data(), "Make dataset");
    MappingView* view = d.window.data()->mapping();
    ASSERT_TRUE(view->isVisible());
    EXPECT_EQ(d.is("time")->currentText(), "x");
    EXPECT_EQ(d.is("sd")->currentText(), QString::fromUtf8("± y"));
    EXPECT_EQ(view->findChild<QLabel*>("mappingFacts")->text(), "2 points each") << "not of replicates yet";
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

TEST(Mapping, AnUndoThatTakesTheTableAwayClosesIt) {
    Pond d(kLevels);
    d.click(d.window.data(), "Make dataset");
    ASSERT_TRUE(d.window.data()->mapping()->isVisible());
    d.click(&d.window, "Undo");
    EXPECT_TRUE(d.project().tables.empty());
    EXPECT_FALSE(d.window.data()->mapping()->isVisible());
    QTest::keyClick(&d.window, Qt::Key_Return, Qt::ControlModifier); // nothing is left to be made
    d.settle();
    EXPECT_TRUE(d.project().datasets.empty());
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
    EXPECT_NEAR(fit.one().parameters[0].value + fit.one().parameters[1].value, 4, 1e-9);
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
