// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/catalogue.h"
#include "models/examples.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>
#include <set>

using namespace jointer;
using namespace jointer::models;

namespace {

// Every model with each choice of its first setting.
std::vector<std::pair<std::string, ModelPtr>> allModels() {
    std::vector<std::pair<std::string, ModelPtr>> out;
    for (const ModelKind& kind : catalogue()) {
        out.emplace_back(kind.info.key, kind.make({}));
        for (const Setting& s : kind.info.settings) {
            for (const Choice& c : s.choices) {
                Settings settings;
                settings.set(s.key, Value(c.key));
                out.emplace_back(kind.info.key + " " + c.key, kind.make(settings));
            }
        }
    }
    return out;
}

} // namespace

TEST(Models, DescribeThemselves) {
    std::set<std::string> keys;
    for (const ModelKind& kind : catalogue()) {
        EXPECT_TRUE(keys.insert(kind.info.key).second) << kind.info.key;
        EXPECT_FALSE(kind.info.purpose.empty());
        EXPECT_FALSE(kind.info.group.empty());
        const ModelPtr model = kind.make({});
        if (kind.read) continue; // the user's own: what the parameters mean is not known
        for (const ParameterInfo& p : model->parameters()) EXPECT_FALSE(p.meaning.empty()) << kind.info.key;
    }
    EXPECT_FALSE(makeModel("nothing", {}));
}

TEST(Models, DerivativesAreExact) {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> value(0.4, 2.5);
    for (const auto& [name, model] : allModels()) {
        // Those of lengths in Å over decades of q have a test of their own where they are used.
        const Example* example = exampleOf(name.substr(0, name.find(' ')));
        if (example && example->overDecades) continue;
        const std::size_t m = model->parameters().size();
        std::size_t compared = 0;
        for (int trial = 0; trial < 100; ++trial) {
            const double x = value(random), other = value(random);
            const std::span<const double> both[] = {{&x, 1}, {&other, 1}};
            const auto column = std::span(both).first(model->predictorCount());
            std::vector<double> p(m), gradient(m);
            for (double& v : p) v = value(random);
            double y = 0;
            model->evaluate(column, p, {&y, 1}, gradient);
            for (std::size_t k = 0; k < m; ++k) {
                auto at = [&](double by) {
                    auto moved = p;
                    moved[k] += by;
                    double v = 0;
                    model->evaluate(column, moved, {&v, 1});
                    return v;
                };
                auto difference = [&](double h) {
                    return (45 * (at(h) - at(-h)) - 9 * (at(2 * h) - at(-2 * h)) + at(3 * h) - at(-3 * h)) /
                           (60 * h);
                };
                const double d = difference(5e-4 * p[k]);
                // A bend within reach has no derivative.
                if (!(std::abs(d - difference(3.5e-4 * p[k])) <= 5e-8 * (std::abs(d) + 1e-9))) continue;
                ++compared;
                EXPECT_NEAR(gradient[k], d, 1e-7 * std::max(std::abs(d), 0.1 * std::abs(y) + 1e-3))
                    << name << " " << model->parameters()[k].name;
            }
        }
        EXPECT_GT(compared, 85 * m) << name;
    }
}

// Start values from clean data lie close enough that signs and sizes are right, over wide scales of x and y.
TEST(Models, FindStartValuesAtEveryScale) {
    struct Case {
        const char* key;
        std::vector<double> truth;
        double from, to;
        double xPower;           // by which power of the x scale each parameter grows…
        std::vector<int> xs, ys; // …and of the y scale
    };
    const Case cases[] = {{"exponential-decay", {3, 0.8, 1}, 0, 6, 1, {0, -1, 0}, {1, 0, 1}},
                          {"logistic-4", {0.1, 2, 5, 2}, 0.1, 100, 1, {0, 0, 1, 0}, {1, 1, 0, 0}},
                          {"gaussian", {5, 2, 1.5}, 0, 10, 1, {1, 0, 1}, {0, 1, 0}},
                          {"lorentzian", {5, -2, 1.5}, 0, 10, 1, {1, 0, 1}, {0, 1, 0}}};
    for (const Case& c : cases)
        for (double sx : {1e-6, 1.0, 1e5})
            for (double sy : {1e-8, 1.0, 1e12}) {
                const ModelPtr model = *makeModel(c.key, {});
                std::vector<double> p = c.truth;
                for (std::size_t k = 0; k < p.size(); ++k)
                    p[k] *= std::pow(sx, c.xs[k]) * std::pow(sy, c.ys[k]);
                Curve curve;
                for (int i = 0; i <= 60; ++i) curve.x.push_back(sx * (c.from + (c.to - c.from) * i / 60));
                curve.y.resize(curve.x.size());
                const std::span<const double> column(curve.x);
                model->evaluate({&column, 1}, p, curve.y);
                const auto start = model->guess(curve);
                ASSERT_TRUE(start) << c.key;
                for (std::size_t k = 0; k < p.size(); ++k)
                    EXPECT_NEAR((*start)[k] / p[k], 1, 0.6)
                        << c.key << " " << model->parameters()[k].name << " scales " << sx << " " << sy;
            }
}

TEST(Models, EquationsNameTheirParameters) {
    const auto model = equationModel("a*exp(-b*x1)+c*x2", {"x1", "x2"});
    ASSERT_TRUE(model);
    EXPECT_EQ((*model)->parameters().size(), 3U);
    EXPECT_EQ((*model)->predictorCount(), 2U);
    EXPECT_EQ(equationModel("2*x").error().code, "no-parameters");
    EXPECT_EQ(equationModel("a*").error().code, "formula");
}

TEST(Models, UnitsFollowTheAxes) {
    EXPECT_EQ(unitText("y/x", "cm", "mg/L"), "mg/L/cm");
    EXPECT_EQ(unitText("1/x", "cm^{-1}", ""), "cm") << "the reciprocal of a reciprocal";
    EXPECT_EQ(unitText("1/x", "1/Å", ""), "Å");
    EXPECT_EQ(unitText("1/x^3", "1/nm", ""), "nm^{3}");
    EXPECT_EQ(unitText("1/x", "m/s", ""), "1/(m/s)");
    EXPECT_EQ(unitText("xy", "s", "V"), "V·s");
    EXPECT_EQ(unitText("y/x", "", "V"), "V") << "an axis without a unit measures plain numbers";
    EXPECT_EQ(unitText("y/x", "mg/L", ""), "1/(mg/L)");
    EXPECT_EQ(unitText("y/x^2", "s", ""), "1/s^{2}");
    EXPECT_EQ(unitText("xy", "", ""), "");
    EXPECT_EQ(unitText("xy", "h", "mg/L"), "(mg/L)·h") << "what follows a slash would be below it";
}
