// SPDX-License-Identifier: GPL-3.0-or-later
// `scatter` by its contract: the curve alone, a fit, what it says of wrong input.
#include "run_cli.h"

#include <cmath>
#include <fmt/format.h>

using namespace jointer::test;

class CliScatter : public Cli {
protected:
    std::string qFile(int points = 60) {
        std::string text = "q,I,dq\n";
        for (int k = 0; k < points; ++k) {
            const double q = 0.004 * std::pow(70.0, double(k) / (points - 1));
            text += fmt::format("{:.8g},1,{:.8g}\n", q, 0.03 * q);
        }
        return write("q.csv", text);
    }
};

// I(0) = 10⁸·φ·Δρ²·V in cm⁻¹ for lengths in Å; the same particle in nanometres.
TEST_F(CliScatter, EvaluatesWithoutAFit) {
    const std::string file = qFile();
    const std::string radius = "radius=100,volume_fraction=0.01,contrast=2e-6,background=0";
    const json c = run("scatter " + file + " --x q --y I --form sphere --q-unit 1/A --evaluate \"" + radius +
                       "\" --json")
                       .document()["curve"];
    ASSERT_EQ(c["q"].size(), 60U);
    for (std::size_t i = 0; i < 60; ++i) {
        const double q = c["q"][i], x = 100 * q;
        const double truth = 1e8 * 0.01 * 4e-12 * 4 * M_PI / 3 * 1e6 *
                             std::pow(3 * (std::sin(x) - x * std::cos(x)) / (x * x * x), 2);
        EXPECT_NEAR(c["intensity"][i], truth, 1e-9 * truth + 1e-12);
        EXPECT_EQ(c["structure"][i], 1.0);
        EXPECT_EQ(c["unsmeared"][i], c["intensity"][i]);
    }
    const json s =
        run("scatter " + file +
            " --x q --y I --dq dq --form sphere --distribution schulz --structure hard-sphere --coupling "
            "local --q-unit 1/A --evaluate \"radius=100,sd=10,volume_fraction=0.2,contrast=2e-6\" --json")
            .document()["curve"];
    EXPECT_NEAR(s["structure"][0].get<double>(), std::pow(0.8, 4) / std::pow(1.4, 2), 0.02);
    EXPECT_NE(s["unsmeared"][40], s["intensity"][40]);
}

TEST_F(CliScatter, FitsWhatItHasEvaluated) {
    const std::string file = qFile(120);
    const std::string how =
        " --form sphere --distribution gaussian --structure hard-sphere --dq dq --q-unit 1/A ";
    const json c =
        run("scatter " + file + " --x q --y I" + how +
            "--evaluate \"radius=80,sd=9,volume_fraction=0.12,contrast=1e-6,background=0.01\" --json")
            .document()["curve"];
    std::string text = "q,I,dI,dq\n";
    for (std::size_t i = 0; i < c["q"].size(); ++i) {
        const double q = c["q"][i], y = c["intensity"][i];
        text += fmt::format("{:.10g},{:.10g},{:.5g},{:.8g}\n", q,
                            y * (1 + 0.01 * std::sin(double(i * i) * 1.3)), 0.02 * y, 0.03 * q);
    }
    const Ran r = run("scatter " + write("d.csv", text) + " --x q --y I --sigma dI" + how + "--json");
    ASSERT_EQ(r.status, 0) << r.err;
    const json d = r.document();
    std::map<std::string, double> found;
    for (const json& p : d["parameters"]) found[p["name"]] = p["value"];
    EXPECT_NEAR(found["radius"], 80, 0.5);
    EXPECT_NEAR(found["sd"], 9, 0.3);
    EXPECT_NEAR(found["volume_fraction"], 0.12, 0.003);
    EXPECT_EQ(found["contrast"], 1e-6);
    // Few by few, with one held: a start of what is known holds it there.
    const Ran held = run("scatter " + path("d.csv") + " --x q --y I --sigma dI" + how +
                         "--start contrast=2e-6 --fix sd=9 --release radius,volume_fraction --json");
    ASSERT_LE(held.status, 1) << held.err;
    for (const json& p : held.document()["parameters"])
        if (p["name"] == "contrast") {
            EXPECT_EQ(p["value"], 2e-6);
        }
}

TEST_F(CliScatter, SaysWhatItNeeds) {
    const std::string file = qFile();
    const auto wrong = [&](const std::string& arguments) {
        return run("scatter " + file + " --x q " + arguments);
    };
    EXPECT_EQ(wrong("--y I --form cube").status, 2);
    EXPECT_THAT(wrong("--y I --form cube").err, testing::HasSubstr("core-shell"));
    EXPECT_EQ(wrong("").status, 2);
    EXPECT_THAT(wrong("--evaluate \"volume_fraction=0.1\"").err, testing::HasSubstr("radius"));
    EXPECT_THAT(wrong("--evaluate \"radius=10,volume_fraction=0.1,size=3\"").err,
                testing::HasSubstr("no parameter called size"));
    EXPECT_EQ(wrong("--y I --dq none --evaluate \"radius=10,volume_fraction=0.1\"").status, 2);
    EXPECT_NE(wrong("--y I --distribution bimodal").status, 0);
}
