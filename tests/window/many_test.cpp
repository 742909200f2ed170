// SPDX-License-Identifier: GPL-3.0-or-later
// Two hundred datasets, long and foreign names, a unit of forty characters: every stage stays usable, and nothing that
// a list shows is wider than its place.
#include "driver.h"

#include "app/panes/dataset_list.h"

#include <QElapsedTimer>
#include <QListWidget>
#include <cmath>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

QString writeOne(const QTemporaryDir& folder, int k, const QString& name, const char* unit) {
    const QString path = folder.filePath(name);
    std::ofstream out(path.toStdString());
    out << "Tiefe [" << unit << "];Salz [g/kg]\n";
    for (int i = 0; i <= 30; ++i) out << i << ';' << 5 + k % 7 + std::sin(0.3 * i + k) << '\n';
    return path;
}

} // namespace

// JOINTER_MANY=500 takes so many.
TEST(Many, TwoHundredDatasetsGoThroughAllStages) {
    const int many = std::max(qEnvironmentVariableIntValue("JOINTER_MANY"), 200);
    const auto all = static_cast<std::size_t>(many);
    QTemporaryDir folder;
    Driver d;
    QStringList paths;
    for (int k = 0; k < many; ++k) paths << writeOne(folder, k, QString("core_%1.csv").arg(k, 3, 10, QChar('0')), "cm");
    QElapsedTimer time;
    time.start();
    d.drop(paths);
    d.click(d.window.data()->import(), "Import");
    ASSERT_TRUE(QTest::qWaitFor([&] { return d.project().datasets.size() == all; }, 60000));
    d.settle();
    EXPECT_EQ(d.entries(), 1U) << "one edit";
    EXPECT_LT(time.restart(), 30000);
    QListWidget* list = d.window.findChild<DatasetList*>()->list();
    list->setFocus();
    time.restart();
    QTest::keyClick(list, Qt::Key_A, Qt::ControlModifier);
    d.settle();
    EXPECT_LT(time.elapsed(), 4000) << "all are selected at once, not one after the other";
    EXPECT_EQ(d.window.document().selection().size(), all);
    for (const char* stage : {"Clean", "Analyse", "Figure", "Results", "Data"}) {
        time.restart();
        d.stage(stage);
        EXPECT_LT(time.elapsed(), 8000) << stage;
    }
    d.stage("Clean");
    d.find("smooth");
    for (const auto& each : d.project().datasets) ASSERT_EQ(each->protocol.size(), 1U) << each->name;
    d.stage("Figure");
    time.restart();
    d.click(d.window.figure(), "New figure");
    EXPECT_LT(time.elapsed(), 10000);
    EXPECT_EQ(d.project().figures.size(), 1U);
    undoAll(d);
    EXPECT_EQ(d.project().datasets.size(), 0U);
}

TEST(Many, NamesOfAnyLanguageAndLengthAreTakenAsTheyAre) {
    QTemporaryDir folder;
    Driver d;
    const char* unit = "µmol quanta per square metre and second!!"; // forty characters
    const QStringList names = {QString::fromUtf8("Θάλασσα Ιούνιος.csv"), QString::fromUtf8("潮間帯の塩分.csv"),
                               "a name that goes on and on as if nobody had ever to read it in a narrow list of datasets.csv",
                               QString::fromUtf8("Überlauf № 3 – „oben“.csv")};
    QStringList paths;
    for (int k = 0; k < names.size(); ++k) paths << writeOne(folder, k, names[k], unit);
    d.drop(paths);
    d.click(d.window.data()->import(), "Import");
    ASSERT_EQ(d.project().datasets.size(), 4U);
    for (int k = 0; k < names.size(); ++k)
        EXPECT_EQ(d.project().datasets[static_cast<std::size_t>(k)].name + ".csv", names[k].toStdString());
    EXPECT_EQ(d.project().tables[0].columns[0].unit, unit);
    QListWidget* list = d.window.findChild<DatasetList*>()->list();
    for (int i = 0; i < list->count(); ++i) {
        EXPECT_LE(list->visualItemRect(list->item(i)).width(), list->viewport()->width());
        EXPECT_EQ(list->item(i)->toolTip(), names[i].chopped(4)) << "what is cut is told in full";
    }
    for (const char* stage : {"Clean", "Analyse", "Figure"}) d.stage(stage);
    d.click(d.window.figure(), "New figure");
    evaluate::Evaluator& e = d.window.document().session().evaluator();
    const auto layout = figure::layOut(d.project(), d.project().figures[0], e);
    for (const draw::Item& item : layout.list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what))
            if (run->angleDeg == 0) {
                EXPECT_GE(run->origin.x, -0.01) << run->text;
                EXPECT_LE(run->origin.x + run->widthMm, layout.list.widthMm + 0.01) << run->text;
            }
}
