// SPDX-License-Identifier: GPL-3.0-or-later
#include "tern_sands.h"

#include "forty_shells.h"
#include "maker.h"

#include "evaluate/evaluator.h"
#include "figure/kinds.h"
#include "session/import.h"
#include "session/recipes.h"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <fmt/format.h>
#include <numbers>

namespace jointer::demo {

namespace {

struct Band {
    double centre, height, width;
};

double lorentzian(double x, const Band& b) {
    const double t = 2 * (x - b.centre) / b.width;
    return b.height / (1 + t * t);
}

std::string withComma(std::string number) {
    std::ranges::replace(number, '.', ',');
    return number;
}

// One spectrum of a growth layer: overlapping bands on a sloping background, counting noise, detector spikes.
std::string shellFile(int age, const std::vector<Band>& bands,
                      const std::vector<std::pair<int, double>>& spikes, int saturated, std::uint64_t seed) {
    Noise noise(seed);
    std::string text =
        fmt::format("Tern Sands field station\r\nInstrument: layer scanner 2\r\nSample: shell {} d; Site: "
                    "A\r\n# dark counts taken off\r\nshift;counts;sd;note\r\ncm-1;;;\r\n",
                    age);
    for (int i = 0; i < 400; ++i) {
        const double x = 640 + 0.4 * i;
        double y = 900 + 3.2 * (x - 640) - 0.008 * (x - 640) * (x - 640);
        for (const Band& b : bands) y += lorentzian(x, b);
        const double sd = std::sqrt(y);
        y += sd * noise.normal();
        for (const auto& [at, height] : spikes)
            if (i == at) y += height;
        const bool lost = i == saturated;
        text += fmt::format("{};{};{};{}\r\n", withComma(fmt::format("{:.1f}", x)),
                            lost ? std::string("-----") : fmt::format("{:.0f}", y), fmt::format("{:.0f}", sd),
                            lost ? "saturated" : "");
    }
    return text;
}

std::string oxygenFile() {
    Noise noise(77);
    std::string text = "# Tern Sands, oxygen sensor 4, before deployment\nOxygen (mg/L),Signal 1 (mV),Signal "
                       "2 (mV),Signal 3 (mV)\n";
    for (double c : {0.0, 1.0, 2.0, 4.0, 6.0, 8.0, 10.0, 12.0}) {
        text += fmt::format("{:.1f}", c);
        for (int k = 0; k < 3; ++k) text += fmt::format(",{:.2f}", 12.4 + 31.7 * c + 2.5 * noise.normal());
        text += "\n";
    }
    return text;
}

// Main ions of springs along the marsh: rain water on shell sand, with a growing share of sea water.
std::string springsFile() {
    struct Part {
        const char* ion;
        double fresh, sea; // mg/L
    };
    constexpr Part parts[] = {{"Ca", 62, 412},   {"Mg", 9, 1284},   {"Na", 17, 10780}, {"K", 2.1, 399},
                              {"Cl", 26, 19350}, {"SO4", 19, 2712}, {"HCO3", 193, 142}};
    Noise noise(415);
    std::string text = "# Tern Sands, marsh springs, spring tide\nspring,belt";
    for (const Part& part : parts) text += fmt::format(",{} (mg/L)", part.ion);
    text += "\n";
    int number = 0;
    for (const auto& [belt, shares] : std::initializer_list<std::pair<const char*, std::vector<double>>>{
             {"dune", {0, 0.001, 0.002, 0.004}},
             {"fringe", {0.02, 0.05, 0.09, 0.15}},
             {"pan", {0.4, 0.6, 0.8, 0.95}}})
        for (double share : shares) {
            text += fmt::format("S{},{}", ++number, belt);
            for (const Part& part : parts)
                text += fmt::format(",{:.1f}", ((1 - share) * part.fresh + share * part.sea) *
                                                   (1 + 0.012 * noise.normal()));
            text += "\n";
        }
    return text;
}

// Oxygen in the north pan every half hour through a summer: tides and days, two gaps without power, single
// readings that jumped, and a sensor that lost sensitivity between two calibrations.
std::string loggerFile() {
    using namespace std::chrono;
    Noise noise(2031);
    std::string text = "# Tern Sands, north pan, logger 6\nTime,Oxygen (mg/L)\n";
    constexpr int readings = 92 * 48;
    for (int i = 0; i < readings; ++i) {
        if ((i > 900 && i < 1010) || (i > 2900 && i < 2990)) continue; // no power
        const double day = i / 48.0, light = std::max(0.0, std::sin(2 * std::numbers::pi * (day - 0.29)));
        double oxygen = 6.4 + 2.1 * light + 0.7 * std::sin(2 * std::numbers::pi * day / 14.77) +
                        0.4 * std::sin(2 * std::numbers::pi * day * 1.932);
        oxygen *= 1 - 0.0018 * day;
        oxygen += 0.08 * noise.normal();
        if (i % 617 == 300) oxygen += 7;
        if (i % 811 == 400) oxygen -= 4.5;
        const sys_days date = sys_days{2031y / June / 1} + days{i / 48};
        const year_month_day ymd{date};
        text += fmt::format("{:04}-{:02}-{:02} {:02}:{:02},{:.2f}\n", static_cast<int>(ymd.year()),
                            static_cast<unsigned>(ymd.month()), static_cast<unsigned>(ymd.day()), i % 48 / 2,
                            i % 2 * 30, oxygen);
    }
    return text;
}

const std::vector<std::pair<int, std::vector<Band>>>& layers() {
    static const std::vector<std::pair<int, std::vector<Band>>> all = {
        {7, {{676.0, 495, 14}, {701.5, 1430, 13}, {706.8, 963, 13}, {742.0, 231, 24}}},
        {28, {{676.0, 720, 14}, {701.5, 2080, 11}, {706.8, 1400, 11}, {742.0, 486, 24}}},
        {90, {{675.9, 900, 14}, {701.5, 2600, 9}, {706.8, 1750, 9}, {741.9, 720, 24}}}};
    return all;
}

// Applies edits to a project; the demo's are known to succeed.
// Nitrate in three tanks of diatoms, taken up at one rate from different beginnings.
std::string uptakeFile() {
    Noise noise(411);
    std::string text =
        "# Tern Sands, diatom tanks, uptake of nitrate\nTime (h),Tank 1 (umol/L),Tank 2 (umol/L),"
        "Tank 3 (umol/L)\n";
    for (double t : {0.0, 1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 10.0, 12.0, 15.0, 18.0, 24.0}) {
        text += fmt::format("{}", t);
        for (double start : {42.0, 27.5, 14.0})
            text += fmt::format(",{:.2f}", start * std::exp(-0.19 * t) + 1.6 + 0.35 * noise.normal());
        text += "\n";
    }
    return text;
}

// Growth of diatoms under copper and zinc, each dose in triplicate, in per cent of the control.
std::string metalsFile() {
    Noise noise(612);
    std::string text =
        "# Tern Sands, diatom growth in per cent of the control\nDose (ug/L),Copper 1 (%),Copper 2 (%),"
        "Copper 3 (%),Zinc 1 (%),Zinc 2 (%),Zinc 3 (%)\n";
    for (double dose : {0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0, 100.0, 200.0, 500.0, 1000.0}) {
        text += fmt::format("{}", dose);
        for (const auto& [half, steep] : {std::pair(18.0, 1.4), std::pair(160.0, 1.1)})
            for (int k = 0; k < 3; ++k)
                text +=
                    fmt::format(",{:.1f}", 100 / (1 + std::pow(dose / half, steep)) + 3.2 * noise.normal());
        text += "\n";
    }
    return text;
}

// Level of the creek, hour by hour over a month.
std::string creekFile() {
    Noise noise(88);
    std::string text = "# Tern Sands, creek, gauge 2\nTime (h),Level (m)\n";
    const double degrees = std::numbers::pi / 180;
    for (int t = 0; t < 720; ++t) {
        const double level = 1.42 + 0.92 * std::cos((28.9841042 * t - 41) * degrees) +
                             0.31 * std::cos((30.0 * t - 77) * degrees) +
                             0.19 * std::cos((28.4397295 * t - 12) * degrees) +
                             0.11 * std::cos((15.0410686 * t - 160) * degrees) +
                             0.08 * std::cos((13.9430356 * t - 20) * degrees) + 0.05 * noise.normal();
        text += fmt::format("{},{:.3f}\n", t, level);
    }
    return text;
}

Numbers anchorsAt(std::initializer_list<double> xs) {
    Numbers anchors;
    for (double x : xs) {
        anchors.push_back(x);
        anchors.push_back(900 + 3.2 * (x - 640) - 0.008 * (x - 640) * (x - 640));
    }
    return anchors;
}

Analysis bandFit(DatasetId d, const std::vector<Band>& near) {
    Analysis a;
    a.name = "Four bands";
    a.inputs = {{.dataset = d, .span = Span(650, 790)}};
    a.model.kind = "equation";
    std::string equation;
    for (std::size_t k = 1; k <= near.size(); ++k) {
        equation += fmt::format("{0}h{1}/(1 + 4*((x - c{1})/w{1})^2)", k > 1 ? " + " : "", k);
        const Band& b = near[k - 1];
        a.parameters.push_back(
            {.name = fmt::format("h{}", k), .start = std::round(b.height / 100) * 100 + 50, .lower = 0});
        a.parameters.push_back({.name = fmt::format("c{}", k), .start = std::round(b.centre)});
        a.parameters.push_back(
            {.name = fmt::format("w{}", k), .start = std::round(b.width) + 1, .lower = 1, .upper = 60});
    }
    a.model.settings.set("equation", Value(equation));
    return a;
}

void addShell(Maker& m, std::size_t which, const std::string& file, const std::string& text) {
    const auto& [age, bands] = layers()[which];
    const auto reading = io::read(text, file, {});
    if (!reading) return;
    m.apply(importEdit(*reading, {}, nameFromPath(file)));
    const DatasetId d = m.lastDataset();
    m.apply(edits::changeDataset(d, "Name dataset", [&](Dataset& x) {
        x.name = fmt::format("{} d", age);
        x.attributes = {{"age", std::to_string(age), "d"}, {"site", "A", ""}};
    }));
    // The detector's spikes: by hand in the first two, by the rule in the third.
    if (which == 2)
        m.apply(edits::addStep(d, "despike", {}, "Take off spikes"));
    else
        m.apply(edits::excludeRows(
            d, which == 0 ? std::vector<std::uint32_t>{151} : std::vector<std::uint32_t>{91, 223}, true));
    Settings baseline;
    baseline.set("anchors", Value(anchorsAt({641, 652, 720, 765, 785, 799})));
    baseline.set("place", "free");
    m.apply(edits::addStep(d, "baseline", baseline, "Take off a baseline"));
    Settings smooth;
    smooth.set("window", 9);
    smooth.set("degree", 3);
    m.apply(edits::addStep(d, "smooth", smooth, "Smooth"));
    m.apply(edits::addAnalysis(bandFit(d, bands)));
}

void addOxygen(Maker& m, const std::string& text) {
    const auto reading = io::read(text, "oxygen_sensor.csv", {});
    if (!reading) return;
    m.apply(importEdit(*reading, {}, "oxygen_sensor"));
    const DatasetId d = m.lastDataset();
    m.apply(edits::changeDataset(d, "Name dataset", [](Dataset& x) {
        x.name = "Oxygen sensor";
        x.attributes = {{"sensor", "4", ""}};
        x.source.settings.set("uncertainty", "sd");
    }));
    Analysis line{.name = "Calibration", .inputs = {{.dataset = d}}, .model = {.kind = "line"}};
    line.inputs[0].weights.set("weights", "none");
    m.apply(edits::addAnalysis(line));
    const Table& table = m.project().tables[m.project().tables.size() - 1];
    auto name = [&](std::size_t k) { return "'" + table.columns[k].id.text() + "'"; };
    m.apply(edits::addComputedColumn(
        table.id, "above the blank",
        fmt::format("({} + {} + {})/3 - smallest({})", name(1), name(2), name(3), name(1))));
}

void addSprings(Maker& m, const std::string& text) {
    const auto reading = io::read(text, "marsh_springs.csv", {});
    if (!reading) return;
    m.apply(importEdit(*reading, {}, "marsh_springs"));
    m.apply(
        edits::changeDataset(m.lastDataset(), "Name dataset", [](Dataset& x) { x.name = "Marsh springs"; }));
}

void addLogger(Maker& m, const std::string& text) {
    const auto reading = io::read(text, "north_pan_logger.csv", {});
    if (!reading) return;
    m.apply(importEdit(*reading, {}, "north_pan_logger"));
    const DatasetId d = m.lastDataset();
    m.apply(edits::changeDataset(d, "Name dataset", [](Dataset& x) { x.name = "North pan"; }));
    auto add = [&](const char* kind, std::initializer_list<std::pair<const char*, Value>> settings) {
        Settings s;
        for (const auto& [key, value] : settings) s.set(key, value);
        m.apply(edits::addStep(d, kind, s, "Add step"));
    };
    add("exclude", {{"outliers", true}, {"window", 13.0}, {"threshold", 6.0}});
    add("drift", {{"last-read", 5.0}, {"last-true", 6.0}, {"as", std::string("factor")}});
    add("resample", {{"onto", std::string("calendar")},
                     {"unit", std::string("day")},
                     {"coverage", 75.0},
                     {"scatter", std::string("sem")}});
}

// One rate for all three tanks.
void addUptake(Maker& m, const std::string& text) {
    if (!m.addTable("nitrate_uptake.csv", text)) return;
    Analysis together{.name = "Uptake", .model = {.kind = "exponential-decay"}};
    for (std::size_t k = 1; k <= 3; ++k) {
        const DatasetId d = m.addColumns(fmt::format("Tank {}", k), k, 1, {{"tank", std::to_string(k), ""}});
        together.inputs.push_back({.dataset = d});
    }
    together.parameters = {{.name = "rate", .treatment = Treatment::Shared}};
    m.apply(edits::addAnalysis(std::move(together)));
}

void addMetals(Maker& m, const std::string& text) {
    if (!m.addTable("diatom_metals.csv", text)) return;
    for (const auto& [name, first] : {std::pair("Copper", 1U), std::pair("Zinc", 4U)}) {
        const DatasetId d = m.addColumns(name, first, 3, {{"metal", name, ""}});
        m.apply(edits::addAnalysis(
            {.name = "Dose–response", .inputs = {{.dataset = d}}, .model = {.kind = "logistic-4"}}));
    }
}

void addCreek(Maker& m, const std::string& text) {
    if (!m.addTable("creek_level.csv", text)) return;
    const DatasetId d = m.addColumns("Creek level", 1, 1, {{"gauge", "2", ""}});
    m.apply(edits::addAnalysis({.name = "Tide", .inputs = {{.dataset = d}}, .model = {.kind = "tide"}}));
}

Figure growthBands(const Project& p) {
    std::vector<Element> marks;
    for (std::size_t k = 0; k < 3; ++k) {
        const double offset = 3600.0 * static_cast<double>(k);
        Element points = figure::newMark("points", p.datasets[k].id.text()),
                curve = figure::newMark("curve", p.analyses[k].id.text());
        points.settings.set("point", "before-smoothing");
        points.settings.set("size", Value(2.2));
        points.settings.set("errors", Value(false));
        points.settings.set("offset", Value(offset));
        points.settings.set("colour", "#7d8588");
        points.settings.set("label", "-");
        curve.settings.set("label", Value(p.datasets[k].name));
        curve.settings.set("offset", Value(offset));
        marks.push_back(points);
        marks.push_back(curve);
    }
    Figure f = figure::newFigure("Growth bands", p.styles[0].id, marks);
    f.settings.set("height", Value(100.0));
    Element& panel = f.elements[0];
    panel.children[0].settings.set("name", "Raman shift");
    panel.children[0].settings.set("range", Value(Numbers{650, 790}));
    panel.children[1].settings.set("name", "Intensity");
    panel.children[1].settings.set("unit", "counts");
    panel.children[1].settings.set("range", Value(Numbers{-500, 12500}));
    Element note{.kind = "note", .source = p.analyses[1].id.text()};
    note.settings.set("text", "28 d: \\nu_{1} = {c2} cm^{−1}");
    note.settings.set("x", Value(0.03));
    note.settings.set("y", Value(0.97));
    panel.children.push_back(note);
    return f;
}

Figure oxygenSensor(const Project& p) {
    Element points = figure::newMark("points", p.datasets[3].id.text()),
            curve = figure::newMark("curve", p.analyses[3].id.text());
    points.settings.set("label", "mean ± SD");
    points.settings.set("size", Value(4.5));
    curve.settings.set("label", "line with 95 % band");
    curve.settings.set("band", "confidence");
    curve.settings.set("extent", "axis");
    Figure f = figure::newFigure("Oxygen sensor", p.styles[0].id, {curve, points});
    Element& panel = f.elements[0];
    panel.children[0].settings.set("name", "Oxygen");
    panel.children[0].settings.set("unit", "mg/L");
    panel.children[1].settings.set("name", "Signal");
    panel.children[1].settings.set("unit", "mV");
    for (Element& e : panel.children)
        if (e.kind == "legend") e.settings.set("where", "top-left");
    Element note{.kind = "note", .source = p.analyses[3].id.text()};
    note.settings.set("text", "slope {slope}\nR^{2} = {r2}");
    note.settings.set("x", Value(0.95));
    note.settings.set("y", Value(0.22));
    note.settings.set("align", "right");
    panel.children.push_back(note);
    return f;
}

} // namespace

std::vector<std::pair<std::string, std::string>> rawFiles() {
    return {{"shell_7d.csv", shellFile(7, layers()[0].second, {{150, 1900}}, -1, 7)},
            {"shell_28d.csv", shellFile(28, layers()[1].second, {{90, 2200}, {222, 900}}, 7, 28)},
            {"shell_90d.csv", shellFile(90, layers()[2].second, {{60, 1500}}, -1, 90)},
            {"oxygen_sensor.csv", oxygenFile()},
            {"marsh_springs.csv", springsFile()},
            {"north_pan_logger.csv", loggerFile()},
            {"nitrate_uptake.csv", uptakeFile()},
            {"diatom_metals.csv", metalsFile()},
            {"creek_level.csv", creekFile()}};
}

Project ternSands() {
    Maker m("Tern Sands");
    const auto files = rawFiles();
    for (std::size_t k = 0; k < 3; ++k) addShell(m, k, files[k].first, files[k].second);
    addOxygen(m, files[3].second);
    addSprings(m, files[4].second);
    addLogger(m, files[5].second);
    addUptake(m, files[6].second);
    addMetals(m, files[7].second);
    addCreek(m, files[8].second);
    m.apply(edits::addFigure(growthBands(m.project())));
    m.apply(edits::addFigure(oxygenSensor(m.project())));
    m.apply(edits::keepRecipe(shellRecipe()));
    return m.project();
}

} // namespace jointer::demo
