// SPDX-License-Identifier: GPL-3.0-or-later
// Every library model is the formula that it states: values and derivatives by two roads.
#include "formula/program.h"
#include "models/catalogue.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <random>

using namespace jointer;
using namespace jointer::models;

namespace {

// The kinds with each of the settings that change their formula.
std::vector<std::pair<std::string, ModelPtr>> everyModel() {
    std::vector<std::pair<std::string, ModelPtr>> out;
    for (const ModelKind& kind : catalogue()) {
        out.emplace_back(kind.info.key, *makeModel(kind.info.key, {}));
        for (const Setting& s : kind.info.settings) {
            for (const Choice& c : s.choices) {
                Settings given;
                given.set(s.key, Value(c.key));
                out.emplace_back(kind.info.key + " " + s.key + "=" + c.key, *makeModel(kind.info.key, given));
            }
            if (s.kind == SettingKind::Flag) {
                Settings given;
                given.set(s.key, Value(true));
                out.emplace_back(kind.info.key + " " + s.key, *makeModel(kind.info.key, given));
            }
        }
    }
    return out;
}

std::vector<double> sensible(const Model& m, std::mt19937& random) {
    std::uniform_real_distribution<double> value(0.3, 2.5);
    std::vector<double> p;
    for (const ParameterInfo& info : m.parameters())
        p.push_back(std::clamp(value(random), info.lowest, info.highest));
    return p;
}

} // namespace

TEST(Models, AreTheFormulaThatTheyState) {
    std::mt19937 random(3);
    std::vector<double> x;
    for (int i = 1; i <= 40; ++i) x.push_back(0.11 * i);
    const std::span<const double> column(x);
    const auto all = everyModel();
    EXPECT_GT(all.size(), 20U);
    for (const auto& [name, model] : all) {
        std::vector<std::string> names;
        for (const ParameterInfo& p : model->parameters()) names.push_back(p.name);
        const auto expression = formula::Expression::parse(model->formula());
        ASSERT_TRUE(expression) << name << ": " << model->formula();
        const auto program = formula::Program::compile(*expression, {"x"}, names);
        ASSERT_TRUE(program) << name << ": " << program.error().text;
        for (int round = 0; round < 20; ++round) {
            const auto p = sensible(*model, random);
            std::vector<double> own(x.size()), stated(x.size()), ownSlopes(x.size() * p.size()),
                statedSlopes(ownSlopes.size());
            model->evaluate({&column, 1}, p, own, ownSlopes);
            program->evaluate({&column, 1}, p, stated, statedSlopes);
            for (std::size_t i = 0; i < x.size(); ++i)
                ASSERT_NEAR(own[i], stated[i], 1e-12 * (1 + std::abs(stated[i]))) << name << " at " << x[i];
            for (std::size_t k = 0; k < ownSlopes.size(); ++k)
                ASSERT_NEAR(ownSlopes[k], statedSlopes[k], 1e-10 * (1 + std::abs(statedSlopes[k])))
                    << name << ", " << names[k / x.size()] << " at " << x[k % x.size()];
        }
    }
}

// Closed forms: half the height at half the width, and the area under the peak by a fine sum.
TEST(Peaks, HaveTheWidthAndAreaThatTheySay) {
    for (const char* key : {"gaussian", "lorentzian"}) {
        const ModelPtr m = *makeModel(key, {});
        std::vector<double> p; // by name, whatever their order
        for (const ParameterInfo& info : m->parameters())
            p.push_back(info.name == "centre" ? 3.0 : info.name == "height" ? 7.0 : 0.8);
        auto at = [&](double x) {
            double y = 0;
            const std::span<const double> column(&x, 1);
            m->evaluate({&column, 1}, p, {&y, 1});
            return y;
        };
        EXPECT_NEAR(at(3.0), 7, 1e-14) << key;
        EXPECT_NEAR(at(3.4), 3.5, 1e-13) << key;
        EXPECT_NEAR(at(2.6), 3.5, 1e-13) << key;
        double sum = 0;
        const double far = 400, step = 1e-3;
        for (double x = -far; x <= far; x += step) sum += at(x + 3) * step;
        const double tail =
            std::string(key) == "lorentzian" ? 7 * 0.8 * 0.8 / 4 * 2 / far : 0; // ∫ beyond, to first order
        ASSERT_FALSE(m->derived().empty()) << key;
        const auto area = std::ranges::find(m->derived(), "area", &DerivedInfo::name);
        ASSERT_NE(area, m->derived().end()) << key;
        std::vector<std::string> names;
        for (const ParameterInfo& info : m->parameters()) names.push_back(info.name);
        const auto stated = formula::Program::compile(*formula::Expression::parse(area->formula), {}, names);
        ASSERT_TRUE(stated) << area->formula;
        EXPECT_NEAR(stated->evaluateOne({}, p), sum + tail, 1e-6 * sum) << key;
    }
}

// The shapes with further parameters, by numbers: where half the height is left, and the area by a fine sum.
TEST(Peaks, OfEveryShapeHaveTheirWidthAndArea) {
    for (const char* key :
         {"pseudo-voigt", "pearson-vii", "split-gaussian", "split-lorentzian", "log-normal"}) {
        const ModelPtr m = *makeModel(key, {});
        std::vector<double> p;
        std::vector<std::string> names;
        for (const ParameterInfo& info : m->parameters()) {
            names.push_back(info.name);
            p.push_back(info.name == "centre"      ? 3.0
                        : info.name == "height"    ? 7.0
                        : info.name == "fwhm"      ? 0.8
                        : info.name == "exponent"  ? 2.3
                        : info.name == "asymmetry" ? 0.3
                                                   : 0.4);
        }
        auto at = [&](double x) {
            double y = 0;
            const std::span<const double> column(&x, 1);
            m->evaluate({&column, 1}, p, {&y, 1});
            return y;
        };
        auto half = [&](double far) { // where half is left on the way from the centre
            double in = 3, out = far;
            for (int k = 0; k < 100; ++k) (at(0.5 * (in + out)) > 3.5 ? in : out) = 0.5 * (in + out);
            return in;
        };
        EXPECT_NEAR(at(3), 7, 1e-13) << key;
        EXPECT_NEAR(half(5) - half(1), 0.8, 1e-12) << key;
        double sum = 0;
        for (double x = -600; x <= 600; x += 1e-3) sum += at(x + 3) * 1e-3;
        const auto area =
            formula::Program::compile(*formula::Expression::parse(m->derived()[0].formula), {}, names);
        ASSERT_TRUE(area) << m->derived()[0].formula;
        EXPECT_NEAR(area->evaluateOne({}, p) / sum, 1, 1e-3) << key; // wings reach beyond the sum
    }
}

TEST(Models, UnknownKeysAndSettingsAreSaid) {
    EXPECT_FALSE(makeModel("no-such-model", {}));
    EXPECT_FALSE(makeModel("no-such-model", {}).error().text.empty());
    for (const ModelKind& kind : catalogue()) {
        EXPECT_FALSE(kind.info.purpose.empty()) << kind.info.key;
        EXPECT_EQ(catalogue().find(kind.info.key), &kind);
    }
    EXPECT_EQ(catalogue().find("nothing"), nullptr);
}
