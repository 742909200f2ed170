// SPDX-License-Identifier: GPL-3.0-or-later
// The description of a kind (a step, a model, a mark, a file format…), made once beside its computation.
// Forms in the window, options of the command line, checks of project files and the manual are made from it.
#pragma once

#include "describe/settings.h"

#include <limits>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace jointer {

enum class SettingKind {
    Number,
    WholeNumber,
    Choice,
    Flag,
    Text,
    Formula,
    List,
    Points,
    Interval,
    Colour,
    Texts,
    Reference,  // to one thing of the project
    References, // to several
    Rows        // a list of settings of `row`
};

struct Choice {
    std::string key, label;
};

// One setting of a kind. Larger-is rules and units belong into `help`.
struct Setting {
    std::string key;
    std::string label;
    SettingKind kind = SettingKind::Number;
    Value fallback{}; // the default
    std::string help{};
    std::string unit{}; // "mm", "pt", "points"; "x" and "y" stand for the unit of that axis
    double lowest = -std::numeric_limits<double>::infinity();
    double highest = std::numeric_limits<double>::infinity();
    std::vector<Choice> choices{};
    std::string group{};   // heading under which a form shows it; empty: at the top
    std::string shownIf{}; // "key=choice|choice": shown only then, and where that setting is; several by ";"
    std::string whenEmpty{}; // how an empty value reads ("automatic"); a setting without it must have one
    std::string zero{};      // how nought reads and is typed: "none", of a line
    std::size_t others = 0;  // of choices: texts of so many signs are taken as well
    std::string of{};        // of references: what may be referred to: "dataset", "column", "analysis"…
    bool openEnds = false;   // of an interval: an end may be left open
    std::pair<std::string, std::string> pair{"x", "y"}; // of Points: what the two numbers of each are
    bool ofRows = false; // ids of rows of the table: means nothing for another dataset
    bool hidden = false; // set on the canvas or by other means, never in a form
    std::optional<std::pair<double, double>> slider{}; // from … to: a form shows a slider
    bool logSlider = false;
    std::vector<Setting> row{}; // the description of each of the Rows
};

struct KindInfo {
    std::string key;  // never renamed
    std::string name; // for people
    std::string purpose;
    std::string group{};
    int version = 1; // raised when the computation changes its numbers
    std::vector<Setting> settings{};

    const Setting* find(std::string_view settingKey) const;
    Value value(const Settings& given, std::string_view settingKey) const; // given, else default
    double number(const Settings& given, std::string_view settingKey) const;
    int integer(const Settings& given, std::string_view settingKey) const;
    bool flag(const Settings& given, std::string_view settingKey) const;
    std::string text(const Settings& given, std::string_view settingKey) const;
};

// Whether a form shows the setting, given the values of the others.
bool isShown(const KindInfo& kind, const Setting& setting, const Settings& given);

// Takes out what does not fit the description, and says what it was: for values from a file that a hand has
// edited. Unknown keys stay.
std::vector<Issue> dropUnfit(const KindInfo& kind, Settings& given);

// Checks known keys for type, range and choice. Errors: the first setting that cannot be taken, in words.
// Unknown keys pass: newer versions may have written them.
Result<void> validate(const KindInfo& kind, const Settings& given);

// Reads a value as a person types it: lists "1, 2, 3", points "x:y, x:y", intervals "2:8" or "2 … 8" with
// ends that may be open ("2:"), times as in ISO 8601. Errors: says what is expected.
Result<Value> parseValue(const Setting& setting, std::string_view text);

std::string valueText(const Setting& setting, const Value& value);

} // namespace jointer
