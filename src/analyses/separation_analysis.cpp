// SPDX-License-Identifier: GPL-3.0-or-later
// The numbers of a separation from fitted peaks of a chromatogram: an analysis that takes a set of peaks.
#include "analyses/areas/areas.h"
#include "analyses/areas/separation.h"
#include "analyses/peaks/further_numbers.h"
#include "base/text.h"
#include "describe/setting_makers.h"

#include <algorithm>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

using namespace describe;

constexpr double kNoiseReach = 10; // widths on each side

const KindInfo& info() {
    static const KindInfo kind{
        .key = "separation",
        .name = "Numbers of a separation",
        .purpose =
            "Plates, tailing, resolution, signal to noise, retention factors and shares of the peaks of a "
            "chromatogram",
        .settings = {openNumber("dead-time", "Dead time", "When what is not retained comes out.",
                                {.unit = "x", .lowest = 0, .whenEmpty = "not known"}),
                     made(SettingKind::Text, "factors", "Sensitivity", Value(std::string()),
                          "Factors on areas for their shares, by name or number: 1=0.82, 3=1.1.", {})}};
    return kind;
}

class Separating {
public:
    Separating(const PeaksDetail& peaks, std::map<std::string, double> factors, double deadTime)
        : peaks_(peaks), numbers_(peaks), factors_(std::move(factors)), deadTime_(deadTime) {}

    AnalysisResult tell(const AnalysisResult& from) {
        AnalysisResult out{.state = "done"};
        const auto& all = peaks_.plan.peaks;
        double sum = 0, squares = 0;
        for (std::size_t k = 0; k < all.size(); ++k) {
            const double own = factorOf(all[k]);
            sum += own * std::abs(peaks_.numbers[k].size().value);
            squares += std::pow(own * peaks_.errorOf(all[k], peaks_.numbers[k].size()), 2);
        }
        for (std::size_t k = 0; k < all.size(); ++k) {
            const PlannedPeak& p = all[k];
            const Measured t = place(k), w = read(p, [](const auto&r) { return r.width(0.5).value; });
            const auto add = [&](const char* name, const char* label, Measured m, const char* unit = "") {
                if (std::isfinite(m.value))
                    out.quantities.push_back(numbers_.quantity(name, label, unit, {m.value, m.se}, &p));
            };
            if (deadTime_ > 0) add("retention_factor", "retention factor", retentionFactor(t, deadTime_));
            add("plates", "plates", plateNumber(t, w));
            add("tailing", "tailing", read(p, [](const auto& r) {
                    return tailing(r.width(0.05).value, r.maximum().value - r.side(0.05, -1).value);
                }));
            if (k + 1 < all.size())
                add("resolution", "resolution to the next",
                    resolution(t, w, place(k + 1),
                               read(all[k + 1], [](const auto& r) { return r.width(0.5).value; })));
            if (const double range = noiseRange(t.value, w.value); range > 0)
                add("signal_to_noise", "signal to noise (2H/h)",
                    signalToNoise(
                        {peaks_.numbers[k].height.value, peaks_.errorOf(p, peaks_.numbers[k].height)},
                        range));
            const double own = factorOf(p) * std::abs(peaks_.numbers[k].size().value);
            const double f = factorOf(p) * peaks_.errorOf(p, peaks_.numbers[k].size());
            if (all.size() > 1)
                add("corrected_share", "share of the corrected areas",
                    {100 * own / sum, 100 / (sum * sum) *
                                          std::sqrt((sum - own) * (sum - own) * f * f +
                                                    own * own * std::max(squares - f * f, 0.0))},
                    "%");
        }
        out.good = from.good;
        out.sentence = fmt::format("The separation of {}.", counted(std::ssize(all), "peak"));
        out.detail =
            deadTime_ > 0 ? fmt::format("dead time {}", readableNumber(deadTime_, 4)) : "no dead time told";
        return out;
    }

private:
    Measured read(const PlannedPeak& p, const std::function<double(const models::PeakReading&)>& f) const {
        const NumberWithError n = numbers_.of(p, [&](std::span<const double> parameters) {
            return f(models::PeakReading(*p.shape.model, *p.shape.traits, parameters));
        });
        return {n.value, n.error};
    }
    Measured place(std::size_t k) const {
        const models::PeakNumber& n = peaks_.numbers[k].maximum;
        return {n.value, peaks_.errorOf(peaks_.plan.peaks[k], n)};
    }
    double factorOf(const PlannedPeak& p) const {
        for (const std::string& name : {p.name, std::to_string(p.number)})
            if (const auto at = factors_.find(name); at != factors_.end()) return at->second;
        return 1;
    }
    // Of what the fit leaves around a peak.
    double noiseRange(double place, double width) const {
        const fit::FitMember& member = peaks_.taken->problem.members.front();
        const std::vector<double>& rest = peaks_.report.one().residuals;
        double low = INFINITY, high = -INFINITY;
        for (std::size_t i = 0; i < rest.size(); ++i) {
            if (!(std::abs(member.predictors[0][i] - place) < kNoiseReach * width)) continue;
            low = std::min(low, rest[i]);
            high = std::max(high, rest[i]);
        }
        return high - low;
    }

    const PeaksDetail& peaks_;
    FurtherNumbers numbers_;
    std::map<std::string, double> factors_;
    double deadTime_;
};

Result<AnalysisResult> compute(const Task& task, const Taken&) {
    const auto peaks = takenPeaks(task, "The numbers of a separation");
    if (!peaks) return std::unexpected(peaks.error());
    auto factors = areaFactors(info().text(task.spec.settings, "factors"));
    if (!factors) return std::unexpected(factors.error());
    return Separating(**peaks, std::move(*factors), info().number(task.spec.settings, "dead-time"))
        .tell(*task.analyses[0]);
}

} // namespace

AnalysisKind separationAnalysis() {
    return {.info = info(), .slots = slotsOfPeaks(), .compute = compute, .costly = false};
}

} // namespace jointer::analyses
