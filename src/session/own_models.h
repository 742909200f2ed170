// SPDX-License-Identifier: GPL-3.0-or-later
// Equations of one's own as files, to be used in other projects and given to others: one small JSON document
// each, in a folder that is the personal library.
#pragma once

#include "base/issue.h"
#include "project/project.h"

#include <filesystem>
#include <vector>

namespace jointer {

// Errors: "model-file": it cannot be read, is none, or holds an equation that cannot be read, with the place.
Result<UserModel> readModelFile(const std::filesystem::path& file);
Result<void> writeModelFile(const UserModel& model, const std::filesystem::path& file);

// The personal library: $JOINTER_MODELS, else below the user's data folder.
std::filesystem::path personalModels();

// All models of a folder, by name; files that cannot be read are told. A folder that is not there is empty.
Outcome<std::vector<UserModel>> modelsIn(const std::filesystem::path& folder);

// Writes the model into a folder under a file name made of its own, in place of one of the same name.
Result<std::filesystem::path> keepIn(const UserModel& model, const std::filesystem::path& folder);

// What a fit of it takes.
ModelNode nodeOf(const UserModel& model);

} // namespace jointer
