// SPDX-License-Identifier: GPL-3.0-or-later
// The curve that samples are read on, with what its fit knows of errors.
#pragma once

#include "analyses/fit_taking.h"
#include "analyses/unknowns/unknowns.h"

namespace jointer::analyses {

class StandardCurve {
public:
    // Errors: "no-curve" (the analysis is no fit), "several-predictors", "several-curves" (series of
    // standards that do not share one curve).
    static Result<StandardCurve> of(const AnalysisResult& result);

    double y(double x) const; // without its errors, at little cost

    // Variances at places: of the curve, and of a single reading about it.
    struct Variances {
        std::vector<double> curve, reading;
    };
    Variances variances(const std::vector<double>& xs) const;

    // Where the band of the mean of so many readings (infinitely many: of the curve alone) meets y, on both
    // sides of x; infinite: nowhere.
    std::pair<double, double> bandAt(const fit::Inversion& inversion, double x, double y,
                                     double readings) const;

    std::vector<StandardBack> standards() const; // those that count, not computed back yet

    const FitTaken& taken() const { return *taken_; }
    const fit::FitReport* report() const { return report_; } // nullptr: no fit of a model
    double t() const { return t_; } // by which errors become intervals
    double dof() const { return dof_; }
    double residualSd() const { return residualSd_; }
    const MemberPoints& points() const { return taken_->members.front(); }
    const AxisMeaning& xMeaning() const { return points().curve->xMeaning; }
    const AxisMeaning& yMeaning() const { return points().curve->yMeaning; }

private:
    const NamedCurve* curve_ = nullptr;
    std::shared_ptr<const FitTaken> taken_;
    const fit::FitReport* report_ = nullptr;
    std::vector<double> parameters_; // of the model, where there is one
    double t_ = NAN, dof_ = NAN, residualSd_ = NAN;
};

// The curve of a model of one predictor read backwards. Holds a reference to the model.
fit::Inversion inversionOf(const models::Model& model, std::vector<double> parameters, double low,
                           double high);

} // namespace jointer::analyses
