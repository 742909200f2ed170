// SPDX-License-Identifier: GPL-3.0-or-later
// Tables that were neither read nor typed.
#pragma once

namespace jointer {

// The metadata of a table that was kept from results: of which.
inline constexpr const char* kKeptFrom = "kept from";

} // namespace jointer
