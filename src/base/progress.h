// SPDX-License-Identifier: GPL-3.0-or-later
// How far a long task is. Who starts it binds a Progress to the working thread; what works there reports to
// it without knowing who looks. Thread-safe. Example: `Progress p; const BoundProgress bound(p); read(…);`
#pragma once

#include <atomic>

namespace jointer {

class Progress {
public:
    void set(double share) { share_ = share; } // from 0 to 1
    double share() const { return share_; }

private:
    std::atomic<double> share_ = 0;
};

// Binds a progress to this thread while it lives.
class BoundProgress {
public:
    explicit BoundProgress(Progress& progress);
    ~BoundProgress();
    BoundProgress(const BoundProgress&) = delete;
    BoundProgress& operator=(const BoundProgress&) = delete;

private:
    Progress* before_;
};

// The progress of this thread; none: nobody looks. To be taken along into threads that work for this one.
Progress* boundProgress();

} // namespace jointer
