// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/progress.h"

#include <utility>

namespace jointer {

namespace {

thread_local Progress* bound = nullptr;

} // namespace

BoundProgress::BoundProgress(Progress& progress) : before_(std::exchange(bound, &progress)) {}

BoundProgress::~BoundProgress() {
    bound = before_;
}

Progress* boundProgress() {
    return bound;
}

} // namespace jointer
