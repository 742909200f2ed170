// SPDX-License-Identifier: GPL-3.0-or-later
// Binary formats by files built here from their definitions: NetCDF classic (the format specification of
// version 1), MAT 5 (the public description of level 5), SQLite through its library.
#include "io/reader.h"

#include <bit>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <sqlite3.h>
#include <unistd.h>

using namespace jointer;
using namespace jointer::io;
using testing::ElementsAre;

namespace {

// ---- bytes ------------------------------------------------------------------------------------------------

void big(std::string& out, std::uint32_t v) {
    for (int shift = 24; shift >= 0; shift -= 8) out += static_cast<char>(v >> shift & 255);
}
void big(std::string& out, double v) {
    const auto bits = std::bit_cast<std::uint64_t>(v);
    big(out, static_cast<std::uint32_t>(bits >> 32));
    big(out, static_cast<std::uint32_t>(bits));
}
void padded(std::string& out, const std::string& text, std::size_t to = 4) {
    out += text;
    while (out.size() % to) out += '\0';
}
template <class T> void little(std::string& out, T v) {
    out.append(reinterpret_cast<const char*>(&v), sizeof v);
}

// ---- NetCDF -----------------------------------------------------------------------------------------------

constexpr std::uint32_t kDimension = 10, kVariable = 11, kAttribute = 12, kChar = 2, kShort = 3, kDouble = 6;

using Facts = std::vector<std::pair<std::string, std::string>>;

struct Variable {
    std::string name;
    std::uint32_t type;
    std::vector<std::pair<std::string, std::string>> words; // attributes of text
    std::vector<std::pair<std::string, double>> numbers;
    std::string data;
    bool single = false; // without a dimension
};

void name(std::string& out, const std::string& text) {
    big(out, static_cast<std::uint32_t>(text.size()));
    padded(out, text);
}

std::string header(const std::vector<Variable>& variables, std::uint32_t length,
                   std::vector<std::uint32_t> begins, const Facts& facts) {
    std::string out("CDF\x01", 4);
    big(out, 0U); // no records
    big(out, kDimension), big(out, 1U), name(out, "time"), big(out, length);
    big(out, facts.empty() ? 0U : kAttribute), big(out, static_cast<std::uint32_t>(facts.size()));
    for (const auto& [key, words] : facts) {
        name(out, key);
        big(out, kChar);
        name(out, words);
    }
    big(out, kVariable), big(out, static_cast<std::uint32_t>(variables.size()));
    for (std::size_t i = 0; i < variables.size(); ++i) {
        const Variable& v = variables[i];
        name(out, v.name);
        big(out, v.single ? 0U : 1U);
        if (!v.single) big(out, 0U);
        const auto count = static_cast<std::uint32_t>(v.words.size() + v.numbers.size());
        big(out, count ? kAttribute : 0U), big(out, count);
        for (const auto& [key, words] : v.words) {
            name(out, key);
            big(out, kChar);
            name(out, words);
        }
        for (const auto& [key, number] : v.numbers) {
            name(out, key);
            big(out, kDouble), big(out, 1U), big(out, number);
        }
        big(out, v.type), big(out, static_cast<std::uint32_t>(v.data.size())), big(out, begins[i]);
    }
    return out;
}

std::string netcdf(const std::vector<Variable>& variables, std::uint32_t length, const Facts& facts = {}) {
    std::vector<std::uint32_t> begins(variables.size(), 0);
    auto at = static_cast<std::uint32_t>(header(variables, length, begins, facts).size());
    for (std::size_t i = 0; i < variables.size(); ++i) {
        begins[i] = at;
        at += static_cast<std::uint32_t>(variables[i].data.size());
    }
    std::string out = header(variables, length, begins, facts);
    for (const Variable& v : variables) out += v.data;
    return out;
}

std::string doubles(std::initializer_list<double> values) {
    std::string out;
    for (double v : values) big(out, v);
    return out;
}
std::string shorts(std::initializer_list<int> values) {
    std::string out;
    for (int v : values) {
        out += static_cast<char>(v >> 8 & 255);
        out += static_cast<char>(v & 255);
    }
    while (out.size() % 4) out += '\0';
    return out;
}

// ---- MAT 5 ------------------------------------------------------------------------------------------------

void element(std::string& out, std::uint32_t type, const std::string& bytes) {
    little(out, type);
    little(out, static_cast<std::uint32_t>(bytes.size()));
    padded(out, bytes, 8);
}

std::string matrix(const std::string& called, std::int32_t rows, std::int32_t columns,
                   const std::vector<double>& values, std::uint32_t kind = 6) {
    std::string inside, flags, size, data;
    little(flags, kind), little(flags, std::uint32_t{0}); // class double
    little(size, rows), little(size, columns);
    for (double v : values) little(data, v);
    element(inside, 6, flags);
    element(inside, 5, size);
    element(inside, 1, called);
    element(inside, 9, data);
    std::string out;
    element(out, 14, inside);
    return out;
}

std::string matFile(const std::string& content) {
    std::string out = "made by hand";
    out.resize(124, ' ');
    little(out, std::uint16_t{0x0100});
    out += "IM";
    return out + content;
}

} // namespace

TEST(NetCdf, ScalesOffsetsFillsAndTimes) {
    const std::string file =
        netcdf({{"time", kDouble, {{"units", "hours since 2031-05-02 06:00:00"}}, {}, doubles({0, 1, 2.5})},
                {"temp",
                 kShort,
                 {{"units", "degC"}},
                 {{"scale_factor", 0.1}, {"add_offset", 10}, {"_FillValue", -99}},
                 shorts({25, -99, 30})}},
               3);
    const auto r = io::read(file, "p.nc", {});
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->format, "netcdf");
    const Table& t = r->tables.at(0).table;
    ASSERT_EQ(t.columns.size(), 2U);
    EXPECT_EQ(t.columns[0].kind, ColumnKind::DateTime);
    EXPECT_EQ(plainCellText(t.columns[0], 2).substr(0, 19), "2031-05-02T08:30:00");
    EXPECT_EQ(t.columns[1].unit, "degC");
    EXPECT_NEAR(t.columns[1].numbers()[0], 12.5, 1e-12) << "25·0.1 + 10";
    EXPECT_TRUE(std::isnan(t.columns[1].numbers()[1])) << "the fill value is missing";
    EXPECT_NEAR(t.columns[1].numbers()[2], 13, 1e-12);
}

TEST(NetCdf, SizesBeyondTheFileAreRefused) {
    std::string file = netcdf({{"y", kDouble, {}, {}, doubles({1, 2})}}, 2);
    for (std::size_t cut : {file.size() - 1, file.size() - 9, std::size_t{40}, std::size_t{5}}) {
        const auto r = io::read(file.substr(0, cut), "p.nc", {});
        if (!r)
            EXPECT_FALSE(r.error().text.empty()) << cut;
        else
            for (const ReadTable& t : r->tables) EXPECT_LE(t.table.rowCount(), 2U) << cut;
    }
}

TEST(Mat5, MatricesByTheirNames) {
    const std::string file =
        matFile(matrix("depth", 3, 1, {1, 2, 3}) + matrix("salt", 3, 2, {30, 31, 32, 33, 34, 35}));
    const auto r = io::read(file, "p.mat", {});
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->format, "mat5");
    std::vector<std::string> names;
    std::vector<double> last;
    for (const ReadTable& t : r->tables)
        for (const Column& c : t.table.columns) {
            names.push_back(c.name);
            last.assign(c.numbers().begin(), c.numbers().end());
        }
    ASSERT_EQ(names.size(), 3U);
    EXPECT_EQ(names[0], "depth");
    EXPECT_THAT(last, ElementsAre(33, 34, 35)) << "columns stand one after the other";
}

TEST(Mat5, LettersThatAreNoneAreReplaced) { // found by fuzzing
    const std::string file =
        matFile(matrix("depth", 2, 1, {1, 2}) + matrix("note", 1, 3, {65, std::nan(""), -4}, 4));
    const auto r = io::read(file, "p.mat", {});
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->tables.at(0).table.columns.at(0).name, "depth");
}

TEST(Mat5, RowsOfNothingTakeNoTimeAndNoMemory) { // found by fuzzing
    const auto r =
        io::read(matFile(matrix("depth", 2, 1, {1, 2}) + matrix("note", 2000000000, 0, {}, 4)), "p.mat", {});
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->tables.size(), 1U);
}

// Names and numbers of the scheme of ASTM E1947.
TEST(Netcdf, ChromatogramsGetTheirTimes) {
    const Variable signal{
        "ordinate_values", kDouble, {{"uniform_sampling_flag", "Y"}}, {}, doubles({1, 5, 2})};
    const std::vector<Variable> scheme = {
        signal,
        {"actual_delay_time", kDouble, {}, {}, doubles({30}), true},
        {"actual_sampling_interval", kDouble, {}, {}, doubles({0.5}), true}};
    const Facts facts = {{"retention_unit", "seconds"}, {"detector_unit", "mV"}, {"sample_name", "Pond 4"}};
    const auto r = io::read(netcdf(scheme, 3, facts), "run.cdf", {});
    ASSERT_TRUE(r) << r.error().text;
    ASSERT_EQ(r->tables.size(), 1U);
    const Table& t = r->tables[0].table;
    EXPECT_EQ(t.columns[0].name, "Retention time");
    EXPECT_EQ(t.columns[0].unit, "s");
    EXPECT_EQ(t.columns[0].role, Role::X);
    EXPECT_THAT(std::vector<double>(t.columns[0].numbers().begin(), t.columns[0].numbers().end()),
                ElementsAre(30, 30.5, 31));
    EXPECT_EQ(t.columns[1].name, "Signal");
    EXPECT_EQ(t.columns[1].unit, "mV");
    EXPECT_THAT(r->metadata, testing::Contains(testing::Pair("sample_name", "Pond 4")));

    Variable uneven = signal;
    uneven.words = {{"uniform_sampling_flag", "N"}};
    const auto own = io::read(netcdf({uneven, {"raw_data_retention", kDouble, {}, {}, doubles({1, 2, 4})}}, 3,
                                     {{"retention_unit", "Minutes"}}),
                              "run.cdf", {});
    ASSERT_TRUE(own) << own.error().text;
    ASSERT_EQ(own->tables[0].table.columns.size(), 2U);
    EXPECT_EQ(own->tables[0].table.columns[0].unit, "min");
    EXPECT_EQ(own->tables[0].table.columns[0].numbers()[2], 4);
}

namespace {

Result<ReadResult> readDatabase(const char* sql) {
    const auto path =
        std::filesystem::temp_directory_path() / ("jointer-" + std::to_string(::getpid()) + ".sqlite");
    std::filesystem::remove(path);
    sqlite3* db = nullptr;
    EXPECT_EQ(sqlite3_open(path.c_str(), &db), SQLITE_OK);
    EXPECT_EQ(sqlite3_exec(db, sql, nullptr, nullptr, nullptr), SQLITE_OK);
    sqlite3_close(db);
    auto r = io::readFileAs(path, {});
    std::filesystem::remove(path);
    return r;
}

} // namespace

TEST(Sqlite, TextAmongNumbersStays) {
    const auto r = readDatabase("create table t(a, b, c);"
                                "insert into t values(1.5, 1.5, '2031-05-01'), ('below', null, '2031-05-02'),"
                                "(2.5, 'n/a', '2031-05-03'), (3.5, 2.5, '2031-05-04');");
    ASSERT_TRUE(r) << r.error().text;
    const Table& t = r->tables.at(0).table;
    ASSERT_EQ(t.columns[0].kind, ColumnKind::Text) << "no number with a hole";
    EXPECT_THAT(t.columns[0].cells->texts, ElementsAre("1.5", "below", "2.5", "3.5"));
    EXPECT_EQ(t.columns[1].kind, ColumnKind::Number) << "a marker of missing values is no word";
    EXPECT_EQ(t.columns[2].kind, ColumnKind::Date);
    EXPECT_TRUE(r->issues.empty());
}

TEST(Sqlite, TablesWithNullsAndTexts) {
    const auto r = readDatabase("create table ponds(site text, depth real, n integer);"
                                "insert into ponds values('north', 1.5, 7), ('south', null, 9);"
                                "create table empty(a real);");
    ASSERT_TRUE(r) << r.error().text;
    EXPECT_EQ(r->format, "sqlite");
    const Table& t = r->tables.at(0).table;
    EXPECT_EQ(t.name, "ponds");
    EXPECT_EQ(t.columns.at(0).cells->texts, (std::vector<std::string>{"north", "south"}));
    EXPECT_EQ(t.columns.at(1).numbers()[0], 1.5);
    EXPECT_EQ(t.columns.at(1).cells->state(1), CellState::Missing);
    EXPECT_THAT(std::vector<double>(t.columns.at(2).numbers().begin(), t.columns.at(2).numbers().end()),
                ElementsAre(7, 9));
}
