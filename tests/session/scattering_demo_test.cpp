// SPDX-License-Identifier: GPL-3.0-or-later
// The demo of scattering as a project: its fits find what the generator put in, with ghosts and sizes beside
// them; ingredients are switched and undone; resolution and contrasts are taken from columns and attributes.
#include "analyses/ingredients.h"
#include "evaluate/doubt.h"
#include "evaluate/evaluator.h"
#include "project/edit.h"
#include "project/project_file.h"
#include "scattering.h"

#include <gmock/gmock.h>

using namespace jointer;

namespace {

const Analysis& dropletFit(const Project& project, const std::string& name) {
    for (const auto& a : project.analyses)
        if (a->name == name) return *a;
    throw std::runtime_error("no analysis called " + name);
}

double dropletNumber(const analyses::AnalysisResult& result, const char* key) {
    const analyses::Quantity* q = result.find(key);
    EXPECT_TRUE(q) << key;
    return q ? q->value : NAN;
}

} // namespace

TEST(ScatteringDemo, FitsFindWhatWasPutIn) {
    const Project project = demo::scatteringDemo();
    evaluate::Evaluator evaluator;
    const auto dense = evaluator.analysis(project, dropletFit(project, "Crowded spheres"));
    ASSERT_TRUE(dense.exists()) << dense.result.error().text;
    EXPECT_NEAR(dropletNumber(*dense, "radius"), 62, 0.3);
    EXPECT_NEAR(dropletNumber(*dense, "sd"), 8.5, 0.2);
    EXPECT_NEAR(dropletNumber(*dense, "volume_fraction"), 0.14, 0.002);
    std::vector<std::string> ghosts, sizes;
    for (const analyses::NamedCurve& c : dense->curves) {
        if (c.role == "without") ghosts.push_back(c.label);
        if (c.role == "distribution") sizes.push_back(c.label);
    }
    EXPECT_THAT(ghosts, testing::ElementsAre("without distribution", "without interaction",
                                             "without resolution", "without background"));
    EXPECT_THAT(sizes, testing::ElementsAre("by volume", "by number"));
    // Without the background the curve is lower by it.
    const analyses::NamedCurve* fit = dense->curve("fit");
    const analyses::NamedCurve* bare = dense->curve("without", {}, "without background");
    EXPECT_NEAR(fit->sample({0.2}).y[0] - bare->sample({0.2}).y[0], dropletNumber(*dense, "background"),
                1e-12);
    // The area under a density is one, and its band is there.
    const analyses::NamedCurve* numbers = dense->curve("distribution", {}, "by number");
    std::vector<double> radii;
    for (double r = 20; r < 120; r += 0.5) radii.push_back(r);
    const analyses::Sampled density = numbers->sample(radii);
    double area = 0;
    for (const double y : density.y) area += 0.5 * y;
    EXPECT_NEAR(area, 1, 0.01);
    ASSERT_EQ(density.confidence.size(), radii.size());
    EXPECT_GT(*std::ranges::max_element(density.confidence), 0);

    const auto contrasts = evaluator.analysis(project, dropletFit(project, "Three contrasts"));
    ASSERT_TRUE(contrasts.exists()) << contrasts.result.error().text;
    EXPECT_NEAR(dropletNumber(*contrasts, "radius"), 48, 0.6);
    EXPECT_NEAR(dropletNumber(*contrasts, "thickness"), 14, 0.6);
    EXPECT_NEAR(dropletNumber(*contrasts, "contrast_shell"), -1.6e-6, 0.05e-6);
}

// Another contrast of a dataset is another fit.
TEST(ScatteringDemo, ContrastsComeFromAttributes) {
    const Project project = demo::scatteringDemo();
    evaluate::Evaluator evaluator;
    const Analysis& fit = dropletFit(project, "Three contrasts");
    const auto before = evaluator.analysis(project, fit);
    const auto changed = edits::changeDataset(fit.inputs[0].dataset, "Attribute", [](Dataset& d) {
                             d.attributes[0].value = "5e-6";
                         }).apply(project);
    ASSERT_TRUE(changed);
    const auto after = evaluator.analysis(*changed, fit);
    ASSERT_TRUE(before.exists() && after.exists());
    EXPECT_NE(dropletNumber(*before, "volume_fraction"), dropletNumber(*after, "volume_fraction"));
}

TEST(ScatteringDemo, IngredientsAreSwitched) {
    const Project project = demo::scatteringDemo();
    Analysis fit = dropletFit(project, "Crowded spheres");
    for (const analyses::IngredientSwitch& s : analyses::ingredientsOf(fit.model)) {
        EXPECT_TRUE(s.on) << s.label;
        Analysis off = fit;
        off.parameters = {{.name = "sd", .start = 8.0}, {.name = "radius", .start = 60.0}};
        analyses::switchIngredient(off, s, false, true);
        evaluate::Evaluator evaluator;
        const auto result = evaluator.analysis(project, off);
        ASSERT_TRUE(result.exists()) << s.label << ": " << result.result.error().text;
        for (const analyses::IngredientSwitch& now : analyses::ingredientsOf(off.model))
            EXPECT_EQ(now.on, now.setting != s.setting);
        if (s.setting == "distribution") {
            EXPECT_EQ(off.parameters.size(), 1U) << "what was said of the width is gone with it";
        }
        if (s.setting == "structure") {
            EXPECT_NE(std::ranges::find(result->issues, "tell-interaction", &Issue::code),
                      result->issues.end());
        }
        analyses::switchIngredient(off, s, true, true);
        EXPECT_EQ(analyses::ingredientsOf(off.model).size(), 4U);
        for (const analyses::IngredientSwitch& now : analyses::ingredientsOf(off.model))
            EXPECT_TRUE(now.on) << now.label;
    }
}

// How the radius moves with each assumption: without the distribution far more than with another form of it.
TEST(ScatteringDemo, AssumptionsAreDoubted) {
    const Project project = demo::scatteringDemo();
    evaluate::Evaluator evaluator;
    const Analysis& fit = dropletFit(project, "Spheres");
    const auto doubt = evaluate::doubtOf(project, fit, fit.inputs[0].dataset, "radius", evaluator);
    ASSERT_TRUE(doubt) << doubt.error().text;
    const auto at = std::ranges::find(doubt->series, "assumptions", &evaluate::DoubtSeries::choice);
    ASSERT_NE(at, doubt->series.end());
    std::map<std::string, double> radius;
    for (const evaluate::DoubtPoint& p : at->points) radius[p.label] = p.value;
    EXPECT_NEAR(radius["as told"], 62, 0.5);
    EXPECT_NEAR(radius["Gaussian"], radius["as told"], 2);
    EXPECT_GT(std::abs(radius["no distribution"] - radius["as told"]),
              std::abs(radius["Gaussian"] - radius["as told"]));
}

// Counts become intensities in cm⁻¹ by the medium and the standard: those that the generator began with.
TEST(ScatteringDemo, CountsBecomeIntensities) {
    const Project project = demo::scatteringDemo();
    evaluate::Evaluator evaluator;
    for (const auto& d : project.datasets) {
        if (d->name != "Counts of droplets") continue;
        const auto curve = evaluator.protocol(project, d->id).stages.back().curve();
        EXPECT_EQ(curve.yMeaning.unit, "1/cm");
        // 1 % of spheres of 62 Å with a width of 8.5 Å at small q.
        const double s2 = 0.0188, volume = 4 * M_PI / 3 * std::pow(62, 3) * std::exp(3 * s2);
        EXPECT_NEAR(curve.y.front(), 1e8 * 0.01 * std::pow(6.2e-6, 2) * volume * std::exp(9 * s2),
                    0.12 * curve.y.front());
    }
}

TEST(ScatteringDemo, IsSavedAndReopened) {
    const Project project = demo::scatteringDemo();
    const auto file = std::filesystem::temp_directory_path() / "jointer_scattering_demo.jointer";
    evaluate::Evaluator evaluator;
    for (const auto& a : project.analyses) (void)evaluator.analysis(project, *a);
    ASSERT_TRUE(saveProject(project, {evaluator.collect(project), {}}, file.string()));
    const auto opened = openProject(file.string());
    ASSERT_TRUE(opened);
    EXPECT_EQ(opened->project.analyses.size(), project.analyses.size());
    for (const auto& a : opened->project.analyses) EXPECT_EQ(*a, *project.analyses.find(a->id)) << a->name;
    std::filesystem::remove(file);
}
