// SPDX-License-Identifier: GPL-3.0-or-later
// Tables out of text that has been decoded: the dialect is guessed, headings and units are found, further
// blocks become tables of their own. For delimited files and for the cells of spreadsheets.
#pragma once

#include "io/reader.h"

namespace jointer::io {

// Adds the tables, metadata, line kinds and issues to `out`. Errors: "too-many-columns", "stopped".
Result<void> readTables(std::string_view text, const Settings& told, const Cancellation& stop,
                        ReadResult& out);

} // namespace jointer::io
