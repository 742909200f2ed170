// SPDX-License-Identifier: GPL-3.0-or-later
// Microplates: blocks with letters along the rows and numbers along the columns, one with readings, others
// with what stood in the wells, beside it or below. Together they are one long table, a row for each well.
#pragma once

#include "io/reader.h"

namespace jointer::io {

// The wells of the plates in a text whose fields stand apart by `separator`; nothing where it holds none, or
// holds much else. Blocks are columns, named by the title above them or the word in their corner.
// Cost: linear in the text, which is looked at up to some hundred lines.
// Says so, and offers the plain table, in `out`.
std::optional<ReadTable> plateTable(std::string_view text, char separator, const Settings& told,
                                    ReadResult& out);

// The option that readers of text and of sheets share.
Setting plateSetting();

} // namespace jointer::io
