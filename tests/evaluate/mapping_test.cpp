// SPDX-License-Identifier: GPL-3.0-or-later
// Columns mapped to curves, surfaces, grids, groups, ions and parts: guesses, checks, points.
#include "evaluate/mapping.h"

#include "evaluate/measured_curve.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::evaluate;
using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

namespace {

Table tableOf(std::vector<Column> columns) {
    Table t;
    t.id = TableId{1};
    std::uint64_t id = 10;
    for (Column& c : columns) c.id = ColumnId{id++};
    t.columns = std::move(columns);
    return t;
}

struct Mapped {
    std::vector<RoleBinding> roles;
    Outcome<std::vector<std::string>> check;
    Curve curve;
    std::vector<std::string> problems;
};

Mapped map(const char* kind, const Table& t) {
    const MappingKind& k = *mappingCatalogue().find(kind);
    Mapped m;
    m.roles = guessedRoles(k, t);
    Dataset d;
    d.source.kind = kind;
    d.source.table = t.id;
    d.source.roles = m.roles;
    m.check = checkedSource(k, t, d.source);
    for (const Issue& i : m.check.issues) m.problems.push_back(i.text);
    std::vector<Issue> issues;
    m.curve = curveFromColumns(t, d, issues);
    return m;
}

} // namespace

// Sea water of practical salinity 35: F. J. Millero et al., Deep-Sea Res. I 55 (2008) 50, table 4, mmol/kg;
// the ions taken here leave out 0.4 % of the charges.
TEST(Ions, SeaWaterBalances) {
    auto one = [](const char* name, double amount) { return numberColumn(name, "mmol/L", {amount}); };
    const Mapped m = map(
        "ions", tableOf({one("Na+", 468.9675), one("Mg2+", 52.8170), one("Ca2+", 10.2820), one("K+", 10.2077),
                         one("Cl-", 545.8695), one("SO4--", 28.2353), one("HCO3-", 1.7178)}));
    EXPECT_EQ(m.roles.size(), 7U);
    EXPECT_THAT(m.problems, IsEmpty());
    ASSERT_EQ(m.curve.size(), 1U);
    EXPECT_NEAR(m.curve.y[0], 0.1, 0.1) << "within a tenth of a per cent";
}

TEST(Ions, SayWhatDoesNotBalanceAndWhatHasNoUnit) {
    const Mapped m =
        map("ions", tableOf({numberColumn("Ca", "", {100, 100}), numberColumn("Cl", "mg/L", {177, 20})}));
    EXPECT_THAT(m.problems, Contains(HasSubstr("“Ca” has no unit")));
    EXPECT_THAT(m.problems, Contains(HasSubstr("In 1 sample the charges do not balance")));
    EXPECT_THAT(m.check.value, Contains(HasSubstr("without Mg, Na, SO4, HCO3")));
    EXPECT_THAT(map("ions", tableOf({numberColumn("Ca", "mg/L", {1})})).problems,
                Contains(HasSubstr("one anion")));
}

TEST(Mapping, SurfacesAndGrids) {
    const Mapped s =
        map("surface", tableOf({numberColumn("x", "", {0, 0, 1, 1}), numberColumn("y", "", {0, 1, 0, 1}),
                                numberColumn("z", "K", {1, 2, 3, 4})}));
    EXPECT_THAT(s.check.value, ElementsAre("4 points", "a complete grid of 2 × 2"));
    EXPECT_THAT(s.curve.x, ElementsAre(0, 0, 1, 1));
    EXPECT_THAT(s.curve.more[0], ElementsAre(0, 1, 0, 1));
    EXPECT_THAT(s.curve.y, ElementsAre(1, 2, 3, 4));
    const Mapped g = map("grid", tableOf({numberColumn("depth", "m", {1, 2}), numberColumn("10", "", {5, 6}),
                                          numberColumn("20", "", {7, std::nan("")})}));
    EXPECT_THAT(g.check.value, ElementsAre("2 × 2 cells, 1 empty"));
    EXPECT_THAT(g.problems, IsEmpty());
    EXPECT_THAT(g.curve.x, ElementsAre(10, 10, 20));
    EXPECT_THAT(g.curve.more[0], ElementsAre(1, 2, 1));
    EXPECT_THAT(g.curve.y, ElementsAre(5, 6, 7));
}

TEST(Mapping, GroupsInColumnsOrByNames) {
    Table t = tableOf(
        {numberColumn("pan", "", {1, 2, 3}), numberColumn("creek", "", {4, std::nan(""), std::nan("")})});
    const Mapped lists = map("groups", t);
    EXPECT_THAT(lists.check.value, ElementsAre("2 groups: pan (3), creek (1)"));
    EXPECT_THAT(lists.problems, ElementsAre("The group “creek” has 1 value."));
    EXPECT_THAT(lists.curve.x, ElementsAre(1, 1, 1, 2, 2, 2)); // missing ones are counted as such
    EXPECT_TRUE(lists.curve.counts(3));
    EXPECT_FALSE(lists.curve.counts(4));
    Table named = tableOf({textColumn("site", {"b", "a", "b"}), numberColumn("count", "", {1, 2, 3})});
    named.columns[1].role = Role::Y;
    const Mapped by = map("groups", named);
    EXPECT_THAT(by.check.value, ElementsAre("2 groups: b (2), a (1)"));
    EXPECT_THAT(by.curve.y, ElementsAre(1, 3, 2));
}

TEST(Mapping, PartsAsShares) {
    const Mapped m =
        map("composition", tableOf({numberColumn("sand", "", {20, 1}), numberColumn("silt", "", {30, 1}),
                                    numberColumn("clay", "", {50, 2})}));
    EXPECT_THAT(m.check.value, Contains("2 samples with sums from 4 to 100"));
    EXPECT_THAT(m.check.value, Contains("the sums differ; each sample is taken as shares of its sum"));
    EXPECT_THAT(m.curve.y, ElementsAre(20, 25));
}

TEST(Mapping, CurvesSayWhatIsMissingOrOdd) {
    Table t = tableOf({numberColumn("x", "s", {1, 1, 2}), numberColumn("a", "mV", {1, 2, 3}),
                       numberColumn("b", "V", {1, 2, 3}), textColumn("w", {"p", "q", "r"})});
    t.columns[0].role = Role::X;
    t.columns[1].role = t.columns[2].role = Role::Y;
    const Mapped m = map("columns", t);
    EXPECT_THAT(m.check.value, ElementsAre("3 points of 2 replicates", "1 value of x with several points"));
    EXPECT_THAT(m.problems, ElementsAre(HasSubstr("different units")));
    const auto wrong =
        checkedSource(*mappingCatalogue().find("columns"), t, {.roles = {{Role::Y, t.columns[3].id}}});
    EXPECT_EQ(wrong.issues.size(), 2U) << "no x, and words as y";
}

TEST(Mapping, BlanksAndUnknownsAreNoPointsOfTheCurve) {
    Table t = tableOf({numberColumn("dose", "", {0, 1, 2, 3}), numberColumn("signal", "", {5, 6, 7, 8})});
    t.rowKinds = {{1, RowKind::Blank}, {3, RowKind::Standard}, {4, RowKind::Unknown}};
    Dataset d;
    d.source.roles = {{Role::X, t.columns[0].id}, {Role::Y, t.columns[1].id}};
    std::vector<Issue> issues;
    EXPECT_THAT(curveFromColumns(t, d, issues).y, ElementsAre(6, 7));
}

TEST(Mapping, EveryKindTakesATableWithNothingInIt) {
    for (const MappingKind& kind : mappingCatalogue())
        for (const Table& t : {tableOf({}), tableOf({numberColumn("a", "", {}), textColumn("b", {})})}) {
            const Mapped m = map(kind.info.key.c_str(), t);
            EXPECT_EQ(m.curve.size(), 0U) << kind.info.key;
            EXPECT_FALSE(m.problems.empty()) << kind.info.key << ": what is missing is said";
        }
}
