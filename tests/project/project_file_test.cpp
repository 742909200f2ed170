// SPDX-License-Identifier: GPL-3.0-or-later
#include "project/project_file.h"
#include "project/project_json.h"
#include "support/failing_files.h"
#include "support/sample_project.h"

#include <csignal>
#include <filesystem>
#include <gmock/gmock.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace jointer;
namespace fs = std::filesystem;

namespace {

fs::path freshFolder(const char* name) {
    const fs::path folder =
        fs::temp_directory_path() / (std::string("jointer-") + name + "-" + std::to_string(::getpid()));
    fs::remove_all(folder);
    fs::create_directories(folder);
    return folder;
}

} // namespace

TEST(ProjectFile, ReopensEqualInEveryBit) {
    Project p = test::sampleProject();
    p.nextId = highestId(p) + 7; // ids of what was removed are not given again
    const auto folder = freshFolder("reopen");
    const std::string path = folder / "p.jointer";
    ASSERT_TRUE(saveProject(p, {.results = {{"00ff", "{\"a\":1}"}}, .view = "{\"stage\":2}"}, path));
    const auto opened = openProject(path);
    ASSERT_TRUE(opened) << opened.error().text;
    EXPECT_TRUE(opened->issues.empty());
    EXPECT_TRUE(opened->project == p);
    EXPECT_EQ(opened->project.nextId, p.nextId);
    EXPECT_EQ(opened->beside.results.at("00ff"), "{\"a\":1}");
    EXPECT_EQ(opened->beside.view, "{\"stage\":2}");
    EXPECT_EQ(opened->project.tables[0].columns[3].cells->texts[0], "see, \"note\"\nbelow \\ µ");
    fs::remove_all(folder);
}

TEST(ProjectFile, DatasetsOfEveryKindReopenEqual) {
    Project p = test::sampleProject();
    Dataset made = test::datasetOf(p.tables[0], "made");
    for (const char* kind :
         {"surface", "grid", "groups", "ions", "composition", "function", "join", "later-kind"}) {
        made.source.kind = kind;
        made.source.roles = {{Role::Component, p.tables[0].columns[1].id, "SO4"},
                             {Role::Companion, p.tables[0].columns[2].id, "fit, \"old\""},
                             {Role::Z, p.tables[0].columns[0].id}};
        made.source.inputs = {p.datasets[0].id, p.datasets[1].id};
        made.source.settings.set("range", Value(Numbers{-1, 1e300}));
        p = *edits::addDataset(made).apply(p);
    }
    const auto opened = projectFromBytes(*projectBytes(p, {}), "test");
    ASSERT_TRUE(opened) << opened.error().text;
    EXPECT_TRUE(opened->project == p);
}

TEST(ProjectFile, KeepsWhatItDoesNotKnow) {
    Project p = test::sampleProject();
    p.unknownEntries["later/thing.bin"] = std::string("\0\1\2", 3);
    p.extra = R"({"laterKey":[1,2]})";
    p = *edits::changeDataset(p.datasets[0].id, "", [](Dataset& d) {
             d.extra = R"({"shade":"dark"})";
         }).apply(p);
    const auto opened = projectFromBytes(*projectBytes(p, {}), "test");
    EXPECT_TRUE(opened->project == p);
}

namespace {

// Adds a member of a newer version to every object, whatever it stands for, and counts them.
int addLater(nlohmann::ordered_json& json) {
    int added = 0;
    for (auto& part : json)
        if (part.is_structured()) added += addLater(part);
    if (!json.is_object()) return added;
    json["later"] = {{"shade", "dark"}, {"list", {1, "two"}}};
    return added + 1;
}

// Without regard to the order of members.
std::string sorted(const nlohmann::ordered_json& json) {
    return nlohmann::json::parse(json.dump()).dump(1);
}

// What stands in objects of fixed members: numbers of a format, the rows.
void dropFixed(nlohmann::ordered_json& json) {
    for (auto& column : json["columns"]) column["format"].erase("later");
    json["rows"].erase("later");
}

} // namespace

// Each type keeps what it does not know, wherever it stands.
TEST(ProjectFile, MembersOfNewerVersionsStayInAllTypes) {
    Project p = test::sampleProject();
    Analysis a = p.analyses[0];
    a.model.children = {{.kind = "line"}};
    a.parameters = {{.name = "height", .start = 2}};
    p.analyses = p.analyses.with(a);
    p.models = p.models.with({.id = UserModelId{77}, .name = "mine", .equation = "a*x"});
    nlohmann::ordered_json newer = toJson(p);
    EXPECT_GT(addLater(newer), 30);
    EXPECT_EQ(sorted(toJson(projectFromJson(newer))), sorted(newer));

    nlohmann::ordered_json table = toJson(p.tables[0]);
    addLater(table);
    dropFixed(table);
    std::map<ColumnId, std::map<std::uint32_t, std::string>> originals;
    nlohmann::ordered_json again = toJson(tableFromJson(table, originals));
    for (auto* json : {&table, &again})
        for (auto& column : (*json)["columns"]) column.erase("originals"); // these go to the cells
    EXPECT_EQ(sorted(again), sorted(table));
}

TEST(ProjectFile, EachFailingCallLeavesTheOldOrTheNewProject) {
    const auto folder = freshFolder("failing");
    const std::string path = folder / "p.jointer";
    const Project oldProject = test::sampleProject(), newProject = *edits::rename("New").apply(oldProject);
    int failures = 0;
    for (int at = 0;; ++at) {
        ASSERT_TRUE(saveProject(oldProject, {}, path));
        test::FailingFiles files(at);
        const auto saved = saveProject(newProject, {}, path, files);
        ASSERT_EQ(saved.has_value(), !files.failed);
        const auto opened = openProject(path);
        ASSERT_TRUE(opened) << "call " << at;
        ASSERT_TRUE(opened->project == oldProject || opened->project == newProject) << "call " << at;
        if (!files.failed) break;
        ++failures;
    }
    EXPECT_GT(failures, 6);
    fs::remove_all(folder);
}

// A process that saves over and over is killed a hundred times: the file is always one of its projects.
TEST(ProjectFile, KilledWhileSavingLosesNothing) {
    const auto folder = freshFolder("killed");
    const std::string path = folder / "p.jointer";
    const Project start = test::sampleProject();
    ASSERT_TRUE(saveProject(start, {}, path));
    for (int round = 0; round < 100; ++round) {
        const pid_t child = ::fork();
        ASSERT_GE(child, 0);
        if (child == 0) {
            for (int i = 0;; ++i)
                (void)saveProject(*edits::rename("Title " + std::to_string(i)).apply(start), {}, path);
        }
        ::usleep(static_cast<useconds_t>(500 + 173 * round));
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        const auto opened = openProject(path);
        ASSERT_TRUE(opened) << "round " << round << ": " << opened.error().text;
        ASSERT_TRUE(opened->issues.empty());
        ASSERT_TRUE(opened->project == *edits::rename(opened->project.title).apply(start));
    }
    fs::remove_all(folder);
}

TEST(ProjectFile, DamagedFilesOpenAsFarAsTheyCan) {
    const Project p = test::sampleProject();
    const std::string good = *projectBytes(p, {});
    int opened = 0;
    for (std::size_t at = 40; at < good.size(); at += good.size() / 300) {
        std::string bad = good;
        for (std::size_t k = at; k < std::min(at + 8, bad.size()); ++k) bad[k] = static_cast<char>(~bad[k]);
        const auto r = projectFromBytes(bad, "test");
        if (!r) continue;
        ++opened;
        EXPECT_TRUE(!r->issues.empty() || r->project == p) << "damage at " << at << " went unnoticed";
    }
    EXPECT_GT(opened, 200);
    for (std::size_t cut : {0UL, 1UL, 100UL, good.size() / 2})
        EXPECT_FALSE(projectFromBytes(good.substr(0, cut), "test")) << cut;
    EXPECT_EQ(projectFromBytes("not a zip", "x").error().code, "not-a-project");
}

TEST(Edits, FailCleanlyWhenTheirTargetIsGone) {
    const Project p = test::sampleProject();
    EXPECT_EQ(edits::removeDataset(DatasetId{999}).apply(p).error().code, "target-gone");
    Analysis loose{.kind = "fit", .inputs = {{.dataset = DatasetId{999}}}};
    EXPECT_EQ(edits::addAnalysis(loose).apply(p).error().code, "target-gone");
    loose.inputs = {{.dataset = p.datasets[0].id}};
    loose.analyses = {AnalysisId{999}};
    EXPECT_EQ(edits::addAnalysis(loose).apply(p).error().code, "target-gone");
    EXPECT_EQ(edits::setStep(p.datasets[0].id, StepId{999}, "k", 1.0).apply(p).error().code, "target-gone");
    EXPECT_EQ(edits::setElement(p.figures[0].id, ElementId{999}, "k", 1.0).apply(p).error().code,
              "target-gone");
}

TEST(Edits, RemovingADatasetTakesItsFitsAndMarksAlong) {
    const Project p = test::sampleProject();
    const Project q = *edits::removeDataset(p.datasets[0].id).apply(p);
    EXPECT_EQ(q.analyses.size(), 1U);
    EXPECT_EQ(q.figures[0].elements[0].children.size(), 1U);
}
