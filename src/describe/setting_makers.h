// SPDX-License-Identifier: GPL-3.0-or-later
// Short ways to write the descriptions of settings; what they do not take is set on what they give.
// Example: `wholeNumber("window", "Window", 11, "Number of points.", {.unit = "points", .lowest = 3})`
#pragma once

#include "describe/kind.h"

namespace jointer::describe {

// What a setting may have beyond its name, default and help.
struct Extras {
    std::string unit{};
    double lowest = -std::numeric_limits<double>::infinity();
    double highest = std::numeric_limits<double>::infinity();
    std::string group{};
    std::string shownIf{};
    std::string whenEmpty{};
    std::optional<std::pair<double, double>> slider{};
    bool logSlider = false;
    bool hidden = false;
    bool ofRows = false;
};

inline Setting made(SettingKind kind, std::string key, std::string label, Value fallback, std::string help,
                    Extras e) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = kind,
            .fallback = std::move(fallback),
            .help = std::move(help),
            .unit = std::move(e.unit),
            .lowest = e.lowest,
            .highest = e.highest,
            .group = std::move(e.group),
            .shownIf = std::move(e.shownIf),
            .whenEmpty = std::move(e.whenEmpty),
            .ofRows = e.ofRows,
            .hidden = e.hidden,
            .slider = e.slider,
            .logSlider = e.logSlider};
}

inline Setting choice(std::string key, std::string label, std::vector<Choice> choices, std::string help,
                      Extras e = {}) {
    const std::string first = choices.front().key;
    Setting s =
        made(SettingKind::Choice, std::move(key), std::move(label), first, std::move(help), std::move(e));
    s.choices = std::move(choices);
    return s;
}
inline Setting number(std::string key, std::string label, double fallback, std::string help, Extras e = {}) {
    return made(SettingKind::Number, std::move(key), std::move(label), fallback, std::move(help),
                std::move(e));
}
// A number that may be left open; `whenEmpty` says what is taken then.
inline Setting openNumber(std::string key, std::string label, std::string help, Extras e) {
    return made(SettingKind::Number, std::move(key), std::move(label), {}, std::move(help), std::move(e));
}
inline Setting wholeNumber(std::string key, std::string label, double fallback, std::string help,
                           Extras e = {}) {
    return made(SettingKind::WholeNumber, std::move(key), std::move(label), fallback, std::move(help),
                std::move(e));
}
inline Setting flag(std::string key, std::string label, bool fallback, std::string help, Extras e = {}) {
    return made(SettingKind::Flag, std::move(key), std::move(label), fallback, std::move(help), std::move(e));
}
inline Setting word(std::string key, std::string label, std::string help, Extras e = {}) {
    return made(SettingKind::Text, std::move(key), std::move(label), std::string(), std::move(help),
                std::move(e));
}
inline Setting formulaText(std::string key, std::string label, std::string help, Extras e = {}) {
    return made(SettingKind::Formula, std::move(key), std::move(label), std::string(), std::move(help),
                std::move(e));
}
inline Setting interval(std::string key, std::string label, std::string help, Extras e = {}) {
    if (e.whenEmpty.empty()) e.whenEmpty = "open";
    if (e.unit.empty()) e.unit = "x";
    Setting s =
        made(SettingKind::Interval, std::move(key), std::move(label), {}, std::move(help), std::move(e));
    s.openEnds = true;
    return s;
}
inline Setting points(std::string key, std::string label, std::string help, Extras e = {},
                      std::pair<std::string, std::string> pair = {"x", "y"}) {
    Setting s =
        made(SettingKind::Points, std::move(key), std::move(label), {}, std::move(help), std::move(e));
    s.pair = std::move(pair);
    return s;
}
inline Setting list(std::string key, std::string label, std::string help, Extras e = {}) {
    return made(SettingKind::List, std::move(key), std::move(label), {}, std::move(help), std::move(e));
}
inline Setting reference(std::string key, std::string label, std::string of, std::string help,
                         Extras e = {}) {
    if (e.whenEmpty.empty()) e.whenEmpty = "none";
    Setting s =
        made(SettingKind::Reference, std::move(key), std::move(label), {}, std::move(help), std::move(e));
    s.of = std::move(of);
    return s;
}
inline Setting references(std::string key, std::string label, std::string of, std::string help,
                          Extras e = {}) {
    if (e.whenEmpty.empty()) e.whenEmpty = "none";
    Setting s =
        made(SettingKind::References, std::move(key), std::move(label), {}, std::move(help), std::move(e));
    s.of = std::move(of);
    return s;
}

} // namespace jointer::describe
