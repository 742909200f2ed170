// SPDX-License-Identifier: GPL-3.0-or-later
#include "pages.h"

#include "figure/artwork.h"
#include "figures.h"
#include "page_maker.h"
#include "scheme.h"

#include <fmt/format.h>

namespace jointer::demo {

namespace {

Element note(const char* kind, List settings) {
    Element e{.kind = kind};
    give(e.settings, settings);
    return e;
}

// Told in the data of its panel.
Element inData(const char* kind, double x, double y, List settings) {
    Element e = note(kind, settings);
    give(e.settings, {{"anchor", word("data")}, {"x", Value(x)}, {"y", Value(y)}});
    return e;
}
Element inData(const char* kind, double x, double y, double x2, double y2, List settings) {
    Element e = inData(kind, x, y, settings);
    give(e.settings, {{"anchor-2", word("data")}, {"x-2", Value(x2)}, {"y-2", Value(y2)}});
    return e;
}
Element onPage(const char* kind, double x, double y, double x2, double y2, List settings) {
    Element e = inData(kind, x, y, x2, y2, settings);
    give(e.settings, {{"anchor", word("page")}, {"anchor-2", word("page")}});
    return e;
}
Element onPage(const char* kind, double x, double y, List settings) {
    Element e = inData(kind, x, y, settings);
    give(e.settings, {{"anchor", word("page")}});
    return e;
}

class Pages : PageMaker {
public:
    using PageMaker::PageMaker;

    void addAll() {
        sluice();
        plate();
        slope();
        bands();
        light();
        tanks();
        poster();
        dark();
        print();
        springs();
        together();
        scheme();
    }

private:
    FigureId last() const { return m_.project().figures[m_.project().figures.size() - 1].id; }
    Element artwork(const Asset& asset, List settings) {
        Asset own = asset;
        own.id = m_.project().newId<AssetId>();
        m_.project().assets = m_.project().assets.with(own);
        Element e{.id = m_.project().newId<ElementId>(), .kind = "artwork", .source = own.id.text()};
        give(e.settings, settings);
        return e;
    }

    void sluice() {
        add("Salinity at the sluice",
            {{"height", Value(62.0)}, {"columns", Value(2.0)}, {"letters", word("a")}, {"gap-x", Value(5.0)}},
            {artwork(sluiceScheme(), {{"title", word("Probes A and B")}}),
             panel({axis("bottom", {{"name", word("-")}}), axis("left"),
                    mark("line", dataset("Salinity"), {{"width", Value(0.6)}}),
                    note("note", {{"text", word("gate opened")},
                                  {"x", Value(0.36)},
                                  {"y", Value(0.2)},
                                  {"align", word("centre")}}),
                    note("arrow", {{"x", Value(0.36)},
                                   {"y", Value(0.21)},
                                   {"x-2", Value(0.36)},
                                   {"y-2", Value(0.42)},
                                   {"head", word("filled")}}),
                    legend("none")})},
            "Double column");
    }

    void plate() {
        const std::string cells = dataset("Cells");
        Element picture = artwork(
            diatomPlate(), {{"stands-for", Value(120.0)}, {"unit", word("µm")}, {"crop-right", Value(10.0)}});
        picture.children = {
            inData("scale-bar", 84, 6, {{"length", Value(20.0)}, {"colour", word("#000000")}}),
            inData("arrow", 54, 62, 38, 58,
                   {{"head", word("filled")}, {"colour", word("#9a3f41")}, {"text", word("")}}),
            inData("note", 55, 63,
                   {{"text", word("girdle")}, {"align-y", word("middle")}, {"colour", word("#9a3f41")}}),
            inData("shape", 86, 20, 108, 46,
                   {{"form", word("ellipse")}, {"colour", word("#1d5796")}, {"dash", word("dashed")}})};
        add("Cells and their lengths",
            {{"width", Value(130.0)},
             {"height", Value(56.0)},
             {"columns", Value(2.0)},
             {"letters", word("a")},
             {"column-shares", Value(Numbers{1.35, 1})}},
            {std::move(picture),
             panel({axis("bottom", {{"ticks", word("none")}, {"name", word("-")}}), axis("left"),
                    mark("boxes", cells), mark("strips", cells, {{"size", Value(1.0)}}), legend("none")})});
    }

    void slope() {
        add("A curve and its slope", {{"width", Value(85.0)}, {"height", Value(68.0)}},
            {panel(
                {axis("bottom",
                      {{"range", Value(Numbers{0, 12})}, {"name", word("Time")}, {"unit", word("h")}}),
                 axis("left", {{"range", Value(Numbers{-2.6, 5.2})},
                               {"name", word("Level \\mathit{h}")},
                               {"unit", word("dm")}}),
                 mark("reference-line", "",
                      {{"of", word("y")}, {"at", Value(Numbers{0})}, {"width", Value(0.4)}}),
                 mark("function", "",
                      {{"expression", word("4*sin(x/2)*exp(-x/9)")},
                       {"label", word("\\mathit{h}(\\mathit{t})")},
                       {"colour", word("#1d5796")},
                       {"width", Value(1.0)}}),
                 mark("function", "",
                      {{"expression", word("2*cos(x/2)*exp(-x/9) - 4/9*sin(x/2)*exp(-x/9)")},
                       {"label", word("d\\mathit{h}/d\\mathit{t}")},
                       {"ends", Value(Numbers{2, 9})},
                       {"colour", word("#c07f2a")},
                       {"width", Value(2.2)}}),
                 note("note",
                      {{"text",
                        word("\\mathit{h}(\\mathit{t}) = \\mathit{h}_0 "
                             "sin\\left(\\frac{\\mathit{t}}{2}\\right) e^{−t/\\tau},  \\tau = 9 \\unit{h}")},
                       {"x", Value(0.97)},
                       {"y", Value(0.95)},
                       {"align", word("right")}}),
                 inData(
                     "brace", 9, -1.75, 2, -1.75,
                     {{"text", word("shown for 2 h to 9 h")}, {"form", word("line")}, {"depth", Value(1.6)}}),
                 legend("hand")})});
        Figure f = m_.project().figures[m_.project().figures.size() - 1];
        for (Element& e : f.elements[0].children)
            if (e.kind == "legend") give(e.settings, {{"x", Value(0.66)}, {"y", Value(0.78)}});
        m_.project().figures = m_.project().figures.with(std::move(f));
    }

    void bands() {
        const std::string fit = analysis("Bands of 28 d");
        Element first = note("note", {{"text", word("{centre_2}")},
                                      {"x", Value(0.97)},
                                      {"y", Value(0.96)},
                                      {"align", word("right")},
                                      {"leader", word("arrow")},
                                      {"leader-peak", Value(2.0)},
                                      {"box", word("round")},
                                      {"ground", word("#f4f1e8")}});
        first.source = fit;
        add("Bands of a shell", {{"height", Value(70.0)}},
            {panel({axis("bottom"), axis("left", {{"name", word("Intensity")}, {"unit", word("counts")}}),
                    mark("components", fit, {{"opacity", Value(0.3)}, {"colours", word("palette")}}),
                    mark("points", dataset("28 d"),
                         {{"size", Value(1.5)}, {"errors", Value(false)}, {"colour", word("#566569")}}),
                    mark("curve", fit), std::move(first),
                    note("brace", {{"text", word("lattice modes")},
                                   {"form", word("curly")},
                                   {"x", Value(0.62)},
                                   {"y", Value(0.30)},
                                   {"x-2", Value(0.95)},
                                   {"y-2", Value(0.30)},
                                   {"depth", Value(1.8)}}),
                    legend("none")})});
    }

    void light() {
        std::vector<Element> lines;
        for (const char* depth : {"0.5 m", "2 m", "8 m"})
            lines.push_back(mark("line", dataset(depth), {{"width", Value(0.9)}}));
        std::vector<Element> all = {
            axis("bottom", {{"name", word("Wavelength \\lambda")}, {"unit", word("nm")}}),
            axis("left",
                 {{"name", word("Absorbance")}, {"range", Value(Numbers{0, 1.15})}, {"unit", word("–")}})};
        std::ranges::move(lines, std::back_inserter(all));
        for (const double nm : {440.0, 490.0, 545.0, 590.0, 665.0}) {
            Element bar = note("arrow", {{"anchor", word("data")},
                                         {"x", Value(nm)},
                                         {"anchor-y", word("panel")},
                                         {"y", Value(0.90)},
                                         {"anchor-2", word("data")},
                                         {"x-2", Value(nm)},
                                         {"anchor-y-2", word("panel")},
                                         {"y-2", Value(0.97)},
                                         {"width", Value(2.2)},
                                         {"wavelength", Value(nm)}});
            Element name = note("note", {{"anchor", word("data")},
                                         {"x", Value(nm)},
                                         {"anchor-y", word("panel")},
                                         {"y", Value(0.89)},
                                         {"align", word("centre")}});
            name.settings.set("text", Value(fmt::format("{:g}", nm)));
            all.push_back(std::move(bar));
            all.push_back(std::move(name));
        }
        all.push_back(legend("right"));
        add("Light in the pond", {{"width", Value(100.0)}, {"height", Value(62.0)}}, {panel(std::move(all))});
    }

    void tanks() {
        const std::string fit = analysis("Uptake");
        Element formula = note(
            "note", {{"text", word("c(t) = c_\\infty + a e^{−kt}\nk = {rate:()}\n\\sum_{i=1}^{3} n_i = 36")},
                     {"x", Value(0.96)},
                     {"y", Value(0.94)},
                     {"align", word("right")}});
        formula.source = fit;
        Element table = onPage("table", 94, 12,
                               {{"text", word("\\textbf{First hours}")},
                                {"rows", Value(9.0)},
                                {"digits", Value(3.0)},
                                {"text-size", Value(7.0)}});
        for (const auto& t : m_.project().tables)
            if (t->name.find("nitrate") != std::string::npos) table.source = t->id.text();
        std::vector<Element> marks = {axis("bottom"), axis("left", {{"name", word("Nitrate")}})};
        marks.push_back(group({"Tank 1", "Tank 2", "Tank 3"}, {mark("curve", ""), mark("points", "")},
                              {{"labels", word("ends")}}));
        marks.push_back(std::move(formula));
        marks.push_back(legend("none"));
        add("Uptake with its numbers", {{"width", Value(174.0)}, {"height", Value(66.0)}},
            {panel(std::move(marks), {{"place", word("free")},
                                      {"left", Value(15.0)},
                                      {"top", Value(4.0)},
                                      {"area-width", Value(72.0)},
                                      {"area-height", Value(48.0)}}),
             std::move(table)},
            "Double column");
    }

    void poster() {
        Element energy = note("note", {{"text", word("\\mathit{E}_{a} = {energy}\n\\mathit{n} = {n}")},
                                       {"x", Value(0.55)},
                                       {"y", Value(0.35)},
                                       {"box", word("round")},
                                       {"ground", word("#eef3f1")}});
        energy.source = analysis("Arrhenius");
        add("Growth on a poster", {},
            {panel({axis("bottom"), axis("left", {{"scale", word("log")}}),
                    mark("points", dataset("Growth rate")), mark("curve", analysis("Arrhenius")),
                    std::move(energy), legend("none")},
                   {{"title", word("Warm water, fast shells")}})},
            "Poster");
    }

    void dark() {
        add("The pan at night", {},
            {panel(
                {axis("bottom", {{"name", word("-")}}), axis("left", {{"range", Value(Numbers{5.5, 12})}}),
                 mark("line", dataset("Oxygen")),
                 note("note",
                      {{"text", word("oxygen falls\nafter sunset")}, {"x", Value(0.62)}, {"y", Value(0.97)}}),
                 note("arrow", {{"x", Value(0.72)},
                                {"y", Value(0.8)},
                                {"x-2", Value(0.66)},
                                {"y-2", Value(0.52)},
                                {"head", word("barbed")},
                                {"bend", Value(0.25)}}),
                 legend("none")})},
            "Dark slide");
    }

    void print() {
        add("Doses in black", {},
            {panel(
                {axis("bottom", {{"scale", word("log")}}), axis("left", {{"name", word("Growth")}}),
                 mark("points", dataset("Copper"), {{"fill", word("filled")}, {"colour", word("#000000")}}),
                 mark("curve", analysis("Copper, dose–response"),
                      {{"label", word("-")}, {"colour", word("#000000")}}),
                 mark("points", dataset("Zinc"), {{"symbol", word("square")}, {"colour", word("#000000")}}),
                 mark("curve", analysis("Zinc, dose–response"),
                      {{"dash", word("dashed")}, {"label", word("-")}, {"colour", word("#000000")}}),
                 legend("bottom-left")})},
            "Monochrome print");
    }

    void springs() {
        std::vector<Element> bars;
        for (const char* ion : {"Ca", "Mg", "Na"}) bars.push_back(mark("bars", dataset(ion)));
        std::vector<Element> all = {axis("bottom", {{"name", word("-")}}),
                                    axis("left", {{"name", word("Concentration")}})};
        std::ranges::move(bars, std::back_inserter(all));
        all.push_back(note("shape", {{"form", word("rounded")},
                                     {"x", Value(0.02)},
                                     {"y", Value(0.70)},
                                     {"x-2", Value(0.40)},
                                     {"y-2", Value(0.96)},
                                     {"ground", word("#f4f1e8")},
                                     {"width", Value(0.5)},
                                     {"text", word("Na/Ca = 0.2 to 11")}}));
        all.push_back(note("shape", {{"form", word("curve")},
                                     {"x", Value(0.20)},
                                     {"y", Value(0.05)},
                                     {"x-2", Value(0.86)},
                                     {"y-2", Value(0.88)},
                                     {"outline", Value(Numbers{0, 0, 0.5, 0.1, 0.9, 0.7, 1, 1})},
                                     {"dash", word("dotted")},
                                     {"width", Value(1.0)}}));
        all.push_back(legend("above"));
        add("Ions towards the sea", {{"width", Value(100.0)}, {"height", Value(66.0)}},
            {panel(std::move(all))});
    }

    void together() {
        std::vector<Element> both;
        for (const char* name : {"A curve and its slope", "Bands of a shell"})
            for (const auto& f : m_.project().figures)
                if (f->name == name)
                    both.push_back(
                        {.id = m_.project().newId<ElementId>(), .kind = "artwork", .source = f->id.text()});
        Element sketch = artwork(sluiceScheme(),
                                 {{"row", Value(2.0)}, {"column", Value(1.0)}, {"column-span", Value(2.0)}});
        both.push_back(std::move(sketch));
        add("Two figures and the sluice",
            {{"height", Value(125.0)},
             {"rows", Value(2.0)},
             {"columns", Value(2.0)},
             {"row-shares", Value(Numbers{1.3, 1})},
             {"letters", word("(a)")}},
            std::move(both), "Double column");
    }

    void scheme() {
        std::vector<Element> all;
        const char* steps[] = {"Sample", "Filter\n0.2 µm", "Spectrum", "Fit"};
        double x = 6;
        for (const char* step : steps) {
            all.push_back(onPage("shape", x, 14, x + 24, 30,
                                 {{"form", word("rounded")},
                                  {"text", word(step)},
                                  {"ground", word("#e8efec")},
                                  {"width", Value(0.75)}}));
            if (x > 7) all.push_back(onPage("arrow", x - 11, 22, x - 1, 22, {{"head", word("filled")}}));
            x += 36;
        }
        all.push_back(
            onPage("brace", 42, 34, 102, 34,
                   {{"form", word("curly")}, {"depth", Value(-2.2)}, {"text", word("within 2 h, at 4 °C")}}));
        all.push_back(onPage(
            "arrow", 126, 13, 18, 13,
            {{"head", word("open")}, {"bend", Value(-0.045)}, {"dash", word("dashed")}, {"text", word("")}}));
        all.push_back(onPage("note", 72, 3.2,
                             {{"text", word("again, where \\chi^2_{red} > 2")}, {"align", word("centre")}}));
        add("From pond to number", {{"width", Value(144.0)}, {"height", Value(50.0)}}, std::move(all));
    }
};

} // namespace

Project pagesDemo() {
    Maker m("Pages");
    addMeasurements(m);
    Pages(m).addAll();
    return m.project();
}

} // namespace jointer::demo
