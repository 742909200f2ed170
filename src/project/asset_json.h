// SPDX-License-Identifier: GPL-3.0-or-later
// Artwork with its bytes as JSON, for documents that stand alone: figures as text, recipes. Project files
// keep the bytes as entries of their own.
#pragma once

#include "project/project_json.h"

namespace jointer {

// SVG stays text that one can read; other bytes are base64.
Json jsonWithBytes(const Asset& asset);

// Without bytes where the JSON has none.
Asset assetWithBytes(const Json& json);

} // namespace jointer
