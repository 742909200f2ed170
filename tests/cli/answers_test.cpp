// SPDX-License-Identifier: GPL-3.0-or-later
// `groups` and `unknowns` as scripts run them.
#include "run_cli.h"

#include <cmath>

using namespace jointer::test;
using testing::ElementsAre;
using testing::HasSubstr;

TEST_F(Cli, GroupsTellsNumbersAndTheTestThatTheDesignCallsFor) {
    const std::string file = write("sites.csv", "site,level\nn,3.1\nn,3.4\nn,2.9\nn,\ns,4.1\ns,4.6\ns,4.2\n");
    const Ran r = run("groups " + file + " --column level --by site --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json d = r.document();
    ASSERT_EQ(d["groups"].size(), 2U);
    EXPECT_EQ(d["groups"][0]["name"], "n");
    EXPECT_EQ(d["groups"][0]["n"], 3);
    EXPECT_EQ(d["groups"][0]["missing"], 1);
    EXPECT_EQ(d["groups"][0]["whiskers"], json({2.9, 3.4}));
    const json& t = d["tests"][0];
    EXPECT_EQ(t["test"], "welch");
    EXPECT_NEAR(t["difference"].get<double>(), 9.4 / 3 - 4.3, 1e-12);
    EXPECT_EQ(t["effect"]["name"], "Hedges’ g");
    EXPECT_LT(t["ci"][0], t["difference"]);
    EXPECT_FALSE(t["assumptions"].empty());
}

TEST_F(Cli, GroupsInColumnsAndSeveralTests) {
    const std::string file = write("w.csv", "a,b,c\n1,2,4\n2,3.5,5\n3,4.1,7\n4,5.2,8.5\n");
    const json d = run("groups " + file +
                       " --columns 'a,b,c' --test friedman --test tukey --test dunnett --control a --json")
                       .document();
    ASSERT_EQ(d["tests"].size(), 3U);
    EXPECT_EQ(d["tests"][0]["statistic"], 8); // all four rows in the same order: n(k − 1)
    EXPECT_EQ(d["tests"][1]["pairs"].size(), 3U);
    EXPECT_EQ(d["tests"][2]["pairs"].size(), 2U);
    EXPECT_EQ(d["tests"][2]["pairs"][0]["b"], "a");
    const Ran wrong = run("groups " + file + " --columns 'a,b' --test t");
    EXPECT_EQ(wrong.status, 2);
    EXPECT_THAT(wrong.err, HasSubstr("There is no test called “t”"));
    EXPECT_EQ(run("groups " + file + " --columns 'a,b,c' --test welch").status, 2);
    EXPECT_EQ(run("groups " + file).status, 2);
    EXPECT_EQ(run("groups " + file + " --columns 'a,zz'").status, 2);
}

TEST_F(Cli, UnknownsByRowsWithoutX) {
    const std::string file =
        write("plate.csv", "name,conc,A1,A2,dilution\nB,0,0.05,0.05,1\nS,1,0.15,0.15,1\nS,2,"
                           "0.25,0.25,1\nS,4,0.451,0.449,1\nU1,,0.2,0.2,10\nU2,,0.9,0.91,1\n");
    const Ran r = run("unknowns " + file +
                      " --x conc --y A1 --y A2 --name name --dilution dilution --model line --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json d = r.document();
    EXPECT_EQ(d["range"], json({0.0, 4.0}));
    EXPECT_EQ(d["fit"]["model"], "line");
    ASSERT_EQ(d["unknowns"].size(), 2U);
    EXPECT_NEAR(d["unknowns"][0]["value"].get<double>(), 15, 1e-6);
    EXPECT_EQ(d["unknowns"][0]["state"], "in-range");
    EXPECT_EQ(d["unknowns"][1]["state"], "above-range");
    EXPECT_TRUE(d["unknowns"][1]["value"].is_null());
    EXPECT_TRUE(d["unknowns"][1]["ci"].is_null());
    EXPECT_EQ(d["standards"].size(), 4U);
    EXPECT_TRUE(d["standards"][0]["recovery"].is_null());
}

TEST_F(Cli, UnknownsByAColumnOfKindsAndACurveWithoutAFormula) {
    std::string text = "what,conc,A\n";
    for (int i = 1; i <= 12; ++i)
        text += "standard," + std::to_string(i) + "," + std::to_string(0.3 * std::sqrt(i)) + "\n";
    text += "blank,0,0.01\nblank,0,0.012\nunknown,,0.6\n";
    const std::string file = write("kinds.csv", text);
    const Ran r =
        run("unknowns " + file + " --x conc --y A --kind what --model loess --setting fraction=0.6 --json");
    ASSERT_NE(r.out, "") << r.err;
    const json d = r.document();
    ASSERT_EQ(d["unknowns"].size(), 1U);
    EXPECT_NEAR(d["unknowns"][0]["value"].get<double>(), 4, 0.15);
    EXPECT_EQ(d["unknowns"][0]["name"], "row 15");
    EXPECT_EQ(d["detection_limit"]["from"], "3 SD of 2 blanks");
    const Ran wrong = run("unknowns " + write("k.csv", "what,conc,A\nx,1,2\n") +
                          " --x conc --y A --kind what --model line");
    EXPECT_EQ(wrong.status, 2);
    EXPECT_THAT(wrong.err, HasSubstr("“x” in row 1 of “what” is no kind of row"));
}

TEST_F(Cli, DerivesNumbersFromValuesAndProjects) {
    const Ran typed = run("derive --given 'k = 0.12 ± 0.01 1/h' --formula 'half_life [d] = ln(2)/k' --json");
    ASSERT_EQ(typed.status, 0) << typed.err;
    const json one = typed.document()["derived"][0];
    EXPECT_NEAR(one["value"].get<double>(), std::log(2) / 0.12 / 24, 1e-12);
    EXPECT_NEAR(one["se"].get<double>(), std::log(2) / 0.0144 * 0.01 / 24, 1e-12);
    EXPECT_EQ(one["unit"], "d");
    const Ran together = run("derive --given 'a = 3 ± 0.3' --given 'b = 2 +- 0.2' --correlation 'a b 1' "
                             "--formula 'r = a/b' --json");
    ASSERT_EQ(together.status, 0) << together.err;
    EXPECT_NEAR(together.document()["derived"][0]["se"].get<double>(), 0, 1e-6)
        << "errors that go together leave a ratio alone";
    const Ran clash = run("derive --given 'a=1 mg' --given 'b=1 h' --formula 'c = a+b'");
    EXPECT_EQ(clash.status, 1);
    EXPECT_THAT(clash.err, HasSubstr("do not measure the same"));
    for (const char* bad :
         {"--formula 'x = k'", "--formula 'x = (1' --given a=1", "--given what --formula x=1",
          "--given 'a=1 mg/(' --formula x=a", "--given a=1 --correlation 'a z 0.1' --formula x=a"})
        EXPECT_EQ(run(std::string("derive ") + bad).status, 2) << bad;
    const std::string demo = JOINTER_SOURCE_DIR "/demos/answers.jointer";
    const Ran project = run("derive " + demo + " --analysis Parabola --formula 'top = -c1/(2*c2)' --json");
    ASSERT_EQ(project.status, 0) << project.err;
    const json top = project.document()["derived"][0];
    EXPECT_GT(top["value"].get<double>(), 100);
    EXPECT_GT(top["se"].get<double>(), 0);
    EXPECT_EQ(run("derive " + demo + " --analysis nobody --formula 'x = 1'").status, 2);
}

TEST_F(Cli, WritesReports) {
    const std::string demo = JOINTER_SOURCE_DIR "/demos/answers.jointer",
                      report = "report " + demo + " --dataset ";
    const Ran done = run(report + "all --to " + path("report-{name}.pdf"));
    ASSERT_EQ(done.status, 0) << done.err;
    std::ifstream file(path("report-Nitrate_plate.pdf"), std::ios::binary);
    std::string head(4, ' ');
    file.read(head.data(), 4);
    EXPECT_EQ(head, "%PDF");
    EXPECT_EQ(run(report + "all --to " + path("same.pdf")).status, 2);
    EXPECT_EQ(run(report + "nobody --to " + path("x.pdf")).status, 2);
    EXPECT_EQ(run(report + "'Nitrate plate' --to " + path("x.docx")).status, 2);
    EXPECT_EQ(run(report + "'Nitrate plate' --analysis no --to " + path("x.pdf")).status, 2);
}

TEST_F(Cli, ACourseInTime) {
    const std::string file = write("course.csv", "time (h),conc (mg/L)\n0,8\n1,4\n2,2\n3,1\n4,0.5\n");
    const Ran course = run("analyse " + file + " --x time --y conc --kind course --json");
    ASSERT_EQ(course.status, 0) << course.err;
    double half = 0;
    const json document = course.document();
    for (const json& q : document["quantities"])
        if (q["key"] == "half-life") half = q["value"];
    EXPECT_NEAR(half, 1, 1e-9);
}

TEST_F(Cli, RatesOfCounts) {
    std::string csv = "site,count\n";
    for (int k = 0; k < 10; ++k)
        csv += "n," + std::to_string(k % 3 + 3) + "\ns," + std::to_string(k % 2 + 1) + "\n";
    const std::string file = write("rates.csv", csv); // 39 in ten, 15 in ten
    const Ran r = run("groups " + file + " --column count --by site --test rates --json");
    ASSERT_EQ(r.status, 0) << r.err;
    const json document = r.document();
    const json& t = document["tests"][0];
    EXPECT_NEAR(t["difference"].get<double>(), 2.4, 1e-12);
    EXPECT_NEAR(t["effect"]["value"].get<double>(), 2.6, 1e-12);
    EXPECT_NEAR(t["p"].get<double>(), 0.0014962588853935084, 1e-12) << "binomial, 39 of 54 at one half, both sides";
    const std::string words = write("parts.csv", "site,count\nn,1.5\nn,2\ns,1\ns,3\n");
    EXPECT_NE(run("groups " + words + " --column count --by site --test rates").status, 0);
}
