// SPDX-License-Identifier: GPL-3.0-or-later
// Groups of a table compared: how values are laid out (columns, classes, subjects, a second factor,
// outcomes), what is proposed and told.
#include "analyses/groups/groups.h"
#include "evaluate/evaluator.h"
#include "project/edit.h"

#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::analyses;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

struct Laid {
    Table table{.name = "sites"};
    std::vector<std::pair<Role, std::size_t>> roles;
    Settings settings;
    std::string kind = "groups";
    Project project{};
    std::shared_ptr<evaluate::Evaluator> evaluator = std::make_shared<evaluate::Evaluator>();
    evaluate::AnalysisOutcome outcome{};

    const GroupsDetail* compare() {
        project = *edits::addTable(table).apply(Project());
        Dataset d{.name = "groups", .source = {.kind = kind, .table = project.tables[0].id}};
        for (const auto& [role, column] : roles)
            d.source.roles.push_back({role, project.tables[0].columns[column].id});
        project = *edits::addDataset(d).apply(project);
        Analysis a{.kind = "groups", .inputs = {{.dataset = project.datasets[0].id}}, .settings = settings};
        project = *edits::addAnalysis(a).apply(project);
        outcome = evaluator->analysis(project, project.analyses[0]);
        return outcome.exists() ? groupsDetail(*outcome) : nullptr;
    }
};

Laid sites() {
    Laid l;
    l.table.columns = {
        textColumn("site", {"south", "north", "south", "north", "south", "north", "", "north"}),
        numberColumn("level", "m", {4.1, 3.1, 4.6, 3.4, 4.2, 2.9, 7.0, std::nan("")})};
    l.roles = {{Role::Y, 1}, {Role::Class, 0}};
    return l;
}

} // namespace

TEST(Groups, AColumnByAnother) {
    Laid l = sites();
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    ASSERT_EQ(d->groups.size(), 2U);
    EXPECT_EQ(d->groups[0].name, "south");
    EXPECT_THAT(d->design.groups[0].values, ElementsAre(4.1, 4.6, 4.2));
    EXPECT_THAT(d->design.groups[1].values, ElementsAre(3.1, 3.4, 2.9));
    EXPECT_EQ(d->groups[1].numbers.missing, 1U);
    ASSERT_EQ(d->tests.size(), 1U);
    EXPECT_EQ(d->tests[0].result.test, "welch");
    EXPECT_THAT(l.outcome->sentence, HasSubstr("south is higher than north by 1.17 "));
    EXPECT_THAT(l.outcome->detail, HasSubstr("Two groups that are independent"));
    const Quantity* difference = l.outcome->find("difference by welch");
    ASSERT_TRUE(difference);
    EXPECT_EQ(difference->unit, "m");
    EXPECT_EQ(difference->subject, "south − north");
}

TEST(Groups, AColumnEachAreNoPairsUntilThatIsSaid) {
    Laid l;
    l.table.columns = {numberColumn("before", "", {1, 2, 3, 4}),
                       numberColumn("after", "", {1.5, 2.4, 3.7, std::nan("")}),
                       textColumn("shell", {"a", "b", "c", "d"})};
    l.roles = {{Role::Y, 0}, {Role::Y, 1}};
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_EQ(d->tests[0].result.test, "welch");
    l.settings.set("test", Value(std::string("paired"))); // may be asked for
    d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_NEAR(d->tests[0].result.difference, -(0.5 + 0.4 + 0.7) / 3, 1e-12);
    l.settings = {};
    l.roles.push_back({Role::Label, 2});
    d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_EQ(d->tests[0].result.test, "paired");
    EXPECT_EQ(d->design.subjects.size(), 3U);
    EXPECT_THAT(d->notes, ElementsAre(HasSubstr("1 subject not measured in all groups")));
}

TEST(Groups, TechnicalReplicatesAreAveraged) {
    Laid l;
    l.table.columns = {textColumn("site", {"a", "a", "a", "a", "b", "b", "b", "b"}),
                       textColumn("shell", {"1", "1", "2", "2", "3", "3", "4", "4"}),
                       numberColumn("y", "", {1, 2, 3, 5, 7, 8, 9, 9})};
    l.roles = {{Role::Y, 2}, {Role::Class, 0}, {Role::Label, 1}};
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_THAT(d->design.groups[0].values, ElementsAre(1.5, 4));
    EXPECT_THAT(d->design.groups[1].values, ElementsAre(7.5, 9));
    EXPECT_FALSE(d->design.repeated);
    EXPECT_EQ(d->tests[0].result.test, "welch");
    EXPECT_THAT(d->notes,
                ElementsAre(HasSubstr("Values of one shell in a group are averaged: 4 means from 8 values")));
}

TEST(Groups, ASecondFactorMakesCells) {
    Laid l;
    l.table.columns = {textColumn("site", {"n", "n", "n", "n", "s", "s", "s", "s"}),
                       textColumn("tide", {"low", "high", "low", "high", "low", "high", "low", "high"}),
                       numberColumn("y", "", {1, 2, 1.2, 2.1, 3, 5, 3.2, 5.3})};
    l.roles = {{Role::Y, 2}, {Role::Class, 0}, {Role::Class, 1}};
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_EQ(d->groups[1].name, "n, high");
    EXPECT_EQ(d->tests[0].result.test, "two-way-anova");
    EXPECT_EQ(d->tests[0].result.terms[2].name, "site × tide");
    EXPECT_TRUE(l.outcome->find("p of site × tide"));
}

TEST(Groups, WordsAreOutcomes) {
    Laid l;
    l.table.columns = {textColumn("site", {"n", "n", "n", "s", "s", "s", "s"}),
                       textColumn("found", {"yes", "no", "yes", "no", "no", "no", "yes"})};
    l.roles = {{Role::Y, 1}, {Role::Class, 0}};
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    ASSERT_TRUE(d->design.counts);
    EXPECT_THAT(d->design.counts->counts, ElementsAre(ElementsAre(2, 1), ElementsAre(1, 3)));
    EXPECT_EQ(d->tests[0].result.test, "fisher");
}

TEST(Groups, WhatDoesNotGoIsSaid) {
    Laid l = sites();
    l.settings.set("control", Value(std::string("west")));
    EXPECT_FALSE(l.compare());
    EXPECT_EQ(l.outcome.result.error().text,
              "There is no group “west” to be the control; there are south, north.");
    l.settings = {};
    l.settings.set("test", Value(std::string("paired")));
    EXPECT_FALSE(l.compare());
    EXPECT_THAT(l.outcome.result.error().text, HasSubstr("say which values are of one subject"));
}

// The numbers of the groups are told also where a test is not possible.
TEST(Groups, WhatTheValuesDoNotAllowIsToldBesideThem) {
    Laid l;
    l.table.columns = {textColumn("site", {"a", "a", "b", "b"}), numberColumn("y", "", {1, 1, 1, 1})};
    l.roles = {{Role::Y, 1}, {Role::Class, 0}};
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_EQ(d->groups.size(), 2U);
    EXPECT_TRUE(d->tests.empty());
    EXPECT_FALSE(l.outcome->good);
    ASSERT_EQ(l.outcome.issues.size(), 1U);
    EXPECT_THAT(l.outcome.issues[0].text, HasSubstr("nothing scatters"));
}

// A logger’s moments are no groups: said, not counted up to.
TEST(Groups, ACurveHasNone) {
    Laid l;
    l.table.columns = {numberColumn("t", "", {1.9e9, 1.9e9 + 60, 1.9e9 + 120}),
                       numberColumn("y", "", {1, 2, 3})};
    l.roles = {{Role::X, 0}, {Role::Y, 1}};
    l.kind = "columns";
    EXPECT_FALSE(l.compare());
    EXPECT_THAT(l.outcome.result.error().text, HasSubstr("This dataset has no groups"));
}

TEST(Groups, ManyGroupsAreNotComparedEachWithEach) {
    Laid l;
    std::vector<std::string> names;
    std::vector<double> y;
    for (int k = 0; k < 300; ++k)
        names.push_back("g" + std::to_string(k / 3)), y.push_back(k % 7 + 0.1 * (k % 5));
    l.table.columns = {textColumn("g", names), numberColumn("y", "", y)};
    l.roles = {{Role::Y, 1}, {Role::Class, 0}};
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_EQ(d->groups.size(), 100U);
    EXPECT_THAT(l.outcome.issues.back().text, HasSubstr("100 groups"));
}

TEST(Groups, SentencesSayWhatTheTestIsOf) {
    Laid l;
    l.table.columns = {numberColumn("a", "", {1, 2, 3, 4, 5}),
                       numberColumn("b", "", {2, 4.1, 5.9, 8.2, 9.9})};
    l.roles = {{Role::Y, 0}, {Role::Y, 1}};
    const auto sentence = [&](const char* test) {
        l.settings.set("test", Value(std::string(test)));
        return l.compare() ? l.outcome->sentence : l.outcome.result.error().text;
    };
    EXPECT_THAT(sentence("pearson"), testing::StartsWith("The columns go together beyond chance: r = 0.99"));
    EXPECT_THAT(sentence("levene"), testing::StartsWith("No difference of scatter beyond chance: p ="));
    EXPECT_THAT(sentence("mann-kendall"), HasSubstr("slope 1.99 ("));
    EXPECT_THAT(sentence("paired"), testing::StartsWith("a is lower than b by "));
}

TEST(Groups, EveryTestRunsFromTheWindowsSettings) {
    std::mt19937_64 random(4);
    std::normal_distribution<double> normal;
    for (const stats::TestKind& kind : stats::groupTests()) {
        Laid l;
        std::vector<double> a, b;
        for (int i = 0; i < 12; ++i) a.push_back(normal(random)), b.push_back(normal(random) + 1);
        if (kind.key == "rates") // of counts
            for (auto* list : {&a, &b})
                for (double& v : *list) v = std::floor(std::abs(3 * v));
        l.table.columns = {numberColumn("a", "", a), numberColumn("b", "", b)};
        l.roles = {{Role::Y, 0}};
        if (kind.needs != stats::Needs::OneGroup) l.roles.push_back({Role::Y, 1});
        if (kind.needs == stats::Needs::TwoFactors || kind.needs == stats::Needs::Counts) {
            std::vector<std::string> words, more;
            for (int i = 0; i < 12; ++i)
                words.push_back(i % 2 ? "u" : "v"), more.push_back(i % 3 ? "s" : "t");
            l.table.columns.push_back(textColumn("f", words));
            l.table.columns.push_back(textColumn("g", more));
            l.roles = {{Role::Y, kind.needs == stats::Needs::Counts ? 3U : 0U}, {Role::Class, 2}};
            if (kind.needs == stats::Needs::TwoFactors) l.roles.push_back({Role::Class, 3});
        }
        l.settings.set("test", Value(kind.key));
        l.settings.set("control", Value(std::string(kind.needs == stats::Needs::Control ? "a" : "")));
        const GroupsDetail* d = l.compare();
        ASSERT_TRUE(d) << kind.key << ": " << l.outcome.result.error().text;
        EXPECT_EQ(d->tests[0].result.test, kind.key);
        EXPECT_FALSE(l.outcome->sentence.empty());
        EXPECT_TRUE(l.outcome->find("p of " + kind.key)) << kind.key;
    }
}

namespace {

// Chlorine of two ponds, some of it below what the method sees.
Laid ponds() {
    Laid l;
    Column level = numberColumn("level", "mg/L", {0.3, NAN, 0.7, 0.5, NAN, 1.2, 2.5, 1.9, NAN, 2.2, NAN});
    auto cells = std::make_shared<Cells>(*level.cells);
    cells->states.assign(11, CellState::Fine);
    for (const auto& [row, text] : {std::pair(1U, "<0.2"), {4U, "< 0,1"}, {8U, "≤ 0.5"}}) {
        cells->states[row] = CellState::Below;
        cells->originals[row] = text;
    }
    cells->states[10] = CellState::Missing;
    level.cells = cells;
    l.table.columns = {textColumn("pond", {"a", "a", "a", "a", "a", "b", "b", "b", "b", "b", "b"}), level};
    l.roles = {{Role::Y, 1}, {Role::Class, 0}};
    return l;
}

} // namespace

TEST(Groups, ValuesBelowALimitAreKeptAsSuch) {
    Laid l = ponds();
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_THAT(d->design.groups[0].limits, ElementsAre(0.2, 0.1));
    EXPECT_THAT(d->design.groups[1].limits, ElementsAre(0.5));
    EXPECT_EQ(d->groups[1].numbers.n, 5U);
    EXPECT_EQ(d->groups[1].numbers.missing, 1U); // the empty cell, not the limit
    // (0.7 + 0.5 + 0.3)/5 and the rest, two fifths, at the lowest limit.
    EXPECT_NEAR(d->groups[0].numbers.mean, 0.3 + 0.4 * 0.1, 1e-12);
    EXPECT_EQ(d->tests[0].result.test, "mann-whitney");
    EXPECT_THAT(l.outcome->detail, HasSubstr("3 values below a limit: kept as limits"));
    EXPECT_THAT(l.outcome->detail, HasSubstr("40 % of “a” lies below all that was measured"));
    EXPECT_THAT(l.outcome->detail, HasSubstr("at least 0.3 mg/L"));
    l.settings.set("below", Value(std::string("half")));
    d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_THAT(d->design.groups[0].values, ElementsAre(0.3, 0.1, 0.7, 0.5, 0.05));
    EXPECT_EQ(d->tests[0].result.test, "welch");
    EXPECT_THAT(l.outcome->detail, HasSubstr("taken as half the limit, as was asked for"));
    l.settings.set("below", Value(std::string("left-out")));
    d = l.compare();
    ASSERT_TRUE(d);
    EXPECT_THAT(d->design.groups[0].values, ElementsAre(0.3, 0.7, 0.5));
    EXPECT_EQ(d->groups[0].numbers.missing, 2U);
}

TEST(Groups, AMeanWithALimitInItIsALimit) {
    Laid l = ponds();
    l.table.columns.push_back(textColumn("sampler", {"s", "s", "t", "u", "v", "s", "t", "t", "u", "u", "v"}));
    l.roles.emplace_back(Role::Label, 2);
    const GroupsDetail* d = l.compare();
    ASSERT_TRUE(d);
    // s: 0.3 and below 0.2 → below 0.25; v: below 0.1; t 0.7, u 0.5.
    EXPECT_THAT(d->design.groups[0].limits, testing::UnorderedElementsAre(0.25, 0.1));
    EXPECT_THAT(d->design.groups[1].limits, testing::UnorderedElementsAre((0.5 + 2.2) / 2));
}
