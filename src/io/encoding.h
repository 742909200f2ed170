// SPDX-License-Identifier: GPL-3.0-or-later
// From the bytes of a text file to UTF-8. What is UTF-8 already is not copied.
#pragma once

#include "base/issue.h"

#include <string>
#include <string_view>

namespace jointer::io {

struct DecodedText {
    std::string encoding;  // key: "utf-8", "utf-8-bom", "utf-16le", "utf-16be", "iso-8859-1", "windows-1252"
    std::string_view text; // UTF-8 without mark; refers to the bytes given or to `converted`
    std::string converted;
    DecodedText() = default;
    DecodedText(const DecodedText&) = delete;
};

// `forced` is an encoding key or empty for the guess. Errors: "not-text" for binary content, "encoding".
Result<void> decode(std::string_view bytes, std::string_view forced, DecodedText& out);

// Whether a byte occurs; looks at large texts in parallel.
bool holdsByte(std::string_view bytes, char wanted);

} // namespace jointer::io
