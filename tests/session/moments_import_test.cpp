// SPDX-License-Identifier: GPL-3.0-or-later
// A logger with its dates and times in two columns comes into a project with moments as x, alone and by a
// recipe.
#include "io/joined_moments.h"
#include "session/alike_reading.h"
#include "session/import.h"

#include <filesystem>
#include <fmt/format.h>
#include <fstream>
#include <gmock/gmock.h>

using namespace jointer;

namespace {

std::string logger(int days) {
    std::string text = "Gate house\ndate,time,water temp (degC),salinity (psu)\n";
    for (int i = 0; i < 48 * days; ++i)
        text += fmt::format("{:02}.03.2031,{:02}:{:02},{:.2f},{:.2f}\n", 1 + i / 48, i % 48 / 2, 30 * (i % 2),
                            7 + 0.01 * i, 28 + 0.1 * (i % 25));
    return text;
}

void expectMoments(const Table& t, std::size_t rows) {
    ASSERT_EQ(t.columns.size(), 3U);
    EXPECT_EQ(t.columns[0].kind, ColumnKind::DateTime);
    EXPECT_EQ(t.columns[0].numbers().size(), rows);
    EXPECT_EQ(t.columns[0].numbers()[49] - t.columns[0].numbers()[0], 49 * 1800.0);
}

} // namespace

TEST(MomentsImport, AreXOfTheDatasets) {
    auto reading = io::read(logger(9), "logger.csv", {});
    ASSERT_TRUE(reading);
    io::joinMoments(*reading, {});
    const auto p = importEdit(*reading, {}, "logger", {}).apply(newProject(""));
    ASSERT_TRUE(p);
    expectMoments(p->tables[0], 9 * 48);
    ASSERT_EQ(p->datasets.size(), 2U) << "the quantities, not the time of day";
    for (const auto& d : p->datasets) {
        const auto x = std::ranges::find(d->source.roles, Role::X, &RoleBinding::role);
        ASSERT_NE(x, d->source.roles.end());
        EXPECT_EQ(x->column, p->tables[0].columns[0].id);
    }
}

// The first file shows the way, further ones are read quickly: all alike.
TEST(MomentsImport, OfManyFilesAlike) {
    const auto folder =
        std::filesystem::temp_directory_path() / fmt::format("jointer-moments-{}", ::getpid());
    std::filesystem::create_directories(folder);
    AlikeReading alike;
    for (int k = 0; k < 5; ++k) {
        const auto file = folder / fmt::format("logger_{}.csv", k);
        std::ofstream(file) << logger(3 + k);
        const auto reading = alike.read(file, {});
        ASSERT_TRUE(reading);
        expectMoments(reading->tables.front().table, static_cast<std::size_t>(48 * (3 + k)));
    }
    std::filesystem::remove_all(folder);
}
