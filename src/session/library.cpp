// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/library.h"

#include <cstdlib>
#include <fmt/format.h>

namespace jointer {

namespace fs = std::filesystem;

std::string fileStem(const std::string& name, const std::string& usual) {
    std::string out;
    for (const char c : name) {
        const auto byte = static_cast<unsigned char>(c);
        const bool plain = std::isalnum(byte) || byte >= 0x80;
        if (plain)
            out += c;
        else if (!out.empty() && out.back() != '-')
            out += '-';
    }
    while (out.ends_with('-')) out.pop_back();
    return out.empty() ? usual : out;
}

fs::path personalFolder(const char* variable, const std::string& called) {
    if (const char* told = std::getenv(variable); told && *told) return told;
    if (const char* data = std::getenv("XDG_DATA_HOME"); data && *data)
        return fs::path(data) / "jointer" / called;
    const char* home = std::getenv("HOME");
    return fs::path(home ? home : ".") / ".local/share/jointer" / called;
}

fs::path freeFile(const fs::path& folder, const std::string& name, const std::string& usual,
                  const std::function<bool(const fs::path&)>& holdsIt) {
    const std::string stem = fileStem(name, usual);
    fs::path file = folder / (stem + ".json");
    std::error_code error;
    for (int k = 2; fs::exists(file, error) && !holdsIt(file); ++k)
        file = folder / fmt::format("{}-{}.json", stem, k);
    return file;
}

std::vector<fs::path> jsonFilesIn(const fs::path& folder) {
    std::vector<fs::path> out;
    std::error_code error;
    for (const auto& entry : fs::directory_iterator(folder, error))
        if (entry.path().extension() == ".json") out.push_back(entry.path());
    return out;
}

} // namespace jointer
