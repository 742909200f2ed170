// SPDX-License-Identifier: GPL-3.0-or-later
#include "figure/marks/curve_parts.h"

#include "analyses/peaks/peaks.h"
#include "figure/marks/parts.h"
#include "models/catalogue.h"

#include <algorithm>
#include <cmath>

namespace jointer::figure {

using namespace describe;

namespace {

std::vector<double> ascending(std::vector<double> xs) {
    std::erase_if(xs, [](double x) { return !std::isfinite(x); });
    std::ranges::sort(xs);
    xs.erase(std::ranges::unique(xs).begin(), xs.end());
    return xs;
}

// What stands below the peaks is no peak by its kind.
bool isPeak(const ModelNode& model, int component) {
    const auto at = std::ranges::find(model.children, component, &ModelNode::component);
    const ModelNode& node = at == model.children.end() ? model : *at;
    const models::ModelKind* kind = models::catalogue().find(node.kind);
    return !kind || kind->peak;
}

// About the top of a peak, closely where it bends most.
void addAbout(double place, double width, std::vector<double>& seeds) {
    if (!std::isfinite(place) || !(width > 0)) return;
    for (int k = -16; k <= 16; ++k) seeds.push_back(place + k * width / 16);
    for (const double by : {1.125, 1.25, 1.375, 1.5, 1.75, 2.0, 2.5, 3.0, 4.0, 6.0, 8.0})
        for (const double side : {-1.0, 1.0}) seeds.push_back(place + side * by * width);
}

// What is known of fitted peaks tells where their curves turn.
void seedPeaks(const analyses::PeaksDetail& detail, CurveParts& parts) {
    std::vector<double> all;
    for (CurvePart& part : parts.peaks) {
        const auto at = std::ranges::find(detail.plan.peaks, part.curve->component, &analyses::PlannedPeak::number);
        if (at == detail.plan.peaks.end()) continue;
        const auto& n = detail.numbers[static_cast<std::size_t>(at - detail.plan.peaks.begin())];
        part.place = n.maximum.value;
        addAbout(n.maximum.value, n.fwhm.value, part.seeds);
        if (n.partner) addAbout(n.partner->place.value, n.fwhm.value, part.seeds);
        part.seeds = ascending(std::move(part.seeds));
        all.insert(all.end(), part.seeds.begin(), part.seeds.end());
    }
    for (CurvePart& part : parts.grounds) part.seeds = ascending(all);
}

std::vector<double> placesOf(const std::vector<CurvePart>& parts, const std::vector<double>& even,
                             std::span<const double> points) {
    std::vector<double> all;
    for (const CurvePart& part : parts) all = unitedPlaces(all, part.sampled(even, points).xs);
    return all;
}

} // namespace

Sampling CurvePart::sampled(std::vector<double> even, std::span<const double> points) const {
    const AskedAt ask = [this](const std::vector<double>& xs) { return curve->sample(xs).y; };
    if (seeds.empty() || even.empty()) return sampledWell(ask, std::move(even), points);
    std::vector<double> within;
    for (const double x : seeds)
        if (x > even.front() && x < even.back()) within.push_back(x);
    return sampledWell(ask, unitedPlaces(even, within), {});
}

int CurveParts::evenPlaces() const {
    const bool known = std::ranges::all_of(peaks, [](const CurvePart& p) { return !p.seeds.empty(); });
    return known && !peaks.empty() ? 80 : 300;
}

std::vector<double> CurveParts::places(const std::vector<double>& even) const {
    return unitedPlaces(placesOf(peaks, even, points), placesOfGrounds(even));
}

std::vector<double> CurveParts::placesOfGrounds(const std::vector<double>& even) const {
    return placesOf(grounds, even, points);
}

CurveParts partsOf(const FoundAnalysis& found) {
    CurveParts out;
    if (const auto* rest = found.result->curve("residuals", found.member); rest && rest->points)
        out.points = ascending(rest->points->x);
    const bool ofPeaks = found.result->curve("baseline", found.member) != nullptr;
    for (const analyses::NamedCurve& curve : found.result->curves) {
        const bool baseline = curve.role == "baseline";
        if ((curve.role != "component" && !baseline) || curve.member != found.member || !curve.sample) continue;
        const bool peak = ofPeaks ? !baseline : isPeak(found.analysis->model, curve.component);
        (peak ? out.peaks : out.grounds).push_back({&curve});
    }
    if (const analyses::PeaksDetail* detail = analyses::peaksDetail(*found.result)) seedPeaks(*detail, out);
    return out;
}

std::vector<Setting> analysisSettings() {
    Setting role = word("role", "What of it", "Another curve of the analysis than its fit or its residuals.",
                        {.whenEmpty = "automatic", .hidden = true});
    Setting named = word("named", "Which", "Of several of that sort the one so called.",
                         {.whenEmpty = "the first", .hidden = true});
    return {reference("member", "Dataset", "dataset", "Which dataset of the analysis; none: the first.",
                      {.group = kShownGroup, .whenEmpty = "the first"}),
            wholeNumber("component", "Part", 0, "The number of a part of the model; 0: the whole.",
                        {.lowest = 0, .highest = 1000, .group = kShownGroup}),
            std::move(role), std::move(named),
            number("offset", "Offset", 0,
                   "By how much the curve is moved up; a power of the base on a logarithmic axis.",
                   {.unit = "y", .lowest = -1e300, .highest = 1e300, .group = kPlaceGroup})};
}

} // namespace jointer::figure
