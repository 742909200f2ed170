// SPDX-License-Identifier: GPL-3.0-or-later
// Recomputes everything of a project file and compares it with the results stored in it.
#pragma once

#include "base/issue.h"

namespace jointer {

struct Checked {
    int fits = 0, compared = 0;
    std::vector<Issue> issues; // what differs or is damaged
};

// Parameters may differ by 10⁻³ of their standard error, other numbers by 10⁻⁹ relative. Changes nothing.
Result<Checked> checkProject(const std::string& path);

} // namespace jointer
