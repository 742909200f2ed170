// SPDX-License-Identifier: GPL-3.0-or-later
// Waters, sediments, soundings and vectors from their files to a printed figure by mouse and keys, with the
// actions counted.
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
    import(k, "soundings.csv");
    mapAs(k, "Surface");
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
    import(k, "sediments.csv");
    mapAs(k, "Three parts");
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
