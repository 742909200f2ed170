// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/hash.h"

#include <charconv>
#include <fmt/format.h>
#include <xxhash.h>

namespace jointer {

struct Hasher::State {
    XXH3_state_t* xxh = XXH3_createState();
    State() { XXH3_128bits_reset(xxh); }
    ~State() { XXH3_freeState(xxh); }
    State(const State&) = delete;
    State& operator=(const State&) = delete;
};

Hasher::Hasher() : state_(std::make_unique<State>()) {}
Hasher::~Hasher() = default;

Hasher& Hasher::addRaw(const void* data, std::size_t size) {
    XXH3_128bits_update(state_->xxh, data, size);
    return *this;
}

Hasher& Hasher::add(std::string_view text) {
    addBytes(static_cast<std::int64_t>(text.size()));
    return addRaw(text.data(), text.size());
}

Hasher& Hasher::add(std::span<const double> values) {
    addBytes(static_cast<std::int64_t>(values.size()));
    return addRaw(values.data(), values.size_bytes());
}

Hasher& Hasher::add(const Digest& digest) {
    addBytes(static_cast<std::int64_t>(digest.high));
    return addBytes(static_cast<std::int64_t>(digest.low));
}

Hasher& Hasher::addBytes(double value) {
    return addRaw(&value, sizeof value);
}
Hasher& Hasher::addBytes(std::int64_t value) {
    return addRaw(&value, sizeof value);
}

Digest Hasher::digest() const {
    const XXH128_hash_t h = XXH3_128bits_digest(state_->xxh);
    return {h.high64, h.low64};
}

std::string Digest::hex() const {
    return fmt::format("{:016x}{:016x}", high, low);
}

Digest Digest::fromHex(std::string_view text) {
    Digest d;
    if (text.size() != 32) return d;
    std::from_chars(text.data(), text.data() + 16, d.high, 16);
    std::from_chars(text.data() + 16, text.data() + 32, d.low, 16);
    return d;
}

} // namespace jointer
