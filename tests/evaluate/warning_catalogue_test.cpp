// SPDX-License-Identifier: GPL-3.0-or-later
// The catalogue of warnings of the manual: each is made to appear in the whole way from cells to numbers, in
// the words that the manual has for it, and stays away from a sound neighbour of the same kind.
#include "evaluate/evaluator.h"
#include "project/edit.h"
#include "support/drawn.h"
#include "support/random.h"

#include <cmath>
#include <fstream>
#include <gmock/gmock.h>

using namespace jointer;

namespace {

using Points = std::pair<std::vector<double>, std::vector<double>>;

// One dataset, its protocol, one analysis.
struct Made {
    test::Drawing d;
    Analysis analysis{.kind = "fit"};

    Made(const Points& points, const char* model, std::vector<double> sigma = {}) {
        d.data(points.first, points.second, std::move(sigma));
        analysis.inputs = {{.dataset = d.p.datasets[0].id}};
        analysis.model.kind = model;
    }
    Made&& step(const char* kind, std::initializer_list<std::pair<const char*, Value>> settings) && {
        Settings all;
        for (const auto& [key, value] : settings) all.set(key, value);
        d.p = *edits::addStep(d.p.datasets[0].id, kind, all, "x").apply(d.p);
        analysis.inputs[0].point = CurvePoint::fromText("end");
        return std::move(*this);
    }
    Made&& set(const char* key, Value value) && {
        analysis.settings.set(key, std::move(value));
        return std::move(*this);
    }
    Made&& of(const char* kind) && {
        analysis.kind = kind;
        return std::move(*this);
    }
    Made&& equation(const char* text) && {
        analysis.model.settings.set("equation", Value(std::string(text)));
        return std::move(*this);
    }
    Made&& parameter(ParameterChoice choice) && {
        analysis.parameters.push_back(std::move(choice));
        return std::move(*this);
    }
    Made&& derive(const char* formula) && {
        Settings row;
        row.set("name", "t");
        row.set("formula", Value(std::string(formula)));
        analysis.settings.set("derive", Value(std::make_shared<const RowList>(RowList{row})));
        return std::move(*this);
    }
    std::vector<Issue> issues() && {
        d.p = *edits::addAnalysis(analysis).apply(d.p);
        const auto outcome = d.evaluator().analysis(d.p, d.p.analyses[0]);
        EXPECT_TRUE(outcome.exists()) << (outcome.exists() ? "" : outcome.result.error().text);
        return outcome.issues;
    }
};

Points points(int n, double noise, const std::function<double(double)>& truth, int replicates = 1) {
    test::Random random(11);
    Points out;
    for (int i = 0; i < n; ++i)
        for (int k = 0; k < replicates; ++k) {
            out.first.push_back(10.0 * i / (n - 1));
            out.second.push_back(truth(out.first.back()) + noise * random.normal());
        }
    return out;
}
double straight(double x) {
    return 1 + 2 * x;
}
double bent(double x) {
    return 3 - x + 0.2 * x * x;
}
double decaying(double x) {
    return 4 * std::exp(-0.6 * x) + 1;
}
Points withOneFarOff() {
    Points p = points(15, 0.1, straight);
    p.first.push_back(60);
    p.second.push_back(40);
    return p;
}
Points withGrowingScatter() {
    Points p = points(80, 0, straight);
    test::Random random(5);
    for (std::size_t i = 0; i < p.first.size(); ++i)
        p.second[i] += 0.1 * (0.2 + p.first[i]) * random.normal();
    return p;
}

struct Entry {
    const char* code;
    const char* inManual; // of the first column of its row
    const char* says;     // of the warning itself
    std::function<std::vector<Issue>()> broken, sound;
};

void PrintTo(const Entry& entry, std::ostream* to) {
    *to << entry.code;
}

Made line() {
    return {points(30, 0.1, straight), "line"};
}

const Entry kCatalogue[] = {
    {"not-converged", "did not converge", "did not converge",
     [] {
         return Made(points(40, 0.02, decaying), "exponential-decay-3")
             .set("iterations", Value(2.0))
             .issues();
     },
     [] { return Made(points(40, 0.02, decaying), "exponential-decay").issues(); }},
    {"on-limit", "ended on a limit", "ended on a limit",
     [] { return line().parameter({.name = "slope", .upper = 1.0}).issues(); },
     [] { return line().parameter({.name = "slope", .upper = 5.0}).issues(); }},
    {"undetermined", "the data do not determine …", "do not determine",
     [] { return Made(points(30, 0.1, straight), "equation").equation("a*b*x + c").issues(); },
     [] { return Made(points(30, 0.1, straight), "equation").equation("a*x + c").issues(); }},
    {"correlated", "go together (correlated)", "each other",
     [] { return Made(points(30, 0.3, straight), "equation").equation("a*exp(b*x) + c").issues(); },
     [] { return Made(points(30, 0.02, decaying), "equation").equation("a*exp(b*x) + c").issues(); }},
    {"residuals-not-random", "the residuals are not random", "residuals are not random",
     [] { return Made(points(40, 0.1, bent), "line").issues(); },
     [] { return Made(points(40, 0.1, bent), "polynomial-2").issues(); }},
    {"lack-of-fit", "the curve misses the replicates", "misses the replicates",
     [] { return Made(points(12, 0.3, bent, 3), "line").issues(); },
     [] { return Made(points(12, 0.3, bent, 3), "polynomial-2").issues(); }},
    {"uneven-scatter", "the scatter grows, or shrinks, with the fitted value", "scatter grows",
     [] { return Made(withGrowingScatter(), "line").issues(); }, [] { return line().issues(); }},
    {"influence", "the point at x = … decides much alone", "decides much alone",
     [] { return Made(withOneFarOff(), "line").issues(); }, [] { return line().issues(); }},
    {"too-few-points", "… points cannot fix … parameters", "cannot fix",
     [] { return Made(points(3, 0.1, bent), "polynomial-2").issues(); }, [] { return line().issues(); }},
    {"smoothed-points", "smoothed points; neighbours depend on each other", "smoothed points",
     [] {
         return line().step("smooth", {{"window", Value(7.0)}, {"degree", Value(2.0)}}).issues();
     },
     [] {
         return line().step("scale", {{"y", Value(2.0)}}).issues();
     }},
    {"correlated-points", "smoothed points; neighbours depend on each other", "depend on each other",
     [] { return line().step("integral", {}).issues(); },
     [] {
         return line().step("scale", {{"y", Value(2.0)}}).issues();
     }},
    {"common-error", "all points share the error of a reference", "share the error",
     [] {
         return Made(points(30, 0.1, straight), "line", std::vector<double>(30, 0.1))
             .step("normalise", {{"to", Value(std::string("references"))},
                                 {"zero-from", Value(std::string("span"))},
                                 {"zero-span", Value(Numbers{0, 1})},
                                 {"hundred-from", Value(std::string("span"))},
                                 {"hundred-span", Value(Numbers{9, 10})}})
             .issues();
     },
     [] { return Made(points(30, 0.1, straight), "line", std::vector<double>(30, 0.1)).issues(); }},
    {"no-uncertainty", "points without an uncertainty do not count", "without an uncertainty",
     [] {
         std::vector<double> sigma(30, 0.1);
         sigma[4] = NAN;
         return Made(points(30, 0.1, straight), "line", sigma).issues();
     },
     [] { return Made(points(30, 0.1, straight), "line", std::vector<double>(30, 0.1)).issues(); }},
    {"made-points", "points put in by a step are not fitted", "put in by a step",
     [] {
         return line()
             .step("transform", {{"y", Value(std::string("ln(y - 2)"))},
                                 {"outside", Value(std::string("replace"))},
                                 {"value", Value(0.1)}})
             .issues();
     },
     [] {
         return line()
             .step("transform", {{"y", Value(std::string("ln(y + 2)"))},
                                 {"outside", Value(std::string("replace"))},
                                 {"value", Value(0.1)}})
             .issues();
     }},
    {"r2-about-zero", "R² about zero", "R² is taken about zero",
     [] { return Made(points(30, 0.1, straight), "equation").equation("a*x").issues(); },
     [] { return Made(points(30, 0.1, straight), "equation").equation("a*x + b").issues(); }},
    {"no-value", "has no value here", "has no value here",
     [] { return Made(points(30, 0.02, decaying), "exponential-decay").derive("crossing(9)").issues(); },
     [] { return Made(points(30, 0.02, decaying), "exponential-decay").derive("crossing(2)").issues(); }},
    {"open-interval", "the interval is open", "is open",
     [] {
         return Made(points(10, 0.5, [](double x) { return x < 1 ? 1.5 : 1; }), "exponential-decay")
             .set("interval", Value(std::string("profile")))
             .issues();
     },
     [] {
         return Made(points(40, 0.02, decaying), "exponential-decay")
             .set("interval", Value(std::string("profile")))
             .issues();
     }},
    {"pattern", "the curve is too smooth", "too smooth",
     [] {
         return Made(points(60, 0.02, [](double x) { return std::sin(3 * x); }), "")
             .of("free-curve")
             .set("fraction", Value(0.8))
             .issues();
     },
     [] { return Made(points(60, 0.1, bent), "").of("free-curve").issues(); }},
};

std::string manual() {
    std::ifstream in(std::string(JOINTER_SOURCE_DIR) + "/docs/manual/fitting.md");
    return {std::istreambuf_iterator<char>(in), {}};
}

} // namespace

class WarningCatalogue : public testing::TestWithParam<Entry> {};

TEST_P(WarningCatalogue, AppearsWhereItHelpsAndNotElsewhere) {
    const Entry& entry = GetParam();
    const auto broken = entry.broken(), sound = entry.sound();
    const auto at = std::ranges::find(broken, entry.code, &Issue::code);
    std::string all;
    for (const Issue& i : broken) all += i.code + ": " + i.text + "\n";
    ASSERT_NE(at, broken.end()) << all;
    EXPECT_THAT(at->text, testing::HasSubstr(entry.says));
    for (const Issue& i : sound) EXPECT_NE(i.code, entry.code) << i.text;
    EXPECT_THAT(manual(), testing::HasSubstr("\n| " + std::string(entry.inManual)))
        << "its row in the manual";
}

INSTANTIATE_TEST_SUITE_P(All, WarningCatalogue, testing::ValuesIn(kCatalogue), [](const auto& one) {
    std::string name = one.param.code;
    std::erase(name, '-');
    return name;
});
