// SPDX-License-Identifier: GPL-3.0-or-later
// Work of which several run beside each other already: within, parallel loops stay on their thread, so that
// threads do not wait for each other. Example: `const OnOneThread alone; fit(problem);`
#pragma once

namespace jointer {

class OnOneThread {
public:
    OnOneThread();
    ~OnOneThread();
    OnOneThread(const OnOneThread&) = delete;
    OnOneThread& operator=(const OnOneThread&) = delete;

private:
    bool before_;
};

bool isOnOneThread(); // the calling thread now

} // namespace jointer
