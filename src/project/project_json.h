// SPDX-License-Identifier: GPL-3.0-or-later
// The parts of a project as JSON, in a fixed order of keys. Unknown members are kept in `extra`. Cells are
// not in here; project_file.h stores them as binary columns.
#pragma once

#include "project/project.h"

#include <nlohmann/json.hpp>

namespace jointer {

using Json = nlohmann::ordered_json;

Json toJson(const Project& project); // without tables
Json toJson(const Table& table);     // without cells; originals of odd cells are included

// Missing or ill-typed members take their defaults: a damaged project opens as far as it can be read.
Project projectFromJson(const Json& json);
Table tableFromJson(const Json& json, std::map<ColumnId, std::map<std::uint32_t, std::string>>& originals);

} // namespace jointer
