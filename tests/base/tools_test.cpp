// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/files.h"
#include "base/hash.h"
#include "base/one_thread.h"
#include "base/parallel.h"
#include "base/text.h"

#include <atomic>
#include <bit>
#include <cmath>
#include <gmock/gmock.h>
#include <mutex>
#include <random>
#include <set>
#include <thread>
#include <unistd.h>

using namespace jointer;
using testing::ElementsAre;
namespace fs = std::filesystem;

TEST(Text, TrimmedSplitJoined) {
    EXPECT_EQ(trimmed(" \t a b \r\n"), "a b");
    EXPECT_EQ(trimmed(" \n "), "");
    EXPECT_THAT(split("a,,b,", ','), ElementsAre("a", "", "b", ""));
    EXPECT_THAT(split("", ','), ElementsAre(""));
    EXPECT_EQ(joined({}, "-"), "");
    EXPECT_EQ(joined({"a"}, "-"), "a");
    EXPECT_EQ(joined({"a", "b", "c"}, " – "), "a – b – c");
    EXPECT_EQ(lowerAscii("ÄB-c"), "Äb-c") << "letters beyond ASCII stay";
    EXPECT_TRUE(startsWithNoCase("Sample: 3", "sample"));
    EXPECT_FALSE(startsWithNoCase("Sam", "sample"));
}

TEST(Text, CountsInWords) {
    EXPECT_EQ(counted(1, "point"), "1 point");
    EXPECT_EQ(counted(0, "point"), "0 points");
    EXPECT_EQ(counted(2, "analysis", "analyses"), "2 analyses");
}

TEST(Text, CodePointsThereAndBack) {
    for (char32_t c : {U'a', U'µ', U'ν', U'−', U'\u2009', U'\U0001F9EA', U'\x7F', U'\x80', U'\u07FF',
                       U'\u0800', U'\uFFFF'}) {
        std::string text;
        appendUtf8(text, c);
        EXPECT_TRUE(isUtf8(text));
        EXPECT_EQ(decodeUtf8(text), std::u32string(1, c));
    }
    EXPECT_EQ(decodeUtf8("a\xFFz"), U"a\uFFFDz");
    EXPECT_FALSE(isUtf8("\xC0\xAF")) << "over-long";
    EXPECT_FALSE(isUtf8("\xED\xA0\x80")) << "half of a pair";
}

TEST(Text, WholeNumbersOnly) {
    EXPECT_EQ(parseNumber("1e3"), 1000);
    EXPECT_EQ(parseNumber("+.5"), 0.5);
    for (const char* bad : {"", "1,5", "12a", "e5", "--1", "0x10", "1 2"})
        EXPECT_FALSE(parseNumber(bad)) << bad;
    EXPECT_EQ(shortestNumber(0.1), "0.1");
    EXPECT_EQ(shortestNumber(std::nan("")), "nan");
    EXPECT_EQ(shortestNumber(-INFINITY), "-inf");
}

TEST(Text, RandomNumbersReadBackToTheSameBits) {
    std::mt19937_64 random(4);
    for (int i = 0; i < 20000; ++i) {
        const double v = std::bit_cast<double>(random());
        if (!std::isfinite(v)) continue;
        const auto back = parseNumber(shortestNumber(v));
        ASSERT_TRUE(back) << shortestNumber(v);
        ASSERT_EQ(std::bit_cast<std::uint64_t>(*back), std::bit_cast<std::uint64_t>(v)) << shortestNumber(v);
    }
}

TEST(Hash, HexGoesThereAndBack) {
    const Digest d = Hasher().add("one").add(2.0).digest();
    EXPECT_EQ(d.hex().size(), 32U);
    EXPECT_EQ(Digest::fromHex(d.hex()), d);
    EXPECT_EQ(Digest::fromHex("not hex"), Digest{});
}

TEST(Hash, SeesSignsAndOrder) {
    auto of = [](std::initializer_list<double> v) {
        return Hasher().add(std::span<const double>(v.begin(), v.size())).digest();
    };
    EXPECT_NE(of({0.0}), of({-0.0}));
    EXPECT_NE(of({1, 2}), of({2, 1}));
    EXPECT_NE(of({}), of({0}));
    EXPECT_EQ(of({std::nan("")}), of({std::nan("")}));
    EXPECT_NE(Hasher().add(1).digest(), Hasher().add(1.0).digest()) << "a whole number is not a double";
}

// Every index is visited once, whatever the number of threads; an exception reaches the caller.
TEST(Parallel, VisitsEachIndexOnce) {
    for (int threads : {1, 2, 3}) {
        limitThreads(threads);
        for (std::size_t n : {0U, 1U, 7U, 1000U}) {
            std::vector<std::atomic<int>> visits(n);
            parallelRanges(n, 3, [&](std::size_t from, std::size_t to) {
                for (std::size_t i = from; i < to; ++i) ++visits[i];
            });
            for (std::size_t i = 0; i < n; ++i) ASSERT_EQ(visits[i], 1) << i << " of " << n;
        }
    }
    limitThreads(2);
}

TEST(Files, MappedAndReadAreTheSameBytes) {
    const fs::path folder = fs::temp_directory_path() / ("jointer-files-" + std::to_string(::getpid()));
    fs::create_directories(folder);
    for (const std::string& bytes : {std::string(), std::string("a\0b\xFF", 4), std::string(100000, 'x')}) {
        ASSERT_TRUE(replaceFile(folder / "f", bytes));
        const auto mapped = MappedFile::open(folder / "f");
        ASSERT_TRUE(mapped);
        EXPECT_EQ(mapped->bytes(), bytes);
        EXPECT_EQ(*readFile(folder / "f"), bytes);
    }
    for (const fs::path& path : {folder / "gone", folder}) {
        const auto missing = readFile(path);
        ASSERT_FALSE(missing) << path;
        EXPECT_THAT(missing.error().sentence(), testing::HasSubstr(path.filename().string()));
        EXPECT_FALSE(MappedFile::open(path)) << path;
    }
    EXPECT_FALSE(replaceFile(folder / "no" / "folder", "x"));
    fs::remove_all(folder);
}

TEST(Issue, SaysItsPlace) {
    EXPECT_EQ((Issue{"c", "It is odd.", {}}).sentence(), "It is odd.");
    const std::string s =
        Issue{"c", "It is odd.", {.file = "a.csv", .line = 7, .column = "depth"}}.sentence();
    EXPECT_THAT(s, testing::AllOf(testing::HasSubstr("a.csv"), testing::HasSubstr("7"),
                                  testing::HasSubstr("depth"), testing::HasSubstr("It is odd.")));
}

TEST(OnOneThread, KeepsLoopsTogether) {
    std::set<std::thread::id> threads;
    std::mutex mutex;
    const auto note = [&](std::size_t, std::size_t) {
        const std::lock_guard lock(mutex);
        threads.insert(std::this_thread::get_id());
    };
    {
        const OnOneThread alone;
        EXPECT_TRUE(isOnOneThread());
        { const OnOneThread again; }
        EXPECT_TRUE(isOnOneThread());
        for (int k = 0; k < 20; ++k) parallelRanges(1000, 1, note);
        bool other = true;
        std::thread([&] { other = isOnOneThread(); }).join();
        EXPECT_FALSE(other);
    }
    EXPECT_FALSE(isOnOneThread());
    EXPECT_EQ(threads, std::set{std::this_thread::get_id()});
}
