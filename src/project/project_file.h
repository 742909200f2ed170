// SPDX-License-Identifier: GPL-3.0-or-later
// The project file: one zip with readable JSON, binary columns and stored results; docs/file-format.md is its
// description. Saving the same project twice gives the same bytes; saving never loses the old file.
#pragma once

#include "base/files.h"
#include "project/project.h"

namespace jointer {

inline constexpr int kFileFormat = 2; // 1: italic and bold texts had codes of their own

// Results by the hex digest of their key; texts as evaluate writes them.
using StoredResults = std::map<std::string, std::string>;

// What is saved beside the project itself: neither is an edit, neither is part of undo.
struct Beside {
    StoredResults results;
    std::string view; // what was open and selected, as the window writes it; may be empty

    bool operator==(const Beside&) const = default;
};

struct OpenedProject {
    Project project;
    Beside beside;
    int format = kFileFormat;  // of the file
    bool readOnly = false;     // written by a newer version
    std::vector<Issue> issues; // what is damaged or missing
};

Result<std::string> projectBytes(const Project& project, const Beside& beside);
Result<void> saveProject(const Project& project, const Beside& beside, const std::string& path,
                         FileOperations& files = systemFiles());

// Errors: not a project at all. A damaged one opens as far as it can be read, with issues.
Result<OpenedProject> openProject(const std::string& path);
Result<OpenedProject> projectFromBytes(std::string bytes, const std::string& path);

} // namespace jointer
