// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/parallel.h"

#include <memory>
#include <tbb/blocked_range.h>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>

namespace jointer {

namespace {
std::unique_ptr<tbb::global_control>& control() {
    static std::unique_ptr<tbb::global_control> c;
    return c;
}
} // namespace

void parallelRanges(std::size_t count, std::size_t grain,
                    const std::function<void(std::size_t, std::size_t)>& body) {
    if (count == 0) return;
    if (count <= grain || threadCount() == 1) return body(0, count);
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, grain),
                      [&](const auto& range) { body(range.begin(), range.end()); });
}

int threadCount() {
    return static_cast<int>(tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism));
}

void limitThreads(int count) {
    control() = std::make_unique<tbb::global_control>(tbb::global_control::max_allowed_parallelism,
                                                      static_cast<std::size_t>(count));
}

} // namespace jointer
