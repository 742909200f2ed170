// SPDX-License-Identifier: GPL-3.0-or-later
// Files of a watched folder come once they stand still, once each, and again when they change.
#include "session/watched_folder.h"

#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <unistd.h>

using namespace jointer;
using namespace std::chrono_literals;
namespace fs = std::filesystem;
using testing::ElementsAre;
using testing::IsEmpty;
using testing::SizeIs;

namespace {

class Watched : public testing::Test {
protected:
    void SetUp() override {
        folder_ = fs::temp_directory_path() / ("jointer-watched-" + std::to_string(::getpid()));
        fs::create_directories(folder_);
    }
    void TearDown() override { fs::remove_all(folder_); }
    std::string write(const std::string& name, const std::string& text, bool more = false) {
        std::ofstream(folder_ / name, more ? std::ios::app : std::ios::trunc) << text;
        return (folder_ / name).string();
    }
    std::vector<std::string> look(std::chrono::milliseconds at) { return *watched().look(start_ + at); }
    WatchedFolder& watched() {
        if (!watched_) watched_ = std::make_unique<WatchedFolder>(folder_.string(), 2s);
        return *watched_;
    }
    fs::path folder_;
    std::unique_ptr<WatchedFolder> watched_;
    WatchedFolder::Clock::time_point start_ = WatchedFolder::Clock::now();
};

} // namespace

TEST_F(Watched, GivesFilesThatStandStill) {
    const std::string a = write("a.csv", "x,y\n1,2\n");
    EXPECT_THAT(look(0ms), IsEmpty());
    EXPECT_EQ(watched().waiting(), 1U);
    EXPECT_THAT(look(1500ms), IsEmpty());
    write("a.csv", "3,4\n", true); // it is still being written
    EXPECT_THAT(look(2500ms), IsEmpty());
    EXPECT_THAT(look(4000ms), IsEmpty());
    EXPECT_THAT(look(4600ms), ElementsAre(a));
    EXPECT_THAT(look(9000ms), IsEmpty()) << "once";
    EXPECT_EQ(watched().waiting(), 0U);
    const std::string b = write("b.csv", "x,y\n");
    write("c.csv.part", "x");
    write(".hidden", "x");
    fs::create_directory(folder_ / "inside");
    EXPECT_THAT(look(9100ms), IsEmpty());
    EXPECT_THAT(look(12000ms), ElementsAre(b)) << "nothing hidden or unfinished";
}

TEST_F(Watched, GivesAgainWhatChanges) {
    const std::string a = write("a.csv", "1\n");
    look(0ms);
    EXPECT_THAT(look(3000ms), SizeIs(1));
    write("a.csv", "12\n");
    EXPECT_THAT(look(4000ms), IsEmpty());
    EXPECT_THAT(look(7000ms), ElementsAre(a));
}

TEST_F(Watched, PassesOverWhatIsDone) {
    const std::string a = write("a.csv", "1\n"), b = write("b.csv", "1\n");
    watched().passOver({a});
    look(0ms);
    EXPECT_THAT(look(3000ms), ElementsAre(b));
}

TEST_F(Watched, GoesOnWhenTheFolderIsBack) {
    write("a.csv", "1\n");
    look(0ms);
    fs::remove_all(folder_);
    EXPECT_EQ(watched().look(start_ + 1s).error().code, "folder-gone");
    fs::create_directories(folder_);
    const std::string a = write("a.csv", "1\n");
    look(2000ms);
    EXPECT_THAT(look(5000ms), ElementsAre(a));
}
