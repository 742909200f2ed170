// SPDX-License-Identifier: GPL-3.0-or-later
// Profiles of publishers as files, the shipped ones and one's own.
#pragma once

#include "figure/journal.h"

#include <filesystem>

namespace jointer {

// { "format": "jointer-journal", "name": …, "settings": { "widths": [85, 174], "text": 7 … } }. Errors:
// "journal-file".
Result<figure::JournalProfile> journalProfileFromText(std::string_view text, const std::string& file = {});
std::string journalProfileText(const figure::JournalProfile& profile);

// $JOINTER_JOURNALS, else below the user's data folder.
std::filesystem::path personalJournals();

// Those that ship, then one's own; one of the same name takes the place of a shipped one. Files that cannot
// be read are told.
Outcome<std::vector<figure::JournalProfile>> journalProfiles(const std::filesystem::path& personal);

} // namespace jointer
