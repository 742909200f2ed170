// SPDX-License-Identifier: GPL-3.0-or-later
// Columns read anew as another kind: what fits is taken, what does not keeps its text.
#include "session/column_kind.h"

#include "session/table_search.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using testing::HasSubstr;

namespace {

std::vector<std::string> shown(const Column& c) {
    std::vector<std::string> out;
    for (std::size_t i = 0; i < c.cells->size(); ++i) out.push_back(plainCellText(c, i));
    return out;
}

} // namespace

TEST(ColumnKind, WordsBecomeNumbersAndComeBack) {
    const Column words = textColumn("depth", {"1.5", "two", "", "3"});
    const auto numbers = columnAsKind(words, ColumnKind::Number);
    EXPECT_EQ(shown(numbers.value), (std::vector<std::string>{"1.5", "–", "–", "3"}));
    ASSERT_EQ(numbers.issues.size(), 1U);
    EXPECT_THAT(numbers.issues[0].text, HasSubstr("“two” in row 2"));
    const auto back = columnAsKind(numbers.value, ColumnKind::Text);
    EXPECT_EQ(back.value.cells->texts, words.cells->texts) << "nothing was lost";
}

TEST(ColumnKind, DatesByTheEvidenceOfTheColumn) {
    const auto dates = columnAsKind(textColumn("day", {"02/05/2031", "25/05/2031"}), ColumnKind::Date);
    EXPECT_EQ(shown(dates.value), (std::vector<std::string>{"2031-05-02", "2031-05-25"}));
    const auto seconds = columnAsKind(dates.value, ColumnKind::Number);
    EXPECT_EQ(seconds.value.numbers()[0], 1935446400);
    EXPECT_EQ(shown(columnAsKind(seconds.value, ColumnKind::DateTime).value)[0], "2031-05-02T00:00:00");
}

TEST(ColumnKind, NumbersThatAreNotWholeKeepTheirText) {
    const auto whole = columnAsKind(numberColumn("n", "", {1, 2.5, std::nan("")}), ColumnKind::WholeNumber);
    EXPECT_EQ(whole.value.cells->state(1), CellState::Unreadable);
    EXPECT_EQ(whole.value.cells->originals.at(1), "2.5");
    EXPECT_EQ(whole.value.cells->state(2), CellState::Missing);
    const auto back = columnAsKind(whole.value, ColumnKind::Number);
    EXPECT_EQ(back.value.numbers()[1], 2.5);
    EXPECT_TRUE(back.issues.empty());
}

TEST(ColumnKind, EveryKindTakesEmptyAndMissingColumns) {
    for (int from = 0; from <= static_cast<int>(ColumnKind::Boolean); ++from)
        for (int to = 0; to <= static_cast<int>(ColumnKind::Boolean); ++to) {
            const auto kind = static_cast<ColumnKind>(from);
            const bool words = kind == ColumnKind::Text || kind == ColumnKind::Category;
            for (std::size_t n : {0U, 3U}) {
                Column c = words ? textColumn("c", std::vector<std::string>(n))
                                 : numberColumn("c", "", std::vector<double>(n, std::nan("")));
                c.kind = kind;
                const auto made = columnAsKind(c, static_cast<ColumnKind>(to));
                EXPECT_EQ(made.value.cells->size(), n);
                EXPECT_TRUE(made.issues.empty());
            }
        }
}

TEST(TableSearch, FindsTextsNumbersAndGaps) {
    Table t;
    t.columns = {numberColumn("x", "", {1, 20, 3}), textColumn("site", {"North pan", "South", ""})};
    auto find = [&](const char* wanted, CellPlace from = {2, 1}, bool forward = true) {
        return findCell(t, wanted, from, forward).value_or(CellPlace{99, 99});
    };
    EXPECT_EQ(find("north"), (CellPlace{0, 1})) << "either case, and round the end";
    EXPECT_EQ(find("> 2", {1, 0}), (CellPlace{2, 0}));
    EXPECT_EQ(find(">= 20"), (CellPlace{1, 0}));
    EXPECT_EQ(find("= 3", {0, 0}, false), (CellPlace{2, 0}));
    EXPECT_EQ(find("missing", {0, 0}), (CellPlace{2, 1}));
    EXPECT_FALSE(findCell(t, "east", {0, 0}, true));
    EXPECT_FALSE(findCell(Table{}, "x", {0, 0}, true));
    EXPECT_EQ(find("th", {0, 1}), (CellPlace{1, 1})) << "the next one, not the same";
}
