// SPDX-License-Identifier: GPL-3.0-or-later
// Tables written in each format and read back: equal, but for what the format's description says it cannot
// hold.
#include "base/text.h"
#include "io/reader.h"
#include "io/writer.h"

#include <cmath>
#include <ctime>
#include <gtest/gtest.h>
#include <map>
#include <thread>

using namespace jointer;
using namespace jointer::io;

namespace {

constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();

Column timeColumn(std::string name, ColumnKind kind, std::vector<double> values) {
    Column c = numberColumn(std::move(name), "", std::move(values));
    c.kind = kind;
    return c;
}

Table sample() {
    Table t;
    t.name = "Pond, first visit";
    const double day = 1935532800; // 2031-05-03
    t.columns = {numberColumn("Depth", "cm", {0.5, 1.25, -3e-7, 123456789012345}),
                 numberColumn("Salt", "psu", {30.5, kNaN, 31.25, 1e21}),
                 textColumn("Site", {"North pan", "", "a, \"b\"", "é ≥ 1"}),
                 timeColumn("When", ColumnKind::DateTime, {day + 3600, day + 7200.25, kNaN, day + 86399}),
                 timeColumn("Day", ColumnKind::Date, {day, day + 86400, kNaN, day + 7 * 86400}),
                 timeColumn("Clock", ColumnKind::TimeOfDay, {0, 3600, kNaN, 86399}),
                 timeColumn("Elapsed", ColumnKind::Duration, {90061, 5, kNaN, 200000}),
                 timeColumn("Dry", ColumnKind::Boolean, {1, 0, kNaN, 1}),
                 numberColumn("Nitrate", "mg/L", {0.25, kNaN, kNaN, 0.75})};
    Cells limits = *t.columns.back().cells;
    limits.states = {CellState::Fine, CellState::Below, CellState::Missing, CellState::Fine};
    limits.originals[1] = "<0.05";
    t.columns.back().cells = std::make_shared<Cells>(limits);
    return t;
}

void expectSame(const Table& written, const Table& back, const std::string& format, double tolerance) {
    ASSERT_EQ(back.columns.size(), written.columns.size()) << format;
    for (std::size_t c = 0; c < written.columns.size(); ++c) {
        const Column &a = written.columns[c], &b = back.columns[c];
        EXPECT_EQ(a.name, b.name) << format;
        EXPECT_EQ(a.unit, b.unit) << format << " " << a.name;
        const bool asSeconds = format == "csv" && a.kind == ColumnKind::Duration; // as its description says
        EXPECT_EQ(asSeconds ? "number" : kindKey(a.kind), kindKey(b.kind)) << format << " " << a.name;
        ASSERT_EQ(a.cells->size(), b.cells->size()) << format << " " << a.name;
        for (std::size_t i = 0; i < a.cells->size(); ++i) {
            EXPECT_EQ(a.cells->state(i), b.cells->state(i)) << format << " " << a.name << " row " << i;
            if (a.cells->state(i) != CellState::Fine) continue;
            if (!a.isNumeric())
                EXPECT_EQ(a.cells->texts[i], b.cells->texts[i]) << format;
            else
                EXPECT_NEAR(a.numbers()[i], b.numbers()[i], tolerance * std::abs(a.numbers()[i]))
                    << format << " " << a.name;
        }
    }
}

// A curve of scattering with a column that such files have no place for.
Table droplets() {
    Table t;
    t.name = "droplets & brine";
    t.columns = {textColumn("note", {"a", "b", "c"}), numberColumn("Q", "1/Å", {0.01, 0.02, 0.04}),
                 numberColumn("I", "1/cm", {12.25, 3.5, NAN}),
                 numberColumn("Idev", "1/cm", {0.1, 0.05, 0.01}),
                 numberColumn("Qdev", "1/Å", {0.0011, 0.0012, 0.0013})};
    const Role roles[] = {Role::Label, Role::X, Role::Y, Role::YError, Role::Resolution};
    for (std::size_t k = 0; k < 5; ++k) t.columns[k].role = roles[k];
    return t;
}

} // namespace

TEST(RoundTrip, CurvesOfScatteringComeBackWithTheirRoles) {
    for (const char* ending : {"xml", "nxs"}) {
        const auto bytes = tableBytes(droplets(), ending);
        ASSERT_TRUE(bytes) << bytes.error().text;
        const auto back = read(*bytes, std::string("droplets.") + ending, {});
        ASSERT_TRUE(back) << back.error().text;
        ASSERT_EQ(back->tables.size(), 1U) << ending;
        EXPECT_EQ(back->format, std::string(ending) == "xml" ? "cansas1d" : "nxcansas");
        const Table given = droplets(), &t = back->tables[0].table;
        for (std::size_t k = 1; k < given.columns.size(); ++k) {
            const Column* c = t.findByName(given.columns[k].name);
            ASSERT_TRUE(c) << ending << " " << given.columns[k].name;
            EXPECT_EQ(c->role, given.columns[k].role) << ending << " " << c->name;
            EXPECT_EQ(c->unit, k == 1 || k == 4 ? "1/A" : "1/cm");
            for (std::size_t i = 0; i < 3; ++i)
                if (std::isfinite(given.columns[k].numbers()[i])) {
                    EXPECT_EQ(c->numbers()[i], given.columns[k].numbers()[i]) << ending;
                }
        }
    }
    const auto wrong = tableBytes(sample(), "nxs");
    if (!wrong) {
        EXPECT_EQ(wrong.error().code, "no-curve");
    }
    // The names alone tell it in a text file.
    const auto text =
        read("q (1/nm),I (1/cm),dI,dq\n0.1,5,0.1,0.01\n0.2,4,0.1,0.01\n0.3,2,0.1,0.01\n", "d.csv", {});
    ASSERT_TRUE(text);
    const Role wanted[] = {Role::X, Role::Y, Role::YError, Role::Resolution};
    for (std::size_t k = 0; k < 4; ++k) EXPECT_EQ(text->tables[0].table.columns[k].role, wanted[k]) << k;
}

TEST(RoundTrip, EveryFormatGivesTheTableBack) {
    const Table t = sample();
    for (const WriterKind& writer : writerCatalogue()) {
        if (!writer.takesAny) continue;
        const auto bytes = writer.bytes(t);
        ASSERT_TRUE(bytes) << writer.info.key << ": " << bytes.error().text;
        const auto back = read(*bytes, "table." + writer.info.key, {});
        ASSERT_TRUE(back) << writer.info.key << ": " << back.error().text;
        ASSERT_EQ(back->tables.size(), 1U) << writer.info.key;
        EXPECT_EQ(back->format, writer.info.key == "csv"  ? "delimited"
                                : writer.info.key == "h5" ? "hdf5"
                                                          : writer.info.key);
        expectSame(t, back->tables[0].table, writer.info.key, writer.info.key == "xlsx" ? 1e-15 : 0);
    }
}

// Also at another second of the clock.
TEST(RoundTrip, TheSameTableGivesTheSameBytes) {
    const Table t = sample();
    std::map<std::string, std::string> first;
    for (const WriterKind& writer : writerCatalogue())
        if (writer.takesAny) first[writer.info.key] = *writer.bytes(t);
    first["xml"] = *cansasWriter().bytes(droplets());
    first["nxs"] = *nxcansasWriter().bytes(droplets());
    const auto now = [] { return std::time(nullptr) / 2; }; // archives count in twos
    for (const auto begun = now(); now() == begun;) std::this_thread::sleep_for(std::chrono::milliseconds(5));
    for (const WriterKind& writer : writerCatalogue())
        EXPECT_TRUE(first[writer.info.key] == *writer.bytes(writer.takesAny ? t : droplets()))
            << writer.info.key;
}

TEST(RoundTrip, UnknownEndingsAreRefusedWithThoseThatThereAre) {
    const auto r = tableBytes(sample(), "doc");
    ASSERT_FALSE(r);
    EXPECT_NE(r.error().text.find(".xlsx"), std::string::npos);
}

TEST(RoundTrip, EmptyAndOddTables) {
    Table empty;
    empty.name = "a/b:c?";
    empty.columns = {numberColumn("x", "", {}), textColumn("y", {})};
    Table infinite;
    infinite.columns = {numberColumn("x/y", "m/s", {1, std::numeric_limits<double>::infinity()})};
    for (const WriterKind& writer : writerCatalogue())
        for (const Table* t : {&empty, &infinite})
            EXPECT_EQ(writer.bytes(*t).has_value(), writer.takesAny) << writer.info.key;
}

TEST(RoundTrip, TabsForTheClipboard) {
    Table t;
    t.columns = {textColumn("name", {"a\tb", "plain, with a comma", "say \"yes\""}),
                 numberColumn("mass", "mg", {1.5, NAN, -2})};
    EXPECT_EQ(toTabs(t), "name\tmass [mg]\n\"a\tb\"\t1.5\nplain, with a comma\t\n\"say \"\"yes\"\"\"\t-2\n");
    const auto back = read(toTabs(t), "pasted block", {});
    ASSERT_TRUE(back);
    EXPECT_EQ(back->tables[0].table.columns[0].cells->texts[0], "a\tb");
    EXPECT_EQ(back->tables[0].table.columns[1].unit, "mg");
}
