// SPDX-License-Identifier: GPL-3.0-or-later
// Titles and labels in the markup of TeX: x^{2}, x_{i} (stacked where both follow a base), \textit{…},
// \textbf{…}, \frac{…}{…}, \sqrt[n]{…}, \hat{…} and other accents, \sum_{…}^{…}, \left( … \right),
// \unit{…}, Greek and signs by name (draw/signs.h), \, for a thin space. Blanks stay as they are typed; {}
// ends a name before a letter. Anything else stands for itself.
#pragma once

#include "draw/display_list.h"

namespace jointer::draw {

struct TextStyle {
    std::string family = "sans"; // "sans", "serif", "window"
    double sizePt = 8;
    Colour colour;
    bool bold = false, italic = false;
};

// A line of text set at the origin: runs and strokes relative to its start, and its box.
struct SetText {
    std::vector<TextRun> runs;
    std::vector<Path> strokes; // of fractions, roots and accents
    double widthMm = 0, ascentMm = 0, descentMm = 0;
    std::string markup{};
    TextStyle style{};
    double heightMm() const { return ascentMm + descentMm; }
};

SetText setText(std::string_view markup, const TextStyle& style);

enum class HAlign { Left, Centre, Right };
enum class VAlign { Top, Middle, Baseline, Bottom };

// The text moved so that its box is aligned at `at`, turned by the angle about it.
std::vector<Item> placed(const SetText& text, Point at, HAlign h, VAlign v, double angleDeg = 0);

// A text that shall stand for itself as markup: names of files and columns.
std::string literal(std::string_view text);

// The markup without commands, for lists, file names and search.
std::string plainText(std::string_view markup);

// "cm-1", "cm^{-1}" → "cm⁻¹": units in running text, where nothing can be set.
std::string unitPlain(std::string_view unit);

} // namespace jointer::draw
