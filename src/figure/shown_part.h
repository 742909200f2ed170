// SPDX-License-Identifier: GPL-3.0-or-later
// Which points of a curve with ascending x an axis shows.
#pragma once

#include <algorithm>
#include <utility>
#include <vector>

namespace jointer::figure {

// The part of an ascending x that a scale shows, with one point beyond each end so that lines leave the
// frame.
inline std::pair<std::size_t, std::size_t> shownPart(const std::vector<double>& xs, double low, double high) {
    const auto from = static_cast<std::size_t>(std::lower_bound(xs.begin(), xs.end(), low) - xs.begin());
    const auto to = static_cast<std::size_t>(std::upper_bound(xs.begin(), xs.end(), high) - xs.begin());
    return {from > 0 ? from - 1 : 0, std::min(xs.size(), to + 1)};
}

} // namespace jointer::figure
