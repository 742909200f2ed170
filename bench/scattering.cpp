// SPDX-License-Identifier: GPL-3.0-or-later
// Polydisperse spheres with hard-sphere interaction, smeared: 300 points, four free parameters. The bars of
// quality: a picture within 50 ms, a fit within 0.3 s. `tools/scattering_script` does the same integrals with
// the common scientific library.
#include "fit/fit.h"
#include "models/catalogue.h"

#include <benchmark/benchmark.h>
#include <cmath>
#include <random>

namespace {

using namespace jointer;

models::ModelPtr droplets(const char* coupling) {
    Settings s;
    s.set("distribution", "gaussian");
    s.set("structure", "hard-sphere");
    s.set("coupling", coupling);
    s.set("resolution", "width");
    s.set("width", Value(0.001));
    return *models::makeModel("sphere", s);
}

// radius, sd, contrast, volume_fraction, background
const std::vector<double> kTruth = {300, 25, 1e-6, 0.1, 0.01};

std::vector<double> places() {
    std::vector<double> q;
    for (int k = 0; k < 300; ++k) q.push_back(0.002 * std::pow(100.0, k / 299.0));
    return q;
}

fit::FitProblem problemOf(const char* coupling) {
    const models::ModelPtr model = droplets(coupling);
    fit::FitMember member{.model = model, .predictors = {places()}};
    member.y.resize(300);
    const std::span<const double> column = member.predictors[0];
    model->evaluate({&column, 1}, kTruth, member.y);
    std::mt19937_64 random(7);
    std::normal_distribution<double> noise;
    for (double& y : member.y) {
        member.sigma.push_back(0.03 * y);
        y += member.sigma.back() * noise(random);
    }
    return {.members = {std::move(member)}, .absolute = true};
}

const char* couplingOf(const benchmark::State& state) {
    return state.range(0) == 0 ? "decoupled" : "local";
}

// Other parameters each time, as while a slider is dragged: nothing is remembered but the layout of the
// nodes.
void curve(benchmark::State& state) {
    const models::ModelPtr model = droplets(couplingOf(state));
    const auto q = places();
    const std::span<const double> column = q;
    std::vector<double> y(q.size()), p = kTruth;
    double by = 1;
    for (auto _ : state) {
        p[0] = 300 * (by = by > 1.2 ? 0.8 : by * 1.003);
        model->evaluate({&column, 1}, p, y);
        benchmark::DoNotOptimize(y.data());
    }
}

void start(benchmark::State& state) {
    const auto problem = problemOf(couplingOf(state));
    Curve c;
    c.x = problem.members[0].predictors[0];
    c.y = problem.members[0].y;
    for (auto _ : state) benchmark::DoNotOptimize(problem.members[0].model->guess(c));
}

void fitted(benchmark::State& state) {
    const auto problem = problemOf(couplingOf(state));
    for (auto _ : state) {
        const auto report = fit::fit(problem);
        if (!report || report->state != fit::FitState::Converged) state.SkipWithError("did not converge");
    }
}

BENCHMARK(curve)
    ->Name("scattering: one curve (decoupled, local)")
    ->Arg(0)
    ->Arg(1)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(start)
    ->Name("scattering: start values (decoupled, local)")
    ->Arg(0)
    ->Arg(1)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(fitted)
    ->Name("scattering: fit of four parameters (decoupled, local)")
    ->Arg(0)
    ->Arg(1)
    ->Unit(benchmark::kMillisecond);

} // namespace
