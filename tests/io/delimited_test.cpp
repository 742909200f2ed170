// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/text.h"
#include "io/cell_text.h"
#include "io/moment_text.h"
#include "io/reader.h"
#include "io/writer.h"

#include <cmath>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::io;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

ReadResult readText(std::string_view text, const Settings& told = {}) {
    auto r = read(text, "test.csv", told);
    if (!r) throw std::runtime_error(r.error().text);
    return std::move(*r);
}

// The table as one line for comparison: names [unit] and cells.
std::string shown(const ReadResult& r) {
    std::string out;
    for (const Column& c : r.tables[0].table.columns) {
        out += c.name + (c.unit.empty() ? "" : "[" + c.unit + "]") + ":";
        for (std::size_t i = 0; i < c.cells->size(); ++i) out += (i ? "," : "") + fileText(c, i);
        out += " ";
    }
    return out;
}

struct Case {
    const char* what;
    const char* text;
    const char* expected;
};

} // namespace

TEST(Delimited, ReadsTheUsualDialects) {
    const Case all[] = {
        {"plain", "a,b\n1,2\n3,4\n", "a:1,3 b:2,4 "},
        {"semicolon and decimal comma", "x;y\n1,5;2\n2,5;3,25\n", "x:1.5,2.5 y:2,3.25 "},
        {"tabs with CRLF", "x\ty\r\n1\t2\r\n3\t4\r\n", "x:1,3 y:2,4 "},
        {"runs of blanks", "  x    y\n 1.0  2.0\n 10.0 20.0\n", "x:1,10 y:2,20 "},
        {"no heading", "1,2\n3,4\n5,6\n", "column 1:1,3,5 column 2:2,4,6 "},
        {"units line", "depth,mass\ncm,g\n1,2\n3,4\n", "depth[cm]:1,3 mass[g]:2,4 "},
        {"units in names", "Depth (cm),Mass [g],Time / s\n1,2,3\n4,5,6\n",
         "Depth[cm]:1,4 Mass[g]:2,5 Time[s]:3,6 "},
        {"preamble and comment",
         "Tern Sands\nSample: shell 28 d; Site: A\n# dark counts taken "
         "off\nshift;counts;sd;note\ncm-1;;;\n640,0;1045;30;\n640,4;-----;31;saturated\n640,8;1079;32;\n",
         "shift[cm-1]:640,640.4,640.8 counts:1045,,1079 sd:30,31,32 note:,saturated, "},
        {"heading in a comment", "# x y\n1 2\n3 4\n", "x:1,3 y:2,4 "},
        {"bars", "a|b\n1|2\n3|4\n", "a:1,3 b:2,4 "},
        {"missing markers", "a,b\n1,NA\n,3\nn/a,4\n5,-\n", "a:1,,,5 b:,3,4, "},
        {"quotes", "a,\"b, \"\"c\"\"\"\n1,\"x, y\"\n2,\"line\nbreak\"\n3,z\n",
         "a:1,2,3 b, \"c\":x, y,line\nbreak,z "},
        {"line breaks in the first row", "n,\"words, quoted\"\n1,\"w,a\n\n;z\"\n2,b\n",
         "n:1,2 words, quoted:w,a\n\n;z,b "},
        {"inch marks", "pipe,mass\n5\" tube,1\n6\" tube,2\n7 tube,3\n",
         "pipe:5\" tube,6\" tube,7 tube mass:1,2,3 "},
        {"a stray quote", "a,b\n1,\"x\n2,y\n3,z\n", "a:1,2,3 b:\"x,y,z "},
        {"numbers of all spellings", "a\n+1\n-.5\n1.\n1e3\n2D2\n−3\n", "a:1,-0.5,1,1000,200,-3 "},
        {"trailing separators", "a;b;\n1;2;\n3;4;\n", "a:1,3 b:2,4 "},
        {"limits", "c\n0.1\n<0.05\n0.2\n>100\n", "c:0.1,<0.05,0.2,>100 "},
        {"ISO times", "t,v\n2031-05-02T06:00:00Z,1\n2031-05-02T06:15:00Z,2\n",
         "t:2031-05-02T06:00:00Z,2031-05-02T06:15:00Z v:1,2 "},
        {"dates", "t,v\n2031-05-02,1\n2031-05-03,2\n", "t:2031-05-02,2031-05-03 v:1,2 "},
        {"old line ends", "a,b\r1,2\r3,4\r", "a:1,3 b:2,4 "},
        {"one column", "value\n1.5\n2.5\n", "value:1.5,2.5 "},
        {"one column with comma", "value\n1,5\n2,5\n", "value:1.5,2.5 "},
        {"words only", "name,site\nmussel,A\noyster,B\n", "name:mussel,oyster site:A,B "},
        {"words late", "a,b\n1,x\n2,y\n3,7\n", "a:1,2,3 b:x,y,7 "},
        {"blank lines between", "a,b\n\n1,2\n\n3,4\n\n", "a:1,3 b:2,4 "},
        {"same names", "x,y,y\n1,2,3\n4,5,6\n", "x:1,4 y:2,5 y 2:3,6 "},
    };
    for (const Case& c : all) EXPECT_EQ(shown(readText(c.text)), c.expected) << c.what;
}

TEST(Delimited, KeepsFactsOfThePreamble) {
    const auto r = readText("Tern Sands field station\nSample: shell 28 d; Site: A\nInstrument = layer "
                            "scanner 2\nx,y\n1,2\n2,3\n");
    EXPECT_THAT(r.metadata, ElementsAre(std::pair("Sample", "shell 28 d"), std::pair("Site", "A"),
                                        std::pair("Instrument", "layer scanner 2")));
    EXPECT_EQ(r.tables[0].headingLine, 4);
    EXPECT_EQ(r.tables[0].firstDataLine, 5);
    EXPECT_EQ(r.tables[0].table.rows->line(1), 6U);
}

TEST(Delimited, SaysWhatItCouldNotReadAndWhere) {
    const auto r = readText("x;counts\n1;1045\n2;-----\n3;99\n");
    ASSERT_EQ(r.issues.size(), 1U);
    EXPECT_EQ(r.issues[0].code, "unparsed-cells");
    EXPECT_EQ(r.issues[0].place.line, 3);
    EXPECT_EQ(r.issues[0].place.column, "counts");
    EXPECT_EQ(r.tables[0].table.columns[1].cells->state(1), CellState::Unreadable);
    EXPECT_EQ(r.lineKinds[2], LineKind::Unread);

    EXPECT_EQ(readText("a,b\n1,2\n3\n4,5\n").issues[0].code, "ragged-rows");
    EXPECT_EQ(readText("a,b\n1,2\n3,4\n5").issues[0].code, "truncated-last-line");
    EXPECT_EQ(readText("a,a\n1,2\n3,4\n").issues[0].code, "duplicate-names");
    EXPECT_EQ(read("", "x", {}).error().code, "empty-file");
    EXPECT_EQ(read("\n \n", "x", {}).error().code, "empty-file");
    std::string binary;
    for (int i = 0; i < 1000; ++i) binary += static_cast<char>(i * 7 % 256);
    EXPECT_EQ(read(binary, "x", {}).error().code, "not-text");
}

TEST(Delimited, TakesWhatItIsTold) {
    Settings told;
    told.set("separator", ",");
    told.set("decimal", ".");
    EXPECT_EQ(shown(readText("value\n1,5\n2,5\n", told)), "value:1,2 column 2:5,5 ");
    Settings heading;
    heading.set("heading", 0);
    heading.set("first", 2);
    EXPECT_EQ(shown(readText("a,b\n1,2\n3,4\n", heading)), "column 1:1,3 column 2:2,4 ");
    Settings missing;
    missing.set("missing", "-999, x");
    EXPECT_EQ(shown(readText("a\n1\n-999\nx\n", missing)), "a:1,, ");
    Settings line;
    line.set("heading", 2);
    EXPECT_EQ(shown(readText("one,two\na,b\n1,2\n3,4\n", line)), "a:1,3 b:2,4 ");
}

TEST(Delimited, AllEncodings) {
    const std::string text = "Länge (µm),b\n1,2\n3,4\n";
    auto wide = [&](bool big, bool mark) {
        std::string out = mark ? (big ? "\xFE\xFF" : "\xFF\xFE") : "";
        for (char32_t c : decodeUtf8(text)) {
            const char high = static_cast<char>(c >> 8), low = static_cast<char>(c & 0xFF);
            out += big ? high : low;
            out += big ? low : high;
        }
        return out;
    };
    std::string latin;
    for (char32_t c : decodeUtf8(text)) latin += static_cast<char>(c);
    const std::pair<std::string, const char*> all[] = {{text, "utf-8"},
                                                       {"\xEF\xBB\xBF" + text, "utf-8-bom"},
                                                       {wide(false, true), "utf-16le"},
                                                       {wide(true, true), "utf-16be"},
                                                       {wide(false, false), "utf-16le"},
                                                       {wide(true, false), "utf-16be"},
                                                       {latin, "iso-8859-1"},
                                                       {latin + "5,6\x80\n", "windows-1252"}};
    for (const auto& [bytes, encoding] : all) {
        const auto r = readText(bytes);
        EXPECT_EQ(r.encoding, encoding);
        EXPECT_EQ(r.tables[0].table.columns[0].name, "Länge") << encoding;
        EXPECT_EQ(r.tables[0].table.columns[0].unit, "µm") << encoding;
    }
}

TEST(Delimited, NumbersAreCorrectlyRounded) {
    std::mt19937_64 random(11);
    std::string text = "v\n";
    std::vector<std::string> spelled;
    for (int i = 0; i < 50000; ++i) {
        double v = std::bit_cast<double>(random());
        if (!std::isfinite(v)) continue;
        if (i % 3 == 0) v = static_cast<double>(static_cast<std::int64_t>(random() % 2000000)) / 1000;
        spelled.push_back(i % 2 ? fmt::format("{:.17g}", v) : fmt::format("{:.6g}", v));
        text += spelled.back() + "\n";
    }
    const auto r = readText(text);
    const auto values = r.tables[0].table.columns[0].numbers();
    ASSERT_EQ(values.size(), spelled.size());
    for (std::size_t i = 0; i < spelled.size(); ++i)
        ASSERT_EQ(std::bit_cast<std::uint64_t>(values[i]),
                  std::bit_cast<std::uint64_t>(std::strtod(spelled[i].c_str(), nullptr)))
            << spelled[i];
}

TEST(Delimited, LargeFilesInChunksKeepTheirOrderAndLines) {
    std::string text = "i,twice,word\n";
    for (int i = 0; i < 400000; ++i)
        text += fmt::format("{},{},\"w {}\"\n{}", i, 2 * i, i % 7, i % 1000 == 999 ? "# a comment\n" : "");
    const auto r = readText(text);
    const Table& t = r.tables[0].table;
    ASSERT_EQ(t.rowCount(), 400000U);
    for (std::size_t i = 0; i < 400000; i += 311) {
        ASSERT_EQ(t.columns[0].numbers()[i], static_cast<double>(i));
        ASSERT_EQ(t.columns[1].numbers()[i], 2.0 * static_cast<double>(i));
        ASSERT_EQ(t.columns[2].cells->texts[i], fmt::format("w {}", i % 7));
        ASSERT_EQ(t.rows->line(i), i + 2 + i / 1000);
    }
}

TEST(Delimited, CsvReadsBackEqual) {
    const auto first = readText("t,v,w\n2031-05-02,0.1,\"a, b\"\n2031-05-03,NA,c\n2031-05-04,<0.05,\"\"\n");
    const auto again = readText(toCsv(first.tables[0].table));
    EXPECT_EQ(shown(again), shown(first));
}

TEST(CellText, Times) {
    EXPECT_EQ(isoMoment("1970-01-02")->seconds, 86400);
    EXPECT_EQ(isoMoment("1970-01-01T00:00:01.5")->seconds, 1.5);
    EXPECT_EQ(isoMoment("1970-01-01 02:00+02:00")->seconds, 0);
    EXPECT_EQ(isoMoment("06:30")->kind, ColumnKind::TimeOfDay);
    for (const char* bad : {"1970-13-01", "1970-02-30", "1970-01-01T25:00", "06:61", "1970-01-01Tx",
                            "19700101", "1970-01-01T00:00+"})
        EXPECT_FALSE(isoMoment(bad)) << bad;
}
