// SPDX-License-Identifier: GPL-3.0-or-later
// Project and recipe files in which one number after the other is something else: nothing crashes or hangs, whatever
// opens can be computed, drawn and saved again. Each run takes another part of the numbers; all of them with
// JOINTER_ALL=1 (some minutes).
#include "evaluate/evaluator.h"
#include "figure/layout.h"
#include "figures.h"
#include "project/project_json.h"
#include "project/recipe_json.h"
#include "session/recipe_fill.h"
#include "session/recipes.h"
#include "support/sample_project.h"
#include "tern_sands.h"

#include <chrono>
#include <cstdlib>
#include <gmock/gmock.h>
#include <set>

using namespace jointer;

namespace {

using Pointer = Json::json_pointer;

void findNumbers(const Json& at, const Pointer& path, std::vector<Pointer>& out) {
    if (at.is_number()) out.push_back(path);
    if (at.is_object())
        for (const auto& [key, inner] : at.items()) findNumbers(inner, path / key, out);
    if (at.is_array())
        for (std::size_t i = 0; i < at.size(); ++i) findNumbers(at[i], path / i, out);
}

const std::vector<Json>& hostile() {
    static const std::vector<Json> all = {nullptr, -1, 1e300, -1e300, 0, "text", Json::array(), 18446744073709551615ULL};
    return all;
}

std::size_t stride(std::size_t numbers, std::size_t wanted) {
    return std::getenv("JOINTER_ALL") ? 1 : std::max<std::size_t>(1, numbers / wanted);
}

// Opens it, computes all that it holds, and saves it; what does not hold is said, not thrown. Drawn are those figures
// that are told.
void use(const Project& project, evaluate::Evaluator& evaluator, const std::set<std::size_t>& figures) {
    const auto begun = std::chrono::steady_clock::now();
    for (const auto& d : project.datasets) (void)evaluator.protocol(project, d->id).end();
    for (const auto& a : project.analyses)
        (void)evaluator.analysis(project, *a, {.effort = evaluate::Effort::Provisional});
    for (std::size_t k : figures) {
        if (k >= project.figures.size()) continue;
        const figure::Layout l = figure::layOut(project, project.figures[k], evaluator, {.pixelsPerMm = 4});
        for (const draw::Item& item : l.list.items) ASSERT_LT(item.element.value, 1ULL << 62);
    }
    (void)toJson(project).dump();
    EXPECT_LT(std::chrono::steady_clock::now() - begun, std::chrono::seconds(20));
}

// The figure that the number is in, and one more.
std::set<std::size_t> figuresOf(const Pointer& number, std::size_t k, const Project& p) {
    std::set<std::size_t> all = {k % std::max<std::size_t>(1, p.figures.size())};
    const std::string path = number.to_string(), begin = "/figures/";
    if (path.starts_with(begin)) all.insert(std::stoul(path.substr(begin.size())));
    return all;
}

void attack(const Project& good, std::size_t wanted) {
    const Json json = toJson(good);
    std::vector<Pointer> numbers;
    findNumbers(json, Pointer(), numbers);
    ASSERT_GT(numbers.size(), 100U);
    evaluate::Evaluator evaluator; // remembers what stays
    use(good, evaluator, {});
    const std::size_t step = stride(numbers.size(), wanted);
    for (std::size_t k = 0; k < numbers.size(); k += step)
        for (const Json& value : hostile()) {
            Json bad = json;
            bad[numbers[k]] = value;
            SCOPED_TRACE(numbers[k].to_string() + " = " + value.dump());
            Project p = projectFromJson(bad);
            p.tables = good.tables;
            use(p, evaluator, figuresOf(numbers[k], k, p));
            if (testing::Test::HasFailure()) return;
        }
}

} // namespace

TEST(HostileFiles, NumbersOfAProject) {
    attack(demo::ternSands(), 8);
}

TEST(HostileFiles, NumbersOfItsFigures) {
    attack(demo::figureDemo(), 12);
}

TEST(HostileFiles, NumbersOfARecipe) {
    const Project from = test::sampleProject();
    const auto draft = makeRecipe(from, from.datasets[0].id, {.name = "r"});
    ASSERT_TRUE(draft);
    std::string text = "shift,counts,sd\n";
    for (int i = 0; i < 60; ++i) text += std::to_string(i * 0.5) + "," + std::to_string(5 + i % 7) + ",0.1\n";
    const auto reading = io::read(text, "new.csv", {});
    const Json json = toJson(draft->recipe);
    std::vector<Pointer> numbers;
    findNumbers(json, Pointer(), numbers);
    ASSERT_GT(numbers.size(), 5U);
    evaluate::Evaluator evaluator;
    int filledUp = 0;
    for (std::size_t k = 0; k < numbers.size(); k += stride(numbers.size(), 60))
        for (const Json& value : hostile()) {
            Json bad = json;
            bad[numbers[k]] = value;
            SCOPED_TRACE(numbers[k].to_string() + " = " + value.dump());
            const Recipe r = recipeFromJson(bad);
            for (const RecipeSentence& sentence : sentencesOf(r)) EXPECT_FALSE(sentence.part.empty());
            (void)toJson(r).dump();
            const auto made = filledWithData(r, *reading, "new.csv");
            if (!made) {
                EXPECT_FALSE(made.error().text.empty());
                continue;
            }
            for (const FilledRecipe& each : *made) use(each.project, evaluator, {0});
            ++filledUp;
        }
    EXPECT_GT(filledUp, 20);
}
