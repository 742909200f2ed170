// SPDX-License-Identifier: GPL-3.0-or-later
// Samples read on standard curves: errors against their closed forms, intervals against the truth in
// simulation, and what cannot be read said as such.
#include "analyses/unknowns/unknowns.h"
#include "evaluate/evaluator.h"
#include "fit/fit.h"
#include "project/edit.h"

#include <array>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::analyses;

namespace {

const double kOpen = std::nan("");

// A plate: standards and samples as rows of one table, so many reading columns.
struct Plate {
    std::vector<double> x;
    std::vector<std::vector<double>> y{2};
    std::vector<std::string> names;
    std::vector<double> dilution;
    ModelNode model{.kind = "line"};
    std::string weights = "none", interval = "slope";
    bool rank = false, drift = false;
    Project project;
    std::shared_ptr<evaluate::Evaluator> evaluator = std::make_shared<evaluate::Evaluator>();
    evaluate::AnalysisOutcome outcome;

    void row(const std::string& name, double at, std::vector<double> readings, double dilutedBy = 1) {
        names.push_back(name);
        x.push_back(at);
        y.resize(readings.size());
        for (std::size_t k = 0; k < readings.size(); ++k) y[k].push_back(readings[k]);
        dilution.push_back(dilutedBy);
    }

    const UnknownsDetail& read() {
        Table t{.name = "plate"};
        t.columns = {textColumn("name", names), numberColumn("conc", "mg/L", x),
                     numberColumn("dilution", "", dilution)};
        for (std::size_t k = 0; k < y.size(); ++k)
            t.columns.push_back(numberColumn("A" + std::to_string(k), "", y[k]));
        project = *edits::addTable(t).apply(Project());
        const Table& own = project.tables[0];
        Dataset standards{.name = "standards", .source = {.kind = "columns", .table = own.id}};
        standards.source.roles = {{Role::X, own.columns[1].id}};
        for (std::size_t k = 3; k < own.columns.size(); ++k)
            standards.source.roles.push_back({Role::Y, own.columns[k].id});
        standards.source.roles.push_back({Role::Label, own.columns[0].id});
        standards.source.roles.push_back({Role::Companion, own.columns[2].id, "dilution"});
        project = *edits::addDataset(standards).apply(project);
        Analysis fit{.kind = "fit", .inputs = {{.dataset = project.datasets[0].id}}, .model = model};
        fit.inputs[0].weights.set("weights", Value(weights));
        project = *edits::addAnalysis(fit).apply(project);
        Analysis unknowns{.kind = "unknowns",
                          .inputs = {{.dataset = project.datasets[0].id}},
                          .analyses = {project.analyses[0].id}};
        unknowns.settings.set("interval", Value(interval));
        unknowns.settings.set("rank", Value(rank));
        unknowns.settings.set("drift", Value(drift));
        project = *edits::addAnalysis(unknowns).apply(project);
        outcome = evaluator->analysis(project, project.analyses[1]);
        if (!outcome.exists()) throw std::runtime_error(outcome.result.error().text);
        return *unknownsDetail(*outcome);
    }
};

struct Line { // least squares by hand
    double n = 0, a = 0, b = 0, mean = 0, sxx = 0, s = 0;
    Line(const std::vector<double>& x, const std::vector<double>& y) {
        n = static_cast<double>(x.size());
        double my = 0, sxy = 0, rss = 0;
        for (std::size_t i = 0; i < x.size(); ++i) mean += x[i] / n, my += y[i] / n;
        for (std::size_t i = 0; i < x.size(); ++i)
            sxx += (x[i] - mean) * (x[i] - mean), sxy += (x[i] - mean) * (y[i] - my);
        b = sxy / sxx, a = my - b * mean;
        for (std::size_t i = 0; i < x.size(); ++i) rss += std::pow(y[i] - a - b * x[i], 2);
        s = std::sqrt(rss / (n - 2));
    }
};

Plate linePlate(std::mt19937_64& random, std::size_t replicates, double noise, Line* line = nullptr) {
    std::normal_distribution<double> normal(0, noise);
    Plate p;
    std::vector<double> xs, ys;
    for (double x : {0.0, 1.0, 2.0, 4.0, 7.0, 10.0}) {
        std::vector<double> readings;
        for (std::size_t k = 0; k < replicates; ++k) {
            readings.push_back(0.05 + 0.1 * x + normal(random));
            xs.push_back(x), ys.push_back(readings.back());
        }
        p.row("S", x, readings);
    }
    if (line) *line = Line(xs, ys);
    return p;
}

} // namespace

TEST(Unknowns, ErrorsOnALineAreTheClosedForm) {
    std::mt19937_64 random(3);
    for (std::size_t m : {1U, 2U, 3U}) {
        Line line({0, 1}, {0, 1});
        Plate p = linePlate(random, m, 0.004, &line);
        std::normal_distribution<double> normal(0, 0.004);
        for (double x : {0.5, 3.0, 9.5}) {
            std::vector<double> readings;
            for (std::size_t k = 0; k < m; ++k) readings.push_back(0.05 + 0.1 * x + normal(random));
            p.row("U" + std::to_string(x), kOpen, readings, 5);
        }
        for (const char* interval : {"slope", "band"}) {
            p.interval = interval;
            const UnknownsDetail& d = p.read();
            ASSERT_EQ(d.samples.size(), 3U);
            const double t = fit::tQuantile(0.95, line.n - 2), k = static_cast<double>(m);
            for (const Sample& s : d.samples) {
                const double x = (s.meanReading - line.a) / line.b, off = x - line.mean;
                const double se = line.s / line.b * std::sqrt(1 / k + 1 / line.n + off * off / line.sxx);
                EXPECT_EQ(s.state, fit::ReadState::InRange);
                EXPECT_NEAR(s.value, 5 * x, 1e-9);
                EXPECT_NEAR(s.se, 5 * se, 1e-8);
                if (std::string(interval) == "slope") {
                    EXPECT_NEAR(s.low, 5 * (x - t * se), 1e-7);
                    EXPECT_NEAR(s.high, 5 * (x + t * se), 1e-7);
                    continue;
                }
                // Fieller: (ȳ − a − b·x)² = t²s²(1/m + 1/n + (x − x̄)²/Sxx), a quadratic in x − x̄.
                const double w = t * t * line.s * line.s, g = s.meanReading - line.a - line.b * line.mean;
                const double qa = line.b * line.b - w / line.sxx, qb = -2 * line.b * g,
                             qc = g * g - w * (1 / k + 1 / line.n);
                const double root = std::sqrt(qb * qb - 4 * qa * qc);
                EXPECT_NEAR(s.low, 5 * (line.mean + (-qb - root) / (2 * qa)), 1e-7);
                EXPECT_NEAR(s.high, 5 * (line.mean + (-qb + root) / (2 * qa)), 1e-7);
            }
        }
    }
}

// The interval of a sample holds its truth as often as it says; on a weighted line, a parabola and a
// logistic.
TEST(Unknowns, IntervalsHoldTheTruth) {
    struct Case {
        const char *model, *weights;
        double (*truth)(double);
        double (*noise)(double y);
    };
    const auto steady = [](double) { return 0.01; };
    for (const Case& c :
         {Case{"line", "none", [](double x) { return 0.05 + 0.1 * x; }, steady},
          Case{"line", "1/y2", [](double x) { return 0.3 + 0.1 * x; }, [](double y) { return 0.02 * y; }},
          Case{"polynomial-2", "none", [](double x) { return 0.05 + 0.2 * x - 0.006 * x * x; }, steady},
          Case{"logistic-4", "none",
               [](double x) { return 0.1 + 1.9 / (1 + std::pow(4 / std::max(x, 1e-9), 1.3)); },
               [](double) { return 0.02; }}}) {
        std::mt19937_64 random(17);
        std::normal_distribution<double> normal;
        const auto reading = [&](double x) { return c.truth(x) + c.noise(c.truth(x)) * normal(random); };
        int covered = 0, all = 0;
        std::array<int, 3> coveredBy{}, allBy{}; // the three kinds of intervals
        for (int run = 0; run < 120; ++run) {
            Plate p;
            p.model.kind = c.model;
            p.weights = c.weights;
            p.interval = run % 3 == 0 ? "slope" : run % 3 == 1 ? "band" : "bootstrap";
            for (double x : {0.5, 1.0, 2.0, 4.0, 6.0, 8.0, 10.0}) p.row("S", x, {reading(x), reading(x)});
            const std::vector<double> truths = {1.5, 3.0, 5.0, 7.0};
            for (double x : truths) p.row("U" + std::to_string(x), kOpen, {reading(x), reading(x)});
            const UnknownsDetail& d = p.read();
            for (std::size_t k = 0; k < truths.size(); ++k) {
                if (d.samples[k].state != fit::ReadState::InRange) continue;
                const bool holds = d.samples[k].low <= truths[k] && truths[k] <= d.samples[k].high;
                ++all, covered += holds;
                ++allBy[run % 3], coveredBy[run % 3] += holds;
            }
        }
        EXPECT_NEAR(static_cast<double>(covered) / all, 0.95, 0.03) << c.model << " " << c.weights;
        for (std::size_t k = 0; k < 3; ++k)
            EXPECT_NEAR(static_cast<double>(coveredBy[k]) / allBy[k], 0.95, 0.05) << c.model << " " << k;
        EXPECT_GE(all, 470) << c.model;
    }
}

// On a line the repetitions must give the interval of the closed form, but for the luck of a thousand draws.
TEST(Unknowns, IntervalsByBootstrapAreThoseOfALine) {
    std::mt19937_64 random(29);
    Plate p = linePlate(random, 4, 0.004);
    for (const double x : {0.7, 3.0, 9.0})
        p.row("U" + std::to_string(x), kOpen, {0.05 + 0.1 * x, 0.05 + 0.1 * x}, 2);
    const std::vector<Sample> bySlope = p.read().samples;
    p.interval = "bootstrap";
    const std::vector<Sample> repeated = p.read().samples;
    for (std::size_t k = 0; k < 3; ++k) {
        const double half = bySlope[k].high - bySlope[k].value;
        EXPECT_EQ(repeated[k].value, bySlope[k].value);
        EXPECT_NEAR(repeated[k].low, bySlope[k].low, 0.2 * half);
        EXPECT_NEAR(repeated[k].high, bySlope[k].high, 0.2 * half);
    }
    EXPECT_EQ(p.read().samples[0].low, repeated[0].low); // by a seed
}

// Towards a plateau the band that is read holds the truth as often as it says, where the slope is no longer
// alike.
TEST(Unknowns, IntervalsByTheBandHoldTheTruthNearAPlateau) {
    std::mt19937_64 random(43);
    std::normal_distribution<double> noise(0, 0.02);
    const auto reading = [&](double x) { return 0.1 + 1.9 / (1 + std::pow(4 / x, 1.3)) + noise(random); };
    const std::vector<double> truths = {24, 36};
    int covered = 0, all = 0;
    for (int run = 0; run < 250; ++run) {
        Plate p;
        p.model.kind = "logistic-4";
        p.interval = "band";
        for (double x : {0.5, 1.0, 2.0, 4.0, 8.0, 16.0, 32.0, 64.0, 128.0})
            p.row("S", x, {reading(x), reading(x)});
        for (double x : truths) p.row("U" + std::to_string(x), kOpen, {reading(x), reading(x)});
        const UnknownsDetail& d = p.read();
        for (std::size_t k = 0; k < truths.size(); ++k) {
            if (d.samples[k].state != fit::ReadState::InRange) continue;
            ++all;
            covered += d.samples[k].low <= truths[k] && truths[k] <= d.samples[k].high;
        }
    }
    EXPECT_GE(all, 480);
    EXPECT_NEAR(static_cast<double>(covered) / all, 0.95, 0.02);
}

// Near a plateau many of the curves never reach the reading: the interval is open there.
TEST(Unknowns, ABootstrapIntervalIsOpenNearAPlateau) {
    std::mt19937_64 random(31);
    std::normal_distribution<double> noise(0, 0.02);
    const auto reading = [&](double x) { return 0.1 + 1.9 / (1 + std::pow(4 / x, 1.3)) + noise(random); };
    Plate p;
    p.model.kind = "logistic-4";
    p.interval = "bootstrap";
    for (double x : {0.5, 1.0, 2.0, 4.0, 8.0, 16.0, 64.0, 256.0}) p.row("S", x, {reading(x), reading(x)});
    p.row("near the top", kOpen, {1.97, 1.975});
    p.row("in the middle", kOpen, {1.0, 1.01});
    const UnknownsDetail& d = p.read();
    if (d.samples[0].state == fit::ReadState::InRange) {
        EXPECT_GT(d.samples[0].high, 256);
    }
    EXPECT_LT(d.samples[1].high, 4.5);
    EXPECT_GT(d.samples[1].low, 3);
}

// A calibration at two points leaves nothing to tell errors by: there are none, and no limits of detection.
TEST(Unknowns, OfACalibrationAtTwoPointsHaveNoErrors) {
    for (const char* interval : {"slope", "band", "bootstrap"}) {
        Plate p;
        p.interval = interval;
        p.row("S", 0, {0.02});
        p.row("S", 10, {0.52});
        p.row("U", kOpen, {0.27}, 2);
        const UnknownsDetail& d = p.read();
        ASSERT_EQ(d.samples.size(), 1U);
        EXPECT_NEAR(d.samples[0].value, 10, 1e-9) << interval;
        EXPECT_TRUE(std::isnan(d.samples[0].se)) << interval;
        EXPECT_FALSE(std::isfinite(d.samples[0].high - d.samples[0].low)) << interval;
        EXPECT_FALSE(p.outcome->find("detection-limit")) << interval;
        EXPECT_FALSE(d.samples[0].disagrees);
    }
}

TEST(Unknowns, SeriesOfStandardsMayShareACurve) {
    // Each with half of the rows; the curve of both is that of one table with all.
    std::mt19937_64 random(41);
    Plate p = linePlate(random, 1, 0.004);
    Plate second = linePlate(random, 1, 0.004);
    Plate both = p;
    for (std::size_t i = 0; i < second.x.size(); ++i) both.row("S", second.x[i], {second.y[0][i]});
    for (Plate* all : {&p, &both}) all->row("U", kOpen, {0.35});
    const Sample want = both.read().samples.at(0);
    p.read();
    Table t{.name = "second"};
    t.columns = {numberColumn("conc", "mg/L", second.x), numberColumn("A", "", second.y[0])};
    Project project = *edits::addTable(t).apply(p.project);
    const Table& own = project.tables[1];
    Dataset further{.name = "second", .source = {.kind = "columns", .table = own.id}};
    further.source.roles = {{Role::X, own.columns[0].id}, {Role::Y, own.columns[1].id}};
    project = *edits::addDataset(further).apply(project);
    const auto readWith = [&](Treatment treatment) {
        Analysis fit = project.analyses[0];
        fit.inputs = {fit.inputs[0], {.dataset = project.datasets[1].id}};
        for (const char* name : {"intercept", "slope"})
            fit.parameters.push_back({.name = name, .treatment = treatment});
        project.analyses = project.analyses.with(fit);
        return evaluate::Evaluator().analysis(project, project.analyses[1]);
    };
    const auto shared = readWith(Treatment::Shared);
    ASSERT_TRUE(shared.exists()) << shared.result.error().text;
    const UnknownsDetail& d = *unknownsDetail(*shared);
    EXPECT_NEAR(d.samples.at(0).value, want.value, 1e-9);
    EXPECT_NEAR(d.samples[0].se, want.se, 1e-9);
    EXPECT_EQ(d.standards.size(), 12U);
    // Curves of their own are no standard curve.
    const auto apart = readWith(Treatment::Free);
    ASSERT_FALSE(apart.exists());
    EXPECT_EQ(apart.result.error().code, "several-curves");
}

TEST(Unknowns, WhatCannotBeReadIsSaidAndHasNoNumber) {
    std::mt19937_64 random(5);
    Plate p = linePlate(random, 2, 0.002);
    p.row("faint", kOpen, {0.01, 0.011});
    p.row("strong", kOpen, {1.6, 1.61}, 100);
    p.row("apart", kOpen, {0.4, 0.7});
    p.row("", kOpen, {0.5, 0.5});
    p.row("half", kOpen, {0.5, std::nan("")});
    p.row("empty", kOpen, {std::nan(""), std::nan("")});
    const UnknownsDetail& d = p.read();
    ASSERT_EQ(d.samples.size(), 5U); // "empty" has no reading at all
    EXPECT_EQ(d.samples[0].state, fit::ReadState::Below);
    EXPECT_TRUE(std::isnan(d.samples[0].value));
    EXPECT_EQ(d.samples[1].state, fit::ReadState::Above);
    EXPECT_NEAR(d.samples[1].solutions.at(0), 1550, 30); // times its dilution
    EXPECT_TRUE(d.samples[2].disagrees);
    EXPECT_EQ(d.samples[3].name, "row 10");
    EXPECT_EQ(d.samples[4].readings.size(), 1U);
    std::string said;
    for (const Issue& i : p.outcome.issues) said += i.text + "\n";
    EXPECT_THAT(said,
                testing::HasSubstr("faint (below the standards, the nearest is 0 mg/L), strong (above the "
                                   "standards, the nearest is 10 mg/L)"));
    EXPECT_THAT(said, testing::HasSubstr("disagree by more than the standards scatter: apart"));
}

TEST(Unknowns, LimitsAreOfBlanksElseOfTheScatter) {
    Plate p;
    p.row("B", 0, {0.050, 0.054});
    p.row("B", 0, {0.052, 0.048});
    for (double x : {1.0, 2.0, 5.0}) p.row("S", x, {0.051 + 0.1 * x, 0.051 + 0.1 * x});
    p.row("U", kOpen, {0.2, 0.2});
    const UnknownsDetail& d = p.read();
    // SD of the four blanks: √(Σ/3) = √(20·10⁻⁶/3), their mean 0.051.
    const double sd = std::sqrt(20e-6 / 3);
    EXPECT_NEAR(d.detection.value, 3 * sd / 0.1, 1e-6);
    EXPECT_EQ(d.detection.from, "3 SD of 4 blanks");
    EXPECT_NEAR(d.quantification.value, 10 * sd / 0.1, 1e-6);
    std::mt19937_64 random(6);
    Line line({0, 1}, {0, 1});
    Plate without = linePlate(random, 1, 0.01, &line);
    without.row("U", kOpen, {0.3});
    EXPECT_NEAR(without.read().detection.value, 3.3 * line.s / line.b, 1e-7);
}

TEST(Unknowns, StandardsComeBack) {
    std::mt19937_64 random(8);
    Line line({0, 1}, {0, 1});
    Plate p = linePlate(random, 1, 0.01, &line);
    p.row("U", kOpen, {0.3});
    const UnknownsDetail& d = p.read();
    ASSERT_EQ(d.standards.size(), 6U);
    for (const StandardBack& s : d.standards) EXPECT_NEAR(s.computed, (s.reading - line.a) / line.b, 1e-9);
    EXPECT_TRUE(std::isnan(d.standards[0].recovery())); // of nothing
    EXPECT_NEAR(d.standards[3].recovery(), 25 * d.standards[3].computed, 1e-9);
}

TEST(Unknowns, ACorrectedStandardChangesEverything) {
    std::mt19937_64 random(9);
    Plate p = linePlate(random, 2, 0.002);
    p.row("U", kOpen, {0.45, 0.45});
    const double before = p.read().samples[0].value;
    p.y[0][5] = p.y[1][5] = 2.1; // the last standard
    EXPECT_LT(p.read().samples[0].value, before - 0.5);
}

TEST(Unknowns, AnAttributeTellsADilutionThatAllHave) {
    std::mt19937_64 random(7);
    Plate p = linePlate(random, 1, 0.002);
    p.row("U", kOpen, {0.35});
    const double plain = p.read().samples.at(0).value;
    const auto with = [&](const char* attribute) {
        Project project = p.project;
        Dataset d = *project.datasets.find(project.datasets[0].id);
        d.attributes.push_back({attribute, "20", ""});
        project.datasets = project.datasets.with(std::move(d));
        return evaluate::Evaluator().analysis(project, project.analyses[1]);
    };
    const auto diluted = with("Dilution factor");
    ASSERT_TRUE(diluted.exists());
    EXPECT_NEAR(unknownsDetail(*diluted)->samples[0].value, 20 * plain, 1e-9);
    EXPECT_THAT(diluted->detail, testing::HasSubstr("20-fold"));
    EXPECT_NEAR(unknownsDetail(*with("depth"))->samples[0].value, plain, 1e-12);
    // Where a column tells it, that goes before.
    p.dilution.back() = 5;
    p.read();
    EXPECT_NEAR(unknownsDetail(*with("dilution"))->samples[0].value, 5 * plain, 1e-9);
}

TEST(Unknowns, KindsOfRowsGoBeforeOpenPlaces) {
    std::mt19937_64 random(10);
    Plate p = linePlate(random, 2, 0.002);
    p.row("U", 4, {0.45, 0.45}); // what it should hold is known
    (void)p.read();
    Table t = p.project.tables[0];
    for (std::size_t row = 0; row < 7; ++row)
        t.rowKinds[t.rows->id(row)] = row == 6   ? RowKind::Unknown
                                      : row == 0 ? RowKind::Blank
                                                 : RowKind::Standard;
    Project q = p.project;
    q.tables = q.tables.with(t);
    const auto outcome = p.evaluator->analysis(q, q.analyses[1]);
    ASSERT_TRUE(outcome.exists());
    const UnknownsDetail& d = *unknownsDetail(*outcome);
    ASSERT_EQ(d.samples.size(), 1U);
    EXPECT_NEAR(d.samples[0].value, 4, 0.1);
    EXPECT_EQ(d.low, 1); // the blank is no standard
}

// The curve that made the standards comes back best; a line through a bent one comes back worse.
TEST(Unknowns, CurvesThatWouldServeAreRanked) {
    std::mt19937_64 random(12);
    std::normal_distribution<double> noise(0, 0.002);
    Plate p;
    p.model.kind = "polynomial-2";
    for (double x : {0.0, 1.0, 2.0, 4.0, 7.0, 10.0, 14.0, 20.0}) {
        const double y = 0.03 + 0.06 * x - 0.0012 * x * x;
        p.row("S", x, {y + noise(random), y + noise(random)});
    }
    p.row("U", kOpen, {0.4, 0.41});
    p.rank = true;
    const UnknownsDetail& d = p.read();
    ASSERT_GE(d.serving.size(), 4U);
    const auto of = [&](const char* key) { return *std::ranges::find(d.serving, key, &ServingCurve::key); };
    EXPECT_LT(of("polynomial-2").typical, 6);
    EXPECT_GT(of("line").typical, 3 * of("polynomial-2").typical);
    EXPECT_EQ(of("polynomial-2").of, 6U) << "the first and the last stay";
    EXPECT_GE(of("polynomial-2").worst, of("polynomial-2").typical);
    EXPECT_NE(d.serving.front().key, "line");
    EXPECT_THAT(p.outcome->detail, testing::HasSubstr("standards come back within"));
    EXPECT_EQ(p.outcome->tables.size(), 3U);
}

// Standards in one table, samples in another that has no x at all.
TEST(Unknowns, SamplesMayBeADatasetOfTheirOwn) {
    std::mt19937_64 random(11);
    Plate p = linePlate(random, 2, 0.002);
    (void)p.read();
    Table t{.name = "samples"};
    t.columns = {textColumn("name", {"a", "b", "a"}), numberColumn("A", "", {0.45, 0.25, 0.46})};
    Project q = *edits::addTable(t).apply(p.project);
    const Table& own = q.tables[1];
    Dataset d{.name = "samples", .source = {.kind = "samples", .table = own.id}};
    d.source.roles = {{Role::Y, own.columns[1].id}, {Role::Label, own.columns[0].id}};
    q = *edits::addDataset(d).apply(q);
    q = *edits::addAnalysis(
             {.kind = "unknowns", .inputs = {{.dataset = q.datasets[1].id}}, .analyses = {q.analyses[0].id}})
             .apply(q);
    const auto outcome = p.evaluator->analysis(q, q.analyses[2]);
    ASSERT_TRUE(outcome.exists());
    const UnknownsDetail& found = *unknownsDetail(*outcome);
    ASSERT_EQ(found.samples.size(), 2U);
    EXPECT_EQ(found.samples[0].readings.size(), 2U);
    EXPECT_NEAR(found.samples[0].value, 4.05, 0.1);
    EXPECT_NEAR(found.samples[1].value, 2, 0.1);
}

// Fieller's interval of a line that is followed back to nothing, and the amount that was there.
TEST(StandardAddition, TheIntervalIsFiellers) {
    Plate p;
    const std::vector<double> added = {0, 1, 2, 3, 4}, noise = {0.01, -0.02, 0.015, 0.005, -0.01};
    for (std::size_t i = 0; i < added.size(); ++i) p.row("s", added[i], {0.5 + 0.2 * added[i] + noise[i]});
    p.read();
    const auto fit = p.evaluator->analysis(p.project, p.project.analyses[0]);
    ASSERT_TRUE(fit.exists());
    Analysis spec{.kind = "standard-addition",
                  .inputs = {{.dataset = p.project.datasets[0].id}},
                  .analyses = {p.project.analyses[0].id}};
    spec.settings.set("dilution", Value(10.0));
    const auto out = p.evaluator->analysis(p.project, spec);
    ASSERT_TRUE(out.exists()) << out.result.error().text;
    const Quantity* q = out->find("amount");
    ASSERT_TRUE(q);
    // By hand: slope, intercept, s², and the roots of (a + b·x)² = t²·s²·(1/n + (x − mean)²/Sxx).
    double my = 0, sxy = 0;
    const double mx = 2, sxx = 10, n = 5;
    for (std::size_t i = 0; i < added.size(); ++i) my += (0.5 + 0.2 * added[i] + noise[i]) / n;
    for (std::size_t i = 0; i < added.size(); ++i)
        sxy += (added[i] - mx) * (0.5 + 0.2 * added[i] + noise[i] - my);
    const double b = sxy / sxx, a = my - b * mx;
    double rss = 0;
    for (std::size_t i = 0; i < added.size(); ++i)
        rss += std::pow(0.5 + 0.2 * added[i] + noise[i] - a - b * added[i], 2);
    const double s2 = rss / 3, t = 3.182446305284263;
    EXPECT_NEAR(q->value, 10 * a / b, 1e-9);
    const double A = b * b - t * t * s2 / sxx, B = 2 * a * b + 2 * t * t * s2 * mx / sxx,
                 C = a * a - t * t * s2 * (1 / n + mx * mx / sxx), root = std::sqrt(B * B - 4 * A * C);
    EXPECT_NEAR(q->low, 10 * (B - root) / (2 * A), 1e-5);
    EXPECT_NEAR(q->high, 10 * (B + root) / (2 * A), 1e-5);
    EXPECT_NEAR(q->se, 10 * std::sqrt(s2 * (1 / n + std::pow(a / b + mx, 2) / sxx)) / b, 1e-7);
}

// An instrument whose readings fall by a third over a run: standards between the samples take that off.
TEST(Unknowns, DriftIsTakenOffByTheStandardsAround) {
    Plate p;
    const auto drift = [](int row) { return 1 - 0.02 * row; };
    const double truth[] = {3, 7, 5, 2, 8, 6};
    int row = 0, next = 0;
    const auto standard = [&](double x) { p.row("std", x, {2 * x * drift(row)}), ++row; };
    const auto sample = [&] {
        p.row("s" + std::to_string(next), kOpen, {2 * truth[next] * drift(row)}), ++next, ++row;
    };
    for (double x : {2.0, 4.0, 8.0}) standard(x);
    for (int k = 0; k < 3; ++k) sample();
    standard(4), standard(8);
    for (int k = 0; k < 3; ++k) sample();
    standard(2), standard(8);
    p.model.settings.set("through-origin", Value(true));
    p.drift = true;
    const auto& d = p.read();
    ASSERT_EQ(d.samples.size(), 6U);
    // All readings share the factor that the line has by drifting standards: ratios of samples are exact.
    const double factor = d.samples[0].value / truth[0];
    EXPECT_NEAR(factor, 1, 0.25);
    for (int k = 0; k < 6; ++k)
        EXPECT_NEAR(d.samples[static_cast<std::size_t>(k)].value / truth[k], 1, 1e-9) << k;
}

TEST(Unknowns, ALineThroughTheOriginTakesOneStandard) {
    Plate p;
    p.model.settings.set("through-origin", Value(true));
    for (double y : {9.8, 10.1, 10.1}) p.row("std", 5, {y});
    p.row("a", kOpen, {4});
    const auto& d = p.read();
    ASSERT_EQ(d.samples.size(), 1U);
    EXPECT_NEAR(d.samples[0].value, 2, 1e-9);
    EXPECT_GT(d.samples[0].se, 0);
}
