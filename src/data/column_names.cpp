// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/column_names.h"

#include <algorithm>

namespace jointer {

std::string nameWithoutNumber(std::string_view name) {
    std::size_t end = name.find_last_not_of("0123456789");
    if (end == name.npos) return {};
    if (end + 1 < name.size()) end = name.find_last_not_of(" _.#-", end);
    return end == name.npos ? std::string() : std::string(name.substr(0, end + 1));
}

std::string nameWithoutLetter(std::string_view name) {
    if (name.size() < 2 || name.back() < 'a' || name.back() > 'h') return {};
    name.remove_suffix(1);
    const std::size_t end = name.find_last_not_of(" _.-");
    const bool apart = end + 1 < name.size(), afterDigit = name.back() >= '0' && name.back() <= '9';
    return end != name.npos && (apart || afterDigit) ? std::string(name.substr(0, end + 1)) : std::string();
}

std::string sharedBeginning(const std::vector<std::string>& names) {
    constexpr std::string_view kBetween = " · ";
    const std::size_t end = names.empty() ? std::string::npos : names[0].find(kBetween);
    if (end == std::string::npos) return {};
    const std::string shared = names[0].substr(0, end + kBetween.size());
    const bool all = std::ranges::all_of(
        names, [&](const std::string& n) { return n.starts_with(shared) && n.size() > shared.size(); });
    const bool differ = std::ranges::any_of(names, [&](const std::string& n) { return n != names[0]; });
    return all && differ ? shared : std::string();
}

} // namespace jointer
