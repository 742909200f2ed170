// SPDX-License-Identifier: GPL-3.0-or-later
// Commands with options at random, sensible and not: each ends with a status of the contract, gives one whole
// document or none, and says what is wrong. The options are those that the help of each command tells.
// JOINTER_ARGUMENTS=2000 tries so many.
#include "run_cli.h"

#include <cstdlib>
#include <random>
#include <regex>

using namespace jointer::test;

namespace {

class Arguments {
public:
    Arguments(std::uint64_t seed, std::vector<std::string> files) : random_(seed), files_(std::move(files)) {}

    std::string pick(const std::vector<std::string>& from) { return from[random_() % from.size()]; }
    bool chance(double p) { return std::uniform_real_distribution<double>(0, 1)(random_) < p; }

    std::string value() {
        static const std::vector<std::string> all = {"x",
                                                     "y",
                                                     "u",
                                                     "1",
                                                     "0",
                                                     "-1",
                                                     "2.5",
                                                     "1e300",
                                                     "nan",
                                                     "''",
                                                     "'a*exp(-b*x)+c'",
                                                     "line",
                                                     "gaussian",
                                                     "logistic-4",
                                                     "'a=1'",
                                                     "'a=b'",
                                                     "'fwhm=0.1:2'",
                                                     "1:3",
                                                     "3:1",
                                                     ":",
                                                     "','",
                                                     "tab",
                                                     "comma",
                                                     "none",
                                                     "all",
                                                     "0.95",
                                                     "95",
                                                     "'smooth window=5'",
                                                     "'baseline method=als'",
                                                     "'nothing at=all'",
                                                     "constant",
                                                     "µ",
                                                     "'“'",
                                                     "--",
                                                     "1/2",
                                                     "5/2",
                                                     "csv",
                                                     "'x,y'",
                                                     "'1,2,3'",
                                                     "absolute",
                                                     "relative",
                                                     "auto"};
        return chance(0.15) ? pick(files_) : pick(all);
    }
    // A command line: its file mostly where one is due, some options, some of them with a value.
    std::string line(const std::string& command, const std::vector<std::string>& options) {
        std::string out = command;
        if (chance(0.9)) out += " " + pick(files_);
        if (chance(0.5)) out += " --x x --y y";
        for (std::size_t k = random_() % 5; k > 0; --k) {
            out += " " + pick(options);
            if (chance(0.7)) out += " " + value();
        }
        return out;
    }

private:
    std::mt19937_64 random_;
    std::vector<std::string> files_;
};

} // namespace

TEST_F(Cli, AnyArgumentsEndWithAStatusAndAWholeDocument) {
    const std::string good =
        write("good.csv", "x,y,u\n1,2.1,0.1\n2,3.9,0.1\n3,6.2,0.2\n4,7.8,0.1\n5,10.1,0.1\n6,11.8,0.1\n");
    const std::vector<std::string> files = {good,
                                            good,
                                            good,
                                            write("words.txt", "no numbers here\n"),
                                            write("none.csv", ""),
                                            path("not there.csv"),
                                            path("shell_7d.csv"),
                                            "''"};
    const std::vector<std::string> commands = {"read",   "stats",  "fit",       "peaks",   "analyse",
                                               "models", "clean",  "steps",     "export",  "check",
                                               "apply",  "recipe", "reference", "nonsense"};
    std::map<std::string, std::vector<std::string>> options;
    const std::regex told("--[a-z][a-z0-9-]*");
    for (const std::string& command : commands) {
        const std::string help = run(command + " --help").out;
        for (std::sregex_iterator at(help.begin(), help.end(), told), end; at != end; ++at)
            if (at->str() != "--watch" && at->str() != "--out" && at->str() != "--to")
                options[command].push_back(at->str());
        options[command].emplace_back("--json");
        options[command].emplace_back("--unheard-of");
    }
    EXPECT_GT(options["fit"].size(), 12U);
    const char* more = std::getenv("JOINTER_ARGUMENTS");
    const int trials = more ? std::atoi(more) : 160;
    std::map<int, int> statuses;
    for (int trial = 0; trial < trials; ++trial) {
        Arguments arguments(static_cast<std::uint64_t>(trial) + 1, files);
        const std::string command = commands[static_cast<std::size_t>(trial) % commands.size()];
        const std::string line = arguments.line(command, options[command]);
        const Ran r = run(line + " < /dev/null");
        ++statuses[r.status];
        SCOPED_TRACE("trial " + std::to_string(trial) + ": " + line);
        EXPECT_GE(r.status, 0);
        EXPECT_LE(r.status, 5) << r.err;
        EXPECT_EQ(r.err.find("terminate"), std::string::npos) << r.err;
        if (r.status >= 2) {
            EXPECT_FALSE(r.err.empty() && r.out.empty()) << "nothing is said";
        }
        const bool asJson = line.find("--json") != std::string::npos &&
                            line.find("--help") == std::string::npos &&
                            line.find("--version") == std::string::npos;
        if (asJson && !r.out.empty()) {
            EXPECT_TRUE(json::accept(r.out)) << r.out.substr(0, 300);
        }
    }
    EXPECT_GT(statuses[0], trials / 20) << "some are good";
    EXPECT_GT(statuses[2], trials / 10) << "and some are not";
}
