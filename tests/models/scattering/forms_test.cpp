// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/scattering/forms.h"

#include "models/scattering/amplitudes.h"
#include "models/scattering/by_hand.h"
#include "models/scattering/length_density.h"
#include "models/scattering/structures.h"
#include "numerics/gauss_legendre.h"

#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::models::scattering;

namespace {

Moments momentsAt(const FormPtr& form, double q, const std::vector<double>& p, bool derivatives = false) {
    Moments out;
    form->moments(std::span(&q, 1), p, derivatives, out);
    return out;
}

// From 0.01 to 100 times the reciprocal of a length of 50.
double anyQ(std::mt19937& random) {
    return std::pow(10, std::uniform_real_distribution<double>(-3.5, 0)(random));
}

} // namespace

TEST(ScatteringForms, RulesOfGaussAreExactForPolynomials) {
    for (const std::size_t n : {1, 2, 5, 24, 131, 640}) {
        const auto& rule = numerics::gaussLegendre(n);
        double sum = 0, even = 0;
        const double power = static_cast<double>(2 * (n - 1));
        for (std::size_t k = 0; k < n; ++k) {
            sum += rule.weights[k];
            even += rule.weights[k] * std::pow(rule.nodes[k], power);
        }
        EXPECT_NEAR(sum, 2, 1e-13) << n;
        EXPECT_NEAR(even, 2 / (power + 1), 1e-13) << n;
    }
}

// Where a series and a closed form meet, both agree with the function in extended precision.
TEST(ScatteringForms, SeriesMeetClosedForms) {
    for (double x = 1e-4; x < 3; x *= 1.07) {
        const auto l = static_cast<long double>(x);
        const long double sphere = 3 * (std::sin(l) - l * std::cos(l)) / (l * l * l);
        EXPECT_NEAR(sphereShape(x).value, double(sphere), x < 0.02 ? 1e-9 : 3e-14) << x;
        EXPECT_NEAR(sinc(x).value, double(std::sin(l) / l), 2e-15) << x;
        EXPECT_NEAR(discShape(x).value, double(2 * std::cyl_bessel_jl(1, l) / l), 4e-15) << x;
        const double h = 1e-4;
        for (auto f : {sphereShape, sinc, discShape}) {
            const double slope =
                (8 * (f(x + h).value - f(x - h).value) - f(x + 2 * h).value + f(x - 2 * h).value) / (12 * h);
            EXPECT_NEAR(f(x).slope, slope, 2e-11) << x;
        }
    }
}

TEST(ScatteringForms, BallsOfLayersAreTheirRadialIntegrals) {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> length(5, 90), contrast(-3e-6, 5e-6);
    for (int trial = 0; trial < 60; ++trial) {
        const int shells = trial % 4;
        const double q = anyQ(random);
        std::vector<double> radii = {length(random)}, contrasts = {contrast(random)}, p = {radii[0]};
        for (int k = 0; k < shells; ++k) {
            p.push_back(length(random) / 3);
            radii.push_back(radii.back() + p.back());
            contrasts.push_back(contrast(random));
        }
        p.insert(p.end(), contrasts.begin(), contrasts.end());
        const double f = by_hand::ballAmplitude(q, radii, contrasts);
        const double scale = std::abs(by_hand::ballAmplitude(0, radii, contrasts));
        const Moments m = momentsAt(shells == 0 ? sphereForm() : coreShellForm(shells), q, p);
        EXPECT_NEAR(m.mean[0], f, 1e-11 * scale) << q << " " << shells;
        EXPECT_NEAR(m.square[0], f * f, 1e-8 * f * f + 1e-12 * scale * scale);
        if (shells > 0) { // the same told against the core
            for (int k = 1; k <= shells; ++k) p[static_cast<std::size_t>(shells + 1 + k)] -= contrasts[0];
            EXPECT_NEAR(momentsAt(coreShellForm(shells, true), q, p).mean[0], f, 1e-11 * scale);
        }
        const std::vector<double> hollow = {p[0], 12.0, 2e-6};
        const double wall = by_hand::ballAmplitude(q, {p[0], p[0] + 12}, {0, 2e-6});
        EXPECT_NEAR(momentsAt(hollowForm(), q, hollow).mean[0], wall,
                    1e-10 * 4 * by_hand::kPi * std::pow(p[0] + 12, 3) * 2e-6);
    }
}

TEST(ScatteringForms, OrientationAveragesAreTheirIntegrals) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> length(8, 80), share(-1, 1);
    for (int trial = 0; trial < 25; ++trial) {
        const double q = anyQ(random) * 0.5, radius = length(random), ratio = std::pow(12, share(random)),
                     long1 = radius * std::pow(20, share(random)), contrast = 1e-6;
        if (q * radius * std::min(1.0, ratio) > 0.02) {
            const auto e = by_hand::ellipsoid(q, radius, ratio, contrast);
            const Moments m = momentsAt(ellipsoidForm(), q, {radius, ratio, contrast});
            EXPECT_NEAR(m.square[0], e.square, 1e-8 * e.square) << q << " " << radius << " " << ratio;
            EXPECT_NEAR(m.mean[0], e.mean, 1e-8 * std::sqrt(e.square));
        }
        const auto c = by_hand::cylinder(q, radius, long1, contrast);
        for (const FormPtr& form : {cylinderForm(), discForm()}) {
            const Moments m = momentsAt(form, q, {radius, long1, contrast});
            EXPECT_NEAR(m.square[0], c.square, 1e-8 * c.square) << q << " " << radius << " " << long1;
            EXPECT_NEAR(m.mean[0], c.mean, 1e-8 * std::sqrt(c.square));
        }
    }
}

// At q = 0 contrast times volume; below qRg = 0.1 Guinier's law; at large q ⟨F²⟩·q⁴ → 2π·Δρ²·surface.
TEST(ScatteringForms, LimitsAreThoseOfGuinierAndPorod) {
    const double r = 40, contrast = 2e-6, volume = 4 * by_hand::kPi / 3 * r * r * r;
    const std::vector<double> p = {r, contrast};
    EXPECT_DOUBLE_EQ(momentsAt(sphereForm(), 0, p).square[0], std::pow(volume * contrast, 2));
    const double rg2 = 0.6 * r * r, q = 0.05 / r;
    EXPECT_NEAR(momentsAt(sphereForm(), q, p).square[0] / std::pow(volume * contrast, 2),
                std::exp(-q * q * rg2 / 3), 1e-6);
    double mean = 0;
    const int many = 4000;
    for (int k = 0; k < many; ++k) {
        const double at = (200 + by_hand::kPi * k / 50) / r;
        mean += momentsAt(sphereForm(), at, p).square[0] * std::pow(at, 4) / many;
    }
    EXPECT_NEAR(mean / (2 * by_hand::kPi * contrast * contrast * 4 * by_hand::kPi * r * r), 1, 2e-3);
    // Rods: 1/q between the reciprocal of their length and of their radius.
    const std::vector<double> rod = {5, 4000, contrast};
    const double low = momentsAt(cylinderForm(), 0.01, rod).square[0],
                 high = momentsAt(cylinderForm(), 0.012, rod).square[0];
    EXPECT_NEAR(std::log(low / high) / std::log(1.2), 1, 0.02);
    // An ellipsoid of ratio one, and a ball whose shell is like its core, are spheres.
    for (const double at : {0.001, 0.03, 0.2}) {
        EXPECT_NEAR(momentsAt(ellipsoidForm(), at, {r, 1, contrast}).square[0] /
                        momentsAt(sphereForm(), at, p).square[0],
                    1, 1e-9);
        EXPECT_NEAR(momentsAt(coreShellForm(1), at, {25, 15, contrast, contrast}).square[0] /
                        momentsAt(sphereForm(), at, p).square[0],
                    1, 1e-9);
    }
}

TEST(ScatteringForms, DerivativesAreExact) {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> value(0.5, 2);
    for (const FormPtr& form : {sphereForm(), coreShellForm(1), coreShellForm(2), coreShellForm(3),
                                hollowForm(), ellipsoidForm(), cylinderForm(), discForm()}) {
        const std::size_t n = form->parameters().size();
        for (int trial = 0; trial < 12; ++trial) {
            const double q = value(random) * 1.3;
            std::vector<double> p(n);
            for (double& v : p) v = value(random);
            const Moments at = momentsAt(form, q, p, true);
            EXPECT_DOUBLE_EQ(at.square[0], momentsAt(form, q, p).square[0]);
            for (std::size_t k = 0; k < n; ++k) {
                const auto moved = [&](double by) {
                    auto other = p;
                    other[k] += by;
                    return other;
                };
                const double h = 1e-4;
                const auto slope = [&](auto f) {
                    return (8 * (f(moved(h)) - f(moved(-h))) - f(moved(2 * h)) + f(moved(-2 * h))) / (12 * h);
                };
                const double square = slope([&](const auto& v) { return momentsAt(form, q, v).square[0]; });
                const double mean = slope([&](const auto& v) { return momentsAt(form, q, v).mean[0]; });
                const double volume = slope([&](const auto& v) { return form->volume(v).value; });
                const double touching =
                    slope([&](const auto& v) { return form->interactionRadius(v).value; });
                const double scale = form->volume(p).value * 10;
                EXPECT_NEAR(at.squareBy[k][0], square, 1e-9 * scale * scale) << form->formula() << " " << k;
                EXPECT_NEAR(at.meanBy[k][0], mean, 1e-9 * scale);
                EXPECT_NEAR(form->volume(p).by[k], volume, 1e-9 * scale);
                EXPECT_NEAR(form->interactionRadius(p).by[k], touching, 1e-9 * scale);
            }
        }
    }
}

TEST(ScatteringStructures, HardSpheresAreTheirDirectCorrelation) {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> fraction(0.001, 0.55), turn(-2, 1.7);
    for (int trial = 0; trial < 80; ++trial) {
        const double r = 30, f = fraction(random), q = std::pow(10, turn(random)) / r;
        const double s = hardSphereStructure(q, r, f), truth = by_hand::hardSpheres(q, r, f);
        EXPECT_NEAR(s, truth, 1e-9 * truth) << q << " " << f;
        EXPECT_NEAR(hardSphereStructure(1e-9, r, f), std::pow(1 - f, 4) / std::pow(1 + 2 * f, 2), 1e-12);
        EXPECT_NEAR(hardSphereStructure(300.0, r, f), 1, 1e-3);
        EXPECT_NEAR(stickySphereStructure(q, r, f, 1e9), s, 1e-7 * s) << "not sticky at all";
    }
}

// Baxter's factor by quadrature of its function, and its limit at q = 0; where two fluids would be, nothing.
TEST(ScatteringStructures, StickySpheresAreTheirFactor) {
    std::mt19937 random(6);
    std::uniform_real_distribution<double> fraction(0.01, 0.45), turn(-2, 1.5), sticky(0.15, 2);
    for (int trial = 0; trial < 60; ++trial) {
        const double f = fraction(random), tau = sticky(random), a = std::pow(10, turn(random));
        const double quadratic = f / 12, b = tau + f / (1 - f), c = (1 + f / 2) / std::pow(1 - f, 2);
        if (b * b < 4 * quadratic * c) continue;
        const double lambda = (b - std::sqrt(b * b - 4 * quadratic * c)) / (2 * quadratic),
                     mu = lambda * f * (1 - f);
        if (mu > 1 + 2 * f) continue;
        const double alpha = (1 + 2 * f - mu) / std::pow(1 - f, 2),
                     beta = (mu - 3 * f) / (2 * std::pow(1 - f, 2));
        const auto inside = [&](double s) { return alpha / 2 * (s * s - 1) + beta * (s - 1) + lambda / 12; };
        const int pieces = 1 + static_cast<int>(a);
        const double re =
            1 -
            12 * f * by_hand::integral([&](double s) { return inside(s) * std::cos(a * s); }, 0, 1, pieces);
        const double im =
            -12 * f * by_hand::integral([&](double s) { return inside(s) * std::sin(a * s); }, 0, 1, pieces);
        const double truth = 1 / (re * re + im * im);
        EXPECT_NEAR(stickySphereStructure(a / 2, 1.0, f, tau), truth, 1e-9 * truth)
            << f << " " << tau << " " << a;
        EXPECT_NEAR(stickySphereStructure(1e-7, 1.0, f, tau), 1 / (alpha * alpha), 1e-8 / (alpha * alpha));
    }
    EXPECT_TRUE(std::isnan(stickySphereStructure(0.1, 1.0, 0.3, 0.02)));
}

TEST(ScatteringStructures, DerivativesAreExact) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> value(0.05, 0.45), place(0.05, 6);
    for (int trial = 0; trial < 60; ++trial) {
        const double q = place(random), f = value(random), tau = 0.3 + 3 * value(random),
                     r = 0.5 + value(random), h = 1e-4;
        const auto hard = hardSphereStructure(q, Dual<2>::variable(r, 0), Dual<2>::variable(f, 1));
        const auto soft = stickySphereStructure(q, Dual<3>::variable(r, 0), Dual<3>::variable(f, 1),
                                                Dual<3>::variable(tau, 2));
        const auto slope = [&](auto g) { return (8 * (g(h) - g(-h)) - g(2 * h) + g(-2 * h)) / (12 * h); };
        EXPECT_NEAR(hard.slope[0], slope([&](double d) { return hardSphereStructure(q, r + d, f); }), 1e-7);
        EXPECT_NEAR(hard.slope[1], slope([&](double d) { return hardSphereStructure(q, r, f + d); }), 1e-7);
        const Dual<3> fluid = HardSphereFluid(f).at(q, r);
        EXPECT_NEAR(fluid.value, hard.value, 1e-12);
        for (const std::size_t k : {0, 1})
            EXPECT_NEAR(fluid.slope[k], hard.slope[k], 1e-9 * (1 + std::abs(hard.slope[k])));
        if (std::isnan(soft.value)) continue;
        EXPECT_NEAR(soft.slope[0], slope([&](double d) { return stickySphereStructure(q, r + d, f, tau); }),
                    1e-6 * (1 + soft.value));
        EXPECT_NEAR(soft.slope[1], slope([&](double d) { return stickySphereStructure(q, r, f + d, tau); }),
                    1e-5 * (1 + soft.value));
        EXPECT_NEAR(soft.slope[2], slope([&](double d) { return stickySphereStructure(q, r, f, tau + d); }),
                    1e-6 * (1 + soft.value));
    }
}

// Heavy and light water, as tables of scattering lengths give them; and formulas that are none.
TEST(ScatteringLengths, OfSubstances) {
    EXPECT_NEAR(*lengthDensity("H2O", 0.997, Probe::Neutrons), -0.5594e-6, 0.002e-6);
    EXPECT_NEAR(*lengthDensity("D2O", 1.105, Probe::Neutrons), 6.365e-6, 0.02e-6);
    EXPECT_NEAR(*lengthDensity("H2O", 0.997, Probe::XRays), 9.40e-6, 0.02e-6);
    EXPECT_NEAR(*lengthDensity("SiO2", 2.2, Probe::Neutrons), 3.475e-6, 0.01e-6);
    EXPECT_DOUBLE_EQ(*lengthDensity("Ca(OH)2", 2.2, Probe::XRays),
                     *lengthDensity("CaO2H2", 2.2, Probe::XRays));
    for (const char* bad : {"", "Xx2", "C12(H26", "C)", "c2"})
        EXPECT_FALSE(lengthDensity(bad, 1, Probe::XRays)) << bad;
}
