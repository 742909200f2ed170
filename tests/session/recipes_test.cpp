// SPDX-License-Identifier: GPL-3.0-or-later
// Recipes: made, told, kept as files and filled again; what a stranger's file cannot do.
#include "session/recipes.h"

#include "evaluate/results.h"
#include "project/project_file.h"
#include "project/recipe_json.h"
#include "project/references.h"
#include "session/import.h"
#include "session/recipe_batch.h"
#include "session/recipe_chain.h"
#include "session/run_journal.h"
#include "session/shipped_recipes.h"
#include "session/validation.h"
#include "support/sample_project.h"
#include "tern_sands.h"

#include <fmt/format.h>
#include <fstream>
#include <gmock/gmock.h>
#include <random>
#include <set>

using namespace jointer;
namespace fs = std::filesystem;
using testing::HasSubstr;
using testing::SizeIs;

namespace {

Recipe made(const Project& p, DatasetId d, const std::string& name = "way") {
    auto draft = makeRecipe(p, d, {.name = name});
    return draft ? draft->recipe : Recipe();
}

// A file as the sample's tables come from.
std::string scanText(double centre, const char* heading = "shift (cm^{-1}),counts,sd\n") {
    std::string text = heading;
    for (int i = 0; i < 80; ++i) {
        const double x = 0.25 * i;
        text +=
            fmt::format("{},{:.6f},0.05\n", x,
                        5 * std::exp(-std::pow((x - centre) / 2, 2)) + 0.1 * x + 0.05 * std::sin(37.0 * i));
    }
    return text;
}

class Recipes : public testing::Test {
protected:
    void SetUp() override {
        folder_ = fs::temp_directory_path() / ("jointer-recipes-" + std::to_string(::getpid()));
        fs::create_directories(folder_);
        project_ = test::sampleProject();
    }
    void TearDown() override { fs::remove_all(folder_); }
    std::string write(const std::string& name, const std::string& content) const {
        std::ofstream(folder_ / name, std::ios::binary) << content;
        return (folder_ / name).string();
    }
    DatasetId first() const { return project_.datasets[0].id; }
    // The edits of a recipe give a project of which everything can be reached.
    static void expectWhole(const Project& p) {
        std::set<std::string> ids;
        for (const auto& t : p.tables) {
            EXPECT_TRUE(ids.insert(t->id.text()).second);
            for (const Column& c : t->columns) EXPECT_TRUE(ids.insert(c.id.text()).second);
        }
        for (const auto& d : p.datasets) {
            EXPECT_TRUE(ids.insert(d->id.text()).second);
            for (const Step& s : d->protocol) EXPECT_TRUE(ids.insert(s.id.text()).second);
        }
        for (const auto& a : p.analyses) EXPECT_TRUE(ids.insert(a->id.text()).second);
        for (const auto& r : p.recipes) ids.insert(r->id.text());
        eachReference(p, [&](const Link& link) {
            const bool element = link.to.starts_with('e') || link.to.starts_with('h');
            EXPECT_TRUE(element || ids.contains(link.to)) << link.from << " → " << link.to;
        });
    }
    fs::path folder_;
    Project project_;
};

} // namespace

TEST_F(Recipes, HoldTheWayWithoutTheData) {
    const Recipe r = made(project_, first());
    ASSERT_TRUE(r.parts);
    EXPECT_EQ(r.inputs.size(), 1U);
    EXPECT_EQ(r.parts->datasets.size(), 1U);
    EXPECT_GE(r.parts->analyses.size(), 1U);
    for (const auto& t : r.parts->tables)
        for (const Column& c : t->columns) EXPECT_EQ(c.cells->size(), 0U);
    EXPECT_TRUE(r.parts->datasets[0].attributes.empty());
    const std::string text = recipeText(r);
    EXPECT_THAT(text, HasSubstr("\"baseline\""));
    EXPECT_THAT(text, testing::Not(HasSubstr("scan.csv"))) << "no path of the one who made it";
}

TEST_F(Recipes, ComeBackFromTheirText) {
    for (const auto& d : project_.datasets) {
        Recipe r = made(project_, d->id);
        r.purpose = "“quotes”, µ and\nlines";
        r.settings.set("pattern", Value(std::string("{a}_{b:d}")));
        const auto back = recipeFromText(recipeText(r));
        ASSERT_TRUE(back) << back.error().text;
        EXPECT_EQ(recipeText(*back), recipeText(r));
        EXPECT_EQ(back->parts->analyses, r.parts->analyses);
        EXPECT_EQ(back->parts->datasets, r.parts->datasets);
        EXPECT_TRUE(*back->parts == *r.parts);
    }
}

TEST_F(Recipes, LiveInProjectFiles) {
    const auto with = edits::keepRecipe(made(project_, first())).apply(project_);
    ASSERT_TRUE(with);
    const auto bytes = projectBytes(*with, {});
    ASSERT_TRUE(bytes);
    const auto opened = projectFromBytes(*bytes, "p");
    ASSERT_TRUE(opened);
    EXPECT_TRUE(opened->issues.empty());
    ASSERT_EQ(opened->project.recipes.size(), 1U);
    EXPECT_EQ(recipeText(opened->project.recipes[0]), recipeText(with->recipes[0]));
    EXPECT_TRUE(opened->project == *with) << "all of it comes back";
    const auto again = edits::keepRecipe(made(*with, first())).apply(*with);
    EXPECT_EQ(again->recipes.size(), 1U) << "of one name there is one";
    const auto gone = edits::removeRecipe(again->recipes[0].id).apply(*again);
    EXPECT_TRUE(gone->recipes.empty());
}

TEST_F(Recipes, TellWhatIsLeftBehind) {
    Project p = *edits::excludeRows(first(), {3, 9}, true).apply(project_);
    auto draft = makeRecipe(p, first(), {.name = "r"});
    ASSERT_TRUE(draft);
    ASSERT_THAT(draft->left, SizeIs(1));
    EXPECT_THAT(draft->left[0].sentence, HasSubstr("2 points chosen by hand"));
    const auto countOf = [](const Recipe& r, const char* kind) {
        return std::ranges::count(r.parts->datasets[0].protocol, kind, &Step::kind);
    };
    EXPECT_EQ(countOf(draft->recipe, "exclude"), 0);
    draft = makeRecipe(p, first(), {.name = "r", .rules = {{draft->left[0].step, "spikes"}}});
    EXPECT_EQ(countOf(draft->recipe, "despike"), 1) << "found anew in its place";

    Project free = p;
    const StepId baseline = std::ranges::find(p.datasets[0].protocol, "baseline", &Step::kind)->id;
    free = *edits::setStep(first(), baseline, "place", Value(std::string("free"))).apply(free);
    draft = makeRecipe(free, first(), {.name = "r"});
    ASSERT_THAT(draft->left, SizeIs(2));
    const auto& protocol = draft->recipe.parts->datasets[0].protocol;
    const auto at = std::ranges::find(protocol, "baseline", &Step::kind);
    EXPECT_EQ(at->settings.text("place"), "on-curve");
    EXPECT_EQ(at->settings.numbers("anchors").size(), 4U) << "their x stay";
}

TEST_F(Recipes, GiveWhatTheWindowGives) {
    const std::string file = write("scan.csv", scanText(8.0));
    auto run = RecipeRun::make(made(project_, first()), {});
    ASSERT_TRUE(run) << run.error().text;
    RunProjects projects;
    const RunFile done = run->run(file, projects);
    ASSERT_FALSE(done.failed) << done.failed->text;
    ASSERT_THAT(done.curves, SizeIs(1));
    // The same by import and the same steps by hand.
    const auto reading = io::readFileAs(file, {});
    Project byHand = *importEdit(*reading, {}, "scan").apply(newProject("p"));
    const DatasetId d = byHand.datasets[0].id;
    byHand =
        *edits::addSteps(d, {{.kind = "baseline", .settings = project_.datasets[0].protocol[0].settings}}, "")
             .apply(byHand);
    byHand = *edits::addAnalysis(test::gaussianFit(d)).apply(byHand);
    evaluate::Evaluator evaluator;
    const auto rows = evaluate::resultRows(byHand, evaluator);
    std::size_t compared = 0;
    for (const auto& row : rows)
        for (const RunRow& mine : done.curves[0].rows)
            if (mine.quantity == row.quantity && mine.analysis == "Gaussian") {
                EXPECT_DOUBLE_EQ(mine.value, row.value) << row.quantity;
                ++compared;
            }
    EXPECT_GE(compared, 3U);
}

TEST_F(Recipes, FindColumnsByNameThenByPlace) {
    auto run = RecipeRun::make(made(project_, first()), {});
    const auto valueOf = [&](const std::string& text) {
        RunProjects projects;
        const RunFile done = run->run(write("f.csv", text), projects);
        if (done.failed) return std::pair(std::nan(""), done.failed->text);
        for (const RunRow& row : done.curves[0].rows)
            if (row.quantity == "centre") return std::pair(row.value, std::string());
        return std::pair(std::nan(""), std::string("no centre"));
    };
    EXPECT_NEAR(valueOf(scanText(8)).first, 8, 0.02);
    EXPECT_NEAR(valueOf(scanText(11, "Shift (cm^{-1}), COUNTS ,sd\n")).first, 11, 0.02)
        << "letters of any case";
    const auto [nothing, why] = valueOf("time,depth\n1,2\n2,3\n3,5\n4,1\n");
    EXPECT_TRUE(std::isnan(nothing));
    EXPECT_THAT(why, HasSubstr("“shift”"));
    EXPECT_THAT(why, HasSubstr("depth")) << "and what there is";
}

TEST_F(Recipes, JoinAnOpenProjectWhole) {
    Project p = *edits::keepRecipe(made(project_, first())).apply(project_);
    const Recipe recipe = p.recipes[0];
    for (double centre : {7.0, 9.0, 10.5}) {
        const auto reading = io::readFileAs(write(fmt::format("s{}.csv", centre), scanText(centre)), {});
        auto filled = filledWithData(recipe, *reading, fmt::format("s{}.csv", centre));
        ASSERT_TRUE(filled) << filled.error().text;
        p = *edits::joinFilled(recipe, filled->front(), {}).apply(p);
    }
    EXPECT_EQ(std::ranges::count_if(p.datasets, [&](const auto& d) { return d->recipe == recipe.id; }), 3);
    expectWhole(p);
    evaluate::Evaluator evaluator;
    std::vector<double> centres;
    for (const auto& row : evaluate::resultRows(p, evaluator))
        if (row.quantity == "centre" && p.datasets.find(row.dataset)->recipe == recipe.id)
            centres.push_back(row.value);
    EXPECT_THAT(centres, testing::ElementsAre(testing::DoubleNear(7, 0.03), testing::DoubleNear(9, 0.03),
                                              testing::DoubleNear(10.5, 0.03)));
}

TEST_F(Recipes, ApplyToDatasetsThatAreThere) {
    const Recipe recipe = made(project_, first());
    const DatasetId second = project_.datasets[1].id;
    Project p = *edits::excludeRows(second, {5}, true).apply(project_);
    const std::size_t analyses = analysesOf(p, second).size();
    p = *edits::applyRecipe(recipe, second, {}).apply(p);
    const auto d = p.datasets.find(second);
    EXPECT_EQ(std::ranges::count(d->protocol, "exclude", &Step::kind), 1) << "points by hand stay";
    EXPECT_EQ(std::ranges::count(d->protocol, "baseline", &Step::kind), 1) << "and no step is there twice";
    EXPECT_EQ(analysesOf(p, second).size(), analyses) << "nor an analysis";
    p = *edits::applyRecipe(recipe, second, {}).apply(p);
    EXPECT_EQ(analysesOf(p, second).size(), analyses);
    expectWhole(p);
}

TEST_F(Recipes, NamesOfDatasetsGiveAttributesAndTheirOrder) {
    Recipe recipe = made(project_, first());
    recipe.settings.set("pattern", "core_{depth}cm");
    recipe.settings.set("order", "depth");
    Project p = project_;
    std::vector<DatasetId> all;
    for (std::size_t k = 0; k < 2; ++k) {
        all.push_back(p.datasets[k].id);
        const std::string name = k == 0 ? "core_40cm" : "core_6cm";
        p = *edits::changeDataset(all[k], "Rename", [&](Dataset& d) { d.name = name; }).apply(p);
    }
    sortInOrder(recipe, all, p);
    EXPECT_EQ(p.datasets.find(all[0])->name, "core_6cm") << "by the number in the name";
    p = *edits::applyRecipe(recipe, all[0], {}).apply(p);
    const auto& attributes = p.datasets.find(all[0])->attributes;
    const auto depth = std::ranges::find(attributes, "depth", &Attribute::name);
    ASSERT_NE(depth, attributes.end());
    EXPECT_EQ(depth->value, "6");
    p = *edits::changeDataset(all[1], "Rename", [](Dataset& d) { d.name = "otherwise"; }).apply(p);
    p = *edits::applyRecipe(recipe, all[1], {}).apply(p);
    for (const Attribute& a : p.datasets.find(all[1])->attributes) EXPECT_NE(a.name, "depth");
}

TEST_F(Recipes, SayWhatWasPlacedAndWhatIsFoundAnew) {
    Recipe recipe = made(project_, first());
    Project parts = *recipe.parts;
    const DatasetId data = recipe.inputs[0].dataset;
    Settings anchors;
    anchors.set("anchors", Numbers{1, 2, 3, 4, 5, 6});
    parts = *edits::addStep(data, "baseline", anchors, "").apply(parts);
    Analysis peaks{.kind = "peaks", .inputs = {{.dataset = data}}};
    parts = *edits::addAnalysis(peaks).apply(parts);
    recipe.parts = std::make_shared<const Project>(parts);
    std::string all;
    for (const RecipeSentence& s : sentencesOf(recipe)) all += s.text + " " + s.detail + "\n";
    EXPECT_NE(all.find("anchor points: 3 points"), all.npos) << all;
    EXPECT_NE(all.find("found anew in each curve"), all.npos) << all;
}

TEST_F(Recipes, TakeFurtherInputs) {
    Settings with;
    with.set("with", Value(Reference{project_.datasets[1].id.text()}));
    Project p = *edits::addStep(first(), "subtract", with, "").apply(project_);
    const Recipe recipe = made(p, first());
    ASSERT_THAT(recipe.inputs, SizeIs(2));
    EXPECT_FALSE(RecipeRun::make(recipe, {})) << "its file is missing";
    EXPECT_EQ(RecipeRun::make(recipe, {{"nonsense", "x"}}).error().code, "input");
    const std::string blank = write("blank.csv", scanText(12));
    auto run = RecipeRun::make(recipe, {{recipe.inputs[1].name, blank}});
    ASSERT_TRUE(run) << run.error().text;
    RunProjects projects;
    EXPECT_FALSE(run->run(write("a.csv", scanText(8)), projects).failed);
    const auto stage = run->evaluator().protocol(projects[0].project, projects[0].dataset);
    EXPECT_TRUE(stage.end().issues.empty());
    // In a project the input is a dataset of it.
    EXPECT_EQ(edits::applyRecipe(recipe, first(), {}).apply(p).error().code, "input");
    const auto inputs = inputsByName(recipe, p);
    ASSERT_EQ(inputs.size(), 1U);
    const auto applied = edits::applyRecipe(recipe, first(), inputs).apply(p);
    ASSERT_TRUE(applied);
    EXPECT_EQ(applied->datasets.size(), p.datasets.size());
    expectWhole(*applied);
}

TEST_F(Recipes, OfTheDemoComeBackAndRun) {
    const Project demo = demo::ternSands();
    std::size_t told = 0;
    for (const auto& d : demo.datasets) {
        const auto draft = makeRecipe(demo, d->id, {.name = d->name});
        ASSERT_TRUE(draft) << d->name;
        const auto back = recipeFromText(recipeText(draft->recipe), d->name);
        ASSERT_TRUE(back) << d->name << ": " << back.error().text;
        EXPECT_EQ(recipeText(*back), recipeText(draft->recipe));
        EXPECT_TRUE(*back->parts == *draft->recipe.parts) << d->name;
        told += sentencesOf(*back).size();
        Project p = demo;
        const auto applied = edits::applyRecipe(*back, d->id, inputsByName(*back, demo)).apply(p);
        if (applied) expectWhole(*applied);
    }
    EXPECT_GT(told, demo.datasets.size());
}

TEST_F(Recipes, ThatShipAreRead) {
    EXPECT_THAT(shippedRecipes(), SizeIs(7));
    for (const ShippedRecipe& r : shippedRecipes()) {
        EXPECT_TRUE(recipeFromJson(toJson(r.recipe)) == r.recipe) << "kept, it opens again as it was: " << r.recipe.name;
        EXPECT_FALSE(r.recipe.purpose.empty()) << r.key;
        EXPECT_GT(sentencesOf(r.recipe).size(), 1U) << r.key;
    }
    EXPECT_EQ(recipeFor("no such").error().code, "recipe-file");
}

TEST_F(Recipes, FromStrangersAreRefusedWithTheirPlace) {
    const std::string good = recipeText(made(project_, first()));
    const auto why = [](const std::string& text) {
        const auto r = recipeFromText(text, "r.json");
        return r ? std::string("taken") : r.error().sentence();
    };
    EXPECT_THAT(why("{\n \"format\": \"jointer-recipe\",\n oops\n}"), HasSubstr("line 3"));
    EXPECT_THAT(why("[1, 2]"), HasSubstr("no recipe"));
    EXPECT_THAT(why("{\"format\":\"jointer-recipe\",\"version\":1}"), HasSubstr("takes no data"));
    EXPECT_THAT(why(std::string(200000, '[')), testing::Not("taken"));
    std::string lost = good;
    const auto at = lost.find("\"column\": \"c2\"");
    ASSERT_NE(at, lost.npos);
    lost.replace(at, 14, "\"column\": \"c99\"");
    EXPECT_THAT(why(lost), HasSubstr("“c99”"));
    EXPECT_THAT(why("{\"format\":\"jointer-recipe\",\"version\":7}"), HasSubstr("newer version"));
}

// Bytes of a good recipe changed, cut and doubled at random: refused or taken, and what is taken runs or says
// why not.
TEST_F(Recipes, DamagedAtRandomDoNoHarm) {
    const std::string good = recipeText(made(project_, first()));
    const std::string file = write("scan.csv", scanText(8));
    const char* pieces[] = {"null",          "[]",   "{}",   "\"\"",  "1e308", "-1", "\"d99\"",
                            "\"../../etc\"", "true", "[[[[", "\"s1\""};
    const char* told = std::getenv("JOINTER_FUZZ");
    const unsigned seeds = told ? static_cast<unsigned>(std::atoi(told)) : 300;
    std::size_t taken = 0;
    for (unsigned seed = 1; seed <= seeds; ++seed) {
        std::mt19937 random(seed);
        std::string text = good;
        for (unsigned k = 0; k <= random() % 4; ++k) {
            const std::size_t at = random() % text.size(), n = random() % 20;
            switch (random() % 4) {
            case 0:
                text[at] = static_cast<char>(random() % 256);
                break;
            case 1:
                text.erase(at, n);
                break;
            case 2:
                text.insert(at, text.substr(random() % text.size(), n));
                break;
            default: { // a value gives way to another one
                const std::size_t colon = text.find(": ", at);
                const std::size_t end = colon == text.npos ? text.npos : text.find_first_of(",\n", colon);
                if (end != text.npos)
                    text.replace(colon + 2, end - colon - 2, pieces[random() % std::size(pieces)]);
            }
            }
            if (text.empty()) text = "{";
        }
        const auto recipe = recipeFromText(text);
        if (!recipe) {
            EXPECT_FALSE(recipe.error().text.empty());
            continue;
        }
        ++taken;
        sentencesOf(*recipe);
        auto run = RecipeRun::make(*recipe, {});
        if (!run) continue;
        RunProjects projects;
        run->run(file, projects);
        edits::applyRecipe(*recipe, first(), {}).apply(project_);
    }
    EXPECT_GT(taken, seeds / 20);
}

TEST_F(Recipes, AreOfferedWhereADatasetLooksSo) {
    const auto keys = [](const char* x, const char* xUnit, const char* y, const char* yUnit, bool time,
                         std::size_t n) {
        std::vector<std::string> out;
        AxisMeaning ax, ay;
        ax.name = x, ax.unit = xUnit, ay.name = y, ay.unit = yUnit;
        for (const ShippedRecipe* r : recipesFor(ax, ay, time, n)) out.push_back(r->key);
        return out;
    };
    using testing::ElementsAre;
    EXPECT_THAT(keys("Raman shift", "1/cm", "Counts", "", false, 900), ElementsAre("vibration-bands"));
    EXPECT_THAT(keys("2Theta", "deg", "Counts", "", false, 4000), ElementsAre("diffraction-lines"));
    EXPECT_THAT(keys("Binding Energy", "eV", "Counts", "", false, 300), ElementsAre("photoelectron-region"));
    EXPECT_THAT(keys("Time", "min", "Signal", "mAU", false, 3000), ElementsAre("chromatogram"));
    EXPECT_THAT(keys("Dose", "µg/L", "Inhibition", "%", false, 24), ElementsAre("dose-response"));
    EXPECT_THAT(keys("q", "1/Å", "I", "1/cm", false, 160), ElementsAre("scattering-sizes"));
    EXPECT_THAT(keys("Time", "", "Temperature", "°C", true, 2000), ElementsAre("logger-series"));
    EXPECT_THAT(keys("Time", "s", "Distance", "m", false, 40), testing::IsEmpty());
    EXPECT_THAT(keys("x", "", "y", "", false, 4000), testing::IsEmpty());
    EXPECT_THAT(keys("Shift", "mm", "Load", "N", false, 400), testing::IsEmpty()) << "another shift";
}

// A project that a hand has edited: what could not run is taken out, and said.
TEST_F(Recipes, OfADamagedProjectAreTakenOut) {
    Project p = *edits::keepRecipe(made(project_, first(), "good")).apply(project_);
    Recipe bad = p.recipes[0];
    bad.id = p.newId<RecipeId>();
    bad.name = "bad";
    bad.inputs.clear();
    p.recipes = p.recipes.with(bad);
    const auto issues = dropUnfitSettings(p);
    ASSERT_THAT(issues, SizeIs(1));
    EXPECT_THAT(issues[0].text, HasSubstr("“bad”"));
    ASSERT_EQ(p.recipes.size(), 1U);
    EXPECT_EQ(p.recipes[0].name, "good");
}
