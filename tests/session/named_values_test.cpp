// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of names and numbers without an x: groups where names repeat, else a value for each name.
#include "evaluate/evaluator.h"
#include "io/reader.h"
#include "session/import.h"

#include <gmock/gmock.h>

using namespace jointer;
using testing::ElementsAre;

namespace {

Project imported(const std::string& text) {
    const auto reading = io::read(text, "s.csv", {});
    return *importEdit(*reading, {}, "snails").apply(newProject("x"));
}

} // namespace

TEST(NamedValues, ThatRepeatAreGroups) {
    const Project p = imported("site,stage,length (mm)\nUpper pan,adult,14\nUpper pan,juvenile,9\nCreek,adult,12\nCreek,adult,11\n");
    ASSERT_EQ(p.datasets.size(), 1U);
    EXPECT_EQ(p.datasets[0].source.kind, "groups");
    evaluate::Evaluator e;
    const auto curve = e.measured(p, p.datasets[0].id);
    EXPECT_TRUE(curve.issues.empty()) << curve.issues[0].text;
    EXPECT_THAT(curve.value->xMeaning.categories, ElementsAre("Upper pan", "Creek"));
    EXPECT_THAT(curve.value->x, ElementsAre(1, 1, 2, 2));
    EXPECT_THAT(curve.value->y, ElementsAre(14, 9, 12, 11));
    EXPECT_EQ(curve.value->yMeaning.unit, "mm");
}

TEST(NamedValues, OnceEachAreCategoriesOfX) {
    const Project p = imported("species,count\nspire snail,14\nlagoon cockle,9\nmud shrimp,220\n");
    ASSERT_EQ(p.datasets.size(), 1U);
    EXPECT_EQ(p.datasets[0].source.kind, "columns");
    evaluate::Evaluator e;
    const auto curve = e.measured(p, p.datasets[0].id);
    EXPECT_THAT(curve.value->xMeaning.categories, ElementsAre("spire snail", "lagoon cockle", "mud shrimp"));
    EXPECT_THAT(curve.value->y, ElementsAre(14, 9, 220));
}

TEST(NamedValues, LabelsBesideXAndYStayLabels) {
    const Project p = imported("site,depth,salt\nUpper pan,1,14\nUpper pan,2,9\nCreek,3,12\n");
    ASSERT_EQ(p.datasets.size(), 1U);
    EXPECT_EQ(p.datasets[0].source.kind, "columns");
    EXPECT_EQ(p.tables[0].columns[1].role, Role::X);
    EXPECT_EQ(p.tables[0].columns[2].role, Role::Y);
}

TEST(NamedValues, OneColumnAloneIsNoDataset) {
    EXPECT_EQ(imported("length\n14\n9\n12\n").datasets.size(), 0U);
    EXPECT_EQ(imported("name\na\nb\nc\n").datasets.size(), 0U);
}
