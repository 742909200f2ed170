// SPDX-License-Identifier: GPL-3.0-or-later
// Parallel loops and cancellation. A Cancellation is asked now and then by long work; work that finds it
// requested returns early with what it has. Thread-safe.
#pragma once

#include <cstddef>
#include <functional>
#include <stop_token>

namespace jointer {

using Cancellation = std::stop_token;

// Calls body(begin, end) for parts of [0, count), each of at least `grain`, on all processors.
void parallelRanges(std::size_t count, std::size_t grain,
                    const std::function<void(std::size_t, std::size_t)>& body);

// Number of threads that parallelRanges may use; `limitThreads(1)` makes everything serial (benchmarks).
int threadCount();
void limitThreads(int count);

} // namespace jointer
