// SPDX-License-Identifier: GPL-3.0-or-later
// Any bytes give a table or a clear error: files of every dialect, cut, turned and mixed with a fixed seed.
#include "io/cell_text.h"
#include "io/moment_text.h"
#include "io/reader.h"
#include "io/writer.h"

#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::io;

namespace {

const std::vector<std::string>& seeds() {
    static const std::vector<std::string> all = {
        "Tern Sands\nSample: shell 28 d; Site: "
        "A\nshift;counts;sd;note\ncm-1;;;\n640,0;1045;30;\n640,4;-----;31;saturated\n",
        "a,b,c\n1,2,3\n4,5,6\n7,8,9\n",
        "# x\ty\n1e-3\t<0.05\n2D2\t>100\nNA\t−3\n",
        "t,\"v, \"\"w\"\"\"\n2031-05-02T06:00:00Z,\"1\n2\"\n2031-05-02 06:15,2\n",
        "   1.0   2.0\n  10.0  20.0\n",
        "name|site\nmussel|A\noyster|B\n",
        std::string("\xFF\xFE"
                    "a\0,\0b\0\n\0"
                    "1\0,\0"
                    "2\0\n\0",
                    18),
        "\xEF\xBB\xBF"
        "x;y\r\n1,5;2,5\r\n3,5;4,5\r\n\x1A",
        "d\xE9pth,temp\xB0\n1,2\n3,4\n"};
    return all;
}

std::string mutated(std::mt19937& random) {
    std::string text = seeds()[random() % seeds().size()];
    const std::string odd = ",;\t |\"\n\r#.-+eE0123456789<>\xFF\0\xC3\x80 NA";
    for (unsigned k = 0, n = random() % 12; k < n; ++k) {
        const std::size_t at = text.empty() ? 0 : random() % text.size();
        switch (random() % 6) {
        case 0:
            text.insert(at, 1, odd[random() % odd.size()]);
            break;
        case 1:
            if (!text.empty()) text[at] = static_cast<char>(random());
            break;
        case 2:
            text.erase(at, 1 + random() % 8);
            break;
        case 3:
            text += text.substr(at);
            break;
        case 4:
            text.insert(at, std::string(random() % 40, odd[random() % odd.size()]));
            break;
        default:
            text.resize(at);
        }
    }
    return text;
}

void expectSound(const ReadResult& r, const std::string& text) {
    ASSERT_FALSE(r.tables.empty()) << testing::PrintToString(text);
    const Table& t = r.tables[0].table;
    for (const Column& c : t.columns) {
        ASSERT_EQ(c.cells->size(), t.rowCount()) << testing::PrintToString(text);
        ASSERT_FALSE(c.name.empty());
        ASSERT_TRUE(c.cells->states.empty() || c.cells->states.size() == c.cells->size());
        for (const auto& [row, original] : c.cells->originals) ASSERT_LT(row, c.cells->size());
    }
    for (const Issue& issue : r.issues) {
        ASSERT_FALSE(issue.code.empty());
        ASSERT_FALSE(issue.text.empty());
        ASSERT_GE(issue.place.line, 0);
    }
}

} // namespace

TEST(Robust, AnyBytesGiveATableOrAClearError) {
    std::mt19937 random(20310502);
    int tables = 0, errors = 0;
    for (int k = 0; k < 6000; ++k) {
        const std::string text = mutated(random);
        const auto r = read(text, "t.txt", {});
        if (r) {
            ++tables;
            expectSound(*r, text);
            if (HasFatalFailure()) return;
        } else {
            ++errors;
            ASSERT_FALSE(r.error().text.empty()) << testing::PrintToString(text);
        }
    }
    EXPECT_GT(tables, 3000);
    EXPECT_GT(errors, 50);
}

TEST(Robust, WhateverTheReaderIsTold) {
    std::mt19937 random(7);
    for (int k = 0; k < 3000; ++k) {
        Settings told;
        if (random() % 2) told.set("separator", std::vector{",", ";", "tab", "space", "|"}[random() % 5]);
        if (random() % 2) told.set("decimal", random() % 2 ? "." : ",");
        if (random() % 2) told.set("heading", static_cast<int>(random() % 7));
        if (random() % 2) told.set("units", static_cast<int>(random() % 7));
        if (random() % 2) told.set("first", static_cast<int>(1 + random() % 9));
        if (random() % 3 == 0) told.set("comment", "#");
        if (random() % 3 == 0) told.set("missing", "-999,x");
        if (random() % 4 == 0)
            told.set("encoding", std::vector{"utf-8", "utf-16le", "utf-16be", "windows-1252",
                                             "iso-8859-1"}[random() % 5]);
        const std::string text = mutated(random);
        const auto r = read(text, "t.txt", told);
        if (r) expectSound(*r, text);
        if (HasFatalFailure()) return;
    }
}

// What was written is read back equal, also where cells hold separators, quotes and line breaks.
TEST(Robust, WrittenTablesReadBackEqual) {
    std::mt19937_64 random(11);
    const std::string letters = "ab,\"\n;\t é";
    for (int k = 0; k < 200; ++k) {
        Table t;
        std::vector<double> numbers;
        std::vector<std::string> words;
        for (int i = 0; i < 12; ++i) {
            numbers.push_back(
                std::ldexp(static_cast<double>(random() % 1000000), static_cast<int>(random() % 80) - 40));
            std::string word = "w";
            for (unsigned j = 0, n = random() % 6; j < n; ++j) word += letters[random() % 6];
            words.push_back(word + "z");
        }
        t.columns = {numberColumn("n", "", numbers), textColumn("words, quoted", words)};
        const auto back = read(toCsv(t), "t.csv", {});
        ASSERT_TRUE(back);
        const Table& u = back->tables[0].table;
        ASSERT_EQ(u.columns.size(), 2U) << toCsv(t);
        EXPECT_TRUE(*u.columns[0].cells == *t.columns[0].cells) << toCsv(t);
        EXPECT_EQ(u.columns[1].cells->texts, words) << toCsv(t);
        EXPECT_EQ(u.columns[1].name, "words, quoted");
    }
}

TEST(CellText, MissingLimitsAndNumbers) {
    for (const char* missing : {"", "NA", "n/a", "NaN", "-", "--"})
        EXPECT_TRUE(isMissing(missing, {})) << missing;
    for (const char* there : {"0", "x", "-1", "nano"}) EXPECT_FALSE(isMissing(there, {})) << there;
    EXPECT_TRUE(isMissing("-999", {"-999"}));
    const auto limit = limitOf("< 0.05", '.');
    ASSERT_TRUE(limit);
    EXPECT_EQ(limit->value, 0.05);
    EXPECT_EQ(limit->side, CellState::Below);
    EXPECT_EQ(limitOf(">1,5", ',')->side, CellState::Above);
    EXPECT_FALSE(limitOf("<", '.'));
    EXPECT_FALSE(limitOf("0.05", '.'));
    EXPECT_EQ(numberOf("1.5D3", '.'), 1500);
    EXPECT_FALSE(numberOf("1.5.2", '.'));
    EXPECT_FALSE(isoMoment("2031-13-01"));
    EXPECT_FALSE(isoMoment("2031-02-30"));
    EXPECT_EQ(isoMoment("1970-01-01T00:00:01Z")->seconds, 1);
    EXPECT_EQ(isoMoment("1970-01-01T01:00:00+01:00")->seconds, 0);
    EXPECT_EQ(isoMoment("06:30")->kind, ColumnKind::TimeOfDay);
}
