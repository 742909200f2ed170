// SPDX-License-Identifier: GPL-3.0-or-later
// A table as one sheet of an XLSX workbook, with real dates and times.
#include "base/files.h"
#include "base/text.h"
#include "io/writer.h"

#include <cmath>
#include <cstdlib>
#include <filesystem>
#include <unistd.h>
#include <xlsxwriter.h>

namespace jointer::io {

namespace {

constexpr std::size_t kMostRows = 1048575, kMostColumns = 16384;

// Sheets have names of at most 31 letters without some signs.
std::string sheetName(const std::string& name) {
    std::u32string letters = decodeUtf8(name);
    std::string out;
    for (std::size_t i = 0; i < std::min<std::size_t>(letters.size(), 31); ++i)
        if (std::u32string_view(U"[]:*?/\\'").find(letters[i]) == std::u32string_view::npos)
            appendUtf8(out, letters[i]);
    return out.empty() ? "Table" : out;
}

class Formats {
public:
    explicit Formats(lxw_workbook* book) {
        auto add = [&](const char* code) {
            lxw_format* f = workbook_add_format(book);
            format_set_num_format(f, code);
            return f;
        };
        date = add("yyyy-mm-dd");
        moment = add("yyyy-mm-dd hh:mm:ss");
        time = add("hh:mm:ss");
        duration = add("[h]:mm:ss");
    }
    lxw_format *date, *moment, *time, *duration;
};

double serialOf(double seconds) {
    const double serial = seconds / 86400 + 25569;
    return serial < 61 ? serial - 1 : serial; // the calendar of these files has a 29th of February 1900
}

void writeCell(lxw_worksheet* sheet, lxw_row_t row, lxw_col_t column, const Column& c, std::size_t i,
               const Formats& formats) {
    const CellState state = c.cells->state(i);
    if (state != CellState::Fine) {
        const std::string text = fileText(c, i);
        if (!text.empty()) worksheet_write_string(sheet, row, column, text.c_str(), nullptr);
        return;
    }
    const double value = c.isNumeric() ? c.numbers()[i] : 0;
    switch (c.kind) {
    case ColumnKind::Text:
    case ColumnKind::Category:
        worksheet_write_string(sheet, row, column, c.cells->texts[i].c_str(), nullptr);
        break;
    case ColumnKind::Date:
        worksheet_write_number(sheet, row, column, serialOf(value), formats.date);
        break;
    case ColumnKind::DateTime:
        worksheet_write_number(sheet, row, column, serialOf(value), formats.moment);
        break;
    case ColumnKind::TimeOfDay:
        worksheet_write_number(sheet, row, column, value / 86400, formats.time);
        break;
    case ColumnKind::Duration:
        worksheet_write_number(sheet, row, column, value / 86400, formats.duration);
        break;
    case ColumnKind::Boolean:
        worksheet_write_boolean(sheet, row, column, value != 0, nullptr);
        break;
    default:
        if (std::isfinite(value))
            worksheet_write_number(sheet, row, column, value, nullptr);
        else
            worksheet_write_string(sheet, row, column, value > 0 ? "inf" : "-inf", nullptr);
    }
}

Result<std::string> bytes(const Table& table) {
    if (table.rowCount() > kMostRows || table.columns.size() > kMostColumns)
        return failure("too-large",
                       "A sheet holds at most 1 048 575 rows and 16 384 columns; write CSV or HDF5 instead.");
    std::string folder = (std::filesystem::temp_directory_path() / "jointer-XXXXXX").string();
    if (!mkdtemp(folder.data())) return failure("xlsx", "No temporary folder can be made.");
    const std::string path = folder + "/table.xlsx";
    lxw_workbook_options options{};
    options.tmpdir = folder.data();
    lxw_workbook* book = workbook_new_opt(path.c_str(), &options);
    lxw_worksheet* sheet = workbook_add_worksheet(book, sheetName(table.name).c_str());
    lxw_doc_properties properties{};
    properties.created = 315532800; // 1980, so that the same table gives the same bytes
    workbook_set_properties(book, &properties);
    const Formats formats(book);
    for (std::size_t c = 0; c < table.columns.size(); ++c) {
        const Column& column = table.columns[c];
        worksheet_write_string(sheet, 0, static_cast<lxw_col_t>(c), headingOf(column).c_str(), nullptr);
        const bool wide = column.kind == ColumnKind::DateTime;
        if (wide)
            worksheet_set_column(sheet, static_cast<lxw_col_t>(c), static_cast<lxw_col_t>(c), 19, nullptr);
        for (std::size_t i = 0; i < column.cells->size(); ++i)
            writeCell(sheet, static_cast<lxw_row_t>(i + 1), static_cast<lxw_col_t>(c), column, i, formats);
    }
    worksheet_freeze_panes(sheet, 1, 0);
    const lxw_error error = workbook_close(book);
    std::string out;
    if (error == LXW_NO_ERROR)
        if (const auto file = MappedFile::open(path)) out = std::string(file->bytes());
    std::error_code ignored;
    std::filesystem::remove_all(folder, ignored);
    if (out.empty())
        return failure("xlsx", std::string("The workbook could not be made: ") + lxw_strerror(error) + ".");
    return out;
}

} // namespace

WriterKind xlsxWriter() {
    return {.info = {.key = "xlsx",
                     .name = "Spreadsheet (XLSX)",
                     .purpose = "A sheet with numbers, dates and texts"},
            .limits = "Numbers keep 15 digits, moments their milliseconds; offsets of time, roles and "
                      "remarks are lost; texts that "
                      "look like numbers come back as numbers.",
            .bytes = bytes};
}

} // namespace jointer::io
