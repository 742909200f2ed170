// SPDX-License-Identifier: GPL-3.0-or-later
// What every reader of data files gives, and the catalogue of readers. A reader is one file: its description
// (key, endings, options), how it recognises its own content, and the reading. To add one: write the file and
// name it in reader.cpp. Readers take bytes, so that they can be fuzzed and fed from a clipboard.
#pragma once

#include "base/parallel.h"
#include "data/table.h"
#include "describe/catalogue.h"
#include "io/dialect.h"

#include <optional>
#include <span>

namespace jointer::io {

// Cells of a sheet from row and column `first…` to `last…`, counted from 0.
struct SheetRegion {
    std::size_t sheet = 0; // in ReadResult::sheets
    std::size_t firstRow = 0, firstColumn = 0, lastRow = 0, lastColumn = 0;
    std::vector<LineKind> lineKinds{}; // of the first rows of the sheet
};

struct ReadTable {
    Table table;                                                 // without ids
    long headingLine = 0, unitsLine = 0, firstDataLine = 0;      // 0: none
    std::optional<SheetRegion> region{};                         // of spreadsheets: where it stands
    std::vector<std::pair<std::string, std::string>> metadata{}; // its own, beside those of the whole file
};

// The first rows of a sheet, for the preview.
struct SheetPreview {
    std::string name;
    std::vector<std::vector<std::string>> rows;
};

struct ReadResult {
    std::string format;                                        // key of the reader
    std::string encoding;                                      // of text formats
    Dialect dialect;                                           // of delimited text
    std::vector<std::pair<std::string, std::string>> metadata; // of the whole file
    std::vector<ReadTable> tables;
    std::vector<LineKind> lineKinds;       // of the first lines of text formats, for the preview
    std::vector<SheetPreview> sheets;      // of spreadsheets
    std::vector<Issue> issues;             // warnings; their places name lines and columns
    std::vector<Alternative> alternatives; // other readings, where the text leaves it open
};

struct ReaderKind {
    KindInfo info; // settings are the options that override the guess
    std::vector<std::string> endings;
    int (*recognise)(std::string_view head, std::string_view fileName); // 0: not mine … 100: certainly
    Result<ReadResult> (*read)(std::string_view bytes, const Settings& told, const Cancellation& stop);
};

const Catalogue<ReaderKind>& readerCatalogue();
std::vector<Setting> readerSettings(); // of all readers, one of each key

// Reads bytes with the reader that recognises them. Errors: "empty-file", "not-text", and those of the
// readers, with the file's name as place.
Result<ReadResult> read(std::string_view bytes, std::string_view fileName, const Settings& told,
                        const Cancellation& stop = {});

// The same for a file on disk, which is mapped, not copied.
Result<ReadResult> readFileAs(const std::string& path, const Settings& told, const Cancellation& stop = {});

// One file each.
ReaderKind delimitedReader();
ReaderKind xlsxReader();
ReaderKind odsReader();
ReaderKind jcampReader();
ReaderKind iso14976Reader();
ReaderKind cansasReader();
ReaderKind cifReader();
ReaderKind xyeReader();
ReaderKind npyReader();
ReaderKind npzReader();
ReaderKind ecsvReader();
ReaderKind csvyReader();
ReaderKind mat4Reader();
ReaderKind xlsReader();
ReaderKind matReader();
ReaderKind sqliteReader();
ReaderKind jsonReader();
ReaderKind netcdfReader();
ReaderKind hdf5Reader();

} // namespace jointer::io
