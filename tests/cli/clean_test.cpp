// SPDX-License-Identifier: GPL-3.0-or-later
// clean and steps: the contract of the command line, and the same numbers as the window, bit for bit.
#include "run_cli.h"

#include "evaluate/evaluator.h"
#include "io/reader.h"
#include "session/import.h"
#include "session/session.h"
#include "steps/step.h"

#include <cmath>
#include <fmt/format.h>

using namespace jointer;
using namespace jointer::test;

TEST_F(Cli, CleanRunsAProtocol) {
    const std::string file = write("curve.csv", "x,y\n1,10\n2,12\n3,90\n4,16\n5,18\n6,20\n");
    const Ran r = run(
        "clean " + file +
        " --x x --y y --step \"exclude points=3\" --step \"baseline anchors=1:10,6:20 through=line\" --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json j = r.document();
    EXPECT_EQ(j["left_out"], json({3}));
    EXPECT_EQ(j["made"], json::array());
    EXPECT_EQ(j["protocol"][0]["kind"], "exclude");
    EXPECT_EQ(j["protocol"][1]["sentence"], "Took off a baseline through 2 anchors.");
    EXPECT_EQ(j["protocol"][1]["on"], true);
    EXPECT_EQ(j["y"][0], 0);
    EXPECT_EQ(j["layers"]["baseline"][5], 20);
    EXPECT_EQ(j["layers"]["taken"]["y"], json({90}));
    EXPECT_TRUE(j["sigma"].is_null());
    EXPECT_EQ(j["replicates"].size(), 1U);
}

TEST_F(Cli, CleanKnowsQuotesReplicatesUncertaintiesAndOtherCurves) {
    const std::string file = write("plate.csv", "dose,a,b,sd\n0,1,3,0.1\n10,2,4,0.1\n100,4,8,0.2\n");
    const std::string blank = write("blank.csv", "dose,signal\n0,1\n100,1\n");
    const Ran r = run("clean " + file + " --x dose --y a --y b --sigma sd --with \"dark=" + blank +
                      ":dose:signal\" --step \"subtract with=dark\" --step \"transform x='log10(x)' "
                      "outside=leave-out\" --json");
    EXPECT_EQ(r.status, 1) << "a dose without a logarithm is told";
    const json j = r.document();
    EXPECT_EQ(j["x"], json({1, 2}));
    EXPECT_EQ(j["replicates"], json({{1, 3}, {3, 7}}));
    EXPECT_EQ(j["y"], json({2, 5}));
    EXPECT_EQ(j["sigma"], json({0.1, 0.2}));
    EXPECT_EQ(j["left_out"], json({1}));
    EXPECT_EQ(j["warnings"][0]["code"], "outside-domain");
    const Ran csv = run("clean " + file + " --x dose --y a --csv");
    EXPECT_EQ(csv.out, "x,y,left_out\r\n0,1,0\r\n10,2,0\r\n100,4,0\r\n");
    EXPECT_NE(run("clean " + file + " --x dose --y a --step \"crop span=5:\"").out.find("1. Kept from 5."),
              std::string::npos);
}

TEST_F(Cli, CleanSaysWhatIsWrong) {
    const std::string file = write("curve.csv", "x,y\n1,10\n2,12\n3,14\n");
    const std::string base = "clean " + file + " --x x --y y --json --step ";
    for (const auto& [step, word] : {std::pair("\"smoth window=3\"", "There is no step called"),
                                     {"\"smooth windw=3\"", "keys"},
                                     {"\"smooth window=many\"", "needs"},
                                     {"\"subtract with=nothing\"", "no dataset called"},
                                     {"\"transform y='ln(y)\"", "quote"},
                                     {"\"\"", "needs the key"}}) {
        const Ran r = run(base + step);
        EXPECT_EQ(r.status, 2) << step;
        EXPECT_EQ(r.out, "");
        EXPECT_NE(r.err.find(word), r.err.npos) << r.err;
    }
    EXPECT_EQ(run("clean " + file + " --x x --y z").status, 2);
    EXPECT_EQ(run("clean " + path("none.csv") + " --x x --y y").status, 3);
    EXPECT_EQ(run("clean " + file + " --x x --y y --with a=b").status, 2);
    EXPECT_EQ(run("clean " + file + " --x x --y y --with a=" + path("none.csv") + ":x:y").status, 3);
}

// Each kind is listed with its settings, and can be typed with the keys and defaults that the list gives.
TEST_F(Cli, StepsListsEveryKind) {
    const json all = run("steps --json").document();
    ASSERT_EQ(all.size(), steps::catalogue().size());
    const std::string file = write("curve.csv", "x,y\n1,10\n2,12\n3,14\n4,11\n5,12\n6,17\n7,13\n");
    for (const json& kind : all) {
        const steps::StepKind* known = steps::catalogue().find(kind["key"].get<std::string>());
        ASSERT_TRUE(known);
        EXPECT_EQ(kind["settings"].size(), known->info.settings.size());
        std::string step = kind["key"];
        for (const json& setting : kind["settings"])
            if (setting["kind"] == "choice")
                step += fmt::format(" {}={}", setting["key"].get<std::string>(),
                                    setting["default"].get<std::string>());
        const Ran r = run("clean " + file + " --x x --y y --json --step \"" + step + "\"");
        EXPECT_LE(r.status, 1) << step << ": " << r.err;
    }
    EXPECT_NE(run("steps").out.find("despike"), std::string::npos);
}

// The window's road: a file imported, steps added as edits, the protocol evaluated.
TEST_F(Cli, CleansAsTheWindowDoes) {
    std::string text = "x,y,y2,sd\n";
    for (int i = 0; i < 120; ++i)
        text += fmt::format("{},{:.4f},{:.4f},{}\n", 400 + 0.5 * i,
                            20 + 9 * std::sin(i / 9.0) + (i == 60 ? 300 : 0) + 0.1 * (i * 7919 % 13),
                            21 + 9 * std::sin(i / 9.0) + 0.1 * (i * 104729 % 17), 0.4);
    const std::string file = write("both.csv", text);
    const std::vector<std::pair<std::string, Settings>> steps = [] {
        std::vector<std::pair<std::string, Settings>> list = {
            {"despike", {}}, {"baseline", {}}, {"smooth", {}}, {"normalise", {}}};
        list[1].second.set("method", "als");
        list[1].second.set("smoothness", 1e4);
        list[2].second.set("window", 7);
        list[3].second.set("to", "area");
        return list;
    }();
    const json j =
        run("clean " + file +
            " --x x --y y --y y2 --sigma sd --step despike --step \"baseline method=als smoothness=1e4\" "
            "--step \"smooth window=7\" --step \"normalise to=area\" --json")
            .document();
    Session session;
    session.start(newProject("t"));
    ASSERT_TRUE(session.apply(importEdit(*io::readFileAs(file, {}), {}, "both")));
    const DatasetId d = session.project().datasets[0].id;
    const Table& table = session.project().tables[0];
    ASSERT_TRUE(session.apply(edits::changeDataset(d, "Roles", [&](Dataset& x) {
        x.source.roles = {{Role::X, table.columns[0].id},
                          {Role::Y, table.columns[1].id},
                          {Role::Y, table.columns[2].id},
                          {Role::YError, table.columns[3].id}};
    })));
    for (const auto& [kind, settings] : steps)
        ASSERT_TRUE(session.apply(edits::addStep(d, kind, settings, "Add step")));
    const Curve curve = session.evaluator().protocol(session.project(), d).end().curve();
    EXPECT_EQ(j["x"].get<std::vector<double>>(), curve.x);
    EXPECT_EQ(j["y"].get<std::vector<double>>(), curve.y);
    EXPECT_EQ(j["sigma"].get<std::vector<double>>(), curve.sigma);
    EXPECT_EQ(j["replicates"].get<std::vector<std::vector<double>>>(), curve.replicates);
}
