// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/zip.h"
#include "project/change_each.h"
#include "session/check.h"
#include "session/export.h"
#include "session/import.h"
#include "session/session.h"
#include "support/fitted.h"
#include "support/sample_project.h"
#include "tern_sands.h"

#include <filesystem>
#include <gmock/gmock.h>
#include <unistd.h>

using namespace jointer;
namespace fs = std::filesystem;

namespace {
fs::path folderFor(const char* name) {
    const fs::path f =
        fs::temp_directory_path() / ("jointer-session-" + std::string(name) + std::to_string(::getpid()));
    fs::remove_all(f);
    fs::create_directories(f);
    return f;
}
} // namespace

TEST(Session, SavesOpensAndKnowsWhatChanged) {
    const fs::path folder = folderFor("save");
    Session s;
    EXPECT_FALSE(s.isChanged());
    s.start(demo::ternSands());
    ASSERT_TRUE(s.apply(edits::rename("Other")));
    EXPECT_TRUE(s.isChanged());
    ASSERT_TRUE(s.save(folder / "p.jointer"));
    EXPECT_FALSE(s.isChanged());
    Session again;
    ASSERT_TRUE(again.open(folder / "p.jointer"));
    EXPECT_TRUE(again.project() == s.project());
    s.undo();
    EXPECT_TRUE(s.isChanged());
    fs::remove_all(folder);
}

TEST(Session, AutosavesAndRecoversAfterACrash) {
    const fs::path folder = folderFor("crash");
    {
        Session s(folder);
        s.start(test::sampleProject());
        ASSERT_TRUE(s.apply(edits::rename("Precious")));
        ASSERT_TRUE(s.autosave());
        // A session of this process still runs: nothing is offered.
        EXPECT_TRUE(Session::recoverable(folder).empty());
        // As after a crash: the files stay, the process is gone.
        for (const auto& entry : fs::directory_iterator(folder))
            fs::copy(entry.path(), folder / ("kept-" + entry.path().filename().string()));
    }
    for (const auto& entry : fs::directory_iterator(folder)) {
        if (entry.path().extension() != ".json") continue;
        ASSERT_TRUE(
            replaceFile(entry.path(), R"({"title":"Precious","path":"/a/b.jointer","pid":999999999})"));
    }
    const auto left = Session::recoverable(folder);
    ASSERT_EQ(left.size(), 1U);
    EXPECT_EQ(left[0].title, "Precious");
    Session s;
    ASSERT_TRUE(s.recover(left[0]));
    EXPECT_EQ(s.project().title, "Precious");
    EXPECT_EQ(s.path(), "/a/b.jointer");
    EXPECT_TRUE(s.isChanged()) << "what was recovered is not saved yet";
    EXPECT_EQ(Session::recoverable(folder).size(), 1U) << "a second crash must not lose it";
    ASSERT_TRUE(s.save(folder / "safe.jointer"));
    EXPECT_TRUE(Session::recoverable(folder).empty());
    fs::remove_all(folder);
}

// What was recovered goes once an autosave holds it; an autosave that fails is tried again.
TEST(Session, RecoveredWorkIsKeptUntilItIsSafeElsewhere) {
    const fs::path folder = folderFor("twice"), state = folder / "state";
    fs::create_directories(state);
    ASSERT_TRUE(saveProject(test::sampleProject(), {}, state / "1-1.jointer"));
    ASSERT_TRUE(replaceFile(state / "1-1.jointer.json", R"({"title":"T","path":"","pid":999999999})"));
    Session s(state);
    ASSERT_TRUE(s.recover(Session::recoverable(state).front()));
    EXPECT_EQ(Session::recoverable(state).size(), 1U);
    const auto work = s.autosaveWork();
    ASSERT_TRUE(work) << "also before the next edit";
    fs::permissions(state, fs::perms::owner_read | fs::perms::owner_exec);
    const bool refused = !work().has_value(); // as root everything may be written
    fs::permissions(state, fs::perms::owner_all);
    if (refused) {
        EXPECT_EQ(Session::recoverable(state).size(), 1U);
        ASSERT_TRUE(s.autosave()) << "tried again";
    }
    EXPECT_TRUE(Session::recoverable(state).empty());
    EXPECT_FALSE(s.autosaveWork()) << "nothing has changed since";
    fs::remove_all(folder);
}

TEST(Session, AFailedAutosaveIsTriedAgain) {
    const fs::path folder = folderFor("again"), state = folder / "state";
    Session s(state);
    s.start(test::sampleProject());
    ASSERT_TRUE(s.apply(edits::rename("Again")));
    fs::remove_all(state); // nowhere to write
    EXPECT_FALSE(s.autosave());
    fs::create_directories(state);
    EXPECT_TRUE(s.autosaveWork()) << "the same state once more";
    EXPECT_TRUE(s.autosave());
    fs::remove_all(folder);
}

// Values that a hand has edited to nonsense give way to the defaults, with a word.
TEST(Session, ValuesThatMakeNoSenseAreDroppedOnOpening) {
    const fs::path folder = folderFor("nonsense");
    Project p = test::sampleProject();
    p.analyses = changedEach(p.analyses, [](Analysis& a) {
        a.settings.set("level", 95);
        a.parameters = {{.name = "height", .lower = 5, .upper = 1}};
    });
    ASSERT_TRUE(saveProject(p, {}, folder / "p.jointer"));
    Session s;
    const auto opened = s.open(folder / "p.jointer");
    ASSERT_TRUE(opened);
    EXPECT_GE(opened->size(), 4U);
    for (const auto& a : s.project().analyses) EXPECT_FALSE(a->settings.has("level"));
    EXPECT_TRUE(test::fitOf(s.evaluator(), s.project(), s.project().analyses[0]).good());
    fs::remove_all(folder);
}

namespace {

// The same entries under a manifest of the first format.
bool saveAsFormat1(const Project& p, const std::string& path) {
    if (!saveProject(p, {}, path)) return false;
    const auto zip = ZipReader::openFile(path);
    ZipWriter out;
    for (const std::string& name : (*zip)->names()) {
        std::string text = (*zip)->text(name).value();
        if (name == "manifest.json") text.replace(text.find("\"format\": 2"), 11, "\"format\": 1");
        out.addOwned(name, text, name != "mimetype");
    }
    return replaceFile(path, *out.bytes()).has_value();
}

} // namespace

// Texts of the first file format are converted once; a backslash that stands for itself stays.
TEST(Session, ItalicAndBoldOfOldFilesAreConverted) {
    const fs::path folder = folderFor("markup");
    Project p = test::sampleProject();
    ASSERT_FALSE(p.figures.empty());
    Figure f = p.figures[0];
    Element note{.id = ElementId{9901}, .kind = "note"};
    note.settings.set("text", "\\i{T} and \\b{bold} \\\\i{x}");
    f.elements[0].children.push_back(note);
    p.figures = p.figures.with(f);
    f.id = FigureId{9902};
    f.elements[0].children.back().id = ElementId{9903};
    p.figures = p.figures.with(f);
    ASSERT_TRUE(saveProject(p, {}, folder / "p.jointer"));
    Session now;
    ASSERT_TRUE(now.open(folder / "p.jointer"));
    EXPECT_EQ(now.project().figures[0].find(ElementId{9901})->settings.text("text"),
              note.settings.text("text"));

    ASSERT_TRUE(saveAsFormat1(p, folder / "old.jointer"));
    Session s;
    ASSERT_TRUE(s.open(folder / "old.jointer"));
    for (std::size_t k = 0; k < 2; ++k)
        EXPECT_EQ(s.project().figures[k].find(ElementId{9901 + 2 * k})->settings.text("text"),
                  "\\textit{T} and \\textbf{bold} \\\\i{x}");
    fs::remove_all(folder);
}

// Where the list of figures and styles is lost, ids stay unique, styles come back, and the project is saved.
TEST(Session, ADamagedProjectCanBeWorkedWithAndSaved) {
    const fs::path folder = folderFor("damaged");
    Project only;
    only.tables = test::sampleProject().tables;
    only.nextId = 1; // as when project.json could not be read
    ASSERT_TRUE(saveProject(only, {}, folder / "p.jointer"));
    Session s;
    ASSERT_TRUE(s.open(folder / "p.jointer"));
    EXPECT_FALSE(s.project().styles.empty());
    const auto before = s.project().tables.size();
    ASSERT_TRUE(s.apply(edits::addTable(test::sampleTable("new", 9))));
    EXPECT_EQ(s.project().tables.size(), before + 1);
    std::set<std::uint64_t> ids;
    for (const auto& t : s.project().tables)
        for (const Column& c : t->columns) EXPECT_TRUE(ids.insert(c.id.value).second);
    ASSERT_TRUE(s.save(folder / "again.jointer"));
    Session again;
    ASSERT_TRUE(again.open(folder / "again.jointer"));
    EXPECT_TRUE(again.project() == s.project());
    fs::remove_all(folder);
}

// Work that began before the project was saved must leave nothing behind.
TEST(Session, AnAutosaveThatEndsAfterSavingIsDropped) {
    const fs::path folder = folderFor("late"), state = folder / "state";
    {
        Session s(state);
        s.start(test::sampleProject());
        EXPECT_FALSE(s.autosaveWork()) << "nothing changed";
        ASSERT_TRUE(s.apply(edits::rename("Late")));
        const auto work = s.autosaveWork();
        ASSERT_TRUE(work);
        EXPECT_FALSE(s.autosaveWork()) << "that state is already on its way";
        ASSERT_TRUE(s.save(folder / "p.jointer"));
        ASSERT_TRUE(work());
        EXPECT_TRUE(fs::is_empty(state));
        ASSERT_TRUE(s.apply(edits::rename("Later")));
        s.view = R"({"stage":3})";
        ASSERT_TRUE(s.autosave());
        EXPECT_FALSE(fs::is_empty(state));
    }
    EXPECT_TRUE(fs::is_empty(state)) << "a session that ends well leaves nothing";
    fs::remove_all(folder);
}

TEST(Session, AutosaveFailuresAreSaid) {
    const fs::path folder = folderFor("gone");
    Session s(folder / "state");
    s.start(test::sampleProject());
    ASSERT_TRUE(s.apply(edits::rename("X")));
    fs::remove_all(folder);
    const auto done = s.autosave();
    ASSERT_FALSE(done);
    EXPECT_FALSE(done.error().text.empty());
}

TEST(Session, AFailedOpeningKeepsWhatIsOpen) {
    const fs::path folder = folderFor("newer");
    const std::string path = folder / "p.jointer";
    Session s;
    s.start(test::sampleProject());
    ASSERT_TRUE(s.save(path));
    ASSERT_TRUE(s.open(path));
    const Project before = s.project();
    ASSERT_TRUE(replaceFile(folder / "odd.jointer", "not a zip"));
    EXPECT_FALSE(s.open(folder / "odd.jointer"));
    EXPECT_TRUE(s.project() == before);
    EXPECT_EQ(s.path(), fs::absolute(path).string());
    EXPECT_FALSE(s.open(folder / "nothing.jointer")) << "and the open project stays";
    EXPECT_EQ(s.path(), fs::absolute(path).string());
    fs::remove_all(folder);
}

namespace {

// Writes as many bytes as it was asked to draw items, and stops the export while it works where it is told
// to.
class CountingWriter final : public FigureWriter {
public:
    Result<FigureBytes> bytes(const draw::DisplayList& list, const std::string&, const ExportOptions&,
                              const std::string&) override {
        if (stopping) stopping->request_stop();
        return FigureBytes{std::string(list.items.size(), 'x')};
    }
    const Catalogue<KindInfo>& formats() const override {
        static const Catalogue<KindInfo> all(
            std::vector<KindInfo>{{.key = "pdf", .name = "PDF", .purpose = {}}});
        return all;
    }
    std::stop_source* stopping = nullptr;
};

} // namespace

TEST(Export, WritesWhollyOrNotAtAll) {
    const fs::path folder = folderFor("export");
    const Project p = demo::ternSands();
    evaluate::Evaluator e;
    CountingWriter writer;
    const auto done = exportFigure(p, p.figures[0], e, folder / "a.pdf", writer);
    ASSERT_TRUE(done);
    EXPECT_EQ(done->bytes, fs::file_size(folder / "a.pdf"));
    EXPECT_EQ(done->widthMm, 85);
    const auto odd = exportFigure(p, p.figures[0], e, folder / "a.docx", writer);
    ASSERT_FALSE(odd);
    EXPECT_THAT(odd.error().text, testing::HasSubstr("pdf"));
    std::stop_source stop;
    writer.stopping = &stop;
    const auto stopped =
        exportFigure(p, p.figures[0], e, folder / "b.pdf", writer, {.stop = stop.get_token()});
    ASSERT_FALSE(stopped);
    EXPECT_EQ(stopped.error().code, "stopped");
    EXPECT_FALSE(fs::exists(folder / "b.pdf"));
    EXPECT_FALSE(exportFigure(p, p.figures[0], e, folder / "no" / "c.pdf", writer));
    fs::remove_all(folder);
}

TEST(Import, NamesRolesAndFactsComeFromTheFile) {
    const auto files = demo::rawFiles();
    const auto reading = io::read(files[1].second, "/data/shell_28d.csv", {});
    ASSERT_TRUE(reading);
    const Project p = *importEdit(*reading, {}, nameFromPath("/data/shell_28d.csv")).apply(newProject("x"));
    ASSERT_EQ(p.datasets.size(), 1U);
    EXPECT_EQ(p.datasets[0].name, "shell_28d");
    EXPECT_EQ(p.datasets[0].source.roles.size(), 4U);
    EXPECT_THAT(p.datasets[0].attributes, testing::Contains(Attribute{"Site", "A", ""}));
    EXPECT_EQ(p.tables[0].columns[2].role, Role::YError);
}

namespace {

// The datasets that a text becomes: "name: x + y y ± y", separated by "; ".
std::string datasetsOf(const std::string& text) {
    const auto reading = io::read(text, "/data/pond.csv", {});
    if (!reading) return reading.error().text;
    const Project p = *importEdit(*reading, {}, "pond").apply(newProject("x"));
    std::string out;
    for (const auto& d : p.datasets) {
        out += (out.empty() ? "" : "; ") + d->name + ":";
        for (const RoleBinding& r : d->source.roles)
            out += " " + std::string(roleKey(r.role)) + "=" + p.tables[0].find(r.column)->name;
    }
    return out;
}

} // namespace

TEST(Import, FindsTheDatasetsOfATable) {
    EXPECT_EQ(datasetsOf("t,v\n0,1\n1,2\n"), "pond: x=t y=v");
    EXPECT_EQ(datasetsOf("t,Ag-1,Ag-2,Cu-1,Cu-2\n0,1,2,3,4\n1,2,3,4,5\n"), "pond · Ag: x=t y=Ag-1 y=Ag-2; pond · Cu: x=t y=Cu-1 y=Cu-2");
    EXPECT_EQ(datasetsOf("t,Pb-206,Pb-207\n0,1,2\n1,2,3\n"), "pond · Pb-206: x=t y=Pb-206; pond · Pb-207: x=t y=Pb-207") << "two isotopes";
    EXPECT_EQ(datasetsOf("t,count,count,count\n0,1,2,3\n1,2,3,4\n"), "pond: x=t y=count y=count 2 y=count 3")
        << "replicates";
    EXPECT_EQ(datasetsOf("t,A405 a,A405 b,A405 c\n0,1,1.1,1\n1,2,2,2.1\n3,4,4.1,4.2\n"),
              "pond: x=t y=A405 a y=A405 b y=A405 c");
    EXPECT_EQ(datasetsOf("t,OD1a,OD1b,OD2a,OD2b\n0,1,1.1,5,5\n1,2,2,6,6.1\n3,4,4.1,9,9\n"),
              "pond · OD1: x=t y=OD1a y=OD1b; pond · OD2: x=t y=OD2a y=OD2b");
    EXPECT_EQ(datasetsOf("t,tank a,tank b\n0,1,3\n1,2,5\n3,4,4\n"),
              "pond · tank a: x=t y=tank a; pond · tank b: x=t y=tank b")
        << "letters whose values are far from each other";
    EXPECT_EQ(datasetsOf("t,Site A,Site B\n0,1,1.1\n1,2,2\n3,4,4.1\n"),
              "pond · Site A: x=t y=Site A; pond · Site B: x=t y=Site B");
    EXPECT_EQ(datasetsOf("t,salt,salt sd,oxygen\n0,1,2,3\n1,2,3,4\n"),
              "pond · salt: x=t y=salt y-error=salt sd; pond · oxygen: x=t y=oxygen");
    EXPECT_EQ(datasetsOf("q1,i1,q2,i2\n0,1,2,3\n1,2,3,4\n"), "pond · i1: x=q1 y=i1; pond · i2: x=q2 y=i2")
        << "pairs side by side";
    EXPECT_EQ(datasetsOf("x,y,x,y\n0,1,2,3\n1,2,3,4\n"), "pond · y: x=x y=y; pond · y 2: x=x 2 y=y 2");
    EXPECT_EQ(datasetsOf("t,v,dry,note,empty\n0,1,yes,a,\n1,2,no,b,\n"), "pond: x=t y=v label=note")
        << "neither yes/no nor empty";
    EXPECT_EQ(datasetsOf("site,name\na,b\nc,d\n"), "");
}

TEST(Import, TakesTheChosenTablesAndNamesThemByAPattern) {
    const auto reading =
        io::read("a,b\n1,2\n2,3\n3,4\n\nc,d,e\n1,2,3\n2,3,4\n3,4,5\n", "/data/shell_28_A.csv", {});
    ASSERT_TRUE(reading);
    ASSERT_EQ(reading->tables.size(), 2U);
    const Project all = *importEdit(*reading, {}, "shell_28_A").apply(newProject("x"));
    EXPECT_EQ(all.tables.size(), 2U);
    const ImportPlan plan{.tables = {1}, .called = "{age} d", .pattern = "shell_{age:d}_{site}"};
    const Project one = *importEdit(*reading, {}, "shell_28_A", plan).apply(newProject("x"));
    ASSERT_EQ(one.tables.size(), 1U);
    EXPECT_EQ(one.tables[0].columns.size(), 3U);
    EXPECT_TRUE(one.tables[0].name.starts_with("28 d"));
    EXPECT_THAT(one.datasets[0].attributes,
                testing::IsSupersetOf({Attribute{"age", "28", ""}, Attribute{"site", "A", ""}}));
}

TEST(Demo, IsAlwaysTheSameAndItsFitsConverge) {
    const Project p = demo::ternSands();
    EXPECT_TRUE(p == demo::ternSands());
    evaluate::Evaluator e;
    for (const auto& a : p.analyses) {
        const auto fit = test::fitOf(e, p, *a);
        ASSERT_TRUE(fit.good()) << a->name << ": " << (fit.good() ? "" : fit.error().text);
        EXPECT_EQ(fit.report->state, fit::FitState::Converged) << a->name;
        EXPECT_EQ(fit.report->restarts, 0) << a->name;
    }
    // The truth that the generator put in lies within four standard errors.
    const auto bands = *test::fitOf(e, p, p.analyses[1]).report;
    for (const auto& [name, truth] : {std::pair("c1", 676.0), std::pair("c2", 701.5), std::pair("c3", 706.8),
                                      std::pair("c4", 742.0), std::pair("w1", 14.0)}) {
        const auto at =
            std::ranges::find(bands.one().parameters, std::string(name), &fit::ParameterResult::name);
        EXPECT_NEAR(at->value, truth, 4 * at->se) << name;
    }
}

TEST(Check, FindsStoredResultsThatDiffer) {
    const fs::path folder = folderFor("check");
    const Project p = demo::ternSands();
    evaluate::Evaluator e;
    EXPECT_TRUE(e.collect(p).empty()) << "saving does not compute fits";
    for (const auto& a : p.analyses) (void)test::fitOf(e, p, *a);
    auto results = e.collect(p);
    ASSERT_EQ(results.size(), 8u);
    const std::string path = folder / "p.jointer";
    ASSERT_TRUE(saveProject(p, {results, {}}, path));
    auto checked = checkProject(path);
    ASSERT_TRUE(checked);
    EXPECT_TRUE(checked->issues.empty());
    EXPECT_EQ(checked->compared, 8);
    std::string& text = results.begin()->second;
    const std::size_t at = text.find("\"value\":") + 8;
    text.insert(at + (text[at] == '-'), "9");
    ASSERT_TRUE(saveProject(p, {results, {}}, path));
    checked = checkProject(path);
    ASSERT_FALSE(checked->issues.empty());
    EXPECT_EQ(checked->issues[0].code, "result-differs");
    fs::remove_all(folder);
}

TEST(Imports, ColumnsThatAreOnlyNumberedAreNoPairs) {
    const auto reading = io::read("c0,c1,c2,c3\n1,5,9,4\n2,6,8,3\n3,7,7,1\n", "m.csv", {});
    const auto p = *importEdit(*reading, {}, "m").apply(newProject("x"));
    for (const auto& d : p.datasets) EXPECT_EQ(d->source.roles[0].column, p.tables[0].columns[0].id);
    const auto pairs = io::read("x1,y1,x2,y2\n1,5,9,4\n2,6,10,3\n", "m.csv", {});
    const auto q = *importEdit(*pairs, {}, "m").apply(newProject("x"));
    ASSERT_EQ(q.datasets.size(), 2U);
    EXPECT_EQ(q.datasets[1].source.roles[0].column, q.tables[0].columns[2].id);
}

TEST(Imports, IonsOfWatersAreOneDataset) {
    const auto reading =
        io::read("spring,Ca (mg/L),Na (mg/L),Cl (mg/L),HCO3 (mg/L)\neast,80,23,35,244\n", "s.csv", {});
    const auto p = *importEdit(*reading, {}, "springs").apply(newProject("x"));
    ASSERT_EQ(p.datasets.size(), 1U);
    EXPECT_EQ(p.datasets[0].source.kind, "ions");
    EXPECT_EQ(p.datasets[0].source.roles.size(), 5U);
}

TEST(Imports, CurvesThatCameWithTheDataAreCompanions) {
    const auto reading =
        io::read("shift,counts,fit,baseline\n1,5,4.9,1\n2,6,6.1,1\n3,7,7.2,1\n", "f.csv", {});
    const auto p = *importEdit(*reading, {}, "f").apply(newProject("x"));
    ASSERT_EQ(p.datasets.size(), 1U) << "they need no place of their own";
    const auto& roles = p.datasets[0].source.roles;
    ASSERT_EQ(roles.size(), 4U);
    EXPECT_EQ(roles[2].role, Role::Companion);
    EXPECT_EQ(roles[2].of, "fit");
}

TEST(Imports, CompanionsOfSeveralCurvesAreCalledAlike) {
    const auto reading =
        io::read("nm,0.5 m,0.5 m fit,0.5 m_background,12 m,12 m fit,12 m_background\n1,5,4.9,1,7,7.1,2\n"
                 "2,6,6.1,1,8,8.2,2\n3,7,7.2,1,9,8.8,2\n",
                 "f.csv", {});
    const auto p = *importEdit(*reading, {}, "f").apply(newProject("x"));
    ASSERT_EQ(p.datasets.size(), 2U);
    for (const auto& d : p.datasets) {
        ASSERT_EQ(d->source.roles.size(), 4U) << d->name;
        EXPECT_EQ(d->source.roles[2].of, "fit") << d->name;
        EXPECT_EQ(d->source.roles[3].of, "background") << d->name;
    }
}

// Tables that hold no curves are known by headings and values; what could as well be curves stays curves.
TEST(DatasetsFromTable, KnowsWatersPlacesVectorsAndMixtures) {
    const auto kindOf = [](std::vector<std::pair<const char*, const char*>> headings, double a = 20,
                           double b = 30, double c = 50) {
        Table t;
        for (const auto& [name, unit] : headings) {
            const std::size_t k = t.columns.size();
            const double v = k == 0 ? a : k == 1 ? b : c;
            t.columns.push_back(numberColumn(name, unit, {v, v, v, v}));
            t.columns.back().id = ColumnId{k + 1};
            t.columns.back().role = k == 0 ? Role::X : Role::Y;
        }
        t.rows = std::make_shared<Rows>();
        const auto made = datasetsFromTable(t, "t", 0);
        return made.empty() ? std::string() : made[0].source.kind;
    };
    EXPECT_EQ(kindOf({{"East", "m"}, {"North", "m"}, {"Depth", "m"}}), "surface");
    EXPECT_EQ(kindOf({{"x", ""}, {"y", ""}, {"z", ""}}), "surface");
    EXPECT_EQ(kindOf({{"x", ""}, {"y", ""}, {"y2", ""}}), "columns") << "two curves";
    EXPECT_EQ(kindOf({{"x", "m"}, {"y", "m"}, {"u", "m/s"}, {"v", "m/s"}}), "vectors");
    EXPECT_EQ(kindOf({{"Sand", "%"}, {"Silt", "%"}, {"Clay", "%"}}), "composition");
    EXPECT_EQ(kindOf({{"Sand", "%"}, {"Silt", "%"}, {"Clay", "%"}}, 20, 30, 60), "columns") << "110 %";
    EXPECT_EQ(kindOf({{"Time", "s"}, {"a", "%"}, {"b", "%"}}), "columns");
    Table t;
    for (const char* name : {"Latitude", "Longitude", "Salinity"}) {
        t.columns.push_back(numberColumn(name, "", {1, 2, 3}));
        t.columns.back().id = ColumnId{t.columns.size()};
    }
    const auto made = datasetsFromTable(t, "t", 0);
    ASSERT_EQ(made.size(), 1U);
    for (const RoleBinding& b : made[0].source.roles)
        EXPECT_EQ(b.column.value, b.role == Role::X ? 2U : b.role == Role::Y ? 1U : 3U);
}
