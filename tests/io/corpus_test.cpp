// SPDX-License-Identifier: GPL-3.0-or-later
// Every file of the corpus is read as its expected reading says. The readings stand in expected.txt, each
// below a line "== name"; they were written down by eye from the files, not taken over from a run unread.
#include "base/files.h"
#include "corpus.h"

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <gtest/gtest.h>
#include <map>
#include <random>
#include <set>
#include <sstream>

using namespace jointer;
using namespace jointer::io;

namespace {

const std::string kFolder = JOINTER_SOURCE_DIR "/tests/data_files/corpus/";

std::map<std::string, std::string> expectedReadings() {
    std::ifstream in(kFolder + "expected.txt");
    std::map<std::string, std::string> all;
    std::string line, name;
    while (std::getline(in, line)) {
        if (line.starts_with("== "))
            name = line.substr(3);
        else
            all[name] += line + "\n";
    }
    return all;
}

std::vector<std::string> files() {
    std::vector<std::string> names;
    for (const auto& entry : std::filesystem::directory_iterator(kFolder))
        if (const auto name = entry.path().filename().string(); name != "expected.txt") names.push_back(name);
    std::ranges::sort(names);
    return names;
}

} // namespace

TEST(Corpus, EveryFileIsReadAsExpected) {
    const auto expected = expectedReadings();
    std::string all;
    for (const std::string& name : files()) {
        const std::string reading = described(readFileAs(kFolder + name, {}));
        all += "== " + name + "\n" + reading;
        if (!expected.contains(name))
            ADD_FAILURE() << name << " has no expected reading";
        else
            EXPECT_EQ(reading, expected.at(name)) << name;
    }
    EXPECT_GE(files().size(), 80U);
    EXPECT_EQ(files().size(), expected.size());
    if (HasFailure()) {
        std::ofstream(std::filesystem::temp_directory_path() / "readings_found.txt") << all;
    }
}

TEST(Corpus, EveryWarningOfTheContractOccurs) {
    std::set<std::string> codes;
    for (const std::string& name : files()) {
        const auto r = readFileAs(kFolder + name, {});
        if (!r)
            codes.insert(r.error().code);
        else
            for (const Issue& issue : r->issues) codes.insert(issue.code);
    }
    for (const char* code :
         {"ragged-rows", "repeated-heading", "nul-bytes", "unparsed-cells", "ambiguous-date-order",
          "truncated-last-line", "duplicate-names", "skipped-footer", "empty-file", "not-text", "checksum",
          "precision-loss", "no-cached-value"})
        EXPECT_TRUE(codes.contains(code)) << code;
}

// Cut anywhere or with single bytes changed, a file gives a table or a clear error.
TEST(Corpus, DamagedFilesAreNoHarm) {
    std::mt19937 random(20310502);
    for (const std::string& name : files()) {
        const auto file = MappedFile::open(kFolder + name);
        if (!file) continue;
        const std::string whole(file->bytes());
        for (int k = 0; k < 12 && !whole.empty(); ++k) {
            std::string bytes = whole;
            if (k % 2) bytes.resize(random() % bytes.size());
            for (int j = 0; j < k && !bytes.empty(); ++j)
                bytes[random() % bytes.size()] = static_cast<char>(random());
            const auto r = read(bytes, name, {});
            if (!r) {
                EXPECT_FALSE(r.error().text.empty()) << name;
                continue;
            }
            for (const auto& t : r->tables)
                for (const Column& c : t.table.columns)
                    ASSERT_LE(c.cells->size(), t.table.rowCount()) << name;
        }
    }
}
