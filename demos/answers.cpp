// SPDX-License-Identifier: GPL-3.0-or-later
#include "answers.h"

#include "maker.h"

#include <fmt/format.h>

namespace jointer::demo {

namespace {

// A plate of nitrate by absorbance: standards and blanks in duplicate, then pools and creeks, some diluted.
std::string plateFile() {
    Noise noise(40);
    const auto reading = [&](double nitrate) {
        return 0.022 + 0.0228 * nitrate - 0.0000985 * nitrate * nitrate + 0.004 * noise.normal();
    };
    std::string text =
        "# Tern Sands, nitrate plate 7\nWell,Nitrate (umol/L),Absorbance 1,Absorbance 2,Dilution\n";
    const auto row = [&](const std::string& name, const std::string& given, double holds, int dilution) {
        text +=
            fmt::format("{},{},{:.3f},{:.3f},{}\n", name, given, reading(holds), reading(holds), dilution);
    };
    for (double given : {0.0, 2.0, 5.0, 10.0, 20.0, 40.0})
        row("Standard", fmt::format("{}", given), given, 1);
    const std::tuple<const char*, double, int> samples[] = {
        {"P3 north", 5.4, 1},  {"P3 south", 15.3, 10}, {"Creek mouth", 29.5, 1}, {"Creek head", 21.8, 1},
        {"Spring 2", 11.1, 5}, {"Rain gauge", 1.4, 1}, {"Outfall", 52.0, 1},     {"Well 7", -0.9, 1}};
    for (const auto& [name, holds, dilution] : samples) row(name, "", holds, dilution);
    return text;
}

// Thickness of shells from three sites, each shell measured twice.
std::string sitesFile() {
    Noise noise(612);
    std::string text = "# Tern Sands, shell thickness by site\nSite,Shell,Thickness (um)\n";
    int shell = 0;
    for (const auto& [site, mean, spread] :
         {std::tuple("north pan", 412.0, 21.0), {"south pan", 455.0, 30.0}, {"creek", 428.0, 44.0}})
        for (int i = 0; i < 11; ++i) {
            const double own = mean + spread * noise.normal();
            ++shell;
            for (int twice = 0; twice < 2; ++twice)
                text += fmt::format("{},T{:02},{:.0f}\n", site, shell, own + 5 * noise.normal());
        }
    return text;
}

// Dye put into a creek and into a pool at once, sampled for two days.
std::string dyeFile() {
    Noise noise(77);
    std::string text = "# Tern Sands, dye run 3, 60 mg into each\nTime (h),Creek (ug/L),Pool (ug/L)\n";
    for (const double t : {0.5, 1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 12.0, 16.0, 24.0, 32.0, 48.0}) {
        const double mixing = 1 - std::exp(-2.1 * t);
        const auto reading = [&](double first, double rate) {
            return first * mixing * std::exp(-rate * t) * (1 + 0.03 * noise.normal()) + 0.05 * noise.share();
        };
        text += fmt::format("{},{:.2f},{:.2f}\n", t, reading(41, 0.118), reading(26, 0.047));
    }
    return text;
}

void addPlate(Maker& m, const std::string& text) {
    if (!m.addTable("nitrate_plate.csv", text)) return;
    const DatasetId d = m.addColumns("Nitrate plate", 2, 2, {{"plate", "7", ""}});
    Dataset plate = *m.project().datasets.find(d);
    plate.source.roles[0].column = m.lastTable().columns[1].id; // x is not the first column
    m.project().datasets = m.project().datasets.with(std::move(plate));
    m.apply(edits::addAnalysis(
        {.name = "Parabola", .inputs = {{.dataset = d}}, .model = {.kind = "polynomial-2"}}));
    m.apply(
        edits::addAnalysis({.kind = "unknowns", .inputs = {{.dataset = d}}, .analyses = {m.lastAnalysis()}}));
}

void addSites(Maker& m, const std::string& text) {
    if (!m.addTable("shell_thickness.csv", text)) return;
    const Table table = m.lastTable();
    Dataset d{
        .name = "Shell thickness", .colour = "#417a4a", .source = {.kind = "groups", .table = table.id}};
    d.source.roles = {{Role::Y, table.columns[2].id},
                      {Role::Class, table.columns[0].id},
                      {Role::Label, table.columns[1].id}};
    m.apply(edits::addDataset(std::move(d)));
    m.apply(edits::addAnalysis({.kind = "groups", .inputs = {{.dataset = m.lastDataset()}}}));
}

// Each course without a model, and how much longer the dye stays in the pool.
void addDye(Maker& m, const std::string& text) {
    if (!m.addTable("dye_run.csv", text)) return;
    std::vector<AnalysisId> courses;
    for (const auto& [name, column] : {std::pair("Dye in the creek", 1U), {"Dye in the pool", 2U}}) {
        const DatasetId d = m.addColumns(name, column, 1, {{"dye run", "3", ""}});
        Analysis course{.kind = "course", .inputs = {{.dataset = d}}};
        course.settings.set("dose", Value(60.0));
        course.settings.set("dose-unit", Value(std::string("mg")));
        m.apply(edits::addAnalysis(std::move(course)));
        courses.push_back(m.lastAnalysis());
    }
    Analysis derived{.kind = "derived", .inputs = {{.dataset = m.lastDataset()}}, .analyses = courses};
    derived.settings.set("formula", Value(std::string("longer = 'half-life_B'/'half-life_A'\n"
                                                      "exchange [1/d] = 'rate at the end_A'")));
    m.apply(edits::addAnalysis(std::move(derived)));
}

} // namespace

std::vector<std::pair<std::string, std::string>> answerFiles() {
    return {
        {"nitrate_plate.csv", plateFile()}, {"shell_thickness.csv", sitesFile()}, {"dye_run.csv", dyeFile()}};
}

Project answersDemo() {
    Maker m("Answers");
    const auto files = answerFiles();
    addPlate(m, files[0].second);
    addSites(m, files[1].second);
    addDye(m, files[2].second);
    return m.project();
}

} // namespace jointer::demo
