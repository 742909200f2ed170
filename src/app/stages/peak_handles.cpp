// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/stages/peak_handles.h"

#include "base/text.h"
#include "draw/markup.h"

#include <cmath>
#include <fmt/format.h>

namespace jointer::app {

namespace {

std::string saysOf(const analyses::PeaksDetail& shown, std::size_t k) {
    const analyses::PlannedPeak& p = shown.plan.peaks[k];
    const auto with = [&](const models::PeakNumber& n) {
        const double se = shown.report.provisional ? std::nan("") : shown.errorOf(p, n);
        return readableWithError(n.value, se).text();
    };
    const analyses::PeakNumbers& n = shown.numbers[k];
    const std::string& unit = shown.taken->members.front().curve->xMeaning.unit;
    const std::string x = unit.empty() ? "" : " " + draw::unitPlain(unit);
    return fmt::format("{}   height {}   centre {}{}   FWHM {}{}", p.called(), with(n.height),
                       with(n.maximum), x, with(n.fwhm), x);
}

} // namespace

std::vector<steps::Handle> peakHandles(const analyses::PeaksDetail& shown, int selected) {
    using namespace steps;
    std::vector<Handle> handles;
    for (std::size_t k = 0; k < shown.plan.peaks.size(); ++k) {
        const analyses::PlannedPeak& p = shown.plan.peaks[k];
        const analyses::PeakNumbers& n = shown.numbers[k];
        const double x = n.maximum.value, height = n.height.value;
        if (!std::isfinite(x) || !std::isfinite(height)) continue;
        const double base = shown.baseline({x})[0];
        const auto index = static_cast<std::size_t>(p.number);
        handles.push_back({.form = HandleForm::Peak,
                           .state = p.number == selected ? HandleState::Accepted : HandleState::Proposed,
                           .x = x,
                           .y = base + height,
                           .setting = "peak",
                           .index = index,
                           .says = saysOf(shown, k),
                           .label = p.name,
                           .downwards = height < 0});
        if (p.number != selected || !(n.fwhm.value > 0)) continue;
        for (const std::uint32_t end : {0U, 1U})
            handles.push_back({.form = HandleForm::PeakWidth,
                               .x = x + (end == 0 ? -0.5 : 0.5) * n.fwhm.value,
                               .y = base + height / 2,
                               .setting = "width",
                               .index = index,
                               .row = end,
                               .says = saysOf(shown, k)});
    }
    for (const fit::FoundPeak& f : shown.further())
        handles.push_back({.form = HandleForm::Peak,
                           .state = HandleState::Proposed,
                           .x = f.place,
                           .y = shown.fitted({f.place})[0] + f.height,
                           .setting = "further",
                           .says = fmt::format("perhaps a peak, S/N {}: a click takes it in",
                                               readableNumber(f.signalToNoise, 2)),
                           .label = fmt::format("proposed, S/N {}", readableNumber(f.signalToNoise, 2)),
                           .downwards = f.height < 0});
    return handles;
}

void moveHandle(Analysis& peaks, const analyses::PeaksDetail& shown, const steps::Handle& handle, double x,
                double y) {
    const int number = static_cast<int>(handle.index);
    if (handle.setting == "further") return;
    if (handle.form == steps::HandleForm::Peak)
        return analyses::movePeak(peaks, shown, number, x, y - shown.baseline({x})[0]);
    for (std::size_t k = 0; k < shown.plan.peaks.size(); ++k)
        if (shown.plan.peaks[k].number == number)
            analyses::widenPeak(peaks, shown, number, 2 * std::abs(x - shown.numbers[k].maximum.value));
}

} // namespace jointer::app
