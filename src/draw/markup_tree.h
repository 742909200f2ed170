// SPDX-License-Identifier: GPL-3.0-or-later
// Markup as a tree: what setText sets, and what is written for a TeX document. Parsing never fails: what is
// no command stands for itself.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace jointer::draw {

enum class Part {
    Text,     // characters
    Row,      // parts one after the other, in a style
    Scripts,  // of what stands before: a row above (may be empty), a row below
    Fraction, // two rows
    Root,     // its body, and its index (may be empty)
    Accent,   // over one row
    Operator, // a large sign, scripts above and below it
    Fence     // one row between two marks as high as it is
};

enum class Style { Same, Bold, Italic, Upright };

struct MarkupNode {
    Part part = Part::Row;
    std::string text{}; // characters; the name of an accent or an operator; the opening mark
    std::string end{};  // the closing mark
    Style style = Style::Same;
    std::vector<MarkupNode> children{};
    bool operator==(const MarkupNode&) const = default;
};

MarkupNode parsedMarkup(std::string_view markup);

// A hyphen before a digit at the start of a text, or of a script, is a minus sign.
std::string withMinus(const std::string& text);

// For the text of a LaTeX document that loads no packages; the size is that of the font around it. Nothing:
// it has characters that TeX does not know by itself.
std::optional<std::string> texOf(const MarkupNode& node, double sizePt);

} // namespace jointer::draw
