// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/files.h"
#include "base/hash.h"
#include "base/ids.h"
#include "base/text.h"
#include "support/failing_files.h"

#include <cmath>
#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <random>

using namespace jointer;

TEST(Text, ReadableNumbers) {
    const std::pair<double, const char*> all[] = {{0, "0"},
                                                  {1.5, "1.5"},
                                                  {-2, "−2"},
                                                  {12345.678, "12\u2009346"},
                                                  {1234.5, "1234.5"},
                                                  {1e-5, "1 × 10⁻⁵"},
                                                  {1.25e8, "1.25 × 10⁸"},
                                                  {0.00123, "0.00123"},
                                                  {INFINITY, "∞"}};
    for (const auto& [value, text] : all) EXPECT_EQ(readableNumber(value), text);
}

TEST(Text, ErrorsDecideTheDigits) {
    const auto shown = [](double v, double e) {
        const ValueText t = readableWithError(v, e);
        return t.value + " ± " + t.error;
    };
    EXPECT_EQ(shown(706.8123, 0.0613), "706.812 ± 0.061");
    EXPECT_EQ(shown(1398.2, 21.3), "1398 ± 21");
    EXPECT_EQ(shown(-0.5, 0.25), "−0.50 ± 0.25");
    EXPECT_EQ(shown(3.21e-7, 4e-9), "3.210 × 10⁻⁷ ± 0.040 × 10⁻⁷");
}

TEST(Text, ShortestNumbersReadBackExactly) {
    std::mt19937_64 random(3);
    for (int i = 0; i < 20000; ++i) {
        const double v = std::bit_cast<double>(random());
        if (!std::isfinite(v)) continue;
        EXPECT_EQ(parseNumber(shortestNumber(v)).value(), v);
    }
}

TEST(Text, NumbersOfPeople) {
    EXPECT_EQ(parseNumber(" +1.5 "), 1.5);
    EXPECT_EQ(parseNumber("−3"), -3);
    EXPECT_FALSE(parseNumber("1.5 mm"));
    EXPECT_FALSE(parseNumber(""));
    EXPECT_FALSE(parseNumber("+"));
}

TEST(Text, Utf8IsChecked) {
    EXPECT_TRUE(isUtf8("µ√ü€𝛼"));
    for (const char* bad : {"\xff", "\xc3", "a\x80", "\xe2\x82", "\xc0\xaf", "\xed\xa0\x80"})
        EXPECT_FALSE(isUtf8(bad));
    std::string back;
    for (char32_t c : decodeUtf8("a µ € 𝛼")) appendUtf8(back, c);
    EXPECT_EQ(back, "a µ € 𝛼");
}

TEST(Ids, TextAndBack) {
    EXPECT_EQ(DatasetId{12}.text(), "d12");
    EXPECT_EQ(DatasetId::fromText("d12"), DatasetId{12});
    for (const char* bad : {"t12", "d", "d1x", "", "d-1"})
        EXPECT_EQ(DatasetId::fromText(bad), DatasetId{}) << bad;
}

TEST(Hash, SeparatesNeighbours) {
    EXPECT_NE(Hasher().add("ab").add("c").digest(), Hasher().add("a").add("bc").digest());
    EXPECT_NE(Hasher().add(0.0).digest(), Hasher().add(-0.0).digest());
    const Digest d = Hasher().add(1.5).digest();
    EXPECT_EQ(Digest::fromHex(d.hex()), d);
}

// Makes every call of a replacement fail in turn; the old or the new content must be there, whole.
TEST(Files, AFailedReplacementLeavesTheOldFile) {
    const auto folder = std::filesystem::temp_directory_path() / "jointer-replace";
    std::filesystem::create_directories(folder);
    const auto path = folder / "file";
    int failures = 0;
    for (int at = 0; at < 20; ++at) {
        ASSERT_TRUE(replaceFile(path, "old content"));
        test::FailingFiles files(at);
        const auto done = replaceFile(path, "new content", files);
        EXPECT_EQ(done.has_value(), !files.failed);
        const std::string now = *readFile(path);
        EXPECT_TRUE(now == "old content" || now == "new content") << now;
        EXPECT_EQ(done.has_value() ? now : "new content", "new content");
        EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder), {}), 1)
            << "a temporary file was left";
        failures += files.failed;
    }
    EXPECT_EQ(failures, 6);
    std::filesystem::remove_all(folder);
}
