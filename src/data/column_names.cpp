// SPDX-License-Identifier: GPL-3.0-or-later
#include "data/column_names.h"

namespace jointer {

std::string nameWithoutNumber(std::string_view name) {
    std::size_t end = name.find_last_not_of("0123456789");
    if (end == name.npos) return {};
    if (end + 1 < name.size()) end = name.find_last_not_of(" _.#-", end);
    return end == name.npos ? std::string() : std::string(name.substr(0, end + 1));
}

} // namespace jointer
