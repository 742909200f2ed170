// SPDX-License-Identifier: GPL-3.0-or-later
#include "session/journal_profiles.h"

#include "base/files.h"
#include "base/text.h"
#include "project/json_reader.h"
#include "project/json_text.h"

#include <algorithm>
#include <cstdlib>

namespace jointer {

namespace {

constexpr const char* kJournalFormat = "jointer-journal";

} // namespace

Result<figure::JournalProfile> journalProfileFromText(std::string_view text, const std::string& file) {
    const auto json =
        parsedDocument(text, {.code = "journal-file", .what = "a publisher profile", .file = file});
    if (!json) return std::unexpected(json.error());
    JsonReader r(*json);
    if (r.text("format") != kJournalFormat)
        return failure("journal-file",
                       "This is no publisher profile of Jointer: “format” is not “jointer-journal”.",
                       {.file = file});
    const std::string name = r.text("name");
    if (name.empty()) return failure("journal-file", "The publisher profile has no “name”.", {.file = file});
    const Settings settings = r.settings("settings");
    if (auto good = validate(figure::journalKind(), settings); !good)
        return failure("journal-file", good.error().text, {.file = file});
    return figure::profileFrom(name, settings);
}

std::string journalProfileText(const figure::JournalProfile& p) {
    Settings s;
    if (!p.widthsMm.empty()) s.set("widths", Value(p.widthsMm));
    for (const auto& [key, value] : {std::pair("height", p.greatestHeightMm),
                                     {"text", p.smallestTextPt},
                                     {"line", p.smallestLinePt},
                                     {"dpi", p.dpi}})
        if (value > 0) s.set(key, Value(value));
    if (!p.families.empty()) s.set("typefaces", Value(joined(p.families, ", ")));
    if (!p.formats.empty()) s.set("formats", Value(joined(p.formats, ", ")));
    if (!p.colour) s.set("colour", Value(false));
    const Json out = {{"format", kJournalFormat}, {"name", p.name}, {"settings", toJson(s)}};
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

std::filesystem::path personalJournals() {
    if (const char* told = std::getenv("JOINTER_JOURNALS")) return told;
    if (const char* data = std::getenv("XDG_DATA_HOME"); data && *data)
        return std::filesystem::path(data) / "jointer" / "journals";
    const char* home = std::getenv("HOME");
    return std::filesystem::path(home ? home : ".") / ".local" / "share" / "jointer" / "journals";
}

Outcome<std::vector<figure::JournalProfile>> journalProfiles(const std::filesystem::path& personal) {
    Outcome<std::vector<figure::JournalProfile>> out{figure::shippedProfiles(), {}};
    std::error_code error;
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(personal, error))
        if (entry.path().extension() == ".json") files.push_back(entry.path());
    std::ranges::sort(files);
    for (const auto& file : files) {
        const auto text = readFile(file);
        const auto profile = text ? journalProfileFromText(*text, file.string())
                                  : Result<figure::JournalProfile>(std::unexpected(text.error()));
        if (!profile) {
            out.issues.push_back(profile.error());
            continue;
        }
        const auto same = std::ranges::find(out.value, profile->name, &figure::JournalProfile::name);
        same == out.value.end() ? out.value.push_back(*profile) : static_cast<void>(*same = *profile);
    }
    return out;
}

} // namespace jointer
