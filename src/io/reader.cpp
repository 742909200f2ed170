// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/reader.h"

#include "base/files.h"
#include "base/text.h"
#include "io/compressed.h"
#include "io/own_kinds.h"

#include <algorithm>
#include <filesystem>
#include <fmt/format.h>
#include <utility>

namespace jointer::io {

namespace {

Catalogue<ReaderKind>& readers() {
    static Catalogue<ReaderKind> all(
        {delimitedReader(), xlsxReader(), odsReader(), jcampReader(), iso14976Reader(), cansasReader(),
         cifReader(), xyeReader(), npyReader(), npzReader(), matReader(), mat4Reader(), xlsReader(),
         sqliteReader(), jsonReader(), netcdfReader(), hdf5Reader(), ecsvReader(), csvyReader()});
    return all;
}

} // namespace

const Catalogue<ReaderKind>& readerCatalogue() {
    return readers();
}

void addReader(ReaderKind kind) {
    readers().add(std::move(kind));
}

std::vector<Setting> readerSettings() {
    std::vector<Setting> all;
    for (const ReaderKind& reader : readerCatalogue())
        for (const Setting& s : reader.info.settings)
            if (std::ranges::find(all, s.key, &Setting::key) == all.end()) all.push_back(s);
    return all;
}

namespace {

constexpr int kUnknown = 10; // how sure text in columns is of any file

void makeValid(std::string& text, std::size_t& mended) {
    if (isUtf8(text)) return;
    text = validUtf8(text);
    ++mended;
}

// Projects, JSON and the window hold UTF-8 only: a wrong encoding, told or declared, must not get further.
void makeTextsValid(ReadResult& result) {
    std::size_t mended = 0;
    for (auto& [key, value] : result.metadata) {
        makeValid(key, mended);
        makeValid(value, mended);
    }
    for (ReadTable& t : result.tables) {
        makeValid(t.table.name, mended);
        for (auto& [key, value] : t.metadata) {
            makeValid(key, mended);
            makeValid(value, mended);
        }
        for (Column& c : t.table.columns) {
            for (std::string* text : {&c.name, &c.unit, &c.comment}) makeValid(*text, mended);
            const bool bad =
                !std::ranges::all_of(c.cells->texts, [](const std::string& s) { return isUtf8(s); }) ||
                std::ranges::any_of(c.cells->originals, [](const auto& o) { return !isUtf8(o.second); });
            if (!bad) continue;
            Cells cells = *c.cells;
            for (std::string& text : cells.texts) makeValid(text, mended);
            for (auto& [row, text] : cells.originals) makeValid(text, mended);
            c.cells = std::make_shared<Cells>(std::move(cells));
        }
    }
    std::size_t inIssues = 0;
    for (Issue& issue : result.issues) {
        makeValid(issue.text, inIssues);
        makeValid(issue.place.column, inIssues);
    }
    if (mended > 0)
        result.issues.push_back(
            {"not-utf-8",
             fmt::format("{} not valid in the encoding it was read in; what cannot be read "
                         "is shown as �. Choose another encoding.",
                         counted(static_cast<long long>(mended), "text is", "texts are")),
             {}});
}

// The tables are called after the file that was packed.
Result<ReadResult> readInside(const Unpacked& inner, const std::string& file, const Settings& told,
                              const Cancellation& stop) {
    auto result = read(inner.bytes, inner.name, told, stop);
    if (!result) {
        result.error().place.file = file;
        return result;
    }
    for (Issue& issue : result->issues) issue.place.file = file;
    for (ReadTable& t : result->tables) t.table.origin.file = file;
    return result;
}

} // namespace

Result<ReadResult> read(std::string_view bytes, std::string_view fileName, const Settings& told,
                        const Cancellation& stop) {
    const std::string file = validUtf8(fileName);
    if (bytes.empty()) return failure("empty-file", "The file is empty.", {.file = file});
    const auto sure = [&](const ReaderKind& r) { return r.recognise(bytes.substr(0, 65536), fileName); };
    const ReaderKind& reader = *std::ranges::max_element(readerCatalogue(), {}, sure);
    // What no reader knows may be packed: then it is read as what is inside.
    if (sure(reader) <= kUnknown) {
        auto inner = unpacked(bytes, fileName);
        if (!inner) return failure(inner.error().code, inner.error().text, {.file = file});
        if (*inner) return readInside(**inner, file, told, stop);
    }
    auto result = reader.read(bytes, told, stop);
    if (result) makeTextsValid(*result);
    if (!result) {
        result.error().place.file = file;
        return result;
    }
    for (Issue& issue : result->issues) issue.place.file = file;
    if (result->tables.size() == 1)
        std::ranges::move(std::exchange(result->tables[0].metadata, {}),
                          std::back_inserter(result->metadata));
    for (ReadTable& t : result->tables) {
        if (t.table.name.empty()) t.table.name = std::filesystem::path(file).stem().string();
        t.table.origin.file = file;
        t.table.origin.reader = reader.info.key;
        t.table.origin.encoding = result->encoding;
        t.table.origin.metadata = result->metadata;
        std::ranges::copy(t.metadata, std::back_inserter(t.table.origin.metadata));
    }
    return result;
}

Result<ReadResult> readFileAs(const std::string& path, const Settings& told, const Cancellation& stop) {
    const auto file = MappedFile::open(path);
    if (!file) return std::unexpected(file.error());
    return read(file->bytes(), path, told, stop);
}

} // namespace jointer::io
