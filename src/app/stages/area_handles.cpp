// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/area_handles.h"

#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::app {

namespace {

std::string withError(const analyses::Measured& m) {
    return readableWithError(m.value, m.se).text();
}

} // namespace

std::vector<steps::Handle> areaHandles(const analyses::AreasDetail& shown, int selected) {
    using namespace steps;
    std::vector<Handle> handles;
    for (const analyses::LimitedPeak& p : shown.peaks) {
        const analyses::MeasuredPeak& m = p.measured;
        if (!std::isfinite(m.area.value)) continue;
        const std::string says =
            fmt::format("{}   area {}   at {}", p.name, withError(m.area), withError(m.place));
        const auto index = static_cast<std::size_t>(p.number);
        const HandleState state = shown.draft ? HandleState::Proposed : HandleState::Accepted;
        handles.push_back({.form = HandleForm::Peak,
                           .state = p.number == selected ? HandleState::Accepted : HandleState::Proposed,
                           .x = m.place.value,
                           .y = m.groundAt(m.place.value) + m.height.value,
                           .setting = "area",
                           .index = index,
                           .says = says,
                           .label = p.name,
                           .downwards = m.downwards});
        for (const bool high : {false, true}) {
            const double x = high ? p.limits.high : p.limits.low;
            // Where neighbours touch one diamond stands for both.
            const bool known = !high && std::ranges::any_of(handles, [&](const Handle& h) {
                return h.setting == "high" && h.x == x;
            });
            if (known) continue;
            handles.push_back({.form = HandleForm::Anchor,
                               .state = state,
                               .x = x,
                               .y = m.groundAt(std::clamp(x, m.low, m.high)),
                               .setting = high ? "high" : "low",
                               .index = index,
                               .says = says,
                               .xOnly = true});
        }
    }
    return handles;
}

} // namespace jointer::app
