// SPDX-License-Identifier: GPL-3.0-or-later
// Many files through a recipe, several at a time, handed over in their order. Memory does not grow with the
// number of files: workers wait for what is not yet taken.
#pragma once

#include "session/recipe_run.h"

namespace jointer {

struct BatchOrder {
    std::vector<std::string> files;
    int jobs = 0; // at a time; 0: as many as there are processors
    // What is known of a file from an earlier run; nothing: it runs. Called by several threads.
    std::function<std::optional<RunFile>(const std::string& file)> done{};
    // Called in the order of the files by the thread that called; false: no more. `known`: from an earlier
    // run, without projects. It may take what it wants out of the file.
    std::function<bool(RunFile& file, RunProjects& projects, bool known)> take{};
    Cancellation stop{};
};

// What `take` left of each file.
std::vector<RunFile> runBatch(const RecipeRun& run, const BatchOrder& order);

// The files, and those in the folders among them by name; hidden ones are passed over. Errors: "no-files".
Result<std::vector<std::string>> filesOf(const std::vector<std::string>& paths);

// By the attribute that the recipe names, found in the files' names; others keep their order, at the end.
void sortInOrder(const Recipe& recipe, std::vector<std::string>& files);

} // namespace jointer
