// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/background.h"

#include "app/faults.h"

#include <QMetaObject>
#include <QObject>
#include <utility>

namespace jointer::app {

JobQueue::JobQueue(QObject* receiver)
    : receiver_(receiver), thread_([this](const std::stop_token& end) { loop(end); }) {}

JobQueue::~JobQueue() {
    {
        const std::lock_guard lock(mutex_); // else the thread could miss it just before it waits
        thread_.request_stop();
    }
    wake_.notify_all();
}

void JobQueue::add(Work work) {
    const std::lock_guard lock(mutex_);
    waiting_.push_back(std::move(work));
    wake_.notify_all();
}

void JobQueue::replaceWaiting(Work work) {
    const std::lock_guard lock(mutex_);
    waiting_.clear();
    waiting_.push_back(std::move(work));
    wake_.notify_all();
}

void JobQueue::stopRunning() {
    const std::lock_guard lock(mutex_);
    running_.request_stop();
}

void JobQueue::abandon() {
    const std::lock_guard lock(mutex_);
    waiting_.clear();
    running_.request_stop();
}

bool JobQueue::isBusy() const {
    const std::lock_guard lock(mutex_);
    return busy_ || !waiting_.empty();
}

void JobQueue::tell(std::function<void()> what) {
    QMetaObject::invokeMethod(receiver_, std::move(what), Qt::QueuedConnection);
}

// False: nothing waits and it is time to end.
bool JobQueue::takeNext(Work& work, Cancellation& token, const std::stop_token& end) {
    std::unique_lock lock(mutex_);
    busy_ = false;
    wake_.wait(lock, [&] { return !waiting_.empty() || end.stop_requested(); });
    if (waiting_.empty()) return false;
    work = std::move(waiting_.front());
    waiting_.pop_front();
    running_ = std::stop_source();
    token = running_.get_token();
    busy_ = true;
    return true;
}

void JobQueue::loop(const std::stop_token& end) {
    Work work;
    Cancellation token;
    while (takeNext(work, token, end)) {
        std::function<void()> finish;
        guarded([&] { finish = work(token); },
                [&](const std::string& what) { finish = [what] { reportFault(what); }; });
        work = nullptr;
        if (finish) tell(std::move(finish));
    }
}

} // namespace jointer::app
