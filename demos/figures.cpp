// SPDX-License-Identifier: GPL-3.0-or-later
#include "figures.h"

#include "figure/kinds.h"
#include "page_maker.h"
#include "tern_sands.h"

#include <fmt/format.h>

namespace jointer::demo {

namespace {

class Figures : PageMaker {
public:
    using PageMaker::PageMaker;

    void addAll() {
        growth();
        twoAxes();
        lanes();
        groupsOfCells();
        droplets();
        doses();
        pigments();
        seasons();
        arrhenius();
        uptake();
        bars();
        overview();
    }

private:
    void growth() {
        add("Growth of the layers", {{"height", Value(103.0)}},
            {panel(
                {axis("bottom", {{"every", Value(20.0)}}),
                 axis("left", {{"name", word("Intensity")}, {"unit", word("counts")}, {"show", Value(true)}}),
                 group({"7 d", "28 d", "90 d"},
                       {mark("components", "", {{"colours", word("palette")}, {"opacity", Value(0.28)}}),
                        mark("points", "",
                             {{"size", Value(1.9)}, {"errors", Value(false)}, {"colour", word("#566569")}}),
                        mark("curve", "")},
                       {{"stagger", word("touch")}, {"labels", word("ends")}, {"label", word("{age}")}})})});
    }

    void twoAxes() {
        const Element right = axis("right", {{"as-curve", Value(true)},
                                             {"opposite", word("none")},
                                             {"ticks", word("in")},
                                             {"range", Value(Numbers{11, 23})}});
        add("A week in the north pan", {{"width", Value(120.0)}, {"height", Value(62.0)}},
            {panel({axis("bottom", {{"opposite", word("line")}, {"name", word("-")}}),
                    axis("left", {{"as-curve", Value(true)},
                                  {"opposite", word("none")},
                                  {"range", Value(Numbers{5.5, 10.8})}}),
                    right,
                    mark("reference-range", "",
                         {{"range", Value(Numbers{1939248000, 1939420800})}, {"label", word("spring tide")}}),
                    mark("line", dataset("Oxygen"), {{"width", Value(0.8)}}),
                    mark("line", dataset("Temperature"),
                         {{"width", Value(0.8)}, {"dash", word("dashed")}, {"y-axis", reference(right)}}),
                    legend("above")})});
    }

    void lanes() {
        const Element oxygen = axis("left", {{"lane", Value(3.0)}, {"as-curve", Value(true)}}),
                      temperature = axis(
                          "right", {{"lane", Value(2.0)}, {"as-curve", Value(true)}, {"share", Value(1.2)}}),
                      level = axis("left", {{"lane", Value(1.0)}, {"as-curve", Value(true)}});
        add("The pan in three lanes", {{"width", Value(120.0)}, {"height", Value(95.0)}},
            {panel({axis("bottom", {{"grid", Value(true)}, {"name", word("-")}}), oxygen, temperature, level,
                    mark("line", dataset("Oxygen"), {{"width", Value(0.8)}, {"y-axis", reference(oxygen)}}),
                    mark("points", dataset("Temperature"),
                         {{"size", Value(1.2)},
                          {"fill", word("filled")},
                          {"nth", Value(2.0)},
                          {"y-axis", reference(temperature)}}),
                    mark("area", dataset("Level"),
                         {{"width", Value(0.8)}, {"to", word("edge")}, {"y-axis", reference(level)}}),
                    legend("below")})});
    }

    void groupsOfCells() {
        const std::string cells = dataset("Cells");
        add("Cells of four ponds",
            {{"width", Value(174.0)},
             {"height", Value(70.0)},
             {"columns", Value(3.0)},
             {"letters", word("a")},
             {"share-y", Value(true)}},
            {panel({axis("bottom", {{"ticks", word("none")}, {"name", word("-")}}), axis("left"),
                    mark("boxes", cells, {{"mean", Value(true)}}), legend("none")}),
             panel({axis("bottom", {{"ticks", word("none")}, {"name", word("-")}}), axis("left"),
                    mark("violins", cells), legend("none")}),
             panel({axis("bottom", {{"ticks", word("none")}, {"name", word("-")}}), axis("left"),
                    mark("strips", cells,
                         {{"middle", word("mean")}, {"fill", word("filled")}, {"size", Value(2.0)}}),
                    mark("bracket", cells, {{"from", word("Upper marsh")}, {"to", word("Lower marsh")}}),
                    mark("bracket", cells, {{"from", word("Upper marsh")}, {"to", word("Creek")}}),
                    legend("none")})});
    }

    void droplets() {
        add("Oil droplets",
            {{"width", Value(120.0)},
             {"height", Value(55.0)},
             {"columns", Value(2.0)},
             {"letters", word("(a)")},
             {"letters-at", word("inside")}},
            {panel({axis("bottom"), axis("left"),
                    mark("histogram", dataset("Droplets"), {{"density", word("kernel")}}), legend("none")}),
             panel(
                 {axis("bottom", {{"scale", word("log")}, {"name", word("Diameter")}, {"unit", word("µm")}}),
                  axis("left",
                       {{"scale", word("probability")}, {"name", word("Smaller than")}, {"unit", word("%")}}),
                  mark("points", dataset("Cumulated"), {{"size", Value(1.6)}, {"spacing", Value(0.8)}}),
                  mark("reference-line", "",
                       {{"of", word("y")},
                        {"at", Value(Numbers{50})},
                        {"label", word("median")},
                        {"dash", word("dotted")}}),
                  legend("none")})});
    }

    void doses() {
        auto of = [&](const char* name, const char* symbol) {
            return mark("points", dataset(name),
                        {{"symbol", word(symbol)}, {"fill", word("white")}, {"size", Value(4.0)}});
        };
        add("Metals and diatoms", {{"height", Value(68.0)}},
            {panel({axis("bottom", {{"scale", word("log")}, {"name", word("Dose")}, {"unit", word("µg/L")}}),
                    axis("left", {{"name", word("Growth")}, {"unit", word("%")}}),
                    mark("reference-line", "",
                         {{"of", word("y")},
                          {"at", Value(Numbers{50})},
                          {"dash", word("dotted")},
                          {"label-at", word("none")}}),
                    mark("curve", analysis("Copper, dose–response"),
                         {{"band", word("confidence")}, {"label", word("-")}}),
                    mark("curve", analysis("Zinc, dose–response"),
                         {{"band", word("confidence")}, {"label", word("-")}}),
                    of("Copper", "circle"), of("Zinc", "square"), legend()})});
    }

    void pigments() {
        const Element nm = axis("bottom", {{"name", word("Wavelength")}, {"opposite", word("none")}});
        const Element eV = axis("top", {{"name", word("Energy")},
                                        {"unit", word("eV")},
                                        {"linked-to", reference(nm)},
                                        {"formula", word("1239.842/x")},
                                        {"inverse", word("1239.842/x")}});
        std::vector<std::string> names;
        for (const char* depth : {"0.5 m", "1 m", "2 m", "3 m", "5 m", "8 m", "12 m"})
            names.emplace_back(depth);
        add("Pigments by depth", {{"width", Value(100.0)}, {"height", Value(75.0)}},
            {panel({nm, eV, axis("left", {{"name", word("Absorbance")}, {"unit", word("-")}}),
                    group(names,
                          {mark("line", "",
                                {{"companion", word("background")},
                                 {"width", Value(0.5)},
                                 {"dash", word("dashed")}}),
                           mark("line", "", {{"width", Value(0.9)}})},
                          {{"colours", word("scale")},
                           {"attribute", word("depth")},
                           {"order", word("attribute")}}),
                    Element{.kind = "colour-bar"}})});
    }

    void seasons() {
        add("Two seasons at the sluice", {{"width", Value(110.0)}, {"height", Value(58.0)}},
            {panel({axis("bottom", {{"breaks", Value(Numbers{1921795200, 1935619200})},
                                    {"name", word("-")},
                                    {"pattern", word("D MMM")}}),
                    axis("left", {{"range", Value(Numbers{26, INFINITY})}}),
                    mark("points-line", dataset("Salinity"),
                         {{"size", Value(1.6)}, {"width", Value(0.5)}, {"fill", word("white")}})})});
    }

    void arrhenius() {
        const Element kelvin = axis(
            "bottom", {{"scale", word("reciprocal")}, {"reversed", Value(true)}, {"opposite", word("none")}});
        const Element celsius = axis("top", {{"name", word("Temperature")},
                                             {"unit", word("°C")},
                                             {"linked-to", reference(kelvin)},
                                             {"formula", word("x - 273.15")}});
        Element note{.kind = "note", .source = analysis("Arrhenius")};
        give(note.settings, {{"text", word("\\textit{E}_{a} = {energy:2}\n\\textit{R}^{2} = {r2}")},
                             {"x", Value(0.05)},
                             {"y", Value(0.22)}});
        add("Growth and temperature", {{"height", Value(72.0)}},
            {panel(
                {kelvin, celsius, axis("left", {{"scale", word("log")}}),
                 mark("curve", analysis("Arrhenius"),
                      {{"extent", word("axis")}, {"band", word("prediction")}}),
                 mark("points", dataset("Growth rate"), {{"fill", word("half-left")}, {"size", Value(4.5)}}),
                 note, legend("none")})});
    }

    void uptake() {
        const Element above = axis("left",
                                   {{"lane", Value(2.0)}, {"share", Value(3.0)}, {"name", word("Nitrate")}}),
                      below = axis("left",
                                   {{"lane", Value(1.0)}, {"name", word("Residual")}, {"gap", Value(0.0)}});
        const std::string fit = analysis("Uptake");
        std::vector<Element> marks = {axis("bottom"), above, below,
                                      mark("reference-line", "",
                                           {{"of", word("y")},
                                            {"at", Value(Numbers{0})},
                                            {"label-at", word("none")},
                                            {"y-axis", reference(below)}})};
        marks.push_back(
            group({"Tank 1", "Tank 2", "Tank 3"},
                  {mark("curve", "", {{"width", Value(0.8)}}), mark("points", "", {{"size", Value(3.2)}}),
                   mark("residuals", "",
                        {{"size", Value(2.2)}, {"y-axis", reference(below)}, {"label", word("-")}})},
                  {{"symbols", word("order")}}));
        marks.push_back(mark("results-table", fit,
                             {{"quantities", word("amplitude, rate, plateau")},
                              {"x", Value(0.2)},
                              {"y", Value(0.97)},
                              {"errors", word("brackets")},
                              {"text-size", Value(7.0)},
                              {"digits", Value(1.0)}}));
        marks.push_back(legend("right"));
        add("Uptake of nitrate", {{"width", Value(120.0)}, {"height", Value(80.0)}},
            {panel(std::move(marks))});
    }

    void bars() {
        auto three = [&](const char* how, List common) {
            std::vector<Element> marks;
            for (const char* ion : {"Ca", "Mg", "Na"}) {
                Element e =
                    mark("bars", dataset(ion),
                         {{"together", word(how)}, {"outline", Value(0.5)}, {"opacity", Value(0.75)}});
                give(e.settings, common);
                marks.push_back(std::move(e));
            }
            return marks;
        };
        auto of = [&](std::vector<Element> axes, std::vector<Element> marks) {
            std::ranges::move(marks, std::back_inserter(axes));
            return panel(std::move(axes));
        };
        Element all = legend("above");
        add("Ions of the springs",
            {{"width", Value(174.0)},
             {"height", Value(110.0)},
             {"rows", Value(2.0)},
             {"columns", Value(2.0)},
             {"letters", word("A)")}},
            {of({axis("bottom", {{"ticks", word("none")}, {"name", word("-")}, {"opposite", word("none")}}),
                 axis("left",
                      {{"name", word("Charge")}, {"ticks", word("out")}, {"opposite", word("none")}})},
                three("beside", {})),
             of({axis("bottom", {{"ticks", word("none")}, {"name", word("-")}}),
                 axis("left", {{"name", word("Charge")}})},
                three("stacked", {})),
             of({axis("bottom", {{"ticks", word("none")}, {"name", word("-")}}),
                 axis("left", {{"name", word("Share of charge")}})},
                three("shares", {{"errors", Value(false)}})),
             of({axis("bottom", {{"name", word("Charge")}, {"unit", word("meq/L")}}),
                 axis("left", {{"ticks", word("none")}, {"name", word("-")}, {"unit", word("-")}})},
                three("beside", {{"direction", word("level")}})),
             all});
    }

    void overview() {
        Element inset = panel({axis("bottom", {{"range", Value(Numbers{694, 712})},
                                               {"name", word("-")},
                                               {"text-size", Value(6.0)},
                                               {"count", Value(3.0)}}),
                               axis("left", {{"range", Value(Numbers{1200, 3400})},
                                             {"name", word("-")},
                                             {"text-size", Value(6.0)},
                                             {"count", Value(3.0)}})},
                              {{"place", word("inset")},
                               {"shows", word("parent")},
                               {"x", Value(0.62)},
                               {"y", Value(0.52)},
                               {"part-width", Value(0.36)},
                               {"part-height", Value(0.4)}});
        add("Shells, pan and rates",
            {{"width", Value(174.0)},
             {"height", Value(120.0)},
             {"rows", Value(2.0)},
             {"columns", Value(2.0)},
             {"letters", word("a")},
             {"column-shares", Value(Numbers{3, 2})}},
            {panel({axis("bottom"), axis("left", {{"name", word("Intensity")}, {"unit", word("counts")}}),
                    mark("points", dataset("90 d"), {{"size", Value(2.0)}, {"errors", Value(false)}}),
                    mark("curve", analysis("Bands of 90 d"), {{"colour", word("#9a3f41")}}), inset,
                    legend("top-left")},
                   {{"row", Value(1.0)}, {"column", Value(1.0)}, {"row-span", Value(2.0)}}),
             panel({axis("bottom", {{"name", word("-")}}), axis("left"),
                    mark("steps", dataset("Level"),
                         {{"part", Value(Numbers{1938988800, 1939204800})},
                          {"opacity", Value(0.2)},
                          {"width", Value(0.6)}}),
                    legend("none")}),
             panel({axis("bottom", {{"name", word("x")},
                                    {"stands", word("zero")},
                                    {"opposite", word("none")},
                                    {"range", Value(Numbers{-8, 8})}}),
                    axis("left", {{"name", word("y")}, {"stands", word("zero")}, {"opposite", word("none")}}),
                    mark("function", "",
                         {{"expression", word("sin(x)*exp(-abs(x)/4)")}, {"colour", word("#1d5694")}}),
                    mark("function", "",
                         {{"expression", word("exp(-abs(x)/4)")},
                          {"colour", word("#566569")},
                          {"dash", word("dashed")},
                          {"width", Value(0.6)}}),
                    legend("none")})});
    }
};

// Four Lorentzians, found from a guess at their places.
void fitBands(Maker& m, DatasetId d, const std::string& name) {
    Analysis a{.name = name, .inputs = {{.dataset = d}}, .model = {.kind = "sum"}};
    int number = 0;
    for (double centre : {676.0, 701.0, 707.0, 742.0}) {
        ++number;
        a.model.children.push_back({.kind = "lorentzian", .component = number});
        a.parameters.push_back({.name = fmt::format("centre_{}", number), .start = centre});
        a.parameters.push_back({.name = fmt::format("height_{}", number), .lower = 0});
        a.parameters.push_back({.name = fmt::format("fwhm_{}", number), .lower = 2, .upper = 60});
    }
    m.apply(edits::addAnalysis(std::move(a)));
}

} // namespace

void addMeasurements(Maker& m) {
    const auto files = figureFiles();
    auto text = [&](const std::string& name) {
        for (const auto& list : {files, rawFiles()})
            for (const auto& [file, content] : list)
                if (file == name) return content;
        return std::string();
    };
    auto table = [&](const std::string& name) { return m.addTable(name, text(name)); };
    if (table("shell_bands.csv"))
        for (std::size_t k = 1; k <= 3; ++k) {
            const std::string age = k == 1 ? "7" : k == 2 ? "28" : "90";
            fitBands(m, m.addColumns(age + " d", k, 1, {{"age", age, "d"}}), "Bands of " + age + " d");
        }
    if (table("pan_week.csv")) {
        std::size_t k = 0;
        for (const char* name : {"Oxygen", "Temperature", "pH", "Level"}) m.addColumns(name, ++k, 1, {});
    }
    if (table("sluice_seasons.csv")) m.addColumns("Salinity", 1, 1, {});
    if (table("diatom_lengths.csv")) {
        const Table& t = m.lastTable();
        Dataset d{
            .name = "Cells", .colour = figure::palette()[0], .source = {.kind = "groups", .table = t.id}};
        d.source.roles = {{Role::Class, t.columns[0].id}, {Role::Y, t.columns[1].id}};
        m.apply(edits::addDataset(std::move(d)));
    }
    if (table("oil_droplets.csv")) {
        const Table& t = m.lastTable();
        Dataset d{.name = "Droplets", .colour = figure::palette()[3], .source = {.table = t.id}};
        d.source.roles = {{Role::Y, t.columns[0].id}};
        m.apply(edits::addDataset(std::move(d)));
        // The share that is smaller than each droplet.
        const std::string column = "'" + t.columns[0].id.text() + "'";
        m.apply(edits::addComputedColumn(t.id, "Smaller",
                                         fmt::format("100*(rank({0}) - 0.5)/{1}", column, t.rowCount())));
        const Table& filled = m.lastTable();
        Dataset c{.name = "Cumulated", .colour = figure::palette()[3], .source = {.table = filled.id}};
        c.source.roles = {{Role::X, filled.columns[0].id}, {Role::Y, filled.columns[1].id}};
        m.apply(edits::addDataset(std::move(c)));
    }
    if (table("diatom_metals.csv"))
        for (const auto& [name, first] : {std::pair("Copper", 1U), std::pair("Zinc", 4U)}) {
            const DatasetId d = m.addColumns(name, first, 3, {});
            m.apply(
                edits::changeDataset(d, "", [](Dataset& x) { x.source.settings.set("uncertainty", "sd"); }));
            Analysis a{.name = std::string(name) + ", dose–response",
                       .inputs = {{.dataset = d}},
                       .model = {.kind = "logistic-4"}};
            a.inputs[0].weights.set("weights", "none");
            m.apply(edits::addAnalysis(std::move(a)));
        }
    if (table("pigments.csv")) {
        std::size_t k = 0;
        for (const char* depth : {"0.5", "1", "2", "3", "5", "8", "12"}) {
            const DatasetId d = m.addColumns(std::string(depth) + " m", ++k, 1, {{"depth", depth, "m"}});
            const ColumnId background = m.lastTable().columns[++k].id;
            m.apply(edits::changeDataset(d, "", [background](Dataset& x) {
                x.source.roles.push_back({Role::Companion, background, "background"});
            }));
        }
    }
    if (table("growth_rates.csv")) {
        const DatasetId d = m.addColumns("Growth rate", 1, 1, {});
        const ColumnId sd = m.lastTable().columns[2].id;
        m.apply(edits::changeDataset(d, "", [sd](Dataset& x) {
            x.source.roles.push_back({Role::YError, sd});
        }));
        m.apply(edits::addAnalysis(
            {.name = "Arrhenius", .inputs = {{.dataset = d}}, .model = {.kind = "arrhenius"}}));
    }
    if (table("nitrate_uptake.csv")) {
        Analysis together{.name = "Uptake", .model = {.kind = "exponential-decay"}};
        for (std::size_t k = 1; k <= 3; ++k)
            together.inputs.push_back({.dataset = m.addColumns(fmt::format("Tank {}", k), k, 1, {})});
        together.parameters = {{.name = "rate", .treatment = Treatment::Shared}};
        m.apply(edits::addAnalysis(std::move(together)));
    }
    if (table("spring_belts.csv")) {
        std::size_t k = 0;
        for (const char* ion : {"Ca", "Mg", "Na"}) m.addColumns(ion, ++k, 1, {});
        const ColumnId sd = m.lastTable().columns[4].id;
        m.apply(edits::changeDataset(m.lastDataset(), "", [sd](Dataset& x) {
            x.source.roles.push_back({Role::YError, sd});
        }));
    }
}

Project figureDemo() {
    Maker m("Twelve figures");
    addMeasurements(m);
    Figures(m).addAll();
    return m.project();
}

} // namespace jointer::demo
