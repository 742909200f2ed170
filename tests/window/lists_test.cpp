// SPDX-License-Identifier: GPL-3.0-or-later
// What a person does with the lists at the left, with Find and with Export: names are typed in place, the
// right button offers what can be done, Delete removes and Ctrl+Z brings back.
#include "desk.h"

#include "app/canvas/page_view.h"
#include "app/panes/export_pane.h"
#include "app/panes/find_field.h"
#include "app/panes/following.h"
#include "app/panes/journal_pane.h"
#include "app/panes/other_datasets.h"
#include "paint/painter.h"

#include <QClipboard>
#include <QDrag>
#include <QListWidget>
#include <QSpinBox>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

struct Lists : Driver {
    Lists() {
        window.openPath("demo:");
        settle();
    }
    DatasetList* pane() { return window.findChild<DatasetList*>(); }
    QListWidget* datasets() { return pane()->list(); }
    QListWidget* tables() {
        for (QListWidget* list : pane()->findChildren<QListWidget*>())
            if (list != datasets()) return list;
        return nullptr;
    }
    // Types a name over that of the row, which is edited by double-click.
    void rename(QListWidget* list, int row, const QString& name) {
        const QPoint at = list->visualItemRect(list->item(row)).center();
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, at);
        QTest::mouseDClick(list->viewport(), Qt::LeftButton, {}, at);
        auto* editor = list->findChild<QLineEdit*>();
        ASSERT_TRUE(editor) << "no editor in the row";
        editor->selectAll();
        QTest::keyClicks(editor, name.isEmpty() ? " " : name);
        QTest::keyClick(editor, Qt::Key_Return);
        settle();
    }
    QMenu* menuOn(QListWidget* list, int row) {
        const QPoint at = list->visualItemRect(list->item(row)).center();
        Q_EMIT list->customContextMenuRequested(at);
        return qobject_cast<QMenu*>(QApplication::activePopupWidget());
    }
};

// A row is pressed and moved, which begins a drag of the toolkit: what it carries. Without a screen the drag
// itself ends at once.
QMimeData* drawnFrom(QListWidget* list, int row) {
    const QPoint from = list->visualItemRect(list->item(row)).center();
    auto* on = list->viewport();
    QTest::mousePress(on, Qt::LeftButton, {}, from);
    for (int k = 1; k <= 4; ++k) {
        const QPointF to = from + QPoint(8 * k, 0);
        QMouseEvent move(QEvent::MouseMove, to, on->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, {});
        QApplication::sendEvent(on, &move);
    }
    const auto drags = list->findChildren<QDrag*>();
    QTest::mouseRelease(on, Qt::LeftButton, {}, from);
    return drags.isEmpty() ? nullptr : drags.front()->mimeData();
}

QStringList entriesOf(const QMenu* menu) {
    QStringList out;
    for (const QAction* a : menu->actions()) out << a->text();
    return out;
}

} // namespace

// By hand no drag began, once rows had flags of their own; dropped events alone did not show it.
TEST(Lists, RowsCanBeDrawnFromTheirPlaces) {
    Lists d;
    const QMimeData* dataset = drawnFrom(d.datasets(), 2);
    ASSERT_TRUE(dataset);
    EXPECT_TRUE(dataset->hasFormat(kDatasetMime));
    const QMimeData* table = drawnFrom(d.tables(), 0);
    ASSERT_TRUE(table);
    EXPECT_TRUE(table->hasFormat(kTableMime));
}

TEST(Lists, ANameIsTypedInItsRow) {
    Lists d;
    const std::string before = d.project().datasets[1].name, table = d.project().tables[0].name;
    d.rename(d.datasets(), 1, "pond shell");
    EXPECT_EQ(d.project().datasets[1].name, "pond shell");
    d.rename(d.tables(), 0, "what was measured");
    EXPECT_EQ(d.project().tables[0].name, "what was measured");
    const std::size_t entries = d.entries();
    d.rename(d.datasets(), 1, "");
    EXPECT_EQ(d.project().datasets[1].name, "pond shell") << "nothing is no name";
    EXPECT_EQ(d.datasets()->item(1)->text(), "pond shell");
    EXPECT_EQ(d.entries(), entries);
    undoAll(d);
    EXPECT_EQ(d.project().datasets[1].name, before);
    EXPECT_EQ(d.project().tables[0].name, table);
}

TEST(Lists, TheRightButtonOffersWhatCanBeDone) {
    Lists d;
    QMenu* menu = d.menuOn(d.datasets(), 1);
    ASSERT_TRUE(menu);
    EXPECT_EQ(d.window.document().dataset(), d.project().datasets[1].id) << "the row is selected";
    EXPECT_TRUE(entriesOf(menu).contains("Rename dataset"));
    EXPECT_TRUE(entriesOf(menu).contains("Choose columns…"));
    const std::size_t many = d.project().datasets.size();
    d.choose("Remove dataset");
    EXPECT_EQ(d.project().datasets.size(), many - 1);
    menu = d.menuOn(d.tables(), 0);
    ASSERT_TRUE(menu);
    EXPECT_TRUE(entriesOf(menu).contains("Remove table"));
    menu->close();
    undoAll(d);
    EXPECT_EQ(d.project().datasets.size(), many);
}

TEST(Lists, DeleteRemovesATableWithWhatIsMadeFromIt) {
    Lists d;
    const Project before = d.project();
    const TableId id = before.tables[0].id;
    std::size_t from = 0;
    for (const auto& each : before.datasets) from += each->source.table == id;
    QTest::mouseClick(d.tables()->viewport(), Qt::LeftButton, {},
                      d.tables()->visualItemRect(d.tables()->item(0)).center());
    d.settle();
    QTest::keyClick(d.tables(), Qt::Key_Delete);
    d.settle();
    EXPECT_FALSE(d.project().tables.find(id));
    EXPECT_EQ(d.project().datasets.size(), before.datasets.size() - from);
    EXPECT_TRUE(d.said().contains("Ctrl+Z")) << d.said().toStdString();
    undoAll(d);
    EXPECT_TRUE(d.project() == before);
}

TEST(Lists, DeleteRemovesTheSelectedDatasets) {
    Lists d;
    const Project before = d.project();
    d.datasets()->setFocus();
    QTest::keyClick(d.datasets(), Qt::Key_A, Qt::ControlModifier);
    d.settle();
    QTest::keyClick(d.datasets(), Qt::Key_Delete);
    d.settle();
    EXPECT_EQ(d.project().datasets.size(), 0U);
    EXPECT_EQ(d.project().analyses.size(), 0U);
    QTest::keyClick(d.datasets(), Qt::Key_Delete); // nothing is left
    d.settle();
    undoAll(d);
    EXPECT_TRUE(d.project() == before);
}

TEST(Find, SaysWhenNothingIsCalledSoAndSeeksInPurposes) {
    Lists d;
    auto* field = d.window.findChild<FindField*>("find");
    auto* found = d.window.findChild<QListWidget*>("found");
    const auto offered = [&](const QString& words) {
        field->setFocus();
        field->clear();
        QTest::keyClicks(field, words);
        QStringList out;
        for (int i = 0; i < found->count(); ++i) out << found->item(i)->text();
        return out;
    };
    QStringList rows = offered("zzqx");
    ASSERT_EQ(rows.size(), 1);
    EXPECT_TRUE(rows[0].startsWith("Nothing")) << rows[0].toStdString();
    const std::size_t entries = d.entries();
    QTest::keyClick(field, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.entries(), entries) << "there is nothing to run";
    rows = offered("logarithms");
    EXPECT_TRUE(rows.filter("Step › Transform").size() > 0) << rows.join("; ").toStdString();
    rows = offered("smooth");
    ASSERT_FALSE(rows.isEmpty());
    EXPECT_TRUE(rows[0].startsWith("Step › Smooth")) << "what is called so goes first";
    rows = offered("find the peaks");
    ASSERT_FALSE(rows.isEmpty());
    EXPECT_TRUE(rows.contains("Fit › Peaks")) << rows.join("; ").toStdString();
    QTest::keyClick(field, Qt::Key_Return);
    d.settle();
    EXPECT_EQ(d.entries(), entries) << "but nothing is taken unseen";
    rows = offered("smooth");
    QTest::keyClick(field, Qt::Key_Escape);
}

TEST(Export, FormatAndResolutionAreChosenBeforeTheFile) {
    Lists d;
    d.stage("Figure");
    ExportWish wanted;
    const draw::Rect page{0, 0, 85, 65};
    static const paint::QtFigureWriter writer;
    auto* pane = new ExportPane(writer.formats(), {}, page, 12, {}, &d.window);
    QObject::connect(pane, &ExportPane::wanted, [&](const ExportWish& wish) { wanted = wish; });
    pane->setWindowFlags(Qt::Widget); // off screen, popups go when another window is activated
    pane->show();
    EXPECT_FALSE(pane->findChild<QWidget*>("dpi")) << "a PDF has no pixels";
    d.choose(pane, "format", "png");
    auto* dpi = qobject_cast<QLineEdit*>(pane->findChild<QWidget*>("dpi"));
    ASSERT_TRUE(dpi);
    dpi->setFocus();
    dpi->selectAll();
    QTest::keyClicks(dpi, "300");
    QTest::keyClick(dpi, Qt::Key_Return); // takes the number, and writes
    EXPECT_TRUE(pane->findChild<QLabel*>("exportFacts")->text().contains("1004 × 768 pixels"));
    EXPECT_EQ(wanted.format(), "png");
    EXPECT_EQ(exportOptions(wanted.settings).dpi, 300);
    QTemporaryDir folder;
    const QString path = folder.filePath("a.png");
    ASSERT_TRUE(d.window.exportTo(path, exportOptions(wanted.settings)));
    ASSERT_TRUE(QTest::qWaitFor([&] { return d.said().startsWith("Wrote"); }, 20000));
    EXPECT_TRUE(d.said().contains("300 dpi")) << d.said().toStdString();
    const QImage image(path);
    EXPECT_EQ(image.width(), static_cast<int>(std::lround(
                                 figure::pageOf(d.project(), d.project().figures[0]).width / 25.4 * 300)));
}

// Each form is the whole figure.
TEST(Export, TheFigureIsCopiedInAllFormsAtOnce) {
    Lists d;
    d.stage("Figure");
    d.find("copy figure");
    ASSERT_TRUE(QTest::qWaitFor([&] { return d.said().startsWith("The figure is copied"); }, 20000))
        << d.said().toStdString();
    const QMimeData* data = QGuiApplication::clipboard()->mimeData();
    for (const char* type : {"image/svg+xml", "application/pdf", "image/png"})
        EXPECT_TRUE(data->hasFormat(type)) << type;
    EXPECT_TRUE(data->data("image/svg+xml").contains("<svg"));
    EXPECT_TRUE(data->data("application/pdf").startsWith("%PDF"));
    const QImage image = qvariant_cast<QImage>(data->imageData());
    EXPECT_EQ(image.width(), static_cast<int>(std::lround(
                                 figure::pageOf(d.project(), d.project().figures[0]).width / 25.4 * 300)));
}

// What the check finds is selected by a click, and mended by a press.
TEST(Journal, FindingsAreSelectedAndMended) {
    Lists d;
    d.stage("Figure");
    const FigureId id = d.window.document().figure();
    d.window.document().apply(edits::setElement(id, {}, "text-size", Value(4.0)));
    d.settle();
    auto* page = d.window.figure()->findChild<PageView*>();
    ASSERT_TRUE(QTest::qWaitFor([&] { return page->isCurrent(); }, 10000));
    auto* pane = new JournalPane(d.window.document(), *page, figure::shippedProfiles(), &d.window);
    pane->setWindowFlags(Qt::Widget);
    pane->adjustSize();
    pane->show();
    auto* list = pane->findChild<QListWidget*>("journalFindings");
    ASSERT_GT(list->count(), 0);
    int row = -1;
    for (int k = 0; k < list->count(); ++k)
        if (list->item(k)->text().startsWith("Text of")) row = k;
    ASSERT_GE(row, 0);
    list->setCurrentRow(row);
    EXPECT_TRUE(d.window.document().element());
    d.click(pane, "Mend all");
    ASSERT_TRUE(QTest::qWaitFor(
        [&] { return d.project().figures.find(id)->settings.number("text-size") >= 7; }, 10000));
    ASSERT_TRUE(QTest::qWaitFor([&] { return page->isCurrent(); }, 10000));
    d.settle();
    for (int k = 0; k < list->count(); ++k)
        EXPECT_FALSE(list->item(k)->text().startsWith("Text of")) << list->item(k)->text().toStdString();
    delete pane;
}

TEST(OtherDatasets, ACopyOfTheFigureShowsThem) {
    Lists d;
    d.stage("Figure");
    const std::size_t figures = d.project().figures.size();
    const Figure first = d.project().figures[0];
    d.window.document().selectFigure(first.id);
    const auto drawn = drawnDatasets(d.project(), first);
    ASSERT_FALSE(drawn.empty());
    d.window.figure()->offerOtherDatasets();
    OtherDatasets* popup = nullptr;
    for (OtherDatasets* each : d.window.findChildren<OtherDatasets*>())
        if (each->isVisible()) popup = each;
    ASSERT_TRUE(popup);
    auto* box = popup->findChild<QComboBox*>("otherDataset");
    DatasetId other;
    for (const auto& each : d.project().datasets)
        if (std::ranges::find(drawn, each->id) == drawn.end()) other = each->id;
    ASSERT_TRUE(other) << "the demo has a dataset that this figure does not show";
    d.choose(popup, "otherDataset", QString::fromStdString(other.text()));
    EXPECT_EQ(box->currentData().toString().toStdString(), other.text());
    d.click(popup, "Show them");
    ASSERT_EQ(d.project().figures.size(), figures + 1);
    EXPECT_TRUE(*d.project().figures.find(first.id) == first) << "the figure itself stays";
    const auto shown = drawnDatasets(d.project(), *d.project().figures.find(d.window.document().figure()));
    EXPECT_TRUE(std::ranges::find(shown, other) != shown.end());
    EXPECT_TRUE(std::ranges::find(shown, drawn[0]) == shown.end());
    undoAll(d);
    EXPECT_EQ(d.project().figures.size(), figures);
}

TEST(DrawnAs, PointsBecomeALineInTheWindow) {
    Desk k;
    k.d.window.openPath("demo:");
    k.d.settle();
    k.datasets({k.project().datasets[0].name});
    k.newFigure();
    const Element* mark = nullptr;
    for (const char* kind : {"points", "points-line", "line"})
        if (!mark) mark = k.first(kind);
    ASSERT_TRUE(mark);
    const ElementId id = mark->id;
    k.d.window.document().selectElement(id);
    k.d.settle();
    k.d.choose(k.d.window.figure(), "drawnAs", "steps");
    auto* box = k.d.window.figure()->findChild<QComboBox*>("drawnAs");
    Q_EMIT box->activated(box->currentIndex()); // what Return or a click does
    k.d.settle();
    EXPECT_EQ(k.figure().find(id)->kind, "steps");
    EXPECT_EQ(k.selected(), id);
    k.d.click(&k.d.window, "Undo");
    EXPECT_NE(k.figure().find(id)->kind, "steps");
}
