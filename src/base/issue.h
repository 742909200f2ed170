// SPDX-License-Identifier: GPL-3.0-or-later
// What went wrong or deserves a look, as data: a stable code, a sentence for people, and a place.
// Result<T> is a value or the one issue that prevented it; Outcome<T> is a value with warnings.
// Example: `if (n == 0) return failure("empty-file", "The file is empty.", {.file = name});`
#pragma once

#include <expected>
#include <string>
#include <vector>

namespace jointer {

// Where in the user's material an issue lies; empty or zero members are unknown.
struct Place {
    std::string file;
    long line = 0;      // counted from 1
    std::string column; // name of the column
    long sign = 0;      // of a formula, counted from 1
    bool operator==(const Place&) const = default;
};

struct Issue {
    std::string code; // stable, kebab-case; see headless.md of the manual
    std::string text; // one sentence that says what to do
    Place place;

    // The text with its place in front, as messages on the command line show it.
    std::string sentence() const;
    bool operator==(const Issue&) const = default;
};

template <class T> using Result = std::expected<T, Issue>;

template <class T> struct Outcome {
    T value;
    std::vector<Issue> issues;
};

// Makes the unexpected side of a Result.
std::unexpected<Issue> failure(std::string code, std::string text, Place place = {});

} // namespace jointer
