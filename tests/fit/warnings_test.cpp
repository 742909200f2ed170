// SPDX-License-Identifier: GPL-3.0-or-later
// Warnings help only where they are rare and right: over a thousand sound fits hardly any, over broken ones nearly always
// the one that names what is wrong.
#include "fit/residual_tests.h"

#include "models/catalogue.h"
#include "support/random.h"

#include <cmath>
#include <gtest/gtest.h>
#include <map>
#include <set>

using namespace jointer;
using namespace jointer::fit;
using test::Random;

namespace {

struct Case {
    const char* model;
    double (*truth)(double);
};

const Case kSound[] = {{"line", [](double x) { return 1 + 2 * x; }},
                       {"polynomial-2", [](double x) { return 3 - x + 0.2 * x * x; }},
                       {"exponential-decay", [](double x) { return 4 * std::exp(-0.6 * x) + 1; }},
                       {"gaussian", [](double x) { return 5 * std::exp(-std::pow((x - 5) / 1.2, 2)); }},
                       {"exponential-growth", [](double x) { return 0.5 * std::exp(0.25 * x); }}};

FitProblem problemOf(const char* model, const std::vector<double>& x, const std::vector<double>& y) {
    return {.members = {{.model = *models::makeModel(model, {}), .predictors = {x}, .y = y}}};
}

std::set<std::string> saidOf(const FitProblem& p) {
    std::set<std::string> codes;
    const auto r = fit::fit(p);
    if (!r) return {"error"};
    for (const Issue& w : r->warnings) codes.insert(w.code);
    for (const Issue& w : doubtsOf(residualTests(p, *r, influencesOf(p, *r)), p)) codes.insert(w.code);
    if (const auto point = decidingPoint(p, *r, influenceOf(p, *r))) codes.insert(point->code);
    return codes;
}

// Points from 0 to 10 about a curve.
std::pair<std::vector<double>, std::vector<double>> pointsOf(Random& random, int n, double noise, double (*truth)(double)) {
    std::vector<double> x, y;
    for (int i = 0; i < n; ++i) {
        x.push_back(10.0 * i / (n - 1));
        y.push_back(truth(x.back()) + noise * random.normal());
    }
    return {x, y};
}

} // namespace

TEST(Warnings, AreRareOnSoundFits) {
    Random random(1);
    int said = 0;
    std::map<std::string, int> each;
    for (int round = 0; round < 1000; ++round) {
        const Case& c = kSound[round % std::size(kSound)];
        auto [x, y] = pointsOf(random, 20 + round % 60, 0.1, c.truth);
        if (round % 3 == 0) // in duplicate
            for (std::size_t i = 0, n = x.size(); i < n; ++i) x.push_back(x[i]), y.push_back(c.truth(x[i]) + 0.1 * random.normal());
        const auto codes = saidOf(problemOf(c.model, x, y));
        said += !codes.empty();
        for (const std::string& code : codes) ++each[code];
    }
    std::string told;
    for (const auto& [code, n] : each) told += code + " " + std::to_string(n) + "; ";
    EXPECT_LE(said, 20) << "two in a hundred: " << told;
}

TEST(Warnings, NameWhatIsWrongWithBrokenFits) {
    Random random(2);
    const int rounds = 100;
    int pattern = 0, undetermined = 0, few = 0, point = 0, uneven = 0, lack = 0;
    for (int round = 0; round < rounds; ++round) {
        { // a line through what is bent
            const auto [x, y] = pointsOf(random, 40, 0.1, kSound[1].truth);
            pattern += saidOf(problemOf("line", x, y)).contains("residuals-not-random");
        }
        { // two decays where there is one
            const auto [x, y] = pointsOf(random, 30, 0.02, kSound[2].truth);
            const auto codes = saidOf(problemOf("exponential-decay-3", x, y));
            undetermined += codes.contains("undetermined") || codes.contains("correlated") || codes.contains("not-converged") ||
                            codes.contains("on-limit");
        }
        { // as many parameters as points
            const auto [x, y] = pointsOf(random, 3, 0.1, kSound[1].truth);
            few += saidOf(problemOf("polynomial-2", x, y)).contains("too-few-points");
        }
        { // one point far away and off
            auto [x, y] = pointsOf(random, 15, 0.1, kSound[0].truth);
            x.push_back(60), y.push_back(40 + random.normal());
            point += saidOf(problemOf("line", x, y)).contains("influence");
        }
        { // a scatter that grows from a fiftieth to one
            auto [x, y] = pointsOf(random, 80, 0, kSound[0].truth);
            for (std::size_t i = 0; i < x.size(); ++i) y[i] += 0.1 * (0.2 + x[i]) * random.normal();
            uneven += saidOf(problemOf("line", x, y)).contains("uneven-scatter");
        }
        { // replicates on a bent curve
            auto [x, y] = pointsOf(random, 12, 0, kSound[1].truth);
            std::vector<double> xs, ys;
            for (std::size_t i = 0; i < 3 * x.size(); ++i) {
                xs.push_back(x[i / 3]);
                ys.push_back(y[i / 3] + 0.3 * random.normal());
            }
            lack += saidOf(problemOf("line", xs, ys)).contains("lack-of-fit");
        }
    }
    EXPECT_GE(uneven, 95);
    EXPECT_GE(lack, 95);
    EXPECT_GE(pattern, 95);
    EXPECT_GE(undetermined, 95);
    EXPECT_GE(few, 95);
    EXPECT_GE(point, 95);
}
