// SPDX-License-Identifier: GPL-3.0-or-later
// Personal libraries: a folder of small JSON files, each of which holds one thing with a name. Writing and
// reading one are the thing's own.
#pragma once

#include "base/issue.h"

#include <algorithm>
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

// All things of a folder, by name. Issues: files that cannot be read.
template <class T>
Outcome<std::vector<T>> allIn(const std::filesystem::path& folder,
                              Result<T> (*read)(const std::filesystem::path&)) {
    Outcome<std::vector<T>> out;
    for (const auto& file : jsonFilesIn(folder)) {
        auto thing = read(file);
        if (thing)
            out.value.push_back(std::move(*thing));
        else
            out.issues.push_back(thing.error());
    }
    std::ranges::sort(out.value, {}, &T::name);
    return out;
}

// Writes a thing under a file name made of its own, in place of one of the same name.
template <class T>
Result<std::filesystem::path> keptIn(const T& thing, const std::filesystem::path& folder, const char* usual,
                                     Result<T> (*read)(const std::filesystem::path&),
                                     Result<void> (*write)(const T&, const std::filesystem::path&)) {
    std::error_code error;
    std::filesystem::create_directories(folder, error);
    const auto file = freeFile(folder, thing.name, usual, [&](const std::filesystem::path& there) {
        const auto other = read(there); // another may have a name that gives the same file
        return other && other->name == thing.name;
    });
    if (auto good = write(thing, file); !good) return std::unexpected(good.error());
    return file;
}

} // namespace jointer
