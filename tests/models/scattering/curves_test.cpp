// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/by_hand.h"
#include "models/scattering/particles.h"
#include "models/scattering/seen_curve.h"
#include "models/scattering/told.h"

#include <boost/math/distributions/gamma.hpp>
#include <boost/math/distributions/lognormal.hpp>
#include <boost/math/distributions/normal.hpp>
#include <boost/math/distributions/weibull.hpp>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::models;
using namespace jointer::models::scattering;

namespace {

constexpr double kContrast = 2e-6;

// A density, where it is, by another library.
struct Density {
    by_hand::Function of;
    double from, to;
};

Density densityOf(const std::string& key, double mean, double sd) {
    const double ratio = sd / mean;
    if (key == "gaussian") {
        const boost::math::normal_distribution<> d(mean, sd);
        return {[d](double r) { return pdf(d, r); }, std::max(0.0, mean - 6 * sd), mean + 6 * sd};
    }
    if (key == "lognormal") {
        const double s2 = std::log1p(ratio * ratio);
        const boost::math::lognormal_distribution<> d(std::log(mean) - s2 / 2, std::sqrt(s2));
        return {[d](double r) { return pdf(d, r); }, 1e-6 * mean,
                mean * std::exp(6 * s2 + 7 * std::sqrt(s2))};
    }
    if (key == "schulz") {
        const boost::math::gamma_distribution<> d(1 / (ratio * ratio), mean * ratio * ratio);
        return {[d](double r) { return pdf(d, r); }, 1e-9 * mean,
                mean * (1 + 20 * ratio + 30 * ratio * ratio)};
    }
    if (key == "weibull") {
        double low = 0.5, high = 400; // shape by bisection
        for (int k = 0; k < 100; ++k) {
            const double shape = std::sqrt(low * high);
            const boost::math::weibull_distribution<> d(shape, 1);
            (standard_deviation(d) / boost::math::mean(d) > ratio ? low : high) = shape;
        }
        const boost::math::weibull_distribution<> unit(low, 1), d(low, mean / boost::math::mean(unit));
        return {[d](double r) { return pdf(d, r); }, 1e-9 * mean, quantile(complement(d, 1e-25))};
    }
    const double half = std::sqrt(3.0) * sd;
    return {[half](double) { return 0.5 / half; }, std::max(0.0, mean - half), mean + half};
}

double sphereVolume(double r) {
    return 4 * by_hand::kPi / 3 * r * r * r;
}
double sphereAmplitude(double q, double r) {
    const double x = q * r;
    return kContrast * sphereVolume(r) *
           (x < 1e-3 ? 1 - x * x / 10 : 3 * (std::sin(x) - x * std::cos(x)) / (x * x * x));
}

struct Case {
    std::string distribution, weighting, structure, coupling;
    double mean, sd, fraction;
};

// I in cm⁻¹ by its definition, over sizes one by one.
double intensity(const Case& c, double q) {
    const Density d = densityOf(c.distribution, c.mean, c.sd);
    const int pieces = 24 + static_cast<int>(q * (d.to - d.from));
    const auto over = [&](const by_hand::Function& f) {
        return by_hand::integral(
            [&](double r) { return f(r) * d.of(r) / (c.weighting == "volume" ? sphereVolume(r) : 1); },
            d.from, d.to, pieces);
    };
    const double volume = over(sphereVolume), number = over([](double) { return 1.0; });
    const auto square = [&](double r) { return std::pow(sphereAmplitude(q, r), 2); };
    double top = 0;
    if (c.structure == "hard-sphere" && c.coupling == "local")
        top = over([&](double r) { return square(r) * by_hand::hardSpheres(q, r, c.fraction); });
    else {
        const double mean = over([&](double r) { return sphereAmplitude(q, r); });
        top = over(square);
        if (c.structure == "hard-sphere")
            top += (by_hand::hardSpheres(q, c.mean, c.fraction) - 1) * mean * mean / number;
    }
    return 1e8 * c.fraction * top / volume;
}

ModelPtr modelOf(const Case& c, told::Given more = {}) {
    more.insert(more.end(), {{"distribution", c.distribution},
                             {"weighting", c.weighting},
                             {"structure", c.structure},
                             {"coupling", c.coupling}});
    return told::model("sphere", more);
}
told::Named namedOf(const Case& c) {
    return {{"radius", c.mean}, {"sd", c.sd}, {"volume_fraction", c.fraction}, {"contrast", kContrast}};
}

} // namespace

TEST(ScatteringCurves, SpheresOfManySizesAreTheirIntegrals) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> mean(20, 200), share(0.04, 0.35), fraction(0.001, 0.35),
        turn(-1, 1.2);
    for (const std::string distribution : {"gaussian", "lognormal", "schulz", "weibull", "uniform"})
        for (const std::string weighting : {"number", "volume"})
            for (const auto& [structure, coupling] :
                 {std::pair("none", "decoupled"), {"hard-sphere", "decoupled"}, {"hard-sphere", "local"}})
                for (int trial = 0; trial < 6; ++trial) {
                    // A Gaussian by volume that reaches down to zero has infinitely many small particles.
                    const double most = weighting == "volume" ? 0.13 : 0.35;
                    Case c{distribution, weighting, structure, coupling, mean(random), 0, fraction(random)};
                    c.sd = c.mean * std::min(share(random), most);
                    const double q = std::pow(10, turn(random)) / c.mean, truth = intensity(c, q);
                    EXPECT_NEAR(told::at(*modelOf(c), q, namedOf(c)), truth, 1e-8 * truth)
                        << distribution << " " << weighting << " " << structure << " " << coupling << " qR "
                        << q * c.mean << " sd/R " << c.sd / c.mean;
                }
}

TEST(ScatteringCurves, UnitsAreAbsolute) {
    const double r = 100, fraction = 0.01, i0 = 1e8 * fraction * kContrast * kContrast * sphereVolume(r);
    const told::Named p = {{"radius", r}, {"volume_fraction", fraction}, {"contrast", kContrast}};
    EXPECT_NEAR(told::at(*told::model("sphere", {}), 1e-9, p), i0, 1e-9 * i0);
    // The same particle told in nanometres.
    told::Named nm = p;
    nm["radius"] = 10;
    const ModelPtr inNm = told::model("sphere", {{"q-unit", std::string("1/nm")}});
    for (const double q : {0.001, 0.02, 0.15})
        EXPECT_NEAR(told::at(*inNm, 10 * q, nm) / told::at(*told::model("sphere", {}), q, p), 1, 1e-12);
    // One scale is fraction × contrast².
    const ModelPtr scaled = told::model("sphere", {{"known", std::string("scale")}});
    EXPECT_NEAR(told::at(*scaled, 0.02, {{"radius", r}, {"scale", 1e8 * fraction * kContrast * kContrast}}),
                told::at(*told::model("sphere", {}), 0.02, p), 1e-9);
    const ModelPtr layer = told::model("bilayer", {});
    const double q = 0.05, t = 40, x = q * t / 2;
    EXPECT_NEAR(
        told::at(*layer, q, {{"volume_fraction", fraction}, {"thickness", t}, {"contrast", kContrast}}),
        1e8 * fraction * kContrast * kContrast * 2 * by_hand::kPi * t * std::pow(std::sin(x) / x, 2) /
            (q * q),
        1e-9);
}

TEST(ScatteringCurves, SmearingIsItsIntegral) {
    std::mt19937 random(13);
    std::uniform_real_distribution<double> turn(-1.2, 1.3), share(0.02, 0.3);
    for (int trial = 0; trial < 16; ++trial) {
        const Case c{trial % 2 ? "none" : "lognormal",
                     "number",
                     trial % 4 == 3 ? "hard-sphere" : "none",
                     "decoupled",
                     80,
                     12,
                     0.1};
        const double q = std::pow(10, turn(random)) / c.mean, sigma = share(random) * q;
        const ModelPtr sharp = modelOf(c);
        told::Named p = namedOf(c);
        if (c.distribution == "none") p.erase("sd");
        const double low = std::max(0.0, q - 6 * sigma), high = q + 6 * sigma;
        const auto kernel = [&](double at) { return std::exp(-0.5 * std::pow((at - q) / sigma, 2)); };
        const int pieces = 20 + static_cast<int>(c.mean * (high - low));
        const double truth =
            by_hand::integral([&](double at) { return kernel(at) * told::at(*sharp, at, p); }, low, high,
                              pieces) /
            by_hand::integral(kernel, low, high, pieces);
        const ModelPtr seen = modelOf(c, {{"resolution", std::string("width")}, {"width", sigma}});
        EXPECT_NEAR(told::at(*seen, q, p), truth, 1e-8 * truth) << q * c.mean << " " << sigma / q;
        const double slit = 2 * q;
        const double behind =
            by_hand::integral([&](double u) { return told::at(*sharp, std::hypot(q, u), p); }, 0, slit,
                              20 + static_cast<int>(2 * c.mean * slit)) /
            slit;
        const ModelPtr slitted = modelOf(c, {{"resolution", std::string("slit")}, {"slit", slit}});
        EXPECT_NEAR(told::at(*slitted, q, p), behind, 1e-8 * behind) << q * c.mean;
    }
}

// Many points at once are the same as one by one, and a column of resolutions is taken by its points.
TEST(ScatteringCurves, ResolutionByPointIsThatOfEachPoint) {
    auto points = std::make_shared<Curve>();
    for (int k = 1; k <= 60; ++k) {
        points->x.push_back(0.004 * k);
        points->y.push_back(1);
        points->resolution.push_back(0.0004 + 0.03 * 0.004 * k);
    }
    const told::Named p = {{"radius", 70}, {"volume_fraction", 0.02}, {"contrast", kContrast}};
    const ModelPtr all = told::model("sphere", {{"resolution", std::string("column")}}, {.fitted = points});
    const auto values = told::curve(*all, points->x, told::parameters(*all, p));
    for (std::size_t k = 0; k < points->size(); ++k) {
        const ModelPtr one =
            told::model("sphere", {{"resolution", std::string("width")}, {"width", points->resolution[k]}});
        EXPECT_NEAR(values[k], told::at(*one, points->x[k], p), 1e-9 * values[k]);
    }
    Settings settings;
    settings.set("resolution", Value(std::string("column")));
    points->resolution.clear();
    const auto none = makeModel("sphere", settings, {.fitted = points});
    ASSERT_FALSE(none);
    EXPECT_EQ(none.error().code, "no-resolution");
}

// Every model, smeared, with all that it can be told: derivatives against differences.
TEST(ScatteringCurves, DerivativesOfEverything) {
    std::mt19937 random(17);
    const std::vector<double> q = {0.004, 0.02, 0.05, 0.11, 0.24};
    const auto one = [](auto& from, std::mt19937& r) { return from[r() % std::size(from)]; };
    const char* const distributions[] = {"none", "gaussian", "lognormal", "schulz", "weibull", "uniform"};
    const char* const structures[] = {"none", "hard-sphere", "sticky-hard-sphere"};
    const char* const resolutions[] = {"sharp", "width", "share", "slit", "beam"};
    const char* const known[] = {"contrast", "fraction", "neither", "scale"};
    for (const ModelKind& kind : catalogue()) {
        if (kind.info.group != "Scattering") continue;
        const bool isTurned =
            kind.info.key == "ellipsoid" || kind.info.key == "cylinder" || kind.info.key == "disc";
        for (int trial = 0; trial < (isTurned ? 3 : 12); ++trial) {
            told::Given given = {{"resolution", std::string(one(resolutions, random))}};
            if (kind.info.find("known"))
                given.emplace_back("known",
                                   std::string(kind.info.key == "bilayer" ? known[0] : one(known, random)));
            if (kind.info.find("structure")) {
                given.emplace_back("distribution", std::string(one(distributions, random)));
                given.emplace_back("structure", std::string(one(structures, random)));
                given.emplace_back("coupling", std::string(random() % 2 ? "local" : "decoupled"));
                given.emplace_back("weighting", std::string(random() % 2 ? "volume" : "number"));
                given.emplace_back("interaction-radius", std::string(random() % 2 ? "own" : "bound"));
                given.emplace_back("interaction-fraction", std::string(random() % 2 ? "own" : "bound"));
            }
            if (kind.info.find("shells")) given.emplace_back("shells", 1.0 + random() % 3);
            const ModelPtr m = told::model(kind.info.key, given);
            std::vector<double> p;
            for (const ParameterInfo& info : m->parameters()) {
                const double by = std::uniform_real_distribution<double>(0.8, 1.2)(random);
                const std::string& n = info.name;
                p.push_back(by * (n == "radius" || n == "rg" || n == "correlation_length" ? 50
                                  : n == "sd"                                             ? 6
                                  : n.starts_with("thickness")                            ? 15
                                  : n == "length"                                         ? 200
                                  : n == "interaction_radius"                             ? 60
                                  : n.ends_with("fraction")                               ? 0.1
                                  : n.starts_with("contrast") && info.unit == "=1/Å^2"    ? 2e-6
                                  : n == "exponent"                                       ? 3
                                  : n == "dimension"                                      ? 0.4
                                                                                          : 1));
            }
            const std::size_t n = q.size();
            const std::span<const double> column = q;
            std::vector<double> values(n), gradient(n * p.size());
            m->evaluate({&column, 1}, p, values, gradient);
            EXPECT_EQ(values, told::curve(*m, q, p)) << "with and without derivatives";
            for (std::size_t k = 0; k < p.size(); ++k) {
                const double h = 2e-4 * p[k];
                const auto moved = [&](double by) {
                    auto other = p;
                    other[k] += by;
                    return told::curve(*m, q, other);
                };
                const auto a = moved(h), b = moved(-h), c = moved(2 * h), d = moved(-2 * h);
                for (std::size_t i = 0; i < n; ++i) {
                    const double slope = (8 * (a[i] - b[i]) - c[i] + d[i]) / (12 * h);
                    EXPECT_NEAR(gradient[k * n + i] * p[k], slope * p[k], 2e-6 * std::abs(values[i]) + 1e-12)
                        << kind.info.key << " " << m->parameters()[k].name << " trial " << trial << " q "
                        << q[i];
                }
            }
        }
    }
}

TEST(ScatteringCurves, NumbersOfDistributionsAreTheirs) {
    for (const double ratio : {0.05, 0.2, 0.5}) {
        const double mean = 40, sd = ratio * mean, s2 = std::log1p(ratio * ratio);
        const SizeNumbers log = sizeNumbers(Distribution::LogNormal, mean, sd);
        EXPECT_NEAR(log.mean, mean, 1e-7 * mean);
        EXPECT_NEAR(log.sd, sd, 1e-6 * sd);
        EXPECT_NEAR(log.median, mean * std::exp(-s2 / 2), 2e-4 * mean);
        EXPECT_NEAR(log.mode, mean * std::exp(-1.5 * s2), 3e-3 * mean);
        EXPECT_NEAR(weightedMean(Distribution::LogNormal, mean, sd, 3), mean * std::exp(3 * s2), 1e-6 * mean);
        const SizeNumbers schulz = sizeNumbers(Distribution::Schulz, mean, sd);
        EXPECT_NEAR(schulz.mean, mean, 1e-8 * mean);
        EXPECT_NEAR(schulz.sd, sd, 1e-7 * sd);
        EXPECT_NEAR(schulz.mode, mean * (1 - ratio * ratio), 3e-3 * mean);
        EXPECT_NEAR(sizeNumbers(Distribution::Weibull, mean, sd).sd, sd, 1e-7 * sd);
        EXPECT_NEAR(sizeNumbers(Distribution::Uniform, mean, sd).sd, sd, 1e-9 * sd);
    }
}

// Parameters that a solver may try on its way: no number, or one, but no fault and no end of time.
TEST(ScatteringCurves, SurviveEveryParameter) {
    std::mt19937 random(23);
    const double odd[] = {0, -1, 1e-300, 1e300, INFINITY, -INFINITY, NAN, 1e-6, 50, 1, 1e6};
    const char* const distributions[] = {"none", "gaussian", "lognormal", "schulz", "weibull", "uniform"};
    const char* const structures[] = {"none", "hard-sphere", "sticky-hard-sphere"};
    for (const ModelKind& kind : catalogue()) {
        if (kind.info.group != "Scattering") continue;
        for (int trial = 0; trial < 60; ++trial) {
            told::Given given;
            if (kind.info.find("structure")) {
                given.emplace_back("distribution", std::string(distributions[random() % 6]));
                given.emplace_back("structure", std::string(structures[random() % 3]));
                given.emplace_back("coupling", std::string(random() % 2 ? "local" : "decoupled"));
            }
            if (trial % 2) given.emplace_back("resolution", std::string("share"));
            const ModelPtr m = told::model(kind.info.key, given);
            std::vector<double> p;
            for (std::size_t k = 0; k < m->parameters().size(); ++k)
                p.push_back(odd[random() % std::size(odd)]);
            const std::vector<double> q = {0, 0.01, 0.1, -1, 0.3};
            std::vector<double> values(q.size()), gradient(q.size() * p.size());
            const std::span<const double> column = q;
            m->evaluate({&column, 1}, p, values, gradient);
            for (std::size_t k = 0; k < m->derived().size(); ++k)
                if (m->derived()[k].formula.empty())
                    (void)m->derive(k, p, std::span(gradient).first(p.size()));
        }
    }
}

// What a model says of its particles beyond its parameters.
TEST(ScatteringCurves, DerivedNumbersAreOfTheParticles) {
    const ModelPtr m = told::model("sphere", {{"distribution", std::string("lognormal")}});
    const auto p = told::parameters(
        *m, {{"radius", 100}, {"sd", 20}, {"volume_fraction", 0.01}, {"contrast", kContrast}});
    std::map<std::string, double> found;
    for (std::size_t k = 0; k < m->derived().size(); ++k) {
        std::vector<double> gradient(p.size());
        if (m->derived()[k].formula.empty()) found[m->derived()[k].name] = m->derive(k, p, gradient);
    }
    const double s2 = std::log1p(0.04), volume = sphereVolume(100) * std::exp(3 * s2);
    EXPECT_NEAR(found["mean_volume"], volume, 1e-6 * volume);
    EXPECT_NEAR(found["radius_by_volume"], 100 * std::exp(3 * s2), 1e-5);
    EXPECT_NEAR(found["number_density"], 0.01 / (volume * 1e-24), 1e-6 * 0.01 / (volume * 1e-24));
}
