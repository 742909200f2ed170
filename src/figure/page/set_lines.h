// SPDX-License-Identifier: GPL-3.0-or-later
// Texts of several lines.
#pragma once

#include "draw/markup.h"

#include <string_view>
#include <vector>

namespace jointer::figure {

// A text broken at blanks into lines that are not wider than told, as far as its words allow.
std::vector<draw::SetText> wrapped(std::string_view markup, const draw::TextStyle& style, double widthMm);

double widthOf(const std::vector<draw::SetText>& lines);             // mm, of the widest
double heightOf(const std::vector<draw::SetText>& lines, double em); // mm, with the space between

} // namespace jointer::figure
