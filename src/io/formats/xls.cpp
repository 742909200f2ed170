// SPDX-License-Identifier: GPL-3.0-or-later
// XLS, the old binary workbook, by a library for it in a process of its own: damaged files must not harm
// this one. What it knows of a cell is its value; dates come by their formats.
#include "base/files.h"
#include "base/isolated.h"
#include "base/text.h"
#include "io/spreadsheet.h"

#include <chrono>
#include <cstring>
#include <filesystem>
#include <fmt/format.h>
#include <freexl.h>
#include <nlohmann/json.hpp>
#include <unistd.h>

namespace jointer::io {

namespace {

using Json = nlohmann::ordered_json;

constexpr std::string_view kMagic("\xD0\xCF\x11\xE0\xA1\xB1\x1A\xE1", 8);
constexpr auto kLimit = std::chrono::seconds(60);

std::string textOf(const FreeXL_CellValue& cell) {
    switch (cell.type) {
    case FREEXL_CELL_INT:
        return std::to_string(cell.value.int_value);
    case FREEXL_CELL_DOUBLE:
        return shortestNumber(cell.value.double_value);
    case FREEXL_CELL_TEXT:
    case FREEXL_CELL_SST_TEXT:
    case FREEXL_CELL_DATE:
    case FREEXL_CELL_DATETIME:
    case FREEXL_CELL_TIME:
        return cell.value.text_value ? cell.value.text_value : "";
    default:
        return {};
    }
}

Json cellsOf(const void* book) {
    unsigned rows = 0;
    unsigned short columns = 0;
    Json list = Json::array();
    if (freexl_worksheet_dimensions(book, &rows, &columns) != FREEXL_OK) return list;
    for (unsigned r = 0; r < rows; ++r)
        for (unsigned short c = 0; c < columns; ++c) {
            FreeXL_CellValue cell;
            if (freexl_get_cell_value(book, r, c, &cell) != FREEXL_OK || cell.type == FREEXL_CELL_NULL)
                continue;
            list.push_back({r, c, textOf(cell)});
        }
    return list;
}

// In the child: all sheets as one document; "error" where the library refuses the file.
std::string sheetsOf(const std::string& path) {
    const void* book = nullptr;
    if (freexl_open(path.c_str(), &book) != FREEXL_OK) return R"({"error": "damaged"})";
    Json sheets = Json::array();
    unsigned count = 0;
    freexl_get_info(book, FREEXL_BIFF_SHEET_COUNT, &count);
    for (unsigned short s = 0; s < count; ++s) {
        const char* name = nullptr;
        freexl_get_worksheet_name(book, s, &name);
        if (freexl_select_active_worksheet(book, s) != FREEXL_OK) continue;
        sheets.push_back({{"name", name ? name : ""}, {"cells", cellsOf(book)}});
    }
    freexl_close(book);
    return Json{{"sheets", sheets}}.dump(-1, ' ', false, Json::error_handler_t::replace);
}

// The library reads files only.
class TemporaryFile {
public:
    explicit TemporaryFile(std::string_view bytes) {
        std::string name = (std::filesystem::temp_directory_path() / "jointer-xls-XXXXXX").string();
        const int file = ::mkstemp(name.data());
        if (file < 0) return;
        path = name;
        std::size_t done = 0;
        while (done < bytes.size()) {
            const auto n = ::write(file, bytes.data() + done, bytes.size() - done);
            if (n <= 0) break;
            done += static_cast<std::size_t>(n);
        }
        whole = done == bytes.size();
        ::close(file);
    }
    ~TemporaryFile() {
        if (!path.empty()) ::unlink(path.c_str());
    }
    TemporaryFile(const TemporaryFile&) = delete;
    TemporaryFile& operator=(const TemporaryFile&) = delete;
    std::string path;
    bool whole = false;
};

Result<ReadResult> readXls(std::string_view bytes, const Settings& told, const Cancellation& stop) {
    const TemporaryFile file(bytes);
    if (!file.whole) return failure("xls", "There is no room for a temporary copy of the workbook.");
    const auto packed = inChildProcess([&] { return sheetsOf(file.path); }, kLimit, stop);
    if (!packed && packed.error().code == "stopped") return std::unexpected(packed.error());
    const Json document = packed ? Json::parse(*packed, nullptr, false) : Json();
    if (!document.is_object() || !document.contains("sheets"))
        return failure(
            "xls", "The workbook is damaged or locked by a password. Open it in a spreadsheet program and "
                   "save it as XLSX or CSV.");
    std::vector<Sheet> sheets;
    for (const Json& j : document["sheets"]) {
        Sheet sheet;
        sheet.name = j["name"].get<std::string>();
        for (const Json& cell : j["cells"])
            if (!sheet.set(cell[0].get<std::size_t>(), cell[1].get<std::size_t>(),
                           cell[2].get<std::string>()))
                return failure("too-large", "The sheet is larger than any that is real.");
        sheets.push_back(std::move(sheet));
    }
    if (sheets.empty()) return failure("empty-file", "The workbook has no sheets.");
    return tablesOfSheets("xls", sheets, told, stop);
}

} // namespace

ReaderKind xlsReader() {
    return {.info = {.key = "xls",
                     .name = "Spreadsheet (XLS)",
                     .purpose = "Sheets of an old binary workbook",
                     .settings = sheetSettings()},
            .endings = {"xls"},
            .recognise = [](std::string_view head,
                            std::string_view) { return head.starts_with(kMagic) ? 90 : 0; },
            .read = readXls};
}

} // namespace jointer::io
