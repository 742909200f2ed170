// SPDX-License-Identifier: GPL-3.0-or-later
// Rows and cells of tables: inserted, deleted, sorted, typed and pasted; each edit undone gives the table
// back.
#include "evaluate/evaluator.h"
#include "io/writer.h"
#include "project/history.h"
#include "session/import.h"
#include "session/typed_cell.h"

#include <gmock/gmock.h>

using namespace jointer;

namespace {

struct Pond {
    Project p;
    Pond() {
        const auto reading = io::read("n,site,when,dry\n3,c,2031-05-04,yes\n1,a,2031-05-02,no\nNA,d,2031-05-"
                                      "05,yes\n2,b,2031-05-03,no\n",
                                      "pond.csv", {});
        p = *importEdit(*reading, {}, "pond").apply(newProject("x"));
    }
    const Table& table() const { return p.tables[0]; }
    void apply(const Edit& edit) {
        const Project before = p;
        auto after = edit.apply(p);
        ASSERT_TRUE(after) << after.error().text;
        EXPECT_TRUE(before == p) << "an edit changes nothing in place";
        p = *after;
    }
    std::string column(std::size_t c) const {
        std::string out;
        for (std::size_t i = 0; i < table().rowCount(); ++i) out += io::fileText(table().columns[c], i) + ",";
        return out;
    }
    std::string ids() const {
        std::string out;
        for (std::size_t i = 0; i < table().rowCount(); ++i) out += std::to_string(table().rows->id(i)) + ",";
        return out;
    }
};

} // namespace

TEST(TableEdits, SortingMovesWholeRowsWithTheirIds) {
    Pond d;
    d.apply(edits::sortRows(d.table().id, d.table().columns[0].id, true));
    EXPECT_EQ(d.column(0), "1,2,3,,");
    EXPECT_EQ(d.column(1), "a,b,c,d,");
    EXPECT_EQ(d.ids(), "2,4,1,3,");
    EXPECT_EQ(d.table().rows->line(0), 3U);
    d.apply(edits::sortRows(d.table().id, d.table().columns[1].id, false));
    EXPECT_EQ(d.column(1), "d,c,b,a,");
}

TEST(TableEdits, RowsAreSortedByComputedColumnsToo) {
    Pond d;
    d.apply(edits::addComputedColumn(d.table().id, "below", "-'" + d.table().columns[0].id.text() + "'"));
    const ColumnId below = d.table().columns.back().id;
    EXPECT_FALSE(edits::sortRows(d.table().id, below, true).apply(d.p));
    evaluate::Evaluator e;
    const auto filled = e.table(d.p, d.table().id).value.columns.back().cells;
    d.apply(edits::sortRows(d.table().id, below, true, filled));
    EXPECT_EQ(d.column(0), "3,2,1,,");
}

TEST(TableEdits, IdsOfRowsAreNeverGivenTwice) {
    Pond d;
    d.apply(edits::deleteRows(d.table().id, {3, 0}));
    EXPECT_EQ(d.column(1), "a,d,");
    EXPECT_EQ(d.ids(), "2,3,");
    d.apply(edits::insertRows(d.table().id, 1, 2));
    EXPECT_EQ(d.column(1), "a,,,d,");
    EXPECT_EQ(d.ids(), "2,5,6,3,") << "4 was deleted and does not come again";
}

TEST(TableEdits, TypingByTheKindOfTheColumn) {
    Pond d;
    auto type = [&](std::size_t c, std::size_t row, const char* text) {
        const auto change = typedCell(d.table().columns[c], row, text);
        if (!change) return change.error().text;
        d.apply(edits::changeCells(d.table().id, {*change}, "Type"));
        return io::fileText(d.table().columns[c], row);
    };
    EXPECT_EQ(type(0, 0, "1 234.5"), "1234.5");
    EXPECT_EQ(type(0, 0, "2,5"), "2.5");
    EXPECT_EQ(type(0, 0, ""), "");
    EXPECT_EQ(type(0, 0, "x"), "“x” is not a number.");
    EXPECT_EQ(type(1, 0, "new site"), "new site");
    EXPECT_EQ(type(2, 0, "6 May 2031"), "2031-05-06");
    EXPECT_THAT(type(2, 0, "06:00"), testing::HasSubstr("a date such as"));
    EXPECT_EQ(type(3, 0, "no"), "no");
    EXPECT_THAT(type(3, 0, "perhaps"), testing::HasSubstr("yes or no"));
    EXPECT_EQ(type(0, 6, "9"), "9") << "the table grows";
    EXPECT_EQ(d.ids(), "1,2,3,4,5,6,7,");
}

TEST(TableEdits, PastedBlocksGrowTheTableAndSayWhatDoesNotFit) {
    Pond d;
    const auto pasted = pastedCells(d.table(), 3, 0, "7\tx\t2031-06-01\tyes\tbeyond\nword\ty\t\tno\n");
    EXPECT_EQ(pasted.issues.size(), 1U) << "word is no number";
    d.apply(edits::changeCells(d.table().id, pasted.value.changes, "Paste", pasted.value.added));
    EXPECT_EQ(d.column(0), "3,1,,7,,");
    EXPECT_EQ(d.column(1), "c,a,d,x,y,");
    EXPECT_EQ(copiedCells(d.table(), {3, 4}, {0, 1}), "7\tx\n\ty\n");
    ASSERT_EQ(d.table().columns.size(), 5U) << "the table grows to the right too";
    EXPECT_EQ(d.column(4), ",,,beyond,,");
}

TEST(TableEdits, PastedColumnsGetNamesThatNoOtherHas) {
    Pond d;
    const auto bare = pastedCells(d.table(), 0, 3, "yes\t5\t6\n");
    ASSERT_EQ(bare.value.added.size(), 2U);
    EXPECT_NE(bare.value.added[0].name, bare.value.added[1].name);
    const auto named = pastedCells(d.table(), 0, 3, "ice\tsite\tsite\nyes\t5\t6\n");
    ASSERT_EQ(named.value.added.size(), 2U);
    EXPECT_EQ(named.value.added[0].name, "site 2");
    EXPECT_EQ(named.value.added[1].name, "site 3");
}

TEST(TableEdits, AFirstLineOfHeadingsIsNotPastedAsCells) {
    Pond d;
    const auto pasted =
        pastedCells(d.table(), 0, 0, "depth\tsite\tday\tice\tsalinity\n5\tz\t2031-07-01\tno\t31.5\n");
    EXPECT_TRUE(pasted.issues.empty());
    d.apply(edits::changeCells(d.table().id, pasted.value.changes, "Paste", pasted.value.added));
    EXPECT_EQ(d.column(0), "5,1,,2,");
    ASSERT_EQ(d.table().columns.size(), 5U);
    EXPECT_EQ(d.table().columns[4].name, "salinity");
    EXPECT_EQ(d.table().columns[4].kind, ColumnKind::Number);
    EXPECT_EQ(d.table().columns[4].numbers()[0], 31.5);
}

TEST(TableEdits, ColumnsAreMovedAndRemovedWithTheirRoles) {
    Pond d;
    const ColumnId site = d.table().columns[1].id;
    d.apply(edits::moveColumn(d.table().id, site, -5));
    EXPECT_EQ(d.table().columns[0].name, "site");
    d.apply(edits::removeColumns(d.table().id, {site}));
    EXPECT_EQ(d.table().columns.size(), 3U);
    for (const auto& data : d.p.datasets)
        for (const RoleBinding& r : data->source.roles) EXPECT_NE(r.column, site);
}

TEST(TableEdits, GoneTablesAndComputedColumnsAreRefused) {
    Pond d;
    const TableId id = d.table().id;
    d.apply(edits::addComputedColumn(id, "double", "row*2"));
    const ColumnId computed = d.table().columns.back().id;
    EXPECT_EQ(
        edits::changeCells(id, {{.column = computed, .row = 0, .number = 1}}, "x").apply(d.p).error().code,
        "computed");
    EXPECT_EQ(edits::sortRows(id, computed, true).apply(d.p).error().code, "computed");
    d.apply(edits::removeTable(id));
    for (const Edit& e :
         {edits::insertRows(id, 0, 1), edits::deleteRows(id, {0}), edits::moveColumn(id, computed, 1)})
        EXPECT_EQ(e.apply(d.p).error().code, "target-gone");
}
