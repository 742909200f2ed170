// SPDX-License-Identifier: GPL-3.0-or-later
// Attributes out of names by a pattern: "shell_{age:d}_{site}" finds age = 28 and site = A in "shell_28_A".
// {name} stands for any text up to what follows it, {name:d} for a whole number, {name:f} for any number; a *
// stands for what does not matter.
#pragma once

#include "base/issue.h"

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace jointer {

using NamedTexts = std::vector<std::pair<std::string, std::string>>;

// What the pattern finds; nothing where the name is of another form.
// Errors: "pattern" for a bracket that is not closed or a kind that is not known.
Result<std::optional<NamedTexts>> matchPattern(std::string_view pattern, std::string_view name);

// The template with {name} replaced by what was found; what was not found stays as it is.
std::string filledTemplate(std::string_view text, const NamedTexts& found);

} // namespace jointer
