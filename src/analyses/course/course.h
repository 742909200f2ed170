// SPDX-License-Identifier: GPL-3.0-or-later
// The course of a quantity in time, without a model: areas to the last point and to infinity, the slope at
// its end, the maximum, and how long it lies above a limit. Also the recession of a flow. Pure, thread-safe.
// Source: the trapezoidal rules and the non-compartmental relations of pharmacokinetics as textbooks give
// them (AUC∞ = AUC + C_last/λ, MRT = AUMC∞/AUC∞, t½ = ln 2/λ).
#pragma once

#include "analyses/analysis.h"

#include <span>

namespace jointer::analyses {

enum class AreaRule { Linear, LinearUpLogDown };

struct TerminalWish {
    std::size_t points = 0;                             // the last so many; 0: chosen by the adjusted R²
    std::optional<std::pair<double, double>> span = {}; // or those within
};

struct Terminal {
    std::size_t first = 0, count = 0;                    // points of the course
    double rate = NAN, rateError = NAN, intercept = NAN; // ln y = intercept − rate·t
    double adjustedR2 = NAN;
    double dof = 0;
};

// Of points in ascending t with y > 0. Chosen: from three to all points behind the maximum, those of the
// highest adjusted R² (of nearly equal ones, within 10⁻⁴, the most points). Errors: "few-points", "no-fall"
// (it does not fall at its end).
Result<Terminal> terminalOf(std::span<const double> t, std::span<const double> y, const TerminalWish& wish);

// Areas with their weights on the points: area = Σ weight·y holds for the linear rule, else to first order.
struct CourseArea {
    double area = 0, moment = 0; // ∫y dt, ∫t·y dt
    std::vector<double> areaBy;  // ∂area/∂y of each point
};
CourseArea areaOf(std::span<const double> t, std::span<const double> y, AreaRule rule);

// How long the straight lines between the points lie above a level, how often they come to do so, and when
// first; NaN: never.
struct Above {
    double time = 0;
    int episodes = 0;
    double first = NAN;
};
Above timeAbove(std::span<const double> t, std::span<const double> y, double level);

AnalysisKind courseAnalysis();

} // namespace jointer::analyses
