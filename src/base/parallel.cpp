// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/parallel.h"

#include "base/one_thread.h"

#include <memory>
#include <tbb/blocked_range.h>
#include <tbb/global_control.h>
#include <tbb/parallel_for.h>
#include <thread>
#include <utility>
#include <vector>

namespace jointer {

namespace {
std::unique_ptr<tbb::global_control>& control() {
    static std::unique_ptr<tbb::global_control> c;
    return c;
}
thread_local bool onOneThread = false;

} // namespace

OnOneThread::OnOneThread() : before_(std::exchange(onOneThread, true)) {}
OnOneThread::~OnOneThread() {
    onOneThread = before_;
}
bool isOnOneThread() {
    return onOneThread;
}

void parallelRanges(std::size_t count, std::size_t grain,
                    const std::function<void(std::size_t, std::size_t)>& body) {
    if (count == 0) return;
    if (count <= grain || onOneThread || threadCount() == 1) return body(0, count);
#ifdef __SANITIZE_THREAD__
    // The sanitizer does not see how the library's threads wait for each other; it sees plain ones.
    const auto parts = static_cast<std::size_t>(threadCount());
    std::vector<std::jthread> threads;
    for (std::size_t k = 0; k < parts; ++k)
        threads.emplace_back([&, k] {
            if (const std::size_t from = count * k / parts, to = count * (k + 1) / parts; from < to)
                body(from, to);
        });
#else
    tbb::parallel_for(tbb::blocked_range<std::size_t>(0, count, grain),
                      [&](const auto& range) { body(range.begin(), range.end()); });
#endif
}

int threadCount() {
    return static_cast<int>(tbb::global_control::active_value(tbb::global_control::max_allowed_parallelism));
}

void limitThreads(int count) {
    control() = std::make_unique<tbb::global_control>(tbb::global_control::max_allowed_parallelism,
                                                      static_cast<std::size_t>(count));
}

} // namespace jointer
