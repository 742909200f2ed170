// SPDX-License-Identifier: GPL-3.0-or-later
// The command line as scripts see it: exit status, one JSON document, messages on standard error.
#include "evaluate/mapping.h"
#include "evaluate/uncertainty.h"
#include "figure/kinds.h"
#include "io/reader.h"
#include "numerics/loess.h"
#include "run_cli.h"
#include "steps/step.h"

#include <cmath>
#include <fmt/format.h>
#include <fstream>
#include <set>

using namespace jointer::test;
using testing::HasSubstr;

TEST_F(Cli, ReadsAsTheContractSays) {
    const Ran r = run("read " + path("shell_28d.csv") + " --json");
    EXPECT_EQ(r.status, 1);
    EXPECT_THAT(r.err, HasSubstr("line 14, column counts"));
    const json j = r.document();
    EXPECT_EQ(j["format"], "delimited");
    EXPECT_EQ(j["encoding"], "utf-8");
    EXPECT_EQ(j["dialect"]["delimiter"], ";");
    EXPECT_EQ(j["dialect"]["decimal"], ",");
    EXPECT_EQ(j["metadata"]["Site"], "A");
    const json& t = j["tables"][0];
    EXPECT_EQ(t["heading_line"], 5);
    EXPECT_EQ(t["units_line"], 6);
    EXPECT_EQ(t["first_data_line"], 7);
    EXPECT_EQ(t["rows"], 400);
    EXPECT_EQ(t["columns"][0]["unit"], "cm-1");
    EXPECT_EQ(t["columns"][1]["missing"], 1);
    EXPECT_TRUE(t["columns"][1]["values"][7].is_null());
    EXPECT_EQ(j["warnings"][0]["code"], "unparsed-cells");
    EXPECT_EQ(run("read " + write("l.csv", "a\n<0.05\n1\n2\n") + " --json")
                  .document()["tables"][0]["columns"][0]["flags"]["0"],
              "below 0.05");
    EXPECT_EQ(run("read - --csv < " + write("s.csv", "a;b\n1,5;x\n2;y\n")).out, "a,b\r\n1.5,x\r\n2,y\r\n");
}

TEST_F(Cli, EndsWithTheRightStatus) {
    const std::string good = write("good.csv", "x,y\n1,2.1\n2,3.9\n3,6.2\n4,7.8\n");
    const std::pair<std::string, int> all[] = {
        {"--help", 0},
        {"--version", 0},
        {"", 2},
        {"nonsense", 2},
        {"read", 2},
        {"read " + good, 0},
        {"read /nowhere", 3},
        {"read " + write("empty", ""), 3},
        {"stats " + good + " --column y", 0},
        {"stats " + good + " --column q", 2},
        {"fit " + good + " --x x --y y --model line", 0},
        {"fit " + good + " --x x --y y --model nothing", 2},
        {"fit " + good + " --x x --y y", 2},
        {"fit " + good + " --x x --y y --equation 'log(x)*a'", 2},
        {"fit " + good + " --x x --y y --equation '(a+b)*x'", 1},
        {"fit " + good + " --x x --y y --model line --start 'nothing=1'", 4},
        {"fit " + good + " --x x --y y --model line --span 10:20", 4},
        {"models", 0},
        {"check " + good, 3},
        {"export " + good + " --figure all --to x.pdf", 3}};
    for (const auto& [arguments, status] : all) {
        const Ran r = run(arguments);
        EXPECT_EQ(r.status, status) << arguments << "\n" << r.err;
        EXPECT_TRUE(status < 2 || r.out.empty() || r.out.find('{') == std::string::npos)
            << arguments << ": a partial document";
        EXPECT_TRUE(status == 0 || !r.err.empty()) << arguments << ": nothing is said";
    }
}

// Neither the toolkit's own messages nor a plural of one.
TEST_F(Cli, SaysNothingThatIsNotMeant) {
    const std::string good = write("good.csv", "x,y\n1,2.1\n2,3.9\n3,6.2\n4,7.8\n");
    ::unsetenv("XDG_RUNTIME_DIR");
    const std::string project = std::string(JOINTER_SOURCE_DIR) + "/demos/tern_sands.jointer";
    for (const std::string& command :
         {"fit " + good + " --x x --y y --model line", "read " + good, "check " + project,
          "export " + project + " --figure 'Growth bands' --to " + path("quiet.png")})
        EXPECT_EQ(run(command).err, "") << command;
    const std::string one = run("fit " + good + " --x x --y y --model line").out;
    EXPECT_THAT(one, HasSubstr("4 points, converged after 1 iteration\n"));
    for (const char* plural : {"1 points", "1 iterations", "1 rows"})
        EXPECT_THAT(one, testing::Not(HasSubstr(std::string(" ") + plural)));
}

// The command line names no setting of a reader: what a description holds is an option, with its help.
TEST_F(Cli, EverySettingOfAReaderIsAnOption) {
    for (const char* command : {"read", "stats", "fit"}) {
        const std::string help = run(std::string(command) + " --help").out;
        for (const jointer::io::ReaderKind& reader : jointer::io::readerCatalogue())
            for (const jointer::Setting& s : reader.info.settings)
                EXPECT_THAT(help, HasSubstr("--" + s.key)) << command << ", " << reader.info.key;
    }
    const std::string plate = write("plate.csv", ",1,2,3\nA,1,2,3\nB,2,3,4\n");
    const json as = run("read " + plate + " --json").document();
    EXPECT_EQ(as["tables"][0]["rows"], 6);
    EXPECT_EQ(as["alternatives"][0]["options"], "--plate no");
    const Ran other = run("read " + plate + " --plate no --json");
    EXPECT_EQ(other.document()["tables"][0]["rows"], 2);
    EXPECT_FALSE(other.document().contains("alternatives"));
    EXPECT_EQ(run("read " + plate + " --plate perhaps").status, 2);
    EXPECT_EQ(run("read " + plate + " --heading first").status, 2);
}

TEST_F(Cli, FitsAsTheContractSays) {
    const Ran r = run(
        "fit " + path("oxygen_sensor.csv") +
        " --x Oxygen --y 'Signal 1' --y 'Signal 2' --y '#4' --model line --predict 1,5 --level 0.9 --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json j = r.document();
    EXPECT_EQ(j["n"], 24);
    EXPECT_EQ(j["dof"], 22);
    EXPECT_EQ(j["state"], "converged");
    EXPECT_NEAR(j["parameters"][1]["value"].get<double>(), 31.7, 0.5);
    EXPECT_LT(j["parameters"][1]["ci"][0], j["parameters"][1]["ci"][1]);
    EXPECT_TRUE(j["chi2"].is_null());
    EXPECT_EQ(j["predicted"].size(), 2U);
    EXPECT_LT(j["predicted"][0]["prediction"][0], j["predicted"][0]["confidence"][0]);
    for (const char* key : {"rss", "residual_sd", "r2", "adjusted_r2", "aicc", "bic", "correlation",
                            "iterations", "reduced_chi2", "warnings", "model"})
        EXPECT_TRUE(j.contains(key)) << key;
}

TEST_F(Cli, ParametersCanBeFixedLimitedAndTied) {
    std::string text = "x,y\n";
    for (int i = 0; i < 30; ++i)
        text += std::to_string(i * 0.2) + "," + std::to_string(2 * std::exp(-0.7 * i * 0.2) + 0.5) + "\n";
    const std::string file = write("decay.csv", text),
                      fit = "fit " + file + " --x x --y y --equation 'a*exp(-b*x)+c' --json ";
    json j = run(fit + "--fix c=0.5 --start 'a=1,b=1'").document();
    EXPECT_NEAR(j["parameters"][1]["value"].get<double>(), 0.7, 1e-4);
    EXPECT_EQ(j["parameters"][2]["fixed"], true);
    const Ran limited = run(fit + "--limits b=0:0.5");
    EXPECT_EQ(limited.status, 1);
    EXPECT_EQ(limited.document()["state"], "on-limit");
    j = run(fit + "--tie 'c=a/4'").document();
    EXPECT_NEAR(j["parameters"][2]["value"].get<double>(), j["parameters"][0]["value"].get<double>() / 4,
                1e-12);
    j = run("fit " + write("two.csv", "u,v,z\n1,1,6\n1,2,8\n2,1,9\n2,3,13\n3,1,12\n3,2,14.1\n") +
            " --x u --x v --y z --equation 'a + b*x1 + c*x2' --json")
            .document();
    EXPECT_NEAR(j["parameters"][1]["value"].get<double>(), 3, 0.1);
}

TEST_F(Cli, ModelsAreListed) {
    const json j = run("models --json").document();
    std::set<std::string> keys;
    for (const json& m : j) keys.insert(m["key"]);
    for (const char* key : {"line", "polynomial-2", "polynomial-9", "exponential-decay", "power",
                            "logistic-4", "gaussian", "lorentzian"})
        EXPECT_TRUE(keys.contains(key)) << key;
    EXPECT_EQ(j[0]["parameters"][0]["name"], "intercept");
}

TEST_F(Cli, StatsMatchAWorkedExample) {
    const json j =
        run("stats " + write("v.csv", "v\n2\n4\n4\n4\n5\n5\n7\n9\nNA\n") + " --column v --json").document();
    EXPECT_EQ(j["n"], 8);
    EXPECT_EQ(j["missing"], 1);
    EXPECT_DOUBLE_EQ(j["mean"], 5);
    EXPECT_DOUBLE_EQ(j["sd"], std::sqrt(32.0 / 7));
    EXPECT_DOUBLE_EQ(j["q1"], 4);
    EXPECT_DOUBLE_EQ(j["median"], 4.5);
    EXPECT_DOUBLE_EQ(j["q3"], 5.5);
    EXPECT_DOUBLE_EQ(j["sum_of_squares"], 232);
}

TEST_F(Cli, ExportsAndChecksProjects) {
    const std::string project = std::string(JOINTER_SOURCE_DIR) + "/demos/tern_sands.jointer";
    const Ran checked = run("check " + project + " --json");
    EXPECT_EQ(checked.status, 0) << checked.err;
    EXPECT_EQ(checked.document()["compared"], 8);
    const Ran all = run("export " + project + " --figure all --to '" + path("{name}.pdf") + "' --json");
    EXPECT_EQ(all.status, 0) << all.err;
    EXPECT_TRUE(fs::exists(path("Growth_bands.pdf")));
    EXPECT_TRUE(fs::exists(path("Oxygen_sensor.pdf")));
    EXPECT_EQ(all.document()["written"].size(), 2U);
    EXPECT_EQ(run("export " + project + " --table shell_7d --to " + path("t.csv")).status, 0);
    const Ran results = run("export " + project + " --results --to " + path("r.csv"));
    EXPECT_EQ(results.status, 0) << results.err;
    const json rows = run("read " + path("r.csv") + " --json").document()["tables"][0];
    EXPECT_EQ(rows["columns"][3]["name"], "value");
    EXPECT_GT(rows["rows"].get<int>(), 8);
    EXPECT_EQ(rows["columns"][3]["missing"], 0);
    const Ran text = run("export " + project + " --figure 'Growth bands' --to " + path("f.json"));
    EXPECT_EQ(text.status, 0) << text.err;
    const Ran drawn = run("draw " + path("f.json") + " --to " + path("f.eps") + " --json");
    EXPECT_EQ(drawn.status, 0) << drawn.err;
    EXPECT_EQ(drawn.document()["file"], path("f.eps"));
    for (const auto& [ending, more] : {std::pair("tif", " --dpi 72 --grey"),
                                       {"jpg", " --dpi 72 --quality 90"},
                                       {"tex", " --fonts shipped"},
                                       {"svg", " --outlines --trim"}}) {
        const Ran one = run("draw " + path("f.json") + " --to " + path("f.") + ending + more);
        EXPECT_EQ(one.status, 0) << one.err;
        EXPECT_THAT(one.out, HasSubstr(" mm, "));
    }
    EXPECT_EQ(run("draw " + path("f.json") + " --to " + path("f.xyz")).status, 2);
    EXPECT_EQ(run("draw " + path("none.json") + " --to " + path("f.pdf")).status, 3);
    EXPECT_EQ(run("draw " + path("t.csv") + " --to " + path("f.pdf")).status, 3);
    EXPECT_EQ(run("draw " + path("f.json") + " --data nonsense --to " + path("f.pdf")).status, 2);
    EXPECT_EQ(run("export " + project + " --results --table shell_7d --to " + path("x.csv")).status, 2);
    EXPECT_EQ(run("export " + project + " --figure Nothing --to " + path("n.pdf")).status, 2);
    EXPECT_EQ(run("export " + project + " --figure 'Growth bands' --to /nowhere/x.pdf").status, 5);
    EXPECT_EQ(run("export " + project + " --figure 'Growth bands' --to " + path("x.docx")).status, 2);
}

// The reference of the manual is what the program says of itself; a new kind is in it without being named.
// Several figures do not go into one file one after the other.
TEST_F(Cli, AllFiguresNeedNamesOfTheirOwn) {
    const std::string demo = std::string(JOINTER_SOURCE_DIR) + "/demos/tern_sands.jointer";
    const Ran r = run("export " + demo + " --figure all --to " + path("one.svg"));
    EXPECT_EQ(r.status, 2);
    EXPECT_NE(r.err.find("{name}"), std::string::npos);
    EXPECT_FALSE(fs::exists(path("one.svg")));
    EXPECT_EQ(run("export " + demo + " --figure all --to '" + path("{name}.svg") + "'").status, 0);
}

TEST_F(Cli, TheReferenceOfTheManualIsThatOfTheProgram) {
    const Ran r = run("reference");
    EXPECT_EQ(r.status, 0);
    std::ifstream file(std::string(JOINTER_SOURCE_DIR) + "/docs/manual/reference.md");
    const std::string stored{std::istreambuf_iterator<char>(file), {}};
    EXPECT_TRUE(r.out == stored)
        << "run `build/release/bin/jointer-cli reference > docs/manual/reference.md`";
    for (const auto& kind : jointer::io::readerCatalogue())
        EXPECT_THAT(r.out, HasSubstr("`" + kind.info.key + "`"));
    for (const auto& kind : jointer::steps::catalogue())
        for (const auto& setting : kind.info.settings)
            EXPECT_THAT(r.out, HasSubstr("`" + setting.key + "`")) << kind.info.key;
    for (const auto& kind : jointer::figure::elementKinds())
        EXPECT_THAT(r.out, HasSubstr("### " + kind.name)) << kind.key;
    for (const auto& rule : jointer::evaluate::uncertaintyRules())
        EXPECT_THAT(r.out, HasSubstr("### " + rule.info.name));
    for (const auto& kind : jointer::evaluate::mappingCatalogue())
        EXPECT_THAT(r.out, HasSubstr("### " + kind.info.name));
}

TEST_F(Cli, FitAsksTheCurve) {
    std::string table = "x,y\n";
    for (int i = 0; i <= 40; ++i)
        table += std::to_string(0.25 * i) + "," + std::to_string(4 * std::exp(-0.5 * 0.25 * i) + 1) + "\n";
    const std::string file = write("decay.csv", table);
    const auto r =
        run("fit " + file +
            " --x x --y y --equation 'a*exp(-b*x)+c' --start a=3,b=1 --derive 'A=area(0,4)' --derive "
            "'half=crossing(3)' --derive 'none=crossing(100)' --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json d = r.document()["derived"];
    EXPECT_NEAR(d[0]["value"], 8 * (1 - std::exp(-2.0)) + 4, 1e-4);
    EXPECT_NEAR(d[1]["value"], 2 * std::log(2.0), 1e-4);
    EXPECT_TRUE(d[2]["value"].is_null());
    EXPECT_EQ(run("fit " + file + " --x x --y y --equation a*x+b --derive 'A=area(3)'").status, 2);
}

TEST_F(Cli, FitInStepsAndFromManyStarts) {
    std::string table = "x,y\n";
    for (int i = 0; i <= 60; ++i)
        table += std::to_string(0.2 * i) + "," + std::to_string(2 * std::sin(1.7 * 0.2 * i + 0.4)) + "\n";
    const std::string file = write("wave.csv", table);
    const auto many = run("fit " + file +
                          " --x x --y y --equation 'a*sin(w*x+p)' --start w=2.4 --starts 40 --seed 3 --json");
    ASSERT_LE(many.status, 1) << many.err;
    const json ends = many.document()["ends"];
    ASSERT_GT(ends.size(), 1U);
    EXPECT_LE(ends[0]["rss"].get<double>(), ends[1]["rss"].get<double>());
    EXPECT_TRUE(ends[0]["values"].contains("w"));
    const auto steps =
        run("fit " + file +
            " --x x --y y --equation 'a*sin(w*x+p)' --start w=1.6,a=1,p=0 --release a --release "
            "p --json");
    ASSERT_EQ(steps.status, 0) << steps.err;
    EXPECT_EQ(steps.document()["stages"].size(), 2U);
    EXPECT_NEAR(steps.document()["parameters"][1]["value"], 1.7, 1e-4);
    EXPECT_EQ(run("fit " + file + " --x x --y y --model line --release speed").status, 4);
}

TEST_F(Cli, FitCombinesMeasuredCurves) {
    std::string pure = "x,A,B\n", mixed = "x,y\n";
    for (int i = 0; i <= 80; ++i) {
        const double x = 0.5 * i, a = std::exp(-std::pow((x - 12) / 5, 2)),
                     b = std::exp(-std::pow((x - 25) / 6, 2));
        pure += std::to_string(x) + "," + std::to_string(a) + "," + std::to_string(b) + "\n";
        mixed += std::to_string(x) + "," + std::to_string(0.75 * a + 0.25 * b) + "\n";
    }
    const std::string p = write("pure.csv", pure), m = write("mixed.csv", mixed);
    const std::string with = " --with one=" + p + ":x:A --with two=" + p + ":x:B";
    const auto r =
        run("fit " + m + " --x x --y y --model measured-curves --set sum-is-one=yes" + with + " --json");
    ASSERT_EQ(r.status, 0) << r.err;
    EXPECT_NEAR(r.document()["parameters"][0]["value"], 0.75, 1e-4);
    EXPECT_NEAR(r.document()["parameters"][1]["value"], 0.25, 1e-4);
    EXPECT_EQ(run("fit " + m + " --x x --y y --model measured-curves").status, 2);
    EXPECT_EQ(run("fit " + m + " --x x --y y --model measured-curves --with a=nothing").status, 2);
    EXPECT_EQ(run("fit " + m + " --x x --y y --model measured-curves --with a=/none.csv:x:y").status, 3);
}

TEST_F(Cli, FitTakesAKeptEquation) {
    const std::string kept = write("kept.json", R"json({"format": "jointer-model", "name": "mine",
                                   "equation": "k = 2*b; a*exp(-k*x)", "starts": "a = max(y)"})json");
    std::string table = "x,y\n";
    for (int i = 0; i <= 20; ++i)
        table += std::to_string(0.5 * i) + "," + std::to_string(3 * std::exp(-0.4 * 0.5 * i)) + "\n";
    const auto r = run("fit " + write("d.csv", table) + " --x x --y y --model-file " + kept + " --json");
    ASSERT_EQ(r.status, 0) << r.err;
    EXPECT_NEAR(r.document()["parameters"][1]["value"], 3, 1e-4); // in order of appearance: b, a
    EXPECT_EQ(run("fit " + path("d.csv") + " --x x --y y --model-file " + path("d.csv")).status, 2);
}

// The contract: the nearest ⌊n·fraction + 10⁻⁵⌋ points, se = s·√Σl², s² = Σr²/tr((I − L)(I − L)ᵀ).
TEST_F(Cli, FitsCurvesWithoutAFormula) {
    namespace numerics = jointer::numerics;
    std::string csv = "x,y\n";
    std::vector<double> x, y;
    for (int i = 0; i < 40; ++i) {
        x.push_back(0.25 * i);
        y.push_back(std::sin(x.back()) + 0.05 * std::cos(17.0 * i));
        csv += fmt::format("{},{}\n", x.back(), y.back());
    }
    const std::string file = write("wave.csv", csv);
    const numerics::Loess loess(x, y, {}, {.fraction = 0.4, .degree = 2});
    const auto stats = numerics::statisticsOf(loess, x);
    double rss = 0;
    for (std::size_t i = 0; i < x.size(); ++i) rss += std::pow(y[i] - loess.at(x[i]).y, 2);
    const Ran r =
        run("fit " + file +
            " --x x --y y --model loess --setting fraction=0.4 --setting degree=2 --predict 3.3,6 --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json j = r.document();
    EXPECT_EQ(j["model"], "loess");
    EXPECT_EQ(j["state"], "converged");
    EXPECT_NEAR(j["predicted"][0]["y"].get<double>(), loess.at(3.3).y, 1e-9);
    EXPECT_NEAR(j["predicted"][0]["se"].get<double>(), std::sqrt(rss / stats.left) * loess.at(3.3).norm,
                1e-9);
    EXPECT_NEAR(j["dof"].get<double>(), stats.left, 1e-9);
    const json spline =
        run("fit " + file +
            " --x x --y y --model smoothing-spline --setting smoothness=auto --predict 5 --json")
            .document();
    EXPECT_NEAR(spline["predicted"][0]["y"].get<double>(), std::sin(5), 0.05);
    EXPECT_TRUE(spline["smoothness"].is_number());
    EXPECT_THAT(run("fit " + file + " --x x --y y --model loess --predict 5").out, HasSubstr("(confidence)"));
    EXPECT_EQ(run("fit " + file + " --x x --y y --model loess --setting nothing=1").status, 2);
    EXPECT_EQ(run("fit " + write("two.csv", "x,y\n1,2\n2,3\n") + " --x x --y y --model loess").status, 4);
}

TEST_F(Cli, TellsWhatAFitCouldNotShowAndHowItMoves) {
    std::string csv = "t,level\n";
    for (int i = 0; i < 40; ++i)
        csv += fmt::format("{},{}\n", 0.25 * (i / 2),
                           4 * std::exp(-0.125 * (i / 2)) + 0.1 * std::cos(9.0 * i * i));
    const std::string file = write("decay.csv", csv);
    const Ran r = run(
        "fit " + file +
        " --x t --y level --model exponential-decay --influence --region amplitude,rate --doubt rate --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json j = r.document();
    const json& tests = j["residual_tests"];
    EXPECT_TRUE(tests["runs"]["p"].is_number() && tests["scatter"]["p"].is_number() &&
                tests["normal"]["p"].is_number());
    EXPECT_EQ(tests["lack_of_fit"]["dof"], json({17, 20}));
    EXPECT_TRUE(j["not_shown"].is_string());
    ASSERT_EQ(j["influence"].size(), 40U);
    double leverage = 0;
    for (const json& point : j["influence"]) leverage += point["leverage"].get<double>();
    EXPECT_NEAR(leverage, 3, 1e-6) << "adds up to the number of parameters";
    ASSERT_EQ(j["regions"].size(), 1U);
    EXPECT_EQ(j["regions"][0]["parameters"], json({"amplitude", "rate"}));
    EXPECT_EQ(j["regions"][0]["edge"].size(), 48U);
    ASSERT_EQ(j["doubt"].size(), 1U);
    EXPECT_THAT(j["doubt"][0]["sentence"].get<std::string>(), HasSubstr("rate"));
    EXPECT_GE(j["doubt"][0]["choices"].size(), 3U);
    const Ran text = run("fit " + file +
                         " --x t --y level --model exponential-decay --region amplitude,rate --doubt rate");
    EXPECT_THAT(text.out, HasSubstr("as chosen"));
    EXPECT_THAT(text.out, HasSubstr("(correlation "));
    EXPECT_EQ(run("fit " + file + " --x t --y level --model line --doubt nothing").status, 2);
    EXPECT_EQ(run("fit " + file + " --x t --y level --model line --region slope").status, 2);
    EXPECT_EQ(run("fit " + file + " --x t --y level --model line --region slope,nothing").status, 2);
    EXPECT_EQ(run("fit " + file + " --x t --y level --model loess --region a,b").status, 2);
}

// Asked by dates, answered by dates.
TEST_F(Cli, PredictsAtDates) {
    std::string csv = "when,level\n";
    for (int day = 1; day <= 28; ++day) csv += fmt::format("2031-02-{:02},{}\n", day, 3 + 0.5 * day + 0.1 * std::cos(9.0 * day * day));
    const std::string file = write("days.csv", csv);
    const std::string asked = "fit " + file + " --x when --y level --predict 2031-02-10 --span 2031-02-02:2031-02-26";
    const json line = run(asked + " --model line --json").document();
    EXPECT_EQ(line["n"], 25);
    EXPECT_EQ(line["time"]["unit"], "d");
    EXPECT_EQ(line["time"]["origin"], "2031-02-01T00:00:00");
    EXPECT_NEAR(line["parameters"][1]["value"].get<double>(), 0.5, 0.01) << "a day";
    EXPECT_EQ(line["predicted"][0]["x"], "2031-02-10T00:00:00");
    EXPECT_NEAR(line["predicted"][0]["y"].get<double>(), 8, 0.1);
    for (const char* model : {"line", "loess"})
        EXPECT_THAT(run(asked + " --model " + model).out, HasSubstr("at x = 2031-02-10: ")) << model;
}

TEST_F(Cli, ComparesModels) {
    std::string csv = "x,y\n";
    for (int i = 0; i < 30; ++i)
        csv += fmt::format("{},{}\n", i, 1 + 2 * i - 0.05 * i * i + 0.3 * std::cos(7.0 * i));
    const std::string file = write("curved.csv", csv);
    const Ran r = run("compare " + file +
                      " --x x --y y --model line --model polynomial-2 --equation 'a*exp(-b*x)+c' "
                      "--setting leave-out=points --json");
    EXPECT_EQ(r.status, 0) << r.err;
    const json j = r.document();
    ASSERT_EQ(j["models"].size(), 3U);
    EXPECT_EQ(j["models"][1]["model"], "polynomial-2");
    double weights = 0;
    for (const json& m : j["models"]) {
        weights += m["weight"].get<double>();
        EXPECT_TRUE(m["prediction_error"].is_number());
        EXPECT_TRUE(m["rss"].is_number() && m["aicc"].is_number() && m["bic"].is_number());
    }
    EXPECT_NEAR(weights, 1, 1e-9);
    ASSERT_GE(j["f_tests"].size(), 1U);
    EXPECT_EQ(j["f_tests"][0]["simpler"], "line");
    EXPECT_LT(j["f_tests"][0]["p"].get<double>(), 1e-6);
    EXPECT_EQ(j["models"][0]["k"], 2);
    EXPECT_THAT(run("compare " + file + " --x x --y y --model line --model polynomial-2").out,
                HasSubstr("The points speak for"));
    const json free = run("compare " + file +
                          " --x x --y y --model loess --model polynomial-2 --model smoothing-spline --json")
                          .document();
    ASSERT_EQ(free["models"].size(), 3U);
    EXPECT_EQ(free["models"][0]["model"], "loess") << "in the order in which they were given";
    for (const json& m : free["models"]) EXPECT_TRUE(m["rss"].is_number() && m["k"].get<double>() > 2);
    EXPECT_TRUE(free["models"][0]["aicc"].is_number());
    EXPECT_EQ(run("compare " + file + " --x x --y y --model loess --model smoothing-spline").status, 2)
        << "no formula";
    EXPECT_EQ(run("compare " + file + " --x x --y y --model line").status, 2);
    EXPECT_EQ(run("compare " + file + " --x x --y y --model line --model nothing").status, 2);
}

// Springs of two sorts: the first is of calcium and bicarbonate, the second sea water (its main ions).
TEST_F(Cli, WatersTellsTypesBalancesAndRatios) {
    const std::string file =
        write("w.csv", "Site,Ca (mg/L),Mg (mg/L),Na (mg/L),K (mg/L),Cl (mg/L),SO4 (mg/L),"
                       "HCO3 (mg/L),NO3-N (mg/L)\n"
                       "S1,80.2,12.2,11.5,2,17.7,28.8,274.6,1.4\n"
                       "Sea,412,1284,10783,399,19353,2712,105,<0.1\n"
                       "S3,50,,11,2,17,28,150,1\n");
    const Ran r = run("waters " + file + " --json");
    EXPECT_EQ(r.status, 1) << "one sample lacks an ion";
    EXPECT_THAT(r.err, HasSubstr("S3 (Mg)"));
    const json j = r.document();
    ASSERT_EQ(j["samples"].size(), 3U);
    const json& s1 = j["samples"][0];
    EXPECT_EQ(s1["name"], "S1");
    EXPECT_EQ(s1["type"], "Ca–HCO₃");
    EXPECT_EQ(s1["facies"], "calcium–magnesium bicarbonate");
    EXPECT_NEAR(s1["meq"]["Ca"].get<double>(), 2 * 80.2 / 40.078, 1e-9);
    EXPECT_NEAR(s1["hardness"].get<double>(), 50.043 * (2 * 80.2 / 40.078 + 2 * 12.2 / 24.305), 1e-6);
    EXPECT_EQ(j["samples"][1]["type"], "Na–Cl");
    EXPECT_EQ(j["samples"][1]["below_limit"][0], "NO3");
    EXPECT_FALSE(j["samples"][2]["placed"].get<bool>());
    EXPECT_TRUE(j["samples"][2]["balance"].is_null());
    EXPECT_EQ(run("waters " + file + " --ion Xx=Ca").status, 2);
    EXPECT_EQ(run("waters " + file + " --ion Ca=Nowhere").status, 2);
    EXPECT_EQ(run("waters " + file + " --below-limit never").status, 2);
    EXPECT_THAT(run("waters " + file + " --csv").out, HasSubstr("S1,Ca–HCO₃,"));
    EXPECT_EQ(run("waters " + write("n.csv", "a,b\n1,2\n")).status, 4);
}
