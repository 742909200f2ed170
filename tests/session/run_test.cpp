// SPDX-License-Identifier: GPL-3.0-or-later
// Runs over many files: order, chains, doubts by the family, and the journal that takes up what was killed.
#include "session/recipe_batch.h"
#include "session/recipe_chain.h"
#include "session/run_journal.h"
#include "session/trend.h"

#include "project/recipe_json.h"

#include <cmath>
#include <fmt/format.h>
#include <fstream>
#include <gmock/gmock.h>
#include <random>
#include <unistd.h>

using namespace jointer;
namespace fs = std::filesystem;
using testing::HasSubstr;
using testing::SizeIs;

namespace {

const char* kRecipe = R"({
  "format": "jointer-recipe", "version": 1, "name": "one peak",
  "inputs": [{"name": "data", "dataset": "d4"}],
  "settings": {"pattern": "f_{number:d}"},
  "tables": [{"id": "t1", "columns": [
    {"id": "c2", "name": "x", "kind": "number", "role": "x"}, {"id": "c3", "name": "y", "kind": "number", "role": "y"}]}],
  "datasets": [{"id": "d4", "name": "data", "source": {"kind": "columns", "table": "t1",
    "roles": [{"role": "x", "column": "c2"}, {"role": "y", "column": "c3"}]}}],
  "analyses": [{"id": "a5", "kind": "peaks", "inputs": [{"dataset": "d4"}], "model": {"kind": "gaussian"},
    "settings": {"baseline": "constant", "count": 1}}]
})";

class Runs : public testing::Test {
protected:
    void SetUp() override {
        folder_ = fs::temp_directory_path() / ("jointer-runs-" + std::to_string(::getpid()));
        fs::create_directories(folder_ / "in");
    }
    void TearDown() override { fs::remove_all(folder_); }

    std::string peakFile(int number, double centre, double noise = 0.01) {
        std::mt19937 random(static_cast<unsigned>(number) + 7);
        std::normal_distribution<double> e(0, noise);
        std::string text = "x,y\n";
        for (int i = 0; i < 120; ++i)
            text += fmt::format("{},{:.5f}\n", 0.1 * i,
                                1 + 3 * std::exp(-std::pow(0.1 * i - centre, 2)) + e(random));
        return write(fmt::format("f_{:03d}.csv", number), text);
    }
    std::string write(const std::string& name, const std::string& text) {
        const fs::path file = folder_ / "in" / name;
        std::ofstream(file, std::ios::binary) << text;
        return file.string();
    }
    static Recipe recipe() { return *recipeFromText(kRecipe); }
    static double centreOf(const RunFile& f) {
        for (const RunRow& r : f.curves.empty() ? std::vector<RunRow>() : f.curves[0].rows)
            if (r.quantity == "centre") return r.value;
        return std::nan("");
    }
    static std::string content(const fs::path& file) {
        std::ifstream in(file, std::ios::binary);
        return {std::istreambuf_iterator<char>(in), {}};
    }
    fs::path folder_;
};

} // namespace

TEST_F(Runs, GoInOrderWhateverTheJobs) {
    std::vector<std::string> files;
    for (int k = 0; k < 23; ++k) files.push_back(k == 9 ? write("f_009.csv", "") : peakFile(k, 4 + 0.1 * k));
    std::string before;
    for (const int jobs : {1, 2, 7}) {
        const auto run = RecipeRun::make(recipe(), {});
        std::string rows;
        std::vector<std::string> order;
        const auto all =
            runBatch(*run, {.files = files, .jobs = jobs, .take = [&](RunFile& f, RunProjects&, bool) {
                                rows += runCsvRows(f);
                                order.push_back(f.file);
                                return true;
                            }});
        EXPECT_EQ(order, files);
        EXPECT_THAT(all, SizeIs(23));
        EXPECT_TRUE(all[9].failed);
        EXPECT_NEAR(centreOf(all[20]), 6, 0.02);
        EXPECT_EQ(all[20].curves[0].attributes.back().value, "020") << "from its name, as it stands there";
        EXPECT_TRUE(before.empty() || rows == before) << jobs << " jobs";
        before = rows;
    }
}

TEST_F(Runs, StopWhenTold) {
    std::vector<std::string> files;
    for (int k = 0; k < 40; ++k) files.push_back(peakFile(k, 5));
    const auto run = RecipeRun::make(recipe(), {});
    int taken = 0;
    runBatch(*run, {.files = files, .take = [&](RunFile&, RunProjects&, bool) { return ++taken < 5; }});
    EXPECT_EQ(taken, 5);
    std::stop_source stop;
    stop.request_stop();
    EXPECT_TRUE(runBatch(*run, {.files = files, .stop = stop.get_token()}).empty());
}

namespace {

// One that begins with its peak at 2, wherever it is.
Recipe placedRecipe() {
    Recipe r = *recipeFromText(kRecipe);
    Project parts = *r.parts;
    Analysis a = parts.analyses[0];
    Settings row;
    row.set("number", 1);
    row.set("place", 2.0);
    row.set("height", 3.0);
    row.set("width", 1.6);
    a.settings.set("peaks", Value(std::make_shared<const RowList>(RowList{row})));
    parts.analyses = parts.analyses.with(a);
    r.parts = std::make_shared<const Project>(parts);
    return r;
}

} // namespace

// A peak that drifts further than its width between the ends: from the recipe's place it is lost, from the
// file before it is followed.
TEST_F(Runs, FollowWhatDrifts) {
    Recipe r = placedRecipe();
    std::vector<std::string> files;
    for (int k = 0; k < 16; ++k) files.push_back(peakFile(k, 2 + 0.45 * k));
    const auto lastOf = [&](const char* starts) {
        r.settings.set("starts", Value(std::string(starts)));
        const auto run = RecipeRun::make(r, {});
        EXPECT_EQ(isChained(run->recipe()), std::string(starts) != "recipe");
        return centreOf(runBatch(*run, {.files = files}).back());
    };
    EXPECT_FALSE(std::abs(lastOf("recipe") - 8.75) < 0.1);
    EXPECT_NEAR(lastOf("previous"), 8.75, 0.02);
    EXPECT_NEAR(lastOf("better"), 8.75, 0.02);
}

TEST_F(Runs, SortByAnAttribute) {
    Recipe r = recipe();
    r.settings.set("order", Value(std::string("number")));
    std::vector<std::string> files = {"f_10.csv", "zzz.csv", "f_2.csv", "f_1.csv"};
    sortInOrder(r, files);
    EXPECT_THAT(files, testing::ElementsAre("f_1.csv", "f_2.csv", "f_10.csv", "zzz.csv"));
}

TEST_F(Runs, DoubtWhoDoesNotLookLikeTheFamily) {
    std::vector<std::string> files;
    for (int k = 0; k < 12; ++k) files.push_back(peakFile(k, k == 4 ? 9 : 5 + 0.01 * k, k == 7 ? 0.2 : 0.01));
    const auto run = RecipeRun::make(recipe(), {});
    const auto all = runBatch(*run, {.files = files});
    std::vector<const RunCurve*> curves;
    for (const RunFile& f : all) curves.push_back(&f.curves.front());
    const auto doubts = familyDoubts(curves);
    EXPECT_EQ(doubts[2].size(), 0U);
    ASSERT_FALSE(doubts[4].empty());
    EXPECT_THAT(doubts[4].back(), HasSubstr("jumped"));
    EXPECT_THAT(doubts[7].back(), HasSubstr("scatter"));
}

// The same over datasets of a project, in the order of an attribute, whatever the order in which they are
// chosen.
TEST_F(Runs, FollowWhatDriftsOverDatasets) {
    Recipe r = placedRecipe();
    r.settings.set("order", "age");
    Project p;
    std::vector<DatasetId> chosen;
    for (int k = 0; k < 16; ++k) {
        std::vector<double> x, y;
        for (int i = 0; i < 120; ++i) {
            x.push_back(0.1 * i);
            y.push_back(1 + 3 * std::exp(-std::pow(0.1 * i - 2 - 0.45 * k, 2)) + 0.01 * std::sin(700.0 * i));
        }
        Table t{.name = fmt::format("s{}", k)};
        t.columns = {numberColumn("x", "", x), numberColumn("y", "", y)};
        p = *edits::addTable(std::move(t)).apply(p);
        const Table& table = p.tables[p.tables.size() - 1];
        Dataset d{.name = table.name, .attributes = {{"age", std::to_string(3 * k), "d"}}};
        d.source.table = table.id;
        d.source.roles = {{Role::X, table.columns[0].id}, {Role::Y, table.columns[1].id}};
        p = *edits::addDataset(std::move(d)).apply(p);
        chosen.push_back(p.datasets[p.datasets.size() - 1].id);
    }
    std::mt19937 random(1);
    std::ranges::shuffle(chosen, random);
    evaluate::Evaluator evaluator;
    const auto lastOf = [&](const char* starts) {
        r.settings.set("starts", starts);
        std::vector<DatasetId> order = chosen;
        sortInOrder(r, order, p);
        EXPECT_EQ(p.datasets.find(order[7])->name, "s7");
        const auto edits = runInTurn(r, order, p, {}, evaluator);
        EXPECT_TRUE(edits) << edits.error().text;
        const auto after = edits::together("run", *edits).apply(p);
        EXPECT_TRUE(after);
        EXPECT_EQ(after->analyses.size(), 16U);
        const RunCurve curve = runCurve(*after, order[15], evaluator);
        for (const RunRow& row : curve.rows)
            if (row.quantity == "centre") return row.value;
        return std::nan("");
    };
    EXPECT_NEAR(lastOf("previous"), 8.75, 0.02);
    EXPECT_NEAR(lastOf("better"), 8.75, 0.02);
    EXPECT_FALSE(std::abs(lastOf("recipe") - 8.75) < 0.1) << "too far from the recipe's place";
    std::stop_source stop;
    stop.request_stop();
    EXPECT_TRUE(runInTurn(r, chosen, p, {}, evaluator, stop.get_token())->empty());
}

// Numbers with their unit go along an axis, words make groups, what names each curve by itself does neither.
TEST(Trends, AreOverNumbersOrGroups) {
    std::vector<RunCurve> curves(6);
    std::vector<const RunCurve*> all;
    for (std::size_t k = 0; k < curves.size(); ++k) {
        curves[k].dataset = fmt::format("core {}", k);
        curves[k].attributes = {{"label", fmt::format("L{}", k), ""},
                                {"site", k % 2 ? "creek" : "pan", ""},
                                {"depth", fmt::format("{} cm", 10 * k), ""}};
        curves[k].rows = {{.analysis = "Peaks",
                           .quantity = "centre",
                           .subject = "1",
                           .value = 700.0 + static_cast<double>(k),
                           .error = 0.5,
                           .unit = "nm",
                           .state = "converged",
                           .good = true}};
        all.push_back(&curves[k]);
    }
    curves[4].attributes.pop_back();
    curves[5].rows.clear();
    EXPECT_THAT(trendAttributes(all), testing::ElementsAre("depth", "", "site"));
    const TrendQuantity q = trendQuantities(all).at(0);
    EXPECT_EQ(q.name(), "centre of peak 1");
    const Table depth = trendTable(all, q, "depth"), site = trendTable(all, q, "site"),
                order = trendTable(all, q, "");
    EXPECT_EQ(depth.rowCount(), 4U) << "one has no depth, one no peak";
    EXPECT_EQ(depth.columns[1].unit, "cm");
    EXPECT_EQ(depth.columns[1].numbers()[3], 30);
    EXPECT_EQ(order.columns[1].numbers()[4], 5);
    ASSERT_EQ(site.rowCount(), 5U);
    EXPECT_EQ(site.columns[1].cells->texts[1], "creek");
    const auto kept = keepTrend(site).apply(Project());
    ASSERT_TRUE(kept) << kept.error().text;
    evaluate::Evaluator evaluator;
    const Curve curve = evaluator.protocol(*kept, kept->datasets[0].id).end().curve();
    EXPECT_THAT(curve.xMeaning.categories, testing::ElementsAre("pan", "creek"));
    EXPECT_THAT(curve.x, testing::ElementsAre(1, 1, 1, 2, 2)) << "in the order of x";
}

// Under a true model one residual pattern in a hundred is "significant": of many curves none is told for
// that.
TEST(RunFamily, PatternsCountByHowManyCurvesThereAre) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> p(0, 1);
    int told = 0;
    for (int round = 0; round < 50; ++round) {
        std::vector<RunCurve> curves(400);
        for (RunCurve& c : curves)
            if (const double chance = p(random); chance < 0.01) c.runsP = chance;
        std::vector<const RunCurve*> all;
        for (const RunCurve& c : curves) all.push_back(&c);
        for (const auto& doubts : familyDoubts(all)) told += !doubts.empty();
    }
    EXPECT_LT(told, 10) << "of 20000, by chance in one run of twenty";
    std::vector<RunCurve> few(3);
    few[1].runsP = 0.005;
    const auto doubts = familyDoubts({&few[0], &few[1], &few[2]});
    ASSERT_EQ(doubts[1].size(), 1U);
    EXPECT_THAT(doubts[1][0], HasSubstr("0.005"));
    EXPECT_TRUE(doubts[0].empty() && doubts[2].empty());
}

// What the recipe does to all curves is no doubt of one: forty spectra of counts without weights made forty
// doubtful ones.
TEST(RunFamily, WhatMostCurvesShareIsToldOnce) {
    std::vector<RunCurve> curves(10);
    for (std::size_t i = 0; i < 8; ++i) curves[i].tested["uneven-scatter"] = "The scatter grows.";
    curves[9].tested["lack-of-fit"] = "The curve misses the replicates.";
    std::vector<const RunCurve*> all;
    for (const RunCurve& c : curves) all.push_back(&c);
    const auto doubts = familyDoubts(all);
    for (std::size_t i = 0; i < 9; ++i) EXPECT_TRUE(doubts[i].empty()) << i;
    EXPECT_THAT(doubts[9], testing::ElementsAre("The curve misses the replicates."));
    EXPECT_THAT(familyRemarks(all), testing::ElementsAre("In 8 of 10 curves: The scatter grows."));
    all.resize(3); // too few to be a family
    EXPECT_THAT(familyDoubts(all)[0], testing::ElementsAre("The scatter grows."));
    EXPECT_TRUE(familyRemarks(all).empty());
}

TEST_F(Runs, AreTakenUpAfterAnyCut) {
    std::vector<std::string> files;
    for (int k = 0; k < 6; ++k) files.push_back(k == 3 ? write("f_003.csv", "no table") : peakFile(k, 5));
    const auto run = RecipeRun::make(recipe(), {});
    const auto all = runBatch(*run, {.files = files});
    const fs::path out = folder_ / "out";
    {
        auto journal = RunJournal::open(out, run->recipe());
        ASSERT_TRUE(journal) << journal.error().text;
        for (const RunFile& f : all) ASSERT_TRUE(journal->add(f));
    }
    const std::string log = content(out / "apply-log.jsonl"), csv = content(out / "results.csv");
    EXPECT_EQ(std::ranges::count(csv, '\n'),
              1 + std::ranges::count(runCsvRows(all[0]), '\n') * 5 + 1 /* the one that is not read */);
    std::mt19937 random(3);
    for (int round = 0; round < 40; ++round) { // killed anywhere: both files end anywhere
        std::ofstream(out / "apply-log.jsonl", std::ios::binary)
            << log.substr(0, random() % (log.size() + 1));
        std::ofstream(out / "results.csv", std::ios::binary) << csv.substr(0, random() % (csv.size() + 1));
        auto journal = RunJournal::open(out, run->recipe());
        ASSERT_TRUE(journal);
        for (const RunFile& f : all)
            if (const auto known = journal->done(f.file)) {
                EXPECT_EQ(runCsvRows(*known), runCsvRows(f));
            } else {
                ASSERT_TRUE(journal->add(f));
            }
        EXPECT_EQ(content(out / "results.csv"), csv) << "nothing lost or doubled";
    }
}

TEST_F(Runs, DoAgainWhatHasChanged) {
    const std::string file = peakFile(1, 5), other = peakFile(2, 5);
    const auto run = RecipeRun::make(recipe(), {});
    const auto all = runBatch(*run, {.files = {file, other}});
    const fs::path out = folder_ / "out";
    auto journal = RunJournal::open(out, run->recipe());
    for (const RunFile& f : all) ASSERT_TRUE(journal->add(f));
    EXPECT_TRUE(journal->done(file));
    write("f_001.csv", content(file) + "12.1,1.0\n");
    EXPECT_FALSE(journal->done(file)) << "it is another one now";
    EXPECT_TRUE(journal->done(other));
    RunProjects projects;
    ASSERT_TRUE(journal->add(run->run(file, projects)));
    EXPECT_EQ(std::ranges::count(content(out / "results.csv"), '\n'),
              1 + 2 * std::ranges::count(runCsvRows(all[1]), '\n'))
        << "its old rows are gone";
    Recipe changed = run->recipe();
    changed.purpose = "another";
    EXPECT_FALSE(RunJournal::open(out, changed)->done(other)) << "of another recipe nothing is done";
}

// It was read before it changed: what is in the log is of another content.
TEST_F(Runs, DoAgainWhatChangedWhileItRan) {
    const std::string file = peakFile(1, 5);
    const auto run = RecipeRun::make(recipe(), {});
    RunProjects projects;
    const RunFile ran = run->run(file, projects);
    write("f_001.csv", content(file) + "12.1,1.0\n");
    auto journal = RunJournal::open(folder_ / "out", run->recipe());
    ASSERT_TRUE(journal->add(ran));
    EXPECT_FALSE(journal->done(file));
}

TEST_F(Runs, ShareAFolder) {
    std::vector<std::string> files;
    for (int k = 0; k < 8; ++k) files.push_back(peakFile(k, 5));
    const auto run = RecipeRun::make(recipe(), {});
    const auto all = runBatch(*run, {.files = files});
    const fs::path out = folder_ / "out";
    auto a = RunJournal::open(out, run->recipe());
    auto b = RunJournal::open(out, run->recipe());
    for (std::size_t k = 0; k < all.size(); ++k) ASSERT_TRUE((k % 2 ? *a : *b).add(all[k]));
    std::string csv = runCsvHeading();
    for (const RunFile& f : all) csv += runCsvRows(f);
    EXPECT_EQ(content(out / "results.csv"), csv);
    auto c = RunJournal::open(out, run->recipe());
    for (const RunFile& f : all) EXPECT_TRUE(c->done(f.file));
    EXPECT_EQ(content(out / "results.csv"), csv);
}

TEST_F(Runs, CannotWriteIsSaid) {
    const auto journal = RunJournal::open("/proc/nowhere", recipe());
    ASSERT_FALSE(journal);
    EXPECT_EQ(journal.error().code, "not-written");
}
