// SPDX-License-Identifier: GPL-3.0-or-later
// Work in the background for one receiver, whose thread runs what the work returns. LatestJob: while one job
// runs only the newest request waits, so that a drag never queues up. JobQueue: all are done in turn, and
// leaving waits for them, as for files that are being written. An exception in the work becomes a fault that
// the window reports (faults.h).
#pragma once

#include "base/parallel.h"

#include <condition_variable>
#include <deque>
#include <functional>
#include <mutex>
#include <thread>

class QObject;

namespace jointer::app {

class JobQueue {
public:
    // `work` runs in the background and returns what shall run in the receiver's thread afterwards.
    using Work = std::function<std::function<void()>(const Cancellation&)>;

    explicit JobQueue(QObject* receiver);
    ~JobQueue(); // waits until all is done

    void add(Work work);
    void stopRunning();
    bool isBusy() const;
    void tell(std::function<void()> what); // from within the work: runs in the receiver's thread before what it returns

protected:
    void replaceWaiting(Work work);
    void abandon(); // stops what runs and drops what waits

private:
    void loop(const std::stop_token& end);
    bool takeNext(Work& work, Cancellation& token, const std::stop_token& end);

    QObject* receiver_;
    mutable std::mutex mutex_;
    std::condition_variable wake_;
    std::deque<Work> waiting_;
    std::stop_source running_;
    bool busy_ = false;
    std::jthread thread_; // last: starts when the rest is there
};

class LatestJob : private JobQueue {
public:
    using JobQueue::isBusy;
    using JobQueue::stopRunning;
    using JobQueue::tell;
    using JobQueue::Work;
    explicit LatestJob(QObject* receiver) : JobQueue(receiver) {}
    ~LatestJob() { abandon(); }
    void request(Work work) { replaceWaiting(std::move(work)); }
};

} // namespace jointer::app
