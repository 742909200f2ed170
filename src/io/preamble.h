// SPDX-License-Identifier: GPL-3.0-or-later
// Facts from the lines above the data: metadata, and the markers of missing values that they declare.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace jointer::io {

using Metadata = std::vector<std::pair<std::string, std::string>>;

// "key: value", "key = value", several of them with semicolons between, or a key and its value in two fields.
// `separator` is that of the data.
void takeMetadata(std::string_view line, char separator, Metadata& metadata);

// Markers of missing values that a line declares: "Missing values are coded as -9999", "nodata = -99".
void takeMissingMarkers(std::string_view line, std::vector<std::string>& markers);

} // namespace jointer::io
