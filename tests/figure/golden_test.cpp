// SPDX-License-Identifier: GPL-3.0-or-later
// Whole layouts against lists that were looked at once: each names its target.
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figures.h"
#include "pages.h"
#include "project/edit.h"
#include "support/list_text.h"
#include "support/sample_project.h"

using namespace jointer;
using namespace jointer::figure;

namespace {

using Change = std::function<void(Figure&)>;

Project withStyles() {
    Project p = test::sampleProject();
    for (HouseStyle s : shippedStyles()) {
        s.id = p.newId<StyleId>();
        p.styles = p.styles.with(s);
    }
    return p;
}

// A figure of the sample project with the marks, laid out for the target.
void golden(const std::string& name, const std::vector<Element>& marks, const Change& change = {},
            const Target& target = {}) {
    Project p = withStyles();
    Figure f = newFigure(name, p.styles[0].id, marks);
    if (change) change(f);
    p = *edits::addFigure(f).apply(p);
    evaluate::Evaluator e;
    test::expectGolden(name, layOut(p, p.figures[p.figures.size() - 1], e, target).list);
}

Element markOf(const std::string& kind, std::initializer_list<std::pair<const char*, Value>> settings = {}) {
    const Project p = withStyles();
    const bool ofFit = kind == "curve" || kind == "residuals";
    Element e = newMark(kind, ofFit ? p.analyses[0].id.text() : p.datasets[0].id.text());
    for (const auto& [key, value] : settings) e.settings.set(key, value);
    return e;
}

Value word(const char* text) {
    return Value(std::string(text));
}

} // namespace

TEST(Golden, PointsAndTheirFit) {
    golden("points-and-fit", {markOf("points"), markOf("curve", {{"band", word("confidence")}})});
}

TEST(Golden, LinesAndAreas) {
    golden("lines-and-areas",
           {markOf("area", {{"offset", Value(1.0)}}), markOf("line", {{"dash", word("dashed")}}),
            markOf("points-line", {{"symbol", word("diamond")}, {"fill", word("filled")}})});
}

TEST(Golden, ResidualsAndLayersOfSteps) {
    golden("residuals", {markOf("residuals")});
    golden("layers", {markOf("points", {{"point", word("measured")}}), markOf("baseline"), markOf("taken")});
    golden("spectrum", {markOf("spectrum")});
}

TEST(Golden, LogarithmicReversedWithGridAndLegend) {
    golden("log-reversed", {markOf("points"), markOf("curve")}, [](Figure& f) {
        Element& panel = f.elements[0];
        panel.settings.set("title", "A \\textbf{title}");
        panel.children[0].settings.set("reversed", Value(true));
        panel.children[0].settings.set("ticks", "out");
        panel.children[1].settings.set("scale", "log");
        panel.children[1].settings.set("grid", Value(true));
        panel.children[1].settings.set("opposite", "line");
        panel.children.back().settings.set("where", "bottom-left");
    });
}

TEST(Golden, SlideStyleWithNotes) {
    golden("slide", {markOf("points"), markOf("curve")},
           [](Figure& f) {
               f.style = withStyles().styles[1].id;
               Element note{.kind = "note", .source = f.elements[0].children[3].source};
               note.settings.set("text", "x_{0} = {centre}\nR^{2} = {r2}");
               f.elements[0].children.push_back(note);
           },
           {.pixelsPerMm = 4});
}

// --- The demo figures, each with what it is there for -----------------------------------------------------

namespace {

class GoldenDemo : public testing::TestWithParam<std::size_t> {};

std::string fileName(const std::string& figure) {
    std::string out = "demo-";
    for (char c : figure)
        if (std::isalnum(static_cast<unsigned char>(c)))
            out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        else if (out.back() != '-')
            out += '-';
    return out;
}

} // namespace

// Staggered groups with components; two axes; lanes; lists of values; histogram and probability; bands;
// colour scale, formula axis and companions; breaks; grouped bars; residuals with a table; panels and insets. Then
// artwork, notes, formulae, tables and house styles.
TEST_P(GoldenDemo, IsDrawnAsItWas) {
    static const Project figures = demo::figureDemo(), pages = demo::pagesDemo();
    static evaluate::Evaluator ofFigures, ofPages;
    ASSERT_EQ(figures.figures.size(), demo::kDemoFigures) << "each is looked at";
    ASSERT_EQ(pages.figures.size(), demo::kDemoPages);
    const bool first = GetParam() < demo::kDemoFigures;
    const Project& p = first ? figures : pages;
    const Figure& f = p.figures[first ? GetParam() : GetParam() - demo::kDemoFigures];
    test::expectGolden(fileName(f.name), layOut(p, f, first ? ofFigures : ofPages).list);
}

INSTANTIATE_TEST_SUITE_P(Figures, GoldenDemo,
                         testing::Range(std::size_t{0}, demo::kDemoFigures + demo::kDemoPages));
