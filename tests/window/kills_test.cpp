// SPDX-License-Identifier: GPL-3.0-or-later
// A session at work (fits, peaks, figures, saving, exporting) is killed at random moments: the saved project
// is whole, an exported figure is whole or not there, and what was autosaved comes back. JOINTER_KILLS=200
// kills so often; the suite does it a few times.
#include "driver.h"

#include "project/project_file.h"
#include "project/references.h"
#include "session/session.h"

#include <QProcess>
#include <filesystem>
#include <random>

using namespace jointer;
using namespace jointer::test;

namespace {

namespace fs = std::filesystem;

constexpr const char* kFolder = "JOINTER_VICTIM"; // set in the process that is killed

// Each does a little of what a person does.
void work(Driver& d, std::mt19937& random, const fs::path& folder) {
    Document& document = d.window.document();
    const Project& p = document.project();
    const auto pick = [&](std::size_t n) { return random() % std::max<std::size_t>(1, n); };
    if (p.datasets.size() > 0) document.selectDataset(p.datasets[pick(p.datasets.size())].id);
    switch (random() % 9) {
    case 0:
        document.addAnalysis([](DatasetId id) { return newAnalysis(id, "peaks"); });
        break;
    case 1:
        document.addAnalysis([](DatasetId id) { return newFit(id, "gaussian"); });
        break;
    case 2:
        document.onEach([](DatasetId id) { return edits::addStep(id, "smooth", {}, "Smooth"); });
        break;
    case 3:
        d.window.figure()->addFigure();
        break;
    case 4:
        d.window.saveTo(QString::fromStdString(folder / "p.jointer"));
        break;
    case 5:
        if (p.figures.size() > 0) {
            document.selectFigure(p.figures[pick(p.figures.size())].id);
            d.window.exportTo(QString::fromStdString(folder / "f.pdf"));
        }
        break;
    case 6:
        document.session().undo();
        break;
    case 7:
        (void)document.session().autosave();
        break;
    default:
        d.window.goTo(static_cast<Stage>(random() % 5));
    }
}

bool endsAsPdf(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    const std::string all((std::istreambuf_iterator<char>(in)), {});
    return all.starts_with("%PDF-") &&
           all.find("%%EOF", all.size() - std::min<std::size_t>(all.size(), 16)) != all.npos;
}

void expectWhole(const Project& p, const std::string& of) {
    std::set<std::string> there;
    const auto add = [&](const auto& parts) {
        for (const auto& part : parts) there.insert(part->id.text());
    };
    add(p.tables), add(p.datasets), add(p.analyses), add(p.figures);
    for (const auto& d : p.datasets) {
        EXPECT_TRUE(!d->source.table || there.contains(d->source.table.text())) << of;
    }
    for (const auto& a : p.analyses)
        for (const AnalysisInput& in : a->inputs) EXPECT_TRUE(there.contains(in.dataset.text())) << of;
}

} // namespace

// Not a test of its own: what the killed process does.
TEST(Kills, Victim) {
    if (!qEnvironmentVariableIsSet(kFolder)) GTEST_SKIP() << "only within the next one";
    const fs::path folder = qEnvironmentVariable(kFolder).toStdString();
    Driver d(folder / "state");
    d.window.openPath("demo:");
    std::mt19937 random(static_cast<unsigned>(qEnvironmentVariableIntValue("JOINTER_VICTIM_SEED")));
    for (;;) {
        work(d, random, folder);
        for (int k = 0; k < 4; ++k) QApplication::processEvents(QEventLoop::AllEvents, 20);
        for (QWidget* w : QApplication::topLevelWidgets())
            if (w != &d.window && w->isVisible()) w->close();
    }
}

TEST(Kills, LoseNothingThatWasSaved) {
    const int rounds =
        qEnvironmentVariableIsSet("JOINTER_KILLS") ? qEnvironmentVariableIntValue("JOINTER_KILLS") : 6;
    std::mt19937 random(411);
    int saved = 0, exported = 0, recovered = 0;
    // A busy machine may need more of them until something was saved at all.
    const auto goesOn = [&](int round) {
        return round < rounds || (saved + recovered == 0 && round < 5 * rounds);
    };
    for (int round = 0; goesOn(round); ++round) {
        SCOPED_TRACE("round " + std::to_string(round));
        QTemporaryDir temporary;
        const fs::path folder = temporary.path().toStdString();
        fs::create_directories(folder / "state");
        QProcess victim;
        QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
        environment.insert(kFolder, temporary.path());
        environment.insert("JOINTER_VICTIM_SEED", QString::number(round));
        environment.remove("JOINTER_KILLS");
        victim.setProcessEnvironment(environment);
        victim.start(QApplication::applicationFilePath(), {"--gtest_filter=Kills.Victim"});
        ASSERT_TRUE(victim.waitForStarted());
        EXPECT_FALSE(victim.waitForFinished(400 + static_cast<int>(random() % 2600)))
            << "it ended by itself: " << victim.readAllStandardError().toStdString();
        victim.kill();
        ASSERT_TRUE(victim.waitForFinished());
        if (fs::exists(folder / "p.jointer")) {
            const auto opened = openProject(folder / "p.jointer");
            ASSERT_TRUE(opened) << opened.error().text;
            EXPECT_TRUE(opened->issues.empty()) << opened->issues.front().text;
            expectWhole(opened->project, "saved");
            ++saved;
        }
        if (fs::exists(folder / "f.pdf")) {
            EXPECT_TRUE(endsAsPdf(folder / "f.pdf"));
            ++exported;
        }
        for (const auto& left : Session::recoverable(folder / "state")) {
            Session session;
            const auto done = session.recover(left);
            ASSERT_TRUE(done) << done.error().text;
            expectWhole(session.project(), "recovered");
            ++recovered;
        }
    }
    std::cout << rounds << " kills: " << saved << " saved, " << exported << " exported, " << recovered
              << " recovered\n";
    EXPECT_GT(saved + recovered, 0);
}
