// SPDX-License-Identifier: GPL-3.0-or-later
// Numbers as people read them: what is shown, read back, is the number to as many digits as were promised;
// dates by another calendar; bytes that are no text.
#include "base/text.h"
#include "support/random.h"

#include <chrono>
#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <gtest/gtest.h>

using namespace jointer;
using test::Random;

namespace {

struct Read {
    double value;
    int significant, decimals;
    bool power;
};

// A text for people as a program would write it.
Read readBack(std::string text) {
    const auto replace = [&](std::string_view from, std::string_view to) {
        for (std::size_t at = text.find(from); at != std::string::npos; at = text.find(from, at))
            text.replace(at, from.size(), to);
    };
    replace("\u2009", "");
    replace("−", "-");
    const std::size_t ten = text.find(" × 10");
    std::string exponent = ten == std::string::npos ? "" : text.substr(ten + std::string(" × 10").size());
    text = text.substr(0, ten);
    std::string plain;
    for (const char32_t c : decodeUtf8(exponent)) {
        static const std::u32string raised = U"⁰¹²³⁴⁵⁶⁷⁸⁹";
        const std::size_t digit = raised.find(c);
        plain += c == U'⁻' ? '-' : static_cast<char>('0' + digit);
    }
    const std::size_t point = text.find('.');
    std::string digits;
    for (char c : text)
        if (c >= '0' && c <= '9') digits += c;
    digits.erase(0, std::min(digits.find_first_not_of('0'), digits.size()));
    return {std::strtod((text + (plain.empty() ? "" : "e" + plain)).c_str(), nullptr),
            static_cast<int>(digits.size()),
            point == std::string::npos ? 0 : static_cast<int>(text.size() - point - 1), !plain.empty()};
}

double rounded(double value, int significant) {
    return std::strtod(fmt::format("{:.{}e}", value, significant - 1).c_str(), nullptr);
}

} // namespace

TEST(ReadableNumber, IsTheNumberToItsDigits) {
    Random random(1);
    for (int round = 0; round < 20000; ++round) {
        const double value =
            random.below(5) == 0 ? std::round(random.ofAnySize(0, 9)) : random.ofAnySize(-20, 20);
        const int significant = 1 + static_cast<int>(random.below(8));
        const std::string text = readableNumber(value, significant);
        const Read back = readBack(text);
        // Whole numbers below the power of ten keep their digits.
        const double wanted = std::abs(value) < 1e7 && std::abs(value) >= std::pow(10, significant)
                                  ? std::round(value)
                                  : rounded(value, significant);
        EXPECT_NEAR(back.value, wanted, 1e-12 * std::abs(wanted))
            << text << " for " << value << ", " << significant;
        EXPECT_EQ(back.power, text.find("×") != std::string::npos);
        if (back.power) {
            EXPECT_TRUE(std::abs(value) < 1.01e-4 || std::abs(value) >= 0.99e7) << text;
        }
    }
    EXPECT_EQ(readableNumber(0), "0");
    EXPECT_EQ(readableNumber(-0.0), "0");
}

// The error has two significant digits, and the value ends where the error does.
TEST(ReadableWithError, TheErrorDecidesWhereBothEnd) {
    Random random(2);
    for (int round = 0; round < 20000; ++round) {
        const double value = random.ofAnySize(-12, 12),
                     error = std::abs(value) * std::pow(10, random.between(-6, 1));
        const ValueText shown = readableWithError(value, error);
        const Read v = readBack(shown.value), e = readBack(shown.error);
        const std::string where =
            shown.value + " ± " + shown.error + fmt::format(" for {} and {}", value, error);
        EXPECT_EQ(v.power, e.power) << where;
        EXPECT_EQ(v.decimals, e.decimals) << where;
        // Two digits of the error, or whole numbers of a large one.
        const bool whole = e.decimals == 0 && !e.power && error >= 9.5;
        EXPECT_NEAR(e.value, whole ? std::round(error) : rounded(error, 2), 1e-9 * error) << where;
        if (!whole && e.decimals < 12) {
            EXPECT_EQ(e.significant, 2) << where;
        }
        const double unit = e.value / std::pow(10, e.significant - 1); // of the last place shown
        EXPECT_LE(std::abs(v.value - value), 0.51 * std::max(unit, 1e-12 * std::abs(value))) << where;
    }
    for (const double none : {0.0, -1.0, double{NAN}, double{INFINITY}})
        EXPECT_TRUE(readableWithError(2.5, none).error.empty());
    EXPECT_TRUE(readableWithError(NAN, 1).error.empty());
}

// The calendar of the standard library.
TEST(ParseIsoTime, IsTheCalendar) {
    Random random(3);
    using namespace std::chrono;
    for (int round = 0; round < 5000; ++round) {
        const auto day = sys_days{days{static_cast<int>(random.between(-200000, 200000))}};
        const year_month_day date{day};
        const int h = static_cast<int>(random.below(24)), m = static_cast<int>(random.below(60)),
                  s = static_cast<int>(random.below(60));
        const std::string iso =
            fmt::format("{:04}-{:02}-{:02}", static_cast<int>(date.year()),
                        static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()));
        const auto midnight = static_cast<double>(day.time_since_epoch().count()) * 86400;
        EXPECT_EQ(parseIsoTime(iso), midnight) << iso;
        EXPECT_EQ(parseIsoTime(iso + fmt::format(" {:02}:{:02}", h, m)), midnight + 3600 * h + 60 * m) << iso;
        EXPECT_EQ(parseIsoTime(iso + fmt::format("T{:02}:{:02}:{:02}.5", h, m, s)),
                  midnight + 3600 * h + 60 * m + s + 0.5)
            << iso;
    }
    for (const char* none : {"", "2031", "2031-13-01", "2031-02-29", "2031-00-10", "2031-01-32",
                             "2031-05-02 24:00", "2031-05-02 10:60", "2031-05-02T10:00:61", "2031/05/02",
                             "31-05-02", "2031-05-02 6:30", "2031-05-02x"})
        EXPECT_EQ(parseIsoTime(none), std::nullopt) << none;
    EXPECT_TRUE(parseIsoTime("2032-02-29").has_value()) << "a leap year";
}

// As the C library reads it, where that takes the whole text.
TEST(ParseNumber, AgreesWithTheCLibrary) {
    Random random(4);
    const std::string letters = "0123456789.e-+ ";
    for (int round = 0; round < 100000; ++round) {
        std::string text;
        for (std::size_t k = 1 + random.below(8); k > 0; --k) text += letters[random.below(letters.size())];
        char* end = nullptr;
        const double wanted = std::strtod(text.c_str(), &end);
        const bool whole = end == text.c_str() + text.size() && text.front() != ' ';
        const auto found = parseNumber(text);
        if (text.find(' ') != std::string::npos) continue; // blanks about it are a matter of the reader
        EXPECT_EQ(found.has_value(), whole) << "“" << text << "”";
        if (found && whole) {
            EXPECT_EQ(*found, wanted) << text;
        }
    }
}

TEST(Utf8, AnyBytesBecomeText) {
    Random random(5);
    for (int round = 0; round < 20000; ++round) {
        std::string bytes;
        for (std::size_t k = random.below(12); k > 0; --k) {
            if (random.below(3) == 0)
                appendUtf8(bytes, static_cast<char32_t>(random.below(0x110000)));
            else
                bytes += static_cast<char>(random.below(256));
        }
        const std::string text = validUtf8(bytes);
        EXPECT_TRUE(isUtf8(text));
        EXPECT_EQ(validUtf8(text), text) << "once is enough";
        if (isUtf8(bytes)) {
            EXPECT_EQ(text, bytes);
            std::string again;
            for (const char32_t c : decodeUtf8(bytes)) appendUtf8(again, c);
            EXPECT_EQ(again, bytes);
        }
    }
}
