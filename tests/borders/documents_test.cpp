// SPDX-License-Identifier: GPL-3.0-or-later
// The documents: every link leads somewhere, every command they name exists, every source says its licence.
#include <algorithm>
#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <regex>

namespace fs = std::filesystem;

namespace {

const fs::path root = JOINTER_SOURCE_DIR;

std::string textOf(const fs::path& file) {
    std::ifstream in(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

std::vector<fs::path> filesBelow(const fs::path& folder, const std::vector<std::string>& endings) {
    std::vector<fs::path> out;
    for (const auto& entry : fs::recursive_directory_iterator(folder))
        if (std::ranges::find(endings, entry.path().extension().string()) != endings.end())
            out.push_back(entry.path());
    return out;
}

std::vector<fs::path> documents() {
    std::vector<fs::path> all = filesBelow(root / "docs", {".md"});
    for (const char* name : {"README.md", "CONTRIBUTING.md", "CHANGELOG.md"}) all.push_back(root / name);
    return all;
}

} // namespace

TEST(Documents, EveryLinkLeadsSomewhere) {
    const std::regex link(R"(\]\(([^)#]+)(#[^)]*)?\))");
    int links = 0;
    for (const fs::path& document : documents()) {
        const std::string text = textOf(document);
        ASSERT_FALSE(text.empty()) << document;
        for (std::sregex_iterator m(text.begin(), text.end(), link), end; m != end; ++m) {
            const std::string target = (*m)[1];
            if (target.starts_with("http")) continue;
            ++links;
            EXPECT_TRUE(fs::exists(document.parent_path() / target)) << document << " → " << target;
        }
    }
    EXPECT_GT(links, 8);
}

TEST(Documents, CommandsAndFoldersThatTheyNameExist) {
    const std::regex named(R"(`((?:\./|tools/|bench/|fuzz/|docs/|src/|tests/|resources/)[a-z_/]+)`)");
    for (const fs::path& document : documents()) {
        const std::string text = textOf(document);
        for (std::sregex_iterator m(text.begin(), text.end(), named), end; m != end; ++m)
            EXPECT_TRUE(fs::exists(root / (*m)[1].str())) << document << " names " << (*m)[1];
    }
    const std::string readme = textOf(root / "README.md");
    EXPECT_LT(readme.find("./demo"), 120U) << "the README starts with the two commands";
    EXPECT_LT(readme.find("./test"), 220U);
}

TEST(Documents, SourcesSayTheirLicence) {
    for (const char* folder : {"src", "tests", "demos", "bench", "fuzz"})
        for (const fs::path& file : filesBelow(root / folder, {".cpp", ".h"}))
            EXPECT_TRUE(textOf(file).starts_with("// SPDX-License-Identifier: GPL-3.0-or-later\n")) << file;
    for (const char* folder : {"resources/fonts", "resources/icons"}) {
        bool licence = false;
        for (const auto& entry : fs::recursive_directory_iterator(root / folder)) {
            std::string name = entry.path().filename();
            std::ranges::transform(name, name.begin(), [](unsigned char c) { return std::tolower(c); });
            licence |= name.find("licen") != std::string::npos || name.find("ofl") != std::string::npos;
        }
        EXPECT_TRUE(licence) << folder;
    }
}

// One task, one file: what has grown too long is to be cut at a seam.
TEST(Sources, AreShortEnoughToRead) {
    for (const fs::path& file : filesBelow(root / "src", {".cpp", ".h"})) {
        const std::string text = textOf(file);
        EXPECT_LE(std::ranges::count(text, '\n'), 420) << file;
    }
}
