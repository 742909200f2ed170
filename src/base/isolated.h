// SPDX-License-Identifier: GPL-3.0-or-later
// Work in a process of its own: for libraries that a damaged file can crash or keep busy for ever. The child
// is a copy of this process as it is; it sees all memory, and what it changes is lost except for the bytes it
// returns.
#pragma once

#include "base/issue.h"
#include "base/parallel.h"

#include <chrono>
#include <functional>
#include <string>

namespace jointer {

// Requires: `work` takes no lock that another thread may hold, and starts no threads.
// Errors: "child-crashed", "child-too-slow", "stopped".
Result<std::string> inChildProcess(const std::function<std::string()>& work, std::chrono::milliseconds limit,
                                   const Cancellation& stop);

} // namespace jointer
