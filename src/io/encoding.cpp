// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/encoding.h"

#include "base/parallel.h"
#include "base/text.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <fmt/format.h>

namespace jointer::io {

namespace {

// Windows-1252 where it differs from Latin-1 (0x80…0x9F); zero: not assigned.
constexpr std::array<char16_t, 32> kWindows = {
    0x20AC, 0,      0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021, 0x02C6, 0x2030, 0x0160,
    0x2039, 0x0152, 0,      0x017D, 0,      0,      0x2018, 0x2019, 0x201C, 0x201D, 0x2022,
    0x2013, 0x2014, 0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0,      0x017E, 0x0178};

std::string fromSingleByte(std::string_view bytes, bool windows) {
    std::string out;
    out.reserve(bytes.size() + bytes.size() / 8);
    for (char c : bytes) {
        const auto b = static_cast<unsigned char>(c);
        const char16_t mapped = windows && b >= 0x80 && b < 0xA0 ? kWindows[b - 0x80] : b;
        appendUtf8(out, mapped == 0 ? U'\uFFFD' : mapped);
    }
    return out;
}

std::string fromUtf16(std::string_view bytes, bool bigEndian) {
    std::string out;
    out.reserve(bytes.size() / 2);
    auto unit = [&](std::size_t i) {
        const auto a = static_cast<unsigned char>(bytes[i]), b = static_cast<unsigned char>(bytes[i + 1]);
        return static_cast<char32_t>(bigEndian ? a << 8 | b : b << 8 | a);
    };
    for (std::size_t i = 0; i + 1 < bytes.size(); i += 2) {
        char32_t c = unit(i);
        const bool lead = c >= 0xD800 && c < 0xDC00;
        const char32_t next = lead && i + 3 < bytes.size() ? unit(i + 2) : 0;
        if (next >= 0xDC00 && next < 0xE000) {
            c = 0x10000 + ((c - 0xD800) << 10) + (next - 0xDC00);
            i += 2;
        } else if (c >= 0xD800 && c < 0xE000)
            c = U'\uFFFD';
        appendUtf8(out, c);
    }
    return out;
}

// Text of single bytes written as 16-bit units has a zero in nearly every second byte.
std::string_view guessUtf16(std::string_view bytes) {
    const std::size_t n = std::min<std::size_t>(bytes.size(), 4096) & ~std::size_t{1};
    if (n < 8) return {};
    std::size_t even = 0, odd = 0;
    for (std::size_t i = 0; i < n; ++i)
        if (bytes[i] == 0) ++(i % 2 == 0 ? even : odd);
    if (odd * 10 > n * 4 && even * 20 < n) return "utf-16le";
    if (even * 10 > n * 4 && odd * 20 < n) return "utf-16be";
    return {};
}

bool looksBinary(std::string_view bytes) {
    const std::string_view head = bytes.substr(0, 65536);
    const auto control = std::ranges::count_if(head, [](char c) {
        return static_cast<unsigned char>(c) < 32 && c != '\n' && c != '\r' && c != '\t' && c != '\f' &&
               c != 0x1A && c != '\v' && c != 0;
    });
    return static_cast<std::size_t>(control) * 50 > head.size();
}

// In parts that begin with a whole character.
bool isUtf8InParts(std::string_view bytes) {
    constexpr std::size_t part = 4 << 20;
    auto cut = [&](std::size_t at) {
        at = std::min(at, bytes.size());
        for (int back = 0; back < 3 && at > 0 && at < bytes.size() && (bytes[at] & 0xC0) == 0x80; ++back)
            --at;
        return at;
    };
    std::atomic<bool> good = true;
    parallelRanges(bytes.size() / part + 1, 1, [&](std::size_t from, std::size_t to) {
        for (std::size_t k = from; k < to && good; ++k)
            if (const std::size_t a = cut(k * part); !isUtf8(bytes.substr(a, cut((k + 1) * part) - a)))
                good = false;
    });
    return good;
}

std::string_view guess(std::string_view bytes) {
    if (bytes.starts_with("\xEF\xBB\xBF")) return "utf-8-bom";
    if (bytes.starts_with("\xFF\xFE")) return "utf-16le";
    if (bytes.starts_with("\xFE\xFF")) return "utf-16be";
    if (const auto wide = guessUtf16(bytes); !wide.empty()) return wide;
    if (isUtf8InParts(bytes)) return "utf-8";
    const bool windows = std::ranges::any_of(bytes, [](char c) {
        return static_cast<unsigned char>(c) >= 0x80 && static_cast<unsigned char>(c) < 0xA0;
    });
    return windows ? "windows-1252" : "iso-8859-1";
}

} // namespace

bool holdsByte(std::string_view bytes, char wanted) {
    constexpr std::size_t part = 4 << 20;
    std::atomic<bool> found = false;
    parallelRanges(bytes.size() / part + 1, 1, [&](std::size_t from, std::size_t to) {
        for (std::size_t k = from; k < to && !found; ++k)
            if (bytes.substr(k * part, part).find(wanted) != std::string_view::npos) found = true;
    });
    return found;
}

Result<void> decode(std::string_view bytes, std::string_view forced, DecodedText& out) {
    out.encoding = std::string(forced.empty() ? guess(bytes) : forced);
    const bool wide = out.encoding.starts_with("utf-16");
    if (!wide && looksBinary(bytes))
        return failure("not-text", "This is not a text file, and no other format that is known here.");
    if (out.encoding == "utf-8" || out.encoding == "utf-8-bom") {
        out.text = bytes.starts_with("\xEF\xBB\xBF") ? bytes.substr(3) : bytes;
        return {};
    }
    if (wide)
        out.converted = fromUtf16(
            bytes.starts_with("\xFF\xFE") || bytes.starts_with("\xFE\xFF") ? bytes.substr(2) : bytes,
            out.encoding == "utf-16be");
    else if (out.encoding == "windows-1252" || out.encoding == "iso-8859-1")
        out.converted = fromSingleByte(bytes, out.encoding == "windows-1252");
    else
        return failure("encoding", fmt::format("The encoding “{}” is not known; there are utf-8, utf-16le, "
                                               "utf-16be, windows-1252, iso-8859-1.",
                                               forced));
    out.text = out.converted;
    return {};
}

} // namespace jointer::io
