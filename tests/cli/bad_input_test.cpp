// SPDX-License-Identifier: GPL-3.0-or-later
// Bad input on the command line: never a crash, never half a document, and a sentence that says what to do.
#include "run_cli.h"

using namespace jointer::test;
using testing::HasSubstr;

namespace {

struct Case {
    const char* arguments; // {} stands for a good file
    int status;
    const char* says;
};

} // namespace

TEST_F(Cli, SaysWhatIsWrongWithItsArguments) {
    const std::string good =
        write("good.csv", "x,y,u\n1,2.1,0.1\n2,3.9,0.1\n3,6.2,0.2\n4,7.8,0.1\n5,10.1,0.1\n");
    const Case all[] = {
        {"fit {} --x x --y y --model line --level 2", 2, "level"},
        {"fit {} --x q --y y --model line", 2, "“q”"},
        {"fit {} --x x --y y --model line --equation 'a*x'", 2, "--equation"},
        {"fit {} --x x --y y --equation 'a*(x'", 2, "parenthesis"},
        {"fit {} --x x --y y --equation 'a*x+$'", 2, "$"},
        {"fit {} --x x --y y --equation 'sin(x)'", 2, "parameter"},
        {"fit {} --x x --y y --equation 'log(x)*a'", 2, "log10"},
        {"fit {} --x x --y y --model line --start 'slope'", 2, "="},
        {"fit {} --x x --y y --model line --start 'slope=abc'", 2, "abc"},
        {"fit {} --x x --y y --model line --limits 'slope=5'", 2, ":"},
        {"fit {} --x x --y y --model line --span 5", 2, ":"},
        {"fit {} --x x --y y --model line --set nothing=1", 2, "nothing"},
        {"fit {} --x x --y y --model gaussian --set base=cubic", 2, "cubic"},
        {"fit {} --x x --y y --model line --predict 1,b", 2, "b"},
        {"stats {}", 2, "column"},
        {"stats {} --column nothing", 2, "nothing"},
        {"read {} --separator xyz", 2, "separator"},
        {"read {} --encoding klingon", 2, "klingon"},
        {"read {} --heading first", 2, "first"},
        {"read {} --units -3", 2, "units"},
        {"read {} --table 7", 2, "--table"},
        {"read {} --json --csv", 2, "--csv"},
        {"export {} --figure x --to y.pdf", 3, "project"},
        {"models --wrong", 2, "--wrong"},
    };
    for (const Case& c : all) {
        std::string arguments = c.arguments;
        if (const auto at = arguments.find("{}"); at != std::string::npos) arguments.replace(at, 2, good);
        const Ran r = run(arguments);
        EXPECT_EQ(r.status, c.status) << arguments << "\n" << r.err;
        EXPECT_THAT(r.err, HasSubstr(c.says)) << arguments;
        EXPECT_EQ(r.out, "") << arguments << ": a partial document";
    }
}

TEST_F(Cli, SaysWhatIsWrongWithFiles) {
    std::string binary;
    for (int i = 0; i < 4000; ++i) binary += static_cast<char>(i * 7 % 256);
    const std::pair<std::string, std::string> all[] = {
        {path("missing.csv"), "missing.csv"},
        {folder_.string(), folder_.filename().string()},
        {write("empty.csv", ""), "empty.csv"},
        {write("blank.csv", " \n\t\n"), "blank.csv"},
        {write("binary.dat", binary), "not a text file"},
    };
    for (const auto& [file, says] : all)
        for (const std::string& command : {"read " + file + " --json", "stats " + file + " --column y",
                                           "fit " + file + " --x x --y y --model line"}) {
            const Ran r = run(command);
            EXPECT_EQ(r.status, 3) << command << "\n" << r.err;
            EXPECT_THAT(r.err, HasSubstr(says)) << command;
            if (command.ends_with("--json")) // one whole document that says the same
                EXPECT_TRUE(nlohmann::json::parse(r.out)["tables"].empty()) << command;
            else
                EXPECT_EQ(r.out, "") << command;
        }
}

// Numbers that cannot be fitted are no crash: too few points, no scatter, a column of words.
TEST_F(Cli, HopelessFitsEndInWords) {
    const std::pair<const char*, const char*> files[] = {
        {"one point", "x,y\n1,2\n"},
        {"two equal points", "x,y\n1,2\n1,2\n"},
        {"a constant", "x,y\n1,5\n2,5\n3,5\n4,5\n5,5\n6,5\n"},
        {"missing everywhere", "x,y\n1,NA\n2,NA\n3,NA\n"},
        {"huge numbers", "x,y\n1e300,1e300\n2e300,-1e300\n3e300,1e300\n4e300,1e299\n5e300,3e300\n"},
        {"tiny numbers", "x,y\n1e-300,1e-300\n2e-300,2e-300\n3e-300,1e-300\n4e-300,4e-300\n5e-300,3e-300\n"}};
    for (const auto& [what, text] : files)
        for (const char* model :
             {"line", "polynomial-3", "gaussian", "logistic-4", "exponential-decay", "power", "lorentzian"}) {
            const Ran r = run("fit " + write("f.csv", text) + " --x x --y y --model " + model + " --json");
            EXPECT_TRUE(r.status == 0 || r.status == 1 || r.status == 2 || r.status == 4)
                << what << ", " << model << ": " << r.status;
            EXPECT_TRUE(r.status == 0 || !r.err.empty()) << what << ", " << model;
            if (r.status <= 1) {
                EXPECT_TRUE(nlohmann::json::accept(r.out)) << what << ", " << model << "\n" << r.out;
            }
        }
}

TEST_F(Cli, ReadTakesWhatItIsTold) {
    const std::string file = write("odd.txt", "pond survey\nsite;value\n;mg/L\nA;1,5\nB;-999\nC;2,5\n");
    const auto j = run("read " + file +
                       " --separator ';' --decimal , --heading 2 --units 3 --first 4 --missing=-999 --json")
                       .document();
    const auto& columns = j["tables"][0]["columns"];
    EXPECT_EQ(columns[0]["name"], "site");
    EXPECT_EQ(columns[1]["unit"], "mg/L");
    EXPECT_EQ(columns[1]["values"][0], 1.5);
    EXPECT_TRUE(columns[1]["values"][1].is_null());
    EXPECT_EQ(j["tables"][0]["rows"], 3);
    EXPECT_THAT(run("read " + write("n.csv", "1;2\n3;4\n") + " --heading none --csv").out,
                HasSubstr("1,2\r\n3,4"));
}

TEST_F(Cli, HelpIsQuickAndEveryCommandHasIt) {
    for (const char* command : {"", "read", "stats", "fit", "models", "export", "check"}) {
        const Ran r = run(std::string(command) + " --help");
        EXPECT_EQ(r.status, 0) << command;
        EXPECT_THAT(r.out, HasSubstr("Usage")) << command;
    }
}
