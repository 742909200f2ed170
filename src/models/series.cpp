// SPDX-License-Identifier: GPL-3.0-or-later
#include "models/series.h"

#include <algorithm>

namespace jointer::models {

const Series* seriesOf(std::string_view key) {
    static const std::vector<Series> all = {
        {"Degree",
         {"line", "polynomial-2", "polynomial-3", "polynomial-4", "polynomial-5", "polynomial-6",
          "polynomial-7", "polynomial-8", "polynomial-9"}},
        {"Terms", {"exponential-decay", "exponential-decay-2", "exponential-decay-3"}},
        {"Parameters", {"logistic-3", "logistic-4", "logistic-5"}, 3},
        {"Sites", {"saturation", "saturation-2"}}};
    const auto at = std::ranges::find_if(
        all, [&](const Series& s) { return std::ranges::find(s.keys, key) != s.keys.end(); });
    return at == all.end() ? nullptr : &*at;
}

} // namespace jointer::models
