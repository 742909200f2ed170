// SPDX-License-Identifier: GPL-3.0-or-later
// A folder that the window watches: looked at in the background every second, since shares in a network may
// keep it waiting. Tells what has come in, and keeps a log.
#pragma once

#include "app/background.h"
#include "session/watched_folder.h"

#include <QObject>
#include <QStringList>
#include <memory>

class QTimer;

namespace jointer::app {

class FolderWatch final : public QObject {
    Q_OBJECT
public:
    explicit FolderWatch(QObject* parent = nullptr);

    void begin(const std::string& folder, const std::vector<std::string>& done);
    void pause(bool paused);
    void end();
    bool isWatching() const { return watched_ != nullptr; }
    bool isPaused() const { return paused_; }
    const std::string& folder() const { return path_; }
    std::size_t waiting() const { return waiting_; }
    std::size_t come() const { return come_; }
    const QStringList& log() const { return log_; }
    void note(const QString& what); // with the time

Q_SIGNALS:
    void arrived(const std::vector<std::string>& files);
    void changed();

private:
    void look();
    LatestJob job_;
    std::shared_ptr<WatchedFolder> watched_; // looked at by one job at a time
    std::string path_;
    QTimer* clock_;
    QStringList log_;
    std::size_t waiting_ = 0, come_ = 0;
    bool paused_ = false, gone_ = false;
};

} // namespace jointer::app
