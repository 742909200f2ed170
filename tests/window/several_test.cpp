// SPDX-License-Identifier: GPL-3.0-or-later
// Several datasets at once: selected in the list, changed together, named by a list of samples.
#include "driver.h"

#include <QCheckBox>
#include <QListWidget>
#include <QTableView>

using namespace jointer;
using namespace jointer::app;
using namespace jointer::test;

namespace {

QListWidget* datasetList(Driver& d) {
    for (auto* list : d.window.findChildren<QListWidget*>())
        if (list->accessibleName() == "Datasets") return list;
    ADD_FAILURE() << "no list of datasets";
    return nullptr;
}

void clickRow(Driver& d, int row, Qt::KeyboardModifiers with = {}) {
    QListWidget* list = datasetList(d);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, with, list->visualItemRect(list->item(row)).center());
    d.settle();
}

} // namespace

TEST(Several, AreSelectedByClicksAndChangedTogether) {
    Driver d;
    d.window.openPath("demo:");
    d.stage("Clean");
    clickRow(d, 0);
    EXPECT_EQ(d.window.document().selection().size(), 1U);
    clickRow(d, 1, Qt::ControlModifier);
    const auto chosen = d.window.document().selection();
    ASSERT_EQ(chosen.size(), 2U);
    EXPECT_EQ(chosen[0], d.project().datasets[0].id) << "others join the one that leads";
    const Project before = d.project();
    d.find("smooth");
    for (DatasetId id : chosen) EXPECT_EQ(d.project().datasets.find(id)->protocol.back().kind, "smooth");
    EXPECT_EQ(d.project().datasets[2].protocol, before.datasets[2].protocol) << "others stay";
    // The setting of the open step changes in both.
    const StepId open = d.window.document().step();
    ASSERT_TRUE(open);
    d.window.document().onEachStep(
        open, [](DatasetId in, StepId step) { return edits::setStep(in, step, "window", Value(15.0)); });
    for (DatasetId id : chosen)
        EXPECT_EQ(d.project().datasets.find(id)->protocol.back().settings.number("window"), 15);
    d.click(&d.window, "Undo");
    d.click(&d.window, "Undo");
    EXPECT_EQ(d.project(), before) << "one entry for both";
    clickRow(d, 2);
    EXPECT_EQ(d.window.document().selection().size(), 1U) << "a plain click selects one";
}

TEST(Several, ThoseWithoutSuchAStepStayAndItIsSaid) {
    Driver d;
    d.window.openPath("demo:");
    const DatasetId first = d.project().datasets[0].id, second = d.project().datasets[1].id;
    d.window.document().selectDatasets({first});
    d.stage("Clean");
    d.find("smooth");
    const StepId step = d.project().datasets[0].protocol.back().id;
    d.window.document().selectDatasets({first, second});
    d.settle();
    QString said;
    QObject::connect(&d.window.document(), &Document::message, &d.window,
                     [&](const QString& m, bool) { said = m; });
    const Project before = d.project();
    d.window.document().onEachStep(step,
                                   [](DatasetId in, StepId s) { return edits::switchStep(in, s, false); });
    EXPECT_FALSE(d.project().datasets[0].protocol.back().on);
    EXPECT_EQ(d.project().datasets[1], before.datasets[1]);
    EXPECT_TRUE(said.contains("1 of the 2")) << said.toStdString();
    // What is removed is no longer selected.
    d.window.document().onEach(edits::removeDataset);
    d.settle();
    EXPECT_EQ(d.project().datasets.size() + 2, before.datasets.size());
    for (DatasetId id : d.window.document().selection()) EXPECT_TRUE(d.project().datasets.find(id));
}

TEST(Several, TheSelectionIsFoundAgainWithTheProject) {
    QTemporaryDir folder;
    Driver d;
    d.window.openPath("demo:");
    const std::vector<DatasetId> chosen = {d.project().datasets[2].id, d.project().datasets[0].id};
    d.window.document().selectDatasets(chosen);
    const std::string view = d.window.document().viewText(1);
    d.window.document().selectDataset(d.project().datasets[1].id);
    EXPECT_EQ(d.window.document().restoreView(view), 1);
    EXPECT_EQ(d.window.document().selection(), chosen);
}

TEST(Several, AListOfSamplesBecomesAttributes) {
    QTemporaryDir folder;
    Driver d;
    d.window.openPath("demo:");
    const Project before = d.project();
    ASSERT_NE(before.datasets[0].name, before.datasets[1].name);
    const std::string path = folder.filePath("samples.csv").toStdString();
    std::ofstream(path) << "sample,tide\n"
                        << before.datasets[0].name << ",low\n"
                        << before.datasets[1].name << ",high\n";
    d.drop({QString::fromStdString(path)});
    auto* offer = d.window.data()->import()->findChild<QCheckBox*>("asSamples");
    ASSERT_TRUE(offer && offer->isVisible() && offer->isChecked());
    EXPECT_TRUE(offer->text().contains("2 datasets"));
    d.click(d.window.data()->import(), "Import");
    EXPECT_EQ(d.project().tables.size(), before.tables.size()) << "no table";
    EXPECT_EQ(d.project().datasets[0].attributes.back().value, "low");
    EXPECT_EQ(d.project().datasets[1].attributes.back().value, "high");
    d.click(&d.window, "Undo");
    EXPECT_EQ(d.project(), before);
}

TEST(Import, OffersAnotherReadingThatIsNear) {
    QTemporaryDir folder;
    const std::string path = folder.filePath("open.csv").toStdString();
    std::ofstream(path) << "5,5\n6,5\n7,25\n";
    Driver d;
    d.drop({QString::fromStdString(path)});
    QWidget* view = d.window.data()->import();
    auto* grid = view->findChild<QTableView*>("previewGrid");
    EXPECT_EQ(grid->model()->columnCount(), 2);
    auto* offer = view->findChild<QPushButton*>("alternative");
    ASSERT_TRUE(offer && offer->isVisible());
    EXPECT_EQ(offer->accessibleName(), "Instead: one column, decimal comma");
    QTest::mouseClick(offer, Qt::LeftButton);
    d.settle();
    EXPECT_EQ(grid->model()->columnCount(), 1);
    d.click(view, "Import");
    EXPECT_EQ(d.project().tables[0].columns[0].numbers()[2], 7.25);
}
