// SPDX-License-Identifier: GPL-3.0-or-later
// A file read again: after it has grown, with other settings, with rows and columns gone.
#include "session/reimport.h"

#include "project/history.h"
#include "project/table_edits.h"
#include "session/column_kind.h"
#include "session/import.h"
#include "session/typed_cell.h"

#include <gmock/gmock.h>

using namespace jointer;
using testing::Contains;
using testing::ElementsAre;
using testing::HasSubstr;
using testing::IsEmpty;

namespace {

constexpr const char* kFile = "# pond\ntime,level,note\n0,10,a\n1,11,b\n2,12,c\n3,13,d\n";

struct Pond {
    Project p;
    explicit Pond(const std::string& text = kFile) {
        p = *importEdit(*io::read(text, "pond.csv", {}), {}, "pond").apply(newProject("x"));
        const Table& t = table();
        apply(edits::addComputedColumn(t.id, "double", "'" + t.columns[1].id.text() + "'*2"));
        apply(edits::excludeRows(p.datasets[0].id, {table().rows->id(1), table().rows->id(3)}, true));
        apply(edits::setRowKind(table().id, {table().rows->id(0)}, RowKind::Standard));
    }
    const Table& table() const { return p.tables[0]; }
    void apply(const Edit& edit) {
        auto after = edit.apply(p);
        ASSERT_TRUE(after) << after.error().text;
        p = *after;
    }
    Reimport plan(const std::string& text, const Settings& told = {}) {
        return *plannedReimport(p, table().id, io::read(text, "pond.csv", told)->tables[0].table, told);
    }
};

} // namespace

TEST(Reimport, NothingChangesWhereTheFileIsTheSame) {
    Pond d;
    const auto plan = d.plan(kFile);
    EXPECT_THAT(plan.changes, IsEmpty());
    EXPECT_THAT(plan.losses, IsEmpty());
    const Table before = d.table();
    d.apply(reimportEdit(plan));
    EXPECT_EQ(d.table().columns, before.columns);
    for (std::size_t row = 0; row < 4; ++row) EXPECT_EQ(d.table().rows->id(row), before.rows->id(row));
    EXPECT_EQ(d.table().rowKinds, before.rowKinds);
}

TEST(Reimport, AGrownFileKeepsWhatWasBuiltOnIt) {
    Pond d;
    const auto plan = d.plan(std::string(kFile) + "4,14,e\n5,15,f\n");
    EXPECT_THAT(plan.changes, ElementsAre("2 rows are new."));
    EXPECT_THAT(plan.losses, IsEmpty());
    d.apply(reimportEdit(plan));
    EXPECT_EQ(d.table().rowCount(), 6U);
    EXPECT_EQ(d.table().rows->id(4), 5U);
    EXPECT_EQ(d.table().columns.back().name, "double") << "the computed column is there";
    EXPECT_THAT(d.p.datasets[0].protocol[0].settings.numbers("rows"), ElementsAre(2, 4));
}

TEST(Reimport, RowsAreFoundAgainByXWhereLinesMoved) {
    Pond d;
    const auto plan = d.plan("# pond\n# one more line\ntime,level,note\n0,10,a\n1,11,b\n3,13.5,d\n");
    EXPECT_THAT(plan.changes, Contains("1 row is no longer there."));
    EXPECT_THAT(plan.changes, Contains(HasSubstr("level in row 3: 13 becomes 13.5")));
    d.apply(reimportEdit(plan));
    EXPECT_EQ(d.table().rows->id(2), 4U) << "time 3 is the fourth row still";
    EXPECT_EQ(d.table().rows->line(2), 6U);
}

TEST(Reimport, LossesAreToldFirst) {
    Pond d;
    const auto plan = d.plan("# pond\ntime,note\n2,c\n3,d\n");
    EXPECT_THAT(plan.losses, Contains(HasSubstr("“pond” loses its column “level”")));
    EXPECT_THAT(plan.losses, Contains(HasSubstr("“double” is computed from")));
    EXPECT_THAT(plan.losses, Contains("1 point of “pond” left out by hand is gone."));
    EXPECT_THAT(plan.losses, Contains(HasSubstr("1 row marked as standard")));
    d.apply(reimportEdit(plan));
    for (const RoleBinding& r : d.p.datasets[0].source.roles) EXPECT_TRUE(d.table().find(r.column));
}

TEST(Reimport, NamesRolesAndFormatsThatWereGivenStay) {
    Pond d;
    d.apply(edits::changeTable(d.table().id, "x", [](Table& t) {
        t.columns[1].name = "water level";
        t.columns[1].format = {NumberFormat::Style::Fixed, 2};
        t.columns[1].role = Role::YError;
    }));
    const auto plan = d.plan(kFile);
    EXPECT_THAT(plan.changes, IsEmpty()) << "found again by its place";
    EXPECT_EQ(plan.table.columns[1].name, "water level");
    EXPECT_EQ(plan.table.columns[1].role, Role::YError);
    EXPECT_EQ(plan.table.columns[1].format.digits, 2);
}

TEST(Reimport, ColumnsMadeByHandFollowTheirRows) {
    Pond d;
    const auto pasted = pastedCells(d.table(), 0, 4, "mine\n5\n6\n7\n8\n");
    d.apply(edits::changeCells(d.table().id, pasted.value.changes, "Paste", pasted.value.added));
    const auto plan = d.plan("# pond\ntime,level,note\n2,12,c\n0,10,a\n");
    EXPECT_EQ(plan.table.columns.back().name, "mine");
    EXPECT_THAT(plan.table.columns.back().numbers(), ElementsAre(7, 5));
}

TEST(Reimport, TextsThatCouldNotBeReadStayInColumnsMadeByHand) {
    Pond d;
    const auto pasted = pastedCells(d.table(), 0, 4, "mine\n5\n6.5\n7\n8\n");
    d.apply(edits::changeCells(d.table().id, pasted.value.changes, "Paste", pasted.value.added));
    d.apply(changeKind(d.table().id, d.table().columns.back().id, ColumnKind::WholeNumber));
    const auto plan = d.plan("# pond\ntime,level,note\n2,12,c\n1,11,b\n");
    const Cells& cells = *plan.table.columns.back().cells;
    EXPECT_EQ(cells.state(1), CellState::Unreadable);
    EXPECT_EQ(cells.originals.at(1), "6.5");
}

TEST(Reimport, OtherSettingsGiveOtherCells) {
    Pond d("time;level\n0;1,5\n1;2,5\n2;3,5\n3;4,5\n");
    Settings told;
    told.set("decimal", ".");
    const auto plan = d.plan("time;level\n0;1,5\n1;2,5\n2;3,5\n3;4,5\n", told);
    EXPECT_FALSE(plan.changes.empty());
    d.apply(reimportEdit(plan));
    EXPECT_THAT(d.table().origin.reading, HasSubstr("decimal"));
}

TEST(Reimport, AGoneTableIsRefused) {
    Pond d;
    const TableId id = d.table().id;
    const auto plan = d.plan(kFile);
    d.apply(edits::removeTable(id));
    EXPECT_FALSE(reimportEdit(plan).apply(d.p));
    EXPECT_FALSE(plannedReimport(d.p, id, plan.table, {}));
}
