// SPDX-License-Identifier: GPL-3.0-or-later
// Waters, sediments, soundings and vectors from their files to a printed figure by mouse and keys, with the
// actions counted.
#include "app/panes/class_rows.h"
#include "app/stages/mapping_view.h"
#include "base/files.h"
#include "fields.h"
#include "window/desk.h"

using namespace jointer;
using namespace jointer::test;

namespace {

QString rawFile(const QTemporaryDir& folder, const char* name) {
    for (const auto& [file, text] : demo::fieldFiles())
        if (file == name) {
            const QString path = folder.filePath(name);
            std::ofstream(path.toStdString(), std::ios::binary) << text;
            return path;
        }
    ADD_FAILURE() << "no file " << name;
    return {};
}

// Drops the file, and takes it as it was understood.
void import(Desk& k, const char* name) {
    k.d.drop({rawFile(k.folder, name)});
    ++k.actions;
    if (auto* take = k.d.window.findChild<QPushButton*>("importButton"); take && take->isVisible())
        k.click(take, take->rect().center());
    else
        k.d.click(&k.d.window, "Import"), ++k.actions;
}

// The kind of dataset in the mapping, with the columns that are guessed.
void mapAs(Desk& k, const char* kind) {
    k.d.click(&k.d.window, "Make dataset…");
    auto* view = k.d.window.findChild<MappingView*>();
    k.d.click(view, kind);
    k.d.click(view, "Make dataset");
    k.actions += 3;
}

void toFigure(Desk& k) {
    k.newFigure();
    k.d.stage("Figure");
}

bool isWritten(Desk& k, const char* name) {
    const QString pdf = k.folder.filePath(name);
    if (!k.d.window.exportTo(pdf)) return false;
    k.actions += 3; // Export, the kind, the name
    return QTest::qWaitFor([&] { return readFile(pdf.toStdString()).value_or("").ends_with("%%EOF\n"); },
                           20000);
}

std::string columnOf(Desk& k, const char* name) {
    for (const auto& t : k.project().tables)
        if (const Column* c = t->findByName(name)) return c->id.text();
    return {};
}

} // namespace

TEST(DiagramTask, SpringsBecomeADiagramOfWatersWithClassesAndAGradient) {
    Desk k;
    import(k, "springs_autumn.csv");
    toFigure(k);
    EXPECT_EQ(k.panel().settings.text("coordinates"), "waters") << "known by its columns";
    const Element* points = k.first("points");
    ASSERT_TRUE(points);
    EXPECT_EQ(points->settings.reference("symbol-by"), columnOf(k, "belt"))
        << "belts are classes from the start";
    k.select(points->id);
    k.choose("colour-by", QString::fromStdString(columnOf(k, "Salinity")));
    EXPECT_EQ(k.first("points")->settings.reference("colour-by"), columnOf(k, "Salinity"));
    EXPECT_TRUE(isWritten(k, "springs.pdf"));
    const figure::Layout shown = k.layout();
    EXPECT_TRUE(shown.panels.at(0).projection);
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 15);
}

TEST(DiagramTask, SoundingsBecomeFilledContoursWithNumbersAndABar) {
    Desk k;
    import(k, "soundings.csv"); // known by east and north
    toFigure(k);
    EXPECT_TRUE(k.first("filled-contours"));
    EXPECT_TRUE(k.first("contour-lines"));
    EXPECT_TRUE(k.first("colour-bar"));
    EXPECT_TRUE(isWritten(k, "soundings.pdf"));
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 12);
}

TEST(DiagramTask, SedimentsBecomeATriangleWithClasses) {
    Desk k;
    import(k, "sediments.csv"); // known by their sums
    toFigure(k);
    EXPECT_EQ(k.panel().settings.text("coordinates"), "ternary");
    EXPECT_EQ(k.first("points")->settings.reference("colour-by"), columnOf(k, "zone"));
    EXPECT_TRUE(isWritten(k, "sediments.pdf"));
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 12);
}

TEST(DiagramTask, TwoExpressionsBecomeAVectorField) {
    Desk k;
    k.d.find("add vector field");
    ++k.actions;
    ASSERT_FALSE(k.project().datasets.empty());
    EXPECT_EQ(k.project().datasets[0].source.kind, "flow");
    k.d.type(&k.d.window, "u-expression", "-y*exp(-x^2-y^2)");
    k.d.type(&k.d.window, "v-expression", "x*exp(-x^2-y^2)");
    k.actions += 2;
    toFigure(k);
    EXPECT_TRUE(k.first("arrows"));
    EXPECT_FALSE(k.layout().list.items.empty());
    EXPECT_TRUE(isWritten(k, "vectors.pdf"));
    RecordProperty("actions", k.actions);
    EXPECT_LT(k.actions, 8);
}

TEST(Diagrams, TypesAndRatiosBecomeColumnsThatFollow) {
    Desk k;
    import(k, "springs_autumn.csv");
    k.d.stage("Data");
    k.d.click(&k.d.window, "Types, balance and ratios…");
    k.d.choose("Water type");
    k.d.click(&k.d.window, "Types, balance and ratios…");
    k.d.choose("Hardness");
    const Table& t = k.project().tables[0];
    const auto filled = k.d.window.document().session().evaluator().table(k.project(), t.id).value;
    const Column *type = filled.findByName("Water type"), *hardness = filled.findByName("Hardness");
    ASSERT_TRUE(type && hardness);
    EXPECT_THAT(type->cells->texts.at(0), testing::HasSubstr("HCO₃"));
    EXPECT_GT(hardness->cells->numbers.at(0), 50);
    EXPECT_THAT(type->cells->texts.back(), testing::HasSubstr("Na"));
}

// Belts get a colour, a symbol, a name and an order by hand; the house style keeps them for other figures.
TEST(Diagrams, ClassesAreChangedByHandAndKeptInTheHouseStyle) {
    Desk k;
    import(k, "springs_autumn.csv");
    toFigure(k);
    k.select(k.first("points")->id);
    auto* rows = k.d.window.findChild<ClassRows*>();
    ASSERT_TRUE(rows && rows->isVisible());
    const auto of = [&](const char* what, int row) {
        auto* found = rows->findChild<QWidget*>(QString(what) + QString::number(row));
        EXPECT_TRUE(found) << what << row;
        return found;
    };
    const auto field = [&](int row) { return qobject_cast<QLineEdit*>(of("classLabel", row)); };
    ASSERT_TRUE(field(3));
    EXPECT_EQ(field(0)->text(), "dune");
    EXPECT_FALSE(rows->findChild<QWidget*>("classLabel4"));
    const auto said = [&](const char* name, const char* key) -> std::string {
        for (const Settings& row : k.first("points")->settings.rows("classes"))
            if (row.text("name") == name) return row.flag(key, false) ? "yes" : row.text(key);
        return "no row";
    };
    field(1)->setFocus();
    field(1)->selectAll();
    QTest::keyClicks(field(1), "Wet meadow");
    QTest::keyClick(field(1), Qt::Key_Return);
    k.d.settle();
    EXPECT_EQ(said("meadow", "label"), "Wet meadow");
    k.click(of("classColour", 1), of("classColour", 1)->rect().center());
    k.d.choose("#000000");
    k.click(of("classSymbol", 1), of("classSymbol", 1)->rect().center());
    k.d.choose("star");
    k.click(of("classMore", 1), of("classMore", 1)->rect().center());
    k.d.choose("Earlier");
    EXPECT_EQ(field(0)->text(), "Wet meadow") << "first in the legend";
    k.click(of("classMore", 3), of("classMore", 3)->rect().center());
    k.d.choose("Hide");
    EXPECT_EQ(said("pan", "hidden"), "yes");
    EXPECT_FALSE(field(3)->isEnabled());
    const auto classes = k.layout().marks.at(0).classes;
    ASSERT_EQ(classes.size(), 4U);
    EXPECT_EQ(classes[0].name, "meadow");
    EXPECT_EQ(classes[0].colour, (draw::Colour{0, 0, 0, 255}));
    EXPECT_EQ(classes[0].shape, draw::SymbolShape::Star);
    EXPECT_TRUE(classes[3].hidden);
    k.d.click(rows, "Keep in house style");
    const auto style = k.project().styles.find(k.figure().style);
    ASSERT_TRUE(style->looks.contains("points"));
    EXPECT_EQ(style->looks.at("points").rows("classes").size(), 4U);
    k.d.click(rows, "Automatic");
    EXPECT_TRUE(k.first("points")->settings.rows("classes").empty());
    EXPECT_EQ(k.layout().marks.at(0).classes[0].name, "meadow") << "as the style has them";
    toFigure(k); // another figure of the same data
    EXPECT_EQ(k.layout().marks.at(0).classes[0].label, "Wet meadow");
}

// Points over x and y, a fit, its surface with the residuals: from the file to the figure.
TEST(Diagrams, AFitOverTwoPredictorsBecomesASurfaceBesideItsPoints) {
    Desk k;
    import(k, "growth_tanks.csv");
    mapAs(k, "Surface");
    Analysis fit{.inputs = {{.dataset = k.d.window.document().dataset()}}};
    fit.model.kind = "equation";
    fit.model.settings.set("equation", std::string("A*exp(-((x1 - S)/a)^2 - ((x2 - T)/b)^2)"));
    for (const auto& [name, start] : {std::pair("A", 1.8), std::pair("S", 22.0), std::pair("a", 10.0),
                                      std::pair("T", 18.0), std::pair("b", 7.0)})
        fit.parameters.push_back({.name = name, .start = start});
    ASSERT_TRUE(k.d.window.document().apply(edits::addAnalysis(std::move(fit))));
    k.d.settle();
    k.d.find("surface of the fit");
    const Dataset& made = *k.project().datasets.find(k.d.window.document().dataset());
    EXPECT_EQ(made.source.kind, "fitted-surface");
    toFigure(k);
    EXPECT_EQ(k.panel().settings.text("coordinates"), "relief");
    ASSERT_TRUE(k.first("relief-surface"));
    ASSERT_TRUE(k.first("relief-points"));
    const auto shown = k.layout();
    EXPECT_TRUE(shown.issues.empty()) << shown.issues.front().text;
    EXPECT_TRUE(isWritten(k, "growth.pdf"));
}

TEST(Diagrams, WithoutAFitASurfaceIsRefusedInWords) {
    Desk k;
    import(k, "growth_tanks.csv");
    mapAs(k, "Surface");
    const std::size_t before = k.project().datasets.size();
    k.d.find("surface of the fit");
    EXPECT_EQ(k.project().datasets.size(), before);
}
