// SPDX-License-Identifier: GPL-3.0-or-later
// Drawings and pictures taken into a project: converted once, by other programs within limits of time and
// memory, to what the figure draws. The file as it came is kept beside.
#pragma once

#include "base/parallel.h"
#include "project/edit.h"

#include <chrono>

namespace jointer {

// SVG, PDF (its first page), PNG, JPEG, TIFF, told by what they begin with. What cannot be kept as lines,
// such as masks, makes a picture of 600 dpi of the whole, which the note says. Errors: "artwork-kind",
// "artwork-size", "artwork", "stopped", with the file.
Result<Asset> takenArtwork(std::string bytes, const std::string& name, const Cancellation& stop = {},
                           std::chrono::milliseconds limit = std::chrono::seconds(30));
Result<Asset> artworkFromFile(const std::string& path, const Cancellation& stop = {});

// What it is in a few words: "SVG, lines, 60 × 40 mm", "PNG, 1200 × 800 pixels".
std::string describedArtwork(const Asset& asset);

// "*.svg *.pdf …", for dialogs; whether a file is one of them by its ending.
inline constexpr const char* kArtworkEndings = "svg svgz pdf png jpg jpeg tif tiff";
bool hasArtworkEnding(std::string_view path);

} // namespace jointer
