// SPDX-License-Identifier: GPL-3.0-or-later
// Microplates: random ones written as instruments and people write them, with every well to be found again.
#include "io/reader.h"

#include <cmath>
#include <fmt/format.h>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;
using namespace jointer::io;
using testing::ElementsAre;

namespace {

using Block = std::vector<std::vector<std::string>>; // with its labels

struct Plate {
    std::size_t rows = 8, columns = 12;
    std::vector<double> readings; // NaN: an empty well
    std::vector<std::string> samples;
    std::string text;
    bool layout = false;
};

std::string label(std::size_t row) {
    return row < 26 ? std::string(1, static_cast<char>('A' + row))
                    : "A" + std::string(1, static_cast<char>('A' + row - 26));
}

Block block(const Plate& p, const std::function<std::string(std::size_t)>& cell) {
    Block b(p.rows + 1);
    b[0].emplace_back();
    for (std::size_t c = 0; c < p.columns; ++c) b[0].push_back(std::to_string(c + 1));
    for (std::size_t r = 0; r < p.rows; ++r) {
        b[r + 1].push_back(label(r));
        for (std::size_t c = 0; c < p.columns; ++c) b[r + 1].push_back(cell(r * p.columns + c));
    }
    return b;
}

std::string joinedLine(const std::vector<std::string>& cells, char separator) {
    std::string line;
    for (std::size_t i = 0; i < cells.size(); ++i) line += (i ? std::string(1, separator) : "") + cells[i];
    return line + "\n";
}

Plate madePlate(unsigned seed) {
    std::mt19937 random(seed);
    auto below = [&](std::size_t n) { return static_cast<std::size_t>(random() % n); };
    constexpr std::pair<std::size_t, std::size_t> sizes[] = {{2, 3},  {3, 4},   {4, 6},   {6, 8},
                                                             {8, 12}, {16, 24}, {32, 48}, {5, 7}};
    Plate p;
    std::tie(p.rows, p.columns) = sizes[below(8)];
    p.layout = p.rows == 5 || below(3) > 0; // an unusual size is one with its layout only
    for (std::size_t i = 0; i < p.rows * p.columns; ++i) {
        p.readings.push_back(p.layout && below(15) == 0 ? NAN : 0.001 * static_cast<double>(below(3000)));
        p.samples.push_back(below(6) == 0 ? "Blank" : fmt::format("pan {}", below(12)));
    }
    const char separators[] = {',', ';', '\t', '|'};
    const char separator = separators[below(4)];
    const bool comma = separator != ',' && below(2) == 0;
    const Block readings = block(p, [&](std::size_t i) {
        std::string cell = std::isnan(p.readings[i]) ? "" : fmt::format("{:.3f}", p.readings[i]);
        if (comma) std::ranges::replace(cell, '.', ',');
        return cell;
    });
    const Block samples = block(p, [&](std::size_t i) { return p.samples[i]; });
    if (below(2) == 0) p.text += "Measured in the evening\n\n";
    if (p.layout && below(2) == 0) { // beside
        for (std::size_t r = 0; r <= p.rows; ++r) {
            std::vector<std::string> line = readings[r];
            line.emplace_back();
            line.insert(line.end(), samples[r].begin(), samples[r].end());
            p.text += joinedLine(line, separator);
        }
        return p;
    }
    if (below(2) == 0) p.text += "Absorbance\n";
    for (const auto& line : readings) p.text += joinedLine(line, separator);
    if (p.layout) {
        p.text += below(2) == 0 ? "\nLayout\n" : "\n";
        for (const auto& line : samples) p.text += joinedLine(line, separator);
    }
    return p;
}

const Column* named(const Table& t, std::string_view name) {
    const auto at = std::ranges::find(t.columns, name, &Column::name);
    return at == t.columns.end() ? nullptr : &*at;
}

} // namespace

TEST(Plates, EveryWellIsFoundAgain) {
    for (unsigned seed = 1; seed <= 400; ++seed) {
        const Plate p = madePlate(seed);
        const auto r = read(p.text, "plate.txt", {});
        ASSERT_TRUE(r) << p.text;
        ASSERT_EQ(r->tables.size(), 1U) << "seed " << seed << "\n" << p.text;
        const Table& t = r->tables[0].table;
        ASSERT_EQ(t.rowCount(), p.rows * p.columns) << "seed " << seed << "\n" << p.text;
        const Column *well = named(t, "well"), *sample = named(t, "sample"), *value = named(t, "reading");
        if (!value) value = named(t, "Absorbance");
        if (!value) value = named(t, "Measured in the evening");
        ASSERT_TRUE(well && value && value->isNumeric() && (sample != nullptr) == p.layout)
            << "seed " << seed << "\n"
            << p.text;
        for (std::size_t i = 0; i < p.readings.size(); ++i) {
            EXPECT_EQ(well->cells->texts[i], label(i / p.columns) + std::to_string(i % p.columns + 1));
            if (std::isnan(p.readings[i]))
                EXPECT_TRUE(std::isnan(value->numbers()[i]));
            else
                EXPECT_DOUBLE_EQ(value->numbers()[i], p.readings[i]) << "seed " << seed;
            EXPECT_TRUE(!sample || sample->cells->texts[i] == p.samples[i]) << "seed " << seed;
        }
        EXPECT_TRUE(std::ranges::any_of(r->issues, [](const Issue& i) { return i.code == "plate"; }));
    }
}

TEST(Plates, DosesAreXAndUnitsAreTaken) {
    const std::string text =
        "Dose (mg/L),1,2,3\nA,0,1,10\nB,0,1,10\n\nAbsorbance [405 nm],1,2,3\nA,0.1,0.2,0.4\nB,0.1,OVER,0.5\n";
    const auto r = read(text, "plate.csv", {});
    ASSERT_TRUE(r);
    const Table& t = r->tables.at(0).table;
    std::vector<std::string> names;
    for (const Column& c : t.columns) names.push_back(c.name);
    EXPECT_THAT(names, ElementsAre("well", "row", "column", "Dose", "Absorbance"));
    EXPECT_EQ(t.columns[3].role, Role::X);
    EXPECT_EQ(t.columns[3].unit, "mg/L");
    EXPECT_EQ(t.columns[4].role, Role::Y);
    EXPECT_EQ(t.columns[4].cells->state(4), CellState::Unreadable);
    const auto said = std::ranges::find(r->issues, "unparsed-cells", &Issue::code);
    ASSERT_NE(said, r->issues.end());
    EXPECT_EQ(said->place.line, 7) << "where it stands in the file";
}

TEST(Plates, OtherTablesStay) {
    for (const char* text : {
             "site,1,2,3\nnorth,0.1,0.2,0.4\nsouth,0.1,0.3,0.5\n",     // no letters
             "pan,1,2,3,4,5\nA,1,2,3,4,5\nB,2,3,4,5,6\nC,3,4,5,6,7\n", // of no usual size, alone
             ",1,2,3\nA,1,2,3\nC,2,3,4\n",                             // a gap
             "name,mass,depth\nA,1,2\nB,2,3\n",                        // words above
         })
        EXPECT_FALSE(std::ranges::any_of(read(text, "t.csv", {})->issues, [](const Issue& i) {
            return i.code == "plate";
        })) << text;
    Settings told;
    told.set("plate", "no");
    const auto r = read(",1,2,3\nA,1,2,3\nB,2,3,4\n", "t.csv", told);
    EXPECT_EQ(r->tables[0].table.columns.size(), 4U) << "as it was told";
    told.set("plate", "yes");
    EXPECT_EQ(read("pan,1,2,3,4,5\nA,1,2,3,4,5\nB,2,3,4,5,6\nC,3,4,5,6,7\n", "t.csv", told)
                  ->tables[0]
                  .table.rowCount(),
              15U);
}
