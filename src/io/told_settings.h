// SPDX-License-Identifier: GPL-3.0-or-later
// Settings that several readers of tables take, in the words of each.
#pragma once

#include "describe/kind.h"

#include <string>
#include <vector>

namespace jointer::io {

// Where headings, units and data stand; `row` is what a line of it is called: "line", "row".
std::vector<Setting> placesOfTable(const std::string& row);

Setting missingSetting(); // further texts for a missing value
std::vector<std::string> missingTold(const Settings& told);
Setting textSetting(std::string key, std::string label, std::string help, std::string shownIf = {});
Setting flagSetting(std::string key, std::string label, std::string help);

} // namespace jointer::io
