// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/base64.h"

#include <array>
#include <cstdint>
#include <span>

namespace jointer {

namespace {

constexpr std::string_view kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

} // namespace

std::string base64(std::string_view text) {
    const std::span bytes(reinterpret_cast<const unsigned char*>(text.data()), text.size());
    std::string out;
    out.reserve(bytes.size() * 4 / 3 + 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        const unsigned n = static_cast<unsigned>(bytes[i]) << 16 |
                           (i + 1 < bytes.size() ? bytes[i + 1] << 8 : 0) |
                           (i + 2 < bytes.size() ? bytes[i + 2] : 0);
        out += kLetters[n >> 18];
        out += kLetters[n >> 12 & 63];
        out += i + 1 < bytes.size() ? kLetters[n >> 6 & 63] : '=';
        out += i + 2 < bytes.size() ? kLetters[n & 63] : '=';
    }
    return out;
}

std::optional<std::string> fromBase64(std::string_view text) {
    static const auto values = [] {
        std::array<std::int8_t, 256> all;
        all.fill(-1);
        for (std::size_t k = 0; k < kLetters.size(); ++k)
            all[static_cast<unsigned char>(kLetters[k])] = static_cast<std::int8_t>(k);
        return all;
    }();
    std::string out;
    out.reserve(text.size() / 4 * 3);
    unsigned bits = 0;
    int count = 0;
    bool ended = false;
    for (const char c : text) {
        if (c == ' ' || c == '\n' || c == '\r' || c == '\t') continue;
        if (c == '=') {
            ended = true;
            continue;
        }
        const int v = values[static_cast<unsigned char>(c)];
        if (v < 0 || ended) return {};
        bits = bits << 6 | static_cast<unsigned>(v);
        count += 6;
        if (count >= 8) {
            count -= 8;
            out += static_cast<char>(bits >> count & 255);
        }
    }
    if (count >= 6) return {}; // a single letter is left
    return out;
}

} // namespace jointer
