// SPDX-License-Identifier: GPL-3.0-or-later
// Tables as text for other programs. CSV as RFC 4180: comma, point, quotes where needed, CRLF between lines;
// numbers with the fewest digits that read back exactly; what is missing is empty.
#pragma once

#include "data/table.h"

namespace jointer::io {

std::string toCsv(const Table& table);

// The text of a cell for files: shortest exact number, ISO time, the original where it is a limit.
std::string fileText(const Column& column, std::size_t row);

} // namespace jointer::io
