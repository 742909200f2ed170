// SPDX-License-Identifier: GPL-3.0-or-later
// Fields and diagrams: contours, triangulation, maps of large grids, waters of many samples.
#include "fields/contours.h"
#include "fields/scattered.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/marks/mark.h"
#include "project/edit.h"

#include <benchmark/benchmark.h>
#include <cmath>
#include <random>

using namespace jointer;

namespace {

fields::Field waves(std::size_t n) {
    fields::Field f;
    for (std::size_t k = 0; k < n; ++k) f.x.push_back(static_cast<double>(k) / static_cast<double>(n - 1));
    f.y = f.x;
    for (const double y : f.y)
        for (const double x : f.x) f.z.push_back(std::sin(9 * x) * std::cos(7 * y) + x * y);
    return f;
}

void contoursOfAMillionNodes(benchmark::State& state) {
    const fields::Field f = waves(1000);
    const auto levels = fields::levelsFor(-1, 2, 12, 0, {});
    for (auto _ : state) benchmark::DoNotOptimize(fields::contourLines(f, levels));
}
BENCHMARK(contoursOfAMillionNodes)->Unit(benchmark::kMillisecond);

void regionsOfAMillionNodes(benchmark::State& state) {
    const fields::Field f = waves(1000);
    const auto levels = fields::levelsFor(-1, 2, 12, 0, {});
    for (auto _ : state) benchmark::DoNotOptimize(fields::regionsAbove(f, levels));
}
BENCHMARK(regionsOfAMillionNodes)->Unit(benchmark::kMillisecond);

// The triangulation alone: a grid of two by two nodes.
void trianglesOfHundredThousandPlaces(benchmark::State& state) {
    std::mt19937 random(1);
    std::uniform_real_distribution<double> share(0, 1);
    fields::Scatter s;
    for (int k = 0; k < 100000; ++k) {
        s.x.push_back(share(random));
        s.y.push_back(share(random));
        s.z.push_back(s.x.back() * s.y.back());
    }
    const auto nodes = static_cast<std::size_t>(state.range(0));
    for (auto _ : state) benchmark::DoNotOptimize(fields::gridded(s, {.columns = nodes, .rows = nodes}));
}
BENCHMARK(trianglesOfHundredThousandPlaces)->Arg(2)->Arg(120)->Unit(benchmark::kMillisecond);

// A project with a block of n × n, or n samples of waters, and a figure of it.
Project withFigure(Table table, std::string kind, std::vector<RoleBinding> roles, Element panel) {
    Project p;
    for (HouseStyle style : figure::shippedStyles()) {
        style.id = p.newId<StyleId>();
        p.styles = p.styles.with(std::move(style));
    }
    p = *edits::addTable(std::move(table)).apply(p);
    Dataset d{.name = "data", .source = {.kind = std::move(kind), .table = p.tables[0].id}};
    for (std::size_t k = 0; k < roles.size(); ++k) roles[k].column = p.tables[0].columns[k].id;
    d.source.roles = std::move(roles);
    p = *edits::addDataset(std::move(d)).apply(p);
    for (Element& e : panel.children)
        if (figure::isMark(e.kind)) e.source = p.datasets[0].id.text();
    Figure f{.name = "f", .style = p.styles[0].id, .elements = {std::move(panel)}};
    return *edits::addFigure(std::move(f)).apply(p);
}

Project bigMap(std::size_t n) {
    Table t;
    std::vector<RoleBinding> roles;
    const fields::Field f = waves(n);
    for (std::size_t i = 0; i < n; ++i) {
        std::vector<double> column(n);
        for (std::size_t j = 0; j < n; ++j) column[j] = f.at(i, j);
        t.columns.push_back(numberColumn(std::to_string(i), "", std::move(column)));
        roles.push_back({Role::Z, {}});
    }
    return withFigure(std::move(t), "grid", std::move(roles),
                      figure::newPanel({figure::newMark("colour-map", "")}));
}

void firstPictureOfAMap(benchmark::State& state) {
    const Project p = bigMap(static_cast<std::size_t>(state.range(0)));
    for (auto _ : state) {
        evaluate::Evaluator evaluator(4UL << 30);
        benchmark::DoNotOptimize(figure::layOut(p, p.figures[0], evaluator, {.pixelsPerMm = 8}));
    }
}
BENCHMARK(firstPictureOfAMap)->Arg(1000)->Arg(4000)->Unit(benchmark::kMillisecond);

// The same again, over another part.
void pannedMap(benchmark::State& state) {
    Project p = bigMap(4000);
    evaluate::Evaluator evaluator(4UL << 30);
    (void)figure::layOut(p, p.figures[0], evaluator, {.pixelsPerMm = 8});
    Figure f = p.figures[0];
    double at = 100;
    for (auto _ : state) {
        at += 3;
        for (Element& e : f.elements[0].children)
            if (e.kind == "axis") e.settings.set("range", Value(Numbers{at, at + 2000}));
        benchmark::DoNotOptimize(figure::layOut(p, f, evaluator, {.pixelsPerMm = 8}));
    }
}
BENCHMARK(pannedMap)->Unit(benchmark::kMillisecond);

// Against as many plain points; waters have a symbol in each of three fields, and about half of them balance.
void manySamples(benchmark::State& state) {
    std::mt19937 random(3);
    std::exponential_distribution<double> amount;
    Table t;
    std::vector<RoleBinding> roles;
    const bool waters = state.range(0) == 1;
    const char* const ions[] = {"Ca", "Mg", "Na", "Cl", "SO4", "HCO3"};
    std::vector<std::vector<double>> amounts(6, std::vector<double>(100000));
    for (std::size_t row = 0; row < amounts[0].size(); ++row) {
        for (auto& ion : amounts) ion[row] = amount(random);
        const double cations = amounts[0][row] + amounts[1][row] + amounts[2][row],
                     anions = amounts[3][row] + amounts[4][row] + amounts[5][row];
        for (std::size_t k = 3; k < 6 && row % 2 == 0; ++k) amounts[k][row] *= cations / anions;
    }
    for (std::size_t k = 0; k < amounts.size(); ++k) {
        const char* ion = ions[k];
        t.columns.push_back(numberColumn(ion, "meq/L", std::move(amounts[k])));
        if (waters || roles.size() < 2)
            roles.push_back({waters          ? Role::Component
                             : roles.empty() ? Role::X
                                             : Role::Y,
                             {},
                             waters ? ion : ""});
    }
    Element panel = figure::newPanel({figure::newMark("points", "")});
    if (waters) panel.settings.set("coordinates", "waters");
    const Project p =
        withFigure(std::move(t), waters ? "ions" : "columns", std::move(roles), std::move(panel));
    evaluate::Evaluator evaluator;
    (void)figure::layOut(p, p.figures[0], evaluator, {.pixelsPerMm = 8});
    for (auto _ : state)
        benchmark::DoNotOptimize(figure::layOut(p, p.figures[0], evaluator, {.pixelsPerMm = 8}));
}
BENCHMARK(manySamples)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

} // namespace
