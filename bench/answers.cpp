// SPDX-License-Identifier: GPL-3.0-or-later
// Tests of groups, samples on a standard curve, and a hundred thousand results filtered, timed.
#include "evaluate/evaluator.h"
#include "project/edit.h"
#include "session/result_filter.h"
#include "stats/group_tests.h"

#include <benchmark/benchmark.h>
#include <fmt/format.h>
#include <random>

using namespace jointer;

namespace {

std::vector<double> normals(std::size_t n, double mean) {
    static std::mt19937_64 random(9);
    std::normal_distribution<double> noise(mean, 1);
    std::vector<double> out(n);
    for (double& v : out) v = noise(random);
    return out;
}

void meansOfAMillion(benchmark::State& state) {
    const stats::Design d{
        .groups = {{"a", normals(400'000, 0)}, {"b", normals(300'000, 0)}, {"c", normals(300'000, 0)}}};
    for (auto _ : state)
        for (const char* test : {"welch-anova", "games-howell"})
            benchmark::DoNotOptimize(stats::runTest(test, d));
}
BENCHMARK(meansOfAMillion)->Unit(benchmark::kMillisecond);

void exactMannWhitney(benchmark::State& state) {
    const stats::Design d{.groups = {{"a", normals(50, 0)}, {"b", normals(50, 0.3)}}};
    for (auto _ : state) benchmark::DoNotOptimize(stats::runTest("mann-whitney", d));
}
BENCHMARK(exactMannWhitney)->Unit(benchmark::kMillisecond);

// Standards and ten thousand samples in duplicate, the fit computed before the clock starts.
void tenThousandUnknowns(benchmark::State& state) {
    std::vector<double> x = {0, 1, 2, 5, 10, 20}, a, b;
    for (int i = 0; i < 10'000; ++i) x.push_back(NAN);
    const auto noise = normals(2 * x.size(), 0);
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double at = std::isnan(x[i]) ? 0.5 + 18.0 * static_cast<double>(i) / 10'006 : x[i],
                     y = 0.05 + 0.05 * at - 0.0004 * at * at;
        a.push_back(y + 0.002 * noise[2 * i]);
        b.push_back(y + 0.002 * noise[2 * i + 1]);
    }
    Table t{.name = "plate"};
    t.columns = {numberColumn("x", "", x), numberColumn("a", "", a), numberColumn("b", "", b)};
    Project p = *edits::addTable(t).apply(Project());
    Dataset d{.name = "plate", .source = {.kind = "columns", .table = p.tables[0].id}};
    d.source.roles = {{Role::X, p.tables[0].columns[0].id},
                      {Role::Y, p.tables[0].columns[1].id},
                      {Role::Y, p.tables[0].columns[2].id}};
    p = *edits::addDataset(d).apply(p);
    p = *edits::addAnalysis(
             {.kind = "fit", .inputs = {{.dataset = p.datasets[0].id}}, .model = {.kind = "polynomial-2"}})
             .apply(p);
    p = *edits::addAnalysis(
             {.kind = "unknowns", .inputs = {{.dataset = p.datasets[0].id}}, .analyses = {p.analyses[0].id}})
             .apply(p);
    for (auto _ : state) {
        state.PauseTiming();
        evaluate::Evaluator evaluator;
        (void)evaluator.analysis(p, p.analyses[0]);
        state.ResumeTiming();
        benchmark::DoNotOptimize(evaluator.analysis(p, p.analyses[1]));
    }
}
BENCHMARK(tenThousandUnknowns)->Unit(benchmark::kMillisecond);

void filterAHundredThousandResults(benchmark::State& state) {
    Project p;
    for (int k = 0; k < 1000; ++k)
        p = *edits::addDataset({.name = fmt::format("shell {}", k),
                                .attributes = {{"site", k % 3 ? "north" : "south", ""}}})
                 .apply(p);
    std::vector<evaluate::ResultRow> rows;
    for (const auto& d : p.datasets)
        for (int q = 0; q < 100; ++q)
            rows.push_back({.dataset = d->id,
                            .quantity = fmt::format("c{}", q),
                            .state = "converged",
                            .value = 1.0 * q});
    const ResultFilter filter = *ResultFilter::parse("site = north, c7 > 3");
    for (auto _ : state) benchmark::DoNotOptimize(filter.rows(p, rows));
}
BENCHMARK(filterAHundredThousandResults)->Unit(benchmark::kMillisecond);

} // namespace
