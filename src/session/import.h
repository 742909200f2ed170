// SPDX-License-Identifier: GPL-3.0-or-later
// From read files to tables and datasets of a project: names from file names, roles from the columns,
// attributes from the metadata. Makes edits; changes nothing itself.
#pragma once

#include "io/reader.h"
#include "project/edit.h"

namespace jointer {

// The edit that adds the first table of a reading and, where it has x and y, a dataset over it.
// `told` are the reader's settings, kept with the table so that it can be read again.
Edit importEdit(const io::ReadResult& reading, const Settings& told, const std::string& name);

// "…/shell_28d.csv" → "shell_28d"
std::string nameFromPath(const std::string& path);

// A dataset over the columns with the usual roles; columns are given their ids before.
Dataset datasetFromTable(const Table& table, const std::string& name, std::size_t colourIndex);

// An empty project with the house styles that ship with Jointer.
Project newProject(std::string title);

} // namespace jointer
