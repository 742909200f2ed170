// SPDX-License-Identifier: GPL-3.0-or-later
// What publishers take, as settings that people can read and change.
#include "base/text.h"
#include "describe/setting_makers.h"
#include "figure/journal.h"

namespace jointer::figure {

using namespace describe;

const KindInfo& journalKind() {
    static const KindInfo kind = [] {
        const Extras pt{.unit = "pt", .lowest = 0, .highest = 72};
        return KindInfo{
            .key = "journal",
            .name = "Publisher profile",
            .purpose = "What a publisher takes, for the journal check",
            .settings = {list("widths", "Widths", "Widths of pages in mm that are taken; empty: any.",
                              {.unit = "mm", .whenEmpty = "any"}),
                         number("height", "Greatest height", 0, "0: any.",
                                {.unit = "mm", .lowest = 0, .highest = 2000}),
                         number("text", "Smallest text", 0, "0: any.", pt),
                         number("line", "Thinnest line", 0, "0: any.", pt),
                         number("dpi", "Resolution", 0, "Of bitmaps, at least; 0: any.",
                                {.unit = "dpi", .lowest = 0, .highest = 4800}),
                         word("typefaces", "Typefaces", "Keys with commas: sans, serif; empty: any.",
                              {.whenEmpty = "any"}),
                         word("formats", "Files", "Endings with commas: pdf, eps, tif; empty: any.",
                              {.whenEmpty = "any"}),
                         flag("colour", "Colour", true, "Whether it is printed in colour.")}};
    }();
    return kind;
}

JournalProfile profileFrom(std::string name, const Settings& s) {
    const KindInfo& kind = journalKind();
    const auto number = [&](const char* key) {
        const Value v = kind.value(s, key);
        const double* n = std::get_if<double>(&v);
        return n ? *n : 0.0;
    };
    const auto words = [&](const char* key) {
        std::vector<std::string> out;
        for (const std::string_view word : split(s.text(key), ','))
            if (const std::string_view each = trimmed(word); !each.empty()) out.emplace_back(each);
        return out;
    };
    return {.name = std::move(name),
            .widthsMm = s.numbers("widths"),
            .greatestHeightMm = number("height"),
            .smallestTextPt = number("text"),
            .smallestLinePt = number("line"),
            .dpi = number("dpi"),
            .families = words("typefaces"),
            .formats = words("formats"),
            .colour = s.flag("colour", true)};
}

std::vector<JournalProfile> shippedProfiles() {
    return {{.name = "Two columns",
             .widthsMm = {85, 120, 174},
             .greatestHeightMm = 235,
             .smallestTextPt = 7,
             .smallestLinePt = 0.5,
             .dpi = 600,
             .formats = {"pdf", "eps", "tif"}},
            {.name = "One column",
             .widthsMm = {122},
             .greatestHeightMm = 190,
             .smallestTextPt = 8,
             .smallestLinePt = 0.4,
             .dpi = 300,
             .formats = {"pdf", "eps", "tif", "jpg"}},
            {.name = "Print in grey",
             .widthsMm = {80, 165},
             .greatestHeightMm = 220,
             .smallestTextPt = 7,
             .smallestLinePt = 0.5,
             .dpi = 1200,
             .formats = {"eps", "tif"},
             .colour = false},
            {.name = "Talk", .greatestHeightMm = 0, .smallestTextPt = 16, .smallestLinePt = 1.2}};
}

} // namespace jointer::figure
