// SPDX-License-Identifier: GPL-3.0-or-later
// The journal check: a figure against what a publisher takes. Each finding names its culprit and, where it
// can be, brings the edit that mends it.
#pragma once

#include "draw/colour_sight.h"
#include "figure/layout.h"
#include "project/edit.h"

#include <filesystem>

namespace jointer::figure {

// What a publisher takes; zero or empty: anything.
struct JournalProfile {
    std::string name;
    std::vector<double> widthsMm{};
    double greatestHeightMm = 0;
    double smallestTextPt = 0; // of text; scripts may be smaller by a third
    double smallestLinePt = 0;
    double dpi = 0;                      // of bitmaps, at least
    std::vector<std::string> families{}; // keys of typefaces: "sans", "serif"
    std::vector<std::string> formats{};  // "pdf", "eps", "tif"
    bool colour = true;                  // false: it prints in grey
};

// Of our own making: a person copies the file of one and sets the numbers of a publisher.
const KindInfo& journalKind(); // its settings, for files and help
JournalProfile profileFrom(std::string name, const Settings& settings);
std::vector<JournalProfile> shippedProfiles();

constexpr double kScripts = 0.66; // of the text size that is allowed, for scripts

struct Finding {
    std::string code;    // "text-too-small"…
    std::string text;    // a sentence
    ElementId element{}; // none: the page
    std::optional<Edit> mend{};
    std::string mending{}; // what that does: "Set to 7 pt"
};

// Those of artwork, which the others hold too.
std::vector<Finding> artworkFindings(const Project& project, const Figure& figure, const Layout& layout,
                                     const JournalProfile& profile);

// `written`: how the figure is exported, by figure::exportKind().
std::vector<Finding> journalFindings(const Project& project, const Figure& figure, const Layout& layout,
                                     const JournalProfile& profile, const Settings& written = {});

} // namespace jointer::figure
