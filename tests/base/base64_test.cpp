// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/base64.h"
#include "support/random.h"

#include <gtest/gtest.h>

using namespace jointer;

// Source: RFC 4648, section 10.
TEST(Base64, TheStandardsExamples) {
    const std::pair<const char*, const char*> examples[] = {{"", ""},
                                                            {"f", "Zg=="},
                                                            {"fo", "Zm8="},
                                                            {"foo", "Zm9v"},
                                                            {"foob", "Zm9vYg=="},
                                                            {"fooba", "Zm9vYmE="},
                                                            {"foobar", "Zm9vYmFy"}};
    for (const auto& [plain, coded] : examples) {
        EXPECT_EQ(base64(plain), coded);
        EXPECT_EQ(fromBase64(coded), plain);
    }
    EXPECT_EQ(fromBase64("Zm9v\n Ym Fy"), "foobar");
    for (const char* wrong : {"Z", "Zm9v!", "Zg==Zg", "Zm9vZ"}) EXPECT_FALSE(fromBase64(wrong)) << wrong;
}

TEST(Base64, AnyBytesThereAndBack) {
    test::Random random(1);
    for (std::size_t n = 0; n < 300; ++n) {
        std::string bytes;
        for (std::size_t k = 0; k < n; ++k) bytes += static_cast<char>(random.below(256));
        EXPECT_EQ(fromBase64(base64(bytes)), bytes);
    }
}
