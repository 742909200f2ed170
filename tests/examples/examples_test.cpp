// SPDX-License-Identifier: GPL-3.0-or-later
// The worked examples of docs/architecture.md: each is one file and one line in a catalogue, and is then found
// everywhere. What the page shows is what compiles here.
#include "cli/commands.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/marks/mark.h"
#include "io/own_kinds.h"
#include "models/catalogue.h"
#include "paint/painter.h"
#include "session/reference.h"
#include "session/validation.h"
#include "steps/own_kinds.h"
#include "support/drawn.h"
#include "support/fitted.h"

#include <CLI/CLI.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <gmock/gmock.h>
#include <sstream>

namespace jointer {
namespace steps {
StepKind mirrorStep();
}
namespace models {
std::vector<ModelKind> settlingModels();
}
namespace figure {
MarkKind crosshairMark();
}
namespace io {
ReaderKind tideLogReader();
}
namespace cli {
std::unique_ptr<Command> countCommand();
}
} // namespace jointer

using namespace jointer;
using testing::ElementsAre;
using testing::HasSubstr;

namespace {

// The one line each.
const bool added = [] {
    steps::addKind(steps::mirrorStep());
    for (models::ModelKind& kind : models::settlingModels()) models::addKind(std::move(kind));
    figure::addMarkKind(figure::crosshairMark());
    io::addReader(io::tideLogReader());
    return true;
}();

std::string contentOf(const std::string& path) {
    std::ifstream in(std::string(JOINTER_SOURCE_DIR) + "/" + path);
    std::ostringstream all;
    all << in.rdbuf();
    return all.str();
}

Curve curveOf(std::vector<double> x, std::vector<double> y) {
    Curve c;
    c.x = std::move(x);
    c.y = std::move(y);
    for (std::size_t i = 0; i < c.size(); ++i) c.rowIds.push_back(static_cast<std::uint32_t>(i + 1));
    return c;
}

} // namespace

TEST(Examples, AStep) {
    ASSERT_TRUE(added);
    Settings settings;
    settings.set("at", Value(2.0));
    const auto out = steps::apply("mirror", curveOf({1, 2, 3}, {5, 2, -1}), settings);
    EXPECT_TRUE(out.issues.empty());
    EXPECT_THAT(out.value.curve.y, ElementsAre(-1, 2, 5));
    EXPECT_EQ(out.value.sentence, "Mirrored at 2.");
    EXPECT_THAT(referenceText(paint::QtFigureWriter().formats()), HasSubstr("`mirror`"));
}

TEST(Examples, AModel) {
    test::Drawing d;
    std::vector<double> x, y;
    for (int i = 1; i <= 30; ++i) x.push_back(i), y.push_back(8.0 * i / (3.5 + i));
    const std::size_t k = d.data(x, y);
    Analysis fit;
    fit.inputs = {{.dataset = d.p.datasets[k].id}};
    fit.model.kind = "settling";
    d.p = *edits::addAnalysis(fit).apply(d.p);
    const test::Fitted fitted = test::fitOf(d.evaluator(), d.p, d.p.analyses[0]);
    ASSERT_EQ(fitted.report->state, fit::FitState::Converged);
    EXPECT_NEAR(fitted.one().parameters[0].value, 8.0, 1e-8);
    EXPECT_NEAR(fitted.one().parameters[1].value, 3.5, 1e-8);
    EXPECT_THAT(referenceText(paint::QtFigureWriter().formats()), HasSubstr("`settling`"));
}

TEST(Examples, AMark) {
    test::Drawing d;
    d.data({1, 2, 3}, {1, 7, 4});
    Element mark = d.mark("crosshair");
    mark.settings.set("arm", Value(3.0));
    d.lay({mark});
    ASSERT_EQ(d.paths().size(), 1U);
    const auto lines = d.paths().at(0).lines;
    ASSERT_EQ(lines.size(), 2U);
    EXPECT_NEAR(lines[0].points[1].x - lines[0].points[0].x, 6, 1e-9);
    const auto [x, y] = d.value({lines[1].points[0].x, lines[0].points[0].y});
    EXPECT_NEAR(x, 2, 1e-9);
    EXPECT_NEAR(y, 7, 1e-9);
    Project bad = d.p;
    bad = *edits::setElement(bad.figures[0].id, d.element(0).id, "arm", Value(-1.0)).apply(bad);
    EXPECT_FALSE(dropUnfitSettings(bad).empty()) << "files are checked by the description";
}

TEST(Examples, AFormat) {
    const auto read = io::read("TIDE1\n0 1.25\n6 -0.5\nstorm\n12 1.5\n", "gauge.tide", {});
    ASSERT_TRUE(read);
    EXPECT_EQ(read->format, "tide-log");
    ASSERT_EQ(read->issues.size(), 1U);
    EXPECT_EQ(read->issues[0].place.line, 4);
    const auto& columns = read->tables[0].table.columns;
    EXPECT_EQ(columns[1].unit, "m");
    EXPECT_THAT(std::vector<double>(columns[1].numbers().begin(), columns[1].numbers().end()),
                ElementsAre(1.25, -0.5, 1.5));
    EXPECT_EQ(columns[1].role, Role::Y);
    EXPECT_FALSE(io::read("TIDE1\n", "gauge.tide", {}));
}

TEST(Examples, ACommand) {
    const auto command = cli::countCommand();
    CLI::App app;
    command->declare(app);
    const std::string path = std::string(JOINTER_SOURCE_DIR) + "/demos/raw/shell_7d.csv";
    app.parse("\"" + path + "\"");
    testing::internal::CaptureStdout();
    const int status = command->run();
    EXPECT_THAT(testing::internal::GetCapturedStdout(), HasSubstr("{\"rows\":"));
    EXPECT_LE(status, cli::DoneWithWarnings);
}

// Each block of code on the page stands in the file that is named above it.
TEST(Examples, ThePageShowsWhatCompiles) {
    const std::string page = contentOf("docs/architecture.md");
    std::size_t at = 0, blocks = 0;
    while ((at = page.find("```cpp\n", at)) != page.npos) {
        const std::size_t begin = at + 7, end = page.find("```", begin);
        ASSERT_NE(end, page.npos);
        const std::size_t link = page.rfind("](../", at), close = page.find(')', link);
        ASSERT_NE(link, page.npos);
        const std::string file = page.substr(link + 5, close - link - 5);
        EXPECT_THAT(contentOf(file), HasSubstr(page.substr(begin, end - begin))) << file;
        at = end;
        ++blocks;
    }
    EXPECT_EQ(blocks, 5U) << "step, model, mark, format, command";
}
