// SPDX-License-Identifier: GPL-3.0-or-later
// NPZ: a zip of NPY arrays by name. Arrays of one dimension and one length are columns of one table.
#include "base/zip.h"
#include "io/formats/made_table.h"

namespace jointer::io {

namespace {

constexpr std::string_view kEnding = ".npy";

Result<ReadResult> readNpz(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    const auto zip = ZipReader::openBytes(std::string(bytes), "");
    if (!zip) return failure("npz", "The archive of arrays is damaged.");
    ReadResult out{.format = "npz"};
    ArrayTables arrays;
    for (const std::string& entry : (*zip)->names()) {
        if (stop.stop_requested()) return failure("stopped", "Reading was stopped.");
        if (!entry.ends_with(kEnding)) continue;
        const std::string name = entry.substr(0, entry.size() - kEnding.size());
        const auto array = (*zip)->text(entry);
        auto read =
            array ? npyReader().read(*array, told, stop) : failure("npz", "it is damaged or cut short.");
        if (!read) {
            out.issues.push_back(
                {"array-skipped", "The array “" + name + "” was left out: " + read.error().text, {}});
            continue;
        }
        std::ranges::move(read->issues, std::back_inserter(out.issues));
        ReadTable& t = read->tables.front();
        if (arrays.join(t.table.columns, name)) continue;
        t.table.name = name;
        arrays.add(std::move(t));
    }
    out.tables = arrays.finish(out.issues);
    if (out.tables.empty()) return failure("empty-file", "The archive holds no array that can be read.");
    return out;
}

} // namespace

ReaderKind npzReader() {
    return {.info = {.key = "npz", .name = "NPZ", .purpose = "Several arrays of numbers by name"},
            .endings = {"npz"},
            .recognise =
                [](std::string_view head, std::string_view) {
                    if (!head.starts_with("PK\x03\x04") || head.size() < 30) return 0;
                    const std::size_t length =
                        static_cast<unsigned char>(head[26]) + 256U * static_cast<unsigned char>(head[27]);
                    return head.substr(30, length).ends_with(kEnding) ? 96 : 0;
                },
            .read = readNpz};
}

} // namespace jointer::io
