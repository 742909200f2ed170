// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/sample_list.h"

#include "io/reader.h"
#include "support/sample_project.h"

#include <gmock/gmock.h>

using namespace jointer;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

Project withDatasets(std::initializer_list<const char*> names) {
    Project p;
    for (const char* name : names) {
        p = *edits::addTable(test::sampleTable(name, 8)).apply(p);
        p = *edits::addDataset(test::datasetOf(p.tables[p.tables.size() - 1], name)).apply(p);
    }
    return p;
}

Table listOf(const char* text) {
    return io::read(text, "list.csv", {})->tables[0].table;
}

std::string attributesOf(const Dataset& d) {
    std::string out;
    for (const Attribute& a : d.attributes)
        out += a.name + "=" + a.value + (a.unit.empty() ? "" : " " + a.unit) + ";";
    return out;
}

} // namespace

TEST(SampleList, BecomesAttributesByName) {
    const Project p = withDatasets({"shell_7d", "Shell_28d", "pond"});
    const auto made =
        sampleList(p, listOf("file,age (d),site\nSHELL_7D.csv,7,north\nshell_28d,28,\nother,3,south\n"));
    ASSERT_TRUE(made) << made.error().text;
    EXPECT_EQ(made->datasets, 2U);
    EXPECT_THAT(made->unnamed, ElementsAre("pond"));
    EXPECT_THAT(made->unknown, ElementsAre("other"));
    EXPECT_THAT(made->edit.name, HasSubstr("2 datasets"));
    const Project after = *made->edit.apply(p);
    EXPECT_EQ(attributesOf(after.datasets[0]), "age=7 d;site=north;")
        << "an attribute that was there is replaced";
    EXPECT_EQ(attributesOf(after.datasets[1]), "age=28 d;") << "an empty cell says nothing";
    EXPECT_EQ(attributesOf(after.datasets[2]), attributesOf(p.datasets[2]));
    EXPECT_EQ(*made->edit.apply(after), after) << "twice is once";
}

TEST(SampleList, NamesMayLookLikeAmounts) {
    const auto made = sampleList(withDatasets({"7 d", "28 d"}), listOf("shell,tide\n7 d,low\n28 d,high\n"));
    ASSERT_TRUE(made) << made.error().text;
    EXPECT_EQ(made->datasets, 2U);
}

TEST(SampleList, OtherTablesAreNone) {
    const Project p = withDatasets({"shell_7d", "1"});
    for (const char* text : {"x,y\n1,2\n2,3\n3,4\n", "name\nshell_7d\n", "a,b\nnorth,1\nsouth,2\n"}) {
        const auto made = sampleList(p, listOf(text));
        ASSERT_FALSE(made) << text;
        EXPECT_EQ(made.error().code, "no-names");
    }
    EXPECT_FALSE(sampleList({}, listOf("file,age\nshell,7\n")));
    EXPECT_FALSE(sampleList(p, {}));
}
