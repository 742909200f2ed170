// SPDX-License-Identifier: GPL-3.0-or-later
// Pages put together by mouse and keys: artwork, notes, guides, lining up, house styles; whole tasks with
// their actions counted.
#include "app/panes/style_pane.h"
#include "app/printing.h"
#include "base/files.h"
#include "draw/artwork.h"
#include "figure/compose.h"
#include "figure/note_actions.h"
#include "window/desk.h"

#include <QCheckBox>
#include <QClipboard>
#include <QPrinter>

using namespace jointer;
using namespace jointer::test;

namespace {

const char* const kScheme =
    "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"60mm\" height=\"30mm\" viewBox=\"0 0 60 30\"><rect "
    "x=\"5\" y=\"5\" width=\"20\" height=\"10\" fill=\"#2f6091\"/><path d=\"M25 10h20\" "
    "stroke=\"#000\"/></svg>";

QString write(const QTemporaryDir& folder, const char* name, const std::string& bytes) {
    const QString path = folder.filePath(name);
    std::ofstream(path.toStdString(), std::ios::binary) << bytes;
    return path;
}

const Element* last(Desk& k) {
    return k.figure().elements.empty() ? nullptr : &k.figure().elements.back();
}

std::string contentOf(const QString& path) {
    return readFile(path.toStdString()).value_or("");
}

// What another program puts there.
void offerOnClipboard(const char* type, const QByteArray& bytes) {
    auto* data = new QMimeData;
    data->setData(type, bytes);
    QGuiApplication::clipboard()->setMimeData(data);
}

} // namespace

TEST(Artwork, FilesComeByDropAndStayWhereTheyAreDragged) {
    Desk k(material());
    k.d.drop({write(k.folder, "scheme.svg", kScheme)});
    ASSERT_TRUE(last(k)) << "a figure is made for it";
    EXPECT_EQ(last(k)->kind, "artwork");
    EXPECT_EQ(k.project().assets.size(), 1u);
    EXPECT_EQ(k.selected(), last(k)->id);
    const ElementId art = last(k)->id;
    const draw::Rect before = k.page()->layoutShown().panel(art)->area;
    EXPECT_NEAR(before.width / before.height, 2, 1e-6);
    const QPointF corner = k.grip(figure::Grip::BottomRight);
    k.drag(corner, corner - QPointF(60, 30));
    const draw::Rect after = k.page()->layoutShown().panel(art)->area;
    EXPECT_LT(after.width, before.width - 3);
    EXPECT_NEAR(after.width / after.height, 2, 1e-3);
    const QPointF side = k.grip(figure::Grip::Right);
    k.drag(side, side - QPointF(40, 0));
    EXPECT_GT(k.figure().find(art)->settings.number("crop-right"), 1);
    EXPECT_NEAR(k.page()->layoutShown().panel(art)->area.height, after.height, 0.01) << "cut, not squeezed";
    bool told = false;
    for (const QLabel* label : k.d.window.figure()->findChildren<QLabel*>())
        told = told || (label->isVisible() && label->text().contains("SVG, lines, 60 × 30 mm"));
    EXPECT_TRUE(told);
    QTest::keyClick(k.page(), Qt::Key_Delete);
    k.d.settle();
    EXPECT_EQ(k.project().assets.size(), 0u);
    k.d.click(&k.d.window, "Undo");
    EXPECT_EQ(k.project().assets.size(), 1u);
}

TEST(Artwork, AFileThatIsNoneIsToldAndNothingChanges) {
    Desk k(material());
    k.newFigure();
    const std::size_t before = k.d.entries();
    k.d.drop({write(k.folder, "broken.pdf", "%PDF-1.4\nnothing")});
    EXPECT_EQ(k.d.entries(), before);
    bool told = false;
    for (const QLabel* label : k.d.window.findChildren<QLabel*>())
        told = told || label->text().contains("broken.pdf");
    EXPECT_TRUE(told);
}

TEST(PageTask, TwoGraphsAndASchemeOnOnePageWithLetters) {
    Desk k(material());
    k.datasets({"Oxygen"});
    k.newFigure();
    k.datasets({"Temperature"});
    k.click(k.d.button(k.d.window.figure(), "+ Panel"), {5, 5});
    offerOnClipboard("image/svg+xml", kScheme); // done in the drawing program
    QTest::keyClick(&k.d.window, Qt::Key_V, Qt::ControlModifier);
    k.d.settle();
    ++k.actions;
    ASSERT_EQ(k.figure().elements.size(), 3u);
    EXPECT_EQ(k.figure().settings.text("letters"), "a") << "letters come with the second panel";
    const QString pdf = k.folder.filePath("page.pdf");
    ASSERT_TRUE(k.d.window.exportTo(pdf));
    k.actions += 3; // Export, the kind, the name
    QTest::keyClick(&k.d.window, Qt::Key_C, Qt::ControlModifier | Qt::AltModifier);
    ++k.actions;
    EXPECT_TRUE(QTest::qWaitFor(
        [] { return QGuiApplication::clipboard()->mimeData()->hasFormat("application/pdf"); }, 20000));
    const QMimeData* copied = QGuiApplication::clipboard()->mimeData();
    EXPECT_TRUE(copied->hasFormat("image/svg+xml"));
    EXPECT_TRUE(copied->hasFormat("image/png"));
    EXPECT_FALSE(copied->data("image/svg+xml").contains("<image")) << "the scheme stays lines";
    EXPECT_TRUE(QTest::qWaitFor([&] { return contentOf(pdf).ends_with("%%EOF\n"); }, 20000));
    EXPECT_FALSE(contentOf(pdf).find("/Subtype /Image") != std::string::npos);
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 20);
}

TEST(PageTask, AFunctionAndItsDerivativeAsSvgAndTikz) {
    Desk k(material());
    k.drawAs("Function"); // on a figure of its own
    k.type("expression", "4*sin(x/2)*exp(-x/9)");
    k.drawAs("Function");
    k.type("expression", "2*cos(x/2)*exp(-x/9)-4/9*sin(x/2)*exp(-x/9)");
    k.type("ends-low", "2..9");
    k.type("width", "2.4");
    const QString svg = k.folder.filePath("slope.svg"), tex = k.folder.filePath("slope.tex");
    ExportOptions options;
    options.transparent = true;
    ASSERT_TRUE(k.d.window.exportTo(svg, options));
    k.actions += 3; // Export, no ground, the name, whose ending decides
    ASSERT_TRUE(k.d.window.exportTo(tex));
    k.actions += 2;
    EXPECT_TRUE(QTest::qWaitFor(
        [&] { return contentOf(svg).ends_with("</svg>\n") && contentOf(tex).size() > 500; }, 20000));
    EXPECT_EQ(contentOf(svg).find("fill=\"#ffffff\""), std::string::npos);
    const auto& marks = k.panel().children;
    std::vector<const Element*> functions;
    for (const Element& e : marks)
        if (e.kind == "function") functions.push_back(&e);
    ASSERT_GE(functions.size(), 2u);
    EXPECT_EQ(functions.back()->settings.numbers("ends"), (Numbers{2, 9}));
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 15);
}

TEST(PageTask, LegendNotesABracketAndAStyleForPrint) {
    Desk k(material());
    k.datasets({"Tank 1", "Tank 2"});
    k.newFigure();
    const Element* legend = k.first("legend");
    ASSERT_TRUE(legend);
    k.select(legend->id);
    const QPointF at = k.page()->regionOf(legend->id).center();
    k.drag(at, k.area().center() - QPointF(20, 60));
    EXPECT_EQ(k.first("legend")->settings.text("where"), "hand");
    const auto note = [&](const char* name) {
        k.click(k.d.button(k.d.window.figure(), "+ Note"), {5, 5});
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        ASSERT_TRUE(menu);
        for (QAction* action : menu->actions())
            if (action->text() == name) return k.click(menu, menu->actionGeometry(action).center());
        ADD_FAILURE() << "no " << name;
    };
    note("Text");
    k.type("text", "first day");
    note("Text");
    k.type("text", "k = {rate}");
    note("Bracket");
    k.type("text", "n.s.");
    const QPointF end = k.grip(figure::Grip::High);
    k.drag(end, end + QPointF(50, 0));
    k.press(Qt::Key_Escape); // back to the page: its house style
    auto* styles = k.d.window.findChild<QComboBox*>("houseStyle");
    ASSERT_TRUE(styles && styles->isVisible());
    const int print = styles->findText("House style: Monochrome print");
    ASSERT_GE(print, 0);
    styles->setCurrentIndex(print);
    Q_EMIT styles->activated(print);
    k.d.settle();
    ++k.actions;
    const QString tif = k.folder.filePath("p.tif"), pdf = k.folder.filePath("p.pdf");
    ASSERT_TRUE(k.d.window.exportTo(tif, {.dpi = 600}));
    k.actions += 4;
    ASSERT_TRUE(k.d.window.exportTo(pdf));
    k.actions += 3;
    EXPECT_TRUE(QTest::qWaitFor(
        [&] { return contentOf(pdf).ends_with("%%EOF\n") && contentOf(tif).size() > 1000; }, 20000));
    EXPECT_EQ(countOf(k.figure(), "note"), 2u);
    EXPECT_EQ(countOf(k.figure(), "brace"), 1u);
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 30);
}

TEST(PageTask, BoldTenPointsFramedThickTrimmedAtSixHundred) {
    Desk k(material());
    k.datasets({"Oxygen"});
    k.newFigure();
    k.actions = 0; // the figure was there
    k.type("text-size", "10");
    auto* bold = k.field<QCheckBox>("bold");
    ASSERT_TRUE(bold);
    k.click(bold, {8, bold->height() / 2});
    k.select(k.panel().id);
    k.type("frame-width", "1.5");
    const QString png = k.folder.filePath("p.png");
    ASSERT_TRUE(k.d.window.exportTo(png, {.dpi = 600, .trim = true}));
    k.actions += 5;
    EXPECT_TRUE(QTest::qWaitFor([&] { return contentOf(png).size() > 1000; }, 20000));
    EXPECT_TRUE(k.figure().settings.flag("bold"));
    for (const draw::Item& item : k.layout().list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what); run && item.line) {
            EXPECT_NEAR(item.line->sizePt, 10, 1e-6) << run->text;
            EXPECT_THAT(run->face, testing::HasSubstr("bold"));
        }
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 12);
}

TEST(Pages, ARulerSetsGuidesAndTakesThemAway) {
    Desk k(material());
    k.newFigure();
    const QPointF mark(k.page()->toPixels({30, 0}).x(), 8);
    k.click(k.page(), mark.toPoint());
    EXPECT_THAT(k.figure().settings.numbers("guides-x"), testing::ElementsAre(30));
    k.drag(mark, QPointF(k.page()->toPixels({40, 0}).x(), 8));
    EXPECT_THAT(k.figure().settings.numbers("guides-x"), testing::ElementsAre(40));
    const QPointF left(10, k.page()->toPixels({0, 20}).y());
    k.click(k.page(), left.toPoint());
    EXPECT_THAT(k.figure().settings.numbers("guides-y"), testing::ElementsAre(20));
    k.drag(QPointF(k.page()->toPixels({40, 0}).x(), 8), QPointF(k.page()->toPixels({-10, 0}).x(), 8));
    EXPECT_FALSE(k.figure().settings.has("guides-x"));
    k.d.click(&k.d.window, "Undo");
    EXPECT_THAT(k.figure().settings.numbers("guides-x"), testing::ElementsAre(40))
        << "one entry for the drag";
}

TEST(Pages, ElementsAreLinedUpAndKeptTogether) {
    Desk k(material());
    k.newFigure();
    for (const double x : {10.0, 30.0, 55.0}) {
        Element e{.kind = "shape"};
        for (const char* suffix : {"", "-2"}) e.settings.set(std::string("anchor") + suffix, "page");
        e.settings.set("x", Value(x));
        e.settings.set("y", Value(10 + x / 5));
        e.settings.set("x-2", Value(x + 8));
        e.settings.set("y-2", Value(18 + x / 5));
        e.settings.set("ground", "#dddddd");
        k.d.window.document().apply(edits::addElement(k.figure().id, {}, e));
    }
    k.d.settle();
    std::vector<ElementId> shapes;
    for (const Element& e : k.figure().elements)
        if (e.kind == "shape") shapes.push_back(e.id);
    k.select(shapes[0]);
    k.select(shapes[1], Qt::ControlModifier);
    k.select(shapes[2], Qt::ControlModifier);
    k.d.window.figure()->act("line-up-top");
    k.d.settle();
    for (const ElementId id : shapes) EXPECT_NEAR(k.figure().find(id)->settings.number("y"), 12, 1e-6);
    k.d.window.figure()->act("keep-together");
    k.press(Qt::Key_Escape);
    k.select(shapes[1]);
    EXPECT_EQ(k.d.window.document().elements().size(), 3u);
    EXPECT_EQ(k.selected(), shapes[1]);
    const QPointF at = k.page()->regionOf(shapes[1]).center();
    k.drag(at, at + QPointF(0, 40));
    EXPECT_GT(k.figure().find(shapes[0])->settings.number("y"), 14) << "all of them go along";
    k.click(k.page(), k.page()->regionOf(shapes[1]).center().toPoint()); // a second click takes the one alone
    EXPECT_EQ(k.d.window.document().elements().size(), 1u);
    // By chance one selects everything and does everything.
    for (const figure::Composition& c : figure::compositions())
        k.d.window.figure()->act(std::string("line-up-") + c.key);
}

TEST(Pages, AHouseStyleIsChangedOnAPageOfItsOwn) {
    Desk k(material());
    k.datasets({"Oxygen"});
    k.newFigure();
    k.d.window.figure()->editStyles();
    auto* pane = k.d.window.findChild<StylePane*>();
    ASSERT_TRUE(pane);
    EXPECT_TRUE(QTest::qWaitFor([&] { return pane->isCurrent(); }, 20000));
    auto* sample = pane->findChild<QLabel*>("styleSample");
    const QImage before = sample->pixmap(Qt::ReturnByValue).toImage();
    EXPECT_FALSE(before.isNull());
    auto* size = pane->findChild<QLineEdit*>("text-size");
    ASSERT_TRUE(size);
    size->setFocus();
    size->selectAll();
    QTest::keyClicks(size, "12");
    QTest::keyClick(size, Qt::Key_Return);
    k.d.settle();
    EXPECT_TRUE(QTest::qWaitFor([&] { return pane->isCurrent(); }, 20000));
    EXPECT_NE(sample->pixmap(Qt::ReturnByValue).toImage(), before);
    EXPECT_EQ(k.project().styles[0].looks.at("figure").number("text-size"), 12);
    auto* name = pane->findChild<QLineEdit*>("styleName");
    name->setFocus();
    name->selectAll();
    QTest::keyClicks(name, "Of our group");
    QTest::keyClick(name, Qt::Key_Return);
    EXPECT_EQ(k.project().styles[0].name, "Of our group");
    auto* kinds = pane->findChild<QListWidget*>("styleKinds");
    for (int row = 0; row < kinds->count(); ++row) kinds->setCurrentRow(row); // each has a form and a sample
    EXPECT_TRUE(QTest::qWaitFor([&] { return pane->isCurrent(); }, 20000));
    const std::size_t styles = k.project().styles.size();
    k.d.click(pane, "Remove");
    EXPECT_EQ(k.project().styles.size(), styles - 1);
    pane->close();
    k.d.settle();
}

TEST(Pages, AreOnPaperInTheirTrueSize) {
    Desk k(material());
    k.datasets({"Oxygen"});
    k.newFigure();
    const draw::DisplayList list = k.layout().list;
    QPrinter printer(QPrinter::HighResolution);
    const QString path = k.folder.filePath("paper.pdf");
    printer.setOutputFormat(QPrinter::PdfFormat);
    printer.setOutputFileName(path);
    printer.setPageSize(QPageSize(QPageSize::A4));
    preparePrinter(printer, list);
    EXPECT_EQ(printedScale(printer, list), 1);
    printOn(printer, list);
    const std::string pdf = contentOf(path);
    EXPECT_GT(pdf.size(), 3000u);
    EXPECT_TRUE(pdf.starts_with("%PDF"));
    draw::DisplayList wide = list;
    wide.widthMm = 400;
    wide.heightMm = 100;
    preparePrinter(printer, wide);
    EXPECT_EQ(printer.pageLayout().orientation(), QPageLayout::Landscape);
    EXPECT_LT(printedScale(printer, wide), 1);
    EXPECT_GT(printedScale(printer, wide), 0.6);
}

TEST(Pages, ATableOfColumnsStandsOnThePage) {
    Desk k(material());
    k.newFigure();
    k.d.window.figure()->addNote("table");
    k.d.settle();
    const Element* table = k.figure().find(k.selected());
    ASSERT_TRUE(table);
    EXPECT_EQ(table->kind, "table");
    EXPECT_TRUE(k.project().tables.find(TableId::fromText(table->source)));
}
