// SPDX-License-Identifier: GPL-3.0-or-later
// Sizes and strain from widths against their closed forms, with and without the instrument.
#include "analyses/line_widths.h"
#include "evaluate/evaluator.h"
#include "project/edit.h"
#include "session/command_project.h"
#include "session/fit_order.h"
#include "support/peak_pictures.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::analyses;
using namespace jointer::test;

namespace {

constexpr double kDegree = M_PI / 180, kWavelength = 1.5406;

// Lines at 2θ with widths, without noise to speak of.
Table linesTable(const std::string& shape, const std::vector<std::pair<double, double>>& lines,
                 double noise = 1e-6) {
    std::mt19937 random(3);
    std::normal_distribution<double> e(0, noise);
    const auto s = *models::peakShape(shape, {});
    std::vector<double> x, y;
    for (int i = 0; i < 8000; ++i) x.push_back(20 + 0.01 * i);
    y.assign(x.size(), 3);
    const std::span<const double> column(x);
    std::vector<double> one(x.size());
    for (const auto& [place, width] : lines) {
        std::vector<double> p = s.traits->begin(place, 100, width);
        if (shape == "voigt") p[2] = p[3] = width;
        s.model->evaluate({&column, 1}, p, one);
        for (std::size_t i = 0; i < x.size(); ++i) y[i] += one[i];
    }
    for (double& v : y) v += e(random);
    Table t;
    t.columns = {numberColumn("angle", "deg", std::move(x)), numberColumn("counts", "", std::move(y))};
    return t;
}

struct Sized {
    evaluate::Evaluator evaluator;
    evaluate::AnalysisOutcome outcome;
    double value(const std::string& key) const {
        const Quantity* q = outcome->find(key);
        return q ? q->value : std::nan("");
    }
    double error(const std::string& key) const {
        const Quantity* q = outcome->find(key);
        return q ? q->se : std::nan("");
    }
};

Analysis peaksIn(const std::string& shape, const std::vector<std::pair<double, double>>& lines) {
    std::vector<Settings> rows;
    for (const auto& [place, width] : lines)
        rows.push_back(peakRow(static_cast<int>(rows.size()) + 1, place, width));
    return peaksOf(shape, {{"peaks", peakRows(std::move(rows))}, {"baseline", "constant"}});
}

// The sample's lines, and a standard's where it is measured.
void sizeUp(Sized& s, const std::string& shape, const std::vector<std::pair<double, double>>& lines,
            std::initializer_list<std::pair<const char*, Value>> settings,
            const std::vector<std::pair<double, double>>& standard = {}, double noise = 1e-6) {
    FitOrder order{.x = {"angle"}, .y = {"counts"}, .kind = "peaks"};
    const Analysis peaks = peaksIn(shape, lines);
    order.model = peaks.model;
    order.settings = peaks.settings;
    Project p = *projectOf(linesTable(shape, lines, noise), order);
    Analysis sizes{.kind = "sizes", .inputs = {{.dataset = p.datasets[0].id}}};
    sizes.analyses = {p.analyses[0].id};
    if (!standard.empty()) {
        p = *withDataset(p, linesTable(shape, standard), {.x = {"angle"}, .y = {"counts"}}, "standard");
        Analysis of = peaksIn(shape, standard);
        of.inputs[0].dataset = p.datasets[1].id;
        p = *edits::addAnalysis(of).apply(p);
        sizes.analyses.push_back(p.analyses[1].id);
    }
    for (const auto& [key, value] : settings) sizes.settings.set(key, value);
    p = *edits::addAnalysis(sizes).apply(p);
    s.outcome = s.evaluator.analysis(p, p.analyses[p.analyses.size() - 1]);
}

} // namespace

TEST(LineWidths, OfBothPartsAreThoseOfTheProfile) {
    EXPECT_DOUBLE_EQ(fwhmOf({0.3, 0}), 0.3);
    EXPECT_DOUBLE_EQ(fwhmOf({0, 0.3}), 0.3);
    // J. J. Olivero, R. L. Longbothum, J. Quant. Spectrosc. Radiat. Transfer 17 (1977) 233: to 0.02 %.
    for (const auto& [g, l] : {std::pair(0.3, 0.1), {0.2, 0.4}, {1.0, 1.0}})
        EXPECT_NEAR(fwhmOf({g, l}), 0.5346 * l + std::sqrt(0.2166 * l * l + g * g), 3e-4 * (g + l));
    EXPECT_NEAR(breadthOf({0.3, 0}), 0.3 / 2 * std::sqrt(M_PI / std::log(2)), 1e-12);
    EXPECT_NEAR(breadthOf({0, 0.3}), 0.3 * M_PI / 2, 1e-12);
    EXPECT_NEAR(breadthOf({0.3, 1e-9}), breadthOf({0.3, 0}), 1e-6);
    // A pseudo-Voigt’s parts make its width again.
    for (double share : {0.0, 0.2, 0.5, 0.8, 1.0})
        EXPECT_NEAR(fwhmOf(partsOfPseudoVoigt(0.4, share)), 0.4, 0.4 * 0.012) << share;
}

TEST(LineWidths, GoWithoutTheInstrument) {
    EXPECT_NEAR(withoutInstrument({0.5, 0}, {0.3, 0}, LineProfile::Gaussian)->gauss, 0.4, 1e-12);
    EXPECT_NEAR(withoutInstrument({0, 0.5}, {0, 0.3}, LineProfile::Lorentzian)->lorentz, 0.2, 1e-12);
    const auto both = withoutInstrument({0.5, 0.2}, {0.3, 0.05}, LineProfile::Voigt);
    EXPECT_NEAR(both->gauss, 0.4, 1e-12);
    EXPECT_NEAR(both->lorentz, 0.15, 1e-12);
    EXPECT_FALSE(withoutInstrument({0.3, 0}, {0.3, 0}, LineProfile::Gaussian));
    EXPECT_FALSE(withoutInstrument({0, 0.2}, {0, 0.3}, LineProfile::Lorentzian));
}

TEST(LineWidths, FollowTheSquareLaw) {
    const SquareLaw law{0.02, -0.01, 0.008};
    std::vector<std::pair<double, double>> lines;
    for (double theta : {10.0, 20.0, 30.0, 45.0, 60.0})
        lines.emplace_back(theta * kDegree, law.width(theta * kDegree));
    const SquareLaw found = squareLawThrough(lines);
    EXPECT_NEAR(found.u, law.u, 1e-12);
    EXPECT_NEAR(found.v, law.v, 1e-12);
    EXPECT_NEAR(found.w, law.w, 1e-12);
    EXPECT_NEAR(squareLawThrough({{0.3, 0.1}}).width(0.9), 0.1, 1e-12);
}

TEST(Sizes, AreThoseOfTheClosedForm) {
    const std::vector<std::pair<double, double>> lines = {{38, 0.5}, {62, 0.6}};
    Sized plain;
    sizeUp(plain, "lorentzian", lines, {{"wavelength", kWavelength}});
    ASSERT_TRUE(plain.outcome.exists()) << plain.outcome.result.error().text;
    for (int k = 1; k <= 2; ++k) {
        const auto [place, width] = lines[static_cast<std::size_t>(k - 1)];
        const double wanted = 0.9 * kWavelength / (width * kDegree * std::cos(place / 2 * kDegree));
        EXPECT_NEAR(plain.value(models::nameInWhole("size", k)), wanted, 1e-4 * wanted);
        EXPECT_NEAR(plain.value(models::nameInWhole("strain", k)),
                    width * kDegree / 4 / std::tan(place / 2 * kDegree), 1e-6);
    }
    Sized less;
    sizeUp(less, "lorentzian", lines,
           {{"instrument", 0.1}, {"shape", 1.0}, {"breadth", "integral"}, {"profile", "lorentzian"}});
    EXPECT_NEAR(less.value("size_1"), kWavelength / (0.4 * M_PI / 2 * kDegree * std::cos(19 * kDegree)),
                0.01);
    Sized gauss;
    sizeUp(gauss, "gaussian", lines, {{"instrument", 0.3}, {"profile", "gaussian"}});
    EXPECT_NEAR(gauss.value("size_1"), 0.9 * kWavelength / (0.4 * kDegree * std::cos(19 * kDegree)), 0.01);
    Sized voigt;
    sizeUp(voigt, "voigt", lines, {{"instrument", 0.3}, {"instrument-lorentz", 0.2}, {"profile", "voigt"}});
    EXPECT_NEAR(voigt.value("size_1"),
                0.9 * kWavelength / (fwhmOf({0.4, 0.3}) * kDegree * std::cos(19 * kDegree)), 0.05);
}

TEST(Sizes, HaveTheErrorOfTheWidth) {
    Sized s;
    sizeUp(s, "lorentzian", {{38, 0.5}}, {}, {}, 2);
    const double relative = s.error("breadth_1") / s.value("breadth_1");
    EXPECT_GT(relative, 1e-4);
    EXPECT_NEAR(s.error("size_1") / s.value("size_1"), relative, 0.02 * relative);
}

// A line as narrow as the instrument’s gives no number, but a bound.
TEST(Sizes, OfLinesNotWiderThanTheInstrumentAreBounds) {
    Sized s;
    sizeUp(s, "gaussian", {{38, 0.3}}, {{"instrument", 0.31}, {"profile", "gaussian"}}, {}, 1);
    EXPECT_TRUE(std::isnan(s.value("size_1")));
    EXPECT_GT(s.value("larger_than_1"), 300);
    EXPECT_FALSE(s.outcome->good);
}

// Size and strain that broaden the lines together come apart.
TEST(Sizes, AndStrainComeApart) {
    std::vector<std::pair<double, double>> lines;
    const double size = 250, strain = 2e-3;
    for (double place : {30.0, 45.0, 60.0, 75.0, 90.0}) {
        const double theta = place / 2 * kDegree;
        lines.emplace_back(
            place, (0.9 * kWavelength / (size * std::cos(theta)) + 4 * strain * std::tan(theta)) / kDegree);
    }
    Sized s;
    sizeUp(s, "lorentzian", lines, {});
    EXPECT_NEAR(s.value("size"), size, 0.01 * size);
    EXPECT_NEAR(s.value("strain"), strain, 0.01 * strain);
}

TEST(Sizes, TakeTheInstrumentFromAStandard) {
    const SquareLaw law{0.01, -0.004, 0.02};
    std::vector<std::pair<double, double>> standard, lines;
    for (double place : {30.0, 50.0, 70.0, 90.0})
        standard.emplace_back(place, law.width(place / 2 * kDegree));
    for (double place : {40.0, 80.0})
        lines.emplace_back(place, std::hypot(0.5, law.width(place / 2 * kDegree)));
    Sized s;
    sizeUp(s, "gaussian", lines, {{"profile", "gaussian"}}, standard);
    ASSERT_TRUE(s.outcome.exists()) << s.outcome.result.error().text;
    EXPECT_NEAR(s.value("breadth_1"), 0.5, 1e-4);
    EXPECT_NEAR(s.value("breadth_2"), 0.5, 1e-4);
}
