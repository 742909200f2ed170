// SPDX-License-Identifier: GPL-3.0-or-later
#include "doubts.h"

#include "evaluate/evaluator.h"
#include "maker.h"

#include <chrono>
#include <fmt/format.h>

namespace jointer::demo {

namespace {

std::string dateText(std::chrono::sys_days date) {
    const std::chrono::year_month_day ymd{date};
    return fmt::format("{:04}-{:02}-{:02}", static_cast<int>(ymd.year()), static_cast<unsigned>(ymd.month()),
                       static_cast<unsigned>(ymd.day()));
}

// Growth of diatoms under two metals, in triplicate, with controls without any.
std::string agentsFile() {
    Noise noise(713);
    std::string text =
        "# Tern Sands, diatom growth, two agents, dose zero is the control\nDose (ug/L),Cadmium 1 (%),"
        "Cadmium 2 (%),Cadmium 3 (%),Nickel 1 (%),Nickel 2 (%),Nickel 3 (%)\n";
    for (double dose : {0.0, 1.0, 3.0, 10.0, 20.0, 40.0, 80.0, 160.0, 320.0, 1000.0}) {
        text += fmt::format("{}", dose);
        for (const auto& [half, steep] : {std::pair(26.0, 1.6), std::pair(41.0, 1.5)})
            for (int k = 0; k < 3; ++k)
                text +=
                    fmt::format(",{:.1f}", 100 / (1 + std::pow(dose / half, steep)) + 3.5 * noise.normal());
        text += "\n";
    }
    return text;
}

// Height of the marsh at a stake, every week for six years: it grows, sinks in dry years, and swells in
// winter.
std::string marshFile() {
    using namespace std::chrono;
    Noise noise(97);
    std::string text = "# Tern Sands, stake 3, height of the marsh\nDate,Height (mm)\n";
    for (int week = 0; week < 6 * 52; ++week) {
        const double year = week / 52.18;
        const double height = 40 + 4.1 * year - 14 * std::exp(-std::pow((year - 2.7) / 0.55, 2)) +
                              2.4 * std::cos(2 * std::numbers::pi * year) + 1.3 * noise.normal();
        text += fmt::format("{},{:.1f}\n", dateText(sys_days{2031y / January / 6} + days{7 * week}), height);
    }
    return text;
}

std::string surveysFile() {
    using namespace std::chrono;
    std::string text = "# Tern Sands, surveys of the plants\nDate,Survey\n";
    for (const auto& [date, survey] : {std::pair(2031y / May / 18, "first"),
                                       {2032y / May / 30, "second"},
                                       {2033y / September / 2, "after the drought"},
                                       {2034y / June / 11, "third"},
                                       {2035y / October / 20, "fourth"},
                                       {2036y / August / 3, "fifth"}})
        text += fmt::format("{},{}\n", dateText(sys_days{date}), survey);
    return text;
}

// A pan drains through its sluice; from the thirtieth hour on the next tide presses against the gate.
std::string sluiceFile() {
    Noise noise(31);
    std::string text = "# Tern Sands, south pan, draining through the sluice\nTime (h),Level (cm)\n";
    for (int i = 0; i <= 96; ++i) {
        const double t = 0.5 * i, tide = t > 30 ? 0.012 * (t - 30) * (t - 30) : 0;
        text += fmt::format("{},{:.2f}\n", t, 78 * std::exp(-0.115 * t) + 4 + tide + 0.4 * noise.normal());
    }
    return text;
}

void addAgents(Maker& m, const std::string& text) {
    if (!m.addTable("diatom_agents.csv", text)) return;
    Analysis both{.name = "Both agents", .model = {.kind = "logistic-4"}};
    for (const auto& [name, first] : {std::pair("Cadmium", 1U), std::pair("Nickel", 4U)})
        both.inputs.push_back({.dataset = m.addColumns(name, first, 3, {{"agent", name, ""}})});
    const DatasetId first = both.inputs[0].dataset;
    m.apply(edits::addAnalysis(std::move(both)));
    Analysis differences{
        .kind = "differences", .inputs = {{.dataset = first}}, .analyses = {m.lastAnalysis()}};
    differences.settings.set("parameter", Value(std::string("midpoint")));
    m.apply(edits::addAnalysis(std::move(differences)));
}

void addMarsh(Maker& m, const std::string& text, const std::string& surveys) {
    if (!m.addTable("marsh_height.csv", text)) return;
    const DatasetId d = m.addColumns("Marsh height", 1, 1, {{"stake", "3", ""}});
    Analysis comparison{.kind = "comparison", .inputs = {{.dataset = d}}};
    const auto keep = [&](Analysis a) {
        a.inputs = {{.dataset = d}};
        m.apply(edits::addAnalysis(std::move(a)));
        comparison.analyses.push_back(m.lastAnalysis());
    };
    for (const char* model : {"line", "polynomial-4", "polynomial-9"}) keep({.model = {.kind = model}});
    Analysis loess{.kind = "free-curve", .name = "LOESS"};
    loess.settings.set("fraction", Value(0.12));
    keep(std::move(loess));
    m.apply(edits::addAnalysis(std::move(comparison)));
    if (!m.addTable("plant_surveys.csv", surveys)) return;
    const Table table = m.lastTable();
    m.apply(edits::addComputedColumn(
        table.id, "Height", evaluate::formulaStored("predicted('LOESS', Date)", table, &m.project())));
}

void addSluice(Maker& m, const std::string& text) {
    if (!m.addTable("sluice_draining.csv", text)) return;
    const DatasetId d = m.addColumns("Sluice", 1, 1, {{"pan", "south", ""}});
    m.apply(edits::addAnalysis(
        {.name = "Draining", .inputs = {{.dataset = d}}, .model = {.kind = "exponential-decay"}}));
}

} // namespace

std::vector<std::pair<std::string, std::string>> doubtFiles() {
    return {{"diatom_agents.csv", agentsFile()},
            {"marsh_height.csv", marshFile()},
            {"plant_surveys.csv", surveysFile()},
            {"sluice_draining.csv", sluiceFile()}};
}

Project doubtDemo() {
    Maker m("Doubts");
    const auto files = doubtFiles();
    addAgents(m, files[0].second);
    addMarsh(m, files[1].second, files[2].second);
    addSluice(m, files[3].second);
    return m.project();
}

} // namespace jointer::demo
