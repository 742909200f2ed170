// SPDX-License-Identifier: GPL-3.0-or-later
#include "fields.h"

#include "page_maker.h"
#include "session/command_project.h"
#include "session/import.h"

#include "io/reader.h"

#include <fmt/format.h>

namespace jointer::demo {

namespace {

// Springs from the dunes to the pans: rain water on shell sand with a growing share of sea water; calcium is
// given up for sodium where salt water is pushed back, and one analysis of a bad day does not balance.
std::string springsFile() {
    Noise noise(1846);
    std::string text =
        "# Tern Sands, marsh springs, autumn survey\n"
        "spring,belt,Salinity (g/kg),Ca (mg/L),Mg (mg/L),Na (mg/L),K (mg/L),Cl (mg/L),SO4 (mg/L),HCO3 "
        "(mg/L),NO3-N (mg/L)\n";
    struct Belt {
        const char* name;
        int n;
        double low, high, exchanged; // shares of sea water, of calcium that is given up
    };
    int number = 0;
    for (const Belt& belt : {Belt{"dune", 11, 0.0005, 0.004, 0.0}, Belt{"meadow", 12, 0.001, 0.012, 0.62},
                             Belt{"fringe", 12, 0.01, 0.12, 0.1}, Belt{"pan", 9, 0.3, 0.95, 0.0}})
        for (int k = 0; k < belt.n; ++k) {
            const double t = (k + noise.share()) / belt.n, sea = belt.low * std::pow(belt.high / belt.low, t);
            const double rain = (1 - sea) * (1 + 0.15 * noise.normal());
            const double calcium = 62 * rain * (1 - belt.exchanged * (0.5 + 0.5 * t));
            const double given = (62 * rain - calcium) / 20.039; // meq/L
            const auto measured = [&](double v) { return std::max(0.0, v * (1 + 0.012 * noise.normal())); };
            const bool badDay = number == 27;
            text += fmt::format(
                "Q{},{},{:.2f},{:.1f},{:.1f},{:.1f},{:.2f},{:.1f},{:.1f},{:.1f},{}\n", ++number, belt.name,
                35 * sea + 0.3 * rain, measured(calcium + 412 * sea), measured(9 * rain + 1284 * sea),
                measured(17 * rain + 10780 * sea + 22.99 * given), measured(2.1 * rain + 399 * sea),
                measured((26 * rain + 19350 * sea) * (badDay ? 0.7 : 1)), measured(19 * rain + 2712 * sea),
                measured(193 * rain + 142 * sea),
                noise.share() < 0.3 ? "<0.05" : fmt::format("{:.2f}", 0.05 + 0.8 * noise.share()));
        }
    return text;
}

std::string sedimentsFile() {
    Noise noise(77);
    std::string text = "# Tern Sands, surface sediments, per cent by weight\n"
                       "station,zone,Sand (%),Silt (%),Clay (%),Organic carbon (%)\n";
    struct Zone {
        const char* name;
        int n;
        double sand, silt, clay;
    };
    int number = 0;
    for (const Zone& z : {Zone{"creek bed", 14, 78, 15, 7}, Zone{"mud flat", 18, 26, 52, 22},
                          Zone{"marsh top", 16, 8, 44, 48}})
        for (int k = 0; k < z.n; ++k) {
            double parts[] = {z.sand * std::exp(0.22 * noise.normal()),
                              z.silt * std::exp(0.22 * noise.normal()),
                              z.clay * std::exp(0.22 * noise.normal())};
            const double sum = parts[0] + parts[1] + parts[2];
            const double silt = parts[1] / sum, clay = parts[2] / sum;
            const double carbon = 0.3 + 2.2 * silt + 9 * clay * clay + 0.08 * noise.normal();
            text += fmt::format("T{},{},{:.1f},{:.1f},{:.1f},{:.2f}\n", ++number, z.name,
                                100 * parts[0] / sum, 100 * silt, 100 * clay, std::max(0.05, carbon));
        }
    return text;
}

// A creek with two deep pools, sounded from a drifting boat.
double depthAt(double x, double y) {
    const double axis = 125 + 45 * std::sin(x / 70);
    const double across = (y - axis) / 38;
    return 0.6 + 3.2 * std::exp(-across * across) +
           1.6 * std::exp(-(std::pow((x - 110) / 34, 2) + std::pow((y - 165) / 26, 2))) +
           1.2 * std::exp(-(std::pow((x - 300) / 40, 2) + std::pow((y - 90) / 30, 2)));
}

std::string soundingsFile() {
    Noise noise(31);
    std::string text = "# Tern Sands, main creek, soundings below mean water\nEast (m),North (m),Depth (m)\n";
    for (int line = 0; line < 16; ++line)
        for (int k = 0; k < 26; ++k) {
            const double x = 8 + 25.5 * line + 5 * noise.normal(), y = 6 + 9.6 * k + 2.5 * noise.normal();
            if (x < 0 || x > 400 || y < 0 || y > 250) continue;
            text += fmt::format("{:.1f},{:.1f},{:.2f}\n", x, y, depthAt(x, y) + 0.04 * noise.normal());
        }
    return text;
}

// Light taken up by algae while they age: a band at 675 nm grows and moves, another at 440 nm fades.
std::string spectraFile() {
    Noise noise(5);
    std::string text = "# Tern Sands, algae of the north pan, absorbance over days\nWavelength (nm)";
    std::vector<double> days;
    for (double day = 0; day <= 28; day += 2) days.push_back(day);
    for (const double day : days) text += fmt::format(",{:g}", day);
    text += "\n";
    for (double nm = 400; nm <= 750; nm += 2.5) {
        text += fmt::format("{:g}", nm);
        for (const double day : days) {
            const double grown = 1 - std::exp(-day / 9);
            const auto band = [&](double at, double width, double height) {
                return height * std::exp(-0.5 * std::pow((nm - at) / width, 2));
            };
            text += fmt::format(",{:.4f}", 0.05 + 0.1 * std::exp(-(nm - 400) / 90) +
                                               band(440, 22, 0.75 - 0.4 * grown) +
                                               band(676 - 6 * grown, 12, 0.12 + 0.55 * grown) +
                                               band(620, 24, 0.1 + 0.12 * grown) + 0.004 * noise.normal());
        }
        text += "\n";
    }
    return text;
}

// Drifters about the sluice: an eddy beside the outflow.
std::string currentsFile() {
    Noise noise(9);
    std::string text = "# Tern Sands, surface currents at the sluice\nx (m),y (m),u (cm/s),v (cm/s)\n";
    for (int i = 0; i < 260; ++i) {
        const double x = 60 * noise.share(), y = 40 * noise.share();
        const double dx = x - 34, dy = y - 24, r2 = dx * dx + dy * dy, turn = 3.2 * std::exp(-r2 / 220);
        const double jet = 26 * std::exp(-std::pow((y - 9 - 0.08 * x) / 5, 2));
        text += fmt::format("{:.2f},{:.2f},{:.2f},{:.2f}\n", x, y, jet - turn * dy + 0.5 * noise.normal(),
                            0.08 * jet + turn * dx + 0.5 * noise.normal());
    }
    return text;
}

double growthAt(double salinity, double temperature) {
    return 1.9 * std::exp(-std::pow((salinity - 24) / 11, 2) - std::pow((temperature - 19) / 7.5, 2));
}

std::string growthFile() {
    Noise noise(64);
    std::string text =
        "# Tern Sands, diatoms in tanks, growth\nSalinity (g/kg),Temperature (°C),Growth (1/d)\n";
    for (int k = 0; k < 48; ++k) {
        const double s = 5 + 33 * noise.share(), t = 6 + 22 * noise.share();
        text += fmt::format("{:.1f},{:.1f},{:.3f}\n", s, t, growthAt(s, t) + 0.07 * noise.normal());
    }
    return text;
}

class FieldPages : PageMaker {
public:
    using PageMaker::PageMaker;

    void addAll() {
        for (const auto& [name, text] : fieldFiles()) files_[name] = text;
        springs();
        patterns();
        sediments();
        soundings();
        spectra();
        currents();
        growth();
    }

private:
    // A dataset of a kind over the columns of a file, by their headings.
    std::string take(const char* file, const char* kind, const char* name, List settings = {}) {
        const auto reading = io::read(files_.at(file), file, {});
        if (!reading || reading->tables.empty()) return {};
        Table table = reading->tables[0].table;
        table.name = name;
        ColumnChoice choice{.kind = kind};
        give(choice.settings, settings);
        if (auto made = withDataset(m_.project(), std::move(table), choice, name))
            m_.project() = std::move(*made);
        return m_.lastDataset().text();
    }

    Value columnOf(const char* name) const {
        const Column* c = m_.lastTable().findByName(name);
        return Value(Reference{c ? c->id.text() : ""});
    }

    void springs() {
        const std::string d = take("springs_autumn.csv", "ions", "Springs in autumn");
        add("Springs of the marsh", {{"width", Value(140.0)}, {"height", Value(112.0)}},
            {panel({mark("points", d,
                         {{"fill", word("filled")},
                          {"size", Value(4.0)},
                          {"symbol-by", columnOf("belt")},
                          {"colour-by", columnOf("Salinity")},
                          {"colour-log", Value(true)},
                          {"map", word("ember")}}),
                    legend(), bar({{"share", Value(0.45)}})},
                   {{"coordinates", word("waters")}, {"fields", word("lines")}})});
    }

    // The same waters as patterns; those of the salt belts would not fit their scale.
    void patterns() {
        const std::string d = m_.lastDataset().text();
        RowList classes;
        for (const char* belt : {"dune", "meadow", "fringe", "pan"}) {
            Settings row;
            row.set("name", word(belt));
            const bool fresh = belt == std::string("dune") || belt == std::string("meadow");
            if (!fresh) row.set("hidden", Value(true));
            classes.push_back(std::move(row));
        }
        add("Patterns of the fresh springs", {{"width", Value(90.0)}, {"height", Value(170.0)}},
            {panel({axis("bottom"), axis("left"),
                    mark("ion-patterns", d,
                         {{"colour-by", columnOf("belt")},
                          {"classes", Value(std::make_shared<const RowList>(std::move(classes)))}}),
                    legend("bottom-left")})});
    }

    void sediments() {
        std::string d = take("sediments.csv", "composition", "Surface sediments");
        const ColumnId carbon = m_.lastTable().findByName("Organic carbon")->id;
        m_.apply(edits::changeDataset(m_.lastDataset(), "Value over the parts", [carbon](Dataset& changed) {
            changed.source.roles.push_back({Role::Z, carbon});
        }));
        add("Sediments", {{"width", Value(112.0)}, {"height", Value(86.0)}},
            {panel(
                {mark("filled-contours", d,
                      {{"level-distance", Value(0.5)}, {"map", word("moss")}, {"map-reversed", Value(true)}}),
                 mark("contour-lines", d,
                      {{"level-distance", Value(0.5)}, {"width", Value(0.35)}, {"label", word("-")}}),
                 mark("points", d,
                      {{"fill", word("white")}, {"size", Value(3.2)}, {"symbol-by", columnOf("zone")}}),
                 legend(), bar({{"share", Value(0.5)}})},
                {{"coordinates", word("ternary")}})});
    }

    void soundings() {
        const std::string d = take("soundings.csv", "surface", "Soundings");
        add("Soundings of the main creek", {{"width", Value(120.0)}, {"height", Value(78.0)}},
            {panel(
                {axis("bottom"), axis("left"),
                 mark("filled-contours", d,
                      {{"finer", Value(2.0)}, {"level-distance", Value(0.5)}, {"map-reversed", Value(true)}}),
                 mark("contour-lines", d,
                      {{"finer", Value(2.0)},
                       {"level-distance", Value(0.5)},
                       {"strong-every", Value(2.0)},
                       {"width", Value(0.35)}}),
                 mark("places", d, {{"size", Value(0.9)}}), bar({{"name", word("Depth")}})})});
    }

    void spectra() {
        const std::string d =
            take("algae_days.csv", "grid", "Algae over days",
                 {{"x-name", word("Age")}, {"x-unit", word("d")}, {"z-name", word("Absorbance")}});
        add("Spectra over age",
            {{"width", Value(174.0)},
             {"height", Value(72.0)},
             {"columns", Value(2.0)},
             {"letters", word("a")}},
            {panel({axis("bottom"), axis("left"), mark("colour-map", d, {{"between", word("smooth")}}),
                    mark("contour-lines", d,
                         {{"labels", Value(false)}, {"width", Value(0.3)}, {"colour", word("#ffffff")}}),
                    bar({})}),
             panel({mark("relief-surface", d, {{"lines", Value(60.0)}, {"width", Value(0.25)}})},
                   {{"coordinates", word("relief")}, {"azimuth", Value(-50.0)}, {"elevation", Value(32.0)}})},
            "Double column");
    }

    void currents() {
        const std::string d = take("currents.csv", "vectors", "Currents at the sluice");
        add("Currents at the sluice", {{"width", Value(110.0)}, {"height", Value(74.0)}},
            {panel({axis("bottom"), axis("left"),
                    mark("arrows", d,
                         {{"longest", Value(8.0)},
                          {"spacing", Value(3.5)},
                          {"by-colour", Value(true)},
                          {"map", word("moss")},
                          {"map-reversed", Value(true)}}),
                    bar({{"name", word("Speed")}})})});
    }

    // The fitted surface with the residuals of its points.
    void growth() {
        const std::string d = take("growth_tanks.csv", "surface", "Growth in tanks");
        Analysis fit{.name = "Optimum", .inputs = {{.dataset = m_.lastDataset()}}};
        fit.model.kind = "equation";
        fit.model.settings.set("equation", word("A*exp(-((x1 - S)/a)^2 - ((x2 - T)/b)^2)"));
        for (const auto& [name, start] : {std::pair("A", 1.8), std::pair("S", 22.0), std::pair("a", 10.0),
                                          std::pair("T", 18.0), std::pair("b", 7.0)})
            fit.parameters.push_back({.name = name, .start = start});
        m_.apply(edits::addAnalysis(std::move(fit)));
        Dataset surface = madeDataset(m_.project(), "fitted-surface", {});
        surface.name = "Optimum · surface";
        surface.source.settings.set("fit", Value(Reference{m_.lastAnalysis().text()}));
        m_.apply(edits::addDataset(std::move(surface)));
        add("Growth by salinity and temperature", {{"width", Value(110.0)}, {"height", Value(84.0)}},
            {panel({mark("relief-surface", m_.lastDataset().text(),
                         {{"lines", Value(34.0)}, {"width", Value(0.3)}}),
                    mark("relief-points", d,
                         {{"fill", word("filled")}, {"size", Value(2.8)}, {"colour", word("#b65a2a")}}),
                    bar({})},
                   {{"coordinates", word("relief")}, {"azimuth", Value(35.0)}, {"elevation", Value(28.0)}})});
    }

    Element bar(List settings) {
        Element e{.kind = "colour-bar"};
        give(e.settings, settings);
        return e;
    }

    std::map<std::string, std::string> files_;
};

} // namespace

std::vector<std::pair<std::string, std::string>> fieldFiles() {
    return {{"springs_autumn.csv", springsFile()}, {"sediments.csv", sedimentsFile()},
            {"soundings.csv", soundingsFile()},    {"algae_days.csv", spectraFile()},
            {"currents.csv", currentsFile()},      {"growth_tanks.csv", growthFile()}};
}

Project fieldsDemo() {
    Maker maker("Tern Sands, diagrams and fields");
    FieldPages(maker).addAll();
    return maker.project();
}

} // namespace jointer::demo
