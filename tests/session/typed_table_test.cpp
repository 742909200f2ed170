// SPDX-License-Identifier: GPL-3.0-or-later
// Tables typed by hand: a column takes the kind of its first cell, and rows are added as they are needed.
#include "session/typed_table.h"

#include "evaluate/evaluator.h"
#include "session/import.h"

#include <cmath>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;

namespace {

class TypedTable : public testing::Test {
protected:
    TypedTable() : p(newProject("x")) { apply(newTypedTable(p)); }

    const Table& table() const { return p.tables[0]; }
    const Column& column(std::size_t k) const { return table().columns[k]; }
    void apply(const Edit& edit) {
        auto after = edit.apply(p);
        ASSERT_TRUE(after) << after.error().text;
        p = std::move(*after);
    }
    void type(std::size_t k, std::size_t row, const std::string& words) {
        const auto edit = typeCell(table(), column(k).id, row, words);
        ASSERT_TRUE(edit) << edit.error().text;
        apply(*edit);
    }
    Project p;
};

} // namespace

TEST_F(TypedTable, BeginsWithXAndYAndADatasetOverThem) {
    ASSERT_EQ(p.tables.size(), 1U);
    ASSERT_EQ(p.datasets.size(), 1U);
    EXPECT_EQ(table().rowCount(), 0U);
    EXPECT_EQ(p.datasets[0].source.roles[0].column, column(0).id);
    EXPECT_EQ(p.datasets[0].source.roles[1].column, column(1).id);
    apply(newTypedTable(p));
    EXPECT_EQ(p.tables[1].name, "Table 2") << "a name that no other has";
}

TEST_F(TypedTable, CellsBeyondTheEndAddRows) {
    type(0, 2, "1.5");
    type(1, 0, "3,25");
    EXPECT_EQ(table().rowCount(), 3U);
    EXPECT_TRUE(std::isnan(column(0).numbers()[0]));
    EXPECT_EQ(column(0).numbers()[2], 1.5);
    EXPECT_EQ(column(1).numbers()[0], 3.25) << "a decimal comma";
    EXPECT_EQ(column(1).cells->state(1), CellState::Missing);
}

TEST_F(TypedTable, AnEmptyColumnTakesTheKindOfItsFirstCell) {
    type(0, 0, "2031-05-02 06:00");
    EXPECT_EQ(column(0).kind, ColumnKind::DateTime);
    type(0, 1, "2031-05-02 07:30");
    EXPECT_EQ(column(0).numbers()[1] - column(0).numbers()[0], 5400);
    EXPECT_FALSE(typeCell(table(), column(0).id, 2, "north")) << "it holds times now";
    type(1, 0, "12");
    EXPECT_TRUE(column(1).kind == ColumnKind::Number) << "whole ones too may be followed by others";
    type(1, 1, "12.5");
}

TEST_F(TypedTable, WordsAreCategoriesOfXOrLabelPoints) {
    type(0, 0, "Upper pan");
    type(0, 1, "Creek bend");
    type(1, 0, "3");
    type(1, 1, "4");
    EXPECT_EQ(column(0).kind, ColumnKind::Text);
    EXPECT_EQ(column(0).role, Role::X);
    evaluate::Evaluator evaluator;
    const auto curve = evaluator.measured(p, p.datasets[0].id);
    EXPECT_TRUE(curve.issues.empty());
    EXPECT_THAT(curve.value->xMeaning.categories, testing::ElementsAre("Upper pan", "Creek bend"));
    EXPECT_THAT(curve.value->y, testing::ElementsAre(3, 4));
    apply(newTypedTable(p));
    const Table& second = p.tables[1];
    apply(*typeCell(second, second.columns[1].id, 0, "windy"));
    EXPECT_EQ(p.tables[1].columns[1].role, Role::Label);
    const auto& roles = p.datasets[1].source.roles;
    EXPECT_THAT(roles, testing::Contains(testing::Field(&RoleBinding::role, Role::Label)));
    EXPECT_THAT(roles, testing::Not(testing::Contains(testing::Field(&RoleBinding::role, Role::Y))));
}

TEST_F(TypedTable, WhatDoesNotFitIsRefusedAndNothingIsLost) {
    type(1, 0, "4.5");
    const auto refused = typeCell(table(), column(1).id, 1, "much");
    ASSERT_FALSE(refused);
    EXPECT_THAT(refused.error().text, testing::HasSubstr("“much” is not a number"));
    type(1, 0, "");
    EXPECT_EQ(column(1).cells->state(0), CellState::Missing);
    type(1, 0, "deep"); // it holds nothing any more
    EXPECT_EQ(column(1).kind, ColumnKind::Text);
}

// Whatever is typed in whatever order: what the cell then holds is what was typed last, or it was refused.
TEST_F(TypedTable, AnyOrderOfTyping) {
    const std::vector<std::string> words = {"1", "2.5", "-3e2", "", "north", "yes", "2031-05-02", "06:30", "1,5", "NA", "µ"};
    for (unsigned seed = 0; seed < 300; ++seed) {
        std::mt19937 random(seed);
        p = newProject("x");
        apply(newTypedTable(p));
        for (int k = 0; k < 12; ++k) {
            const std::size_t c = random() % 2, row = random() % 6, rows = table().rowCount();
            const std::string& word = words[random() % words.size()];
            const auto edit = typeCell(table(), column(c).id, row, word);
            if (!edit) continue;
            const auto after = edit->apply(p);
            ASSERT_TRUE(after) << seed << " " << word;
            p = *after;
            ASSERT_EQ(table().rowCount(), std::max(rows, row + 1)) << seed;
            if (word.empty()) continue;
            if (!column(c).isNumeric()) {
                ASSERT_EQ(column(c).cells->texts[row], word) << seed;
            } else if (word != "NA") {
                ASSERT_TRUE(std::isfinite(column(c).numbers()[row])) << seed << " " << word;
            }
        }
    }
}

// Headings typed into the first row name the columns as soon as a number stands below one of them; all undone at once.
TEST_F(TypedTable, WordsAboveNumbersAreHeadings) {
    type(0, 0, "day");
    type(1, 0, "mass (g)");
    type(0, 1, "1");
    EXPECT_EQ(column(0).name, "day");
    EXPECT_EQ(column(1).name, "mass");
    EXPECT_EQ(column(1).unit, "g");
    EXPECT_EQ(column(1).role, Role::Y);
    EXPECT_EQ(table().rowCount(), 1U);
    EXPECT_EQ(column(0).numbers()[0], 1);
    type(1, 0, "10.2");
    type(0, 1, "2");
    type(1, 1, "12.1");
    EXPECT_EQ(column(1).numbers()[1], 12.1);
    evaluate::Evaluator e;
    const auto curve = e.measured(p, p.datasets[0].id).value;
    EXPECT_EQ(curve->x, (std::vector<double>{1, 2}));
    EXPECT_EQ(curve->y, (std::vector<double>{10.2, 12.1}));
    EXPECT_EQ(curve->yMeaning.unit, "g");
}

// Categories with numbers beside them stay what they are.
TEST_F(TypedTable, CategoriesAreNoHeadings) {
    type(0, 0, "north");
    type(1, 0, "3.5");
    type(0, 1, "south");
    type(1, 1, "4.1");
    EXPECT_EQ(column(0).name, "x");
    EXPECT_EQ(column(0).cells->texts[0], "north");
    EXPECT_EQ(table().rowCount(), 2U);
}
