// SPDX-License-Identifier: GPL-3.0-or-later
// Columns that are named otherwise than by a line of headings; files that end within a cell; infinities.
#include "io/declared_columns.h"
#include "io/reader.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::io;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

ReadResult readText(std::string_view text, const char* name = "made.txt", const Settings& told = {}) {
    auto r = read(text, name, told);
    EXPECT_TRUE(r) << text;
    return r ? *r : ReadResult{.tables = {ReadTable{}}};
}

// "time [s] | flux [mJy]"
std::string headingsOf(const Table& t) {
    std::string out;
    for (const Column& c : t.columns)
        out += (out.empty() ? "" : " | ") + c.name + (c.unit.empty() ? "" : " [" + c.unit + "]");
    return out;
}

std::vector<std::string> codesOf(const ReadResult& r) {
    std::vector<std::string> out;
    for (const Issue& i : r.issues) out.push_back(i.code);
    return out;
}

} // namespace

TEST(Declared, HeadingsInComments) {
    const struct {
        const char *text, *headings;
    } all[] = {
        {"# run 7\n# columns: time, depth [cm], flux (mg/L)\n# by hand\n1 2 3\n2 3 4\n",
         "time | depth [cm] | flux [mg/L]"},
        {"# columns: time (s), wet mass, dry mass, depth\n1\t2\t3\t4\t\n2\t3\t4\t5\t\n",
         "time [s] | wet mass | dry mass | depth"},
        {"# columns: Growth rate [mm/d]\n0.5\n0.75\n", "Growth rate [mm/d]"},
        {"All values were checked twice\n# columns: a, b, c, d, e\n1 2 3 4 5\n2 3 4 5 6\n",
         "a | b | c | d | e"},
        {"% Fields = time depth flux\n1,2,3\n2,3,4\n", "time | depth | flux"},
        {"# names: ['time', 'depth']\n1\t2\n2\t3\n", "time | depth"},
        {"Column names: time; mass (mg)\n\n1;2,5\n2;3,5\n", "time | mass [mg]"},
        {"# 1 TIME Time since start [s]\n# 2 FLUX Flux of the line [mJy]\n1 2\n2 3\n",
         "TIME [s] | FLUX [mJy]"},
        {"# 1. time (s)\n# 2. oxygen (mg/L)\n1,2\n2,3\n", "time [s] | oxygen [mg/L]"},
        {"# Column 0: time - since the start (s)\n# Column 1: flux\n1 2\n2 3\n", "time [s] | flux"},
        {"# col1 = time [s]\n# col2 = flux\n1 2\n2 3\n", "time [s] | flux"},
        {"# Columns:\n#   time [s]\n#   flux [mJy]\n\n1 2\n2 3\n", "time [s] | flux [mJy]"},
        // A line of headings keeps its names and gets the units that it lacks.
        {"# col1 = time [s]\n# col2 = the flux [mJy]\nt,y\n1,2\n2,3\n", "t [s] | y [mJy]"},
        // Another number of columns, or of descriptions, declares nothing.
        {"# columns: time, flux\n1 2 3\n2 3 4\n", "column 1 | column 2 | column 3"},
        {"# 1 time\n# 2 flux\n# 3 mass\n1 2\n2 3\n", "column 1 | column 2"},
        {"# 12 pans were sampled\n# 13 samples were lost\n1 2\n2 3\n", "column 1 | column 2"},
    };
    for (const auto& c : all) EXPECT_EQ(headingsOf(readText(c.text).tables[0].table), c.headings) << c.text;
}

TEST(Declared, DescriptionsAreCutIntoNameUnitAndRemark) {
    const struct {
        const char *text, *name, *unit, *remark;
    } all[] = {{"FLUX Flux of the line [mJy]", "FLUX", "mJy", "Flux of the line"},
               {"FLUX (mJy) Flux of the line", "FLUX", "mJy", "Flux of the line"},
               {"dry_mass weighed twice", "dry_mass", "", "weighed twice"},
               {"time (s): since the start", "time", "s", "since the start"},
               {"time - since the start [s]", "time", "s", "since the start"},
               {"Dissolved oxygen (mg/L)", "Dissolved oxygen", "mg/L", ""},
               {"x", "x", "", ""},
               {"", "", "", ""}};
    for (const auto& c : all) {
        const DeclaredColumn d = describedColumn(c.text);
        EXPECT_EQ(d.name, c.name) << c.text;
        EXPECT_EQ(d.unit, c.unit) << c.text;
        EXPECT_EQ(d.remark, c.remark) << c.text;
    }
}

TEST(Declared, TheLineCanBeToldAsHeadings) {
    Settings told;
    told.set("heading", 2);
    const ReadResult r = readText("# run 7\n# columns: time, flux (mJy)\n1 2\n2 3\n", "a.txt", told);
    EXPECT_EQ(headingsOf(r.tables[0].table), "time | flux [mJy]");
    EXPECT_EQ(r.tables[0].headingLine, 2);
    EXPECT_EQ(r.lineKinds[1], LineKind::Heading);
}

TEST(Headers, OfTypedText) {
    const ReadResult r = readText("# %ECSV 1.0\n# ---\n# datatype:\n"
                                  "# - {name: site, datatype: string, description: Code of the pan}\n"
                                  "# - {name: depth, unit: cm, datatype: float64}\n"
                                  "# - {name: ok, datatype: bool}\n"
                                  "# meta: !!omap\n# - {observer: T. Sands}\n# schema: made-up\n"
                                  "site depth ok\n001 1.5 True\n002 \"\" False\n");
    EXPECT_EQ(r.format, "ecsv");
    const ReadTable& t = r.tables[0];
    EXPECT_EQ(headingsOf(t.table), "site | depth [cm] | ok");
    EXPECT_EQ(t.table.columns[0].kind, ColumnKind::Text) << "declared to be texts";
    EXPECT_EQ(t.table.columns[0].cells->texts[0], "001");
    EXPECT_EQ(t.table.columns[0].comment, "Code of the pan");
    EXPECT_EQ(t.table.columns[1].numbers()[0], 1.5);
    EXPECT_TRUE(std::isnan(t.table.columns[1].numbers()[1]));
    EXPECT_EQ(t.table.columns[2].kind, ColumnKind::Boolean);
    EXPECT_EQ(t.headingLine, 10);
    EXPECT_EQ(t.firstDataLine, 11);
    EXPECT_THAT(r.metadata, testing::Contains(testing::Pair("observer", "T. Sands")));
    EXPECT_THAT(codesOf(r), ElementsAre());
}

TEST(Headers, BetweenDashes) {
    for (const char* mark : {"", "#", "# "}) {
        std::string text;
        for (const char* line : {"---", "title: North pans", "fields:", "  - name: when", "    type: date",
                                 "  - {name: mass, unit: mg, description: Dry mass}", "---"})
            text += std::string(mark) + line + "\n";
        const ReadResult r = readText(text + "when;mass\n2031-05-01;1,5\n2031-05-02;2,5\n");
        EXPECT_EQ(r.format, "csvy") << text;
        EXPECT_EQ(headingsOf(r.tables[0].table), "when | mass [mg]");
        EXPECT_EQ(r.tables[0].table.columns[0].kind, ColumnKind::Date);
        EXPECT_EQ(r.tables[0].table.columns[1].numbers()[1], 2.5);
        EXPECT_EQ(r.tables[0].headingLine, 8);
        EXPECT_THAT(r.metadata, ElementsAre(testing::Pair("title", "North pans")));
    }
}

TEST(Headers, ThatCannotBeReadLeaveTheTable) {
    const ReadResult r = readText("# %ECSV 1.0\n# ---\n# datatype: [{name: a\n# - }\na b\n1 2\n3 4\n");
    EXPECT_EQ(headingsOf(r.tables[0].table), "a | b");
    EXPECT_THAT(codesOf(r), ElementsAre("yaml"));
    EXPECT_FALSE(read("# %ECSV 1.0\n# ---\n", "empty.ecsv", {}));
}

TEST(CutCells, AreMissingWhenTheFileEndsWithinThem) {
    const struct {
        const char *text, *left; // of the last cell; empty: it is whole
    } all[] = {{"t,d\n1,2031-05-01\n2,2031-05-12\n3,2031-05-1", "2031-05-1"},
               {"t;d\n1;01.05.2031\n2;02.05.2031\n3;04.05.20", "04.05.20"},
               {"t,d\n1,10:20:30\n2,10:30:30\n3,10:40", "10:40"},
               {"t,d\n1,2031-05-01T10:20\n2,2031-05-12T11:20\n3,2031-05-12T12", "2031-05-12T12"},
               {"t,y\n1,1.250\n2,1.750\n3,2.125\n4,2.500\n5,3.125\n6,3.5", "3.5"},
               {"t,d\n1,2031-05-01\n2,2031-05-12\n3,2031-05-13", ""},
               {"t,d\n1,1.5.2031\n2,12.5.2031\n3,3.5.2031", ""},
               {"t,y\n1,1.25\n2,1.7\n3,2.125\n4,2.5\n5,3.125\n6,3.5", ""},
               {"t,y\n1,100\n2,110\n3,120\n4,130\n5,140\n6,15", ""},
               {"t,y\n1,1.250\n2,1.750\n3,2.5", ""},
               {"t,d\n1,2031-05-01\n2,2031-05-12\n3,NA", ""},
               {"t,d\n1,2031-05-01\n2,2031-05-12\n3,2031-05-1\n", ""}};
    for (const auto& c : all) {
        const ReadResult r = readText(c.text, "a.csv");
        const Column& last = r.tables[0].table.columns[1];
        if (*c.left == 0) {
            EXPECT_THAT(codesOf(r), testing::Not(testing::Contains("truncated-last-line"))) << c.text;
            continue;
        }
        ASSERT_FALSE(r.issues.empty()) << c.text;
        EXPECT_EQ(r.issues[0].code, "truncated-last-line") << c.text;
        EXPECT_THAT(r.issues[0].text, HasSubstr("“" + std::string(c.left) + "”"));
        EXPECT_TRUE(last.isNumeric() && std::isnan(last.numbers().back())) << c.text;
        EXPECT_FALSE(std::isnan(last.numbers().front())) << c.text;
    }
}

// Each offer leads to another reading, in which it is not made again.
TEST(Alternatives, AreOfferedAndLeadThere) {
    const struct {
        const char *text, *code, *words;
    } all[] = {{"5,5\n6,5\n7,25\n", "ambiguous-decimal", "one column, decimal comma"},
               {"d,v\n01/02/2031,1\n03/02/2031,2\n05/02/2031,5\n", "ambiguous-date-order",
                "dates as month, day, year"},
               {"a;b\n1,234;x\n5,678;y\n", "ambiguous-decimal", "decimal point"},
               {",1,2,3\nA,1,2,3\nB,2,3,4\n", "plate", "a table as it stands"}};
    for (const auto& c : all) {
        const ReadResult r = readText(c.text, "a.csv");
        EXPECT_THAT(codesOf(r), testing::Contains(c.code)) << c.text;
        ASSERT_EQ(r.alternatives.size(), 1U) << c.text;
        EXPECT_EQ(r.alternatives[0].words, c.words);
        const ReadResult other = readText(c.text, "a.csv", r.alternatives[0].told);
        EXPECT_THAT(codesOf(other), testing::Not(testing::Contains(c.code))) << c.text;
        EXPECT_FALSE(other.tables[0].table == r.tables[0].table) << c.text;
    }
}

TEST(Infinities, AreNumbers) {
    for (const char* text : {"a,b\n1,inf\n2,-inf\n3,4.5\n", "a b\n1 Infinity\n2 -INF\n3 4.5\n",
                             "a;b\n1,5;∞\n2,5;−∞\n3,5;4,5\n", "a\tb\n1\t1.#INF\n2\t-1.#INF\n3\t4.5\n"}) {
        const ReadResult r = readText(text);
        const Column& b = r.tables[0].table.columns[1];
        ASSERT_EQ(b.kind, ColumnKind::Number) << text;
        EXPECT_THAT(std::vector<double>(b.numbers().begin(), b.numbers().end()),
                    ElementsAre(INFINITY, -INFINITY, 4.5))
            << text;
        EXPECT_THAT(codesOf(r), ElementsAre()) << text;
    }
    EXPECT_EQ(readText("name,b\ninf,1\nother,2\nthird,3\n").tables[0].table.columns[0].kind,
              ColumnKind::Text);
}

// Names that begin like quantities, under a remark with as many separators.
TEST(Headers, OfQuantitiesOverNumbers) {
    EXPECT_EQ(
        headingsOf(readText("# Tern Sands, shells, by age\nShift (cm-1),7 d,28 d,90 d\n650,78.3,74.3,115.5\n"
                            "651,78.1,74.0,113.2\n652,77.9,73.1,110.8\n")
                       .tables[0]
                       .table),
        "Shift [cm-1] | 7 d | 28 d | 90 d");
    EXPECT_EQ(
        headingsOf(
            readText("# a, b, c\nDepth (m),1 h (mg/L),2 h (mg/L)\n1,2,3\n2,3,4\n3,4,5\n").tables[0].table),
        "Depth [m] | 1 h [mg/L] | 2 h [mg/L]");
}
