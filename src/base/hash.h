// SPDX-License-Identifier: GPL-3.0-or-later
// 128-bit content hashes: the keys under which computed results are remembered.
// Example: `Hasher h; h.add("smooth").add(window).add(std::span(values)); Digest key = h.digest();`
#pragma once

#include <compare>
#include <concepts>
#include <cstdint>
#include <memory>
#include <span>
#include <string>
#include <string_view>

namespace jointer {

struct Digest {
    std::uint64_t high = 0;
    std::uint64_t low = 0;
    auto operator<=>(const Digest&) const = default;
    std::string hex() const; // 32 lower-case digits
    static Digest fromHex(std::string_view text);
};

class Hasher {
public:
    Hasher();
    ~Hasher();
    Hasher(const Hasher&) = delete;
    Hasher& operator=(const Hasher&) = delete;

    Hasher& add(std::string_view text); // with its length, so that "ab"+"c" differs from "a"+"bc"
    Hasher& add(const char* text) { return add(std::string_view(text)); }
    Hasher& add(std::span<const double> values); // bit patterns; the sign of zero and of NaN counts
    Hasher& add(const Digest& digest);
    template <class T>
        requires std::integral<T> || std::floating_point<T>
    Hasher& add(T value) {
        if constexpr (std::floating_point<T>)
            return addBytes(static_cast<double>(value));
        else
            return addBytes(static_cast<std::int64_t>(value));
    }
    Digest digest() const;

private:
    Hasher& addBytes(double value);
    Hasher& addBytes(std::int64_t value);
    Hasher& addRaw(const void* data, std::size_t size);
    struct State;
    std::unique_ptr<State> state_;
};

} // namespace jointer

template <> struct std::hash<jointer::Digest> {
    std::size_t operator()(const jointer::Digest& d) const noexcept {
        return d.low ^ (d.high * 0x9E3779B97F4A7C15ULL);
    }
};
