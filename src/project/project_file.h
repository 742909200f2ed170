// SPDX-License-Identifier: GPL-3.0-or-later
// The project file: one zip with readable JSON, binary columns and stored results; docs/file-format.md is its
// description. Saving the same project twice gives the same bytes; saving never loses the old file.
#pragma once

#include "base/files.h"
#include "project/project.h"

namespace jointer {

inline constexpr int kFileFormat = 1;

// Results by the hex digest of their key; texts as evaluate writes them.
using StoredResults = std::map<std::string, std::string>;

struct OpenedProject {
    Project project;
    StoredResults results;
    bool readOnly = false;     // written by a newer version
    std::vector<Issue> issues; // what is damaged or missing
};

Result<std::string> projectBytes(const Project& project, const StoredResults& results);
Result<void> saveProject(const Project& project, const StoredResults& results, const std::string& path,
                         FileOperations& files = systemFiles());

// Errors: not a project at all. A damaged one opens as far as it can be read, with issues.
Result<OpenedProject> openProject(const std::string& path);
Result<OpenedProject> projectFromBytes(std::string bytes, const std::string& path);

} // namespace jointer
