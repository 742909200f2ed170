// SPDX-License-Identifier: GPL-3.0-or-later
// Distributions of sizes on a figure: a panel beside that of the fit, drawn with its band, undone as one.
#include "figure/actions.h"
#include "figure/first_figure.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "project/figure_edits.h"
#include "scattering.h"

#include <gtest/gtest.h>

using namespace jointer;

TEST(SizesAction, DrawsWhatFitsHaveFound) {
    Project p = demo::scatteringDemo();
    evaluate::Evaluator evaluator;
    const AnalysisId fit = p.analyses[0].id;
    const DatasetId d = p.analyses[0].inputs[0].dataset;
    Element points = figure::newMark("points", d.text()), curve = figure::newMark("curve", fit.text());
    p = *figure::addEmptyFigure(p).apply(p);
    const FigureId figure = p.figures[p.figures.size() - 1].id;
    EXPECT_FALSE(figure::addSizes(figure, {}).apply(p)) << "nothing is drawn yet";
    points.settings.set("label", "-"), curve.settings.set("label", "-");
    p = *figure::addPanel(figure, {points, curve}).apply(p);
    const auto with = figure::addSizes(figure, {}).apply(p);
    ASSERT_TRUE(with) << with.error().text;
    const auto shown = with->figures.find(figure);
    ASSERT_EQ(std::ranges::count(shown->elements, "panel", &Element::kind), 2);
    const figure::Layout layout = figure::layOut(*with, *shown, evaluator);
    EXPECT_TRUE(layout.issues.empty()) << layout.issues[0].text;
    ASSERT_EQ(layout.panels.size(), 2U);
}
