// SPDX-License-Identifier: GPL-3.0-or-later
// Runs work in the background for one receiver: while one job runs only the newest request waits, so that a
// drag never queues up. The result arrives in the receiver's thread.
#pragma once

#include "base/parallel.h"

#include <QMetaObject>
#include <QObject>
#include <condition_variable>
#include <functional>
#include <mutex>
#include <thread>

namespace jointer::app {

class LatestJob {
public:
    // `work` runs in the background and returns what shall run in the receiver's thread afterwards.
    using Work = std::function<std::function<void()>(const Cancellation&)>;

    explicit LatestJob(QObject* receiver)
        : receiver_(receiver), thread_([this](const std::stop_token& end) { loop(end); }) {}
    ~LatestJob() {
        thread_.request_stop();
        stopRunning();
        wake_.notify_all();
    }

    void request(Work work) {
        const std::lock_guard lock(mutex_);
        waiting_ = std::move(work);
        wake_.notify_all();
    }
    void stopRunning() {
        const std::lock_guard lock(mutex_);
        running_.request_stop();
    }
    bool isBusy() const {
        const std::lock_guard lock(mutex_);
        return busy_ || waiting_;
    }

private:
    void loop(const std::stop_token& end) {
        while (!end.stop_requested()) {
            Work work;
            Cancellation token;
            {
                std::unique_lock lock(mutex_);
                wake_.wait(lock, [&] { return waiting_ || end.stop_requested(); });
                if (end.stop_requested()) return;
                work = std::move(waiting_);
                waiting_ = nullptr;
                running_ = std::stop_source();
                token = running_.get_token();
                busy_ = true;
            }
            auto finish = work(token);
            {
                const std::lock_guard lock(mutex_);
                busy_ = false;
            }
            if (!end.stop_requested())
                QMetaObject::invokeMethod(receiver_, std::move(finish), Qt::QueuedConnection);
        }
    }

    QObject* receiver_;
    mutable std::mutex mutex_;
    std::condition_variable wake_;
    Work waiting_;
    std::stop_source running_;
    bool busy_ = false;
    std::jthread thread_; // last: starts when the rest is there
};

} // namespace jointer::app
