// SPDX-License-Identifier: GPL-3.0-or-later
// Documents of ours as JSON files that people read and edit: recipes and figures.
#pragma once

#include "project/project_json.h"

#include <set>

namespace jointer {

// Without members that hold nothing; settings stay as they are, where an empty text can be a choice.
void prune(Json& json);

struct DocumentKind {
    std::string code; // of errors: "recipe-file"
    std::string what; // "a recipe"
    std::string file{};
    std::size_t largest = 16u << 20; // bytes
};

// The document, or the line where it stops being one. Errors: too large, too deep, no JSON.
Result<Json> parsedDocument(std::string_view text, const DocumentKind& kind);

// All ids that the parts bear; `twice` becomes one that is borne by two.
std::set<std::string> idsOf(const Project& parts, std::string& twice);

} // namespace jointer
