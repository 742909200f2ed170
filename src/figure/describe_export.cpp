// SPDX-License-Identifier: GPL-3.0-or-later
// How a figure is written: what each figure remembers of it.
#include "describe/setting_makers.h"
#include "figure/kinds.h"

namespace jointer::figure {

using namespace describe;

KindInfo exportKind() {
    const std::string bitmap = "format=png|tif|jpg", drawn = "format=pdf|svg|eps|tex|png|tif|jpg";
    return {
        .key = "export",
        .name = "Export",
        .purpose = "How a figure is written",
        .settings = {
            choice("format", "Format",
                   {{"pdf", "PDF"},
                    {"svg", "SVG"},
                    {"eps", "EPS"},
                    {"tex", "TikZ"},
                    {"png", "PNG"},
                    {"tif", "TIFF"},
                    {"jpg", "JPEG"},
                    {"json", "Figure as text (JSON)"}},
                   "The kind of file."),
            number("dpi", "Resolution", 600, "Pixels for each inch.",
                   {.unit = "dpi", .lowest = 30, .highest = 4800, .shownIf = bitmap}),
            number("quality", "Quality", 100, "100 is best; less makes the file smaller.",
                   {.lowest = 1, .highest = 100, .shownIf = "format=jpg"}),
            choice("fonts", "Fonts", {{"document", "of the document"}, {"shipped", "as on the page"}},
                   "As on the page: they lie in a folder beside the file; for LuaLaTeX and XeLaTeX.",
                   {.shownIf = "format=tex"}),
            flag("transparent", "Without ground", false, "Nothing behind the figure instead of white.",
                 {.shownIf = "format=svg|png|tif"}),
            flag("trim", "Trimmed", false, "The page is cut to what is drawn.", {.shownIf = drawn}),
            flag("grey", "In grey", false, "Colours become greys of the same lightness.", {.shownIf = drawn}),
            flag("outlines", "Letters as outlines", false,
                 "Looks the same without the fonts, but is no text any more.",
                 {.shownIf = "format=pdf|svg|eps|tex"}),
            word("author", "Author", "Is written into the file.", {.shownIf = drawn, .whenEmpty = "none"})}};
}

} // namespace jointer::figure
