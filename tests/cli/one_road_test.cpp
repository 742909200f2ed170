// SPDX-License-Identifier: GPL-3.0-or-later
// The command line and the window come to the same fit: over random tables the numbers of `fit --json` are
// those of a project into which the file was imported.
#include "run_cli.h"
#include "support/fitted.h"

#include "evaluate/evaluator.h"
#include "io/reader.h"
#include "session/import.h"
#include "session/session.h"

#include <cmath>
#include <fmt/format.h>
#include <random>

using namespace jointer;
using namespace jointer::test;

namespace {

struct Case {
    std::string text;
    std::size_t replicates;
    bool sigma, absolute;
};

// An unsorted table of a bent curve, with gaps in any column.
Case randomCase(std::mt19937& random) {
    auto below = [&](unsigned n) { return random() % n; };
    Case c{
        .text = "dose,y1,y2,y3,sd\n", .replicates = 1 + below(3), .sigma = below(2) == 0, .absolute = false};
    c.absolute = c.sigma && below(2) == 0;
    for (int i = 0; i < 30; ++i) {
        const double x = 0.1 + 0.1 * below(80);
        auto cell = [&](double value) {
            return below(12) == 0 ? std::string() : fmt::format("{:.4f}", value);
        };
        const double y = 2 + 3 * x - 0.4 * x * x;
        c.text +=
            fmt::format("{},{},{},{},{}\n", cell(x), cell(y + 0.01 * below(100)), cell(y + 0.01 * below(100)),
                        cell(y - 0.01 * below(100)), cell(0.1 + 0.01 * below(50)));
    }
    return c;
}

// As the window does it: the file imported, columns given their places, a fit added.
test::Fitted fitOfWindow(const std::string& file, const Case& c) {
    Session session;
    session.start(newProject("t"));
    const auto reading = io::readFileAs(file, {});
    EXPECT_TRUE(session.apply(importEdit(*reading, {}, "t")));
    const Table table = *session.project().tables.find(session.project().tables[0].id);
    Dataset d{.name = "t", .source = {.table = table.id}};
    d.source.roles.push_back({Role::X, table.columns[0].id});
    for (std::size_t k = 1; k <= c.replicates; ++k) d.source.roles.push_back({Role::Y, table.columns[k].id});
    if (c.sigma) d.source.roles.push_back({Role::YError, table.columns[4].id});
    EXPECT_TRUE(session.apply(edits::addDataset(d)));
    Analysis a{.inputs = {{.dataset = session.project().datasets[session.project().datasets.size() - 1].id,
                           .span = Span(0.5, 7)}}};
    a.model.kind = "line";
    if (c.sigma && !c.absolute) a.inputs[0].weights.set("weights", "relative");
    EXPECT_TRUE(session.apply(edits::addAnalysis(a)));
    return test::fitOf(session.evaluator(), session.project(), session.project().analyses[0]);
}

} // namespace

TEST_F(Cli, FitsAsTheWindowDoes) {
    std::mt19937 random(7);
    for (int k = 0; k < 24; ++k) {
        const Case c = randomCase(random);
        const std::string file = write("road.csv", c.text);
        std::string arguments = "fit " + file + " --x dose --model line --span 0.5:7 --json";
        for (std::size_t r = 1; r <= c.replicates; ++r) arguments += fmt::format(" --y y{}", r);
        if (c.sigma) arguments += " --sigma sd";
        if (c.absolute) arguments += " --absolute";
        const Ran ran = run(arguments);
        const test::Fitted window = fitOfWindow(file, c);
        ASSERT_TRUE(window.good()) << c.text;
        const json j = ran.document();
        EXPECT_EQ(j["n"], window.report->n) << arguments << "\n" << c.text;
        EXPECT_EQ(j["rss"], window.report->rss) << arguments;
        for (std::size_t p = 0; p < 2; ++p) {
            EXPECT_EQ(j["parameters"][p]["value"], window.one().parameters[p].value) << arguments;
            EXPECT_EQ(j["parameters"][p]["se"], window.one().parameters[p].se) << arguments;
        }
        ASSERT_GE(j["warnings"].size(), window.outcome.issues.size()) << arguments; // the reader may warn too
        for (std::size_t w = 0; w < window.outcome.issues.size(); ++w)
            EXPECT_EQ(j["warnings"][w], window.outcome.issues[w].text) << arguments;
    }
}

TEST_F(Cli, SaysWhichPointsAFitCannotUse) {
    const std::string file =
        write("holes.csv", "x,x2,y,sd\n1,1,2.1,0.1\n2,1,3.9,\n3,2,6.2,0.1\n4,2,7.8,0.2\n5,3,10.1,0.1\n");
    const Ran weighted = run("fit " + file + " --x x --y y --sigma sd --model line --json");
    EXPECT_EQ(weighted.document()["n"], 4);
    EXPECT_THAT(weighted.err, testing::HasSubstr("1 point without an uncertainty does not count"));
    const Ran two = run("fit " + file + " --x x --x x2 --y y --model line --json");
    EXPECT_THAT(two.err, testing::HasSubstr("only the first column of x is used"));
    EXPECT_EQ(run("fit " + file + " --x x --x x2 --y y --equation 'a+b*x1+c*x2' --json").document()["n"], 5);
}

// The same points as columns beside each other and as rows with the name of their group: the same numbers.
TEST_F(Cli, SeparateColumnsAndGroupsOfRowsAreTheSameFit) {
    std::mt19937 random(11);
    std::normal_distribution<double> noise(0, 0.05);
    for (int k = 0; k < 6; ++k) {
        std::string wide = "t,A,B,C\n", rows = "tank,t,y\n";
        for (int i = 0; i < 15; ++i) {
            const double t = 0.4 * i;
            wide += fmt::format("{}", t);
            for (const auto& [name, start] :
                 {std::pair("A", 5.0), std::pair("B", 3.0), std::pair("C", 2.0)}) {
                const double y = start * std::exp(-(0.4 + 0.05 * k) * t) + 1 + noise(random);
                wide += fmt::format(",{:.5f}", y);
                rows += fmt::format("{},{},{:.5f}\n", name, t, y);
            }
            wide += "\n";
        }
        const std::string fit =
            " --model exponential-decay --shared rate --derive 'tau = 1/rate' --predict 2 --json";
        const json a = run("fit " + write("wide.csv", wide) + " --x t --y A --y B --y C --separate" + fit)
                           .document(),
                   b = run("fit " + write("rows.csv", rows) + " --x t --y y --group tank" + fit).document();
        for (const char* member : {"parameters", "derived", "predicted", "comparison", "rss", "dof", "aicc"})
            EXPECT_EQ(a[member], b[member]) << member;
        ASSERT_EQ(a["parameters"].size(), 7U);
        int shared = 0;
        for (const json& p : a["parameters"]) shared += p["member"].is_null();
        EXPECT_EQ(shared, 1);
        EXPECT_EQ(a["predicted"].size(), 3U);
        EXPECT_EQ(a["comparison"]["dof"], json::array({2.0, 36.0}));
    }
}

// Weights by several roads: a column of 1/σ² is a column of σ, 1/y² is σ = |y|, 1/y is σ = √y, counts are
// absolute.
TEST_F(Cli, WeightsByEveryRoadAreTheSame) {
    std::string text = "x,y,s,w,absolute,root\n";
    for (int i = 1; i <= 14; ++i) {
        const double y = std::round(1e4 * (3 + 2 * i + 0.3 * std::sin(5.3 * i))) / 1e4,
                     s = 0.1 + 0.05 * (i % 4);
        text += fmt::format("{},{},{},{:.17g},{},{:.17g}\n", i, y, s, 1 / (s * s), y, std::sqrt(y));
    }
    const std::string base = "fit " + write("w.csv", text) + " --x x --y y --model line --json";
    auto same = [&](const std::string& one, const std::string& other) {
        const json a = run(base + one).document(), b = run(base + other).document();
        for (std::size_t k = 0; k < 2; ++k)
            for (const char* number : {"value", "se"})
                EXPECT_NEAR(a["parameters"][k][number].get<double>(),
                            b["parameters"][k][number].get<double>(), 1e-10)
                    << one << " and " << other;
        EXPECT_EQ(a["chi2"].is_null(), b["chi2"].is_null()) << one;
    };
    same(" --weights column:w", " --sigma s");
    same(" --weights 1/y2", " --sigma absolute");
    same(" --weights 1/y", " --sigma root");
    same(" --weights counting", " --sigma root --absolute");
    same(" --weights none", "");
    same(" --sigma s --weights absolute", " --sigma s --absolute");
    EXPECT_EQ(run(base + " --weights sometimes").status, 2);
    EXPECT_EQ(run(base + " --weights absolute").status, 2) << "there are no uncertainties";
}
