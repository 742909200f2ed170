// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/issue.h"

#include <fmt/format.h>

namespace jointer {

std::string Issue::sentence() const {
    std::string where = place.file;
    if (place.line > 0) where += fmt::format("{}line {}", where.empty() ? "" : ", ", place.line);
    if (!place.column.empty()) where += fmt::format("{}column {}", where.empty() ? "" : ", ", place.column);
    return where.empty() ? text : where + ": " + text;
}

std::unexpected<Issue> failure(std::string code, std::string text, Place place) {
    return std::unexpected(Issue{std::move(code), std::move(text), std::move(place)});
}

} // namespace jointer
