// SPDX-License-Identifier: GPL-3.0-or-later
// Equations of one's own as files.
#include "session/own_models.h"

#include "analyses/fit_analysis.h"

#include <fstream>
#include <gmock/gmock.h>

using namespace jointer;
namespace fs = std::filesystem;
using testing::HasSubstr;

namespace {

class OwnModels : public testing::Test {
protected:
    void SetUp() override {
        folder_ = fs::temp_directory_path() / ("jointer-models-" + std::to_string(::getpid()));
        fs::create_directories(folder_);
    }
    void TearDown() override { fs::remove_all(folder_); }
    fs::path write(const std::string& name, const std::string& content) const {
        std::ofstream(folder_ / name, std::ios::binary) << content;
        return folder_ / name;
    }
    fs::path folder_;
};

} // namespace

TEST_F(OwnModels, ComeBackAsTheyWere) {
    const UserModel model{.name = "Shell growth / north",
                          .equation = "k = a*exp(-b/300)\nc*(1 - exp(-k*x))",
                          .purpose = "wild “quotes” and µ",
                          .starts = "c = max(y)"};
    const auto file = keepIn(model, folder_);
    ASSERT_TRUE(file);
    const auto back = readModelFile(*file);
    ASSERT_TRUE(back) << back.error().text;
    EXPECT_EQ(*back, model);
    EXPECT_EQ(keepIn(model, folder_)->string(), file->string()) << "in its own place";
    const auto other = keepIn({.name = "Shell growth: north", .equation = "a*x"}, folder_);
    ASSERT_TRUE(other);
    EXPECT_NE(other->string(), file->string()) << "another of a like name does not take its place";
    EXPECT_EQ(modelsIn(folder_).value.size(), 2U);
    EXPECT_TRUE(analyses::modelOf(nodeOf(*back)));
}

TEST_F(OwnModels, OfAnySortOfNameStayApart) {
    std::vector<std::string> names = {"a", "A b", "a-b", "a b", "..", "/", "ß", "名前", std::string(90, 'x')};
    for (const std::string& name : names) {
        const auto kept = keepIn({.name = name, .equation = "a*x + " + std::to_string(name.size())}, folder_);
        ASSERT_TRUE(kept) << name;
        EXPECT_EQ(kept->parent_path(), folder_) << name;
    }
    const auto all = modelsIn(folder_);
    EXPECT_EQ(all.value.size(), names.size());
    EXPECT_TRUE(all.issues.empty());
}

TEST_F(OwnModels, SayWhatIsWrongWithAFile) {
    EXPECT_THAT(readModelFile(folder_ / "none.json").error().text, HasSubstr("cannot be read"));
    EXPECT_THAT(readModelFile(write("a.json", "{\"format\": 3")).error().text, HasSubstr("not a file of"));
    EXPECT_THAT(readModelFile(write("b.json", "[1, 2]")).error().text, HasSubstr("not a file of"));
    const auto bad = readModelFile(write(
        "c.json", R"json({"format": "jointer-model", "name": "n", "equation": "k = a\nb*log(x)"})json"));
    ASSERT_FALSE(bad);
    EXPECT_THAT(bad.error().text, HasSubstr("log10"));
    EXPECT_EQ(bad.error().place.line, 2);
    const auto all = modelsIn(folder_);
    EXPECT_EQ(all.issues.size(), 3U);
    EXPECT_TRUE(modelsIn(folder_ / "nothing").value.empty());
}
