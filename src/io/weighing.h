// SPDX-License-Identifier: GPL-3.0-or-later
// Ways of cutting the lines of a text into cells, weighed against each other: each is read as a whole table
// (assess.h), and the one that explains the lines in the fewest bits is taken.
#pragma once

#include "describe/settings.h"
#include "io/assess.h"
#include "io/dialect.h"

#include <optional>

namespace jointer::io {

// What was weighed, and what explains the lines best.
class Candidates {
public:
    void add(Reading reading);
    const Reading& best() const { return best_; }
    void fallBack(char separator, char decimal) { best_ = {.separator = separator, .decimal = decimal}; }
    // The next one that gives other cells of the lines, of at most so many more bits.
    std::optional<Reading> near(const std::vector<std::string_view>& lines, double margin) const;

private:
    bool givesOtherCells(const std::vector<std::string_view>& lines, const Reading& r) const;
    Reading best_;
    std::vector<Reading> others_;
};

// All ways that are not ruled out by what was told.
Candidates weighed(const std::vector<std::string_view>& lines, const Settings& told,
                   const std::string& comment);

// The separator of a first line such as "sep=;"; 0: none.
char declaredSeparator(const std::vector<std::string_view>& lines);

} // namespace jointer::io
