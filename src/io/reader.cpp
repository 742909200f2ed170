// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/reader.h"

#include "base/files.h"

#include <algorithm>
#include <filesystem>

namespace jointer::io {

const std::vector<ReaderKind>& readerCatalogue() {
    static const std::vector<ReaderKind> all = {
        delimitedReader(), xlsxReader(), odsReader(),    jcampReader(), iso14976Reader(),
        cansasReader(),    cifReader(),  xyeReader(),    npyReader(),   matReader(),
        sqliteReader(),    jsonReader(), netcdfReader(), hdf5Reader()};
    return all;
}

const ReaderKind* findReader(std::string_view key) {
    const auto at = std::ranges::find(readerCatalogue(), key,
                                      [](const ReaderKind& r) -> const std::string& { return r.info.key; });
    return at == readerCatalogue().end() ? nullptr : &*at;
}

Result<ReadResult> read(std::string_view bytes, std::string_view fileName, const Settings& told,
                        const Cancellation& stop) {
    const std::string file(fileName);
    if (bytes.empty()) return failure("empty-file", "The file is empty.", {.file = file});
    const auto sure = [&](const ReaderKind& r) { return r.recognise(bytes.substr(0, 65536), fileName); };
    const ReaderKind& reader = *std::ranges::max_element(readerCatalogue(), {}, sure);
    auto result = reader.read(bytes, told, stop);
    if (!result) {
        result.error().place.file = file;
        return result;
    }
    for (Issue& issue : result->issues) issue.place.file = file;
    for (ReadTable& t : result->tables) {
        if (t.table.name.empty()) t.table.name = std::filesystem::path(file).stem().string();
        t.table.origin.file = file;
        t.table.origin.reader = reader.info.key;
        t.table.origin.encoding = result->encoding;
        t.table.origin.metadata = result->metadata;
    }
    return result;
}

Result<ReadResult> readFileAs(const std::string& path, const Settings& told, const Cancellation& stop) {
    const auto file = MappedFile::open(path);
    if (!file) return std::unexpected(file.error());
    return read(file->bytes(), path, told, stop);
}

} // namespace jointer::io
