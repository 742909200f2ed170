// SPDX-License-Identifier: GPL-3.0-or-later
// Figures as text: there and back, with other data, written by hand, and damaged.
#include "session/figure_text.h"

#include "answers.h"
#include "base/files.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figures.h"
#include "pages.h"
#include "project/figure_edits.h"
#include "session/export.h"
#include "support/random.h"
#include "tern_sands.h"

#include <filesystem>
#include <gmock/gmock.h>
#include <nlohmann/json.hpp>

using namespace jointer;
using testing::HasSubstr;

namespace {

// What is drawn, without the ids.
std::vector<std::string> drawn(const Project& p, const Figure& f) {
    evaluate::Evaluator e;
    std::vector<std::string> out;
    const std::function<void(const std::vector<draw::Item>&)> walk =
        [&](const std::vector<draw::Item>& items) {
            for (const draw::Item& item : items) {
                std::string said = std::to_string(item.what.index());
                if (const auto* run = std::get_if<draw::TextRun>(&item.what))
                    said += run->text + std::to_string(run->origin.x) + run->colour.text();
                if (const auto* path = std::get_if<draw::Path>(&item.what)) {
                    said += path->stroke ? path->stroke->colour.text() : path->fill ? path->fill->text() : "";
                    double sum = 0;
                    for (const draw::Polyline& l : path->lines)
                        for (const draw::Point& at : l.points) sum += at.x + 1.7 * at.y;
                    said += std::to_string(sum);
                }
                if (const auto* s = std::get_if<draw::Symbols>(&item.what))
                    said += std::to_string(s->places.size());
                out.push_back(said);
                if (const auto* group = std::get_if<draw::Group>(&item.what)) walk(group->items);
            }
        };
    walk(figure::layOut(p, f, e).list.items);
    return out;
}

Result<FigureOfText> read(const std::string& text, std::vector<FigureData> data = {}) {
    return figureFromText(text, {}, std::move(data));
}

const char* kByHand = R"({
  "format": "jointer-figure", "version": 1, "name": "By hand", "style": "Single column",
  "settings": { "width": 90 },
  "data": { "shell": { "x": [1, 2, 3, 4, 5], "y": [2.1, 3.9, 6.2, 7.8, 10.1], "x-name": "Age", "x-unit": "d", "y-name": "Length" } },
  "fits": [ { "name": "growth", "data": "shell", "model": "line" } ],
  "elements": [ { "kind": "panel", "children": [
      { "kind": "axis", "settings": { "side": "bottom" } }, { "kind": "axis", "settings": { "side": "left" } },
      { "kind": "points", "source": "shell" }, { "kind": "curve", "source": "growth" },
      { "kind": "note", "source": "growth", "settings": { "text": "slope {slope}" } } ] } ]
})";

} // namespace

TEST(FigureText, ComesBackAsItWas) {
    for (const Project& p : {demo::figureDemo(), demo::ternSands(), demo::answersDemo(), demo::pagesDemo()})
        for (const auto& f : p.figures) {
            SCOPED_TRACE(f->name);
            const std::string text = figureText(p, *f);
            const auto back = read(text);
            ASSERT_TRUE(back) << back.error().sentence();
            EXPECT_TRUE(back->issues.empty());
            const Figure& figure = *back->project.figures.find(back->figure);
            EXPECT_EQ(figureText(back->project, figure), text) << "the text is the same again";
            EXPECT_EQ(drawn(back->project, figure), drawn(p, *f));
            EXPECT_EQ(dataChecksum(back->project, figure), dataChecksum(p, *f));
        }
}

TEST(FigureText, WrittenByHandIsDrawn) {
    const auto made = read(kByHand);
    ASSERT_TRUE(made) << made.error().sentence();
    const Figure& f = *made->project.figures.find(made->figure);
    EXPECT_EQ(figure::pageOf(made->project, f).width, 90);
    evaluate::Evaluator e;
    const auto layout = figure::layOut(made->project, f, e);
    std::string words;
    for (const draw::Item& item : layout.list.items)
        if (const auto* run = std::get_if<draw::TextRun>(&item.what)) words += run->text + " ";
    EXPECT_THAT(words, HasSubstr("Age (d)"));
    EXPECT_THAT(words, HasSubstr("slope (1.990")) << words; // 1.99 exactly by hand: Σ(x−3)y/10 = 19.9/10
}

TEST(FigureText, TakesOtherDataInPlaceOfItsOwn) {
    Table other{.name = "other",
                .columns = {numberColumn("t", "h", {1, 2, 3}), numberColumn("v", "", {10, 30, 50})}};
    const auto made = read(kByHand, {{"shell", other, {{"t"}, {"v"}}}});
    ASSERT_TRUE(made) << made.error().sentence();
    EXPECT_EQ(made->project.datasets.size(), 1U);
    evaluate::Evaluator e;
    const auto outcome = e.analysis(made->project, made->project.analyses[0]);
    ASSERT_TRUE(outcome.exists());
    EXPECT_NEAR(outcome->find("slope")->value, 20, 1e-9);
    const auto missing = read(kByHand, {{"shell", other, {{"t"}, {"w"}}}});
    ASSERT_FALSE(missing);
    EXPECT_THAT(missing.error().text, HasSubstr("“w”"));
}

// A figure of the demo takes the data of another dataset: its fit follows.
TEST(FigureText, FitsFollowOtherData) {
    const Project p = demo::ternSands();
    const std::string text = figureText(p, p.figures[0]);
    const auto before = read(text);
    ASSERT_TRUE(before);
    const auto d = before->project.datasets[0];
    std::vector<double> x, y;
    for (int k = 0; k < 60; ++k) {
        x.push_back(650 + 2.5 * k);
        y.push_back(100 + 3 * k);
    }
    Table flat{.name = "flat", .columns = {numberColumn("x", "", x), numberColumn("y", "", y)}};
    const auto after = read(text, {{d.name, flat, {{"x"}, {"y"}}}});
    ASSERT_TRUE(after) << after.error().sentence();
    EXPECT_NE(drawn(after->project, *after->project.figures.find(after->figure)),
              drawn(before->project, *before->project.figures.find(before->figure)));
}

TEST(FigureText, SaysWhatIsWrongWithIt) {
    const auto said = [](std::string text, const std::string& from, const std::string& to) {
        const std::size_t at = text.find(from);
        EXPECT_NE(at, text.npos) << from;
        text.replace(at, from.size(), to);
        const auto made = read(text);
        return made ? std::string("fine") : made.error().sentence();
    };
    EXPECT_THAT(said(kByHand, "jointer-figure", "other"), HasSubstr("no figure of Jointer"));
    EXPECT_THAT(said(kByHand, "\"version\": 1", "\"version\": 99"), HasSubstr("newer version"));
    EXPECT_THAT(said(kByHand, "\"version\": 1,", "\"version\": 1"), HasSubstr("line 2"));
    EXPECT_THAT(said(kByHand, "\"source\": \"shell\"", "\"source\": \"pond\""),
                HasSubstr("--data pond=FILE"));
    EXPECT_THAT(said(kByHand, "\"kind\": \"points\"", "\"kind\": \"dots\""), HasSubstr("“dots”; there are"));
    EXPECT_THAT(said(kByHand, "\"model\": \"line\"", "\"model\": \"lime\""), HasSubstr("“lime”"));
    EXPECT_THAT(said(kByHand, "Single column", "No such"), HasSubstr("“Single column”"));
    EXPECT_THAT(said(kByHand, "[1, 2, 3, 4, 5]", "[1, 2]"), HasSubstr("not of one length"));
    EXPECT_THAT(said(kByHand, "\"x\": [1, 2, 3, 4, 5]", "\"file\": \"../secret.csv\""),
                HasSubstr("not in the figure's folder"));
    EXPECT_THAT(said(kByHand, "\"x\": [1, 2, 3, 4, 5]", "\"file\": \"/etc/passwd\""),
                HasSubstr("not in the figure's folder"));
    const auto odd = [&] {
        std::string text = kByHand;
        text.replace(text.find("\"width\": 90"), 11, "\"width\": \"wide\"");
        return read(text);
    }();
    ASSERT_TRUE(odd);
    EXPECT_FALSE(odd->issues.empty()) << "a width that is no number gives way, and it is said";
}

TEST(FigureText, ReadsFilesBesideIt) {
    const std::filesystem::path folder = std::filesystem::temp_directory_path() / "jointer-figure-text";
    std::filesystem::create_directories(folder);
    ASSERT_TRUE(replaceFile(folder / "pond.csv", "Depth,Oxygen\n1,8.1\n2,7.9\n3,7.2\n"));
    std::string text = kByHand;
    const std::string inner =
        text.substr(text.find("{ \"x\": [1"), text.find("} },\n  \"fits\"") + 1 - text.find("{ \"x\": [1"));
    text.replace(text.find(inner), inner.size(), R"({ "file": "pond.csv", "x": "Depth", "y": "Oxygen" })");
    const auto made = figureFromText(text, (folder / "f.json").string());
    ASSERT_TRUE(made) << made.error().sentence();
    EXPECT_EQ(made->project.tables[0].rowCount(), 3U);
    std::filesystem::remove_all(folder);
}

TEST(FigureText, JoinsAnOpenProject) {
    const Project before = demo::ternSands();
    const auto made = read(kByHand);
    ASSERT_TRUE(made);
    const auto after = edits::joinFigure(*made).apply(before);
    ASSERT_TRUE(after);
    EXPECT_EQ(after->figures.size(), before.figures.size() + 1);
    EXPECT_EQ(after->styles.size(), before.styles.size())
        << "the house style of the same name is the project's own";
    const Figure& joined = after->figures[after->figures.size() - 1];
    EXPECT_EQ(drawn(*after, joined), drawn(made->project, *made->project.figures.find(made->figure)));
    EXPECT_EQ(highestId(*after) < after->nextId, true);
}

// Damaged texts are refused or drawn, and never crash.
TEST(FigureText, AnyBytesAreRefusedOrDrawn) {
    test::Random random(23);
    const Project p = demo::figureDemo();
    const std::string good = figureText(p, p.figures[5]);
    int read_ = 0;
    for (int round = 0; round < 300; ++round) {
        std::string text = round % 2 ? good : std::string(kByHand);
        for (std::size_t k = 0, n = 1 + random.below(4); k < n; ++k) {
            const std::size_t at = random.below(text.size());
            switch (random.below(4)) {
            case 0:
                text[at] = static_cast<char>(random.below(256));
                break;
            case 1:
                text.erase(at, random.below(20));
                break;
            case 2:
                text.insert(at, text.substr(random.below(text.size()), random.below(40)));
                break;
            default:
                if (const std::size_t digit = text.find_first_of("0123456789", at); digit != text.npos)
                    text[digit] = "0123456789-e."[random.below(13)];
            }
        }
        const auto made = read(text);
        if (!made) {
            EXPECT_FALSE(made.error().text.empty());
            continue;
        }
        ++read_;
        (void)drawn(made->project, *made->project.figures.find(made->figure));
        (void)figureText(made->project, *made->project.figures.find(made->figure));
    }
    EXPECT_GT(read_, 20);
}
