// SPDX-License-Identifier: GPL-3.0-or-later
// Makes a project that was opened fit to be worked with: values that make no sense (a file may have been
// edited by hand) give way to the defaults, and the house styles that ship with Jointer are there.
#pragma once

#include "base/issue.h"
#include "project/project_file.h"

namespace jointer {

// What was taken out, a sentence for each, with what it belongs to.
std::vector<Issue> dropUnfitSettings(Project& project);

// Opens a project file and does both.
Result<OpenedProject> openValidated(const std::string& path);

// Adds the shipped house styles that a project does not hold: all to a damaged one, new ones to an old one.
void addShippedStyles(Project& project);

} // namespace jointer
