// SPDX-License-Identifier: GPL-3.0-or-later
// A folder into which an instrument writes. It is looked at now and then, since shares in a network send no
// notice; a file counts as complete once its size and time have stood still for a while. What was taken and
// has changed since comes again. Owned by one thread. Example: `for (const auto& f : folder.look(now))
// run(f);`
#pragma once

#include "base/issue.h"

#include <chrono>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace jointer {

class WatchedFolder {
public:
    using Clock = std::chrono::steady_clock;

    explicit WatchedFolder(std::string folder, std::chrono::milliseconds still = std::chrono::seconds(2))
        : folder_(std::move(folder)), still_(still) {}

    const std::string& folder() const { return folder_; }
    // Files that are done already, as after a restart: they come again only when they change.
    void passOver(const std::vector<std::string>& files);

    // The files that have become complete since the last look, by name. Errors: "folder-gone"; a later look
    // goes on when the folder is there again.
    Result<std::vector<std::string>> look(Clock::time_point now = Clock::now());

    std::size_t waiting() const; // seen, and not complete yet

private:
    struct Seen {
        std::uintmax_t size = 0;
        long long time = 0;
        Clock::time_point since{};
        bool taken = false;
    };
    std::string folder_;
    std::chrono::milliseconds still_;
    std::map<std::string, Seen> seen_;
    std::set<std::string> before_; // done before the first look
};

} // namespace jointer
