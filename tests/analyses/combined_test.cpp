// SPDX-License-Identifier: GPL-3.0-or-later
// Curves made of measured curves against simulations with known shares; parts of models put together and
// taken apart; spans of several pieces.
#include "analyses/model_parts.h"
#include "project/project_file.h"
#include "support/fitted.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::analyses;
using testing::HasSubstr;

namespace {

struct Mixture {
    Project project;
    std::vector<DatasetId> pure;
    DatasetId mixed;
};

double pureValue(std::size_t k, double x) {
    const double centre[] = {20, 45, 62, 80}, width[] = {9, 12, 7, 15};
    return std::exp(-std::pow((x - centre[k]) / width[k], 2)) +
           0.4 * std::exp(-std::pow((x - 100 + centre[k]) / 14, 2)) + 0.05 * static_cast<double>(k);
}

DatasetId added(Project& p, const std::string& name, std::vector<double> x, std::vector<double> y) {
    Table t{.name = name};
    t.columns = {numberColumn("x", "nm", std::move(x)), numberColumn("y", "", std::move(y))};
    p = *edits::addTable(t).apply(p);
    const Table& made = p.tables[p.tables.size() - 1];
    Dataset d{.name = name, .source = {.table = made.id}};
    d.source.roles = {{Role::X, made.columns[0].id}, {Role::Y, made.columns[1].id}};
    p = *edits::addDataset(d).apply(p);
    return p.datasets[p.datasets.size() - 1].id;
}

Mixture mixture(const std::vector<double>& amounts, double shift, double noise, unsigned seed) {
    std::mt19937 random(seed);
    std::normal_distribution<double> normal(0, noise);
    Mixture m;
    for (std::size_t k = 0; k < amounts.size(); ++k) {
        std::vector<double> x, y;
        for (int i = 0; i <= 240; ++i) x.push_back(-10 + 0.5 * i), y.push_back(pureValue(k, x.back()));
        m.pure.push_back(added(m.project, "pure " + std::to_string(k + 1), x, y));
    }
    std::vector<double> x, y;
    for (int i = 0; i < 150; ++i) {
        x.push_back(3.13 + 0.61 * i);
        double sum = normal(random);
        for (std::size_t k = 0; k < amounts.size(); ++k) sum += amounts[k] * pureValue(k, x.back() - shift);
        y.push_back(sum);
    }
    m.mixed = added(m.project, "mixed", x, y);
    return m;
}

Analysis combined(const Mixture& m, const std::string& shift, bool sumIsOne) {
    Analysis a{.inputs = {{.dataset = m.mixed}}};
    a.model.kind = "measured-curves";
    References curves;
    for (DatasetId id : m.pure) curves.push_back({id.text()});
    a.model.settings.set("curves", Value(curves));
    a.model.settings.set("shift", Value(shift));
    if (sumIsOne) a.model.settings.set("sum-is-one", Value(true));
    return a;
}

} // namespace

// Random amounts, some of them none: what was put in lies within what the errors allow.
TEST(MeasuredCurves, FindTheAmountsThatWerePutIn) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> amount(0.1, 2);
    int far = 0, all = 0;
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const std::vector<double> truth = {amount(random), amount(random), seed % 3 ? amount(random) : 0.0};
        const double shift = seed % 2 ? 0 : 1.7;
        const Mixture m = mixture(truth, shift, 0.01, seed);
        evaluate::Evaluator e;
        const auto f = test::fitOf(e, m.project, combined(m, shift == 0 ? "none" : "one", false));
        ASSERT_TRUE(f.good()) << f.error().text;
        for (std::size_t k = 0; k < 3; ++k) {
            const fit::ParameterResult& p = f.one().parameters[k];
            EXPECT_GE(p.value, 0);
            if (p.atLimit) {
                EXPECT_LT(truth[k], 0.05) << seed;
                continue;
            }
            EXPECT_NEAR(p.value, truth[k], 5 * p.se) << seed;
            far += std::abs(p.value - truth[k]) > 2 * p.se;
            ++all;
        }
        if (shift > 0) {
            EXPECT_NEAR(f.one().parameters[3].value, shift, 0.1) << seed;
        }
    }
    EXPECT_LT(far, all / 8);
}

// Shares that add up to one and are none below zero, whichever is the largest.
TEST(MeasuredCurves, SharesAddUpToOne) {
    const std::vector<std::vector<double>> truths = {
        {0.7, 0.3, 0}, {0, 0.1, 0.9}, {0.02, 0.96, 0.02}, {0.34, 0.33, 0.33}, {0, 0, 1}};
    for (const auto& truth : truths)
        for (const char* shift : {"none", "one"}) {
            const Mixture m = mixture(truth, 0, 0.003, 5);
            evaluate::Evaluator e;
            const auto f = test::fitOf(e, m.project, combined(m, shift, true));
            ASSERT_TRUE(f.good()) << f.error().text;
            double sum = 0;
            for (std::size_t k = 0; k < 3; ++k) {
                const double value = f.one().parameters[k].value;
                EXPECT_GE(value, -1e-12);
                EXPECT_LE(value, 1 + 1e-12);
                EXPECT_NEAR(value, truth[k], 0.02);
                sum += value;
            }
            EXPECT_NEAR(sum, 1, 1e-12);
        }
}

// Each curve with a shift of its own; and beside other parts in a sum.
TEST(MeasuredCurves, MayShiftEachAndStandBesideOthers) {
    const Mixture m = mixture({1.2, 0.8}, 0, 0.002, 9);
    evaluate::Evaluator e;
    Analysis a = combined(m, "each", false);
    const auto f = test::fitOf(e, m.project, a);
    ASSERT_TRUE(f.good());
    EXPECT_NEAR(f.outcome->find("shift1")->value, 0, 0.1);
    EXPECT_NEAR(f.outcome->find("shift2")->value, 0, 0.1);
    EXPECT_NEAR(f.outcome->find("share1")->value, 0.6, 0.01);
    a = combined(m, "none", false);
    addPart(a, {.kind = "line"});
    const auto both = test::fitOf(e, m.project, a);
    ASSERT_TRUE(both.good());
    EXPECT_NEAR(both.outcome->find("amount1_1")->value, 1.2, 0.02);
    EXPECT_NEAR(both.outcome->find("slope_2")->value, 0, 1e-3);
}

TEST(MeasuredCurves, FollowTheCurvesTheyAreMadeOf) {
    Mixture m = mixture({1, 0.5}, 0, 0.002, 3);
    m.project = *edits::addAnalysis(combined(m, "none", false)).apply(m.project);
    evaluate::Evaluator e;
    const Analysis a = m.project.analyses[0];
    EXPECT_NEAR(test::fitOf(e, m.project, a).outcome->find("amount1")->value, 1, 0.01);
    // The first pure curve halved: twice as much of it is there.
    Settings half;
    half.set("y", Value(0.5));
    const Project p = *edits::addStep(m.pure[0], "scale", half, "Scale").apply(m.project);
    EXPECT_NEAR(test::fitOf(e, p, a).outcome->find("amount1")->value, 2, 0.02);
    // One that is gone is told.
    const Project without = *edits::removeDataset(m.pure[0]).apply(m.project);
    const auto f = test::fitOf(e, without, without.analyses[0]);
    ASSERT_TRUE(f.good()) << f.error().text;
    EXPECT_EQ(f.one().parameters.size(), 1U) << "the other is left";
    const Project none = *edits::removeDataset(m.pure[1]).apply(without);
    EXPECT_THAT(test::fitOf(e, none, none.analyses[0]).error().text, HasSubstr("Choose the curves"));
}

TEST(ModelParts, CarryWhatWasSaidOfTheirParameters) {
    Analysis a{.model = {.kind = "gaussian"}};
    a.parameters = {{.name = "centre", .treatment = Treatment::Tied, .tie = "2*fwhm"},
                    {.name = "fwhm", .lower = 0.1}};
    Settings row;
    row.set("name", "r");
    row.set("formula", "height/fwhm");
    a.settings.set("derive", Value(std::make_shared<const RowList>(RowList{row})));
    const Analysis before = a;
    EXPECT_EQ(addPart(a, {.kind = "line"}), 2);
    EXPECT_EQ(a.model.kind, "sum");
    EXPECT_EQ(a.parameters[0].name, "centre_1");
    EXPECT_EQ(a.parameters[0].tie, "2*fwhm_1");
    EXPECT_EQ(a.settings.rows("derive")[0].text("formula"), "height_1/fwhm_1");
    EXPECT_EQ(addPart(a, {.kind = "lorentzian"}), 3);
    ASSERT_TRUE(modelOf(a.model));
    a.parameters.push_back({.name = "centre_3", .upper = 9});
    removePart(a, 2);
    EXPECT_EQ(a.parameters.size(), 3U);
    removePart(a, 3);
    EXPECT_EQ(a, before) << "as it was at first";
    removePart(a, 1);
    EXPECT_EQ(a, before) << "a model of one piece has no parts";
}

// By seed: parts come and go, and the model can always be made, with parameters that belong to it.
TEST(ModelParts, AlwaysLeaveAModel) {
    const std::vector<std::string> kinds = {"line", "gaussian", "exponential-decay", "voigt", "sinusoid"};
    for (unsigned seed = 1; seed <= 200; ++seed) {
        std::mt19937 random(seed);
        Analysis a{.model = {.kind = kinds[random() % kinds.size()]}};
        for (int k = 0; k < 12; ++k) {
            const int which =
                a.model.children.empty() ? 0 : a.model.children[random() % a.model.children.size()].component;
            switch (random() % 4) {
            case 0:
            case 1:
                addPart(a, {.kind = kinds[random() % kinds.size()]});
                break;
            case 2:
                removePart(a, which);
                break;
            default:
                replacePart(a, which, {.kind = kinds[random() % kinds.size()]});
            }
            const auto model = modelOf(a.model);
            ASSERT_TRUE(model);
            const auto& infos = (*model)->parameters();
            const std::string name = infos[random() % infos.size()].name;
            a.parameters.push_back({.name = name, .lower = -7});
            for (const ParameterChoice& p : a.parameters)
                EXPECT_NE(std::ranges::find(infos, p.name, &models::ParameterInfo::name), infos.end())
                    << seed << " " << p.name;
        }
    }
}

// Only what lies in the pieces counts, or only what lies outside of them.
TEST(Spans, OfSeveralPiecesAndOutside) {
    const Project p = test::sampleProject();
    evaluate::Evaluator e;
    Analysis a = p.analyses[0];
    a.inputs[0].span = Span(2, 6);
    a.inputs[0].span.pieces.emplace_back(10, 14);
    auto used = [&] {
        const auto f = test::fitOf(e, p, a);
        std::vector<double> xs;
        for (std::size_t i = 0; i < f.taken().used.size(); ++i)
            if (f.taken().used[i]) xs.push_back(f.taken().curve->x[i]);
        return std::pair(xs, f.outcome->sentence);
    };
    auto [inside, sentence] = used();
    for (double x : inside) EXPECT_TRUE((x >= 2 && x <= 6) || (x >= 10 && x <= 14));
    EXPECT_THAT(sentence, HasSubstr("2 … 6, 10 … 14"));
    a.inputs[0].span.outside = true;
    auto [outside, other] = used();
    for (double x : outside) EXPECT_FALSE((x >= 2 && x <= 6) || (x >= 10 && x <= 14));
    EXPECT_THAT(other, HasSubstr("outside of"));
    const auto all = e.measured(p, a.inputs[0].dataset).value;
    long counting = 0;
    for (std::size_t i = 0; i < all->size(); ++i) counting += all->counts(i);
    EXPECT_EQ(std::ssize(inside) + std::ssize(outside), counting);
}

// Everything that a fit of this kind holds comes back from a file, and so does its result.
TEST(SavedFits, ComeBackWithPartsSpansStepsAndEnds) {
    Mixture m = mixture({1.1, 0.4}, 0, 0.01, 8);
    Analysis a = combined(m, "one", false);
    addPart(a, {.kind = "line"});
    a.inputs[0].span = Span(5, 40);
    a.inputs[0].span.pieces.emplace_back(50, 90);
    Settings step, number;
    step.set("release", Value(std::string("amount1_1, amount2_1")));
    number.set("name", Value(std::string("half")));
    number.set("formula", Value(std::string("area(10, 30)/area(50, 70)")));
    a.settings.set("schedule", Value(std::make_shared<const RowList>(RowList{step})));
    a.settings.set("derive", Value(std::make_shared<const RowList>(RowList{number})));
    a.settings.set("starts", 6);
    m.project = *edits::addAnalysis(a).apply(m.project);
    m.project = *edits::keepModel({.name = "mine", .equation = "k = a\nk*x", .starts = "a = max(y)"})
                     .apply(m.project);
    evaluate::Evaluator e;
    const auto first = test::fitOf(e, m.project, m.project.analyses[0]);
    ASSERT_TRUE(first.good()) << first.error().text;
    EXPECT_EQ(first.report->stages.size(), 1U);
    EXPECT_FALSE(first.report->ends.empty());

    const auto bytes = projectBytes(m.project, {});
    ASSERT_TRUE(bytes);
    const auto opened = projectFromBytes(*bytes, "saved.jointer");
    ASSERT_TRUE(opened) << opened.error().text;
    EXPECT_TRUE(opened->project == m.project);
    evaluate::Evaluator other;
    const auto again = test::fitOf(other, opened->project, opened->project.analyses[0]);
    ASSERT_TRUE(again.good());
    EXPECT_EQ(again.key, first.key);

    const auto back = reportFromText(reportText(*first.report), first.detail->taken->problem);
    ASSERT_TRUE(back) << back.error().text;
    EXPECT_EQ(back->stages.size(), first.report->stages.size());
    EXPECT_EQ(back->stages[0].released, first.report->stages[0].released);
    ASSERT_EQ(back->ends.size(), first.report->ends.size());
    EXPECT_EQ(back->ends[0].count, first.report->ends[0].count);
    EXPECT_EQ(back->values(), first.report->values());
    EXPECT_EQ(back->one().residuals, first.report->one().residuals);
}
