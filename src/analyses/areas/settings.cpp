// SPDX-License-Identifier: GPL-3.0-or-later
// What can be set of areas between limits.
#include "analyses/areas/areas.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

using namespace describe;

const std::vector<Choice>& areaGrounds() {
    static const std::vector<Choice> all = {{"drop", "a line, dropped at valleys"},
                                            {"valley", "from valley to valley"},
                                            {"tangent", "a skimming tangent"},
                                            {"zero", "zero"}};
    return all;
}

std::string groundKey(Ground ground) {
    return ground == Ground::Zero      ? "zero"
           : ground == Ground::Valley  ? "valley"
           : ground == Ground::Tangent ? "tangent"
                                       : "drop";
}

Ground groundFromKey(std::string_view key) {
    return key == "zero"      ? Ground::Zero
           : key == "valley"  ? Ground::Valley
           : key == "tangent" ? Ground::Tangent
                              : Ground::Drop;
}

const KindInfo& areasSettings() {
    static const KindInfo info{
        .key = "areas",
        .name = "Areas between limits",
        .purpose = "Areas, heights and places of peaks without a fit, with errors from the noise",
        .settings = {
            choice("ground", "They stand on", areaGrounds(),
                   "Where an area ends below; each peak may have its own."),
            choice("direction", "Peaks", {{"up", "upwards"}, {"down", "downwards"}},
                   "Which way the peaks point."),
            made(SettingKind::WholeNumber, "count", "How many", {},
                 "Of those that are found the highest so many; empty: all that stand out of the noise.",
                 {.lowest = 1, .highest = 1000, .whenEmpty = "all"}),
            number("prominence", "Least height", 0.01, "As a share of the highest; larger finds fewer.",
                   {.lowest = 0, .highest = 1}),
            made(SettingKind::WholeNumber, "ends", "Mean at limits", Value(5.0),
                 "Points whose mean is the height of the curve at a limit.", {.lowest = 1, .highest = 999}),
            made(SettingKind::Text, "events", "Along x", Value(std::string()),
                 "What differs in stretches of x, for a whole series: 2:5 valley; 8:9 leave-out. Also zero, "
                 "drop, "
                 "tangent.",
                 {}),
            choice("numbers", "Numbers", {{"areas", "areas"}, {"separation", "and of the separation"}},
                   "Of chromatograms also plates, tailing, resolution, signal to noise, retention factor."),
            openNumber("dead-time", "Dead time", "When what is not retained comes out.",
                       {.unit = "x", .lowest = 0, .shownIf = "numbers=separation", .whenEmpty = "not known"}),
            interval("noise-over", "Noise over", "A stretch of x without peaks whose range is the noise.",
                     {.unit = "x", .shownIf = "numbers=separation", .whenEmpty = "around each peak"}),
            made(SettingKind::Text, "factors", "Sensitivity", Value(std::string()),
                 "Factors on areas for their shares, by name or number: 1=0.82, 3=1.1.", {}),
            {.key = "limits",
             .label = "Limits",
             .kind = SettingKind::Rows,
             .help = "Of the peaks that a hand has placed.",
             .hidden = true,
             .row = {made(SettingKind::WholeNumber, "number", "Number", Value(0.0), "", {}),
                     made(SettingKind::Text, "name", "Name", Value(std::string()), "", {}),
                     number("low", "from", 0, "", {}), number("high", "to", 0, "", {}),
                     choice("ground", "Stands on", areaGrounds(), "")}}}};
    return info;
}

Result<std::vector<AreaEvent>> areaEvents(const std::string& text) {
    std::vector<AreaEvent> out;
    for (std::string_view part : split(text, ';')) {
        part = trimmed(part);
        if (part.empty()) continue;
        const auto blank = part.find_first_of(" \t"), colon = part.find(':');
        const auto wrong = [&] {
            return failure(
                "events", fmt::format("“{}” is not understood: write a stretch and what holds in it, such "
                                      "as 2:5 valley; what may hold: zero, drop, valley, tangent, leave-out.",
                                      part));
        };
        if (blank == part.npos || colon == part.npos || colon > blank) return wrong();
        const auto from = parseNumber(part.substr(0, colon)),
                   to = parseNumber(part.substr(colon + 1, blank - colon - 1));
        const std::string what(trimmed(part.substr(blank)));
        const bool known = what == "leave-out" || std::ranges::count(areaGrounds(), what, &Choice::key) > 0;
        if (!from || !to || !(*from < *to) || !known) return wrong();
        out.push_back({*from, *to, what});
    }
    return out;
}

Result<std::map<std::string, double>> areaFactors(const std::string& text) {
    std::map<std::string, double> out;
    for (std::string_view part : split(text, ',')) {
        part = trimmed(part);
        if (part.empty()) continue;
        const auto equals = part.find('=');
        const auto value = equals == part.npos ? std::nullopt : parseNumber(trimmed(part.substr(equals + 1)));
        if (!value || !(*value > 0))
            return failure("factors",
                           fmt::format("“{}” is no factor: write name=number, such as 1=0.82.", part));
        out[std::string(trimmed(part.substr(0, equals)))] = *value;
    }
    return out;
}

} // namespace jointer::analyses
