// SPDX-License-Identifier: GPL-3.0-or-later
// From read files to tables and datasets of a project: names from file names, roles from the columns,
// attributes from the metadata. Makes edits; changes nothing itself.
#pragma once

#include "io/reader.h"
#include "project/edit.h"

namespace jointer {

// How what was read becomes part of the project.
struct ImportPlan {
    std::vector<std::size_t> tables; // of the reading, from 0; empty: all
    std::string called;              // template of the names, with {attributes}; empty: the file's name
    std::string pattern;             // that finds attributes in the file's name (name_pattern.h)
};

// The edit that adds the tables of a reading and, where one has x and y, a dataset over it. `told` are the
// reader's settings, kept with each table so that it can be read again. Tables of a file with several are
// called after the file and their own names.
Edit importEdit(const io::ReadResult& reading, const Settings& told, const std::string& name,
                const ImportPlan& plan = {});

// Whether two files have one shape, so that they share the settings of their import: as many tables, with
// columns of the same names, or else as many columns.
bool haveSameShape(const io::ReadResult& a, const io::ReadResult& b);

// In place of one of the same name.
void setAttribute(std::vector<Attribute>& attributes, Attribute given);

// "…/shell_28d.csv" → "shell_28d"
std::string nameFromPath(const std::string& path);

// A dataset over the columns with the usual roles; columns are given their ids before.
Dataset datasetFromTable(const Table& table, const std::string& name, std::size_t colourIndex);

// The curves that a table holds: one for each y that is no replicate of another, over the x before it, with
// the uncertainties and labels beside it. Replicates bear one name with numbers ("count", "count 2"), or with
// small letters where their values are close ("A405 a", "A405 b"); x–y pairs side by side repeat the name of
// x. The first dataset only where there would be more than 60.
std::vector<Dataset> curvesFromTable(const Table& table, const std::string& name, std::size_t colourIndex);
// The same, but one dataset of its kind where headings and values tell of another: the main ions of waters;
// x, y and z or places on a map with a value ("east", "north", …); x, y, u, v; three parts in per cent that
// sum to 100.
std::vector<Dataset> datasetsFromTable(const Table& table, const std::string& name, std::size_t colourIndex);

// A dataset of a kind of `evaluate/sources.h`: a function, or two datasets joined.
Dataset madeDataset(const Project& project, const std::string& kind, std::vector<DatasetId> inputs);

// An empty project with the house styles that ship with Jointer.
Project newProject(std::string title);

} // namespace jointer
