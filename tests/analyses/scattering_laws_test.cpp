// SPDX-License-Identifier: GPL-3.0-or-later
// Laws of scattering, free sizes and pair distances from curves whose truth is known.
#include "analyses/analysis.h"
#include "models/catalogue.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;

namespace {

constexpr double kDropletContrast = 3e-6;

// Spheres in solution as a dataset, with noise that is a share of each intensity.
std::shared_ptr<Curve> dropletCurve(double radius, double sd, double fraction, double background, double from,
                                    double to, int points, double share, unsigned seed) {
    Settings settings;
    if (sd > 0) settings.set("distribution", "lognormal");
    const models::ModelPtr model = *models::makeModel("sphere", settings);
    std::vector<double> p;
    for (const models::ParameterInfo& info : model->parameters())
        p.push_back(info.name == "radius"            ? radius
                    : info.name == "sd"              ? sd
                    : info.name == "contrast"        ? kDropletContrast
                    : info.name == "volume_fraction" ? fraction
                                                     : background);
    auto curve = std::make_shared<Curve>();
    for (int k = 0; k < points; ++k) curve->x.push_back(from * std::pow(to / from, double(k) / (points - 1)));
    curve->y.resize(curve->x.size());
    const std::span<const double> column = curve->x;
    model->evaluate({&column, 1}, p, curve->y);
    std::mt19937 random(seed);
    std::normal_distribution<double> noise;
    for (double& y : curve->y) {
        curve->sigma.push_back(std::max(share, 1e-4) * y);
        y += share * y * noise(random);
    }
    curve->xMeaning = {"q", "1/Å"};
    curve->yMeaning = {"I", "1/cm"};
    return curve;
}

Result<analyses::AnalysisResult> scatteringResult(const char* kind, const std::shared_ptr<const Curve>& curve,
                                                  const std::vector<std::pair<const char*, Value>>& given,
                                                  Span span = {}) {
    Analysis spec{.kind = kind, .inputs = {{.dataset = DatasetId{1}, .span = std::move(span)}}};
    for (const auto& [key, value] : given) spec.settings.set(key, value);
    analyses::Task task{.spec = spec};
    task.inputs.push_back({.name = "droplets", .curve = curve, .spec = spec.inputs[0]});
    const analyses::AnalysisKind* found = analyses::catalogue().find(kind);
    return found->compute(task, {});
}

double numberOf(const analyses::AnalysisResult& r, const char* key) {
    const analyses::Quantity* q = r.find(key);
    EXPECT_TRUE(q) << key;
    return q ? q->value : NAN;
}

bool tells(const analyses::AnalysisResult& r, const char* code) {
    return std::ranges::find(r.issues, code, &Issue::code) != r.issues.end();
}

} // namespace

TEST(ScatteringLaws, GuinierGivesTheRadiusOfGyration) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> size(20, 150);
    for (int trial = 0; trial < 30; ++trial) {
        const double r = size(random), rg = std::sqrt(0.6) * r;
        const auto curve =
            dropletCurve(r, 0, 0.01, 0, 0.15 / r, 8 / r, 150, 0.01, static_cast<unsigned>(trial));
        const auto found = scatteringResult("scattering-laws", curve, {});
        ASSERT_TRUE(found) << found.error().text;
        EXPECT_LE(numberOf(*found, "reach"), 1.3 + 1e-9);
        // The next term of the series moves the slope by a few per cent at qRg = 1.3.
        EXPECT_NEAR(numberOf(*found, "rg"), rg, 0.05 * rg);
        EXPECT_NEAR(numberOf(*found, "forward"),
                    1e8 * 0.01 * std::pow(kDropletContrast, 2) * 4 * M_PI / 3 * r * r * r,
                    0.03 * numberOf(*found, "forward"));
        const analyses::NamedCurve* line = found->curve("straight");
        ASSERT_TRUE(line && found->curve("straight-points"));
        EXPECT_NEAR(line->sample({0.0}).y[0], std::log(numberOf(*found, "forward")), 1e-9);
        const auto far = scatteringResult("scattering-laws", curve, {}, Span(0.1 / r, 3 / r));
        ASSERT_TRUE(far);
        EXPECT_TRUE(tells(*far, "guinier-range"));
    }
}

TEST(ScatteringLaws, PorodGivesTheSurface) {
    for (const double r : {40.0, 110.0}) {
        const double fraction = 0.02;
        const auto curve = dropletCurve(r, 0.25 * r, fraction, 0.003, 4 / r, 40 / r, 200, 0.003, 3);
        const auto found = scatteringResult("scattering-laws", curve,
                                            {{"law", std::string("porod")}, {"contrast", kDropletContrast}},
                                            Span(15 / r, 40 / r));
        ASSERT_TRUE(found) << found.error().text;
        // Surface over volume of log-normal spheres: 3⟨r²⟩/⟨r³⟩.
        const double s2 = std::log1p(0.0625), mu = std::log(r) - s2 / 2;
        const double surface = 3 * fraction * std::exp(2 * mu + 2 * s2) / std::exp(3 * mu + 4.5 * s2) * 1e8;
        EXPECT_NEAR(numberOf(*found, "surface"), surface, 0.03 * surface);
        EXPECT_NEAR(numberOf(*found, "background"), 0.003, 0.0002);
    }
}

TEST(ScatteringLaws, InvariantGivesVolumeAndFraction) {
    for (const double r : {30.0, 90.0}) {
        const auto curve = dropletCurve(r, 0, 0.05, 0, 0.1 / r, 60 / r, 500, 0.002, 8);
        const auto found = scatteringResult(
            "scattering-laws", curve, {{"law", std::string("invariant")}, {"contrast", kDropletContrast}});
        ASSERT_TRUE(found) << found.error().text;
        const double volume = 4 * M_PI / 3 * r * r * r;
        EXPECT_NEAR(numberOf(*found, "volume"), volume, 0.03 * volume);
        // Dilute spheres scatter φ, two phases φ(1 − φ): the invariant tells the latter.
        EXPECT_NEAR(numberOf(*found, "volume_fraction"), 0.5 - std::sqrt(0.25 - 0.05), 0.002);
        EXPECT_LT(numberOf(*found, "extrapolated"), 0.1);
    }
}

TEST(ScatteringLaws, PowerGivesTheExponent) {
    auto curve = std::make_shared<Curve>();
    for (int k = 0; k < 60; ++k) {
        curve->x.push_back(0.002 * std::pow(1.1, k));
        curve->y.push_back(7e-5 * std::pow(curve->x.back(), -2.3));
    }
    const auto found = scatteringResult("scattering-laws", curve, {{"law", std::string("power")}});
    ASSERT_TRUE(found);
    EXPECT_NEAR(numberOf(*found, "exponent"), 2.3, 1e-9);
    EXPECT_NEAR(numberOf(*found, "scale"), 7e-5, 1e-12);
}

TEST(FreeSizes, FindTheDistribution) {
    for (const char* prior : {"smooth", "entropy"})
        for (unsigned seed = 1; seed <= 3; ++seed) {
            const double r = 60, sd = 15, s2 = std::log1p(sd * sd / (r * r));
            const auto curve = dropletCurve(r, sd, 0.02, 0.01, 0.3 / r, 15 / r, 180, 0.02, seed);
            const auto found = scatteringResult(
                "free-sizes", curve, {{"prior", std::string(prior)}, {"contrast", kDropletContrast}});
            ASSERT_TRUE(found) << found.error().text;
            const double byVolume = r * std::exp(3 * s2);
            EXPECT_NEAR(numberOf(*found, "radius_by_volume"), byVolume, 0.03 * byVolume) << prior;
            EXPECT_NEAR(numberOf(*found, "volume_fraction"), 0.02, 0.001) << prior;
            EXPECT_NEAR(numberOf(*found, "background"), 0.01, 0.001) << prior;
            EXPECT_LT(found->find("radius_by_volume")->se, 0.1 * byVolume) << prior;
            const analyses::NamedCurve* volumes = found->curve("distribution", {}, "by volume");
            ASSERT_TRUE(volumes);
            // The area under it is the volume fraction.
            double area = 0;
            for (double at = 1; at < 300; at += 0.5) area += 0.5 * volumes->sample({at}).y[0];
            EXPECT_NEAR(area, 0.02, 0.001) << prior;
            EXPECT_TRUE(found->curve("fit") && found->curve("residuals"));
        }
}

TEST(PairDistances, FindSizeAndLongestDistance) {
    for (const double r : {25.0, 80.0})
        for (unsigned seed = 1; seed <= 3; ++seed) {
            const auto curve = dropletCurve(r, 0, 0.01, 0, 0.3 / r, 9 / r, 160, 0.02, seed);
            const auto found = scatteringResult("pair-distances", curve, {});
            ASSERT_TRUE(found) << found.error().text;
            const double rg = std::sqrt(0.6) * r;
            EXPECT_NEAR(numberOf(*found, "rg"), rg, 0.02 * rg);
            EXPECT_NEAR(numberOf(*found, "longest"), 2 * r, 0.5 * r);
            EXPECT_NEAR(numberOf(*found, "mode"), 1.05 * r, 0.15 * r); // where p(r) of a sphere is highest
            const analyses::NamedCurve* p = found->curve("distances");
            ASSERT_TRUE(p);
            EXPECT_EQ(p->sample({0.0}).y[0], 0);
        }
}

// Nothing, one value, zeros, infinities, negative q: each gives a sentence or numbers, and never a fault.
TEST(ScatteringAnalyses, SurviveEveryInput) {
    std::mt19937 random(9);
    for (const char* kind : {"scattering-laws", "free-sizes", "pair-distances"})
        for (const char* law : {"guinier", "porod", "power", "invariant"})
            for (int trial = 0; trial < (std::string(kind) == "scattering-laws" ? 40 : 8); ++trial) {
                auto curve = std::make_shared<Curve>();
                const int n = static_cast<int>(random() % 30);
                for (int k = 0; k < n; ++k) {
                    const double odd[] = {0, 1, -1, NAN, INFINITY, 1e300, 1e-300, 0.01 * k};
                    curve->x.push_back(random() % 4 == 0 ? odd[random() % 8] : 0.01 * (k + 1));
                    curve->y.push_back(trial % 3 == 0 ? 5 : odd[random() % 8]);
                    if (trial % 2) curve->sigma.push_back(random() % 5 == 0 ? odd[random() % 8] : 0.1);
                }
                sortByX(*curve);
                const auto found = scatteringResult(
                    kind, curve,
                    {{std::string(kind) == "scattering-laws" ? "law" : "none", std::string(law)}});
                if (!found) {
                    EXPECT_FALSE(found.error().text.empty());
                }
            }
}
