// SPDX-License-Identifier: GPL-3.0-or-later
// A display list as a TikZ picture for \input into a document that loads nothing but tikz. Text is set by TeX
// in the document's own font, aligned as it was; or run by run in the fonts that ship, which lie beside the
// file (LuaLaTeX, XeLaTeX; pdfLaTeX takes its own font at the same widths).
#pragma once

#include "draw/display_list.h"

#include <string>
#include <utility>
#include <vector>

namespace jointer::draw {

struct TikzOptions {
    bool transparent = true; // else a white ground
    bool shippedFonts = false;
    std::string stem = "figure";        // of the names of what lies beside
    std::vector<std::string> remarks{}; // at its head
};

struct Tikz {
    std::string text;
    std::vector<std::pair<std::string, std::string>> beside; // names and bytes of pictures and fonts
};

Tikz toTikz(const DisplayList& list, const TikzOptions& options = {});

} // namespace jointer::draw
