// SPDX-License-Identifier: GPL-3.0-or-later
// A folder under src/ may include only what CMakeLists.txt declares for it, and nothing below paint knows Qt.
#include <filesystem>
#include <fstream>
#include <gtest/gtest.h>
#include <map>
#include <regex>
#include <set>
#include <sstream>

namespace fs = std::filesystem;

namespace {

std::map<std::string, std::set<std::string>> declared() {
    std::map<std::string, std::set<std::string>> out;
    std::ifstream in(std::string(JOINTER_BINARY_DIR) + "/module_borders.txt");
    for (std::string line; std::getline(in, line);) {
        const std::size_t colon = line.find(':');
        auto& uses = out[line.substr(0, colon)];
        std::string rest = line.substr(colon + 1);
        for (char& c : rest)
            if (c == ';') c = ' ';
        std::istringstream words(rest);
        for (std::string word; words >> word;) uses.insert(word);
    }
    return out;
}

std::vector<std::string> includes(const fs::path& file, const std::regex& pattern) {
    std::vector<std::string> out;
    std::ifstream in(file);
    for (std::string line; std::getline(in, line);)
        if (std::smatch m; std::regex_search(line, m, pattern)) out.push_back(m[1]);
    return out;
}

} // namespace

TEST(Borders, FoldersIncludeOnlyWhatTheyDeclare) {
    const auto uses = declared();
    ASSERT_GT(uses.size(), 14U);
    const std::regex own("^#include \"([a-z_]+)/"), qt("^#include <(Q[A-Z][A-Za-z]*)>");
    const std::set<std::string> withQt = {"paint", "cli", "app"};
    const fs::path src = fs::path(JOINTER_SOURCE_DIR) / "src";
    int files = 0;
    for (const auto& entry : fs::recursive_directory_iterator(src)) {
        const std::string ending = entry.path().extension();
        if (ending != ".h" && ending != ".cpp") continue;
        ++files;
        const std::string folder = *fs::relative(entry.path(), src).begin();
        ASSERT_TRUE(uses.contains(folder)) << folder << " is not declared in CMakeLists.txt";
        for (const std::string& included : includes(entry.path(), own))
            EXPECT_TRUE(included == folder || uses.at(folder).contains(included))
                << entry.path() << " includes " << included << "/, which " << folder << " does not declare";
        EXPECT_TRUE(withQt.contains(folder) || includes(entry.path(), qt).empty())
            << entry.path() << " includes the toolkit";
    }
    EXPECT_GT(files, 80);
}

TEST(Borders, NoFolderUsesOneThatUsesIt) {
    const auto uses = declared();
    for (const auto& [folder, used] : uses)
        for (const std::string& other : used)
            EXPECT_FALSE(uses.contains(other) && uses.at(other).contains(folder))
                << folder << " and " << other << " use each other";
}

TEST(Documents, AllLinksLead) {
    const std::regex link(R"(\]\(([^)#:]+)(#[^)]*)?\))");
    int links = 0;
    for (const auto& entry : fs::recursive_directory_iterator(JOINTER_SOURCE_DIR)) {
        const std::string path = entry.path();
        if (entry.path().extension() != ".md" || path.find("/build/") != std::string::npos) continue;
        std::ifstream in(entry.path());
        const std::string text{std::istreambuf_iterator<char>(in), {}};
        for (std::sregex_iterator m(text.begin(), text.end(), link), end; m != end; ++m) {
            ++links;
            EXPECT_TRUE(fs::exists(entry.path().parent_path() / (*m)[1].str()))
                << path << " links to " << (*m)[1];
        }
    }
    EXPECT_GT(links, 5);
}
