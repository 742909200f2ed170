// SPDX-License-Identifier: GPL-3.0-or-later
// Headings that name more columns than the rows have: the names of those that are there are kept, and it is said.
#include "io/reader.h"

#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;

namespace {

struct Read {
    std::vector<std::string> names;
    std::string said;
    std::size_t rows = 0;
};

Read readOf(const std::string& text) {
    const auto read = io::read(text, "s.csv", {});
    Read out;
    if (!read || read->tables.empty()) return out;
    for (const Column& c : read->tables[0].table.columns) out.names.push_back(c.name);
    for (const Issue& i : read->issues) out.said += i.code + ": " + i.text + "\n";
    out.rows = read->tables[0].table.rowCount();
    return out;
}

} // namespace

TEST(SurplusHeadings, KeepTheNamesOfTheColumnsThatAreThere) {
    const std::vector<std::string> all = {"shift", "counts", "sd", "flag", "remark", "batch"};
    for (unsigned seed = 1; seed <= 200; ++seed) {
        std::mt19937 random(seed);
        const std::size_t columns = 2 + random() % 3, surplus = 1 + random() % 2;
        const char separator = ",;\t"[random() % 3];
        std::string text;
        for (std::size_t c = 0; c < columns + surplus; ++c) text += (c ? std::string(1, separator) : "") + all[c];
        text += '\n';
        const std::size_t rows = 5 + random() % 60;
        for (std::size_t r = 0; r < rows; ++r) {
            for (std::size_t c = 0; c < columns; ++c)
                text += fmt::format("{}{:.2f}", c ? std::string(1, separator) : "",
                                    static_cast<double>(random() % 100000) / 100);
            text += '\n';
        }
        const Read got = readOf(text);
        ASSERT_EQ(got.names, std::vector<std::string>(all.begin(), all.begin() + static_cast<long>(columns)))
            << seed << "\n" << text;
        EXPECT_EQ(got.rows, rows) << seed;
        EXPECT_THAT(got.said, testing::HasSubstr("ragged-rows: The heading names")) << seed;
        EXPECT_THAT(got.said, testing::HasSubstr(all[columns])) << seed;
    }
}

TEST(SurplusHeadings, ASentenceAboveIsNone) {
    for (const char* title : {"Pond chemistry, north pan, spring, 2031", "made by the logger, no names, see the book, p. 4",
                              "A, 1, 2, 3"}) {
        const Read got = readOf(std::string(title) + "\n1.5,2.5,3.5\n2.5,3.5,4.5\n3.5,4.5,6.5\n5,6,7\n");
        EXPECT_THAT(got.names, testing::ElementsAre("column 1", "column 2", "column 3")) << title;
        EXPECT_EQ(got.rows, 4U) << title;
    }
}
