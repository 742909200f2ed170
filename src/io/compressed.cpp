// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/compressed.h"

#include "base/text.h"
#include "base/zip.h"

#include <bzlib.h>
#include <cstring>
#include <filesystem>
#include <functional>
#include <lzma.h>
#include <zlib.h>
#include <zstd.h>

namespace jointer::io {

namespace {

constexpr std::size_t kMost = 8ULL << 30;      // bytes unpacked
constexpr std::size_t kTrusted = 256ULL << 20; // up to here any ratio is believed
constexpr std::size_t kMostRatio = 2000;       // of hostile files only
constexpr std::size_t kPiece = 1 << 20;

std::unexpected<Issue> refused(const char* why) {
    return failure("packed", std::string("The packed file cannot be opened: ") + why);
}

bool isPlausible(std::size_t out, std::size_t in) {
    return out <= kMost && (out <= kTrusted || out / kMostRatio <= in);
}

// One step of a decoder: takes from `in`, writes into a piece, says whether the end was reached.
enum class Step { More, End, Damaged };
using Decoder = std::function<Step(std::string_view& in, char* to, std::size_t room, std::size_t& written)>;

Result<std::string> decoded(std::string_view bytes, const Decoder& decode) {
    std::string out;
    std::string_view in = bytes;
    for (;;) {
        const std::size_t before = out.size(), left = in.size();
        out.resize(before + kPiece);
        std::size_t written = 0;
        const Step step = decode(in, out.data() + before, kPiece, written);
        out.resize(before + written);
        if (step == Step::Damaged) return refused("it is damaged.");
        if (!isPlausible(out.size(), bytes.size()))
            return refused("it claims to hold far more than a file can.");
        if (step == Step::End) return out;
        if (written == 0 && in.size() == left) return refused("it is cut short.");
    }
}

// Several gzip streams may follow each other.
Result<std::string> gunzipped(std::string_view bytes) {
    z_stream z{};
    if (inflateInit2(&z, 15 + 32) != Z_OK) return refused("there is no memory for it.");
    auto result = decoded(bytes, [&](std::string_view& in, char* to, std::size_t room, std::size_t& written) {
        z.next_in = reinterpret_cast<Bytef*>(const_cast<char*>(in.data()));
        z.avail_in = static_cast<uInt>(std::min<std::size_t>(in.size(), 1U << 30));
        z.next_out = reinterpret_cast<Bytef*>(to);
        z.avail_out = static_cast<uInt>(room);
        const uInt given = z.avail_in;
        const int done = inflate(&z, Z_NO_FLUSH);
        in.remove_prefix(given - z.avail_in);
        written = room - z.avail_out;
        if (done == Z_STREAM_END) {
            if (!in.starts_with("\x1f\x8b")) return Step::End;
            return inflateReset(&z) == Z_OK ? Step::More : Step::Damaged;
        }
        return done == Z_OK || done == Z_BUF_ERROR ? Step::More : Step::Damaged;
    });
    inflateEnd(&z);
    return result;
}

Result<std::string> bunzipped(std::string_view bytes) {
    bz_stream z{};
    if (BZ2_bzDecompressInit(&z, 0, 0) != BZ_OK) return refused("there is no memory for it.");
    auto result = decoded(bytes, [&](std::string_view& in, char* to, std::size_t room, std::size_t& written) {
        z.next_in = const_cast<char*>(in.data());
        z.avail_in = static_cast<unsigned>(std::min<std::size_t>(in.size(), 1U << 30));
        z.next_out = to;
        z.avail_out = static_cast<unsigned>(room);
        const unsigned given = z.avail_in;
        const int done = BZ2_bzDecompress(&z);
        in.remove_prefix(given - z.avail_in);
        written = room - z.avail_out;
        return done == BZ_STREAM_END ? Step::End : done == BZ_OK ? Step::More : Step::Damaged;
    });
    BZ2_bzDecompressEnd(&z);
    return result;
}

Result<std::string> unxzed(std::string_view bytes) {
    lzma_stream z = LZMA_STREAM_INIT;
    if (lzma_stream_decoder(&z, 1ULL << 30, LZMA_CONCATENATED) != LZMA_OK)
        return refused("there is no memory for it.");
    auto result = decoded(bytes, [&](std::string_view& in, char* to, std::size_t room, std::size_t& written) {
        z.next_in = reinterpret_cast<const std::uint8_t*>(in.data());
        z.avail_in = in.size();
        z.next_out = reinterpret_cast<std::uint8_t*>(to);
        z.avail_out = room;
        const std::size_t given = z.avail_in;
        const lzma_ret done = lzma_code(&z, LZMA_FINISH);
        in.remove_prefix(given - z.avail_in);
        written = room - z.avail_out;
        return done == LZMA_STREAM_END ? Step::End : done == LZMA_OK ? Step::More : Step::Damaged;
    });
    lzma_end(&z);
    return result;
}

Result<std::string> unzstded(std::string_view bytes) {
    const std::unique_ptr<ZSTD_DCtx, decltype(&ZSTD_freeDCtx)> context(ZSTD_createDCtx(), &ZSTD_freeDCtx);
    if (!context) return refused("there is no memory for it.");
    ZSTD_DCtx_setParameter(context.get(), ZSTD_d_windowLogMax, 27); // 128 MB
    return decoded(bytes, [&](std::string_view& in, char* to, std::size_t room, std::size_t& written) {
        ZSTD_inBuffer from{in.data(), in.size(), 0};
        ZSTD_outBuffer into{to, room, 0};
        const std::size_t done = ZSTD_decompressStream(context.get(), &into, &from);
        in.remove_prefix(from.pos);
        written = into.pos;
        if (ZSTD_isError(done)) return Step::Damaged;
        return done == 0 && in.empty() ? Step::End : Step::More;
    });
}

// The only file of an archive; system files of other programs do not count.
Result<std::optional<Unpacked>> unzipped(std::string_view bytes) {
    const auto zip = ZipReader::openBytes(std::string(bytes), "");
    if (!zip) return refused("the archive is damaged.");
    std::vector<std::string> files;
    for (const std::string& name : (*zip)->names())
        if (!name.ends_with('/') && !name.starts_with("__MACOSX/") && !name.ends_with(".DS_Store"))
            files.push_back(name);
    if (files.size() != 1) return std::nullopt;
    auto text = (*zip)->text(files[0]);
    if (!text) return refused("the file in the archive is damaged.");
    return Unpacked{std::move(*text), std::filesystem::path(files[0]).filename().string()};
}

// "pond.csv.gz" → "pond.csv"
std::string withoutEnding(std::string_view fileName) {
    const std::size_t dot = fileName.rfind('.');
    return std::string(dot == fileName.npos || dot == 0 ? fileName : fileName.substr(0, dot));
}

} // namespace

Result<std::optional<Unpacked>> unpacked(std::string_view bytes, std::string_view fileName) {
    using namespace std::string_view_literals;
    if (bytes.starts_with("PK\x03\x04")) return unzipped(bytes);
    Result<std::string> out = bytes.starts_with("\x1f\x8b"sv) ? gunzipped(bytes)
                              : bytes.starts_with("BZh"sv)    ? bunzipped(bytes)
                              : bytes.starts_with("\xFD"
                                                  "7zXZ\0"sv)
                                  ? unxzed(bytes)
                              : bytes.starts_with("\x28\xB5\x2F\xFD"sv) ? unzstded(bytes)
                                                                        : failure("", "");
    if (out) return Unpacked{std::move(*out), withoutEnding(fileName)};
    if (out.error().code.empty()) return std::nullopt;
    return std::unexpected(out.error());
}

} // namespace jointer::io
