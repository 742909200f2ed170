// SPDX-License-Identifier: GPL-3.0-or-later
// Nothing is squeezed, cut or nameless: every stage, step, model, analysis and element of a figure is opened
// in the window of 1280 × 800, in both themes, and looked over.
#include "looks.h"

#include "analyses/analysis.h"
#include "desk.h"
#include "figure/marks/mark.h"
#include "models/catalogue.h"
#include "steps/step.h"

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

struct Looks {
    Driver d;
    std::set<std::string> told; // each finding once

    void look(const std::string& where) {
        for (int turn = 0; turn < 3; ++turn) QApplication::processEvents();
        for (const QString& finding : tooWide(&d.window) + squeezed(&d.window) + nameless(&d.window)) {
            const std::string key = finding.section(" (", 0, 0).toStdString();
            if (told.insert(key).second) ADD_FAILURE() << where << ": " << finding.toStdString();
        }
    }
    void openDemo(const char* name = "demo:") {
        d.window.openPath(name);
        d.settle();
    }
};

} // namespace

TEST(Looks, StagesOfAnEmptyProject) {
    Looks l;
    for (const char* stage : {"Data", "Clean", "Analyse", "Figure", "Results"}) {
        l.d.stage(stage);
        l.look(stage);
    }
}

TEST(Looks, StagesOfTheDemoInBothThemes) {
    Looks l;
    l.openDemo();
    for (const bool dark : {false, true}) {
        for (const char* stage : {"Data", "Clean", "Analyse", "Figure", "Results"}) {
            l.d.stage(stage);
            l.look(std::string(stage) + (dark ? ", dark" : ", light"));
        }
        l.d.find("recipes and runs");
        l.look("Runs");
        l.d.find("light or dark");
    }
}

TEST(Looks, ImportOfAFile) {
    Looks l;
    QTemporaryDir folder;
    for (const auto& [name, text] : demo::rawFiles()) {
        const std::string path = writeRaw(folder, name);
        l.d.drop({QString::fromStdString(path)});
        l.look("import of " + name);
        QTest::keyClick(l.d.window.data(), Qt::Key_Escape);
        l.d.settle();
    }
}

TEST(Looks, EveryStep) {
    Looks l;
    l.openDemo();
    l.d.stage("Clean");
    for (const steps::StepKind& kind : steps::catalogue()) {
        l.d.find("Step " + QString::fromStdString(kind.info.name));
        l.look("step " + kind.info.key);
        QTest::keyClick(&l.d.window, Qt::Key_Z, Qt::ControlModifier);
        l.d.settle();
    }
}

TEST(Looks, EveryModelAndAnalysis) {
    Looks l;
    l.openDemo();
    l.d.stage("Analyse");
    const DatasetId id = l.d.window.document().dataset();
    const auto add = [&](const Analysis& made) {
        l.d.window.document().addAnalysis([&](DatasetId) { return made; });
        l.d.settle();
        l.look(made.kind + " " + made.settings.text("model"));
        QTest::keyClick(&l.d.window, Qt::Key_Z, Qt::ControlModifier);
        l.d.settle();
    };
    for (const models::ModelKind& kind : models::catalogue()) add(newFit(id, kind.info.key));
    for (const analyses::AnalysisKind& kind : analyses::catalogue()) add(newAnalysis(id, kind.info.key));
}

// A span that an analysis takes over makes its card higher when it is made.
TEST(Looks, ASpanChosenBeforeTheFit) {
    Looks l;
    l.openDemo();
    l.d.stage("Analyse");
    const DatasetId id = l.d.window.document().dataset();
    for (const char* model : {"line", "exp-decay", "gaussian"}) {
        Analysis fit = newFit(id, model);
        fit.inputs[0].span = Span(1, 30);
        l.d.window.document().addAnalysis([&](DatasetId) { return fit; });
        l.d.settle();
        l.look(std::string("span of ") + model);
    }
}

namespace {

// Selects each element of each figure, with all groups of its settings unfolded.
void lookAtElements(Looks& l) {
    l.d.stage("Figure");
    Document& document = l.d.window.document();
    const std::function<void(const Element&)> visit = [&](const Element& e) {
        document.selectElement(e.id);
        l.d.settle();
        for (QPushButton* b : l.d.window.figure()->findChildren<QPushButton*>())
            if (b->isVisible() && b->text().startsWith("▸")) QTest::mouseClick(b, Qt::LeftButton);
        l.d.settle();
        l.look("element " + e.kind);
        for (const Element& child : e.children) visit(child);
    };
    const auto figures = l.d.project().figures;
    for (const auto& f : figures) {
        document.selectFigure(f->id);
        for (const Element& e : f->elements) visit(e);
    }
}

} // namespace

TEST(Looks, EveryElementOfTheDemosFigures) {
    Looks l;
    l.openDemo();
    lookAtElements(l);
}

TEST(Looks, EveryElementOfTheTwelveFigures) {
    Looks l;
    QTemporaryDir folder;
    const QString path = folder.filePath("twelve.jointer");
    ASSERT_TRUE(saveProject(demo::figureDemo(), {}, path.toStdString()).has_value());
    l.openDemo(path.toUtf8());
    lookAtElements(l);
}

// A name of a hundred letters, an attribute and a unit as long as people write them.
TEST(Looks, LongNames) {
    Looks l;
    QTemporaryDir folder;
    const QString name = "a core of the northern pond that was taken on the second day of the spring tide, "
                         "and kept cold ever since.csv";
    std::ofstream(folder.filePath(name).toStdString())
        << "depth below the surface of the sediment [centimetres as measured],"
           "chlorophyll a and its products of decay [µmol quanta per square metre and second]\n"
           "0,1\n1,3\n2,2\n3,5\n4,4\n";
    l.d.drop({folder.filePath(name)});
    l.look("import");
    l.d.click(l.d.window.data(), "Import");
    for (const char* stage : {"Data", "Clean", "Analyse", "Figure", "Results"}) {
        l.d.stage(stage);
        if (stage == std::string("Clean")) l.d.find("smooth");
        if (stage == std::string("Analyse")) l.d.find("straight line");
        if (stage == std::string("Figure")) l.d.click(l.d.window.figure(), "New figure");
        l.look(stage);
    }
    lookAtElements(l);
}
