// SPDX-License-Identifier: GPL-3.0-or-later
// Single values and lines as people, instruments and spreadsheets write them, case by case.
#include "io/cell_text.h"
#include "io/fields.h"
#include "io/fixed_width.h"
#include "io/moment_text.h"
#include "io/number_text.h"
#include "io/preamble.h"
#include "io/spreadsheet.h"
#include "io/unit_text.h"

#include <cmath>
#include <gmock/gmock.h>

using namespace jointer;
using namespace jointer::io;
using testing::ElementsAre;
using testing::IsEmpty;

namespace {

struct NumberCase {
    const char* text;
    double value;
    const char* suffix = "";
    bool grouped = false;
};

std::string isoOf(std::string_view text, DateOrder order = DateOrder::DayMonthYear) {
    const auto m = momentOf(text, order);
    if (!m) return "none";
    switch (m->kind) {
    case ColumnKind::Date:
        return isoDate(m->seconds);
    case ColumnKind::DateTime:
        return isoDateTime(m->seconds) + (m->utc ? "Z" : "");
    default:
        return isoTimeOfDay(m->seconds);
    }
}

} // namespace

TEST(Numbers, InEverySpelling) {
    for (const NumberCase& c : std::initializer_list<NumberCase>{{"12", 12},
                                                                 {"+3.5", 3.5},
                                                                 {".5", 0.5},
                                                                 {"5.", 5},
                                                                 {"−2.5", -2.5},
                                                                 {"1e3", 1000},
                                                                 {"1.5E-03", 0.0015},
                                                                 {"2.5D+02", 250},
                                                                 {"1.25-003", 0.00125},
                                                                 {"3×10⁻⁴", 3e-4},
                                                                 {"1,234.5", 1234.5, "", true},
                                                                 {"1 234 567", 1234567, "", true},
                                                                 {"12.5 %", 12.5, "%"},
                                                                 {"7.5mg/L", 7.5, "mg/L"},
                                                                 {"21 °C", 21, "°C"}}) {
        const auto n = readRichNumber(c.text, '.');
        ASSERT_TRUE(n) << c.text;
        EXPECT_DOUBLE_EQ(n->value, c.value) << c.text;
        EXPECT_EQ(n->suffix, c.suffix) << c.text;
        EXPECT_EQ(n->grouped, c.grouped) << c.text;
    }
}

TEST(Numbers, WithADecimalComma) {
    EXPECT_EQ(readRichNumber("1.234,5", ',')->value, 1234.5);
    EXPECT_EQ(readRichNumber("0,25", ',')->value, 0.25);
    EXPECT_EQ(readRichNumber("1 234,5", ',')->value, 1234.5);
    EXPECT_EQ(readRichNumber("-3,5 mV", ',')->suffix, "mV");
}

TEST(Numbers, BeyondWhatADoubleHoldsAreSaidToBeRounded) {
    EXPECT_FALSE(readRichNumber("9007199254740992", '.')->rounded);
    EXPECT_TRUE(readRichNumber("9007199254740993", '.')->rounded);
    EXPECT_TRUE(hasLeadingZero("007"));
    EXPECT_FALSE(hasLeadingZero("0.7"));
    EXPECT_FALSE(hasLeadingZero("0"));
}

TEST(Numbers, WordsAreNone) {
    for (const char* text : {"", "abc", "1.2.3", "1,23,4", "--5", "e5", "2031-05-02", "1/2"})
        EXPECT_FALSE(readRichNumber(text, '.')) << text;
    for (const char* word : {"OVER", "O.L", "####", "overflow"}) EXPECT_TRUE(isOverflowWord(word)) << word;
    for (const char* word : {"#DIV/0!", "#REF!", "#VALUE!"}) EXPECT_TRUE(isSheetError(word)) << word;
    EXPECT_FALSE(isSheetError("#1"));
}

TEST(Limits, BelowAndAbove) {
    for (const auto& [text, value, side] :
         std::initializer_list<std::tuple<const char*, double, CellState>>{{"<0.05", 0.05, CellState::Below},
                                                                           {"< 3", 3, CellState::Below},
                                                                           {">100", 100, CellState::Above},
                                                                           {"≥ 2.5", 2.5, CellState::Above},
                                                                           {"<=7", 7, CellState::Below}}) {
        const auto limit = limitOf(text, '.');
        ASSERT_TRUE(limit) << text;
        EXPECT_EQ(limit->value, value);
        EXPECT_EQ(limit->side, side);
    }
    EXPECT_FALSE(limitOf("<b>", '.'));
    EXPECT_FALSE(limitOf("5", '.'));
}

TEST(Missing, InManySpellings) {
    for (const char* text :
         {"", " ", "NA", "n/a", "NaN", "null", "--", "–", ".", "?", "n.d.", "#N/A", "missing"})
        EXPECT_TRUE(isMissing(text, {})) << "“" << text << "”";
    for (const char* text : {"0", "-1", "no", "x", "nano"}) EXPECT_FALSE(isMissing(text, {})) << text;
    EXPECT_TRUE(isMissing("-999", {"-999"}));
}

TEST(Moments, ByFiguresAndNames) {
    for (const auto& [text, iso] : std::initializer_list<std::pair<const char*, const char*>>{
             {"2031-05-02", "2031-05-02"},
             {"02.05.2031", "2031-05-02"},
             {"2/5/31", "2031-05-02"},
             {"2 May 2031", "2031-05-02"},
             {"May 2, 2031", "2031-05-02"},
             {"02-MAY-31", "2031-05-02"},
             {"2031-05-02 06:07", "2031-05-02T06:07:00"},
             {"2031-05-02T06:07:08.25", "2031-05-02T06:07:08.25"},
             {"02.05.2031 6:07 PM", "2031-05-02T18:07:00"},
             {"12:30 AM 02.05.2031", "2031-05-02T00:30:00"},
             {"2031-05-02T06:00:00+02:00", "2031-05-02T04:00:00Z"},
             {"2031-05-02T06:00:00Z", "2031-05-02T06:00:00Z"},
             {"29.02.2032", "2032-02-29"},
             {"06:07:08", "06:07:08"},
             {"36:15:00", "36:15:00"}})
        EXPECT_EQ(isoOf(text), iso) << text;
    EXPECT_EQ(isoOf("05/02/2031", DateOrder::MonthDayYear), "2031-05-02");
    EXPECT_EQ(isoOf("1/2/70"), "1970-02-01") << "two figures from 70 on are of the last century";
    EXPECT_EQ(isoOf("1/2/69"), "2069-02-01");
}

TEST(Moments, DaysThatAreNoneAreRefused) {
    for (const char* text : {"30.02.2031", "2031-13-01", "00.05.2031", "2031-05-02T25:00", "12:60:00", "May",
                             "1.5", "12-34", "2031", "10:20:30:40"})
        EXPECT_EQ(isoOf(text), "none") << text;
}

TEST(Moments, DurationsOfMoreThanADay) {
    EXPECT_EQ(momentOf("1d 02:03:04", DateOrder::DayMonthYear)->seconds, 93784);
    EXPECT_EQ(momentOf("P1DT2H", DateOrder::DayMonthYear)->seconds, 93600);
    EXPECT_EQ(momentOf("36:15:00", DateOrder::DayMonthYear)->kind, ColumnKind::Duration);
}

TEST(Moments, TellWhichOrderTheyAllow) {
    const auto open = orderEvidence("02/05/2031");
    ASSERT_TRUE(open);
    EXPECT_TRUE(open->dayMonth && open->monthDay);
    const auto day = orderEvidence("25/05/2031");
    EXPECT_TRUE(day->dayMonth && !day->monthDay);
    const auto month = orderEvidence("05/25/2031");
    EXPECT_TRUE(!month->dayMonth && month->monthDay);
    EXPECT_EQ(isoOf("2031/05/02"), "2031-05-02") << "the year in front needs no evidence";
}

TEST(Units, StandInHeadings) {
    for (const auto& [heading, name, unit] :
         std::initializer_list<std::array<const char*, 3>>{{"Depth (cm)", "Depth", "cm"},
                                                           {"Depth [cm]", "Depth", "cm"},
                                                           {"Depth / cm", "Depth", "cm"},
                                                           {"Depth", "Depth", ""},
                                                           {"shift (cm-1)", "shift", "cm-1"},
                                                           {"oxygen (mg L-1)", "oxygen", "mg L-1"},
                                                           {"share (%)", "share", "%"},
                                                           {"T (°C)", "T", "°C"},
                                                           {"I/I0", "I/I0", ""}}) {
        const auto found = nameAndUnit(heading);
        EXPECT_EQ(found.first, name) << heading;
        EXPECT_EQ(found.second, unit) << heading;
    }
}

TEST(Units, AreToldFromWords) {
    for (const char* unit :
         {"cm", "mg/L", "m s-1", "µmol/L", "kPa", "%", "°C", "1/cm", "cm^-1", "counts", "a.u."})
        EXPECT_TRUE(isUnitText(unit)) << unit;
    for (const char* word : {"north", "Sample 3", "yes", "note"}) EXPECT_FALSE(isUnitText(word)) << word;
    EXPECT_EQ(bareUnit("[cm]"), "cm");
    EXPECT_EQ(bareUnit("(mg/L)"), "mg/L");
}

TEST(Facts, OfAPreamble) {
    Metadata facts;
    takeMetadata("Site: North pan; Depth = 2.5 m", ',', facts);
    takeMetadata("Operator:", ',', facts);
    takeMetadata("this is prose without any fact", ',', facts);
    ASSERT_GE(facts.size(), 2U);
    EXPECT_EQ(facts[0], std::pair(std::string("Site"), std::string("North pan")));
    EXPECT_EQ(facts[1], std::pair(std::string("Depth"), std::string("2.5 m")));
    std::vector<std::string> markers;
    takeMissingMarkers("# missing values are coded as -9999", markers);
    takeMissingMarkers("nodata = -99.9", markers);
    EXPECT_THAT(markers, ElementsAre("-9999", "-99.9"));
}

TEST(Lines, OfAllEndsAndWithQuotedBreaks) {
    EXPECT_THAT(allLines("a\r\nb\nc\rd"), ElementsAre("a", "b", "c", "d"));
    EXPECT_THAT(allLines(""), IsEmpty());
    EXPECT_EQ(wholeLines(firstLines("a,\"b\nc\"\nd", 9))[0], "a,\"b\nc\"");
    EXPECT_THAT(fieldTexts("a;\"b;c\";\"d\"\"e\"; f ", ';'), ElementsAre("a", "b;c", "d\"e", "f"));
    EXPECT_THAT(fieldTexts("  1   2\t3 ", kBlanks), ElementsAre("1", "2", "3"));
    for (const char* rule : {"-----", "+----+----+", "|---|:--:|", "===="})
        EXPECT_TRUE(isRuleLine(rule)) << rule;
    EXPECT_FALSE(isRuleLine("- 5"));
    EXPECT_EQ(sectionName("[Data]"), "Data");
    EXPECT_EQ(sectionName("Data"), "");
}

TEST(FixedWidth, BordersByGapsAndByDecimals) {
    EXPECT_THAT(guessBorders({"a1  2.5", "b2 13.5", "c3  4.5"}, '.'), ElementsAre(2, 7));
    EXPECT_THAT(guessBorders({"1.25-3.50", "2.75 4.25"}, '.'), ElementsAre(4, 9)) << "numbers that touch";
    EXPECT_THAT(bordersFromWidths("4,8,8"), ElementsAre(4, 12, 20));
    EXPECT_THAT(bordersFromWidths("4,x"), IsEmpty());
    EXPECT_THAT(cutAt("µm12345", {2, 4}), ElementsAre("µm", "12345")) << "places count letters, not bytes";
}

TEST(Sheets, PlacesAndSerialDays) {
    EXPECT_EQ(columnLetters(0), "A");
    EXPECT_EQ(columnLetters(25), "Z");
    EXPECT_EQ(columnLetters(26), "AA");
    EXPECT_EQ(columnLetters(701), "ZZ");
    std::size_t letters = 0;
    EXPECT_EQ(columnFromLetters("AB12", letters), 27U);
    EXPECT_EQ(letters, 2U);
    EXPECT_EQ(serialText(45000, SerialKind::Date, false), "2023-03-15");
    EXPECT_EQ(serialText(45000.25, SerialKind::DateTime, false), "2023-03-15T06:00:00");
    EXPECT_EQ(serialText(43538, SerialKind::Date, true), "2023-03-15") << "counted from 1904";
    EXPECT_EQ(serialText(0.25, SerialKind::Time, false), "06:00:00");
    EXPECT_EQ(serialText(1.5, SerialKind::Duration, false), "PT129600S");
    for (const auto& [code, kind] :
         std::initializer_list<std::pair<const char*, SerialKind>>{{"General", SerialKind::Number},
                                                                   {"0.00", SerialKind::Number},
                                                                   {"0.00E+00", SerialKind::Number},
                                                                   {"yyyy-mm-dd", SerialKind::Date},
                                                                   {"dd/mm/yyyy hh:mm", SerialKind::DateTime},
                                                                   {"hh:mm:ss", SerialKind::Time},
                                                                   {"[h]:mm:ss", SerialKind::Duration},
                                                                   {"0.0\" days\"", SerialKind::Number}})
        EXPECT_EQ(kindOfFormat(code), kind) << code;
}

TEST(Sheets, BlocksSideBySideAreParted) {
    Sheet sheet;
    auto put = [&](std::size_t row, std::size_t column, const char* text) { sheet.set(row, column, text); };
    for (std::size_t row = 0; row < 5; ++row) put(row, 0, "1"), put(row, 1, "2");
    EXPECT_EQ(sheet.regions().size(), 1U);
    for (std::size_t row = 0; row < 5; ++row) put(row, 3, "3");
    EXPECT_EQ(sheet.regions().size(), 1U) << "a gap within one table: the same rows, another heading";
    for (std::size_t row = 2; row < 9; ++row) put(row, 5, "4"), put(row, 6, "5");
    Sheet apart;
    for (std::size_t row = 0; row < 5; ++row) apart.set(row, 0, "1");
    for (std::size_t row = 2; row < 9; ++row) apart.set(row, 2, "4");
    const auto blocks = apart.regions();
    ASSERT_EQ(blocks.size(), 2U);
    EXPECT_EQ(blocks[1].firstRow, 2U);
    EXPECT_EQ(blocks[1].lastRow, 8U);
    EXPECT_EQ(blocks[1].firstColumn, 2U);
    EXPECT_EQ(Sheet().regions().size(), 1U);
}
