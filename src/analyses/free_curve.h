// SPDX-License-Identifier: GPL-3.0-or-later
// Curves without a formula as an analysis: local regression, smoothing splines, curves through every point.
#pragma once

#include "analyses/fit_analysis.h"

namespace jointer::analyses {

// A curve that is linear in the y of its points, with what is known of its errors.
struct FreeCurve {
    struct At {
        double y = 0, slope = 0;
        double norm = NAN; // error of the curve over that of a point of weight one; NaN: it has none
    };
    std::function<At(double)> at;
    // The curve at many places, and its norms where these are not empty.
    std::function<std::vector<double>(std::span<const double> xs, std::span<double> norms)> values;
    double dof = 0;                                                       // equivalent degrees of freedom
    double left = 0, degrees = 0;    // what the squares are divided by; degrees of t. 0: there is no scatter to tell
    bool exact = true;               // else from a part of the points
    std::vector<double> leverage{};  // of each point; empty: not known
    std::vector<Quantity> own{};     // what the method itself has found, such as its smoothness
    std::string told{};              // "LOESS of 30 %, degree 2"
};

const KindInfo& freeCurveSettings();
bool isFreeCurve(std::string_view method); // "loess", "smoothing-spline", "interpolate"

// Of points in ascending x; sigma: uncertainties or empty. `rough`: without what takes long. Errors: "few-points".
Result<FreeCurve> freeCurve(const Settings& settings, const std::vector<double>& x, const std::vector<double>& y,
                            const std::vector<double>& sigma, bool rough = false, const Cancellation& stop = {});

// Of a result of such an analysis; nullptr: of another kind.
struct FreeCurveDetail;
const FreeCurveDetail* freeCurveDetail(const AnalysisResult& result);

struct FreeCurveDetail final : Detail {
    struct Member {
        FreeCurve curve;
        double scale = 0; // residual SD, or 1 where uncertainties are absolute
        double t = 0;     // quantile of the level
        double rss = 0, r2 = 0;
        std::vector<double> fitted, residuals;
    };
    std::shared_ptr<const FitTaken> taken;
    Settings settings;
    std::vector<Member> members;
};

} // namespace jointer::analyses
