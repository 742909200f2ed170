// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of figures: many staggered areas, a page of twelve panels, a step of a drag on it, its PDF.
#include "demo_figures.h"
#include "figure/actions.h"
#include "figure/kinds.h"
#include "figure/layout.h"
#include "figure/moves.h"
#include "paint/painter.h"

#include <benchmark/benchmark.h>
#include <cmath>

namespace {

using namespace jointer;

// 200 curves of 2000 points over one x.
Project manyCurves() {
    Project p;
    Table t;
    std::vector<double> x(2000);
    for (std::size_t i = 0; i < x.size(); ++i) x[i] = 0.05 * static_cast<double>(i);
    t.columns.push_back(numberColumn("x", "", x));
    for (int k = 0; k < 200; ++k) {
        std::vector<double> y;
        for (double v : x)
            y.push_back(std::exp(-std::pow((v - 30 - 0.2 * k) / 4, 2)) + 0.05 * std::sin(7 * v + k));
        t.columns.push_back(numberColumn("y" + std::to_string(k), "", std::move(y)));
    }
    p = *edits::addTable(std::move(t)).apply(p);
    for (std::size_t k = 1; k <= 200; ++k) {
        Dataset d{.name = "c" + std::to_string(k), .colour = figure::palette()[k % 8]};
        d.source.table = p.tables[0].id;
        d.source.roles = {{Role::X, p.tables[0].columns[0].id}, {Role::Y, p.tables[0].columns[k].id}};
        p = *edits::addDataset(std::move(d)).apply(p);
    }
    return p;
}

Figure staggered(const Project& p) {
    Element group{.kind = "group", .children = {{.kind = "area"}}};
    References all;
    for (const auto& d : p.datasets) all.push_back({d->id.text()});
    group.settings.set("datasets", Value(std::move(all)));
    group.settings.set("stagger", "equal");
    group.settings.set("distance", Value(0.1));
    return figure::newFigure("F", {}, {group});
}

// A frame of a zoom: laid out and painted for a screen of 96 dpi.
void staggeredAreas(benchmark::State& state) {
    const Project p = manyCurves();
    Figure f = staggered(p);
    f.settings.set("width", Value(180.0));
    f.settings.set("height", Value(120.0));
    evaluate::Evaluator e;
    (void)figure::layOut(p, f, e, {.pixelsPerMm = 3.78});
    double low = 0;
    for (auto _ : state) {
        low = low > 10 ? 0 : low + 0.5;
        f.elements[0].children[0].settings.set("range", Value(Numbers{low, low + 80}));
        const auto layout = figure::layOut(p, f, e, {.pixelsPerMm = 3.78});
        benchmark::DoNotOptimize(paint::toImage(layout.list, 96, false));
    }
}
BENCHMARK(staggeredAreas)->Unit(benchmark::kMillisecond);

void staggeredLayout(benchmark::State& state) {
    const Project p = manyCurves();
    const Figure f = staggered(p);
    evaluate::Evaluator e;
    for (auto _ : state) benchmark::DoNotOptimize(figure::layOut(p, f, e, {.pixelsPerMm = 3.78}));
}
BENCHMARK(staggeredLayout)->Unit(benchmark::kMillisecond);

struct Page {
    Project p = bench::twelvePanels();
    const Figure& f = p.figures[p.figures.size() - 1];
    evaluate::Evaluator e;
    Page() { (void)figure::layOut(p, f, e); }
};

void layoutOfTwelvePanels(benchmark::State& state) {
    Page page;
    for (auto _ : state)
        benchmark::DoNotOptimize(figure::layOut(page.p, page.f, page.e, {.pixelsPerMm = 3.78}));
}
BENCHMARK(layoutOfTwelvePanels)->Unit(benchmark::kMillisecond);

// A legend is dragged: the edit, the layout and the picture for the screen.
void dragOnTwelvePanels(benchmark::State& state) {
    Page page;
    const auto start = figure::layOut(page.p, page.f, page.e, {.pixelsPerMm = 3.78});
    const ElementId legend = page.f.elements[0].children.back().id;
    double mm = 0;
    QImage picture = paint::toImage(start.list, 96, false);
    draw::DisplayList shown = start.list;
    for (auto _ : state) {
        mm = mm > 20 ? 0 : mm + 0.3;
        const auto changes = figure::changesOf({page.f, start, {legend, {}}, figure::Grip::Whole}, {mm, mm});
        const Project now = *figure::editOf(page.f.id, "Move", "m", changes).apply(page.p);
        auto layout = figure::layOut(now, *now.figures.find(page.f.id), page.e, {.pixelsPerMm = 3.78});
        paint::paintChange(picture, shown, layout.list, {0, 0, shown.widthMm, shown.heightMm});
        shown = std::move(layout.list);
    }
}
BENCHMARK(dragOnTwelvePanels)->Unit(benchmark::kMillisecond);

void pdfOfTwelvePanels(benchmark::State& state) {
    Page page;
    paint::loadFonts();
    for (auto _ : state)
        benchmark::DoNotOptimize(paint::toPdf(figure::layOut(page.p, page.f, page.e).list, {}));
}
BENCHMARK(pdfOfTwelvePanels)->Unit(benchmark::kMillisecond);

} // namespace
