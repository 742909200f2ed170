// SPDX-License-Identifier: GPL-3.0-or-later
// Files under names that come from people: the folders of the personal libraries, and file names made of the
// names of things.
#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <vector>

namespace jointer {

// Letters and digits of the name; all else becomes a dash. `usual` where nothing is left.
std::string fileStem(const std::string& name, const std::string& usual);

// The folder that the variable of the environment names, else one below the user's data folder.
std::filesystem::path personalFolder(const char* variable, const std::string& called);

// A .json file in the folder for a thing of this name: one that is not there yet, or that holds the same
// thing.
std::filesystem::path freeFile(const std::filesystem::path& folder, const std::string& name,
                               const std::string& usual,
                               const std::function<bool(const std::filesystem::path&)>& holdsIt);

// The .json files of a folder; one that is not there has none.
std::vector<std::filesystem::path> jsonFilesIn(const std::filesystem::path& folder);

} // namespace jointer
