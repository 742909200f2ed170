// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/folder_watch.h"

#include "app/widgets.h"

#include <QTime>
#include <QTimer>

namespace jointer::app {

namespace {

constexpr int kEvery = 1000;        // ms
constexpr qsizetype kMostLog = 500; // lines

} // namespace

FolderWatch::FolderWatch(QObject* parent) : QObject(parent), job_(this), clock_(new QTimer(this)) {
    clock_->setInterval(kEvery);
    connect(clock_, &QTimer::timeout, this, &FolderWatch::look);
}

void FolderWatch::begin(const std::string& folder, const std::vector<std::string>& done) {
    path_ = folder;
    watched_ = std::make_shared<WatchedFolder>(folder);
    watched_->passOver(done);
    waiting_ = come_ = 0;
    paused_ = gone_ = false;
    note(tr("Watching %1").arg(text(folder)));
    clock_->start();
    look();
}

void FolderWatch::pause(bool paused) {
    paused_ = paused;
    note(paused ? tr("Paused") : tr("Goes on"));
    paused ? clock_->stop() : clock_->start();
    Q_EMIT changed();
}

void FolderWatch::end() {
    clock_->stop();
    watched_.reset();
    note(tr("Ended"));
    Q_EMIT changed();
}

void FolderWatch::note(const QString& what) {
    log_ << QTime::currentTime().toString("HH:mm:ss") + "  " + what;
    while (log_.size() > kMostLog) log_.removeFirst();
}

// One look at a time: a slow share keeps nothing waiting but itself.
void FolderWatch::look() {
    if (!watched_ || job_.isBusy()) return;
    job_.request([this, folder = watched_](const Cancellation&) -> std::function<void()> {
        const auto found = folder->look();
        return [this, folder, found] {
            if (folder != watched_) return;
            waiting_ = folder->waiting();
            if (!found) {
                if (!std::exchange(gone_, true)) note(text(found.error().sentence()));
            } else {
                gone_ = false;
                come_ += found->size();
                for (const std::string& file : *found) note(tr("Came in: %1").arg(text(file)));
                if (!found->empty()) Q_EMIT arrived(*found);
            }
            Q_EMIT changed();
        };
    });
}

} // namespace jointer::app
