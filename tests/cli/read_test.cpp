// SPDX-License-Identifier: GPL-3.0-or-later
// `read` as the contract says it, for every file of the corpus, and its overrides.
#include "run_cli.h"
#include "session/session.h"

#include <algorithm>
#include <set>

using namespace jointer::test;
using testing::HasSubstr;

namespace {

const std::string kCorpus = JOINTER_SOURCE_DIR "/tests/data_files/corpus/";

void expectColumn(const json& c, std::size_t rows, const std::string& where) {
    static const std::set<std::string> kinds = {"number", "text",     "datetime", "date",
                                                "time",   "duration", "boolean"};
    EXPECT_TRUE(c["name"].is_string() && !c["name"].get<std::string>().empty()) << where;
    EXPECT_TRUE(c["unit"].is_null() || c["unit"].is_string()) << where;
    EXPECT_TRUE(kinds.contains(c["kind"].get<std::string>())) << where << c["kind"];
    ASSERT_EQ(c["values"].size(), rows) << where;
    const auto nulls = std::ranges::count_if(c["values"], [](const json& v) { return v.is_null(); });
    const auto flagged = c.contains("flags") ? c["flags"].size() : 0;
    EXPECT_EQ(static_cast<std::size_t>(nulls), c["missing"].get<std::size_t>() + flagged)
        << where << c["name"];
}

} // namespace

TEST_F(Cli, ReadsTheWholeCorpusAsTheContractSays) {
    static const std::set<std::string> formats = {
        "delimited", "fixed-width", "jcamp-dx", "iso14976", "cansas1d", "nxcansas", "pdcif", "xye", "npy",
        "xlsx",      "ods",         "hdf5",     "netcdf",   "mat5",     "sqlite",   "xls",   "json"};
    std::set<std::string> seen;
    for (const auto& entry : fs::directory_iterator(kCorpus)) {
        const std::string name = entry.path().filename().string();
        if (name == "expected.txt") continue;
        const Ran r = run("read " + entry.path().string() + " --json");
        const json document = r.document();
        if (r.status == 3) {
            EXPECT_TRUE(document["tables"].empty()) << name;
            EXPECT_THAT(r.err, HasSubstr(name));
            continue;
        }
        EXPECT_EQ(r.status, document["warnings"].empty() ? 0 : 1) << name;
        EXPECT_EQ(r.err.empty(), document["warnings"].empty()) << name;
        EXPECT_TRUE(formats.contains(document["format"].get<std::string>())) << name;
        seen.insert(document["format"].get<std::string>());
        EXPECT_FALSE(document["tables"].empty()) << name;
        for (const json& t : document["tables"]) {
            EXPECT_EQ(t["name"].is_null(), document["tables"].size() == 1) << name;
            for (const json& c : t["columns"]) expectColumn(c, t["rows"].get<std::size_t>(), name + ": ");
        }
        for (const json& w : document["warnings"])
            EXPECT_FALSE(w["code"].get<std::string>().empty() || w["text"].get<std::string>().empty())
                << name;
    }
    EXPECT_EQ(seen, formats) << "each format occurs";
}

TEST_F(Cli, OverridesOfTheGuess) {
    auto names = [&](const std::string& arguments) {
        const Ran r = run("read " + arguments + " --json");
        std::string out;
        if (r.status > 1) return r.err;
        const json document = r.document();
        for (const json& c : document["tables"][0]["columns"])
            out += c["name"].get<std::string>() + "(" + c["kind"].get<std::string>() +
                   ")=" + c["values"][0].dump() + " ";
        return out;
    };
    const std::string dates = write("d.csv", "date,time,v\n01/02/2031,06:30,1\n02/02/2031,07:30,2\n");
    EXPECT_EQ(names(dates + " --date-order mdy"),
              "date(date)=\"2031-01-02\" time(time)=\"06:30:00\" v(number)=1.0 ");
    EXPECT_EQ(names(dates + " --date-order dmy --join date,time"),
              "date(datetime)=\"2031-02-01T06:30:00\" v(number)=1.0 ");
    EXPECT_THAT(names(dates + " --join date,v"), HasSubstr("must hold dates"));
    EXPECT_EQ(names(dates + " --names \"day,clock,level [mm]\" --date-order dmy"),
              "day(date)=\"2031-02-01\" clock(time)=\"06:30:00\" level(number)=1.0 ");
    const std::string fixed = write("f.txt", "ab12.534\ncd13.535\n");
    EXPECT_EQ(names(fixed + " --widths 2,4,2 --names s,v,n"),
              "s(text)=\"ab\" v(number)=12.5 n(number)=34.0 ");
    EXPECT_THAT(run("read " + fixed + " --widths 2,x").err, HasSubstr("no widths"));
    EXPECT_EQ(names(write("t.csv", "a,1,2\nb,3,4\n") + " --transpose"), "a(number)=1.0 b(number)=3.0 ");
    EXPECT_EQ(names(write("k.txt", "a=1\nb=2\n") + " --key-value"), "a(number)=1.0 b(number)=2.0 ");
    EXPECT_EQ(names(kCorpus + "workbook.xlsx --sheet Times"),
              "clock(time)=\"06:00:00\" elapsed(duration)=43200.0 when(datetime)=\"2031-05-02T06:15:00\" ");
    EXPECT_EQ(names(kCorpus + "workbook.xlsx --sheet 1 --range C4:C7"), "Length(number)=10.5 ");
    EXPECT_THAT(names(kCorpus + "workbook.xlsx --sheet Nowhere"), HasSubstr("“Growth”"));
    EXPECT_THAT(names(kCorpus + "workbook.xlsx --range B"), HasSubstr("B3:F40"));
}

TEST_F(Cli, SummarisesAColumnOfAnyTableOfAFile) {
    const Ran r = run("stats " + kCorpus + "two_blocks.csv --table 2 --column salinity --json");
    EXPECT_EQ(r.status, 0) << r.err;
    EXPECT_EQ(r.document()["mean"], 31.5);
    EXPECT_EQ(run("stats " + kCorpus + "two_blocks.csv --table 3 --column salinity").status, 2);
}

TEST_F(Cli, TablesSideBySideAndRangesOfASheet) {
    const std::string file = kCorpus + "side_by_side.xlsx";
    EXPECT_EQ(run("read " + file + " --json").document()["tables"].size(), 4U);
    const json ponds = run("read " + file + " --sheet Ponds --json").document();
    ASSERT_EQ(ponds["tables"].size(), 3U);
    EXPECT_EQ(ponds["tables"][1]["name"], "Ponds, D3:E7");
    EXPECT_EQ(ponds["tables"][1]["columns"][1]["values"], json({31.2, 31.3, 31.4, 31.5}));
    const json open = run("read " + file + " --sheet Ponds --range G5:I --json").document();
    ASSERT_EQ(open["tables"].size(), 1U) << "down to the last row";
    EXPECT_EQ(open["tables"][0]["rows"], 3);
    EXPECT_EQ(open["tables"][0]["heading_line"], 5);
    const Ran wrong = run("read " + file + " --range nonsense");
    EXPECT_EQ(wrong.status, 3);
    EXPECT_THAT(wrong.err, HasSubstr("write it like B3:F40"));
    EXPECT_THAT(run("read " + file + " --sheet Lake").err, HasSubstr("“Ponds”"));
}

TEST_F(Cli, StatsHoldTheIntervalOfTheMean) {
    const json s = run("stats " + path("oxygen_sensor.csv") + " --column Oxygen --json").document();
    // n = 8, SEM = 1.5461561…, t(0.975, 7) = 2.36462425159278
    const double half = 2.36462425159278 * s["sem"].get<double>();
    EXPECT_NEAR(s["ci"][0].get<double>(), s["mean"].get<double>() - half, 1e-12);
    EXPECT_NEAR(s["ci"][1].get<double>(), s["mean"].get<double>() + half, 1e-12);
}

TEST_F(Cli, WritesATableInEveryFormatAndReadsItBack) {
    const std::string project = path("p.jointer");
    {
        jointer::Session session;
        session.start(jointer::demo::ternSands());
        ASSERT_TRUE(session.save(project));
    }
    const json first = run("read " + path("oxygen_sensor.csv") + " --json").document();
    for (const char* ending : {"csv", "xlsx", "json", "h5"}) {
        const std::string file = path(std::string("out.") + ending);
        const Ran written = run("export " + project + " --table oxygen_sensor --to " + file);
        EXPECT_LE(written.status, 1) << written.err;
        const json back = run("read " + file + " --json").document();
        ASSERT_EQ(back["tables"].size(), 1U) << ending;
        json columns = back["tables"][0]["columns"];
        ASSERT_EQ(columns.size(), 5U) << "the computed column comes too: " << ending;
        EXPECT_NEAR(columns[4]["values"][1].get<double>(), (43.03 + 44.86 + 43.85) / 3 - 8.15, 1e-12);
        columns.erase(4);
        EXPECT_EQ(columns, first["tables"][0]["columns"]) << ending;
    }
    const Ran refused = run("export " + project + " --table oxygen_sensor --to " + path("out.doc"));
    EXPECT_EQ(refused.status, 2);
    EXPECT_THAT(refused.err, HasSubstr(".xlsx"));
}
