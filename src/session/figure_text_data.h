// SPDX-License-Identifier: GPL-3.0-or-later
// The data of a figure written as text: lists and files with columns, and columns called by their names.
#pragma once

#include "project/json_text.h"
#include "session/figure_text.h"

namespace jointer {

std::unexpected<Issue> wrongFigure(const std::string& file, std::string text);

// "shell": { "x": […], "y": […] }, or of another kind of dataset
// "springs": { "as": "ions", "columns": { "Belt": ["dune", …], "Ca": { "unit": "mg/L", "values": […] } } }.
// Errors: "figure-file".
Result<FigureData> inlineData(const std::string& name, const Json& json, const std::string& file);

// Of a file the columns: "x", "y", "sigma", or "as", "places" { "Ca": "Calcium" } and "settings".
ColumnChoice columnsOfFile(const Json& json);

// The columns that a dataset has, by their names, for another table.
void takeAlike(const Project& project, const Dataset& before, ColumnChoice& into);

// Settings that name a column, an axis or the like by a text become references; columns are sought in the table of
// the element's dataset.
void nameReferences(const Project& project, Figure& figure);

} // namespace jointer
