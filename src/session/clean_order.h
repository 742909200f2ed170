// SPDX-License-Identifier: GPL-3.0-or-later
// A protocol as a command types it, "smooth method=median window=5", made into steps of a dataset.
#pragma once

#include "project/project.h"

namespace jointer {

// A step from its text: the key of its kind, then settings as key=value; values with blanks stand in quotes.
// Names of datasets in the settings become ids of the project; "rows" may also be called "points". Anchors
// that are typed with their heights are free unless it says otherwise. Errors: "usage", with what is
// expected.
Result<Step> stepFromText(const Project& project, std::string_view text);

// The project with these steps at the end of a dataset's protocol.
Result<Project> withSteps(const Project& project, DatasetId dataset, const std::vector<std::string>& steps);

} // namespace jointer
