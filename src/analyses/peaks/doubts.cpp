// SPDX-License-Identifier: GPL-3.0-or-later
// What is doubtful of fitted peaks, by name and in words.
#include "analyses/peaks/telling.h"
#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace jointer::analyses {

namespace {

constexpr double kAgainst = 0.95;     // correlation of two sizes from which they are told together
constexpr double kLittleEvidence = 2; // of AICc: below it a peak could as well be left out
constexpr double kWeakShare = 0.25;   // relative error of a size from which its evidence is asked
constexpr double kWeakSignal = 5;     // height over the scatter of the residuals
constexpr double kAlmost = 1 - 1e-6;

std::string called(const PlannedPeak& p) {
    return p.isNamed() ? "“" + p.name + "”" : p.called();
}
std::string atStart(std::string text) {
    if (!text.empty() && text[0] == 'p') text[0] = 'P';
    return text;
}

class Doubter {
public:
    explicit Doubter(const PeaksDetail& d)
        : d_(d), member_(d.report.one()), peaks_(d.plan.peaks), numbers_(d.numbers) {}

    std::vector<Issue> all() {
        for (std::size_t k = 0; k < peaks_.size(); ++k) {
            runaway(k);
            evidence(k);
        }
        for (std::size_t k = 0; k + 1 < peaks_.size(); ++k) together(k, k + 1);
        if (!d_.otherShape.empty())
            say("other-shape",
                fmt::format("{}s go better with these points (AICc falls by {}): choose that shape.",
                            models::catalogue().find(d_.otherShape)->info.name,
                            readableNumber(d_.otherShapeGain, 3)));
        return std::move(issues_);
    }

private:
    void say(const char* code, std::string text) { issues_.push_back({code, std::move(text), {}}); }

    void runaway(std::size_t k) {
        const PlannedPeak& p = peaks_[k];
        const PeakNumbers& n = numbers_[k];
        const double width = n.fwhm.value, range = d_.plan.high - d_.plan.low;
        if (!(width < 0.5 * range) && p.width < 0.4 * range)
            say("became-baseline", atStart(called(p)) +
                                       " has become the baseline: it is wider than half of the span. "
                                       "Limit its width, or take it out.");
        else if (width < 1.5 * d_.plan.spacing)
            say("became-needle",
                atStart(called(p)) +
                    " has become a needle, narrower than two points. Limit its width, or take it out.");
        const double moved = n.maximum.value - p.place;
        if (std::abs(moved) > 1.5 * p.width)
            say("peak-moved", fmt::format("{} has moved from {} to {}.", atStart(called(p)),
                                          readableNumber(p.place, 5), readableNumber(n.maximum.value, 5)));
        for (std::size_t i = 0; i < p.begin.size(); ++i) {
            const fit::ParameterResult& r = member_.parameters[p.firstParameter + i];
            if (r.atLimit)
                say("peak-on-limit", fmt::format("{}: {} ended on its limit ({}).", atStart(called(p)),
                                                 p.model->parameters()[i].name, readableNumber(r.value, 4)));
        }
    }

    void evidence(std::size_t k) {
        if (k >= d_.removal.size() || !(d_.removal[k] < kLittleEvidence)) return;
        say("weak-peak",
            fmt::format(
                "{} is weak: without it the fit is {} (ΔAICc {}). Tie its width to that of a neighbour, "
                "or leave it out.",
                atStart(called(peaks_[k])), d_.removal[k] < 0 ? "better" : "as good",
                readableNumber(d_.removal[k], 2)));
    }

    void together(std::size_t a, std::size_t b) {
        if (member_.root.size() == 0) return;
        const models::PeakNumber &first = numbers_[a].size(), &second = numbers_[b].size();
        const Eigen::RowVectorXd u = d_.errorRow(peaks_[a], first), v = d_.errorRow(peaks_[b], second);
        const double correlation = u.dot(v) / (u.norm() * v.norm());
        // Two that began upon each other had no order.
        const bool apart =
            peaks_[b].place - peaks_[a].place > 0.4 * std::min(peaks_[a].width, peaks_[b].width);
        if (apart && numbers_[a].maximum.value > numbers_[b].maximum.value)
            say("peaks-swapped",
                fmt::format("{} and {} have changed places.", atStart(called(peaks_[a])), called(peaks_[b])));
        if (!(std::abs(correlation) > kAgainst)) return;
        const double sum = first.value + second.value;
        const ValueText t = readableWithError(sum, (u + v).norm());
        say("one-hump",
            fmt::format("{} and {} share one hump: their areas go {} each other ({}). Their sum is {} ± {}.",
                        atStart(called(peaks_[a])), called(peaks_[b]), correlation < 0 ? "against" : "with",
                        readableNumber(std::clamp(correlation, -kAlmost, kAlmost), 2), t.value, t.error));
    }

    const PeaksDetail& d_;
    const fit::MemberReport& member_;
    const std::vector<PlannedPeak>& peaks_;
    const std::vector<PeakNumbers>& numbers_;
    std::vector<Issue> issues_;
};

} // namespace

std::vector<Issue> doubtsOf(const PeaksDetail& detail) {
    return Doubter(detail).all();
}

std::vector<int> weakPeaks(const PeaksDetail& detail) {
    std::vector<int> out;
    for (std::size_t k = 0; k < detail.plan.peaks.size(); ++k) {
        const PlannedPeak& p = detail.plan.peaks[k];
        const PeakNumbers& n = detail.numbers[k];
        const models::PeakNumber& size = n.size();
        const double error = detail.errorOf(p, size);
        const bool unsure = !(error < kWeakShare * std::abs(size.value));
        const bool low = !(std::abs(n.height.value) > kWeakSignal * detail.report.residualSd);
        if (unsure || low) out.push_back(p.number);
    }
    return out;
}

} // namespace jointer::analyses
