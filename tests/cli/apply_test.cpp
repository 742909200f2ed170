// SPDX-License-Identifier: GPL-3.0-or-later
// `apply` and `recipe` by their contract: rows, parts, what a recipe from elsewhere can reach.
#include "run_cli.h"

#include <cmath>
#include <fmt/format.h>

using namespace jointer::test;
using testing::HasSubstr;

namespace {

const char* kBegin =
    R"({"format": "jointer-recipe", "version": 1, "name": "bands", "inputs": [{"name": "data", "dataset": "d4"}],
  "tables": [{"id": "t1", "columns": [{"id": "c2", "name": "x", "role": "x"}, {"id": "c3", "name": "y", "role": "y"}]}],
  "datasets": [{"id": "d4", "name": "data", "source": {"kind": "columns", "table": "t1",
    "roles": [{"role": "x", "column": "c2"}, {"role": "y", "column": "c3"}]}}],
  "analyses": [{"id": "a5", "kind": "peaks", "inputs": [{"dataset": "d4"}], "model": {"kind": "gaussian"},
    "settings": {"baseline": "constant"}}])";

} // namespace

class CliApply : public Cli {
protected:
    std::string recipe(const std::string& more = "}") { return write("bands.json", kBegin + more); }
    std::string peak(int k) {
        std::string text = "x,y\n";
        for (int i = 0; i < 90; ++i)
            text += fmt::format("{},{:.4f}\n", 0.1 * i,
                                1 + 3 * std::exp(-std::pow(0.1 * i - 4 - 0.1 * k, 2)) +
                                    0.01 * std::sin(9.7 * i * i));
        return write(fmt::format("peak_{:02d}.csv", k), text);
    }
    std::string all(int n) {
        std::string files;
        for (int k = 0; k < n; ++k) files += " " + peak(k);
        return files;
    }
    std::string content(const std::string& name) const {
        std::ifstream in(path(name), std::ios::binary);
        return {std::istreambuf_iterator<char>(in), {}};
    }
};

TEST_F(CliApply, WritesARowForEachNumber) {
    const Ran r =
        run("apply " + recipe() + all(4) + " --out " + path("out") + " --pattern 'peak_{k:d}' --json");
    ASSERT_EQ(r.status, 0) << r.err;
    const json d = r.document();
    EXPECT_EQ(d["done"], 4);
    EXPECT_EQ(d["files"][3]["datasets"][0]["attributes"]["k"], "03");
    const std::string csv = content("out/results.csv");
    EXPECT_THAT(csv,
                testing::StartsWith("dataset,attributes,quantity,subject,value,error,unit,state,source\r\n"));
    EXPECT_THAT(csv, HasSubstr("peak_02,k=02,centre,1,4.199"));
    EXPECT_THAT(csv, HasSubstr("peak_02.csv:2-91"));
    const Ran again =
        run("apply " + recipe() + all(4) + " --out " + path("out") + " --pattern 'peak_{k:d}' --json");
    EXPECT_EQ(again.status, 0);
    EXPECT_EQ(again.document()["files"], d["files"]) << "the same whether it ran or was taken up";
    EXPECT_EQ(content("out/results.csv"), csv);
}

TEST_F(CliApply, OneBadFileStopsNothing) {
    const std::string bad = write("bad.csv", "nothing here\n"), none = path("gone.csv");
    const Ran r = run("apply " + recipe() + all(2) + " " + bad + " " + none + " --json");
    EXPECT_EQ(r.status, 1);
    const json d = r.document();
    EXPECT_EQ(d["done"], 2);
    EXPECT_EQ(d["failed"], 2);
    EXPECT_THAT(r.err, HasSubstr("bad.csv"));
    EXPECT_THAT(r.err, HasSubstr("gone.csv"));
    EXPECT_EQ(run("apply " + recipe() + " " + bad).status, 3) << "nothing could be read at all";
}

TEST_F(CliApply, PartsMakeTheWhole) {
    const std::string files = all(11);
    ASSERT_EQ(run("apply " + recipe() + files + " --out " + path("whole")).status, 0);
    std::string together;
    for (int i = 1; i <= 4; ++i) {
        ASSERT_EQ(run(fmt::format("apply {}{} --out {} --part {}/4", recipe(), files,
                                  path("p" + std::to_string(i)), i))
                      .status,
                  0);
        const std::string csv = content(fmt::format("p{}/results.csv", i));
        together += i == 1 ? csv : csv.substr(csv.find('\n') + 1);
        ASSERT_EQ(run(fmt::format("apply {}{} --out {} --part {}/4", recipe(), files, path("one"), i)).status,
                  0);
    }
    EXPECT_EQ(together, content("whole/results.csv"));
    EXPECT_EQ(content("one/results.csv"), content("whole/results.csv")) << "also into one folder";
    EXPECT_EQ(run("apply " + recipe() + files + " --part 5/4").status, 2);
    EXPECT_EQ(run("apply " + recipe() + files + " --part 1/4 --starts previous").status, 2);
}

TEST_F(CliApply, SaysWhatIsWrong) {
    EXPECT_EQ(run("apply no-such-recipe " + peak(1)).status, 3);
    EXPECT_EQ(run("apply " + write("r.json", "{]") + " " + peak(1)).status, 3);
    EXPECT_EQ(run("apply " + recipe() + " " + peak(1) + " --with nonsense").status, 2);
    EXPECT_EQ(run("apply " + recipe() + " " + peak(1) + " --with blank=" + peak(2)).status, 2);
    EXPECT_EQ(run("apply " + recipe() + " " + peak(1) + " --out /proc/nowhere").status, 5);
    EXPECT_EQ(run("apply " + recipe()).status, 2);
}

TEST_F(CliApply, TakesAListOfSamples) {
    const std::string list = write("samples.csv", "file,site,depth\npeak_00,North,3\npeak_01,South,4\n");
    const json d = run("apply " + recipe() + all(2) + " --samples " + list + " --json").document();
    EXPECT_EQ(d["files"][1]["datasets"][0]["attributes"]["site"], "South");
}

// Figures and names of a recipe from elsewhere stay within the folder that was named.
TEST_F(CliApply, ReachesNothingBeyondItsFolder) {
    const std::string more = R"(, "figures": [{"id": "f8", "name": "../../escape", "elements": [
      {"id": "e9", "kind": "panel", "children": [{"id": "e10", "kind": "line", "source": "d4"}]}]}]})";
    fs::create_directories(path("inside/out"));
    const Ran r = run("apply " + recipe(more) + " " + peak(0) + " --out " + path("inside/out") + " --curves");
    EXPECT_LE(r.status, 1) << r.err;
    std::size_t files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(path("inside"))) {
        if (!entry.is_regular_file()) continue;
        ++files;
        EXPECT_EQ(entry.path().parent_path(), fs::path(path("inside/out"))) << entry.path();
    }
    EXPECT_EQ(files, 4U) << "results, log, curve and figure";
}

TEST_F(CliApply, RecipesAreMadeAndTold) {
    const Ran shipped = run("recipe --json");
    ASSERT_EQ(shipped.status, 0);
    EXPECT_EQ(shipped.document()["recipes"].size(), 7U);
    for (const auto& one : shipped.document()["recipes"])
        EXPECT_EQ(run("recipe " + one["key"].get<std::string>()).status, 0);
    const std::string project = std::string(JOINTER_SOURCE_DIR) + "/demos/tern_sands.jointer";
    const Ran wrong = run("recipe " + project + " --dataset nonsense");
    EXPECT_EQ(wrong.status, 2);
    EXPECT_THAT(wrong.err, HasSubstr("the project has"));
    const Ran made = run("recipe " + project + " --dataset '28 d' --name bands --to " + path("made.json"));
    ASSERT_LE(made.status, 1) << made.err;
    EXPECT_EQ(run("recipe " + path("made.json") + " --json").document()["name"], "bands");
}
