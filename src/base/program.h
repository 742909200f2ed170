// SPDX-License-Identifier: GPL-3.0-or-later
// Another program run with limits of time and memory, without a shell, in a folder of its own.
#pragma once

#include "base/issue.h"
#include "base/parallel.h"

#include <chrono>
#include <filesystem>
#include <string>
#include <vector>

namespace jointer {

struct ProgramLimits {
    std::chrono::milliseconds time{20000};
    std::size_t memoryBytes = std::size_t{2} << 30; // of address space
    std::size_t fileBytes = std::size_t{512} << 20; // of any file that it writes
};

// Runs it to its end; what it says is thrown away but for its last words, which an error tells.
// Errors: "no-program" where it is not installed, "program-failed", "program-too-slow", "stopped".
Result<void> runProgram(const std::string& name, const std::vector<std::string>& arguments,
                        const std::filesystem::path& folder, const ProgramLimits& limits = {},
                        const Cancellation& stop = {});

// A folder that goes with all that is in it.
class TemporaryFolder {
public:
    TemporaryFolder();
    ~TemporaryFolder();
    TemporaryFolder(const TemporaryFolder&) = delete;
    TemporaryFolder& operator=(const TemporaryFolder&) = delete;
    const std::filesystem::path& path() const { return path_; } // empty: none could be made

private:
    std::filesystem::path path_;
};

} // namespace jointer
