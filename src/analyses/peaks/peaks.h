// SPDX-License-Identifier: GPL-3.0-or-later
// A set of peaks as an analysis: what its own card, handles and commands look at beyond what every analysis
// gives. Peaks are found (a draft), or stand in the setting "peaks" as a hand has placed them; each is a part
// of the model with its number, and what is said of a parameter without a number is said of all peaks.
#pragma once

#include "analyses/fit_analysis.h"
#include "fit/peak_finding.h"
#include "models/peak_partner.h"

#include <cmath>
#include <mutex>
#include <optional>

namespace jointer::analyses {

const KindInfo& peaksSettings();

// The shape of all peaks that have none of their own, by its key.
std::string commonShape(const Analysis& peaks);

// A peak before it is fitted.
struct PlannedPeak {
    int number = 0;   // of the part of the model; never reused while the set lasts
    std::string name; // as the user calls it, else by its place in order of x
    models::PeakShape shape;
    models::ModelPtr model;                  // the shape, with its partner where it has one
    double place = 0, height = 0, width = 0; // of the maximum, above the baseline, at half of it
    double signalToNoise = 0;                // of one that was found
    std::vector<double> partner{};           // where the parameters of its partner begin; empty: it has none
    std::vector<double> begin{};             // all its parameters
    std::size_t firstParameter = 0;          // among those of the model

    bool isNamed() const { return name != std::to_string(number); }
    std::string called() const { return isNamed() ? name : "peak " + name; }
};

// What the peaks stand on.
struct PlannedBaseline {
    std::string key;          // "none", "shirley", or of a model of the library
    models::ModelPtr model{}; // of an additive one
    std::vector<double> begin{};
};

struct PeaksPlan {
    std::vector<PlannedPeak> peaks; // in order of x
    bool draft = false;             // all of them were found
    std::size_t found = 0;          // by the search, of which a draft may hold the strongest
    PlannedBaseline baseline;
    double noise = 0;                   // of a point
    double low = 0, high = 0;           // of the points
    double spacing = 0;                 // of x
    std::pair<double, double> widths{}; // limits of all widths; equal: none

    const PlannedPeak* find(int number) const;
};

// What is read from one fitted peak.
struct PeakNumbers {
    models::PeakNumber centre, maximum, height, fwhm, area, areaInSpan, centroid, asymmetry;
    std::optional<models::PartnerReading> partner;

    // Its area: of the whole, else within the span.
    const models::PeakNumber& size() const { return std::isfinite(area.value) ? area : areaInSpan; }
};

struct PeaksDetail final : FitDetail {
    PeaksPlan plan;
    std::vector<PeakNumbers> numbers;    // of each peak
    std::optional<fit::PeakSearch> furtherWanted{}; // among the residuals; none: for none
    // By how much AICc rises without each peak, of those for which it was asked; NaN: not asked.
    std::vector<double> removal;
    // Where the residuals show a pattern: the shape that goes better with the points, and by how much AICc
    // falls.
    std::string otherShape;
    double otherShapeGain = 0;

    // Found in the residuals: proposals. Looked for when first asked, at the cost of finding peaks. Thread-safe.
    const std::vector<fit::FoundPeak>& further() const;

    std::vector<double> baseline(const std::vector<double>& xs) const;
    std::vector<double> peak(std::size_t which, const std::vector<double>& xs) const; // with its partner
    std::vector<double> fitted(const std::vector<double>& xs) const;
    // The error of a number of a peak over independent directions of error, and as a standard error. Empty
    // and NaN: without inference.
    Eigen::RowVectorXd errorRow(const PlannedPeak& peak, const models::PeakNumber& number) const;
    double errorOf(const PlannedPeak& peak, const models::PeakNumber& number) const;

private:
    bool isMisfit(const fit::FoundPeak& found) const;

    mutable std::once_flag looked_;
    mutable std::vector<fit::FoundPeak> further_;
};

const PeaksDetail* peaksDetail(const AnalysisResult& result); // nullptr: of another kind

AnalysisKind peaksAnalysis();

} // namespace jointer::analyses
