// SPDX-License-Identifier: GPL-3.0-or-later
// Text in which every line says key=value, several times or once.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace jointer::io {

using Pairs = std::vector<std::pair<std::string_view, std::string_view>>;

// The pairs of a line, with blanks, commas, semicolons or tabs between them. Empty if it is none of that
// form.
Pairs pairsOf(std::string_view line);

// Whether the lines are records of such pairs: several in a line, or keys that come again.
bool looksLikeKeyValues(const std::vector<std::string_view>& lines, std::string_view comment);

// All keys in the order in which they first occur.
std::vector<std::string> keysOf(std::string_view text, std::string_view comment);

// Rewrites the text: in the line where a record begins its values in the order of the keys, with
// kUnitSeparator between them; other lines are blank. A record ends at a blank line or where a key comes
// again.
std::string recordsFromKeyValues(std::string_view text, const std::vector<std::string>& keys,
                                 std::string_view comment);

} // namespace jointer::io
