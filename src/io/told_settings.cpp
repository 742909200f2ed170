// SPDX-License-Identifier: GPL-3.0-or-later
#include "io/told_settings.h"

#include "base/text.h"

namespace jointer::io {

namespace {

Setting place(std::string key, std::string label, std::string help, double lowest) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::WholeNumber,
            .help = std::move(help),
            .lowest = lowest,
            .highest = 1e9,
            .zero = lowest == 0 ? "none" : ""};
}

} // namespace

std::vector<Setting> placesOfTable(const std::string& row) {
    const std::string upper = row == "row" ? "Row" : "Line";
    return {place("heading", "Headings", upper + " with the names of the columns.", 0),
            place("units", "Units", upper + " with the units of the columns.", 0),
            place("first", "Data from", "First " + row + " of the data.", 1)};
}

Setting missingSetting() {
    return textSetting("missing", "Missing",
                       "Further texts that stand for a missing value, with commas between them.");
}

std::vector<std::string> missingTold(const Settings& told) {
    const std::string all = told.text("missing"); // outlives the pieces
    std::vector<std::string> markers;
    for (std::string_view marker : split(all, ','))
        if (!trimmed(marker).empty()) markers.emplace_back(trimmed(marker));
    return markers;
}

Setting textSetting(std::string key, std::string label, std::string help, std::string shownIf) {
    return {.key = std::move(key),
            .label = std::move(label),
            .kind = SettingKind::Text,
            .help = std::move(help),
            .shownIf = std::move(shownIf)};
}

Setting flagSetting(std::string key, std::string label, std::string help) {
    return {
        .key = std::move(key), .label = std::move(label), .kind = SettingKind::Flag, .help = std::move(help)};
}

} // namespace jointer::io
