// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes as text. Source: RFC 4648, section 4.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace jointer {

std::string base64(std::string_view bytes);

// Blanks and line breaks are passed over. Nothing: it holds other letters, or ends within one.
std::optional<std::string> fromBase64(std::string_view text);

} // namespace jointer
