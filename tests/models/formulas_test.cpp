// SPDX-License-Identifier: GPL-3.0-or-later
// Every library model is the formula that it states: values and derivatives by two roads.
#include "formula/program.h"
#include "models/catalogue.h"
#include "models/examples.h"
#include "models/formula_model.h"

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
        if (kind.info.key == "measured-curves") continue; // its formula names curves
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
    std::vector<double> x, other;
    for (int i = 1; i <= 40; ++i) {
        x.push_back(0.11 * i);
        other.push_back(0.3 + 0.07 * ((i * 7) % 11));
    }
    const std::span<const double> both[] = {x, other};
    const auto all = everyModel();
    EXPECT_GT(all.size(), 20U);
    for (const auto& [name, model] : all) {
        // Integrals over sizes and orientations are stated in words beside their formula.
        const Example* example = exampleOf(name.substr(0, name.find(' ')));
        if (example && example->overDecades) continue;
        std::vector<std::string> names;
        for (const ParameterInfo& p : model->parameters()) names.push_back(p.name);
        const auto expression = formula::Expression::parse(model->formula());
        ASSERT_TRUE(expression) << name << ": " << model->formula();
        const auto program =
            formula::Program::compile(*expression, predictorNames(model->predictorCount()), names);
        const auto columns = std::span(both).first(model->predictorCount());
        ASSERT_TRUE(program) << name << ": " << program.error().text;
        for (int round = 0; round < 20; ++round) {
            const auto p = sensible(*model, random);
            std::vector<double> own(x.size()), stated(x.size()), ownSlopes(x.size() * p.size()),
                statedSlopes(ownSlopes.size());
            model->evaluate(columns, p, own, ownSlopes);
            program->evaluate(columns, p, stated, statedSlopes);
            for (std::size_t i = 0; i < x.size(); ++i)
                ASSERT_NEAR(own[i], stated[i], 1e-12 * (1 + std::abs(stated[i]))) << name << " at " << x[i];
            for (std::size_t k = 0; k < ownSlopes.size(); ++k)
                ASSERT_NEAR(ownSlopes[k], statedSlopes[k], 1e-10 * (1 + std::abs(statedSlopes[k])))
                    << name << ", " << names[k / x.size()] << " at " << x[k % x.size()];
        }
    }
}

namespace {

// Σ y·step and Σ x·y·step from −far to far about a place.
std::pair<double, double> sums(const Model& m, const std::vector<double>& p, double about, double far,
                               double step) {
    std::vector<double> x, y;
    for (double d = -far; d <= far; d += step) x.push_back(about + d);
    y.resize(x.size());
    const std::span<const double> column(x);
    m.evaluate({&column, 1}, p, y);
    std::pair<double, double> out;
    for (std::size_t i = 0; i < x.size(); ++i) out.first += y[i] * step, out.second += x[i] * y[i] * step;
    return out;
}

} // namespace

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
        const double far = 400, sum = sums(*m, p, 3, far, 1e-3).first;
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
    for (const char* key : {"pseudo-voigt", "pearson-7", "split-gaussian", "split-lorentzian",
                            "split-pseudo-voigt", "log-normal"}) {
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
        const double sum = sums(*m, p, 3, 600, 1e-3).first;
        const auto area =
            formula::Program::compile(*formula::Expression::parse(m->derived()[0].formula), {}, names);
        ASSERT_TRUE(area) << m->derived()[0].formula;
        EXPECT_NEAR(area->evaluateOne({}, p) / sum, 1, 1e-3) << key; // wings reach beyond the sum
    }
}

namespace {

// A peak at given parameters, by name of what it derives.
struct Read {
    ModelPtr model;
    std::vector<double> p;

    double at(double x) const {
        double y = 0;
        const std::span<const double> column(&x, 1);
        model->evaluate({&column, 1}, p, {&y, 1});
        return y;
    }
    double number(const std::string& name, std::vector<double>* gradient = nullptr) const {
        std::vector<double> g(p.size());
        const auto& all = model->derived();
        const auto which =
            static_cast<std::size_t>(std::ranges::find(all, name, &DerivedInfo::name) - all.begin());
        double v = 0;
        if (all[which].formula.empty()) {
            v = model->derive(which, p, g);
        } else {
            std::vector<std::string> names;
            for (const ParameterInfo& info : model->parameters()) names.push_back(info.name);
            formula::Program::compile(*formula::Expression::parse(all[which].formula), {}, names)
                ->evaluate({}, p, {&v, 1}, g);
        }
        if (gradient) *gradient = g;
        return v;
    }
};

const std::vector<Read>& lines() {
    Settings left;
    left.set("direction", "left");
    static const std::vector<Read> all = {
        {*makeModel("voigt", {}), {3, 7, 0.8, 0.5}},
        {*makeModel("voigt", {}), {3, -7, 0.1, 0.9}},
        {*makeModel("exponentially-modified-gaussian", {}), {3, 5, 0.7, 1.3}},
        {*makeModel("exponentially-modified-gaussian", left), {3, 5, 1.2, 0.2}},
        {*makeModel("doniach-sunjic", {}), {3, 6, 0.8, 0.12}},
        {*makeModel("doniach-sunjic", left), {3, 6, 0.8, 0.3}}};
    return all;
}

} // namespace

// What is found on the profile: the largest value and where half of it is left, by a fine look; the gradients
// by differences; areas by a fine sum.
TEST(Peaks, FeaturesAreThoseOfTheProfile) {
    for (const Read& line : lines()) {
        const std::string name = line.model->formula().substr(0, 30);
        double best = 0, place = 0;
        for (double x = 2; x < 5; x += 2e-4)
            if (std::abs(line.at(x)) > std::abs(best)) best = line.at(x), place = x;
        auto half = [&](double far) {
            double in = place, out = far;
            for (int k = 0; k < 100; ++k)
                (std::abs(line.at(0.5 * (in + out))) > std::abs(best) / 2 ? in : out) = 0.5 * (in + out);
            return in;
        };
        EXPECT_NEAR(line.number("fwhm"), half(40) - half(-40), 1e-6) << name;
        for (const DerivedInfo& d : line.model->derived()) {
            if (d.name == "maximum") {
                EXPECT_NEAR(line.number("maximum"), place, 2e-4) << name;
            }
            if (d.name == "height") {
                EXPECT_NEAR(line.number("height"), best, 1e-7) << name;
            }
            std::vector<double> gradient;
            (void)line.number(d.name, &gradient);
            for (std::size_t k = 0; k < line.p.size(); ++k) {
                auto moved = [&](double by) {
                    Read other = line;
                    other.p[k] += by;
                    return other.number(d.name);
                };
                const double h = 1e-3;
                EXPECT_NEAR(gradient[k],
                            (moved(-2 * h) - 8 * moved(-h) + 8 * moved(h) - moved(2 * h)) / (12 * h),
                            1e-5 * (1 + std::abs(gradient[k])))
                    << name << " " << d.name << " by " << k;
            }
        }
    }
    for (const std::size_t which : {0U, 2U, 3U}) { // with an area, and wings that end
        const Read& line = lines()[which];
        const auto [sum, first] = sums(*line.model, line.p, 0, 2000, 1e-2);
        const double area = which == 0 ? line.number("area") : line.p[1];
        EXPECT_NEAR(area / sum, 1, which == 0 ? 5e-4 : 1e-9);
        if (which > 0) {
            EXPECT_NEAR(line.number("centroid"), first / sum, 1e-8);
        }
    }
}

// The modified Gaussian goes over into the Gaussian and into the exponential without a break.
TEST(Peaks, TheModifiedGaussianIsStableInBothLimits) {
    const ModelPtr m = *makeModel("exponentially-modified-gaussian", {});
    const double s = 1 / (2 * std::sqrt(2 * std::log(2.0)));
    for (double x : {-3.0, -0.5, 0.0, 0.4, 2.5}) {
        for (double tail : {0.0, 1e-9, 1e-5}) {
            const Read line{m, {0, 1, 1, tail}};
            EXPECT_NEAR(line.at(x), std::exp(-x * x / (2 * s * s)) / (s * std::sqrt(2 * M_PI)), 3e-5) << tail;
        }
        for (double gauss : {0.0, 1e-9, 1e-4}) {
            const Read line{m, {0, 1, gauss, 1}};
            if (x != 0) {
                EXPECT_NEAR(line.at(x), x > 0 ? std::exp(-x) : 0, 1e-6) << gauss;
            }
        }
    }
    EXPECT_TRUE(std::isfinite(Read(m, {0, 1, 1e-3, 50}).at(-400)));
    EXPECT_TRUE(std::isfinite(Read(m, {0, 1, 50, 1e-3}).at(4000)));
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
