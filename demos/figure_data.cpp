// SPDX-License-Identifier: GPL-3.0-or-later
// The raw files behind the twelve figures.
#include "figures.h"
#include "maker.h"

#include <chrono>
#include <fmt/format.h>

namespace jointer::demo {

namespace {

constexpr double kTurn = 2 * std::numbers::pi;

std::string dateText(std::chrono::sys_days from, double days) {
    using namespace std::chrono;
    const auto minutes = static_cast<long>(std::lround(days * 1440));
    const year_month_day date{from + std::chrono::days{minutes / 1440}};
    return fmt::format("{:04}-{:02}-{:02} {:02}:{:02}", static_cast<int>(date.year()),
                       static_cast<unsigned>(date.month()), static_cast<unsigned>(date.day()),
                       minutes % 1440 / 60, minutes % 60);
}

// Bands of a shell as the scanner gives them, with the layers 7, 28 and 90 days old.
std::string bandsFile() {
    Noise noise(701);
    std::string text = "# Tern Sands, shell layers, baseline taken off\nRaman shift (cm-1),7 d (counts),28 d "
                       "(counts),90 d (counts)\n";
    struct Layer {
        double scale, width;
    };
    constexpr Layer layers[] = {{0.55, 13}, {0.8, 11}, {1, 9}};
    for (int i = 0; i <= 140; ++i) {
        const double x = 650 + i;
        text += fmt::format("{}", x);
        for (const Layer& layer : layers) {
            auto band = [&](double centre, double height, double width) {
                const double t = 2 * (x - centre) / width;
                return height * layer.scale / (1 + t * t);
            };
            const double y = band(676, 900, 14) + band(701.5, 2600, layer.width) +
                             band(706.8, 1750, layer.width) + band(742, 720, 24);
            text += fmt::format(",{:.1f}", y + std::sqrt(120 + 0.6 * y) * noise.normal());
        }
        text += "\n";
    }
    return text;
}

std::string weekFile() {
    using namespace std::chrono;
    Noise noise(52);
    std::string text =
        "# Tern Sands, north pan, a week in June\nTime,Oxygen (mg/L),Temperature (°C),pH,Level (m)\n";
    for (int i = 0; i < 7 * 48; ++i) {
        const double day = i / 48.0, light = std::max(0.0, std::sin(kTurn * (day - 0.27)));
        text += fmt::format("{},{:.2f},{:.2f},{:.3f},{:.3f}\n", dateText(sys_days{2031y / June / 9}, day),
                            6.1 + 3.4 * light + 0.12 * noise.normal(),
                            15.2 + 0.35 * day + 3.6 * std::sin(kTurn * (day - 0.38)) + 0.12 * noise.normal(),
                            7.72 + 0.42 * light - 0.02 * day + 0.01 * noise.normal(),
                            0.8 + 0.55 * std::cos(kTurn * 1.932 * day - 0.6) + 0.015 * noise.normal());
    }
    return text;
}

// Two seasons with a winter between them.
std::string seasonsFile() {
    using namespace std::chrono;
    Noise noise(19);
    std::string text = "# Tern Sands, salinity at the sluice\nDate,Salinity (g/kg)\n";
    for (int day = 0; day < 320; ++day) {
        if (day > 75 && day < 250) continue;
        text += fmt::format("{},{:.2f}\n", dateText(sys_days{2030y / September / 1}, day).substr(0, 10),
                            31 + 2.1 * std::sin(kTurn * day / 29.5) + 0.012 * day + 0.5 * noise.normal());
    }
    return text;
}

std::string cellsFile() {
    Noise noise(330);
    std::string text = "# Tern Sands, diatoms, length of the valves\nPond,Length (µm)\n";
    struct Pond {
        const char* name;
        double mean, sd;
        int n;
    };
    for (const Pond& pond : {Pond{"Upper marsh", 41, 6, 34}, Pond{"Lower marsh", 47, 7, 40},
                             Pond{"Salt pan", 33, 4.5, 28}, Pond{"Creek", 52, 9, 36}})
        for (int k = 0; k < pond.n; ++k)
            text += fmt::format("{},{:.1f}\n", pond.name,
                                pond.mean + pond.sd * noise.normal() + (k % 17 == 5 ? 2.7 * pond.sd : 0));
    return text;
}

std::string dropletsFile() {
    Noise noise(8);
    std::string text = "# Tern Sands, oil droplets after stirring\nDiameter (µm)\n";
    for (int k = 0; k < 420; ++k) text += fmt::format("{:.2f}\n", std::exp(1.9 + 0.42 * noise.normal()));
    return text;
}

std::string pigmentsFile() {
    Noise noise(64);
    std::string text = "# Tern Sands, pigments of diatoms by depth\nWavelength (nm)";
    constexpr double depths[] = {0.5, 1, 2, 3, 5, 8, 12};
    for (double depth : depths) text += fmt::format(",{0} m,{0} m background", depth);
    text += "\n";
    for (int i = 0; i <= 175; ++i) {
        const double nm = 400 + 2 * i;
        text += fmt::format("{}", nm);
        for (double depth : depths) {
            auto band = [&](double centre, double width) {
                return std::exp(-std::pow((nm - centre) / width, 2) / 2);
            };
            const double share = std::exp(-depth / 6);
            const double scattered = 0.03 + 0.012 * (1 + depth) / 2 * std::pow(400.0 / nm, 4);
            text += fmt::format(",{:.4f},{:.4f}",
                                scattered + (0.3 + 0.6 * share) * (band(435, 18) + 0.55 * band(675, 11)) +
                                    (0.9 - 0.5 * share) * (0.45 * band(495, 30) + 0.2 * band(540, 25)) +
                                    0.004 * noise.normal(),
                                scattered);
        }
        text += "\n";
    }
    return text;
}

std::string ratesFile() {
    Noise noise(273);
    std::string text =
        "# Tern Sands, growth of diatoms at several temperatures\nTemperature (K),Rate (1/d),sd (1/d)\n";
    for (double kelvin : {276.15, 279.15, 282.15, 285.15, 288.15, 291.15, 294.15, 297.15}) {
        const double rate = 1.15 * std::exp(-52000 / 8.314462618 * (1 / kelvin - 1 / 293.15));
        text += fmt::format("{},{:.4f},{:.4f}\n", kelvin, rate * (1 + 0.05 * noise.normal()), 0.06 * rate);
    }
    return text;
}

std::string springTypesFile() {
    std::string text = "# Tern Sands, marsh springs, means by belt\nBelt,Ca (meq/L),Mg (meq/L),Na (meq/L),sd "
                       "of Na (meq/L)\n";
    text += "dune,3.1,0.8,1.4,0.3\nfringe,3.9,3.6,14.2,2.1\npan,8.8,24.6,96.3,9.5\n";
    return text;
}

} // namespace

std::vector<std::pair<std::string, std::string>> figureFiles() {
    return {{"shell_bands.csv", bandsFile()},      {"pan_week.csv", weekFile()},
            {"sluice_seasons.csv", seasonsFile()}, {"diatom_lengths.csv", cellsFile()},
            {"oil_droplets.csv", dropletsFile()},  {"pigments.csv", pigmentsFile()},
            {"growth_rates.csv", ratesFile()},     {"spring_belts.csv", springTypesFile()}};
}

} // namespace jointer::demo
