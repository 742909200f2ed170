// SPDX-License-Identifier: GPL-3.0-or-later
#include "scattering.h"

#include "maker.h"
#include "models/catalogue.h"

#include <fmt/format.h>

namespace jointer::demo {

namespace {

constexpr int kPoints = 160;
constexpr double kResolution = 0.035; // of q, as standard deviation
constexpr double kContrast = 6.2e-6;  // of the oil in its brine, Å⁻²
constexpr double kCores[] = {6.2e-6, 3.1e-6, 0.4e-6};

using Named = std::vector<std::pair<const char*, double>>;

std::vector<double> places(double from, double to) {
    std::vector<double> q;
    for (int k = 0; k < kPoints; ++k) q.push_back(from * std::pow(to / from, k / (kPoints - 1.0)));
    return q;
}

// A curve of the library at parameters by name; what is not named is zero.
std::vector<double> curveOf(const char* key, const Settings& settings, const std::vector<double>& q,
                            const Named& named) {
    const auto model = models::makeModel(key, settings);
    std::vector<double> p, y(q.size());
    for (const models::ParameterInfo& info : (*model)->parameters()) {
        double value = 0;
        for (const auto& [name, v] : named)
            if (info.name == name) value = v;
        p.push_back(value);
    }
    const std::span<const double> column = q;
    (*model)->evaluate({&column, 1}, p, y);
    return y;
}

std::vector<double> droplets(const char* structure, const std::vector<double>& q, double fraction,
                             double background) {
    Settings s;
    s.set("distribution", "schulz");
    s.set("structure", structure);
    s.set("resolution", "share");
    s.set("share", Value(100 * kResolution));
    return curveOf("sphere", s, q,
                   {{"radius", 62},
                    {"sd", 8.5},
                    {"contrast", kContrast},
                    {"volume_fraction", fraction},
                    {"background", background}});
}

// Dilute, as a colleague sent it: q and I, nothing else.
std::string diluteFile() {
    Noise noise(1919);
    std::string text = "# Tern Sands, marsh oil in brine, 0.4 %\nq (1/Å),I (1/cm)\n";
    const auto q = places(0.004, 0.28), y = droplets("none", q, 0.004, 0.021);
    for (std::size_t i = 0; i < q.size(); ++i)
        text += fmt::format("{:.5f},{:.5g}\n", q[i], y[i] * (1 + 0.04 * noise.normal()));
    return text;
}

// Crowded, with uncertainties and the resolution of each point.
std::string denseFile() {
    Noise noise(2024);
    std::string text = "# Tern Sands, marsh oil in brine, 14 %\nq (1/Å),I (1/cm),dI (1/cm),dq (1/Å)\n";
    const auto q = places(0.004, 0.28), y = droplets("hard-sphere", q, 0.14, 0.034);
    for (std::size_t i = 0; i < q.size(); ++i) {
        const double sigma = 0.025 * y[i] + 0.002;
        text += fmt::format("{:.5f},{:.5g},{:.3g},{:.3g}\n", q[i], y[i] + sigma * noise.normal(), sigma,
                            kResolution * q[i]);
    }
    return text;
}

// A resin around the oil, in brines of three contrasts.
std::string contrastFile() {
    Noise noise(77);
    std::string text = "# Tern Sands, oil droplets with resin, in three brines\nq (1/Å),heavy (1/cm),half "
                       "(1/cm),light (1/cm)\n";
    const auto q = places(0.005, 0.25);
    Settings s;
    s.set("shells-against", "core");
    std::vector<std::vector<double>> all;
    for (const double core : kCores)
        all.push_back(curveOf("core-shell", s, q,
                              {{"radius", 48},
                               {"thickness", 14},
                               {"contrast", core},
                               {"contrast_shell", -1.6e-6},
                               {"volume_fraction", 0.006},
                               {"background", 0.02}}));
    for (std::size_t i = 0; i < q.size(); ++i) {
        text += fmt::format("{:.5f}", q[i]);
        for (const auto& y : all) text += fmt::format(",{:.5g}", y[i] * (1 + 0.03 * noise.normal()));
        text += "\n";
    }
    return text;
}

// As the counter gave it: the sample, the brine alone, and water as the standard.
std::string countsFile() {
    Noise noise(5);
    std::string text = "# Tern Sands, marsh oil in brine, 1 %, as counted\nq (1/Å),sample,brine,water\n";
    const auto q = places(0.006, 0.2), y = droplets("none", q, 0.01, 0);
    const auto seen = [&](double intensity, double transmission, double thickness) {
        const double mean = 104000 * intensity * transmission * thickness; // counts of 1/cm through 1 cm
        return mean + std::sqrt(mean) * noise.normal();
    };
    const double brine = 0.6, water = 0.01632;
    for (std::size_t i = 0; i < q.size(); ++i)
        text += fmt::format("{:.5f},{:.1f},{:.1f},{:.1f}\n", q[i], seen(y[i] + 0.99 * brine, 0.71, 0.1),
                            seen(brine, 0.78, 0.1), seen(water, 1, 1));
    return text;
}

ModelNode spheres(const char* resolution) {
    ModelNode model{.kind = "sphere"};
    model.settings.set("distribution", "schulz");
    model.settings.set("contrast", "6.2e-6");
    model.settings.set("resolution", resolution);
    return model;
}

void addDense(Maker& m, const std::string& text) {
    if (!m.addTable("droplets_dense.csv", text)) return;
    const Table table = m.lastTable();
    const DatasetId d = m.addColumns("Dense droplets", 1, 1, {{"oil", "14", "%"}});
    m.apply(edits::changeDataset(d, "Columns", [&](Dataset& x) {
        x.source.roles.push_back({Role::YError, table.columns[2].id});
        x.source.roles.push_back({Role::Resolution, table.columns[3].id});
    }));
    Analysis fit{.name = "Crowded spheres", .inputs = {{.dataset = d}}, .model = spheres("column")};
    fit.model.settings.set("structure", "hard-sphere");
    RowList steps(2);
    steps[0].set("release", "radius, volume_fraction, background");
    steps[1].set("release", "sd");
    fit.settings.set("schedule", Value(std::make_shared<const RowList>(std::move(steps))));
    m.apply(edits::addAnalysis(std::move(fit)));
}

void addDilute(Maker& m, const std::string& text) {
    if (!m.addTable("droplets_dilute.csv", text)) return;
    const DatasetId d = m.addColumns("Dilute droplets", 1, 1, {{"oil", "0.4", "%"}});
    m.apply(edits::changeDataset(d, "Uncertainties", [](Dataset& x) {
        x.source.settings.set("uncertainty", "fraction");
        x.source.settings.set("amount", Value(0.04));
    }));
    Analysis fit{.name = "Spheres", .inputs = {{.dataset = d}}, .model = spheres("share")};
    fit.model.settings.set("share", Value(100 * kResolution));
    m.apply(edits::addAnalysis(std::move(fit)));
    m.apply(edits::addAnalysis({.kind = "scattering-laws", .inputs = {{.dataset = d}}}));
    Analysis sizes{.kind = "free-sizes", .inputs = {{.dataset = d}}};
    sizes.settings.set("contrast", Value(kContrast));
    m.apply(edits::addAnalysis(std::move(sizes)));
    Analysis distances{.kind = "pair-distances", .inputs = {{.dataset = d}}};
    distances.settings.set("background", Value(true));
    m.apply(edits::addAnalysis(std::move(distances)));
}

void addContrasts(Maker& m, const std::string& text) {
    if (!m.addTable("droplets_contrast.csv", text)) return;
    Analysis fit{.name = "Three contrasts", .model = {.kind = "core-shell"}};
    fit.model.settings.set("shells-against", "core");
    fit.model.settings.set("contrast", "core");
    const char* const names[] = {"Heavy brine", "Half-heavy brine", "Light brine"};
    for (std::size_t k = 0; k < 3; ++k)
        fit.inputs.push_back(
            {.dataset = m.addColumns(names[k], k + 1, 1, {{"core", fmt::format("{}", kCores[k]), "1/Å^2"}})});
    const std::pair<const char*, double> starts[] = {
        {"radius", 50}, {"thickness", 12}, {"contrast_shell", -1e-6}, {"volume_fraction", 0.006}};
    for (const auto& [name, start] : starts)
        fit.parameters.push_back({.name = name, .treatment = Treatment::Shared, .start = start});
    m.apply(edits::addAnalysis(std::move(fit)));
}

void addCounts(Maker& m, const std::string& text) {
    if (!m.addTable("droplets_counts.csv", text)) return;
    const DatasetId sample = m.addColumns("Counts of droplets", 1, 1, {}),
                    brine = m.addColumns("Counts of brine", 2, 1, {}),
                    water = m.addColumns("Counts of water", 3, 1, {});
    Step medium{.kind = "scattering-background"}, scale{.kind = "absolute-scale"};
    medium.settings.set("medium", Value(Reference{brine.text()}));
    medium.settings.set("transmission", Value(0.71));
    medium.settings.set("medium-transmission", Value(0.78));
    medium.settings.set("share", Value(0.99));
    scale.settings.set("standard", Value(Reference{water.text()}));
    m.apply(edits::addSteps(sample, {std::move(medium), std::move(scale)}, "Clean"));
}

} // namespace

std::vector<std::pair<std::string, std::string>> scatteringFiles() {
    return {{"droplets_dilute.csv", diluteFile()},
            {"droplets_dense.csv", denseFile()},
            {"droplets_contrast.csv", contrastFile()},
            {"droplets_counts.csv", countsFile()}};
}

Project scatteringDemo() {
    Maker m("Droplets");
    const auto files = scatteringFiles();
    addDense(m, files[1].second);
    addDilute(m, files[0].second);
    addContrasts(m, files[2].second);
    addCounts(m, files[3].second);
    return m.project();
}

} // namespace jointer::demo
