// SPDX-License-Identifier: GPL-3.0-or-later
// Files that nobody here wrote: random tables in random dialects. JOINTER_TABLES=20000 JOINTER_FIRST=1 takes
// others; JOINTER_SHOW=5 prints the smallest tables of each kind that are not right.
#include "table_generator.h"

#include "base/parallel.h"

#include <gtest/gtest.h>

namespace jointer {
namespace {

using namespace test;

unsigned number(const char* name, unsigned fallback) {
    const char* text = std::getenv(name);
    return text ? static_cast<unsigned>(std::strtoul(text, nullptr, 10)) : fallback;
}

TEST(GeneratedTables, AreReadRightOrWithAWarning) {
    const unsigned first = number("JOINTER_FIRST", 1), count = number("JOINTER_TABLES", 1000),
                   show = number("JOINTER_SHOW", 2);
    std::vector<Judged> all(count);
    parallelRanges(count, 16, [&](std::size_t begin, std::size_t end) {
        for (std::size_t k = begin; k < end; ++k)
            all[k] = judged(madeTable(first + static_cast<unsigned>(k)));
    });
    unsigned counts[4] = {}, shown[4] = {};
    for (unsigned k = 0; k < count; ++k) {
        const int kind = static_cast<int>(all[k].outcome);
        ++counts[kind];
        if (kind == 0 || shown[kind]++ >= show) continue;
        const MadeTable least = shrunk(madeTable(first + k), all[k].outcome);
        std::printf("seed %u, %s: %s (at first: %s) [%s, line end %d, %s]\n%s\n", first + k,
                    kind == 1   ? "right, but warned"
                    : kind == 2 ? "wrong, with a warning"
                                : "wrong without a word",
                    judged(least).why.c_str(), all[k].why.c_str(), least.encoding.c_str(),
                    least.lineEnd.back(), least.lastLineEnds ? "ended" : "not ended", least.text().c_str());
    }
    std::printf("%u tables: %.2f %% right, %.2f %% right but warned, %.2f %% wrong with a warning, %.2f %% "
                "wrong without a word\n",
                count, 100.0 * counts[0] / count, 100.0 * counts[1] / count, 100.0 * counts[2] / count,
                100.0 * counts[3] / count);
    EXPECT_GE(counts[0] + counts[1], 0.99 * count);
    EXPECT_LE(counts[3], 0.002 * count);
    EXPECT_LE(counts[1], 0.03 * count);
}

} // namespace
} // namespace jointer
