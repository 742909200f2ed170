// SPDX-License-Identifier: GPL-3.0-or-later
// A person's first minutes: what each stage says while there is nothing, tables typed by hand, a span chosen
// before there is a fit, where dialogs begin.
#include "pond.h"

#include "app/file_dialogs.h"
#include "app/models/column_header.h"
#include "app/shortcuts_page.h"

#include <QDir>
#include <QFileInfo>
#include <QMenuBar>
#include <cmath>
#include <map>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;
using testing::HasSubstr;

namespace {

struct Typist : Driver {
    QTableView* grid() { return window.data()->findChild<QTableView*>("tableGrid"); }
    const Table& table() { return project().tables[0]; }
    QWidget* field() { return QApplication::focusWidget(); }

    template <class Key> void press(Key key) {
        QTest::keyClick(field(), key);
        QCoreApplication::processEvents();
    }
    // As fingers do: what is computed is not waited for.
    void keys(const QString& words, Qt::Key after) {
        for (const QChar c : words) press(c.toLatin1()); // the first opens an editor
        press(after);
    }
    void doubleClickHeading(int column) {
        QHeaderView* header = grid()->horizontalHeader();
        const QPoint at(header->sectionViewportPosition(column) + 12, header->height() / 2);
        QTest::mouseClick(header->viewport(), Qt::LeftButton, {}, at);
        QTest::mouseDClick(header->viewport(), Qt::LeftButton, {}, at);
        settle();
    }
};

QString writeLine(const QTemporaryDir& folder) {
    const QString path = folder.filePath("creek flow.csv");
    std::ofstream out(path.toStdString());
    out << "hour,flow\n";
    for (int i = 0; i <= 40; ++i) out << i << ',' << 3 + 0.5 * i + 0.1 * std::sin(5.0 * i) << '\n';
    return path;
}

// A curve in Analyse with a span dragged over it and no analysis yet.
struct WithSpan : Driver {
    QTemporaryDir folder;
    WithSpan() {
        drop({writeLine(folder)});
        click(window.data()->import(), "Import");
        stage("Analyse");
        QTest::keyClick(window.analyse()->canvas(), Qt::Key_S);
        dragPlot(window.analyse()->canvas(), 10, 30, 8);
    }
};

} // namespace

TEST(Beginnings, ATableIsTypedWithTheKeyboardAlone) {
    Typist d;
    QTest::keyClick(&d.window, Qt::Key_T, Qt::ControlModifier);
    d.settle();
    ASSERT_EQ(d.project().tables.size(), 1U);
    EXPECT_EQ(QApplication::focusWidget(), d.grid()) << "the first cell waits";
    const std::vector<std::pair<double, double>> rows = {
        {0, 41.2}, {25, 38.9}, {50, 35.1}, {75, 33}, {100, 29.8}};
    for (const auto& [x, y] : rows) {
        d.keys(QString::number(x), Qt::Key_Tab); // opens the next cell
        d.keys(QString::number(y), Qt::Key_Return);
        d.press(Qt::Key_Left);
    }
    d.settle();
    ASSERT_EQ(d.table().rowCount(), rows.size());
    for (std::size_t i = 0; i < rows.size(); ++i) {
        EXPECT_EQ(d.table().columns[0].numbers()[i], rows[i].first);
        EXPECT_EQ(d.table().columns[1].numbers()[i], rows[i].second);
    }
    const auto curve = d.window.document().session().evaluator().measured(d.project(), d.dataset().id);
    EXPECT_EQ(curve.value->size(), rows.size()) << "its dataset has them too";
    EXPECT_EQ(d.entries(), 1 + 2 * rows.size()) << "each value one entry of the history";
    undoAll(d);
    EXPECT_EQ(d.project().tables.size(), 0U);
}

// People type headings into the first row; the cursor stays with the number that makes them names.
TEST(Beginnings, HeadingsAreTypedAboveTheirNumbers) {
    Typist d;
    d.click(&d.window, "Type a table");
    d.keys("day", Qt::Key_Tab);
    d.keys("mass (g)", Qt::Key_Return);
    d.press(Qt::Key_Left);
    d.settle();
    for (const auto& [x, y] : {std::pair("1", "10.2"), {"2", "12.1"}, {"3", "13.8"}}) {
        d.keys(x, Qt::Key_Tab);
        d.keys(y, Qt::Key_Return);
        d.press(Qt::Key_Left);
    }
    d.settle();
    ASSERT_EQ(d.table().rowCount(), 3U);
    EXPECT_EQ(d.table().columns[0].name, "day");
    EXPECT_EQ(d.table().columns[1].name, "mass");
    EXPECT_EQ(d.table().columns[1].unit, "g");
    EXPECT_EQ(d.table().columns[1].numbers()[0], 10.2);
    EXPECT_EQ(d.table().columns[0].numbers()[2], 3);
    EXPECT_EQ(d.window.document().session().evaluator().measured(d.project(), d.dataset().id).value->size(),
              3U);
    undoAll(d);
    EXPECT_EQ(d.project().tables.size(), 0U);
}

TEST(Beginnings, MoreThanTheEmptyRowsCanBeTyped) {
    Typist d;
    d.click(&d.window, "Type a table");
    for (int i = 0; i < 40; ++i) d.keys(QString::number(i * i), Qt::Key_Return); // faster than it is computed
    d.settle();
    ASSERT_EQ(d.table().rowCount(), 40U);
    for (int i = 0; i < 40; ++i)
        EXPECT_EQ(d.table().columns[0].numbers()[static_cast<std::size_t>(i)], i * i);
    EXPECT_EQ(d.grid()->model()->rowCount(), 41) << "one more waits";
}

TEST(Beginnings, ADoubleClickOnAHeadingRenamesIt) {
    Typist d;
    d.click(&d.window, "Type a table");
    d.doubleClickHeading(1);
    d.keys("Nitrate", Qt::Key_Tab);
    d.keys("umol/L", Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.table().columns[1].name, "Nitrate");
    EXPECT_EQ(d.table().columns[1].unit, "umol/L");
    d.click(&d.window, "+ Column");
    EXPECT_EQ(d.table().columns.size(), 3U);
    d.keys("7.5", Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.table().columns[2].numbers()[0], 7.5) << "the cursor is in the new column";
}

TEST(Beginnings, AnImportedTableGrowsAtItsEnd) {
    Pond d(kLevels);
    EXPECT_EQ(d.grid()->model()->rowCount(), 5) << "four and the empty one";
    d.goTo(4, 0);
    for (const char* action :
         {"Delete rows", "Rows are blanks", "Copy", "Clear", "Fill down", "Sort rows, rising"})
        d.act(action); // none of them acts on a row that is not there
    EXPECT_EQ(d.table().rowCount(), 4U);
    d.grid()->model()->setData(d.grid()->model()->index(4, 1), "14.5");
    d.settle();
    ASSERT_EQ(d.table().rowCount(), 5U);
    EXPECT_EQ(d.table().columns[1].numbers()[4], 14.5);
    EXPECT_TRUE(std::isnan(d.table().columns[0].numbers()[4]));
}

TEST(Beginnings, EachStageSaysWhatToDoNext) {
    Driver d;
    auto words = [&] {
        QString all;
        for (QLabel* label : d.window.findChildren<QLabel*>())
            if (label->isVisible()) all += label->text() + "\n";
        return all.toStdString();
    };
    EXPECT_THAT(words(), HasSubstr("Drop files with measured data here"));
    d.stage("Figure");
    EXPECT_THAT(words(), HasSubstr("No figure yet. Import data first"));
    auto* exporting = d.button(d.window.figure(), "Export…");
    EXPECT_FALSE(exporting->isEnabled());
    EXPECT_EQ(exporting->toolTip(), "There is no figure to export yet");
    d.stage("Results");
    EXPECT_THAT(words(), HasSubstr("No results yet. Add a fit in Analyse"));

    QTemporaryDir folder;
    d.drop({writeLine(folder)});
    d.click(d.window.data()->import(), "Import");
    d.stage("Figure");
    d.click(d.window.figure(), "New figure");
    EXPECT_EQ(d.project().figures.size(), 1U);
    EXPECT_TRUE(exporting->isEnabled());
    EXPECT_THAT(words(), testing::Not(HasSubstr("No figure yet")));
}

TEST(Beginnings, ASpanChosenFirstIsTakenByTheNextFit) {
    WithSpan d;
    PlotCanvas* plot = d.window.analyse()->canvas();
    EXPECT_THAT(d.said().toStdString(), HasSubstr("The analysis that you add next takes this span."));
    EXPECT_EQ(d.entries(), 1U) << "nothing is changed yet";
    EXPECT_EQ(plot->content().spans.size(), 1U) << "but it is shown";
    d.find("straight line");
    ASSERT_EQ(d.project().analyses.size(), 1U);
    const auto& pieces = d.project().analyses[0].inputs[0].span.pieces;
    ASSERT_EQ(pieces.size(), 1U);
    EXPECT_NEAR(pieces[0].first, 10, 1);
    EXPECT_NEAR(pieces[0].second, 30, 1);
    d.find("gaussian");
    EXPECT_TRUE(d.project().analyses[1].inputs[0].span.pieces.empty()) << "only the next one";
}

TEST(Beginnings, EscapeForgetsTheSpan) {
    WithSpan d;
    PlotCanvas* plot = d.window.analyse()->canvas();
    QTest::keyClick(plot, Qt::Key_Escape); // the tool
    QTest::keyClick(plot, Qt::Key_Escape); // the span
    d.settle();
    EXPECT_TRUE(plot->content().spans.empty());
    d.find("straight line");
    EXPECT_TRUE(d.project().analyses[0].inputs[0].span.pieces.empty());
}

TEST(Beginnings, TheManualHasAllKeys) {
    Driver d;
    QFile page(QString(JOINTER_SOURCE_DIR) + "/docs/manual/keys.md");
    ASSERT_TRUE(page.open(QIODevice::ReadOnly));
    EXPECT_EQ(QString::fromUtf8(page.readAll()), shortcutsPage(d.window))
        << "jointer --keys > docs/manual/keys.md";
}

TEST(Beginnings, NoKeyMeansTwoThings) {
    Driver d;
    std::map<QString, QString> taken;
    for (const auto* bar : d.window.findChildren<QMenuBar*>())
        for (const QAction* a : bar->findChildren<QAction*>())
            if (!a->shortcut().isEmpty()) {
                EXPECT_TRUE(taken.emplace(a->shortcut().toString(), a->text()).second)
                    << a->shortcut().toString().toStdString() << ": " << a->text().toStdString();
            }
    EXPECT_GT(taken.size(), 15U);
}

TEST(Beginnings, DialogsBeginWhereOneWorks) {
    QTemporaryDir folder;
    Driver d;
    EXPECT_EQ(d.window.document().folder(), "");
    d.drop({writeLine(folder)});
    EXPECT_EQ(d.window.document().folder(), QFileInfo(folder.path()).absoluteFilePath());
}

TEST(Beginnings, TheEndingOfAFileFollowsItsType) {
    const QString all = "PDF (*.pdf);;SVG (*.svg);;JPEG (*.jpg *.jpeg);;All files (*)";
    EXPECT_EQ(ask::withEndingOf("SVG (*.svg)", "Figure 1.pdf", all), "Figure 1.svg");
    EXPECT_EQ(ask::withEndingOf("SVG (*.svg)", "Figure 1", all), "Figure 1.svg");
    EXPECT_EQ(ask::withEndingOf("SVG (*.svg)", "1.5 m", all), "1.5 m.svg") << "that is no ending";
    EXPECT_EQ(ask::withEndingOf("JPEG (*.jpg *.jpeg)", "a.jpeg", all), "a.jpeg");
    EXPECT_EQ(ask::withEndingOf("All files (*)", "a.b", all), "a.b");
}
