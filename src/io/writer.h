// SPDX-License-Identifier: GPL-3.0-or-later
// Tables as files for other programs. CSV as RFC 4180: comma, point, quotes where needed, CRLF between lines;
// numbers with the fewest digits that read back exactly; what is missing is empty. What each format cannot
// hold is said in its description.
#pragma once

#include "base/issue.h"
#include "data/table.h"
#include "describe/catalogue.h"

#include <vector>

namespace jointer::io {

struct WriterKind {
    KindInfo info;      // the key is the ending of its files
    std::string limits; // what it cannot hold, for the manual; empty: nothing is lost
    Result<std::string> (*bytes)(const Table& table);
    bool takesAny = true; // false: only tables of some kind, else an error
};

const Catalogue<WriterKind>& writerCatalogue();

// The bytes of a file with this ending. Errors: "format" for one that is not written, with those that are.
Result<std::string> tableBytes(const Table& table, const std::string& ending);

std::string toCsv(const Table& table);
std::string toTabs(const Table& table); // for the clipboard

// The text of a cell for files: shortest exact number, ISO time, the original where it is a limit.
std::string fileText(const Column& column, std::size_t row);

// Name and unit as a heading: "Depth [cm]".
std::string headingOf(const Column& column);

// One file each.
WriterKind xlsxWriter();
WriterKind jsonWriter();
WriterKind hdf5Writer();
WriterKind cansasWriter();
WriterKind nxcansasWriter();

} // namespace jointer::io
