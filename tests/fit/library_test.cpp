// SPDX-License-Identifier: GPL-3.0-or-later
// Each library model from its own start values: over noisy data the residual sum is no larger than that from
// the true values. JOINTER_DATASETS=200 takes as many data sets for each; fewer are taken otherwise.
// JOINTER_MODEL=key takes one alone.
#include "fit/fit.h"
#include "models/catalogue.h"
#include "models/examples.h"

#include <cmath>
#include <cstdlib>
#include <gtest/gtest.h>
#include <random>

using namespace jointer;

namespace {

// Points over the example of a model.
struct Design {
    const char* key;
    int points = 40;
    double noise = 0.02; // of the range of y
    bool scales = true;  // x and y in any unit

    const models::Example& example() const { return *models::exampleOf(key); }
};

const std::vector<Design>& designs() {
    static const std::vector<Design> all = {
        {"constant"},
        {"line"},
        {"polynomial-2"},
        {"polynomial-3"},
        {"polynomial-4"},
        {"polynomial-5"},
        {"polynomial-6"},
        {"polynomial-7"},
        {"polynomial-8"},
        {"polynomial-9"},
        {"broken-line"},
        {"exponential-decay"},
        {"exponential-growth"},
        {"exponential-decay-2", 120, 0.003},
        {"exponential-decay-3", 400, 0.0005},
        {"exponential-rise"},
        {"stretched-exponential", 80, 0.01},
        {"rise-and-fall"},
        {"second-order-decay"},
        {"nth-order-decay", 60, 0.005},
        {"zero-order-decay"},
        {"power", 40, 0.01, false},
        {"power-offset", 60, 0.01, false},
        {"rating-curve", 40, 0.01, false},
        {"square-root", 40, 0.02, false},
        {"logarithm", 40, 0.02, false},
        {"hyperbola"},
        {"rational"},
        {"ramp", 60},
        {"logistic-4", 30, 0.02},
        {"logistic-3", 30, 0.02},
        {"logistic-5", 40, 0.005},
        {"logistic-growth"},
        {"gompertz"},
        {"richards", 80, 0.005},
        {"von-bertalanffy"},
        {"weibull"},
        {"hill"},
        {"error-function"},
        {"biphasic", 60, 0.005},
        {"saturation"},
        {"saturation-line", 60, 0.01},
        {"saturation-2", 80, 0.003},
        {"cooperative"},
        {"substrate-inhibition", 60, 0.01},
        {"tight-binding", 60, 0.01},
        {"langmuir"},
        {"freundlich", 40, 0.02, false},
        {"bet", 40, 0.005, false},
        {"arrhenius", 30, 0.01, false},
        {"eyring", 30, 0.01, false},
        {"vant-hoff", 30, 0.01, false},
        {"sinusoid", 80, 0.05},
        {"damped-sinusoid", 120, 0.02},
        {"harmonics", 160, 0.02},
        {"tide", 400, 0.02, false},
        {"pseudo-voigt", 80, 0.01},
        {"pearson-7", 80, 0.01},
        {"split-gaussian", 60, 0.02},
        {"split-lorentzian", 80, 0.01},
        {"log-normal", 60, 0.02},
        {"fano", 80, 0.01},
        {"split-pseudo-voigt", 100, 0.005},
        {"voigt", 100, 0.005},
        {"exponentially-modified-gaussian", 100, 0.005},
        {"doniach-sunjic", 100, 0.005},
        {"line-sections", 80, 0.01},
        {"power-sections", 60, 0.01, false},
        {"step", 60},
        {"pulse", 80},
        {"consecutive", 60, 0.01},
        {"absorption-elimination", 60, 0.01},
        {"two-compartments", 100, 0.003},
        {"inhibition", 60, 0.01, false},
        {"shifted-response", 120, 0.01, false},
        {"competition", 40, 0.01},
        {"antoine", 40, 0.01, false},
        {"gaussian"},
        {"lorentzian"},
    };
    return all;
}

double scaleOf(const std::string& unit, double x, double y) {
    if (unit == "x") return x;
    if (unit == "y") return y;
    if (unit == "1/x") return 1 / x;
    if (unit == "y/x") return y / x;
    if (unit == "xy") return x * y;
    if (unit.starts_with("y/x^")) return y / std::pow(x, std::stod(unit.substr(4)));
    return 1;
}

std::size_t datasets() {
    const char* given = std::getenv("JOINTER_DATASETS");
    return given ? std::strtoul(given, nullptr, 10) : 16;
}

struct Noisy {
    Curve curve;
    std::vector<double> truth;
};

Noisy noisy(const Design& d, const models::Model& model, std::uint64_t seed) {
    std::mt19937_64 random(seed);
    std::normal_distribution<double> normal;
    std::uniform_int_distribution<int> decade(-6, 6);
    const double sx = d.scales ? std::pow(10, decade(random)) : 1,
                 sy = d.scales ? std::pow(10, decade(random)) : 1;
    Noisy out;
    for (std::size_t k = 0; k < d.example().parameters.size(); ++k)
        out.truth.push_back(d.example().parameters[k] * scaleOf(model.parameters()[k].unit, sx, sy));
    for (int i = 0; i < d.points; ++i) {
        const double share = static_cast<double>(i) / (d.points - 1);
        out.curve.x.push_back(
            sx * (d.example().byRatio ? d.example().from * std::pow(d.example().to / d.example().from, share)
                                      : std::lerp(d.example().from, d.example().to, share)));
    }
    if (model.predictorCount() > 1) { // four levels of the second one, each over all of the first
        out.curve.more = {{}};
        const auto x = out.curve.x;
        for (std::size_t i = 0; i < x.size(); ++i) {
            out.curve.x[i] = x[i / 4 * 4];
            out.curve.more[0].push_back(2.0 * static_cast<double>(i % 4));
        }
    }
    out.curve.y.resize(out.curve.x.size());
    std::vector<std::span<const double>> columns = {out.curve.x};
    for (const auto& m : out.curve.more) columns.emplace_back(m);
    model.evaluate(columns, out.truth, out.curve.y);
    const auto [low, high] = std::ranges::minmax(out.curve.y);
    const double sd = d.noise * (high - low);
    for (double& y : out.curve.y) y += sd * normal(random);
    return out;
}

} // namespace

TEST(Library, EveryModelHasADesign) {
    for (const models::ModelKind& kind : models::catalogue()) {
        if (kind.read) continue; // equations, and curves that are measured
        EXPECT_NE(std::ranges::find(designs(), kind.info.key, &Design::key), designs().end())
            << kind.info.key;
    }
}

TEST(Library, ReachesTheBestFromItsOwnStartValues) {
    const char* only = std::getenv("JOINTER_MODEL");
    for (const Design& d : designs()) {
        if (only && std::string(only) != d.key) continue;
        const models::ModelPtr model = *models::makeModel(d.key, {});
        ASSERT_EQ(model->parameters().size(), d.example().parameters.size()) << d.key;
        std::size_t worse = 0;
        std::string example;
        for (std::size_t seed = 1; seed <= datasets(); ++seed) {
            const Noisy data = noisy(d, *model, seed);
            fit::FitProblem problem{
                .members = {{.model = model, .predictors = {data.curve.x}, .y = data.curve.y}}};
            for (const auto& m : data.curve.more) problem.members[0].predictors.push_back(m);
            const auto own = fit::fit(problem);
            for (std::size_t k = 0; k < data.truth.size(); ++k)
                problem.parameters.push_back({.name = model->parameters()[k].name, .start = data.truth[k]});
            const auto fromTruth = fit::fit(problem);
            ASSERT_TRUE(own && fromTruth) << d.key;
            // Where a bend passes a point the sum has a dent of its own: there to a thousandth.
            const bool bends = model->formula().find("if(") != std::string::npos ||
                               model->formula().find("max(") != std::string::npos;
            if (own->rss <= fromTruth->rss * (bends ? 1.001 : 1 + 1e-6)) continue;
            ++worse;
            example =
                " seed " + std::to_string(seed) + ", " + std::to_string(own->rss / fromTruth->rss) + " times";
        }
        EXPECT_LE(worse, datasets() / 100) << d.key << example;
    }
}

// The wings of a narrow peak vanish over a wide span: 10^-300 and less.
TEST(Library, NarrowPeaksConvergeOverWideSpans) {
    Settings level;
    level.set("base", "constant");
    for (const char* key : {"gaussian", "split-gaussian", "pseudo-voigt", "exponentially-modified-gaussian"})
        for (const double wide : {30.0, 100.0, 1000.0}) { // in widths of the peak
            std::vector<double> x, y;
            for (int i = 0; i < 6000; ++i) {
                x.push_back(wide * i / 6000);
                y.push_back(5 * std::exp(-4 * std::log(2) * std::pow(x.back() - 0.1 * wide, 2)) + 1 +
                            0.01 * std::sin(13.7 * i * i));
            }
            const models::ModelPtr model = *models::makeModel(key, level);
            const auto report = fit::fit({.members = {{.model = model, .predictors = {x}, .y = y}}});
            ASSERT_TRUE(report) << report.error().text;
            EXPECT_LT(report->residualSd, 0.03) << key << " over " << wide;
            if (std::string(key) == "gaussian") {
                EXPECT_EQ(report->state, fit::FitState::Converged) << wide;
            }
        }
}
