// SPDX-License-Identifier: GPL-3.0-or-later
// A recipe and a file become a small project of their own: the recipe's parts with the file's table in the
// place of the empty one. It can be evaluated alone, or its parts join an open project. Thread-safe.
#pragma once

#include "io/reader.h"
#include "session/recipes.h"

namespace jointer {

struct FilledRecipe {
    Project project;
    DatasetId dataset; // the one of the data
    std::vector<Issue> issues;
};

// How a file for this input is read.
Settings readingOf(const Recipe& recipe, DatasetId input);

// The parts of the recipe with one input filled from a file. Columns are found by their headings, else by
// their places where the file has as many columns; those without a name by their roles. Errors: "no-columns"
// with what is missed and what there is, "takes-no-file".
Result<FilledRecipe> filled(const Recipe& recipe, const std::string& input, const io::ReadResult& reading,
                            const std::string& file);

// The same for the data: one for each curve of the file where the recipe leaves the columns open.
Result<std::vector<FilledRecipe>> filledWithData(const Recipe& recipe, const io::ReadResult& reading,
                                                 const std::string& file);

// The attributes that the recipe's pattern finds in the name of a file or a dataset.
void takeFromName(const Recipe& recipe, const std::string& name, std::vector<Attribute>& into);

// The datasets of an open project that stand for further inputs, by the names of these.
using InputDatasets = std::map<std::string, DatasetId>;

// Those of the project that bear the names of the inputs.
InputDatasets inputsByName(const Recipe& recipe, const Project& project);

namespace edits {

// The parts join the project; inputs are the datasets that stand for them. `name` is that of the file.
Edit joinFilled(const Recipe& recipe, FilledRecipe filled, const InputDatasets& inputs);

// The recipe's steps and analyses for a dataset of the project: steps with points chosen by hand stay before
// them, analyses of the same kind and model are replaced. Errors: "input" where one has no dataset.
Edit applyRecipe(const Recipe& recipe, DatasetId dataset, const InputDatasets& inputs);

} // namespace edits

} // namespace jointer
