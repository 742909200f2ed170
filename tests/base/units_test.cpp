// SPDX-License-Identifier: GPL-3.0-or-later
// Units: spellings against an independent program of definitions (tools/unit_references), laws of their
// algebra over random products, and what must not be mistaken.
#include "base/text.h"
#include "base/unit_text.h"
#include "base/units.h"
#include "support/random.h"

#include <fmt/format.h>
#include <fstream>
#include <gtest/gtest.h>

using namespace jointer;

namespace {

Unit unit(std::string_view text) {
    auto read = Unit::parse(text);
    EXPECT_TRUE(read) << text << (read ? "" : ": " + read.error().text);
    return read ? *read : Unit();
}

} // namespace

TEST(Units, SpellingsMeanWhatTheyDoElsewhere) {
    std::ifstream file(JOINTER_SOURCE_DIR "/tests/data_files/units/spellings.tsv");
    std::string line;
    std::getline(file, line);
    int count = 0;
    while (std::getline(file, line)) {
        const auto parts = split(line, '\t');
        ASSERT_EQ(parts.size(), 3U) << line;
        const Unit read = unit(parts[0]), base = unit(parts[2]);
        const double expected = *parseNumber(parts[1]);
        EXPECT_EQ(read.dimension(), base.dimension()) << line;
        EXPECT_NEAR(read.inBase(), expected, 3e-9 * expected)
            << line; // constants of atoms have been measured anew
        const auto factor = conversion(read, base);
        ASSERT_TRUE(factor) << line;
        EXPECT_NEAR(*factor, expected, 3e-9 * expected) << line;
        // What it writes it reads again.
        const Unit again = unit(read.text());
        EXPECT_EQ(again.dimension(), read.dimension()) << line << " as " << read.text();
        EXPECT_NEAR(again.inBase(), read.inBase(), 1e-12 * read.inBase()) << line << " as " << read.text();
        ++count;
    }
    EXPECT_GE(count, 260);
}

TEST(Units, WordsThatAreNotKnownStandForThemselves) {
    EXPECT_EQ(unit("shells").dimension(), (Dimension{{"shells", 1}}));
    EXPECT_EQ(unit("shells/m2").dimension(), (Dimension{{"m", -2}, {"shells", 1}}));
    EXPECT_EQ(unit("pH").dimension(), (Dimension{{"pH", 1}}));
    EXPECT_EQ(unit("mg CaCO3/L").dimension(), (Dimension{{"CaCO3", 1}, {"kg", 1}, {"m", -3}}));
    EXPECT_EQ(unit("a.u.").text(), "a.u.");
    EXPECT_TRUE(unit("").isNone());
    EXPECT_TRUE(unit(" – ").isNone());
    EXPECT_TRUE(unit("g/100 g").isRatio());
    EXPECT_FALSE(Unit::parse("mg/"));
    EXPECT_FALSE(Unit::parse("mg/(L"));
    const auto bad = Unit::parse("mg/(L");
    EXPECT_EQ(bad.error().place.sign, 6);
}

TEST(Units, AreWrittenAsPeopleWriteThem) {
    const std::pair<const char*, const char*> cases[] = {{"mg L-1", "mg/L"},
                                                         {"J mol^-1 K^-1", "J/(mol K)"},
                                                         {"h-1", "1/h"},
                                                         {"um", "µm"},
                                                         {"m2/s", "m^{2}/s"},
                                                         {"s^-2", "1/s^{2}"},
                                                         {"degC", "°C"},
                                                         {"hours", "h"},
                                                         {"V/Hz^(1/2)", "V/Hz^{1/2}"},
                                                         {"nm nm", "nm^{2}"},
                                                         {"m/m", ""},
                                                         {"kg m2 s-2", "kg m^{2}/s^{2}"}};
    for (const auto& [typed, shown] : cases) EXPECT_EQ(unit(typed).text(), shown) << typed;
}

TEST(Units, ScalesOfTemperature) {
    const auto toKelvin = affineConversion(unit("°C"), unit("K"));
    ASSERT_TRUE(toKelvin);
    EXPECT_DOUBLE_EQ(20 * toKelvin->first + toKelvin->second, 293.15);
    const auto toCelsius = affineConversion(unit("°F"), unit("°C"));
    ASSERT_TRUE(toCelsius);
    EXPECT_NEAR(98.6 * toCelsius->first + toCelsius->second, 37, 1e-12);
    EXPECT_FALSE(conversion(unit("°C"), unit("K"))) << "a factor alone is not enough";
    EXPECT_EQ(conversion(unit("mV/°C"), unit("mV/K")), 1.0) << "of differences it is";
    EXPECT_FALSE(affineConversion(unit("°C"), unit("m")));
}

TEST(Units, WhatMeasuresTheSameIsGathered) {
    const auto litres = unit("mg mL/L").gathered();
    EXPECT_EQ(litres.unit.text(), "mg");
    EXPECT_DOUBLE_EQ(litres.scale, 1e-3);
    const auto minutes = unit("mg min/(L h)").gathered();
    EXPECT_EQ(minutes.unit.text(), "mg/L");
    EXPECT_NEAR(minutes.scale, 1 / 60.0, 1e-15);
    EXPECT_EQ(unit("%").gathered().unit.text(), "%") << "alone it stays";
}

// (a·b)/b = a, conversions undo and follow each other, whatever is multiplied.
TEST(Units, KeepTheLawsOfTheirAlgebra) {
    const char* some[] = {"mg", "L",   "h", "min",    "µmol", "cm", "nm", "K",
                          "kJ", "mol", "V", "shells", "d",    "g",  "ft"};
    test::Random random(7);
    for (int trial = 0; trial < 400; ++trial) {
        const auto product = [&] {
            Unit out;
            for (std::size_t k = 0, n = 1 + random.below(4); k < n; ++k)
                out = out.times(unit(some[random.below(15)]), static_cast<double>(random.below(7)) - 3);
            return out;
        };
        const Unit a = product(), b = product();
        const Unit back = a.times(b).times(b, -1);
        EXPECT_EQ(back.dimension(), a.dimension()) << a.text() << " and " << b.text();
        EXPECT_NEAR(back.inBase() / a.inBase(), 1, 1e-12);
        const Unit again = unit(a.text());
        EXPECT_EQ(again.dimension(), a.dimension()) << a.text();
        const auto [gathered, scale] = a.gathered();
        const auto factor = conversion(a, gathered);
        ASSERT_TRUE(factor) << a.text() << " → " << gathered.text();
        EXPECT_NEAR(*factor / scale, 1, 1e-12) << a.text() << " → " << gathered.text();
        EXPECT_NEAR(*factor * *conversion(gathered, a), 1, 1e-12);
    }
}

// No text makes the reader fail otherwise than by saying so.
TEST(Units, AnyTextIsReadOrRefused) {
    const std::string signs = "mgLhs/()[]^{}-+123. ·⁻¹²*µ%°CKJ";
    const auto all = decodeUtf8(signs);
    test::Random random(11);
    for (int trial = 0; trial < 20000; ++trial) {
        std::string text;
        for (std::size_t k = 0, n = random.below(13); k < n; ++k)
            appendUtf8(text, all[random.below(all.size())]);
        const auto read = Unit::parse(text);
        if (!read) {
            EXPECT_GT(read.error().place.sign, 0) << text;
            continue;
        }
        const auto again = Unit::parse(read->text());
        ASSERT_TRUE(again) << text << " as " << read->text();
    }
}

// The units that steps and models put together mean the product and the quotient of both.
TEST(Units, TextsThatArePutTogetherMeanTheProduct) {
    const char* some[] = {"mg/L", "h", "cm^{-1}", "µmol", "J/(mol K)", "V", "1/s", "m2"};
    for (const char* a : some)
        for (const char* b : some) {
            const Unit expected = unit(a).times(unit(b)), read = unit(multipliedUnits(a, b));
            EXPECT_EQ(read.dimension(), expected.dimension()) << multipliedUnits(a, b);
            EXPECT_NEAR(read.inBase() / expected.inBase(), 1, 1e-12) << multipliedUnits(a, b);
            const std::string over = std::string(a) + "/" + bracketedUnit(b);
            EXPECT_EQ(unit(over).dimension(), unit(a).times(unit(b), -1).dimension()) << over;
            EXPECT_EQ(unit(bracketedUnit(a) + "^2").dimension(), unit(a).raised(2).dimension()) << a;
        }
}
