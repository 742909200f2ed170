// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/watched_folder.h"

#include "base/text.h"

#include <filesystem>

namespace jointer {

namespace fs = std::filesystem;

namespace {

// What programs call files that they have not finished, and what hides.
bool isUnfinished(const std::string& name) {
    const std::string lower = lowerAscii(name);
    for (const char* ending : {".part", ".tmp", ".temp", ".crdownload", ".swp", "~"})
        if (lower.ends_with(ending)) return true;
    return name.starts_with('.') || name.starts_with("~$");
}

} // namespace

void WatchedFolder::passOver(const std::vector<std::string>& files) {
    before_.insert(files.begin(), files.end());
}

Result<std::vector<std::string>> WatchedFolder::look(Clock::time_point now) {
    std::error_code error;
    fs::directory_iterator entries(folder_, error);
    if (error)
        return failure("folder-gone", "The watched folder cannot be read now; it is looked at again.",
                       {.file = folder_});
    std::vector<std::string> complete;
    std::set<std::string> there;
    for (const auto& entry : entries) {
        const std::string path = entry.path().string();
        if (isUnfinished(entry.path().filename().string()) || !entry.is_regular_file(error) || error)
            continue;
        const std::uintmax_t size = entry.file_size(error);
        const auto time = error ? fs::file_time_type{} : entry.last_write_time(error);
        if (error) continue; // gone, or not to be read now
        there.insert(path);
        const long long stamp = time.time_since_epoch().count();
        const auto [at, fresh] = seen_.try_emplace(path, Seen{size, stamp, now, before_.contains(path)});
        Seen& seen = at->second;
        if (seen.size != size || seen.time != stamp) seen = {size, stamp, now, false};
        if (seen.taken || now - seen.since < still_) continue;
        seen.taken = true;
        complete.push_back(path);
    }
    std::erase_if(seen_, [&](const auto& s) { return !there.contains(s.first); });
    std::ranges::sort(complete);
    return complete;
}

std::size_t WatchedFolder::waiting() const {
    std::size_t n = 0;
    for (const auto& [path, seen] : seen_) n += !seen.taken;
    return n;
}

} // namespace jointer
