// SPDX-License-Identifier: GPL-3.0-or-later
// Peak shapes: what is read from them against quadrature, roots and finite differences, whatever their
// parameters are; partners; the integral background.
#include "models/catalogue.h"
#include "models/integral_background.h"
#include "models/peak_features.h"
#include "models/peak_partner.h"

#include <algorithm>
#include <boost/math/quadrature/exp_sinh.hpp>
#include <boost/math/quadrature/gauss_kronrod.hpp>
#include <boost/math/tools/roots.hpp>
#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::models;

namespace {

double at(const Model& m, std::span<const double> p, double x) {
    double y = 0;
    const std::span<const double> column(&x, 1);
    m.evaluate({&column, 1}, p, {&y, 1});
    return y;
}

// Each shape with each of its settings, and one of one's own.
std::vector<PeakShape> everyShape() {
    std::vector<PeakShape> out;
    for (const std::string& key : peakShapeKeys()) {
        out.push_back(*peakShape(key, {}));
        for (const Setting& s : catalogue().find(key)->info.settings)
            if (s.key == "direction") {
                Settings left;
                left.set("direction", "left");
                out.push_back(*peakShape(key, left));
            }
    }
    Settings own;
    own.set("equation", "height*exp(-((x - centre)/width)^2)*(1 + 0.3*tanh((x - centre)/width))");
    out.push_back(*peakShape("equation", own));
    return out;
}

std::vector<double> someParameters(const PeakShape& s, std::mt19937& random) {
    std::uniform_real_distribution<double> u(0, 1);
    std::vector<double> p = s.traits->begin(
        5 + 10 * u(random), (u(random) < 0.3 ? -1 : 1) * (1 + 9 * u(random)), 0.5 + 2 * u(random));
    for (std::size_t k = 0; k < p.size(); ++k) {
        const ParameterInfo& info = s.model->parameters()[k];
        if (info.name == "asymmetry") p[k] = 0.05 + 0.3 * u(random);
        if (info.name == "share") p[k] = u(random);
        if (info.name == "exponent") p[k] = 1.2 + 3 * u(random);
        if (info.name == "shape") p[k] = 1.5 + 3 * u(random);
        if (std::ranges::count(s.traits->widths, k) > 0) p[k] *= 0.6 + u(random);
    }
    return p;
}

// A feature by the values of the shape alone: roots and minima to rounding.
double maximumOf(const PeakShape& s, std::span<const double> p) {
    const double sign = at(*s.model, p, p[s.traits->centre]) < 0 ? -1 : 1;
    double reach = 0;
    for (std::size_t k : s.traits->widths) reach += 2 * p[k];
    double best = p[s.traits->centre];
    for (int i = -400; i <= 400; ++i)
        if (const double x = p[s.traits->centre] + reach * i / 400;
            sign * at(*s.model, p, x) > sign * at(*s.model, p, best))
            best = x;
    if (s.traits->topAtCentre) return p[s.traits->centre];
    const double h = 2e-3 * reach; // the zero of the slope: a maximum itself is known to √ε only
    const auto slope = [&](double x) {
        const auto y = [&](double by) { return at(*s.model, p, x + by); };
        return sign * (45 * (y(h) - y(-h)) - 9 * (y(2 * h) - y(-2 * h)) + y(3 * h) - y(-3 * h));
    };
    std::uintmax_t most = 200;
    const auto [low, high] = boost::math::tools::bisect(slope, best - reach / 200, best + reach / 200,
                                                        boost::math::tools::eps_tolerance<double>(50), most);
    return 0.5 * (low + high);
}
double crossingOf(const PeakShape& s, std::span<const double> p, double from, double level,
                  double direction) {
    const double sign = level < 0 ? -1 : 1;
    double reach = 0;
    for (std::size_t k : s.traits->widths) reach += p[k];
    double outer = from;
    while (sign * (at(*s.model, p, outer) - level) > 0) outer += direction * 0.02 * reach;
    const double inner = outer - direction * 0.02 * reach;
    std::uintmax_t most = 200;
    const auto [a, b] = boost::math::tools::bisect([&](double x) { return at(*s.model, p, x) - level; },
                                                   std::min(inner, outer), std::max(inner, outer),
                                                   boost::math::tools::eps_tolerance<double>(52), most);
    return 0.5 * (a + b);
}

// Against differences of h⁶ of the value itself.
void expectGradient(const PeakShape& s, std::span<const double> p, const char* what, double tolerance,
                    const std::function<PeakNumber(const PeakReading&)>& read) {
    const PeakNumber n = read(PeakReading(*s.model, *s.traits, p));
    ASSERT_EQ(n.gradient.size(), p.size()) << s.key << " " << what;
    double reach = 0;
    for (std::size_t k : s.traits->widths) reach += p[k];
    for (std::size_t k = 0; k < p.size(); ++k) {
        const double h = k == s.traits->centre ? 2e-3 * reach : 2e-3 * std::max(std::abs(p[k]), 0.1);
        const auto value = [&](double by) {
            std::vector<double> q(p.begin(), p.end());
            q[k] += by;
            return read(PeakReading(*s.model, *s.traits, q)).value;
        };
        const double d = (45 * (value(h) - value(-h)) - 9 * (value(2 * h) - value(-2 * h)) + value(3 * h) -
                          value(-3 * h)) /
                         (60 * h);
        EXPECT_NEAR(n.gradient[k], d,
                    tolerance *
                        std::max({std::abs(d), std::abs(n.value) / std::max(std::abs(p[k]), 1e-3), 1e-3}))
            << s.key << " " << what << " by " << s.model->parameters()[k].name;
    }
}

} // namespace

TEST(PeakShapes, AreReadWhateverTheirParametersAre) {
    std::mt19937 random(11);
    const auto shapes = everyShape();
    EXPECT_GE(shapes.size(), 14U);
    for (const PeakShape& s : shapes)
        for (int trial = 0; trial < 10; ++trial) {
            const std::vector<double> p = someParameters(s, random);
            const PeakReading r(*s.model, *s.traits, p);
            const double top = maximumOf(s, p), height = at(*s.model, p, top);
            double reach = 0;
            for (std::size_t k : s.traits->widths) reach += p[k];
            EXPECT_NEAR(r.maximum().value, top, 1e-9 * reach) << s.key;
            EXPECT_NEAR(r.height().value, height, 1e-12 * std::abs(height)) << s.key;
            for (const double share : {0.5, 0.1}) {
                // One on a continuum does not fall so far.
                if (s.key == "fano" && !std::isfinite(r.width(share).value)) continue;
                const double left = crossingOf(s, p, top, share * height, -1),
                             right = crossingOf(s, p, top, share * height, 1);
                EXPECT_NEAR(r.side(share, -1).value, left, 1e-10 * reach) << s.key << " " << share;
                EXPECT_NEAR(r.width(share).value, right - left, 1e-8 * (right - left))
                    << s.key << " " << share;
                EXPECT_NEAR(r.asymmetry(share).value,
                            (right - r.maximum().value) / (r.maximum().value - left), 1e-8)
                    << s.key;
            }
            const double low = p[s.traits->centre] - 3 * reach, high = p[s.traits->centre] + 4 * reach;
            const auto integral = [&](auto f) {
                double sum = 0;
                for (const auto& [a, b] :
                     {std::pair(low, p[s.traits->centre]), std::pair(p[s.traits->centre], r.maximum().value),
                      std::pair(r.maximum().value, high)})
                    if (a != b)
                        sum +=
                            boost::math::quadrature::gauss_kronrod<double, 61>::integrate(f, a, b, 15, 1e-12);
                return sum;
            };
            const double area = integral([&](double x) { return at(*s.model, p, x); });
            EXPECT_NEAR(r.areaWithin(low, high).value, area, 1e-8 * std::abs(area)) << s.key;
            EXPECT_NEAR(r.centroidWithin(low, high).value,
                        integral([&](double x) { return x * at(*s.model, p, x); }) / area, 1e-8 * reach)
                << s.key;
        }
}

TEST(PeakShapes, AreasAreThoseOfTheWholePeak) {
    std::mt19937 random(12);
    std::size_t withArea = 0;
    for (const PeakShape& s : everyShape())
        for (int trial = 0; trial < 5; ++trial) {
            const std::vector<double> p = someParameters(s, random);
            const double area = PeakReading(*s.model, *s.traits, p).area().value;
            EXPECT_EQ(std::isfinite(area), s.traits->hasArea) << s.key;
            if (!s.traits->hasArea) continue;
            ++withArea;
            boost::math::quadrature::exp_sinh<double> tail;
            const double c = p[s.traits->centre];
            double reach = 0;
            for (std::size_t k : s.traits->widths) reach += p[k];
            double sum = boost::math::quadrature::gauss_kronrod<double, 61>::integrate(
                             [&](double x) { return at(*s.model, p, x); }, c - 5 * reach, c, 15, 1e-13) +
                         boost::math::quadrature::gauss_kronrod<double, 61>::integrate(
                             [&](double x) { return at(*s.model, p, x); }, c, c + 5 * reach, 15, 1e-13);
            sum += tail.integrate([&](double t) { return at(*s.model, p, c - 5 * reach - t); }) +
                   tail.integrate([&](double t) { return at(*s.model, p, c + 5 * reach + t); });
            EXPECT_NEAR(area, sum, 1e-7 * std::abs(sum)) << s.key;
        }
    EXPECT_GT(withArea, 50U);
}

TEST(PeakShapes, GradientsOfWhatIsReadAreThoseOfDifferences) {
    std::mt19937 random(13);
    for (const PeakShape& s : everyShape())
        for (int trial = 0; trial < 3; ++trial) {
            const std::vector<double> p = someParameters(s, random);
            double reach = 0;
            for (std::size_t k : s.traits->widths) reach += p[k];
            const double low = p[s.traits->centre] - 3 * reach, high = p[s.traits->centre] + 4 * reach;
            expectGradient(s, p, "maximum", 1e-6, [](const PeakReading& r) { return r.maximum(); });
            expectGradient(s, p, "height", 1e-7, [](const PeakReading& r) { return r.height(); });
            expectGradient(s, p, "width", 1e-6, [](const PeakReading& r) { return r.width(0.5); });
            expectGradient(s, p, "asymmetry", 1e-5, [](const PeakReading& r) { return r.asymmetry(0.1); });
            if (s.traits->hasArea)
                expectGradient(s, p, "area", 1e-6, [](const PeakReading& r) { return r.area(); });
            expectGradient(s, p, "area in span", 1e-6,
                           [=](const PeakReading& r) { return r.areaWithin(low, high); });
            expectGradient(s, p, "centroid", 1e-5,
                           [=](const PeakReading& r) { return r.centroidWithin(low, high); });
        }
}

TEST(PeakShapes, BeginWhereTheyAreToldTo) {
    for (const PeakShape& s : everyShape()) {
        if (s.key == "equation") continue;
        const std::vector<double> p = s.traits->begin(20, 7, 1.5);
        const PeakReading r(*s.model, *s.traits, p);
        EXPECT_NEAR(r.maximum().value, 20, 0.5) << s.key;
        EXPECT_NEAR(r.height().value, 7, 2.5) << s.key;
        EXPECT_NEAR(r.width(0.5).value, 1.5, 0.75) << s.key;
    }
}

TEST(PeakShapes, OfOnesOwnNeedNames) {
    Settings s;
    s.set("equation", "a*exp(-((x - b)/c)^2)");
    const auto none = peakShape("equation", s);
    ASSERT_FALSE(none);
    EXPECT_THAT(none.error().text, testing::HasSubstr("centre"));
    EXPECT_EQ(peakShape("line", {}).error().code, "no-shape");
    EXPECT_EQ(peakShape("nothing", {}).error().code, "unknown-model");
}

// ∫partner = ratio·∫peak, its place by the rule, its gradient by differences.
TEST(Partners, StandWhereTheirRuleSays) {
    std::mt19937 random(14);
    using By = PartnerRule::By;
    for (const PeakShape& s : everyShape())
        for (const PartnerRule& rule : {PartnerRule{By::Distance}, PartnerRule{By::Factor},
                                        PartnerRule{By::Wavelengths, 1.540593, 1.544427}}) {
            const ModelPtr model = partneredPeak(s, rule);
            std::vector<double> p = someParameters(s, random);
            p[s.traits->centre] = 36;
            p.push_back(0.5);
            if (rule.by != By::Wavelengths) p.push_back(rule.by == By::Distance ? 0.7 : 1.02);
            p.push_back(1.1);
            ASSERT_EQ(p.size(), model->parameters().size());
            const PartnerReading partner = partnerOf(*model, p);
            const double wanted =
                rule.by == By::Distance ? 36.7
                : rule.by == By::Factor
                    ? 36.72
                    : 2 * std::asin(1.544427 / 1.540593 * std::sin(18 * M_PI / 180)) * 180 / M_PI;
            EXPECT_NEAR(partner.place.value, wanted, 1e-12);
            double reach = 0;
            for (std::size_t k : s.traits->widths) reach += p[k];
            std::vector<double> x;
            for (int i = 0; i < 200; ++i) x.push_back(30 + 0.06 * i);
            const std::vector<double> second = partner.curve(x);
            for (std::size_t i = 0; i < x.size(); ++i) {
                const std::span<const double> own =
                    std::span<const double>(p).first(s.model->parameters().size());
                EXPECT_NEAR(at(*model, p, x[i]), at(*s.model, own, x[i]) + second[i],
                            1e-12 * (1 + std::abs(second[i])));
            }
            if (s.traits->hasArea) {
                boost::math::quadrature::exp_sinh<double> tail;
                const auto f = [&](double v) { return partner.curve(std::vector<double>{v})[0]; };
                const double sum = boost::math::quadrature::gauss_kronrod<double, 61>::integrate(
                                       f, wanted - 6 * reach, wanted, 15, 1e-12) +
                                   boost::math::quadrature::gauss_kronrod<double, 61>::integrate(
                                       f, wanted, wanted + 6 * reach, 15, 1e-12) +
                                   tail.integrate([&](double t) { return f(wanted - 6 * reach - t); }) +
                                   tail.integrate([&](double t) { return f(wanted + 6 * reach + t); });
                EXPECT_NEAR(sum, partner.area.value, 1e-6 * std::abs(sum)) << s.key;
            }
            const std::span<const double> column(x);
            std::vector<double> y(x.size()), g(x.size() * p.size());
            model->evaluate({&column, 1}, p, y, g);
            for (std::size_t k = 0; k < p.size(); ++k) {
                const double h =
                    1e-3 * std::max(1e-2 * std::abs(p[k]), 0.2 * std::min(reach, std::abs(p[k])));
                const auto values = [&](double by) {
                    std::vector<double> q = p, out(x.size());
                    q[k] += by;
                    model->evaluate({&column, 1}, q, out);
                    return out;
                };
                const auto a = values(h), b = values(-h), c = values(2 * h), d = values(-2 * h);
                for (std::size_t i = 0; i < x.size(); ++i) {
                    const double by = (8 * (a[i] - b[i]) - (c[i] - d[i])) / (12 * h);
                    if (s.key.starts_with("split") &&
                        (std::abs(x[i] - 36) < 5 * h || std::abs(x[i] - wanted) < 5 * h))
                        continue;
                    EXPECT_NEAR(
                        g[k * x.size() + i], by,
                        3e-6 * (std::abs(by) + std::abs(p[s.traits->size]) / std::min(1.0, std::abs(p[k]))))
                        << s.key << " " << model->parameters()[k].name << " at " << x[i];
                }
            }
        }
}

// The background of a single Gaussian is its error function; the gradient is that of differences.
TEST(IntegralBackground, RisesWithTheAreaOfThePeaks) {
    const ModelPtr peak = *makeModel("gaussian", {});
    const ModelPtr model = onIntegral(peak, 0, 40, 800);
    const std::vector<double> p = {20, 100, 3, 12, 0.04};
    std::vector<double> x;
    for (int i = 0; i <= 60; ++i) x.push_back(-5 + 0.83 * i);
    const std::span<const double> column(x);
    std::vector<double> y(x.size()), g(x.size() * p.size());
    model->evaluate({&column, 1}, p, y, g);
    const double s = 3 / (2 * std::sqrt(2 * std::log(2)));
    for (std::size_t i = 0; i < x.size(); ++i) {
        const double within = std::clamp(x[i], 0.0, 40.0);
        const double area = 100 * s * std::sqrt(M_PI / 2) * (std::erf((within - 20) / (s * M_SQRT2)) + 1);
        EXPECT_NEAR(y[i], at(*peak, std::span(p).first(3), x[i]) + 12 + 0.04 * area, 1e-6) << x[i];
    }
    for (std::size_t k = 0; k < p.size(); ++k) {
        auto values = [&](double by) {
            std::vector<double> q = p, out(x.size());
            q[k] += by;
            model->evaluate({&column, 1}, q, out);
            return out;
        };
        const double h = 1e-4 * p[k];
        const auto a = values(h), b = values(-h);
        for (std::size_t i = 0; i < x.size(); ++i)
            EXPECT_NEAR(g[k * x.size() + i], (a[i] - b[i]) / (2 * h),
                        1e-5 * (1 + std::abs(g[k * x.size() + i])));
    }
    EXPECT_THAT(model->formula(), testing::HasSubstr("integral("));
}
