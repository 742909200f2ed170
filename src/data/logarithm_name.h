// SPDX-License-Identifier: GPL-3.0-or-later
// What logarithms are called after what they are of: made in one place, and read in others.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace jointer {

struct LogarithmName {
    double base;
    std::string name, unit; // of the original
};

// "ln(activity/Bq)", "log10(mass/(g/L))"; `function` is "ln" or "log10".
std::string nameOfLogarithm(std::string_view function, const std::string& name, const std::string& unit);

// nullopt: it is not called so.
std::optional<LogarithmName> logarithmOf(std::string_view name);

} // namespace jointer
