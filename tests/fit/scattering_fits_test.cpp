// SPDX-License-Identifier: GPL-3.0-or-later
// Fits of scattering from simulated curves with noise: every model from its own start values, and whether the
// intervals of radius, width and volume fraction hold the truth as often as they say. JOINTER_DATASETS=200
// takes as many cases; fewer are taken otherwise.
#include "fit/fit.h"
#include "models/catalogue.h"
#include "models/examples.h"

#include <cmath>
#include <cstdlib>
#include <gtest/gtest.h>
#include <random>

using namespace jointer;

namespace {

std::size_t scatteringCases(std::size_t usual) {
    const char* given = std::getenv("JOINTER_DATASETS");
    return given ? std::strtoul(given, nullptr, 10) : usual;
}

// q by ratios, and I with noise that is a share of it.
fit::FitMember simulated(const models::ModelPtr& model, const std::vector<double>& truth, double from,
                         double to, int points, double share, std::mt19937_64& random) {
    fit::FitMember member{.model = model, .predictors = {{}}};
    for (int k = 0; k < points; ++k)
        member.predictors[0].push_back(from * std::pow(to / from, double(k) / (points - 1)));
    member.y.resize(member.predictors[0].size());
    const std::span<const double> column = member.predictors[0];
    model->evaluate({&column, 1}, truth, member.y);
    std::normal_distribution<double> noise;
    for (double& y : member.y) {
        member.sigma.push_back(share * y);
        y += member.sigma.back() * noise(random);
    }
    return member;
}

std::vector<fit::ParameterSpec> startingAt(const models::Model& model, const std::vector<double>& truth) {
    std::vector<fit::ParameterSpec> specs;
    for (std::size_t k = 0; k < truth.size(); ++k)
        specs.push_back({.name = model.parameters()[k].name, .start = truth[k]});
    return specs;
}

} // namespace

TEST(ScatteringFits, EveryModelReachesTheBestFromItsOwnStart) {
    for (const models::ModelKind& kind : models::catalogue()) {
        const models::Example* example = models::exampleOf(kind.info.key);
        if (!example || !example->overDecades) continue;
        const models::ModelPtr model = kind.make({});
        ASSERT_EQ(model->parameters().size(), example->parameters.size()) << kind.info.key;
        for (std::size_t seed = 1; seed <= scatteringCases(4); ++seed) {
            std::mt19937_64 random(seed);
            std::uniform_real_distribution<double> by(0.75, 1.3);
            std::vector<double> truth = example->parameters;
            for (std::size_t k = 0; k < truth.size(); ++k)
                if (model->parameters()[k].tie.empty()) truth[k] *= by(random);
            fit::FitProblem problem{
                .members = {simulated(model, truth, example->from, example->to, 120, 0.02, random)},
                .absolute = true};
            const auto own = fit::fit(problem);
            problem.parameters = startingAt(*model, truth);
            const auto best = fit::fit(problem);
            ASSERT_TRUE(own && best) << kind.info.key;
            EXPECT_LE(own->rss, best->rss * (1 + 1e-4)) << kind.info.key << " seed " << seed;
        }
    }
}

TEST(ScatteringFits, IntervalsHoldTheTruthAsOftenAsTheySay) {
    const std::size_t cases = scatteringCases(30);
    const char* const distributions[] = {"gaussian", "lognormal", "schulz"};
    std::map<std::string, std::size_t> held;
    for (std::size_t seed = 1; seed <= cases; ++seed) {
        std::mt19937_64 random(seed);
        const auto between = [&](double low, double high) {
            return std::uniform_real_distribution<double>(low, high)(random);
        };
        Settings settings;
        settings.set("distribution", Value(std::string(distributions[seed % 3])));
        settings.set("structure", "hard-sphere");
        settings.set("coupling", Value(std::string(seed % 2 ? "local" : "decoupled")));
        settings.set("resolution", "share");
        settings.set("share", Value(4.0));
        const models::ModelPtr model = *models::makeModel("sphere", settings);
        const double radius = between(30, 180), width = radius * between(0.06, 0.2),
                     fraction = between(0.03, 0.3);
        std::vector<double> truth;
        for (const models::ParameterInfo& p : model->parameters())
            truth.push_back(p.name == "radius"            ? radius
                            : p.name == "sd"              ? width
                            : p.name == "volume_fraction" ? fraction
                            : p.name == "contrast"        ? 1e-6
                                                          : 1e-4 * std::pow(radius, 3) * fraction * 1e-4);
        fit::FitProblem problem{
            .members = {simulated(model, truth, 0.4 / radius, 14 / radius, 200, 0.03, random)},
            .absolute = true};
        const auto report = fit::fit(problem);
        ASSERT_TRUE(report) << report.error().text;
        EXPECT_EQ(report->state, fit::FitState::Converged) << seed;
        for (std::size_t k = 0; k < truth.size(); ++k) {
            const fit::ParameterResult& p = report->members[0].parameters[k];
            held[p.name] += p.low <= truth[k] && truth[k] <= p.high;
        }
    }
    // 95 % of them, give or take three standard deviations of a count.
    const double n = static_cast<double>(cases), slack = 3 * std::sqrt(0.95 * 0.05 * n) + 0.5;
    for (const char* name : {"radius", "sd", "volume_fraction"}) {
        EXPECT_GE(static_cast<double>(held[name]), 0.95 * n - slack) << name;
        if (cases >= 100) {
            EXPECT_LE(static_cast<double>(held[name]), 0.95 * n + slack) << name;
        }
    }
}
