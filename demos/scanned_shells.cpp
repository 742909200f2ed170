// SPDX-License-Identifier: GPL-3.0-or-later
#include "scanned_shells.h"

#include "maker.h"

#include <fmt/format.h>

namespace jointer::demo {

namespace {

constexpr int kPoints = 520;

double lorentz(double x, double centre, double height, double width) {
    const double u = (x - centre) / width;
    return height / (1 + 4 * u * u);
}

} // namespace

std::pair<std::string, std::string> scannedShell(int shell, std::uint64_t seed, double broken) {
    Noise noise(seed * 1000003 + static_cast<std::uint64_t>(shell));
    const int age = 3 * shell;
    const char* site = shell % 3 == 0 ? "creek" : shell % 3 == 1 ? "north" : "south";
    const std::string name = fmt::format("shell_{}_{}d.csv", site, age);
    if (noise.share() < broken) {
        const double how = noise.share();
        if (how < 0.4) return {name, ""};
        if (how < 0.7) return {name, std::string("\0\1\2\3scanner fault\0", 18)};
        return {name,
                "Tern Sands field station\nSample: shell " + std::to_string(age) + " d\nShift (1/cm),Cou"};
    }
    const double old = 1 - std::exp(-age / 60.0); // share of the later mineral
    const double gain = 0.8 + 0.4 * noise.share(), bow = 120 * noise.share();
    std::string text =
        fmt::format("Tern Sands field station\nInstrument: layer scanner 3 (simulated)\nSample: shell\n"
                    "Site: {}\nAge: {} d\n\nShift (1/cm),Counts\n",
                    site, age);
    for (int i = 0; i < kPoints; ++i) {
        const double x = 640 + 0.25 * i, u = (x - 700) / 65;
        double y = 210 + 35 * u + bow * u * u;
        y += gain * lorentz(x, 676.4, 260 + 240 * old, 7);
        y += gain * lorentz(x, 701.5 - 0.6 * old, 900, 6.2);
        y += gain * lorentz(x, 706.9 - 0.6 * old, 620 * (1 - 0.5 * old), 6.4);
        y += gain * lorentz(x, 742.6 + 1.8 * old, 300, 9);
        y += std::sqrt(y) * 0.6 * noise.normal();
        text += fmt::format("{:.2f},{:.1f}\n", x, y);
    }
    return {name, text};
}

} // namespace jointer::demo
