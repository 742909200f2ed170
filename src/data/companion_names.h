// SPDX-License-Identifier: GPL-3.0-or-later
// What a curve that came with the data is, by its name: a fit, a background, residuals, or a part of the fit.
#pragma once

#include <optional>
#include <string_view>

namespace jointer {

enum class CompanionKind { Fit, Background, Residuals, Part };

// Of a name such as "Fit", "Ca fit", "background_2", "Component 1"; none where no word tells.
std::optional<CompanionKind> companionKind(std::string_view name);

} // namespace jointer
